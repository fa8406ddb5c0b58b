"""People who sign in, made and changed by whoever runs the machine; on the screens links do the same."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy.orm import Session as DbSession

from uvren.services.club import audit
from uvren.services.club.accounts import hash_password, sign_in_name
from uvren.services.errors import Invalid, NotFound
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Club, Role, RoleGrant, Squad, User

STAFF = (Role.PERFORMANCE, Role.COACH, Role.CLINICIAN, Role.ADMIN)


def find_user(db: DbSession, login: str) -> User:
    """Raises NotFound."""
    user = queries.club.user_named(db, login.strip().lower())
    if user is None:
        raise NotFound(f"Nobody signs in as {login!r}.", field="login")
    return user


def add_user(
    db: DbSession, club: Club, login: str, name: str, password: str, roles: Sequence[tuple[Squad, Role]], *,
    club_admin: bool, stamp: Stamp,
) -> User:  # fmt: skip
    """Somebody of the staff, with any roles in any squads of the club. Does not commit. Raises Invalid."""
    if not name.strip():
        raise Invalid("A person has a name.", field="name")
    login = sign_in_name(db, login)
    user = User(
        club_id=club.id, login=login, name=name.strip(), password_hash=hash_password(password), club_admin=club_admin
    )
    db.add(user)
    db.flush()
    audit.note(db, "user_added", f"user:{user.id}", stamp=stamp, name=user.name, club_admin=club_admin)
    for squad, role in roles:
        give_role(db, user, squad, role, stamp=stamp)
    return user


def give_role(db: DbSession, user: User, squad: Squad, role: Role, *, stamp: Stamp) -> None:
    """A role in a squad of the user's club; who has it already keeps it. Does not commit. Raises Invalid."""
    if role not in STAFF:
        raise Invalid("An athlete comes into a squad as a member of it, by a link.", field="role")
    if squad.club_id != user.club_id:
        raise Invalid("This squad is of another club.", field="role")
    if role in queries.club.roles_in(db, user.id, squad.id):
        return
    db.add(RoleGrant(user_id=user.id, squad_id=squad.id, role=role))
    audit.note(db, "role_given", f"user:{user.id}", stamp=stamp, squad_id=squad.id, name=user.name, role=role)
    db.flush()


def take_role(db: DbSession, user: User, squad: Squad, role: Role, *, stamp: Stamp) -> None:
    """Take a role in a squad away. Does not commit. Raises NotFound."""
    if not queries.club.drop_role(db, user.id, squad.id, role):
        raise NotFound(f"{user.name} is no {role} in {squad.name}.", field="role")
    audit.note(db, "role_taken", f"user:{user.id}", stamp=stamp, squad_id=squad.id, name=user.name, role=role)
    db.flush()


def set_password(db: DbSession, user: User, password: str, *, stamp: Stamp) -> None:
    """Another password; whoever is signed in as them is signed out. Does not commit. Raises Invalid."""
    user.password_hash = hash_password(password)
    queries.accounts.end_sign_ins(db, user.id)
    queries.accounts.forget_devices(db, user.id)
    audit.note(db, "password_set", f"user:{user.id}", stamp=stamp, name=user.name)
    db.flush()

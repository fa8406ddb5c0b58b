"""Clubs, squads and people: finding them, and setting them up."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime

from sqlalchemy.orm import Session as DbSession

from uvren.core.units import Region
from uvren.services.club.accounts import hash_password
from uvren.services.club.permissions import Action, Person
from uvren.services.errors import NotFound
from uvren.store import queries
from uvren.store.models import (
    Athlete,
    Channel,
    ChannelDefinition,
    Club,
    Membership,
    Role,
    RoleGrant,
    SessionKind,
    Squad,
    SquadLock,
    User,
)

# A day before any that a club knows: what has always held.
EVER = date(2000, 1, 1)


def squads_of(db: DbSession, person: Person) -> list[Squad]:
    """Squads the person has a role in, by name; who acts for the club has one in each of them."""
    if person.club_admin:
        return queries.club.squads(db, club_id=person.club_id)
    return queries.club.squads(db, person.roles)


def squad_for(db: DbSession, person: Person, slug: str, action: Action) -> Squad:
    """The squad, if the person may do this in it. Raises NotFound or NotAllowed."""
    squad = queries.club.squad_named(db, slug)
    if squad is None or squad.club_id != person.club_id:
        raise NotFound("There is no such squad, or you are not part of it.")
    person.must(action, squad.id)
    return squad


# Setting up ------------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class NewMember:
    name: str
    number: int | None
    position: str
    from_day: date


def create_club(
    db: DbSession, name: str, time_zone: str = "UTC", demo_now: datetime | None = None, demo_hint: str | None = None
) -> Club:
    """A club; a demo club says where its clock starts and how to sign in."""
    club = Club(name=name, time_zone=time_zone, demo_now=demo_now, demo_hint=demo_hint)
    db.add(club)
    db.flush()
    return club


def create_squad(db: DbSession, club: Club, slug: str, name: str, time_zone: str, now: datetime) -> Squad:
    """A squad with session-RPE load as its main channel."""
    squad = Squad(club_id=club.id, slug=slug, name=name, time_zone=time_zone, school="ewma")
    db.add(squad)
    db.flush()
    db.add(SquadLock(squad_id=squad.id))
    main = Channel(
        squad_id=squad.id,
        code="session_rpe",
        name="Session load",
        unit="effort × min",
        is_main=True,
        regions=[Region.WHOLE],
        mark="ring",
        rank=0,
    )
    db.add(main)
    db.flush()
    db.add(
        ChannelDefinition(
            channel_id=main.id,
            form="effort_minutes",
            settings={},
            kinds=[kind.value for kind in SessionKind],
            from_day=EVER,
            reason="From the beginning",
            set_at=now,
        )
    )
    db.flush()
    return squad


def create_user(
    db: DbSession, club: Club, login: str, name: str, password: str, roles: dict[int, Role], *, club_admin: bool = False
) -> User:
    user = User(
        club_id=club.id, login=login.lower(), name=name, password_hash=hash_password(password), club_admin=club_admin
    )
    db.add(user)
    db.flush()
    db.add_all(RoleGrant(user_id=user.id, squad_id=squad, role=role) for squad, role in roles.items())
    db.flush()
    return user


def add_members(db: DbSession, squad: Squad, people: list[NewMember]) -> list[int]:
    """Add athletes to the squad, each from their day on. Returns their ids in order."""
    athletes = [Athlete(club_id=squad.club_id, name=person.name) for person in people]
    db.add_all(athletes)
    db.flush()
    for athlete, person in zip(athletes, people, strict=True):
        db.add(
            Membership(
                squad_id=squad.id,
                athlete_id=athlete.id,
                number=person.number,
                position=person.position,
                from_day=person.from_day,
                to_day=None,
            )
        )
    db.flush()
    return [athlete.id for athlete in athletes]

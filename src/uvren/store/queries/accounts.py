"""Tries to sign in, sign-ins, second factors, known devices, and links that let somebody in."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from sqlalchemy import Row, delete, func, insert, select, update
from sqlalchemy.dialects.mysql import insert as mysql_insert
from sqlalchemy.orm import Session as DbSession
from sqlalchemy.orm import aliased

from uvren.store.models import (
    Club,
    Invitation,
    KnownDevice,
    RecoveryCode,
    Role,
    RoleGrant,
    SignIn,
    SignInTry,
    UsedCode,
    User,
)


def failed_tries(db: DbSession, since: datetime, *, login: str | None = None, address: str | None = None) -> int:
    """Tries to sign in that failed since a moment: for a name, or from an address."""
    query = select(func.count()).where(SignInTry.at > since)
    if login is not None:
        query = query.where(SignInTry.login == login)
    if address is not None:
        query = query.where(SignInTry.address == address)
    return db.scalar(query) or 0


def tries_of(db: DbSession, login: str) -> list[SignInTry]:
    """Tries for a name that failed or are under way."""
    return list(db.scalars(select(SignInTry).where(SignInTry.login == login).order_by(SignInTry.id)))


def forget_tries(db: DbSession, login: str) -> None:
    """Forget the failed tries of a name."""
    db.execute(delete(SignInTry).where(SignInTry.login == login))


def drop_old(db: DbSession, now: datetime, tries_before: datetime) -> None:
    """Drop sign-ins that have run out, and tries from before a moment. Looks through both tables: not for a request."""
    db.execute(delete(SignIn).where(SignIn.expires_at < now))
    db.execute(delete(SignInTry).where(SignInTry.at < tries_before))


def sign_ins_of(db: DbSession, user_id: int, now: datetime) -> list[SignIn]:
    """Where a user is signed in, the latest first."""
    query = select(SignIn).where(SignIn.user_id == user_id, SignIn.expires_at > now)
    return list(db.scalars(query.order_by(SignIn.created_at.desc())))


def use_code(db: DbSession, user_id: int, step: int, forget_before: int) -> bool:
    """Take a one-time code. Returns whether it was still good: of two who take it at once one has it."""
    db.execute(delete(UsedCode).where(UsedCode.user_id == user_id, UsedCode.step < forget_before))
    taken = db.execute(insert(UsedCode).prefix_with("IGNORE").values(user_id=user_id, step=step))
    return bool(taken.rowcount)  # type: ignore[attr-defined]


def set_recovery_codes(db: DbSession, user_id: int, digests: Sequence[str]) -> None:
    """Put other recovery codes in place of a user's."""
    db.execute(delete(RecoveryCode).where(RecoveryCode.user_id == user_id))
    db.add_all(RecoveryCode(user_id=user_id, code_digest=digest, used_at=None) for digest in digests)


def use_recovery_code(db: DbSession, user_id: int, digest: str, now: datetime) -> bool:
    """Take a recovery code. Returns whether it was there and still good."""
    where = (RecoveryCode.user_id == user_id, RecoveryCode.code_digest == digest, RecoveryCode.used_at.is_(None))
    taken = db.execute(update(RecoveryCode).where(*where).values(used_at=now))
    return bool(taken.rowcount)  # type: ignore[attr-defined]


def begin_try(db: DbSession, login: str, address: str, now: datetime) -> int:
    """Note a try before it is looked at, and commit: whoever counts next counts it. Returns its id."""
    noted = SignInTry(login=login[:80], address=address[:64], at=now)
    db.add(noted)
    db.commit()
    return noted.id


def drop_try(db: DbSession, try_id: int) -> None:
    db.execute(delete(SignInTry).where(SignInTry.id == try_id))


def knows_device(db: DbSession, user_id: int, digest: str) -> bool:
    """Whether a user has signed in from this browser before."""
    where = (KnownDevice.user_id == user_id, KnownDevice.device_digest == digest)
    return db.scalar(select(KnownDevice.user_id).where(*where)) is not None


def know_device(db: DbSession, user_id: int, digest: str, now: datetime) -> None:
    statement = mysql_insert(KnownDevice).values(user_id=user_id, device_digest=digest, seen_at=now)
    db.execute(statement.on_duplicate_key_update(seen_at=now))


def forget_devices(db: DbSession, user_id: int) -> None:
    db.execute(delete(KnownDevice).where(KnownDevice.user_id == user_id))


def end_sign_in(db: DbSession, digest: str) -> None:
    db.execute(delete(SignIn).where(SignIn.token_digest == digest))


def end_one_sign_in(db: DbSession, user_id: int, sign_in_id: str) -> bool:
    """End one sign-in of a user. Returns whether there was one."""
    gone = db.execute(delete(SignIn).where(SignIn.user_id == user_id, SignIn.id == sign_in_id))
    return bool(gone.rowcount)  # type: ignore[attr-defined]


def end_sign_ins(db: DbSession, user_id: int, keep: str | None = None) -> None:
    """End every sign-in of a user, but that of the digest to keep."""
    query = delete(SignIn).where(SignIn.user_id == user_id)
    db.execute(query if keep is None else query.where(SignIn.token_digest != keep))


def saw_sign_in(db: DbSession, digest: str, now: datetime, before: datetime) -> None:
    """Note that a sign-in is in use, where that was last noted before a moment."""
    db.execute(
        update(SignIn)
        .where(SignIn.token_digest == digest, SignIn.seen_at < before)
        .values(seen_at=now)
        .execution_options(synchronize_session=False)
    )


def signed_in(
    db: DbSession, digest: str, now: datetime
) -> Sequence[Row[int, str, int, int | None, bool, bool, int | None, Role | None]]:
    """(id, name, club_id, athlete_id, club_admin, performance_reads_clinical, squad_id, role), a row a role."""
    return db.execute(
        select(
            User.id,
            User.name,
            User.club_id,
            User.athlete_id,
            User.club_admin,
            Club.performance_reads_clinical,
            RoleGrant.squad_id,
            RoleGrant.role,
        )
        .join(SignIn, SignIn.user_id == User.id)
        .join(Club, Club.id == User.club_id)
        .outerjoin(RoleGrant, RoleGrant.user_id == User.id)
        .where(SignIn.token_digest == digest, SignIn.expires_at > now, User.active)
    ).all()


def invitation_for_update(db: DbSession, digest: str) -> Invitation | None:
    """The link of a token, locked: of two who use it at once the second waits."""
    return db.scalar(select(Invitation).where(Invitation.token_digest == digest).with_for_update())


def open_links_of(
    db: DbSession, now: datetime, *, user_id: int | None = None, athlete_id: int | None = None
) -> list[Invitation]:
    """Links of a user, or of an athlete who has no account yet, that can still be used; in whatever squad."""
    who = Invitation.user_id == user_id if user_id is not None else Invitation.athlete_id == athlete_id
    where = (who, Invitation.used_at.is_(None), Invitation.withdrawn_at.is_(None), Invitation.expires_at > now)
    return list(db.scalars(select(Invitation).where(*where).with_for_update()))


def links_used(db: DbSession, user_id: int, since: datetime) -> Sequence[Row[datetime | None, str | None, str]]:
    """(moment, from where, who made it) of a user's links that were used after a moment, the last one first."""
    maker = aliased(User)
    return db.execute(
        select(Invitation.used_at, Invitation.used_from, maker.name)
        .outerjoin(maker, maker.id == Invitation.made_by)
        .where(Invitation.user_id == user_id, Invitation.used_at > since)
        .order_by(Invitation.used_at.desc())
    ).all()


def open_invitations(db: DbSession, squad_id: int, now: datetime) -> list[Invitation]:
    """Links that can still be used, in order of making."""
    return list(
        db.scalars(
            select(Invitation)
            .where(
                Invitation.squad_id == squad_id,
                Invitation.used_at.is_(None),
                Invitation.withdrawn_at.is_(None),
                Invitation.expires_at > now,
            )
            .order_by(Invitation.made_at)
        )
    )

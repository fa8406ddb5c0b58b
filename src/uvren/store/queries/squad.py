"""What a squad is made of: people, channels, limits, settings, forms, tests and anchors."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from sqlalchemy import Row, delete, or_, select, update
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session as DbSession
from sqlalchemy.orm import selectinload

from uvren.store.changes import whole_squads
from uvren.store.models import (
    Alias,
    Anchor,
    AnchorKind,
    Athlete,
    Call,
    Channel,
    Complaint,
    Earlier,
    Entry,
    FitnessResult,
    FitnessTest,
    Invitation,
    Limit,
    Membership,
    Note,
    NoticeSetting,
    Place,
    Recording,
    Report,
    ReportForm,
    Restriction,
    SquadLock,
    User,
)
from uvren.store.versions import not_before, tells_the_past


@dataclass(frozen=True, slots=True)
class Member:
    """An athlete of a squad on a day."""

    athlete_id: int
    name: str
    number: int | None
    position: str
    from_day: date


@whole_squads
def members(db: DbSession, squad_id: int, day: date) -> list[Member]:
    """Who belongs to the squad on the day, by name."""
    rows = db.execute(
        select(Athlete.id, Athlete.name, Membership.number, Membership.position, Membership.from_day)
        .join(Membership, Membership.athlete_id == Athlete.id)
        .where(
            Membership.squad_id == squad_id,
            Membership.from_day <= day,
            or_(Membership.to_day.is_(None), Membership.to_day >= day),
        )
        .order_by(Athlete.name)
    )
    return [Member(*row) for row in rows]


def main_channel(db: DbSession, squad_id: int) -> Channel:
    return db.execute(select(Channel).where(Channel.squad_id == squad_id, Channel.is_main)).scalar_one()


@whole_squads
def channels(db: DbSession, squad_id: int) -> list[Channel]:
    """The squad's channels, the main one first, each with its definitions."""
    return list(
        db.scalars(
            select(Channel)
            .where(Channel.squad_id == squad_id)
            .options(selectinload(Channel.definitions))
            .order_by(Channel.is_main.desc(), Channel.rank, Channel.id)
        )
    )


@whole_squads
def limits_until(db: DbSession, squad_id: int, last: date) -> list[tuple[Limit, str]]:
    """Every limit of the squad that begins by ``last``, oldest first, with the name of who set it."""
    rows = db.execute(
        select(Limit, User.name)
        .join(User, User.id == Limit.set_by)
        .where(
            Limit.squad_id == squad_id,
            Limit.from_day <= last,
            Limit.withdrawn_at.is_(None),
        )
        .order_by(Limit.set_at, Limit.id)
    )
    return [(limit, name) for limit, name in rows]


def members_ever(db: DbSession, squad_id: int) -> set[int]:
    """Athletes that are or were in the squad."""
    return set(db.scalars(select(Membership.athlete_id).where(Membership.squad_id == squad_id)))


@whole_squads
def anchors_until(
    db: DbSession, athletes: Collection[int], last: date, only: AnchorKind | None = None
) -> Sequence[Row[int, AnchorKind, date, float | None, str | None]]:
    """(athlete, kind, from day, value, word), the oldest first; of one day the one set last comes last."""
    statement = (
        select(Anchor.athlete_id, Anchor.kind, Anchor.from_day, Anchor.value, Anchor.word)
        .where(Anchor.athlete_id.in_(athletes), Anchor.from_day <= last, Anchor.withdrawn_at.is_(None))
        .order_by(Anchor.from_day, Anchor.set_at, Anchor.id)
    )
    return db.execute(statement if only is None else statement.where(Anchor.kind == only)).all()


@whole_squads
def notice_settings_until(db: DbSession, squad_id: int, day: date) -> list[NoticeSetting]:
    """Settings of notices that begin by a day, the one set last coming last."""
    return [row for row in notice_settings_ever(db, squad_id, day) if row.withdrawn_at is None]


@whole_squads
def notice_settings_ever(db: DbSession, squad_id: int, day: date) -> list[NoticeSetting]:
    """The same with those that were taken back."""
    query = select(NoticeSetting).where(NoticeSetting.squad_id == squad_id, NoticeSetting.from_day <= day)
    return list(db.scalars(query.order_by(NoticeSetting.from_day, NoticeSetting.set_at, NoticeSetting.id)))


@whole_squads
def report_forms(db: DbSession, squad_id: int) -> list[ReportForm]:
    """Every form of the squad, by its first day."""
    query = select(ReportForm).where(ReportForm.squad_id == squad_id)
    return list(db.scalars(query.order_by(ReportForm.from_day, ReportForm.id)))


@whole_squads
def tests_of(db: DbSession, squad_id: int) -> list[FitnessTest]:
    """The fitness tests that the squad uses, in its order."""
    query = select(FitnessTest).where(FitnessTest.squad_id == squad_id, FitnessTest.withdrawn_at.is_(None))
    return list(db.scalars(query.order_by(FitnessTest.rank, FitnessTest.id)))


@whole_squads
def test_results_between(
    db: DbSession, test_ids: list[int], first: date, last: date, entered_before: datetime
) -> list[FitnessResult]:
    """Results of tests, oldest first, as far as they had been entered by a moment."""
    return list(
        db.scalars(
            select(FitnessResult)
            .where(
                FitnessResult.test_id.in_(test_ids),
                FitnessResult.day.between(first, last),
                FitnessResult.entered_at < entered_before,
            )
            .order_by(FitnessResult.day, FitnessResult.id)
        )
    )


def hold(db: DbSession, *squad_ids: int) -> None:
    """Let whoever else changes something of these squads wait: neither must miss what the other writes.

    The first lock that a writer takes, of several squads in the order of their ids: so no two wait for each other.
    What is written counts from no earlier than what the one before wrote, also where the clock went back.
    """
    for squad_id in sorted(squad_ids):
        mine = SquadLock.squad_id == squad_id
        last = db.scalar(select(SquadLock.written_to).where(mine).with_for_update())
        moment = not_before(db, last)
        if (last is None or moment > last) and not tells_the_past(db):
            db.execute(update(SquadLock).where(mine).values(written_to=moment))


def hold_all(db: DbSession) -> None:
    """Let every writer of every squad wait: for what rewrites the history of a table."""
    last = db.scalars(select(SquadLock.written_to).order_by(SquadLock.squad_id).with_for_update()).all()
    not_before(db, max((one for one in last if one is not None), default=None))


def channel_coded(db: DbSession, squad_id: int, code: str) -> Channel | None:
    return db.scalar(select(Channel).where(Channel.squad_id == squad_id, Channel.code == code))


def has_limits(db: DbSession, channel_id: int) -> bool:
    return db.scalar(select(Limit.id).where(Limit.channel_id == channel_id).limit(1)) is not None


def places(db: DbSession, squad_id: int) -> list[Place]:
    return list(db.scalars(select(Place).where(Place.squad_id == squad_id).order_by(Place.name)))


def last_earlier(db: DbSession, squad_id: int, kind: str, key: str) -> Earlier | None:
    """What stood last of something that was changed or taken away."""
    query = select(Earlier).where(Earlier.squad_id == squad_id, Earlier.kind == kind, Earlier.key == key)
    return db.scalar(query.order_by(Earlier.version.desc(), Earlier.id.desc()).limit(1))


def memberships(db: DbSession, squad_id: int, day: date) -> list[Membership]:
    """Everyone who is in the squad on the day or will be, by name."""
    return list(
        db.scalars(
            select(Membership)
            .join(Athlete)
            .where(Membership.squad_id == squad_id, or_(Membership.to_day.is_(None), Membership.to_day >= day))
            .order_by(Athlete.name, Membership.from_day)
        )
    )


def drop_unused_member(db: DbSession, squad_id: int, membership_id: int) -> str:
    """Delete a membership with its athlete, of whom nothing is kept; the name of one of whom something is."""
    member = db.get(Membership, membership_id)
    if member is None or member.squad_id != squad_id:
        return ""
    athlete = member.athlete
    kept = (Entry, Report, FitnessResult, Complaint, Anchor, Recording, Restriction, Call, Note, Invitation)
    used = any(db.scalar(select(table.id).where(table.athlete_id == athlete.id).limit(1)) for table in kept)
    elsewhere = db.scalar(select(Membership.id).where(Membership.athlete_id == athlete.id, Membership.id != member.id))
    account = db.scalar(select(User.id).where(User.athlete_id == athlete.id))
    if used or elsewhere or account:
        return athlete.name
    db.execute(delete(Alias).where(Alias.athlete_id == athlete.id))
    db.delete(member)
    db.flush()
    return ""


def standing_membership(db: DbSession, squad_id: int, athlete_id: int) -> Membership | None:
    """The membership of an athlete that has no end."""
    query = select(Membership).where(
        Membership.squad_id == squad_id, Membership.athlete_id == athlete_id, Membership.to_day.is_(None)
    )
    return db.scalars(query.order_by(Membership.from_day.desc()).limit(1)).first()


def memberships_of(db: DbSession, squad_id: int, athlete_id: int | None) -> list[Membership]:
    """Every membership of an athlete in a squad, or without one of everybody, in order of time."""
    query = select(Membership).where(Membership.squad_id == squad_id)
    if athlete_id is not None:
        query = query.where(Membership.athlete_id == athlete_id)
    return list(db.scalars(query.order_by(Membership.from_day)))


def last_membership(db: DbSession, squad_id: int, athlete_id: int) -> Membership | None:
    """The membership of an athlete in a squad that begins last."""
    query = select(Membership).where(Membership.squad_id == squad_id, Membership.athlete_id == athlete_id)
    return db.scalars(query.order_by(Membership.from_day.desc()).limit(1)).first()


def left(db: DbSession, squad_id: int, day: date) -> list[Athlete]:
    """Who was in the squad and is not any more on a day, by name."""
    later = select(Membership.athlete_id).where(
        Membership.squad_id == squad_id, or_(Membership.to_day.is_(None), Membership.to_day >= day)
    )
    ever = select(Membership.athlete_id).where(Membership.squad_id == squad_id)
    where = (Athlete.id.in_(ever), Athlete.id.not_in(later))
    return list(db.scalars(select(Athlete).where(*where).order_by(Athlete.name)))


def aliases(db: DbSession, squad_id: int) -> dict[str, int | None]:
    """Whom a name in a file means, None for someone to leave out."""
    rows = db.execute(select(Alias.said, Alias.athlete_id).where(Alias.squad_id == squad_id))
    return dict(rows.all())


def set_aliases(db: DbSession, rows: Sequence[dict[str, Any]]) -> None:
    """Remember names: (squad_id, said, athlete_id); one that is there already means what is said last."""
    statement = insert(Alias).values(rows)
    db.execute(statement.on_duplicate_key_update(athlete_id=statement.inserted.athlete_id))


def drop_aliases(db: DbSession, squad_id: int, said: Collection[str]) -> None:
    db.execute(delete(Alias).where(Alias.squad_id == squad_id, Alias.said.in_(said)))


# Anchors --------------------------------------------------------------------------------------------------


def anchors_with_setters(db: DbSession, athletes: Collection[int], day: date) -> Sequence[Row[Anchor, str | None]]:
    """(anchor, name of who set it) of all that begin by a day, oldest first."""
    return db.execute(
        select(Anchor, User.name)
        .outerjoin(User, User.id == Anchor.set_by)
        .where(Anchor.athlete_id.in_(athletes), Anchor.from_day <= day, Anchor.withdrawn_at.is_(None))
        .order_by(Anchor.from_day, Anchor.set_at, Anchor.id)
    ).all()


def anchors_from(db: DbSession, athlete_id: int, kind: AnchorKind, day: date, source: str) -> list[Anchor]:
    """Anchors of a kind that hold from a day on and came from a source."""
    return list(
        db.scalars(
            select(Anchor).where(
                Anchor.athlete_id == athlete_id, Anchor.kind == kind, Anchor.from_day == day,
                Anchor.source == source, Anchor.withdrawn_at.is_(None),
            )
        )
    )  # fmt: skip


# Fitness tests --------------------------------------------------------------------------------------------


def test_ever(db: DbSession, squad_id: int, code: str) -> FitnessTest | None:
    """A fitness test, on the list or left out."""
    return db.scalar(select(FitnessTest).where(FitnessTest.squad_id == squad_id, FitnessTest.code == code))


def test_codes(db: DbSession, squad_id: int) -> set[str]:
    return set(db.scalars(select(FitnessTest.code).where(FitnessTest.squad_id == squad_id)))


def has_results(db: DbSession, test_id: int) -> bool:
    return db.scalar(select(FitnessResult.id).where(FitnessResult.test_id == test_id).limit(1)) is not None


def results_for_update(db: DbSession, test_id: int, day: date) -> list[FitnessResult]:
    """Results of a test on a day, locked."""
    where = (FitnessResult.test_id == test_id, FitnessResult.day == day)
    return list(db.scalars(select(FitnessResult).where(*where).with_for_update()))


def results_between(db: DbSession, test_id: int, first: date, last: date) -> list[FitnessResult]:
    """Results of a test, oldest first."""
    query = select(FitnessResult).where(FitnessResult.test_id == test_id, FitnessResult.day.between(first, last))
    return list(db.scalars(query.order_by(FitnessResult.day, FitnessResult.id)))


def results_of(db: DbSession, test_id: int, athlete_id: int) -> list[FitnessResult]:
    """All results of an athlete in a test, oldest first."""
    query = select(FitnessResult).where(FitnessResult.test_id == test_id, FitnessResult.athlete_id == athlete_id)
    return list(db.scalars(query.order_by(FitnessResult.day, FitnessResult.side)))


def test_days(db: DbSession, test_id: int) -> list[date]:
    """Days on which a test was done."""
    query = select(FitnessResult.day).where(FitnessResult.test_id == test_id)
    return list(db.scalars(query.distinct().order_by(FitnessResult.day)))

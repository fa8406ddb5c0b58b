"""What a squad is made of: people, channels, limits, settings, forms, tests and anchors."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import date, datetime

from sqlalchemy import Row, or_, select
from sqlalchemy.orm import Session as DbSession
from sqlalchemy.orm import selectinload

from uvren.store.changes import whole_squads
from uvren.store.models import (
    Anchor,
    AnchorKind,
    Athlete,
    Channel,
    FitnessResult,
    FitnessTest,
    Limit,
    Membership,
    NoticeSetting,
    ReportForm,
    User,
)


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
    return list(
        db.scalars(
            select(NoticeSetting)
            .where(
                NoticeSetting.squad_id == squad_id, NoticeSetting.from_day <= day, NoticeSetting.withdrawn_at.is_(None)
            )
            .order_by(NoticeSetting.from_day, NoticeSetting.set_at, NoticeSetting.id)
        )
    )


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

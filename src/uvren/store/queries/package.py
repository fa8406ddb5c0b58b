"""Everything that is kept of a squad, table by table, as plain rows."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from typing import Any

from sqlalchemy import ColumnElement, Row, Table, delete, func, select, update
from sqlalchemy.orm import Session as DbSession

from uvren.store.database import batches
from uvren.store.models import (
    Alias,
    Anchor,
    Athlete,
    Base,
    CalendarFeed,
    Call,
    Channel,
    ChannelDefinition,
    CoachSheet,
    Complaint,
    Consent,
    DailyLoad,
    DayMark,
    Earlier,
    Entry,
    FieldEvent,
    FileImport,
    FileMapping,
    FitnessResult,
    FitnessTest,
    Invitation,
    LighterWeek,
    Limit,
    LiveChunk,
    LiveHub,
    Membership,
    Note,
    NoticeSetting,
    Place,
    PlannedWeek,
    Recording,
    Report,
    ReportForm,
    Restriction,
    RestTrial,
    ReturnEvent,
    ReturnPlan,
    RoleGrant,
    SavedView,
    SeasonPhase,
    Segment,
    Session,
    SideCheck,
    SpellLimit,
    WeekTemplate,
    Work,
)


def _of_squad(model: type[Base], squad_id: int) -> ColumnElement[bool]:
    """What makes a row of a table one of this squad's."""
    if model is Athlete or model is Anchor:
        members = select(Membership.athlete_id).where(Membership.squad_id == squad_id)
        return (Athlete.id if model is Athlete else Anchor.athlete_id).in_(members)
    by_parent: dict[type[Base], tuple[Any, Any, Any]] = {
        ChannelDefinition: (ChannelDefinition.channel_id, Channel.id, Channel.squad_id),
        DailyLoad: (DailyLoad.channel_id, Channel.id, Channel.squad_id),
        Segment: (Segment.session_id, Session.__table__.c.id, Session.__table__.c.squad_id),
        Entry: (Entry.session_id, Session.__table__.c.id, Session.__table__.c.squad_id),
        Work: (Work.session_id, Session.__table__.c.id, Session.__table__.c.squad_id),
        FitnessResult: (FitnessResult.test_id, FitnessTest.id, FitnessTest.squad_id),
    }
    if model in by_parent:
        mine, parent, squad = by_parent[model]
        found: ColumnElement[bool] = mine.in_(select(parent).where(squad == squad_id))
        return found
    own: ColumnElement[bool] = model.__table__.c.squad_id == squad_id
    return own


def rows_of(db: DbSession, model: type[Base], squad_id: int, names: Sequence[str]) -> Sequence[Row[Any]]:
    """The squad's rows of a table, also sessions that are called off, in the order in which they were made."""
    table = model.__table__
    assert isinstance(table, Table)
    order = list(table.primary_key.columns)
    query = select(*(table.c[name] for name in names)).where(_of_squad(model, squad_id)).order_by(*order)
    return db.connection().execute(query).all()


def ids_there(db: DbSession, model: type[Base], ids: Collection[str]) -> bool:
    """Whether a row of one of these ids is there."""
    column = model.__table__.c["id"]
    return any(
        db.connection().execute(select(column).where(column.in_(batch)).limit(1)).first() is not None
        for batch in batches(list(ids))
    )


def is_empty(db: DbSession, squad_id: int) -> bool:
    """Whether nobody is, or was, in the squad, and no session is made."""
    table = Session.__table__
    people = db.scalar(select(func.count()).select_from(Membership).where(Membership.squad_id == squad_id))
    made = db.connection().execute(select(func.count()).select_from(table).where(table.c.squad_id == squad_id)).scalar()
    return not people and not made


def clear_set_up(db: DbSession, squad_id: int) -> None:
    """Take away what a squad was set up with, before anybody is in it."""
    db.execute(delete(Limit).where(Limit.squad_id == squad_id))
    channels = select(Channel.id).where(Channel.squad_id == squad_id)
    db.execute(delete(ChannelDefinition).where(ChannelDefinition.channel_id.in_(channels)))
    for model in (Channel, FitnessTest, Place, SeasonPhase, ReportForm, NoticeSetting, FileMapping):
        db.execute(delete(model).where(model.squad_id == squad_id))
    db.flush()
    db.expire_all()


def only_in(db: DbSession, squad_id: int) -> list[int]:
    """Athletes who are, and were, in no other squad."""
    others = select(Membership.athlete_id).where(Membership.squad_id != squad_id)
    mine = select(Membership.athlete_id).where(Membership.squad_id == squad_id, Membership.athlete_id.not_in(others))
    return sorted(set(db.scalars(mine)))


# What was said, done, recorded and decided in a squad; and what it is made of, with who was in it.
_WORK: tuple[type[Base], ...] = (
    FieldEvent, LiveChunk, SpellLimit,
    Recording, Work, Entry, DailyLoad, Complaint, Report, ReturnEvent, ReturnPlan, SideCheck, Restriction,
    RestTrial, LighterWeek,
    FitnessResult, Limit,
    Call, Note, NoticeSetting, CoachSheet, Earlier,
)  # fmt: skip
_MADE_OF: tuple[type[Base], ...] = (
    Segment, Session, DayMark, SeasonPhase, PlannedWeek, WeekTemplate, ChannelDefinition, Channel, FitnessTest, Place,
    ReportForm, Alias, FileImport, FileMapping, SavedView, Invitation, CalendarFeed, LiveHub, RoleGrant, Membership,
)  # fmt: skip


def delete_work(db: DbSession, squad_id: int) -> None:
    """Delete what was done in a squad; its sessions stay for now."""
    _delete(db, _WORK, squad_id)


def delete_squad(db: DbSession, squad_id: int) -> None:
    """Delete what a squad is made of, and who was in it."""
    _delete(db, _MADE_OF, squad_id)
    db.expire_all()


def _delete(db: DbSession, models: Sequence[type[Base]], squad_id: int) -> None:
    for model in models:
        table = model.__table__
        assert isinstance(table, Table)
        db.connection().execute(delete(table).where(_of_squad(model, squad_id)))


def forget_person(db: DbSession, athlete_id: int) -> None:
    """Leave nothing of a person but a number: the audit speaks of them by it."""
    db.execute(delete(Anchor).where(Anchor.athlete_id == athlete_id))
    db.execute(delete(Consent).where(Consent.athlete_id == athlete_id))
    nameless = {"name": f"Former athlete {athlete_id}", "birth_year": None}
    db.execute(update(Athlete).where(Athlete.id == athlete_id).values(nameless))

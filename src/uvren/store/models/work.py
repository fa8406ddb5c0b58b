"""What is done: sessions, entries and other work, how it becomes load, and the daily loads."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, Index, String, Text, UniqueConstraint, event, exists
from sqlalchemy.orm import Mapped, ORMExecuteState, mapped_column, relationship, with_loader_criteria
from sqlalchemy.orm import Session as DbSession

from uvren.store.models.base import AnchorKind, Base, Besides, DayMarkKind, SessionKind, Source, Venue
from uvren.store.types import UlidType, new_ulid


class Channel(Base):
    """One kind of load of a squad."""

    __tablename__ = "channel"

    id: Mapped[int] = mapped_column(primary_key=True)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    code: Mapped[str] = mapped_column(String(40))
    name: Mapped[str]
    unit: Mapped[str] = mapped_column(String(24))
    is_main: Mapped[bool] = mapped_column(default=False)
    regions: Mapped[list[Any]] = mapped_column(default=list)
    mark: Mapped[str] = mapped_column(String(16), default="ring")
    rank: Mapped[int] = mapped_column(default=0)
    version: Mapped[int] = mapped_column(default=1)

    definitions: Mapped[list[ChannelDefinition]] = relationship(
        order_by="(ChannelDefinition.from_day, ChannelDefinition.set_at)"
    )

    __table_args__ = (UniqueConstraint("squad_id", "code"),)


class ChannelDefinition(Base):
    """How a channel's load is worked out, from a day on until the next definition.

    ``kinds`` are the kinds of session that have such work: one of them without it is unknown, not 0.
    """

    __tablename__ = "channel_definition"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    channel_id: Mapped[int] = mapped_column(ForeignKey("channel.id"))
    form: Mapped[str] = mapped_column(String(24))
    settings: Mapped[dict[str, Any]]
    kinds: Mapped[list[Any]]
    from_day: Mapped[date]
    reason: Mapped[str] = mapped_column(String(400))
    set_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    set_at: Mapped[datetime]
    withdrawn_at: Mapped[datetime | None]

    __table_args__ = (Index(None, "channel_id", "from_day"),)


class Place(Base):
    """Where or in what conditions a squad works: a surface, water, snow, heat."""

    __tablename__ = "place"

    id: Mapped[int] = mapped_column(primary_key=True)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    name: Mapped[str] = mapped_column(String(60))

    __table_args__ = (UniqueConstraint("squad_id", "name"),)


class Session(Base):
    """A planned or done piece of work of a squad. It belongs to the day on which it starts."""

    __tablename__ = "session"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    day: Mapped[date]
    starts_at: Mapped[datetime]
    kind: Mapped[SessionKind]
    title: Mapped[str]
    planned_minutes: Mapped[float]
    planned_effort: Mapped[float]
    opponent: Mapped[str | None]
    venue: Mapped[Venue | None]
    place: Mapped[str | None] = mapped_column(String(60))
    done: Mapped[bool] = mapped_column(default=False)
    version: Mapped[int] = mapped_column(default=1)
    # Why it does not take place. What is called off is read by nobody who does not ask for it (``ALSO_CALLED_OFF``).
    called_off: Mapped[str | None] = mapped_column(String(200))
    # The event of a calendar's file that it comes from; a changed file finds it by this.
    calendar_uid: Mapped[str | None] = mapped_column(String(200))
    # What share of full intensity its rounds are to come to; null where nobody said.
    mix_aim: Mapped[float | None]

    segments: Mapped[list[Segment]] = relationship(order_by="Segment.place", cascade="all, delete-orphan")

    __table_args__ = (
        Index(None, "squad_id", "day"),
        Index(None, "squad_id", "calendar_uid"),
        CheckConstraint("planned_minutes BETWEEN 0 AND 600", name="planned_minutes"),
        CheckConstraint("planned_effort BETWEEN 0 AND 10", name="planned_effort"),
        CheckConstraint("mix_aim BETWEEN 0.2 AND 1", name="mix_aim"),
    )

    @property
    def name(self) -> str:
        """As a list names it: a match by the opponent."""
        return f"Match against {self.opponent}" if self.opponent else self.title


ALSO_CALLED_OFF = {"also_called_off": True}


@event.listens_for(DbSession, "do_orm_execute")
def _without_called_off(state: ORMExecuteState) -> None:
    """Of sessions that are called off nothing is planned, asked or counted anywhere."""
    if state.is_select and not state.is_column_load and not state.execution_options.get("also_called_off", False):
        state.statement = state.statement.options(_TAKE_PLACE)


_TAKE_PLACE = with_loader_criteria(Session, Session.called_off.is_(None), include_aliases=True)


class DayMark(Base):
    """What is said of a day without a session. A day that is not known is no day of rest.

    It rests while there is a session on the day, however that came there, and stands again when it is gone.
    """

    __tablename__ = "day_mark"

    id: Mapped[int] = mapped_column(primary_key=True)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    day: Mapped[date]
    mark: Mapped[DayMarkKind]
    set_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    set_at: Mapped[datetime]

    __table_args__ = (UniqueConstraint("squad_id", "day"),)


# Of marks those that stand: there is no session on their day that takes place.
STANDING_MARKS = ~exists().where(
    Session.squad_id == DayMark.squad_id, Session.day == DayMark.day, Session.called_off.is_(None)
)


class Segment(Base):
    """A part of a session, weighted by the coach from 1 (drill) to 4 (competition).

    ``begins`` counts minutes from the start of the session. ``grade`` is how hard a round is to be, from 1 to 5; null
    where it has none.
    """

    __tablename__ = "segment"

    id: Mapped[int] = mapped_column(primary_key=True)
    session_id: Mapped[str] = mapped_column(UlidType(), ForeignKey("session.id"))
    place: Mapped[int]
    name: Mapped[str]
    begins: Mapped[float]
    minutes: Mapped[float]
    weight: Mapped[float]
    grade: Mapped[int | None]

    __table_args__ = (
        UniqueConstraint("session_id", "place"),
        CheckConstraint("begins BETWEEN -120 AND 600", name="begins"),
        CheckConstraint("minutes BETWEEN 0 AND 600", name="minutes"),
        CheckConstraint("weight BETWEEN 1 AND 4", name="weight"),
        CheckConstraint("grade BETWEEN 1 AND 5", name="grade"),
    )


class Entry(Base):
    """An athlete in a session: what was planned for them, and what they did.

    ``minutes`` null is not said yet, 0 is not taking part. ``effort`` null is no rating. ``beside`` is how they take
    part without load, null where they do not.
    """

    __tablename__ = "entry"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    session_id: Mapped[str] = mapped_column(UlidType(), ForeignKey("session.id"))
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"))
    planned_minutes: Mapped[float | None]
    planned_effort: Mapped[float | None]
    # By the code of a channel, where what is planned is known better than minutes and effort say.
    planned_loads: Mapped[dict[str, Any] | None]
    minutes: Mapped[float | None]
    effort: Mapped[float | None]
    words: Mapped[str | None] = mapped_column(Text)
    beside: Mapped[Besides | None]
    source: Mapped[Source]
    version: Mapped[int] = mapped_column(default=1)
    entered_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    entered_at: Mapped[datetime]

    __table_args__ = (
        UniqueConstraint("session_id", "athlete_id"),
        CheckConstraint("minutes IS NULL OR minutes BETWEEN 0 AND 600", name="minutes"),
        CheckConstraint(
            "effort IS NULL OR (effort BETWEEN 0 AND 10 AND effort * 2 = FLOOR(effort * 2))", name="effort"
        ),
        CheckConstraint("version >= 1", name="version"),
    )


class Work(Base):
    """What an athlete did in a session beside minutes and effort.

    ``what`` says how ``data`` is to be read: ``counted`` and ``lifting`` hold items, ``segments`` minutes and effort by
    segment, ``zones`` minutes in heart-rate zones, ``given:CODE`` a load in the unit of a channel, as another program
    worked it out.
    """

    __tablename__ = "work"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    session_id: Mapped[str] = mapped_column(UlidType(), ForeignKey("session.id"))
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"))
    what: Mapped[str] = mapped_column(String(60))
    data: Mapped[dict[str, Any]]
    source: Mapped[Source]
    version: Mapped[int] = mapped_column(default=1)
    entered_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    entered_at: Mapped[datetime]

    __table_args__ = (
        UniqueConstraint("session_id", "athlete_id", "what"),
        CheckConstraint("version >= 1", name="version"),
    )


class Anchor(Base):
    """A value that an athlete's work is judged by, from a day on until the next one of its kind."""

    __tablename__ = "anchor"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"))
    kind: Mapped[AnchorKind]
    value: Mapped[float | None]
    word: Mapped[str | None] = mapped_column(String(24))
    from_day: Mapped[date]
    source: Mapped[str] = mapped_column(String(200))
    set_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    set_at: Mapped[datetime]
    withdrawn_at: Mapped[datetime | None]

    __table_args__ = (
        Index(None, "athlete_id", "kind", "from_day"),
        CheckConstraint("(value IS NULL) <> (word IS NULL)", name="value_or_word"),
    )


class DailyLoad(Base):
    """The day's load of an athlete on a channel, kept in the transaction of the entries it comes from.

    ``load`` null is a session without a report. ``estimated`` is how much of it is an estimate.
    """

    __tablename__ = "daily_load"

    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"), primary_key=True)
    channel_id: Mapped[int] = mapped_column(ForeignKey("channel.id"), primary_key=True)
    day: Mapped[date] = mapped_column(primary_key=True)
    load: Mapped[float | None]
    estimated: Mapped[float]
    sessions: Mapped[int]

    __table_args__ = (
        CheckConstraint("`load` IS NULL OR `load` >= 0", name="load"),
        CheckConstraint("estimated >= 0", name="estimated"),
    )

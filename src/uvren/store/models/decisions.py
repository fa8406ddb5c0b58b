"""What is decided at the morning desk, and what it is decided by: calls, the coach's sheet, settings of notices."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, Index, String, Text, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column, relationship

from uvren.core.audience import Audience
from uvren.core.day import CallKind
from uvren.store.models.base import Base, Scope
from uvren.store.models.people import User
from uvren.store.types import UlidType, new_ulid


class Call(Base):
    """A decision about an athlete for a day. The last one not withdrawn stands.

    ``minutes`` (of all sessions of the day), ``effort_cap`` and ``content`` say how the day is adapted. ``about`` is
    what stood when it was made: severity by the key of the notice. ``above_room`` marks one that goes beyond the room
    there was. ``reply`` is a clinician's, to a call that refers.
    """

    __tablename__ = "athlete_call"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"))
    day: Mapped[date]
    kind: Mapped[CallKind]
    reason: Mapped[str] = mapped_column(String(400))
    review_on: Mapped[date | None]
    minutes: Mapped[float | None]
    effort_cap: Mapped[float | None]
    content: Mapped[str | None] = mapped_column(String(200))
    above_room: Mapped[bool] = mapped_column(default=False)
    about: Mapped[dict[str, Any]] = mapped_column(default=dict)
    reply: Mapped[str | None] = mapped_column(Text)
    replied_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    replied_at: Mapped[datetime | None]
    made_by: Mapped[int] = mapped_column(ForeignKey("user.id"))
    made_at: Mapped[datetime]
    withdrawn_at: Mapped[datetime | None]
    withdrawn_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))

    maker: Mapped[User] = relationship(foreign_keys=[made_by])

    __table_args__ = (
        Index(None, "squad_id", "day"),
        Index(None, "athlete_id", "day"),
        CheckConstraint("review_on IS NULL OR review_on >= day", name="review_after_day"),
        CheckConstraint("minutes IS NULL OR minutes >= 0", name="minutes"),
        CheckConstraint("effort_cap IS NULL OR effort_cap BETWEEN 0 AND 10", name="effort_cap"),
    )


class RestTrial(Base):
    """Days off to see whether they help someone under suspicion of overtraining; ``better`` is null until judged."""

    __tablename__ = "rest_trial"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"))
    from_day: Mapped[date]
    days: Mapped[int]
    better: Mapped[bool | None]
    judged_on: Mapped[date | None]
    started_by: Mapped[int] = mapped_column(ForeignKey("user.id"))
    started_at: Mapped[datetime]
    judged_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    withdrawn_at: Mapped[datetime | None]

    __table_args__ = (Index(None, "squad_id", "from_day"), CheckConstraint("days IN (7, 14)", name="days"))


class LighterWeek(Base):
    """Seven days of lighter work for one athlete.

    ``signs`` is what it was proposed for, in words; ``lines`` each session before and after; ``stood`` everybody's own
    plan in them as it was, to put it back.
    """

    __tablename__ = "lighter_week"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"))
    from_day: Mapped[date]
    school: Mapped[str] = mapped_column(String(16))
    signs: Mapped[list[Any]]
    lines: Mapped[list[Any]]
    stood: Mapped[list[Any]]
    made_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    made_at: Mapped[datetime]
    withdrawn_at: Mapped[datetime | None]

    __table_args__ = (Index(None, "squad_id", "from_day"),)


class CoachSheet(Base):
    """The sheet for the coach as it was made: ``version`` counts up within a day; ``content`` is what it said."""

    __tablename__ = "coach_sheet"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    day: Mapped[date]
    version: Mapped[int]
    content: Mapped[dict[str, Any]]
    made_by: Mapped[int] = mapped_column(ForeignKey("user.id"))
    made_at: Mapped[datetime]

    maker: Mapped[User] = relationship()

    __table_args__ = (UniqueConstraint("squad_id", "day", "version"),)


class NoticeSetting(Base):
    """How a kind of notice is tuned for a squad, a position or an athlete; the narrowest scope wins."""

    __tablename__ = "notice_setting"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    code: Mapped[str] = mapped_column(String(40))
    scope: Mapped[Scope]
    position: Mapped[str | None] = mapped_column(String(40))
    athlete_id: Mapped[int | None] = mapped_column(ForeignKey("athlete.id"))
    off: Mapped[bool] = mapped_column(default=False)
    values: Mapped[dict[str, Any]]
    reason: Mapped[str] = mapped_column(String(400), default="")
    from_day: Mapped[date]
    set_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    set_at: Mapped[datetime]
    withdrawn_at: Mapped[datetime | None]

    __table_args__ = (Index(None, "squad_id", "from_day"),)


class Note(Base):
    """Words about an athlete on a day, for who may read them: ``audience`` as notices have it."""

    __tablename__ = "note"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"))
    day: Mapped[date]
    audience: Mapped[Audience]
    words: Mapped[str] = mapped_column(Text)
    made_by: Mapped[int] = mapped_column(ForeignKey("user.id"))
    made_at: Mapped[datetime]
    withdrawn_at: Mapped[datetime | None]

    maker: Mapped[User] = relationship()

    __table_args__ = (Index(None, "athlete_id", "day"),)


class SavedView(Base):
    """A view of the desk under a name of one's own: its part of the address."""

    __tablename__ = "saved_view"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    user_id: Mapped[int] = mapped_column(ForeignKey("user.id"))
    name: Mapped[str] = mapped_column(String(60))
    query: Mapped[str] = mapped_column(String(400))
    made_at: Mapped[datetime]

    __table_args__ = (UniqueConstraint("squad_id", "user_id", "name"),)

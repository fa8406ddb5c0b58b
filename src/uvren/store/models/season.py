"""A squad's season."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, Index, String, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from uvren.core.season import PhaseKind
from uvren.store.models.base import Base
from uvren.store.types import UlidType, new_ulid


class SeasonPhase(Base):
    """A phase of a squad's season. All of a squad's are written at once and carry the same ``edition``."""

    __tablename__ = "season_phase"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    edition: Mapped[str] = mapped_column(UlidType())
    kind: Mapped[PhaseKind]
    name: Mapped[str] = mapped_column(String(60))
    first_day: Mapped[date]
    last_day: Mapped[date]
    set_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    set_at: Mapped[datetime]

    __table_args__ = (Index(None, "squad_id", "first_day"), CheckConstraint("first_day <= last_day", name="days"))


class PlannedWeek(Base):
    """A week of a block: what it is for, its share of the week the block was made from, and whether it is lighter."""

    __tablename__ = "planned_week"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    first_day: Mapped[date]
    goal: Mapped[str] = mapped_column(String(120))
    share: Mapped[float]
    lighter: Mapped[bool]
    set_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    set_at: Mapped[datetime]

    __table_args__ = (UniqueConstraint("squad_id", "first_day"),)


class WeekTemplate(Base):
    """Sessions of one or more weeks that are kept to be planned again, and for whom they were written.

    ``sessions`` has a mapping for each: ``day`` (0 the first Monday), ``at`` by the squad's clock, ``kind``, ``title``,
    ``minutes`` and ``effort``. Every squad of the club may use it.
    """

    __tablename__ = "week_template"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    name: Mapped[str] = mapped_column(String(80))
    years_least: Mapped[float | None]
    years_most: Mapped[float | None]
    sport: Mapped[str] = mapped_column(String(40))
    sport_days: Mapped[float | None]
    longest: Mapped[float | None]
    sessions: Mapped[list[Any]]
    made_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    made_at: Mapped[datetime]
    gone_at: Mapped[datetime | None]

    __table_args__ = (Index(None, "squad_id"),)

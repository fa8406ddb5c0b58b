"""Plans to come back, and what was said and measured on the way."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import JSON, CheckConstraint, ForeignKey, Index, String
from sqlalchemy.orm import Mapped, mapped_column, relationship

from uvren.store.models.base import Base, Mechanism, Onset, ReturnKind, ReturnStep
from uvren.store.models.people import User
from uvren.store.types import UlidType, new_ulid


class ReturnPlan(Base):
    """A plan to come back of one athlete. It changes, and every change leaves a :class:`ReturnEvent`.

    ``template``, ``site``, ``side``, ``note``, ``onset`` and ``mechanism`` are for clinicians. ``stages`` are those of
    its template as they were made this athlete's own. ``parts`` has the usual week and the weeks held by channel.
    ``shares`` are the steps in per cent where they are not those of ``school``.
    """

    __tablename__ = "return_plan"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"))
    kind: Mapped[ReturnKind]
    template: Mapped[str] = mapped_column(String(24))
    site: Mapped[str | None] = mapped_column(String(24))
    side: Mapped[str | None] = mapped_column(String(8))
    note: Mapped[str] = mapped_column(String(400))
    onset: Mapped[Onset | None]
    mechanism: Mapped[Mechanism | None]
    first_off: Mapped[date | None]
    first_day: Mapped[date]
    target_day: Mapped[date | None]
    needed: Mapped[float]
    school: Mapped[str] = mapped_column(String(16))
    shares: Mapped[list[Any] | None] = mapped_column(JSON(none_as_null=True))
    parts: Mapped[dict[str, Any]]
    days_a_week: Mapped[int]
    stages: Mapped[list[Any]]
    stage: Mapped[int]
    stage_since: Mapped[date]
    made_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    made_at: Mapped[datetime]
    ended_on: Mapped[date | None]
    version: Mapped[int] = mapped_column(default=1)

    maker: Mapped[User | None] = relationship()

    __table_args__ = (
        Index(None, "squad_id", "first_day"),
        Index(None, "athlete_id", "first_day"),
        CheckConstraint("first_off IS NULL OR first_off <= first_day", name="days_in_order"),
        CheckConstraint("needed > 0 AND needed <= 100", name="needed"),
    )


class ReturnEvent(Base):
    """What happened to a plan on a day: a stage entered, a word given, something measured, steps or the date changed.

    Never changed; a slip is answered by another one.
    """

    __tablename__ = "return_event"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    plan_id: Mapped[str] = mapped_column(UlidType(), ForeignKey("return_plan.id"))
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"))
    step: Mapped[ReturnStep]
    day: Mapped[date]
    stage: Mapped[int]
    criterion: Mapped[str | None] = mapped_column(String(24))
    value: Mapped[float | None]
    other: Mapped[float | None]
    words: Mapped[str] = mapped_column(String(400))
    said_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    said_at: Mapped[datetime]
    withdrawn_at: Mapped[datetime | None]

    __table_args__ = (Index(None, "plan_id", "day"), Index(None, "squad_id", "day"))


class SideCheck(Base):
    """Sides of a ``test`` (its code) that differ, looked into step by step.

    ``ranges`` and ``strengths`` are what was measured by joint, ``how`` and ``sets`` what is done about it, to be
    tested again on ``retest_on``. For whoever reads reports.
    """

    __tablename__ = "side_check"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"))
    test: Mapped[str] = mapped_column(String(40))
    from_day: Mapped[date]
    ranges: Mapped[list[Any]]
    strengths: Mapped[list[Any]]
    how: Mapped[str | None] = mapped_column(String(16))
    sets: Mapped[int | None]
    retest_on: Mapped[date | None]
    words: Mapped[str] = mapped_column(String(400))
    ended_on: Mapped[date | None]
    version: Mapped[int] = mapped_column(default=1)
    set_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    set_at: Mapped[datetime]

    __table_args__ = (
        Index(None, "squad_id", "from_day"),
        Index(None, "athlete_id", "from_day"),
        CheckConstraint("how IS NULL OR how IN ('first', 'sets', 'matched')", name="how"),
        CheckConstraint("sets IS NULL OR sets BETWEEN 1 AND 20", name="sets"),
    )

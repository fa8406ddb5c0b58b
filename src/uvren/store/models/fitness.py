"""Tests: how a squad does them, and what came of them."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, Index, String, Text, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from uvren.core.trials import Better, Combine
from uvren.store.models.base import AnchorKind, Base, Source
from uvren.store.types import UlidType, new_ulid


class FitnessTest(Base):
    """A test of a squad. ``sides`` says that it is done left and right.

    ``typical_error`` and ``worthwhile`` null are worked out from the trials and results that are there. ``anchor`` is
    what a result becomes for the athlete from its day on, if anything. ``jump`` says that it is a jump as the three
    signals mean it.
    """

    __tablename__ = "test_definition"

    id: Mapped[int] = mapped_column(primary_key=True)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    code: Mapped[str] = mapped_column(String(40))
    name: Mapped[str]
    unit: Mapped[str] = mapped_column(String(24))
    better: Mapped[Better]
    trials: Mapped[int]
    sides: Mapped[bool] = mapped_column(default=False)
    combine: Mapped[Combine]
    typical_error: Mapped[float | None]
    worthwhile: Mapped[float | None]
    protocol: Mapped[str | None] = mapped_column(Text)
    anchor: Mapped[AnchorKind | None]
    jump: Mapped[bool] = mapped_column(default=False)
    version: Mapped[int] = mapped_column(default=1)
    rank: Mapped[int] = mapped_column(default=0)
    set_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    set_at: Mapped[datetime]
    withdrawn_at: Mapped[datetime | None]

    __table_args__ = (
        UniqueConstraint("squad_id", "code"),
        CheckConstraint("trials BETWEEN 1 AND 10", name="trials"),
        CheckConstraint("typical_error IS NULL OR typical_error >= 0", name="typical_error"),
        CheckConstraint("worthwhile IS NULL OR worthwhile >= 0", name="worthwhile"),
    )


class FitnessResult(Base):
    """What an athlete did in a test on a day, a row a side. A trial that was left out is null.

    ``value`` is what stands for the trials. ``sure`` says that someone has looked at an unlikely value and kept it.
    """

    __tablename__ = "test_result"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    test_id: Mapped[int] = mapped_column(ForeignKey("test_definition.id"))
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"))
    day: Mapped[date]
    side: Mapped[str] = mapped_column(String(8), default="")
    trials: Mapped[list[Any]]
    value: Mapped[float]
    more: Mapped[dict[str, Any]]
    sure: Mapped[bool] = mapped_column(default=False)
    source: Mapped[Source]
    version: Mapped[int] = mapped_column(default=1)
    entered_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    entered_at: Mapped[datetime]

    __table_args__ = (
        UniqueConstraint("test_id", "athlete_id", "day", "side"),
        Index(None, "athlete_id", "day"),
        CheckConstraint("side IN ('', 'left', 'right')", name="side"),
        CheckConstraint("version >= 1", name="version"),
    )

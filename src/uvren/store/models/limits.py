"""What is allowed."""

from __future__ import annotations

from datetime import date, datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, Index, String
from sqlalchemy.orm import Mapped, mapped_column, relationship

from uvren.store.models.base import Base, Scope
from uvren.store.models.people import User
from uvren.store.types import UlidType, new_ulid


class Limit(Base):
    """A limit in force from a day, through ``to_day`` if there is one.

    Its terms are never changed: it is ended, or withdrawn on the day it was set, and another one put in its place.
    """

    __tablename__ = "load_limit"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    channel_id: Mapped[int] = mapped_column(ForeignKey("channel.id"))
    rule: Mapped[str] = mapped_column(String(40))
    value: Mapped[float]
    settings: Mapped[dict[str, Any]]
    hard: Mapped[bool]
    scope: Mapped[Scope]
    position: Mapped[str | None] = mapped_column(String(40))
    athlete_id: Mapped[int | None] = mapped_column(ForeignKey("athlete.id"))
    from_day: Mapped[date]
    to_day: Mapped[date | None]
    source: Mapped[str] = mapped_column(String(200))
    reason: Mapped[str] = mapped_column(String(400))
    set_by: Mapped[int] = mapped_column(ForeignKey("user.id"))
    set_at: Mapped[datetime]
    withdrawn_at: Mapped[datetime | None]

    setter: Mapped[User] = relationship()

    __table_args__ = (
        Index(None, "squad_id", "channel_id", "from_day"),
        CheckConstraint("to_day IS NULL OR to_day >= from_day", name="days_in_order"),
        CheckConstraint(
            "(scope = 'squad' AND position IS NULL AND athlete_id IS NULL)"
            " OR (scope = 'position' AND position IS NOT NULL AND athlete_id IS NULL)"
            " OR (scope = 'athlete' AND athlete_id IS NOT NULL AND position IS NULL)",
            name="scope_matches",
        ),
    )

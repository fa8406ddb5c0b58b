"""What stood before it was changed in its place."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, Index, String
from sqlalchemy.orm import Mapped, mapped_column

from uvren.store.models.base import Base
from uvren.store.types import UlidType, new_ulid


class Earlier(Base):
    """A version of something that no longer stands: an answer to a complaint, a test, a unit, a session's parts.

    ``kind`` and ``key`` say of what; ``until`` when it was changed, by ``changed_by``.
    """

    __tablename__ = "earlier"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    athlete_id: Mapped[int | None] = mapped_column(ForeignKey("athlete.id"))
    kind: Mapped[str] = mapped_column(String(24))
    key: Mapped[str] = mapped_column(String(40))
    version: Mapped[int]
    data: Mapped[dict[str, Any]]
    until: Mapped[datetime]
    changed_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))

    __table_args__ = (Index(None, "squad_id", "kind", "key"), Index(None, "athlete_id"))

"""What is noted while a session runs, and what devices send meanwhile."""

from __future__ import annotations

from datetime import date, datetime

from sqlalchemy import BigInteger, CheckConstraint, ForeignKey, Index, String, UniqueConstraint
from sqlalchemy.dialects.mysql import LONGBLOB
from sqlalchemy.orm import Mapped, mapped_column, relationship

from uvren.core.field import FieldKind
from uvren.store.models.base import Base, RecordingKind
from uvren.store.models.people import User
from uvren.store.types import UlidType, new_ulid


class FieldEvent(Base):
    """Something noted at the pitch, kept as it was said; how things stand is worked out from all of it.

    ``part`` is the place of a part. ``amount`` is a count, or the length of a break in seconds; ``what`` the class of
    what is counted; ``words`` a note or a place on the field.
    """

    __tablename__ = "field_event"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    session_id: Mapped[str] = mapped_column(UlidType(), ForeignKey("session.id"))
    athlete_id: Mapped[int | None] = mapped_column(ForeignKey("athlete.id"))
    kind: Mapped[FieldKind]
    at: Mapped[datetime]
    part: Mapped[int | None]
    amount: Mapped[float]
    what: Mapped[str] = mapped_column(String(60))
    words: Mapped[str] = mapped_column(String(400))
    made_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    made_at: Mapped[datetime]
    taken_back_at: Mapped[datetime | None]

    maker: Mapped[User | None] = relationship()

    __table_args__ = (Index(None, "session_id", "at"), Index(None, "squad_id", "at"))


class SpellLimit(Base):
    """At most so many of something in a spell, then a break; for everybody, or for one athlete."""

    __tablename__ = "spell_limit"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    athlete_id: Mapped[int | None] = mapped_column(ForeignKey("athlete.id"))
    what: Mapped[str] = mapped_column(String(60))
    most: Mapped[int]
    break_minutes: Mapped[float]
    from_day: Mapped[date]
    set_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    set_at: Mapped[datetime]
    withdrawn_at: Mapped[datetime | None]

    __table_args__ = (
        Index(None, "squad_id", "from_day"),
        CheckConstraint("most BETWEEN 1 AND 1000", name="most"),
        CheckConstraint("break_minutes BETWEEN 0.5 AND 120", name="break_minutes"),
    )


class LiveHub(Base):
    """What may send samples for a squad: a club's own bridge to its devices, known by a secret."""

    __tablename__ = "live_hub"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    name: Mapped[str] = mapped_column(String(60))
    token_digest: Mapped[str] = mapped_column(String(64), unique=True)
    made_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    made_at: Mapped[datetime]
    withdrawn_at: Mapped[datetime | None]
    seen_at: Mapped[datetime | None]

    __table_args__ = (Index(None, "squad_id"),)


class LiveChunk(Base):
    """A piece of a device's samples as it came.

    ``data`` holds seconds from ``begins_at`` and then the values, as doubles.

    A device numbers its pieces; one that is sent twice is kept once.
    """

    __tablename__ = "live_chunk"

    id: Mapped[int] = mapped_column(BigInteger, primary_key=True)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    session_id: Mapped[str] = mapped_column(UlidType(), ForeignKey("session.id"))
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"))
    device: Mapped[str] = mapped_column(String(60))
    kind: Mapped[RecordingKind]
    number: Mapped[int] = mapped_column(BigInteger)
    begins_at: Mapped[datetime]
    samples: Mapped[int]
    received_at: Mapped[datetime]
    data: Mapped[bytes] = mapped_column(LONGBLOB())

    __table_args__ = (UniqueConstraint("session_id", "device", "kind", "number"), Index(None, "session_id", "id"))

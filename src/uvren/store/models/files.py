"""What came in from files."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import BigInteger, ForeignKey, Index, String, UniqueConstraint
from sqlalchemy.dialects.mysql import LONGBLOB
from sqlalchemy.orm import Mapped, mapped_column

from uvren.store.models.base import Base, ImportState, RecordingKind
from uvren.store.types import UlidType, new_ulid


class Alias(Base):
    """What files call an athlete: a name, number or device, remembered once someone has said who it is.

    ``athlete_id`` null is someone who is none of the squad and is to be left out.
    """

    __tablename__ = "alias"

    id: Mapped[int] = mapped_column(primary_key=True)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    said: Mapped[str] = mapped_column(String(120))
    athlete_id: Mapped[int | None] = mapped_column(ForeignKey("athlete.id"))

    __table_args__ = (UniqueConstraint("squad_id", "said"),)


class FileMapping(Base):
    """How the columns of one kind of file are read. Files are known again by the names of their columns."""

    __tablename__ = "file_mapping"

    id: Mapped[int] = mapped_column(primary_key=True)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    name: Mapped[str]
    signature: Mapped[str] = mapped_column(String(64))
    spec: Mapped[dict[str, Any]]
    set_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    set_at: Mapped[datetime]

    __table_args__ = (UniqueConstraint("squad_id", "name"), Index(None, "squad_id", "signature"))


class FileImport(Base):
    """A file on its way in, and what came of it.

    ``share`` is how far it has come, 0 to 1; ``report`` what came in, what did not and why; ``undo`` what it replaced.
    """

    __tablename__ = "file_import"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    file_name: Mapped[str] = mapped_column(String(200))
    digest: Mapped[str] = mapped_column(String(64))
    size: Mapped[int] = mapped_column(BigInteger)
    state: Mapped[ImportState]
    spec: Mapped[dict[str, Any]]
    mapping_id: Mapped[int | None] = mapped_column(ForeignKey("file_mapping.id"))
    step: Mapped[str]
    share: Mapped[float] = mapped_column(default=0.0)
    report: Mapped[dict[str, Any]]
    undo: Mapped[dict[str, Any]]
    # How often the worker began to bring it in since it was queued.
    begun: Mapped[int] = mapped_column(default=0)
    created_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))
    created_at: Mapped[datetime]
    finished_at: Mapped[datetime | None]
    undone_at: Mapped[datetime | None]
    undone_by: Mapped[int | None] = mapped_column(ForeignKey("user.id"))

    __table_args__ = (Index(None, "squad_id", "digest"), Index(None, "squad_id", "created_at"))


class Recording(Base):
    """Raw samples of one athlete from one device: Parquet in ``data``, times in seconds from ``starts_at``.

    ``offset_seconds`` corrects the device's clock. Of two recordings of a kind in one session only those that
    ``counts`` make up the load. ``summary`` holds how long each value stood, from which loads can be worked out anew.
    """

    __tablename__ = "recording"

    id: Mapped[str] = mapped_column(UlidType(), primary_key=True, default=new_ulid)
    squad_id: Mapped[int] = mapped_column(ForeignKey("squad.id"))
    athlete_id: Mapped[int] = mapped_column(ForeignKey("athlete.id"))
    session_id: Mapped[str | None] = mapped_column(UlidType(), ForeignKey("session.id"))
    import_id: Mapped[str | None] = mapped_column(UlidType(), ForeignKey("file_import.id"))
    kind: Mapped[RecordingKind]
    device: Mapped[str]
    starts_at: Mapped[datetime]
    seconds: Mapped[float]
    offset_seconds: Mapped[float] = mapped_column(default=0.0)
    samples: Mapped[int]
    dropped: Mapped[int]
    coverage: Mapped[float | None]
    counts: Mapped[bool] = mapped_column(default=True)
    summary: Mapped[dict[str, Any]]
    data: Mapped[bytes] = mapped_column(LONGBLOB(), deferred=True)

    __table_args__ = (Index(None, "squad_id", "starts_at"), Index(None, "session_id", "athlete_id", "kind"))

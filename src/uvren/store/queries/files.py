"""Files that came in, and the mappings by which they are read."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from sqlalchemy import Row, delete, select, update
from sqlalchemy.orm import Session as DbSession

from uvren.store.models import FileImport, FileMapping, ImportState, Recording, Session


def recordings_of_import(db: DbSession, import_id: str) -> Sequence[Row[Recording, date | None]]:
    """(recording, day of its session) of a file."""
    return db.execute(
        select(Recording, Session.day)
        .outerjoin(Session, Session.id == Recording.session_id)
        .where(Recording.import_id == import_id)
    ).all()


def mappings(db: DbSession, squad_id: int) -> list[FileMapping]:
    return list(db.scalars(select(FileMapping).where(FileMapping.squad_id == squad_id).order_by(FileMapping.name)))


def mapping_signed(db: DbSession, squad_id: int, signature: str) -> FileMapping | None:
    """The mapping saved last for columns of a signature."""
    return db.scalars(
        select(FileMapping)
        .where(FileMapping.squad_id == squad_id, FileMapping.signature == signature)
        .order_by(FileMapping.set_at.desc())
        .limit(1)
    ).first()


def mapping_named(db: DbSession, squad_id: int, name: str) -> FileMapping | None:
    return db.scalar(select(FileMapping).where(FileMapping.squad_id == squad_id, FileMapping.name == name))


def forget_mapping(db: DbSession, mapping_id: int) -> None:
    """Let no file say that it came in by this mapping."""
    db.execute(update(FileImport).where(FileImport.mapping_id == mapping_id).values(mapping_id=None))


def standing_import(db: DbSession, squad_id: int, digest: str) -> FileImport | None:
    """The import of just this content that is in, or on its way."""
    states = [ImportState.WAITING, ImportState.RUNNING, ImportState.DONE]
    where = (FileImport.squad_id == squad_id, FileImport.digest == digest, FileImport.state.in_(states))
    return db.scalars(select(FileImport).where(*where).limit(1)).first()


def latest_imports(db: DbSession, squad_id: int, most: int) -> list[FileImport]:
    """The latest imports, the newest first."""
    query = select(FileImport).where(FileImport.squad_id == squad_id)
    return list(db.scalars(query.order_by(FileImport.created_at.desc(), FileImport.id.desc()).limit(most)))


def delete_import(db: DbSession, import_id: str) -> None:
    db.execute(delete(FileImport).where(FileImport.id == import_id))


def tell_progress(db: DbSession, import_id: str, step: str, share: float) -> None:
    db.execute(update(FileImport).where(FileImport.id == import_id).values(step=step, share=round(share, 2)))


def imports_to_begin(db: DbSession) -> list[str]:
    """Imports that wait, with those that were under way when the last worker ended: nothing of them had come in."""
    db.execute(update(FileImport).where(FileImport.state == ImportState.RUNNING).values(state=ImportState.WAITING))
    return list(db.scalars(select(FileImport.id).where(FileImport.state == ImportState.WAITING)))

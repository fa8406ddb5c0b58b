"""Recordings: raw samples as they are kept, and what they come to."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.recordings import Samples
from uvren.files.samples import pack
from uvren.services.day.loads import refresh_daily_loads
from uvren.services.day.samples import clean, sane_impacts
from uvren.services.errors import NotFound
from uvren.store import queries
from uvren.store.models import Recording, RecordingKind, Session, Squad


@dataclass(frozen=True)
class Kept:
    """A recording ready to be stored; ``shift`` is the time of the first sample in the given columns."""

    shift: float
    seconds: float
    samples: int
    dropped: int
    coverage: float | None
    summary: dict[str, Any]
    data: bytes


def keep(kind: RecordingKind, columns: dict[str, np.ndarray]) -> Kept | None:
    """Clean, summarise and pack raw columns (``t`` in seconds); None where no sample is left."""
    cleaned = clean(kind, columns)
    if cleaned.t.size == 0:
        return None
    shift = float(np.nanmin(columns["t"]))
    # A thousandth of a second is finer than any sensor here, and packs far better than a difference of large numbers.
    raw = {**columns, "t": np.round(columns["t"] - shift, 3)}
    return Kept(
        shift=shift,
        seconds=float(cleaned.t[-1] - shift),
        samples=int(cleaned.t.size),
        dropped=cleaned.dropped,
        coverage=cleaned.coverage if kind is not RecordingKind.IMPACTS and cleaned.t.size > 1 else None,
        summary=_summary(kind, cleaned, columns),
        data=pack(raw),
    )


def _summary(kind: RecordingKind, cleaned: Samples, columns: dict[str, np.ndarray]) -> dict[str, Any]:
    if kind is RecordingKind.IMPACTS:
        g, sane = columns["g"], sane_impacts(columns)
        return {"g": np.round(g[sane], 3).tolist(), "right": (columns["right"][sane] > 0).astype(int).tolist()}
    if kind is RecordingKind.HEART_RATE:
        value, inverse = np.unique(cleaned.value, return_inverse=True)
        seconds = np.bincount(inverse, weights=cleaned.held)
        return {"value": value.tolist(), "seconds": np.round(seconds, 6).tolist()}
    return {"distance": round(float(cleaned.value @ cleaned.held), 3), "top_speed": float(cleaned.value.max())}


def keep_recording(
    db: DbSession, squad: Squad, session: Session, athlete: int, kind: RecordingKind, device: str,
    began: datetime, columns: dict[str, np.ndarray],
) -> Recording | None:  # fmt: skip
    """Keep a device's samples (``t`` in seconds from ``began``) as one recording; None where none is left.

    It counts unless another of its kind at that time does already; loads are to be worked out after it.
    Does not commit.
    """
    kept = keep(kind, columns)
    if kept is None:
        return None
    made = Recording(
        squad_id=squad.id, athlete_id=athlete, session_id=session.id, import_id=None, kind=kind, device=device,
        starts_at=began + timedelta(seconds=kept.shift), seconds=kept.seconds, samples=kept.samples,
        dropped=kept.dropped, coverage=kept.coverage, summary=kept.summary, data=kept.data,
    )  # fmt: skip
    ends = made.starts_at + timedelta(seconds=made.seconds)
    made.counts = not any(
        one.starts_at < ends and made.starts_at < one.starts_at + timedelta(seconds=one.seconds)
        for one in queries.session.counted_recordings(db, session.id, athlete)
        if one.kind is kind
    )
    db.add(made)
    db.flush()
    return made


def choose_recording(db: DbSession, squad: Squad, recording_id: str) -> Recording:
    """Let this recording count, and no other of its kind of that athlete at that time. Raises NotFound."""
    chosen = db.get(Recording, recording_id)
    if chosen is None or chosen.squad_id != squad.id or chosen.session_id is None:
        raise NotFound("There is no such recording.")
    ends = chosen.starts_at + timedelta(seconds=chosen.seconds)
    for other in queries.session.rival_recordings(db, chosen):
        if other.starts_at < ends and chosen.starts_at < other.starts_at + timedelta(seconds=other.seconds):
            other.counts = False
    chosen.counts = True
    db.flush()
    day = db.get_one(Session, chosen.session_id).day
    refresh_daily_loads(db, squad.id, {(chosen.athlete_id, day)})
    return chosen

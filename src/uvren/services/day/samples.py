"""Raw samples as they are kept, cleaned."""

from __future__ import annotations

from collections.abc import Collection

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.recordings import Samples, clean_heart_rate, clean_speed, speed_from_degrees, speed_from_metres
from uvren.core.recordings.impacts import HARDEST
from uvren.files.samples import unpack
from uvren.store import queries
from uvren.store.models import RecordingKind

# Recordings whose samples one database session remembers; one is half a megabyte.
REMEMBERED = 250


def samples_of(db: DbSession, ids: Collection[str]) -> dict[str, Samples]:
    """Cleaned heart rate or speed of recordings, by their ids.

    What is kept of a recording never changes, and several figures of one answer are of the same samples: the database
    session remembers those that it has read, up to a number.
    """
    known: dict[str, Samples] = db.info.setdefault("samples", {})
    missing = [key for key in ids if key not in known]
    read = {key: clean(kind, unpack(data)) for key, kind, data in queries.session.raw_of(db, missing)}
    found = {key: known[key] for key in ids if key in known} | read
    if len(known) + len(read) <= REMEMBERED:
        known.update(read)
    return found


def sane_impacts(columns: dict[str, np.ndarray]) -> np.ndarray:
    """Which rows are impacts; what is above 200 g, or no number, is the sensor."""
    return np.asarray((columns["g"] > 0) & (columns["g"] <= HARDEST))


def clean(kind: RecordingKind, columns: dict[str, np.ndarray]) -> Samples:
    """Raw columns as cleaned samples: heart rate a minute, speed in m/s, or the peaks of impacts in g."""
    t = columns["t"]
    if kind is RecordingKind.HEART_RATE:
        return clean_heart_rate(t, columns["hr"])
    if kind is RecordingKind.IMPACTS:
        g, sane = columns["g"], sane_impacts(columns)
        return Samples(t[sane], g[sane], np.zeros(int(sane.sum())), int((~sane & ~np.isnan(g)).sum()))
    if "speed" in columns:
        return clean_speed(t, columns["speed"])
    if "latitude" in columns:
        return speed_from_degrees(t, columns["latitude"], columns["longitude"])
    return speed_from_metres(t, columns["x"], columns["y"])

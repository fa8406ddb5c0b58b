"""Recordings of position, read: how somebody ran, in seconds of the session's own time."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime
from functools import cached_property

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.recordings import Samples
from uvren.core.units import PositionLoad
from uvren.services.day.loads import anchor_book, definition_on, definitions_of
from uvren.services.day.samples import samples_of
from uvren.store.database import batches
from uvren.store.models import AnchorKind, Channel, Recording, RecordingKind, Session

# The speed (m/s) from which running is fast where the squad has no unit of its own for it.
FASTEST_KNOWN = 5.0


@dataclass(frozen=True)
class Track:
    session_id: str
    athlete_id: int
    samples: Samples

    @cached_property
    def metres(self) -> float:
        return float(self.samples.value @ self.samples.held)


def tracks_of(db: DbSession, recordings: Sequence[Recording], session: Session | None = None) -> list[Track]:
    """Tracks of those recordings that are of position, one for each person in a session.

    On the session's time where it is given, else on that of the first recording. A device that was started anew goes on
    where it ended.
    """
    mine = sorted((one for one in recordings if one.kind is RecordingKind.POSITION), key=lambda one: one.starts_at)
    begin: dict[tuple[str, int], datetime] = {}
    found: dict[tuple[str, int], list[Samples]] = defaultdict(list)
    for batch in batches(mine, 50):
        samples = samples_of(db, [one.id for one in batch])
        for one in batch:
            key = (str(one.session_id), one.athlete_id)
            zero = begin.setdefault(key, session.starts_at if session is not None else one.starts_at)
            read = samples[one.id]
            found[key].append(replace(read, t=read.t + (one.starts_at - zero).total_seconds()))
    return [Track(*key, _joined(parts)) for key, parts in found.items()]


def _joined(parts: Sequence[Samples]) -> Samples:
    if len(parts) == 1:
        return parts[0]
    t, value, held = (np.concatenate([getattr(one, name) for one in parts]) for name in ("t", "value", "held"))
    order = np.argsort(t, kind="stable")
    return Samples(t[order], value[order], held[order], sum(one.dropped for one in parts))


@dataclass(frozen=True)
class FastSpeeds:
    """From which speed (m/s) running is fast, by athlete, and the channel that says so."""

    code: str
    by_athlete: Mapping[int, float]

    def of(self, athlete: int) -> float:
        return self.by_athlete.get(athlete, FASTEST_KNOWN)


def fast_speeds(db: DbSession, channels: Sequence[Channel], athletes: Sequence[int], day: date) -> FastSpeeds:
    """The speed of the squad's own unit of fast running, for everybody."""
    for channel in channels:
        definition = definition_on(definitions_of(channel), day)
        form = definition.form if definition else None
        if isinstance(form, PositionLoad) and (form.speed or form.share):
            book = anchor_book(db, athletes, day)
            own = {one: book.number(one, AnchorKind.SPEED_MAX, day) for one in athletes}
            speeds = {one: form.speed or (form.share or 0.0) * (top or 0.0) for one, top in own.items()}
            return FastSpeeds(channel.code, {one: speed for one, speed in speeds.items() if speed})
    return FastSpeeds("", {})


def fast_of(channels: Sequence[Channel], day: date) -> float:
    """The speed of the squad's own unit of fast running, where it is one for everybody."""
    for channel in channels:
        definition = definition_on(definitions_of(channel), day)
        if definition is not None and isinstance(definition.form, PositionLoad) and definition.form.speed:
            return definition.form.speed
    return FASTEST_KNOWN

"""A session's recordings: what each comes to, segment by segment, and its trace on the session's own time."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.recordings import (
    DEFAULT_BANDS,
    HeartAnchors,
    HeartRateMetrics,
    ImpactMetrics,
    PositionMetrics,
    Samples,
    heart_rate_metrics,
    impact_metrics,
    position_metrics,
)
from uvren.core.units import PositionLoad
from uvren.files.samples import unpack
from uvren.services.day.loads import anchor_book, definition_on, definitions_of, refresh_daily_loads
from uvren.services.day.people import folded
from uvren.services.day.samples import clean, sane_impacts
from uvren.services.errors import Invalid, NotFound
from uvren.services.session.sessions import find_session
from uvren.services.stamp import Stamp
from uvren.services.versions import WHATEVER, Whatever, check_seen, keep_earlier
from uvren.store import queries
from uvren.store.models import AnchorKind, Recording, RecordingKind, Segment, Session, Squad

MOST_STEPS = 1500
FAST, SPRINT = 5.0, 6.5


@dataclass(frozen=True)
class Judge:
    """What one athlete's recordings are judged by on a day."""

    heart: HeartAnchors
    fast: float
    sprint: float


def judge_of(db: DbSession, squad: Squad, athlete: int, session: Session) -> Judge:
    """Anchors of the day; the speed above which running is fast is that of the squad's own unit, if it has one."""
    book = anchor_book(db, [athlete], session.day)
    fast: float = FAST
    for channel in queries.squad.channels(db, squad.id):
        definition = definition_on(definitions_of(channel), session.day)
        form = definition.form if definition else None
        if isinstance(form, PositionLoad) and (form.speed or form.share):
            own = book.number(athlete, AnchorKind.SPEED_MAX, session.day)
            fast = float(form.speed or (form.share or 0.0) * (own or 0.0) or FAST)
            break
    own = book.number(athlete, AnchorKind.SPEED_MAX, session.day)
    return Judge(book.heart(athlete, session.day), fast, 0.85 * own if own else SPRINT)


@dataclass(frozen=True)
class Figures:
    """Figures of recordings, of each kind that there is; ``fast`` and ``sprint`` are the speeds (m/s) that counted."""

    heart_rate: HeartRateMetrics | None = None
    position: PositionMetrics | None = None
    impacts: ImpactMetrics | None = None
    fast: float | None = None
    sprint: float | None = None


def figures_of(kind: RecordingKind, samples: Samples, right: np.ndarray, judge: Judge) -> Figures:
    """Figures of a recording or a part of it."""
    if kind is RecordingKind.HEART_RATE:
        return Figures(heart_rate=heart_rate_metrics(samples, judge.heart))
    if kind is RecordingKind.POSITION:
        moved = position_metrics(samples, judge.fast, judge.sprint)
        return Figures(position=moved, fast=judge.fast, sprint=round(judge.sprint, 2))
    return Figures(impacts=impact_metrics(samples.value, right, DEFAULT_BANDS))


def _with_dropped(figures: Figures, dropped: int) -> Figures:
    """What was dropped on the way in is known better than what is left to drop."""
    if figures.heart_rate is not None:
        return replace(figures, heart_rate=replace(figures.heart_rate, dropped=dropped))
    if figures.position is not None:
        return replace(figures, position=replace(figures.position, dropped=dropped))
    return figures


@dataclass(frozen=True)
class Read:
    """A recording with its samples on the session's time (seconds from its start)."""

    recording: Recording
    samples: Samples
    right: np.ndarray

    def between(self, begin: float, end: float) -> tuple[Samples, np.ndarray]:
        first, last = np.searchsorted(self.samples.t, [begin, end], side="left")
        return self.samples.between(begin, end), self.right[first:last]


def _read(recording: Recording, starts_at: datetime) -> Read:
    columns = unpack(recording.data)
    shift = (recording.starts_at - starts_at).total_seconds()
    order = np.argsort(columns["t"], kind="stable")
    columns = {name: column[order] for name, column in columns.items()} | {"t": columns["t"][order] + shift}
    samples = clean(recording.kind, columns)
    right = np.zeros(samples.t.size, dtype=bool)
    if recording.kind is RecordingKind.IMPACTS:
        right = columns["right"][sane_impacts(columns)] > 0
    return Read(recording, samples, right)


def read_recordings(db: DbSession, squad: Squad, session_id: str) -> tuple[Session, list[tuple[Recording, Figures]]]:
    """Every recording of a session with its figures. Raises NotFound."""
    session = find_session(db, squad, session_id)
    judges: dict[int, Judge] = {}
    out = []
    for recording in queries.session.recordings_of(db, session.id):
        if recording.athlete_id not in judges:
            judges[recording.athlete_id] = judge_of(db, squad, recording.athlete_id, session)
        read = _read(recording, session.starts_at)
        figures = figures_of(recording.kind, read.samples, read.right, judges[recording.athlete_id])
        out.append((recording, _with_dropped(figures, recording.dropped)))
    return session, out


def _steps(samples: Samples) -> dict[str, list[float | None]]:
    """The samples in at most 1,500 steps, each with its least, mean and greatest value; None across gaps."""
    if samples.t.size == 0:
        return {"t": [], "low": [], "mean": [], "high": []}
    begin, end = samples.t[0], samples.t[-1]
    step = max((end - begin) / MOST_STEPS, 1.0)
    bucket = ((samples.t - begin) / step).astype(np.int64)
    edges = np.concatenate([[0], np.flatnonzero(np.diff(bucket)) + 1])
    count = np.diff(np.concatenate([edges, [samples.t.size]]))
    filled = bucket[edges]
    size = int(filled[-1]) + 1

    def spread(values: np.ndarray) -> list[float | None]:
        out: list[float | None] = [None] * size
        for at, value in zip(filled.tolist(), np.round(values, 2).tolist(), strict=True):
            out[at] = value
        return out

    return {
        "t": np.round(begin + step * np.arange(size), 1).tolist(),
        "low": spread(np.minimum.reduceat(samples.value, edges)),
        "mean": spread(np.add.reduceat(samples.value, edges) / count),
        "high": spread(np.maximum.reduceat(samples.value, edges)),
    }


def read_traces(db: DbSession, squad: Squad, session_id: str, athlete: int) -> dict[str, Any]:
    """One athlete's traces in a session, and their figures by segment. Raises NotFound where nothing was recorded."""
    session = find_session(db, squad, session_id)
    rows = queries.session.counted_recordings(db, session.id, athlete)
    if not rows:
        raise NotFound("Nothing was recorded of this athlete in this session.")
    judge = judge_of(db, squad, athlete, session)
    reads = {recording.kind: _read(recording, session.starts_at) for recording in reversed(rows)}
    segments = []
    for segment in session.segments:
        begin, end = segment.begins * 60, (segment.begins + segment.minutes) * 60
        figures = Figures()
        for kind, read in reads.items():
            samples, right = read.between(begin, end)
            if samples.t.size:
                of = figures_of(kind, samples, right, judge)
                figures = replace(figures, **{name: value for name, value in vars(of).items() if value is not None})
        segments.append({"name": segment.name, "metrics": figures})
    heart, speed = reads.get(RecordingKind.HEART_RATE), reads.get(RecordingKind.POSITION)
    hits = reads.get(RecordingKind.IMPACTS)
    return {
        "athlete_id": athlete,
        "heart_rate": _steps(heart.samples) if heart else None,
        "speed": _steps(speed.samples) if speed else None,
        "impacts": None
        if hits is None
        else {
            "t": np.round(hits.samples.t, 2).tolist(),
            "g": hits.samples.value.tolist(),
            "right": hits.right.tolist(),
        },
        "segments": segments,
    }


@dataclass(frozen=True)
class Span:
    """A segment as it is to stand: minutes from the start of the session, and how long."""

    name: str
    begins: float
    minutes: float
    weight: float
    grade: int | None = None


def _span(one: Span | Segment) -> dict[str, Any]:
    return {name: getattr(one, name) for name in ("name", "begins", "minutes", "weight", "grade")}


def set_segments(
    db: DbSession,
    squad: Squad,
    session_id: str,
    spans: Sequence[Span],
    *,
    version: int | Whatever | None = WHATEVER,
    stamp: Stamp,
) -> Session:
    """Replace a session's segments; loads by segment follow their new weights. Does not commit.

    Raises Invalid for a name that stands twice; Stale, with both, where the session was changed since ``version``.
    """
    queries.squad.hold(db, squad.id)
    session = find_session(db, squad, session_id)
    db.refresh(session)
    yours, theirs = ({"segments": [_span(one) for one in them]} for them in (spans, session.segments))
    if yours == theirs:
        return session
    check_seen(version, session.version, f"The parts of {session.name} were changed meanwhile.", yours=yours,
               theirs=theirs)  # fmt: skip
    names = [folded(span.name) for span in spans]
    for i, name in enumerate(names):
        if name in names[:i]:
            raise Invalid("Two parts of a session have two names.", field=f"segments.{i}.name")
    keep_earlier(db, squad.id, "parts", session.id, session.version, theirs, stamp=stamp)
    session.version += 1
    session.segments.clear()
    db.flush()
    ordered = sorted(spans, key=lambda span: span.begins)
    session.segments.extend(
        Segment(place=i, **(_span(span) | {"name": span.name.strip()})) for i, span in enumerate(ordered)
    )
    db.flush()
    if session.done:
        people = queries.session.people_in(db, session.id)
        refresh_daily_loads(db, squad.id, {(athlete, session.day) for athlete in people})
    return session

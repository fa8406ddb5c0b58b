"""What a file holds, and recordings read by their mapping: samples by athlete. Nothing is written here."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from datetime import UTC, date, datetime, time
from pathlib import Path
from typing import Any

import numpy as np

from uvren.core import words as say
from uvren.core.recordings import rows_of
from uvren.core.windows import Floats, Ints
from uvren.files.arrow import Kind, read_columns
from uvren.files.days import life
from uvren.files.errors import Problem
from uvren.files.layout import Layout
from uvren.files.moments import RELATIVE, Moments, Writing, read_moments, to_utc
from uvren.services.files.asked import Question
from uvren.services.files.mappings import UNITS, Role, Spec, is_numeric
from uvren.store.models import RecordingKind

NO_TIME = "It has no time that can be read."
NO_SUCH_TIME = "This time did not exist: the clocks went forward past it."
# More problems of one kind than this are counted, not listed.
MOST_LISTED = 200


@dataclass(frozen=True)
class Part:
    """Samples of one kind from one athlete, in the order of the file; ``columns`` has ``t`` in UTC seconds."""

    said: str
    kind: RecordingKind
    columns: dict[str, Floats]


@dataclass(frozen=True)
class Row:
    """What one row says of an athlete's session; ``starts`` is None where only the day is said."""

    row: int
    said: str
    day: date
    starts: datetime | None
    minutes: float | None
    effort: float | None
    words: str | None
    loads: dict[str, float]
    zones: list[float] | None
    # What the session is called, by which two of a day are told apart; and a shirt number beside the name.
    label: str = ""
    number: str = ""
    # Which of the day's sessions of this athlete it is, where that is said by the order of the rows.
    nth: int = 0


@dataclass(frozen=True)
class Content:
    """What a file holds. ``rows_read`` counts its rows of data, ``dropped`` those that cannot be used.

    ``told`` are rows of the other kinds of table: what each column said, by role. ``questions`` are open.
    """

    parts: list[Part]
    rows: list[Row]
    problems: list[Problem]
    rows_read: int
    dropped: int
    notes: list[str]
    told: list[Told] = field(default_factory=list)
    questions: list[Question] = field(default_factory=list)


@dataclass(frozen=True)
class Told:
    """A row of another kind of table, as a report, a test, a match or a person; what it says, by its columns' roles."""

    row: int
    said: str
    number: str
    day: date | None
    starts: datetime | None
    numbers: dict[str, float]
    words: dict[str, str]


@dataclass(frozen=True)
class Around:
    """What is known around a file: what day it is, the squad's people, and what the file is called."""

    today: date
    people: frozenset[str] = frozenset()
    name: str = ""


_NUMBER_ROLES = (Role.HEART_RATE, Role.SPEED, Role.LATITUDE, Role.LONGITUDE, Role.X, Role.Y, Role.IMPACT)


def read_track(path: Path, spec: Spec) -> Content:
    from uvren.files.gpx import read_gpx

    track = read_gpx(path)
    t = track.seconds + spec.offset_seconds
    parts = [
        Part("", RecordingKind.POSITION, {"t": t, "latitude": track.latitude, "longitude": track.longitude}),
        Part("", RecordingKind.HEART_RATE, {"t": t, "hr": track.heart_rate}),
    ]
    timed = ~np.isnan(t)
    if not timed.any():
        return Content([], [], [Problem(None, "time", "", "None of the points has a time.")], t.size, t.size, [])
    kept = [Part(part.said, part.kind, {name: column[timed] for name, column in part.columns.items()})
            for part in parts if _has_values(part)]  # fmt: skip
    timeless = int((~timed).sum())
    notes = [f"{say.count(timeless, 'point')} without a time left out."] if timeless else []
    return Content(kept, [], [], t.size, timeless, notes)


def with_some_length(content: Content, around: Around) -> Content:
    """Recordings without those that are no recording: of one point, of no duration, of a time that cannot be meant."""
    first, last = (datetime.combine(day, time(0), UTC).timestamp() for day in life(around.today))
    last = min(last, datetime.combine(around.today, time(0), UTC).timestamp() + 2 * 86_400)
    kept, problems = [], list(content.problems)
    for part in content.parts:
        t = part.columns["t"]
        begins, ends = float(np.nanmin(t)), float(np.nanmax(t))
        named = part.said or part.kind.replace("_", " ")
        if begins < first or ends > last:
            on = datetime.fromtimestamp(begins if begins < first else ends, UTC)
            why = f"It would be of {on.day} {on:%B} {on.year}. Is the clock right, and how times are written?"
            problems.append(Problem(None, "time", named, why))
        elif t.size < 2 or ends <= begins:
            count = "one sample" if t.size == 1 else f"{t.size} samples at the same time"
            problems.append(Problem(None, "time", named, f"It holds {count}: that is no recording of a session."))
        else:
            kept.append(part)
    return replace(content, parts=kept, problems=problems)


def _has_values(part: Part) -> bool:
    names = [name for name in part.columns if name not in ("t", "right")]
    return all(bool((~np.isnan(part.columns[name])).any()) for name in names)


def _wanted(spec: Spec) -> dict[str, Kind]:
    wanted: dict[str, Kind] = {}
    for column in spec.columns:
        if column.role in (Role.ATHLETE, Role.SIDE):
            wanted[column.name] = Kind.TEXT
        elif column.role in (Role.TIME, Role.DATE):
            wanted[column.name] = Kind.MOMENT
        elif column.role in _NUMBER_ROLES:
            wanted[column.name] = Kind.NUMBER
    time_column = spec.of(Role.TIME)
    if time_column and is_numeric(spec.writing) and not spec.of(Role.DATE):
        wanted[time_column.name] = Kind.NUMBER
    return wanted


def scaled(values: Floats, role: Role, unit: str) -> Floats:
    scale = UNITS.get(role, {}).get(unit, 1.0)
    return values if scale == 1.0 else values * scale


def seconds_of(spec: Spec, columns: Any, group: Ints, problems: list[Problem], notes: list[str]) -> Floats:
    """UTC seconds of every row, nan where there is no telling."""
    time_column, date_column = spec.of(Role.TIME), spec.of(Role.DATE)
    assert time_column is not None
    writing = spec.writing or Writing.YEAR_FIRST
    if time_column.name in columns.numbers:
        import pyarrow as pa

        found = read_moments(pa.array(columns.numbers[time_column.name], from_pandas=True), writing)
    else:
        of_clock = Writing.CLOCK if date_column else writing
        found = read_moments(columns.moments[time_column.name], of_clock)
    seconds = found.seconds
    if date_column is not None and not found.zoned:
        days = read_moments(columns.moments[date_column.name], writing).seconds
        seconds = np.floor(days / 86_400) * 86_400 + seconds % 86_400
    elif writing in RELATIVE or writing is Writing.CLOCK:
        assert spec.day is not None
        at = datetime.combine(spec.day, spec.begins or time(0), UTC).timestamp()
        start = at if writing in RELATIVE else datetime.combine(spec.day, time(0), UTC).timestamp()
        seconds = start + seconds
    if not found.zoned:
        seconds = placed_in_time(spec, Moments(seconds, False), group, columns.row, problems, notes)
    else:
        tell_empty(seconds, columns.row, time_column.name, problems)
    return seconds + spec.offset_seconds


def placed_in_time(
    spec: Spec, local: Moments, group: Ints, row: Ints, problems: list[Problem], notes: list[str]
) -> Floats:
    placed = to_utc(local.seconds, spec.tz, group)
    name = (spec.of(Role.TIME) or spec.of(Role.DATE) or spec.columns[0]).name
    tell_empty(np.where(placed.absent, 0.0, placed.seconds), row, name, problems)
    for i in np.flatnonzero(placed.absent)[:MOST_LISTED].tolist():
        said = datetime.fromtimestamp(float(local.seconds[i]), UTC).strftime("%Y-%m-%d %H:%M:%S")
        problems.append(Problem(int(row[i]), name, said, NO_SUCH_TIME))
    if placed.repeated:
        notes.append("The clocks were set back during this file; the hour that came twice is told apart by the order.")
    return placed.seconds


def tell_empty(seconds: Floats, row: Ints, name: str, problems: list[Problem]) -> None:
    for i in np.flatnonzero(np.isnan(seconds))[:MOST_LISTED].tolist():
        problems.append(Problem(int(row[i]), name, "", NO_TIME))


def read_samples(path: Path, layout: Layout, spec: Spec) -> Content:
    columns = read_columns(path, layout, _wanted(spec))
    problems, notes = list(columns.problems), list[str]()
    names, group = groups_of(spec, columns)
    seconds = seconds_of(spec, columns, group, problems, notes)
    usable = ~np.isnan(seconds) & ~columns.bad
    values: dict[str, Floats] = {}
    for role, name in (
        (Role.HEART_RATE, "hr"), (Role.SPEED, "speed"), (Role.LATITUDE, "latitude"), (Role.LONGITUDE, "longitude"),
        (Role.X, "x"), (Role.Y, "y"), (Role.IMPACT, "g"),
    ):  # fmt: skip
        use = spec.of(role)
        if use is not None:
            values[name] = scaled(columns.numbers[use.name], role, use.unit)
    side = spec.of(Role.SIDE)
    if side is not None:
        right, known = _sides(columns.texts[side.name])
        for i in np.flatnonzero(usable & ~known)[:MOST_LISTED].tolist():
            said = columns.texts[side.name][i].as_py() or ""
            problems.append(Problem(int(columns.row[i]), side.name, said, "It is neither left nor right."))
        usable &= known
        values["right"] = right.astype(np.float64)
    values["t"] = seconds
    if not usable.all():
        values = {name: column[usable] for name, column in values.items()}
        group = group[usable]
    if group.size and (group[1:] < group[:-1]).any():
        order = np.argsort(group, kind="stable")
        values = {name: column[order] for name, column in values.items()}
        group = group[order]
    parts = [
        part
        for code, begin, end in rows_of(group)
        for part in _parts(names[code], {name: column[begin:end] for name, column in values.items()})
    ]
    return Content(parts, [], problems, int(columns.row.size), int((~usable).sum()), notes)


def groups_of(spec: Spec, columns: Any) -> tuple[list[str], Ints]:
    """What the file calls each athlete, and of which one every row is."""
    from uvren.files.arrow import to_numpy

    use = spec.of(Role.ATHLETE)
    if use is None:
        return [""], np.zeros(columns.row.size, dtype=np.int64)
    texts = columns.texts[use.name]
    encoded = texts.combine_chunks().dictionary_encode() if hasattr(texts, "combine_chunks") else None
    encoded = texts.dictionary_encode() if encoded is None else encoded
    if hasattr(encoded, "combine_chunks"):
        encoded = encoded.combine_chunks()
    names = [str(name) for name in encoded.dictionary.to_pylist()]
    codes = to_numpy(encoded.indices, -1).astype(np.int64)
    # Rows without a name belong to nobody; they are told as such.
    return [*names, ""], np.where(codes < 0, len(names), codes)


def _parts(said: str, values: dict[str, Floats]) -> Iterator[Part]:
    t = values["t"]
    speed = [name for name in ("speed", "latitude", "longitude", "x", "y") if name in values]
    if "speed" in speed:
        # A speed that the device worked out itself is better than one worked out from its rounded positions.
        speed = ["speed"]
    for kind, names in (
        (RecordingKind.HEART_RATE, ["hr"]),
        (RecordingKind.POSITION, speed),
        (RecordingKind.IMPACTS, ["g", "right"]),
    ):
        if names and all(name in values for name in names):
            there = ~np.isnan(values[names[0]])
            if there.all():
                part = Part(said, kind, {"t": t, **{name: values[name] for name in names}})
            else:
                part = Part(said, kind, {"t": t[there], **{name: values[name][there] for name in names}})
            if part.columns["t"].size:
                yield part


def _sides(texts: Any) -> tuple[np.ndarray, np.ndarray]:
    import pyarrow.compute as pc

    from uvren.files.arrow import to_bools

    first = pc.utf8_lower(pc.utf8_slice_codeunits(texts, 0, 1))
    right, left = to_bools(pc.equal(first, "r")), to_bools(pc.equal(first, "l"))
    return right, right | left

"""A file read by its mapping: samples by athlete, or rows of sessions; nothing is written here."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, time
from pathlib import Path
from typing import Any

import numpy as np

from uvren.core.ratings import EFFORT_MOST, EFFORT_STEP, MINUTES_MOST
from uvren.core.recordings import rows_of
from uvren.core.windows import Floats, Ints
from uvren.files.arrow import Kind, read_columns
from uvren.files.errors import Problem
from uvren.files.layout import Format, Layout, look_at
from uvren.files.moments import RELATIVE, Moments, Writing, read_moments, to_utc
from uvren.services.session.mappings import UNITS, FileKind, Role, Spec, is_numeric
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


@dataclass(frozen=True)
class Content:
    """What a file holds. ``rows_read`` counts its rows of data, ``dropped`` those that cannot be used."""

    parts: list[Part]
    rows: list[Row]
    problems: list[Problem]
    rows_read: int
    dropped: int
    notes: list[str]


_NUMBER_ROLES = (
    *(Role.HEART_RATE, Role.SPEED, Role.LATITUDE, Role.LONGITUDE, Role.X, Role.Y, Role.IMPACT),
    *(Role.MINUTES, Role.EFFORT),
)


def read_file(path: Path, spec: Spec, file_name: str) -> Content:
    """Read a file by its mapping. Raises BadFile for what cannot be read at all."""
    layout = spec.layout or look_at(path).layout
    if layout.format is Format.GPX:
        return _read_track(path, spec)
    return _read_samples(path, layout, spec) if spec.kind is FileKind.SAMPLES else _read_rows(path, layout, spec)


def _read_track(path: Path, spec: Spec) -> Content:
    from uvren.files.gpx import read_gpx

    track = read_gpx(path)
    t = track.seconds + spec.offset_seconds
    parts = [
        Part("", RecordingKind.POSITION, {"t": t, "latitude": track.latitude, "longitude": track.longitude}),
        Part("", RecordingKind.HEART_RATE, {"t": t, "hr": track.heart_rate}),
    ]
    timed = ~np.isnan(t)
    problems = [] if timed.any() else [Problem(None, "time", "", "None of the points has a time.")]
    kept = [part for part in parts if _has_values(part)] if timed.any() else []
    return Content(kept, [], problems, t.size, int((~timed).sum()), [])


def _has_values(part: Part) -> bool:
    names = [name for name in part.columns if name not in ("t", "right")]
    return all(bool((~np.isnan(part.columns[name])).any()) for name in names)


def _wanted(spec: Spec) -> dict[str, Kind]:
    wanted: dict[str, Kind] = {}
    for column in spec.columns:
        if column.role in (Role.ATHLETE, Role.SIDE, Role.WORDS):
            wanted[column.name] = Kind.TEXT
        elif column.role in (Role.TIME, Role.DATE):
            wanted[column.name] = Kind.MOMENT
        elif column.role in _NUMBER_ROLES or ":" in column.role:
            wanted[column.name] = Kind.NUMBER
    time_column = spec.of(Role.TIME)
    if time_column and is_numeric(spec.writing) and not spec.of(Role.DATE):
        wanted[time_column.name] = Kind.NUMBER
    return wanted


def _scaled(values: Floats, role: Role, unit: str) -> Floats:
    scale = UNITS.get(role, {}).get(unit, 1.0)
    return values if scale == 1.0 else values * scale


def _seconds(spec: Spec, columns: Any, group: Ints, problems: list[Problem], notes: list[str]) -> Floats:
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
        seconds = _placed(spec, Moments(seconds, False), group, columns.row, problems, notes)
    else:
        _tell_empty(seconds, columns.row, time_column.name, problems)
    return seconds + spec.offset_seconds


def _placed(spec: Spec, local: Moments, group: Ints, row: Ints, problems: list[Problem], notes: list[str]) -> Floats:
    placed = to_utc(local.seconds, spec.tz, group)
    name = (spec.of(Role.TIME) or spec.of(Role.DATE) or spec.columns[0]).name
    _tell_empty(np.where(placed.absent, 0.0, placed.seconds), row, name, problems)
    for i in np.flatnonzero(placed.absent)[:MOST_LISTED].tolist():
        said = datetime.fromtimestamp(float(local.seconds[i]), UTC).strftime("%Y-%m-%d %H:%M:%S")
        problems.append(Problem(int(row[i]), name, said, NO_SUCH_TIME))
    if placed.repeated:
        notes.append("The clocks were set back during this file; the hour that came twice is told apart by the order.")
    return placed.seconds


def _tell_empty(seconds: Floats, row: Ints, name: str, problems: list[Problem]) -> None:
    for i in np.flatnonzero(np.isnan(seconds))[:MOST_LISTED].tolist():
        problems.append(Problem(int(row[i]), name, "", NO_TIME))


def _read_samples(path: Path, layout: Layout, spec: Spec) -> Content:
    columns = read_columns(path, layout, _wanted(spec))
    problems, notes = list(columns.problems), list[str]()
    names, group = _groups(spec, columns)
    seconds = _seconds(spec, columns, group, problems, notes)
    usable = ~np.isnan(seconds) & ~columns.bad
    values: dict[str, Floats] = {}
    for role, name in (
        (Role.HEART_RATE, "hr"), (Role.SPEED, "speed"), (Role.LATITUDE, "latitude"), (Role.LONGITUDE, "longitude"),
        (Role.X, "x"), (Role.Y, "y"), (Role.IMPACT, "g"),
    ):  # fmt: skip
        use = spec.of(role)
        if use is not None:
            values[name] = _scaled(columns.numbers[use.name], role, use.unit)
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


def _groups(spec: Spec, columns: Any) -> tuple[list[str], Ints]:
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


def _read_rows(path: Path, layout: Layout, spec: Spec) -> Content:
    columns = read_columns(path, layout, _wanted(spec))
    problems, notes = list(columns.problems), list[str]()
    count = int(columns.row.size)
    names, group = _groups(spec, columns)
    day, starts = _days(spec, columns, problems, notes)
    bad = columns.bad.copy()

    def number(role: Role, low: float, high: float, step: float | None, why: str) -> Floats:
        use = spec.of(role)
        if use is None:
            return np.full(count, np.nan)
        values = _scaled(columns.numbers[use.name], role, use.unit)
        wrong = ~np.isnan(values) & ((values < low) | (values > high) | (np.mod(values, step) != 0 if step else False))
        for i in np.flatnonzero(wrong)[:MOST_LISTED].tolist():
            problems.append(Problem(int(columns.row[i]), use.name, f"{columns.numbers[use.name][i]:g}", why))
        bad[wrong] = True
        return values

    minutes = number(Role.MINUTES, 0, MINUTES_MOST, None, f"Minutes are 0 to {MINUTES_MOST}.")
    effort = number(Role.EFFORT, 0, EFFORT_MOST, EFFORT_STEP, "Effort is 0 to 10, in half points.")
    loads = {code: columns.numbers[use.name] for code, use in spec.others("channel:")}
    for code, use in spec.others("channel:"):
        for i in np.flatnonzero(loads[code] < 0)[:MOST_LISTED].tolist():
            problems.append(Problem(int(columns.row[i]), use.name, f"{loads[code][i]:g}", "A load is 0 or more."))
        bad |= loads[code] < 0
    zones = [columns.numbers[use.name] for _, use in sorted(spec.others("zone:"))]
    words_use = spec.of(Role.WORDS)
    words = columns.texts[words_use.name].to_pylist() if words_use else [None] * count
    bad |= np.isnan(day)
    rows = []
    for i in np.flatnonzero(~bad).tolist():
        in_zones = [float(zone[i]) for zone in zones]
        rows.append(
            Row(
                row=int(columns.row[i]),
                said=names[int(group[i])],
                day=date.fromordinal(int(day[i])),
                starts=None if np.isnan(starts[i]) else datetime.fromtimestamp(float(starts[i]), UTC),
                minutes=_known(minutes[i]),
                effort=_known(effort[i]),
                words=words[i],
                loads={code: float(load[i]) for code, load in loads.items() if not np.isnan(load[i])},
                zones=in_zones if in_zones and not np.isnan(in_zones).any() else None,
            )
        )
    return Content([], rows, problems, count, int(bad.sum()), notes)


def _known(value: float) -> float | None:
    return None if np.isnan(value) else round(float(value), 6)


def _days(spec: Spec, columns: Any, problems: list[Problem], notes: list[str]) -> tuple[Floats, Floats]:
    """Local day (as an ordinal) and UTC seconds of the start of every row's session, nan where it is not said."""
    count = int(columns.row.size)
    nothing = np.full(count, np.nan)
    time_column, date_column = spec.of(Role.TIME), spec.of(Role.DATE)
    epoch = date(1970, 1, 1).toordinal()
    if time_column is None or (spec.writing is Writing.CLOCK and date_column is None and spec.day is None):
        if date_column is None:
            assert spec.day is not None
            return np.full(count, float(spec.day.toordinal())), nothing
        found = read_moments(columns.moments[date_column.name], spec.writing or Writing.YEAR_FIRST)
        _tell_empty(found.seconds, columns.row, date_column.name, problems)
        return np.floor(found.seconds / 86_400) + epoch, nothing
    seconds = _seconds(replace(spec, writing=spec.writing or Writing.YEAR_FIRST), columns,
                       np.zeros(count, dtype=np.int64), problems, notes)  # fmt: skip
    local = np.array(
        [
            np.nan if np.isnan(value) else datetime.fromtimestamp(value, spec.tz).date().toordinal()
            for value in seconds.tolist()
        ]
    )
    return local, seconds

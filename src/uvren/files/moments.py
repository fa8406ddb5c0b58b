"""Moments as files write them: any order of the date, clock times, seconds since something, local or zoned."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from enum import StrEnum
from itertools import pairwise
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from uvren.files.arrow import to_bools, to_numpy
from uvren.files.days import Order, read_days

Floats = np.ndarray[Any, np.dtype[np.float64]]
Bools = np.ndarray[Any, np.dtype[np.bool_]]
Ints = np.ndarray[Any, np.dtype[np.int64]]

BLOCK = 900
HOUR = 3600.0


class Writing(StrEnum):
    """How a column writes its moments."""

    YEAR_FIRST = "year_first"
    DAY_FIRST = "day_first"
    MONTH_FIRST = "month_first"
    CLOCK = "clock"
    SECONDS = "seconds"
    MILLISECONDS = "milliseconds"
    MINUTES = "minutes"
    UNIX_SECONDS = "unix_seconds"
    UNIX_MILLISECONDS = "unix_milliseconds"
    SHEET_DAYS = "sheet_days"
    NAMED = "named"
    COMPACT = "compact"
    SHORT_YEAR_FIRST = "short_year_first"


RELATIVE = frozenset({Writing.SECONDS, Writing.MILLISECONDS, Writing.MINUTES})
NUMERIC = RELATIVE | {Writing.UNIX_SECONDS, Writing.UNIX_MILLISECONDS, Writing.SHEET_DAYS}

_DATE = r"(?P<a>\d{1,4})[-./](?P<b>\d{1,2})[-./](?P<c>\d{1,4})"
_CLOCK = r"(?P<h>\d{1,2}):(?P<m>\d{2})(:(?P<s>\d{2}([.,]\d+)?))?( ?(?P<p>[AaPp])\.?[Mm]\.?)?"
_ZONE = r"( ?(?P<z>Z|[+-]\d{2}:?\d{2}))?"
_WHOLE = rf"^{_DATE}([T ,]+{_CLOCK})?{_ZONE}$"
_ONLY_CLOCK = rf"^{_CLOCK}$"
# Local times carry no zone until they are placed.
_EPOCH = datetime(1970, 1, 1)  # noqa: DTZ001


@dataclass(frozen=True)
class Moments:
    """Seconds since 1970 of each cell, nan where there is none that can be read.

    ``zoned`` says that they are in UTC already. Else they are local; a clock, or seconds since a start, count
    from the start of a day or of the recording.
    """

    seconds: Floats
    zoned: bool


def guess_writing(cells: Sequence[str]) -> Writing | None:
    """How these cells write moments, or None where they are no moments."""
    filled = [cell for cell in cells if cell]
    if not filled:
        return None
    if all(re.match(_ONLY_CLOCK, cell) for cell in filled):
        return Writing.CLOCK
    dates = [re.match(rf"^{_DATE}", cell) for cell in filled]
    if all(dates):
        firsts = [match["a"] for match in dates if match]
        if any(len(first) == 4 for first in firsts):
            return Writing.YEAR_FIRST
        second = [int(match["b"]) for match in dates if match]
        # Days come first in most places; only a second number above 12 says otherwise.
        return Writing.MONTH_FIRST if max(second) > 12 else Writing.DAY_FIRST
    try:
        numbers = [float(cell.replace(",", ".").removesuffix(" s")) for cell in filled]
    except ValueError:
        return None
    low = min(numbers)
    if low > 1e11:
        return Writing.UNIX_MILLISECONDS
    if low > 1e8:
        return Writing.UNIX_SECONDS
    if low > 30_000 and max(numbers) < 80_000 and any(number % 1 for number in numbers):
        return Writing.SHEET_DAYS
    steps = [b - a for a, b in pairwise(numbers) if b > a]
    if steps and sorted(steps)[len(steps) // 2] >= 20 and all(number % 1 == 0 for number in numbers):
        return Writing.MILLISECONDS
    return Writing.SECONDS


def read_moments(array: Any, writing: Writing, year: int | None = None) -> Moments:
    """A column of text, numbers or timestamps as seconds (shape (n,)).

    ``year`` is that of the first day, where days do not name theirs.
    """
    if pa.types.is_timestamp(array.type):
        combined = array.combine_chunks() if isinstance(array, pa.ChunkedArray) else array
        nulls = combined.null_count
        whole = pc.cast(combined, pa.timestamp("us", tz=array.type.tz)).cast(pa.int64())
        seconds = to_numpy(whole, 0) / 1e6
        if nulls:
            seconds[to_bools(pc.is_null(combined))] = np.nan
        return Moments(seconds, array.type.tz is not None)
    if writing in NUMERIC:
        return _read_numbers(array, writing)
    text = pc.cast(array, pa.string())
    if writing is Writing.CLOCK:
        return _read_clock(text)
    if writing in _AS_TYPED:
        return Moments(_read_typed(text, np.full(len(text), np.nan), writing, year), zoned=False)
    found = _read_dates(text, writing)
    return found if found.zoned else Moments(_read_typed(text, found.seconds, writing, year), zoned=False)


# Only people write days like these; devices do not.
_AS_TYPED = frozenset({Writing.NAMED, Writing.COMPACT, Writing.SHORT_YEAR_FIRST})


def _read_typed(text: Any, seconds: Floats, writing: Writing, year: int | None) -> Floats:
    """What is not read yet, as people type it: with a weekday before it, or without its year."""
    open_ = np.flatnonzero(np.isnan(seconds) & to_bools(pc.not_equal(pc.fill_null(text, ""), "")))
    if not open_.size:
        return seconds
    cells = [str(text[i].as_py()) for i in open_.tolist()]
    read = read_days(cells, Order(writing.value), year)
    seconds = seconds.copy()
    seconds[open_] = [np.nan if at is None else (at - _EPOCH).total_seconds() for at in read]
    return seconds


def _read_numbers(array: Any, writing: Writing) -> Moments:
    if pa.types.is_string(array.type):
        plain = pc.replace_substring_regex(pc.replace_substring(array, ",", "."), " s$", "")
        fits = pc.match_substring_regex(plain, r"^[+-]?\d+(\.\d*)?([eE][+-]?\d+)?$")
        array = pc.cast(pc.if_else(fits, plain, pa.scalar(None, pa.string())), pa.float64())
    values = to_numpy(pc.cast(array, pa.float64()), np.nan)
    values = np.where(np.isinf(values), np.nan, values)
    if writing is Writing.SHEET_DAYS:
        # Day 25 569 of a spreadsheet is 1 January 1970.
        return Moments(np.round((values - 25_569) * 86_400, 3), zoned=False)
    scale = {Writing.MILLISECONDS: 1e-3, Writing.UNIX_MILLISECONDS: 1e-3, Writing.MINUTES: 60.0}.get(writing, 1.0)
    return Moments(values * scale, zoned=writing in (Writing.UNIX_SECONDS, Writing.UNIX_MILLISECONDS))


def _part(parts: Any, name: str) -> Floats:
    field = pc.struct_field(parts, name)
    filled = pc.if_else(pc.equal(field, ""), pa.scalar(None, pa.string()), pc.replace_substring(field, ",", "."))
    return to_numpy(pc.cast(filled, pa.float64()), np.nan)


def _clock_seconds(parts: Any) -> Floats:
    hours, minutes, seconds = _part(parts, "h"), _part(parts, "m"), np.nan_to_num(_part(parts, "s"))
    half = pc.utf8_lower(pc.struct_field(parts, "p"))
    after_noon, before_noon = (to_bools(pc.equal(half, letter)) for letter in "pa")
    hours = np.where(after_noon & (hours < 12), hours + 12, np.where(before_noon & (hours == 12), 0, hours))
    sane = (hours <= 24) & (minutes < 60) & (seconds < 61)
    return np.where(sane, hours * HOUR + minutes * 60 + seconds, np.nan)


def _read_clock(text: Any) -> Moments:
    return Moments(_clock_seconds(pc.extract_regex(text, _named(_ONLY_CLOCK))), zoned=False)


def _named(pattern: str) -> str:
    # The engine of the columnar reader wants every group to have a name.
    return re.sub(r"\((?!\?)", "(?:", pattern)


def _read_dates(text: Any, writing: Writing) -> Moments:
    parts = pc.extract_regex(text, _named(_WHOLE))
    a, b, c = (_part(parts, name) for name in "abc")
    orders = {
        Writing.YEAR_FIRST: (a, b, c),
        Writing.DAY_FIRST: (c, b, a),
        Writing.MONTH_FIRST: (c, a, b),
    }
    year, month, day = orders[writing]
    year = np.where(year < 100, year + 2000, year)
    sane = (month >= 1) & (month <= 12) & (day >= 1) & (day <= 31) & (year >= 1970) & (year < 2200)
    y, m, d = (np.where(sane, part, 1).astype(np.int64) for part in (year, month, day))
    months = (np.where(sane, y, 1970) - 1970) * 12 + m - 1
    days = months.astype("datetime64[M]").astype("datetime64[D]") + (d - 1)
    # The 31st of a short month runs over into the next one.
    sane &= days.astype("datetime64[M]").astype(np.int64) == months
    there = to_bools(pc.not_equal(pc.struct_field(parts, "h"), ""))
    clock = np.where(there, _clock_seconds(parts), 0.0)
    seconds = np.where(sane, days.astype(np.int64) * 86_400.0 + clock, np.nan)
    zone = pc.struct_field(parts, "z")
    zoned = pc.fill_null(pc.not_equal(zone, ""), False)
    if not pc.any(zoned, min_count=0).as_py():
        return Moments(seconds, zoned=False)
    shift = pc.if_else(pc.equal(zone, "Z"), "+00:00", zone)
    sign = np.where(to_bools(pc.starts_with(shift, "-")), -1.0, 1.0)
    digits = pc.replace_substring(pc.utf8_slice_codeunits(shift, 1), ":", "")
    number = pc.cast(pc.if_else(zoned, digits, pa.scalar(None, pa.string())), pa.float64())
    hhmm = to_numpy(number, np.nan)
    offset = sign * (np.floor(hhmm / 100) * HOUR + hhmm % 100 * 60)
    # In a column with zones a cell without one cannot be placed.
    return Moments(seconds - offset, zoned=True)


@dataclass(frozen=True)
class Placed:
    """UTC seconds (nan: none), where local times do not exist, and whether a repeated hour had to be told apart."""

    seconds: Floats
    absent: Bools
    repeated: bool


def to_utc(local: Floats, zone: ZoneInfo, group: Ints | None = None) -> Placed:
    """Local seconds (shape (n,), in the order of the file) as UTC.

    An hour that the clocks go through twice is told apart by the order: after a step back in a group it is the second
    time, and so it is for a group that begins in that hour and runs on past it. Times that the clocks leave out do not
    exist: nan, and in ``absent``.
    """
    nothing = np.zeros(local.shape, dtype=bool)
    known = ~np.isnan(local)
    if not known.any():
        return Placed(local, nothing, repeated=False)
    block = np.floor(np.where(known, local, 0) / BLOCK).astype(np.int64)
    lowest, highest = int(block[known].min()), int(block[known].max())
    if highest - lowest < 400 * 86_400 // BLOCK:
        # Transitions are rare: within a stretch without one every moment has the same offset.
        span = range(lowest, highest + 1)
        table = np.array([_offsets(zone, each) for each in span])
        where = np.where(known, block - lowest, 0)
        first, second = table[where, 0], table[where, 1]
    else:
        unique, inverse = np.unique(block, return_inverse=True)
        table = np.array([_offsets(zone, int(each)) for each in unique])
        first, second = table[inverse, 0], table[inverse, 1]
    absent = known & np.isnan(first)
    twice = known & (first != second) & ~absent
    utc = local - first
    if twice.any():
        later = _second_time(local, twice, np.zeros(local.shape, dtype=np.int64) if group is None else group)
        utc = np.where(twice & later, local - second, utc)
    return Placed(utc, absent, repeated=bool(twice.any()))


def _offsets(zone: ZoneInfo, block: int) -> tuple[float, float]:
    """Offsets from UTC of a quarter of an hour of local time, first and second time round; nan where it is left out."""
    local = _EPOCH + timedelta(seconds=block * BLOCK)
    offsets = []
    for fold in (0, 1):
        offset = local.replace(tzinfo=zone, fold=fold).utcoffset() or timedelta()
        offsets.append(offset)
    if offsets[0] < offsets[1]:
        # Both offsets lead to another local time: the clocks went past this one.
        back = ((local - offsets[0]).replace(tzinfo=UTC)).astimezone(zone).replace(tzinfo=None)
        if back != local:
            return float("nan"), float("nan")
    return offsets[0].total_seconds(), offsets[1].total_seconds()


def _second_time(local: Floats, twice: Bools, group: Ints) -> Bools:
    later = np.zeros(local.shape, dtype=bool)
    for code in np.unique(group[twice]):
        rows = np.flatnonzero(group == code)
        times, inside = local[rows], twice[rows]
        steps = np.flatnonzero(np.diff(times) < -HOUR / 2)
        back = [int(i) + 1 for i in steps if inside[i] and inside[i + 1]]
        if back:
            flags = np.arange(rows.size) >= back[0]
        else:
            before = bool((~inside & (times < times[inside].min())).any())
            after = bool((~inside & (times > times[inside].max())).any())
            flags = np.full(rows.size, after and not before)
        later[rows] = flags
    return later

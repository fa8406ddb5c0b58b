"""Days as people write them, and the readings that a column of them is open to.

A day is written with numbers (12.03.2026, 3/12/26, 2026-03-12, 20260312), with the name of its month (12 March), as
the number of days that a spreadsheet counts (46093), with or without its year, its weekday before it, a time after it.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from enum import StrEnum

MONTHS = {
    name[:n]: i
    for i, name in enumerate(
        ("january", "february", "march", "april", "may", "june", "july", "august", "september", "october", "november",
         "december"), 1,
    )
    for n in (3, 4, len(name))
}  # fmt: skip
WEEKDAYS = {
    name[:n]: i
    for i, name in enumerate(("monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"))
    for n in (2, 3, 4, 5, len(name))
}
# Day 25 569 of a spreadsheet is 1 January 1970.
SHEET_EPOCH = date(1970, 1, 1) - timedelta(days=25_569)
# Sessions that are brought in lie no further back than a career is long, and a list of matches no further ahead.
YEARS_BACK, DAYS_AHEAD = 15, 550

_WEEKDAY = re.compile(rf"^(?P<day>{'|'.join(sorted(WEEKDAYS, key=len, reverse=True))})\b[.,]?\s*", re.IGNORECASE)
_CLOCK = re.compile(r"[T ,]+(?P<h>\d{1,2}):(?P<m>\d{2})(:\d{2}([.,]\d+)?)?( ?(?P<p>[ap])\.?m\.?)?$", re.IGNORECASE)
_NUMBERS = re.compile(r"^(?P<a>\d{1,4})(?P<s>[-./])(?P<b>\d{1,2})(?P=s)(?P<c>\d{2}|\d{4})$")
# 1.5 is a number; 01.05, 1.5. and 1/5 are days.
_YEARLESS = re.compile(r"^(?P<a>\d{1,2})(?P<s>[/-]|\.(?=\d{1,2}\.$)|(?<=\d\d)\.(?=\d\d$))(?P<b>\d{1,2})\.?$")
_MONTH_LAST = re.compile(r"^(?P<d>\d{1,2})(st|nd|rd|th|\.)?[ -]*(?P<m>[a-z]{3,9})\.?([ ,-]+(?P<y>\d{4}|\d{2}))?$", re.I)
_MONTH_FIRST = re.compile(r"^(?P<m>[a-z]{3,9})\.?[ -]*(?P<d>\d{1,2})(st|nd|rd|th)?(,? *(?P<y>\d{4}))?$", re.I)
_COMPACT = re.compile(r"^(?P<y>(19|20)\d{2})(?P<m>\d{2})(?P<d>\d{2})$")
_SERIAL = re.compile(r"^(?P<n>[3-7]\d{4})([.,]0+)?$")


class Order(StrEnum):
    """How a day is written."""

    YEAR_FIRST = "year_first"
    DAY_FIRST = "day_first"
    MONTH_FIRST = "month_first"
    SHORT_YEAR_FIRST = "short_year_first"
    NAMED = "named"
    COMPACT = "compact"
    SERIAL = "sheet_days"


@dataclass(frozen=True)
class Reading:
    """One way to read a cell as a day; ``year`` is None where the cell does not say it."""

    order: Order
    year: int | None
    month: int
    day: int

    def on(self, year: int | None = None) -> date | None:
        """The day, in ``year`` where the cell does not say one; None where there is no such day."""
        try:
            return date(self.year or year or 0, self.month, self.day)
        except ValueError:
            return None


@dataclass(frozen=True)
class DayCell:
    """The readings of a cell, the time after the day as seconds from midnight, and the weekday before it."""

    readings: tuple[Reading, ...]
    seconds: float | None
    weekday: int | None


def parse(text: str) -> DayCell | None:
    """Every way in which a cell can be read as a day, or None for what is no day."""
    said, weekday = text.strip(), None
    if (found := _WEEKDAY.match(said)) and found.end() < len(said):
        weekday, said = WEEKDAYS[found["day"].lower()], said[found.end() :]
    seconds = None
    if clock := _CLOCK.search(said):
        seconds = _seconds(clock)
        if seconds is None:
            return None
        said = said[: clock.start()].strip()
    readings = tuple(one for one in _readings(said) if _exists(one))
    return DayCell(readings, seconds, weekday) if readings else None


def _seconds(clock: re.Match[str]) -> float | None:
    hours, minutes = int(clock["h"]), int(clock["m"])
    half = (clock["p"] or "").lower()
    hours += 12 if half == "p" and hours < 12 else -12 if half == "a" and hours == 12 else 0
    return hours * 3600.0 + minutes * 60 if hours < 24 and minutes < 60 else None


def _exists(one: Reading) -> bool:
    # A leap year, so that 29 February without a year is a day.
    return one.on(2024) is not None


def _year(said: str) -> int:
    return int(said) + (2000 if len(said) < 3 else 0)


def _readings(said: str) -> Iterable[Reading]:
    if found := _NUMBERS.match(said):
        a, b, c = found["a"], found["b"], found["c"]
        if len(a) == 4:
            yield Reading(Order.YEAR_FIRST, int(a), int(b), int(c))
        elif len(a) < 3:
            yield Reading(Order.DAY_FIRST, _year(c), int(b), int(a))
            # Between points the day comes first wherever points are used, as long as it can be one.
            if found["s"] != "." or int(b) > 12:
                yield Reading(Order.MONTH_FIRST, _year(c), int(a), int(b))
            if len(a) == 2 and len(c) == 2 and found["s"] == "-":
                yield Reading(Order.SHORT_YEAR_FIRST, _year(a), int(b), int(c))
    elif found := _YEARLESS.match(said):
        yield Reading(Order.DAY_FIRST, None, int(found["b"]), int(found["a"]))
        if found["s"] != ".":
            yield Reading(Order.MONTH_FIRST, None, int(found["a"]), int(found["b"]))
    elif found := _COMPACT.match(said):
        yield Reading(Order.COMPACT, int(found["y"]), int(found["m"]), int(found["d"]))
    elif found := _SERIAL.match(said):
        on = SHEET_EPOCH + timedelta(days=int(found["n"]))
        yield Reading(Order.SERIAL, on.year, on.month, on.day)
    elif found := _MONTH_LAST.match(said) or _MONTH_FIRST.match(said):
        month = MONTHS.get(found["m"].lower())
        if month is not None:
            yield Reading(Order.NAMED, _year(found["y"]) if found["y"] else None, month, int(found["d"]))


def is_day(text: str) -> bool:
    """Whether a cell is written as a day; bare numbers, which can be anything, are none."""
    cell = parse(text) if len(text) < 40 and any(letter.isdigit() for letter in text) else None
    return cell is not None and cell.readings[0].order not in (Order.SERIAL, Order.COMPACT)


def life(today: date) -> tuple[date, date]:
    """Between which days what a club brings in can lie."""
    return today.replace(year=today.year - YEARS_BACK, day=1), today + timedelta(days=DAYS_AHEAD)


@dataclass(frozen=True)
class Readable:
    """How a column of days can be read.

    ``orders`` are the readings that are open, the likelier first; one alone is settled. ``yearless`` says that no cell
    names its year; ``years`` are those in which its first day can lie.
    """

    orders: tuple[Order, ...]
    yearless: bool
    years: tuple[int, ...] = ()


def how_written(cells: Sequence[str], today: date, *, past: bool = True) -> Readable | None:
    """The readings that most of the filled cells share; None for a column that holds no days.

    What only one reading can be (no 13th month, no day still to come where ``past``, a weekday that must agree) settles
    the others.
    """
    filled = [cell for cell in dict.fromkeys(cells) if cell]
    parsed = [cell for cell in map(parse, filled) if cell is not None]
    if not parsed or len(parsed) < 0.6 * len(filled):
        return None
    first, last = life(today)
    last = today + timedelta(days=1) if past else last
    by_order = {order: _days_of(parsed, order) for order in Order}
    most = max(len(days) for days in by_order.values())
    # A cell or two written in another way is that cell's trouble; an order which few cells fit is no reading.
    full = [order for order in Order if len(by_order[order]) >= max(0.8 * most, 1)]
    best = [order for order in full if len(by_order[order]) == most]
    agree = [order for order in full if not _against_weekdays(parsed, order)] or best
    fits = [order for order in agree if all(one.year is None or first <= (one.on() or first) <= last
                                            for one in by_order[order])]  # fmt: skip
    orders = [order for order in fits if order in best] or fits or [order for order in best if order in agree] or best
    yearless = all(one.year is None for one in by_order[orders[0]])
    years = _years(by_order[orders[0]], today, past=past) if yearless else ()
    return Readable(tuple(orders), yearless, years)


def _days_of(parsed: Sequence[DayCell], order: Order) -> list[Reading]:
    return [one for cell in parsed for one in cell.readings if one.order is order]


def _against_weekdays(parsed: Sequence[DayCell], order: Order) -> bool:
    told = [(cell.weekday, one.on()) for cell in parsed if cell.weekday is not None
            for one in cell.readings if one.order is order and one.year is not None]  # fmt: skip
    return sum(on is not None and on.weekday() != weekday for weekday, on in told) > 0.5 * len(told)


def _years(readings: Sequence[Reading], today: date, *, past: bool) -> tuple[int, ...]:
    """Years for the first of days that name none, the latest first, with no day still to come where ``past``."""
    years = []
    for year in range(today.year + (0 if past else 1), today.year - 6, -1):
        days = placed(readings, year)
        known = [day for day in days if day is not None]
        if known and (not past or max(known) <= today):
            years.append(year)
    return tuple(years)


def placed(readings: Sequence[Reading], year: int) -> list[date | None]:
    """Days that name no year, the first in ``year``; where months step back by half a year, a year has gone by."""
    out: list[date | None] = []
    before: int | None = None
    for one in readings:
        if one.year is None and before is not None and before - one.month > 6:
            year += 1
        elif one.year is None and before is not None and one.month - before > 6:
            year -= 1
        before = one.month
        out.append(one.on(year))
    return out


def read_days(cells: Sequence[str], order: Order, year: int | None = None) -> list[datetime | None]:
    """Each cell as a local moment (midnight where no time is said), None for what is not written in this order."""
    parsed = [parse(cell) if cell else None for cell in cells]
    chosen = [None if cell is None else next((one for one in cell.readings if one.order is order), None)
              for cell in parsed]  # fmt: skip
    yearless = [one for one in chosen if one is not None and one.year is None]
    days = iter(placed(yearless, year) if year is not None else [None] * len(yearless))
    out: list[datetime | None] = []
    for cell, one in zip(parsed, chosen, strict=True):
        on = None if one is None else one.on() if one.year is not None else next(days)
        if on is None or cell is None:
            out.append(None)
        else:
            out.append(datetime(on.year, on.month, on.day) + timedelta(seconds=cell.seconds or 0.0))  # noqa: DTZ001
    return out

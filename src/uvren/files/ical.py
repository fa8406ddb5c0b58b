"""Calendars (iCalendar): every event of them within some years, recurrences one by one, at the time of its own zone."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from pathlib import Path
from typing import Any
from zoneinfo import ZoneInfo

from dateutil.rrule import rrulestr
from icalendar import Calendar

from uvren.files.days import life
from uvren.files.errors import BadFile, Problem
from uvren.files.safety import megabytes

COLUMNS = ("Summary", "Starts", "Minutes", "Location", "Status", "UID")
MOST_ICAL_BYTES, MOST_EVENTS = 16 * 1024 * 1024, 10_000
# A series may have begun long before what is taken of it; one that steps by the second is no series of sessions.
MOST_STEPS = 100_000
# An event of a whole day begins when most matches do.
USUAL_HOUR, USUAL_MINUTES, MOST_MINUTES = 15, 90.0, 600.0


@dataclass(frozen=True)
class CalendarEvent:
    """An event on its day. ``uid`` is that of its entry, with the original start where it is one of a series."""

    uid: str
    title: str
    starts_at: datetime
    minutes: float
    place: str
    whole_day: bool
    cancelled: bool


@dataclass(frozen=True)
class Events:
    """What a calendar holds, in order of time; what of it cannot be read, and what it is called."""

    events: list[CalendarEvent]
    problems: list[Problem]
    name: str
    far: int


def read_calendar(path: Path, zone: ZoneInfo, today: date) -> Events:
    """Raises BadFile for what is no calendar, or more than one can hold. Times without a zone are of ``zone``."""
    if path.stat().st_size > MOST_ICAL_BYTES:
        raise BadFile(f"A calendar of more than {megabytes(MOST_ICAL_BYTES)} is not read.")
    try:
        calendar: Any = Calendar.from_ical(path.read_bytes())
    except (ValueError, IndexError, KeyError) as error:
        raise BadFile("The calendar is cut off or damaged: it does not follow iCalendar.") from error
    named = str(calendar.get("X-WR-TIMEZONE") or "")
    zone = _zone(named) or zone
    changed = {(str(one.get("UID")), _moment(one, "RECURRENCE-ID", zone)) for one in calendar.walk("VEVENT")
               if one.get("RECURRENCE-ID") is not None}  # fmt: skip
    first, last = life(today)
    span = datetime.combine(first, time(0), UTC), datetime.combine(last, time(0), UTC)
    found: list[CalendarEvent] = []
    problems: list[Problem] = []
    far = 0
    for i, event in enumerate(calendar.walk("VEVENT"), 1):
        try:
            for one, original in _each(event, zone, span):
                if (str(event.get("UID")), original) in changed and event.get("RECURRENCE-ID") is None:
                    continue
                if not span[0] <= one.starts_at <= span[1]:
                    far += 1
                    continue
                found.append(one)
                if len(found) > MOST_EVENTS:
                    raise BadFile(f"The calendar holds more than {MOST_EVENTS:,} events. Take out the years you need.")
        except BadFile:
            raise
        except (ValueError, TypeError, AttributeError, OverflowError) as error:
            said = str(event.get("SUMMARY") or "")[:80]
            problems.append(Problem(i, "", said, f"This event cannot be read: {error}."))
    found.sort(key=lambda one: (one.starts_at, one.uid))
    return Events(found, problems, str(calendar.get("X-WR-CALNAME") or ""), far)


def _zone(name: str) -> ZoneInfo | None:
    try:
        return ZoneInfo(name) if name else None
    except (KeyError, ValueError, OSError):
        return None


def _local(value: date | datetime, zone: ZoneInfo) -> datetime:
    """A moment at the clock of its own zone; whole days at the usual hour."""
    if not isinstance(value, datetime):
        return datetime.combine(value, time(USUAL_HOUR), zone)
    return value if value.tzinfo else value.replace(tzinfo=zone)


def _moment(event: Any, name: str, zone: ZoneInfo) -> datetime | None:
    value = event.get(name)
    return None if value is None else _local(value.dt, zone).astimezone(UTC)


def _each(
    event: Any, zone: ZoneInfo, span: tuple[datetime, datetime]
) -> Iterator[tuple[CalendarEvent, datetime | None]]:
    """The event, or each of its series, with its original start in UTC where it is one of a series."""
    if event.get("DTSTART") is None:
        raise ValueError("it has no start")
    start = event["DTSTART"].dt
    local = _local(start, zone)
    minutes = _minutes(event, local, zone)
    series = event.get("RRULE") is not None or event.get("RDATE") is not None
    for at in _starts(event, local, span) if series else [local]:
        original = at.astimezone(UTC) if series else _moment(event, "RECURRENCE-ID", zone)
        uid = str(event.get("UID") or event.get("SUMMARY") or "")
        yield CalendarEvent(
            (uid if original is None else f"{uid[:160]}/{original:%Y%m%dT%H%M%SZ}")[:200],
            " ".join(str(event.get("SUMMARY") or "").split())[:120] or "Event",
            at.astimezone(UTC), minutes, " ".join(str(event.get("LOCATION") or "").split())[:60],
            not isinstance(start, datetime), str(event.get("STATUS") or "").upper() == "CANCELLED",
        ), original  # fmt: skip


def _minutes(event: Any, local: datetime, zone: ZoneInfo) -> float:
    length: timedelta | None = None
    if event.get("DTEND") is not None and isinstance(event["DTEND"].dt, datetime):
        length = _local(event["DTEND"].dt, zone) - local
    elif event.get("DURATION") is not None:
        length = event["DURATION"].dt
    if length is None or length <= timedelta() or length >= timedelta(days=1):
        return USUAL_MINUTES
    return min(length.total_seconds() / 60, MOST_MINUTES)


def _starts(event: Any, local: datetime, span: tuple[datetime, datetime]) -> Iterator[datetime]:
    """Starts of a series at the same time of its zone's clock, through the nights that change it."""
    zone, naive = local.tzinfo, local.replace(tzinfo=None)
    without = {moment for value in _several(event, "EXDATE") for moment in [_naive(value, local)]}
    starts: set[datetime] = {_naive(value, local) for value in _several(event, "RDATE")}
    if event.get("RRULE") is not None:
        rule = event["RRULE"]
        rules = rule if isinstance(rule, list) else [rule]
        before, after = (edge.astimezone(zone).replace(tzinfo=None) for edge in span)
        for one in rules:
            series = rrulestr(_text(one, zone), dtstart=naive)
            for count, at in enumerate(series):
                if at > after:
                    break
                if count > MOST_STEPS or len(starts) > MOST_EVENTS:
                    raise BadFile(f"A series of more than {MOST_EVENTS:,} events is not read.")
                if at >= before:
                    starts.add(at)
    else:
        starts.add(naive)
    for at in sorted(starts - without):
        yield at.replace(tzinfo=zone)


def _several(event: Any, name: str) -> list[Any]:
    value = event.get(name)
    if value is None:
        return []
    return [one.dt for many in (value if isinstance(value, list) else [value]) for one in many.dts]


def _naive(value: date | datetime, local: datetime) -> datetime:
    if not isinstance(value, datetime):
        return datetime.combine(value, local.time())
    return (value.astimezone(local.tzinfo) if value.tzinfo else value).replace(tzinfo=None)


def _text(rule: Any, zone: Any) -> str:
    """The rule as text, its end at the clock of the series: a rule without zones counts in one clock."""
    rule = dict(rule)
    until = rule.get("UNTIL")
    if until:
        value = until[0] if isinstance(until, list) else until
        if isinstance(value, datetime):
            ends = (value.astimezone(zone) if value.tzinfo else value).replace(tzinfo=None)
        else:
            ends = datetime.combine(value, time(23, 59, 59))
        rule["UNTIL"] = [ends]
    parts = []
    for name, values in rule.items():
        said = [f"{one:%Y%m%dT%H%M%S}" if isinstance(one, datetime) else str(one) for one in
                (values if isinstance(values, list) else [values])]  # fmt: skip
        parts.append(f"{name}={','.join(said)}")
    return ";".join(parts)

"""Two seasons of sessions for each squad, as a coach would plan them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np

from uvren.core.season import Phase, PhaseKind
from uvren.services.session.planning import NewSegment, NewSession
from uvren.store.models import SessionKind, Venue

TIME_ZONE = "Europe/Oslo"
TODAY = date(2026, 3, 12)
NOW = datetime(2026, 3, 12, 8, 10, tzinfo=ZoneInfo(TIME_ZONE))
FIRST = date(2024, 8, 5)
LAST = date(2026, 4, 26)

_OPPONENTS = (
    *("Ivelund", "Brakwen", "Quellby", "Ostmar", "Sundrell", "Hagvik"),
    *("Melstrand", "Turvall", "Eskerby", "Lindhav", "Norrvang", "Fellsund"),
)
_COURT_PARTS = (("Warm-up", 0.2, 1.0), ("Throwing and finishing", 0.3, 2.0), ("Open play", 0.5, 3.0))


PREPARATION, COMPETITION, TRANSITION = PhaseKind
HANDBALL_PHASES = (
    Phase(PREPARATION, "Preparation 2024", FIRST, date(2024, 8, 31)),
    Phase(COMPETITION, "League 2024/25", date(2024, 9, 1), date(2025, 6, 7)),
    Phase(TRANSITION, "Summer 2025", date(2025, 6, 8), date(2025, 7, 26)),
    Phase(PREPARATION, "Preparation 2025", date(2025, 7, 27), date(2025, 8, 31)),
    Phase(COMPETITION, "League 2025/26", date(2025, 9, 1), date(2026, 6, 7)),
    Phase(TRANSITION, "Summer 2026", date(2026, 6, 8), date(2026, 7, 19)),
)
SKI_PHASES = (
    Phase(PREPARATION, "Roller skis 2024", FIRST, date(2024, 11, 30)),
    Phase(COMPETITION, "Races 2024/25", date(2024, 12, 1), date(2025, 4, 6)),
    Phase(TRANSITION, "Spring 2025", date(2025, 4, 7), date(2025, 5, 4)),
    Phase(PREPARATION, "Roller skis 2025", date(2025, 5, 5), date(2025, 11, 30)),
    Phase(COMPETITION, "Races 2025/26", date(2025, 12, 1), date(2026, 4, 5)),
    Phase(TRANSITION, "Spring 2026", date(2026, 4, 6), date(2026, 5, 3)),
)


@dataclass(frozen=True)
class Slot:
    """A place in a week: weekday (0 is Monday), start, kind, title, minutes, effort."""

    weekday: int
    start: time
    kind: SessionKind
    title: str
    minutes: float
    effort: float
    place: str | None = None


def _court(weekday: int, title: str, minutes: float, effort: float) -> Slot:
    return Slot(weekday, time(18, 0), SessionKind.COURT, title, minutes, effort)


def _gym(weekday: int, minutes: float, effort: float) -> Slot:
    return Slot(weekday, time(16, 30), SessionKind.GYM, "Strength", minutes, effort)


def _match(weekday: int) -> Slot:
    start = time(18, 30) if weekday == 5 else time(19, 0)
    return Slot(weekday, start, SessionKind.MATCH, "Match", 60, 8)


PRESEASON = (
    _gym(0, 60, 5.5),
    _court(0, "Court", 80, 5.5),
    _court(1, "Court", 90, 6),
    Slot(2, time(17, 30), SessionKind.RUN, "Running", 45, 6.5),
    _gym(3, 60, 5.5),
    _court(3, "Court", 80, 5.5),
    _court(4, "Court", 75, 5),
    Slot(5, time(10, 0), SessionKind.RUN, "Running", 50, 6),
)
ONE_MATCH = (
    _gym(0, 45, 5),
    _court(0, "Court", 60, 4.5),
    _court(1, "Court", 80, 6),
    _court(2, "Court", 75, 5.5),
    _gym(3, 40, 5),
    _court(3, "Court", 65, 5),
    _court(4, "Court", 50, 4),
    _match(5),
)
TWO_MATCHES = (
    _gym(0, 40, 5),
    _court(0, "Court", 60, 5),
    _match(1),
    _court(2, "Court", 70, 4.5),
    _gym(3, 45, 5),
    _court(3, "Court", 80, 6),
    _court(4, "Court", 50, 4),
    _match(5),
)
SUMMER = (
    _gym(0, 45, 4.5),
    Slot(2, time(17, 30), SessionKind.RUN, "Running", 40, 5),
    _gym(4, 45, 4.5),
)
FREE: tuple[Slot, ...] = ()


def _handball_week(monday: date, random: np.random.Generator) -> tuple[tuple[Slot, ...], float]:
    """The week's slots and a factor on their minutes."""
    if (monday.month == 12 and monday.day >= 22) or (monday.month == 6 and monday.day >= 8):
        return FREE, 1.0
    if monday.month in (6, 7) and monday < date(monday.year, 7, 27):
        return SUMMER, 1.0
    if monday < date(monday.year, 9, 1) and monday.month >= 7:
        return PRESEASON, 1.0
    week_number = (monday - FIRST).days // 7
    factor = 0.75 if week_number % 6 == 0 else float(random.uniform(0.97, 1.03))
    if monday == date(2026, 3, 9):
        return ONE_MATCH, 1.0
    if week_number % 6 == 0:
        return ONE_MATCH, factor
    return (TWO_MATCHES if random.random() < 0.6 else ONE_MATCH), factor


def handball(random: np.random.Generator) -> list[NewSession]:
    """Sessions of the handball squad from the first day through the last planned one."""
    return list(_sessions(_handball_week, random))


def _ski_week(monday: date, random: np.random.Generator) -> tuple[tuple[Slot, ...], float]:
    snow = monday.month >= 11 or monday.month <= 4
    kind = SessionKind.SKI
    name, place = ("Skiing", "Snow") if snow else ("Roller skis", "Roller skis")
    hard = 7.0 if monday.month >= 9 or monday.month <= 3 else 6.0
    week_number = (monday - FIRST).days // 7
    factor = (0.9, 1.0, 1.1, 0.65)[week_number % 4]
    if monday.month == 4 and monday.day > 7:
        factor *= 0.6
    slots = [
        Slot(0, time(17, 0), kind, f"{name}, easy", 90, 3, place),
        Slot(1, time(16, 30), kind, f"{name}, intervals", 75, hard, place),
        Slot(2, time(17, 0), SessionKind.RUN, "Running, easy", 60, 3, "Trail"),
        Slot(3, time(16, 30), SessionKind.GYM, "Strength", 50, 5),
        Slot(3, time(18, 0), kind, f"{name}, easy", 60, 3, place),
        Slot(5, time(10, 0), kind, f"{name}, threshold", 90, 6, place),
        Slot(6, time(10, 0), kind, f"{name}, long", 150, 3.5, place),
    ]
    if snow and monday.month in (12, 1, 2, 3) and week_number % 2 == 0:
        slots[5] = Slot(5, time(11, 0), SessionKind.MATCH, "Race", 40, 9, place)
    return tuple(slots), factor


def ski(random: np.random.Generator) -> list[NewSession]:
    """Sessions of the ski squad: roller skis and running in summer, snow in winter, races every other week."""
    return list(_sessions(_ski_week, random))


WeekPlan = Callable[[date, np.random.Generator], tuple[tuple[Slot, ...], float]]


def _sessions(week_of: WeekPlan, random: np.random.Generator) -> Iterator[NewSession]:
    zone = ZoneInfo(TIME_ZONE)
    monday = FIRST
    home = True
    while monday <= LAST:
        slots, factor = week_of(monday, random)
        for slot in slots:
            day = monday + timedelta(days=slot.weekday)
            match = slot.kind is SessionKind.MATCH
            minutes = slot.minutes if match else float(round(slot.minutes * factor / 5) * 5)
            opponent = venue = None
            if match and slot.title == "Match":
                opponent = str(random.choice(_OPPONENTS))
                venue, home = (Venue.HOME if home else Venue.AWAY), not home
            parts = _COURT_PARTS if slot.kind is SessionKind.COURT else ()
            yield NewSession(
                starts_at=datetime.combine(day, slot.start, zone),
                kind=slot.kind,
                title=slot.title,
                planned_minutes=minutes,
                planned_effort=slot.effort,
                opponent=opponent,
                venue=venue,
                place=slot.place,
                segments=tuple(NewSegment(name, round(minutes * part), weight) for name, part, weight in parts),
            )
        monday += timedelta(days=7)

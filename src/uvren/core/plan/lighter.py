"""A lighter week: each planned line of work made less, with what is kept of it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from uvren.core.errors import BadPlan

# Sums of decimal fractions are not exact: what is this close to a step stands on it.
NEAR = 1e-9
# At a share of the maximum: no more sets, and no more repetitions in one, each moved fast.
FAST_SETS = FAST_REPS = 3
MINUTES_STEP = 5.0
# What a freed day may hold, and how many days with work there are before one is freed.
RESTORE_MINUTES, RESTORE_EFFORT, LEAST_DAYS = 20.0, 2.0, 3


class School(StrEnum):
    """What is cut: sets, repetitions and kilograms, or everything to a low share of the maximum, moved fast."""

    CUT = "cut"
    SHARE = "share"


@dataclass(frozen=True)
class Settings:
    """How much is cut. Shares are 0 to 1; ``kg`` is what is taken off compound lifts, ``kg_step`` what bars go by."""

    school: School = School.CUT
    sets: float = 0.5
    reserve: float = 2
    reps: int = 2
    kg: float = 1 / 3
    kg_step: float = 2.5
    share: float = 0.5
    minutes: float = 0.6
    effort_cap: float = 6

    def __post_init__(self) -> None:
        for name in ("sets", "kg", "share", "minutes"):
            if not 0 <= getattr(self, name) <= 1:
                raise BadPlan(f"{name} is a share from 0 to 1", field=name)
        if self.kg_step <= 0:
            raise BadPlan("a step of kilograms is above 0", field="kg_step")


@dataclass(frozen=True)
class Lift:
    """Sets of a lift. ``kg``, ``reserve`` (repetitions left) and ``max`` (kg) are None where nobody knows."""

    name: str
    sets: int
    reps: int
    kg: float | None = None
    reserve: float | None = None
    compound: bool = False
    max: float | None = None

    @property
    def tonnage(self) -> float:
        return self.sets * self.reps * (self.kg or 0.0)


@dataclass(frozen=True)
class Sport:
    """Minutes of sport or conditioning at an effort of 0 to 10."""

    name: str
    minutes: float
    effort: float

    @property
    def load(self) -> float:
        return self.minutes * self.effort


Line = Lift | Sport
# Heavy lifts over several joints, by the words that name them; of these kilograms are taken off first.
_COMPOUND = ("squat", "dead", "press", "row", "pull", "clean", "snatch", "jerk", "lunge", "chin", "dip", "thrust")


def is_compound(name: str) -> bool:
    """Whether a lift is one over several joints, going by its name."""
    return any(word in name.lower() for word in _COMPOUND)


@dataclass(frozen=True)
class Lighter:
    """Lines after the cut, in their order; kg moved and effort × minutes of all of them, before and after."""

    lines: tuple[Line, ...]
    tonnage: tuple[float, float]
    load: tuple[float, float]


def lighten(lines: Sequence[Line], settings: Settings | None = None) -> Lighter:
    """Every line made lighter; movement is kept, no line goes away. Raises BadPlan for lines that cannot be."""
    chosen = settings or Settings()
    after = tuple(_sport(line, chosen) if isinstance(line, Sport) else _lift(line, chosen) for line in lines)
    return Lighter(after, (_tonnage(lines), _tonnage(after)), (_load(lines), _load(after)))


def freed_days(load: Sequence[float], gym_alone: Sequence[bool]) -> list[int]:
    """Which days with work a lighter week goes without: of three or more, one in four.

    Sport comes first and the gym gives way, so days with the gym alone go before others; of these the lightest first.
    ``load`` and ``gym_alone`` have a value for each day with work.
    """
    many = max(1, len(load) // 4) if len(load) >= LEAST_DAYS else 0
    order = sorted(range(len(load)), key=lambda day: (not gym_alone[day], load[day], day))
    return sorted(order[:many])


def said(before: Line, after: Line) -> str:
    """What became of a line, before → after."""
    return f"{_words(before)} → {_words(after)}"


def _words(line: Line) -> str:
    if isinstance(line, Sport):
        return f"{line.minutes:g} min at {line.effort:g}"
    kg = "" if line.kg is None else f" at {line.kg:g} kg"
    reserve = "" if line.reserve is None else f", {line.reserve:g} in reserve"
    return f"{line.sets} × {line.reps}{kg}{reserve}"


def _lift(line: Lift, settings: Settings) -> Lift:
    if line.sets < 1 or line.reps < 1 or (line.kg or 0) < 0:
        raise BadPlan(f"{line.name}: sets and repetitions are 1 or more, kilograms 0 or more", field="lines")
    if settings.school is School.SHARE and line.max is not None:
        kg = _down(line.max * settings.share, settings.kg_step)
        return replace(line, sets=min(line.sets, FAST_SETS), reps=min(line.reps, FAST_REPS), kg=kg, reserve=None)
    sets = max(1, math.ceil(line.sets * settings.sets - NEAR))
    reserve = None if line.reserve is None else line.reserve + settings.reserve
    if line.compound and line.kg is not None:
        return replace(line, sets=sets, reserve=reserve, kg=_down(line.kg * (1 - settings.kg), settings.kg_step))
    return replace(line, sets=sets, reserve=reserve, reps=max(1, line.reps - settings.reps))


def _down(kg: float, step: float) -> float:
    return math.floor(kg / step + NEAR) * step


def _sport(line: Sport, settings: Settings) -> Sport:
    if line.minutes < 0 or not 0 <= line.effort <= 10:
        raise BadPlan(f"{line.name}: minutes are 0 or more, effort 0 to 10", field="lines")
    minutes = math.floor(line.minutes * settings.minutes / MINUTES_STEP + 0.5 + NEAR) * MINUTES_STEP
    return replace(line, minutes=max(MINUTES_STEP, minutes), effort=min(line.effort, settings.effort_cap))


def _tonnage(lines: Sequence[Line]) -> float:
    return float(sum(line.tonnage for line in lines if isinstance(line, Lift)))


def _load(lines: Sequence[Line]) -> float:
    return float(sum(line.load for line in lines if isinstance(line, Sport)))

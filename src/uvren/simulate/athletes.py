"""The truth behind each simulated athlete, and how they answer to work.

The model: load leaves fatigue that fades at the athlete's own pace. Held against a capacity that wanders, it is one
half of strain; the other half is life outside training, which nobody writes down (see ``strain``). The more strain,
the harder the same session feels, and the higher it is rated. Ratings carry the athlete's own bias and noise, and
come in after a delay or, by habit, not at all. Absences and selection are part of the truth; what the rules
notice is not: it follows from the loads and the reports.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date, timedelta

import numpy as np

from uvren.simulate.strain import Habit, Life

# Fatigue on an ordinary morning, in capacities.
ORDINARY = 0.8


@dataclass(frozen=True)
class Absence:
    """Days without training, then ``shares`` of the planned minutes, a week each; no matches until the end of them."""

    first: date
    last: date
    shares: tuple[float, ...] = ()
    ill: bool = False

    def share(self, day: date) -> float:
        if day < self.first:
            return 1.0
        if day <= self.last:
            return 0.0
        week = (day - self.last - timedelta(days=1)).days // 7
        return self.shares[week] if week < len(self.shares) else 1.0


@dataclass(frozen=True)
class Truth:
    """What is true of one athlete.

    ``capacity`` is the week load they recover from, ``sensitivity`` by how many points of effort a session feels
    harder when strain is one capacity beyond usual; ``calm`` below 1 makes less of what is hidden. ``bias`` and
    ``noise`` are of their ratings. ``match_share`` is their part of a match; ``answers`` the chance that a rating ever
    comes, ``delay_hours`` its usual delay; ``habit`` is how they answer, but on ``silent`` mornings not at all.
    ``decline`` is the part of the capacity lost over the five weeks before ``decline_until``. From ``throwing_from`` on
    they throw ``throwing`` times what the session asks for. From ``weaker_from`` on their left leg is weaker than it
    was by ``weaker_left`` of it.
    """

    name: str
    number: int
    position: str
    capacity: float
    sensitivity: float
    bias: float
    noise: float
    match_share: float
    answers: float
    delay_hours: float
    joined: date
    absences: tuple[Absence, ...] = field(default=())
    decline: float = 0.0
    decline_until: date | None = None
    throwing_from: date | None = None
    throwing: float = 1.0
    weaker_from: date | None = None
    weaker_left: float = 0.0
    calm: float = 1.0
    silent: frozenset[date] = frozenset()
    habit: Habit = Habit.CAREFUL

    def share(self, day: date) -> float:
        return min((absence.share(day) for absence in self.absences), default=1.0)

    def throwing_on(self, day: date) -> float:
        return self.throwing if self.throwing_from is not None and day >= self.throwing_from else 1.0

    def capacity_on(self, day: date) -> float:
        if self.decline_until is None:
            return self.capacity
        weeks = (self.decline_until - day).days / 7
        lost = self.decline * float(np.clip((5 - weeks) / 5, 0, 1))
        return self.capacity * (1 - lost)


@dataclass
class Body:
    """The state of a simulated athlete as the days go by, from the first of their life."""

    truth: Truth
    life: Life
    first: date
    fatigue: float = 0.0
    day: date | None = None
    # Fatigue after each session.
    trace: list[tuple[date, float]] = field(default_factory=list)

    def advance(self, day: date) -> None:
        if self.day is not None:
            self.fatigue *= float(np.exp(-(day - self.day).days / self.life.fading))
        self.day = day

    def strain(self, day: date, fatigue: float) -> float:
        """In capacities; 0 is an ordinary week."""
        at = (day - self.first).days
        full = self.truth.capacity_on(day) * float(self.life.strength[at]) / 7 * self.life.fading
        return self.life.strain(at, fatigue / full - ORDINARY)

    def perform(self, day: date, minutes: float, intended: float, random: np.random.Generator) -> float:
        """Do a session; returns how hard it was, 0 to 10, unrounded."""
        self.advance(day)
        strain = self.strain(day, self.fatigue)
        felt = intended + self.truth.bias + self.truth.sensitivity * strain + random.normal(0, self.truth.noise)
        felt = float(np.clip(felt, 0.5, 10))
        self.fatigue += minutes * felt
        self.trace.append((day, self.fatigue))
        return felt

    def strains(self, first: date, last: date) -> dict[date, float]:
        """Strain on each morning."""
        out, at = {}, 0
        for i in range((last - first).days + 1):
            day = first + timedelta(days=i)
            while at < len(self.trace) and self.trace[at][0] < day:
                at += 1
            before, fatigue = self.trace[at - 1] if at else (day, 0.0)
            out[day] = self.strain(day, fatigue * float(np.exp(-(day - before).days / self.life.fading)))
        return out


def to_half(effort: float) -> float:
    return float(np.clip(np.round(effort * 2) / 2, 0, 10))

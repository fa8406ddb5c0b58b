"""The truth behind each simulated athlete, and how they answer to work.

The model: load leaves fatigue that fades over about nine days. The more fatigue there is for the athlete's capacity,
the harder the same session feels, and the higher it is rated. Ratings carry the athlete's own bias and noise, and
come in after a delay or, by habit, not at all. Absences and selection are part of the truth; what the rules
notice is not: it follows from the loads.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date, timedelta

import numpy as np

FATIGUE_DAYS = 9.0


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
    harder when fatigue is at twice the capacity, ``bias`` and ``noise`` are of their ratings. ``match_share`` is their
    part of a match; ``answers`` the chance that a rating ever comes, ``delay_hours`` its usual delay.
    ``decline`` is the part of the capacity lost over the five weeks before ``decline_until``. From
    ``throwing_from`` on they throw ``throwing`` times what the session asks for. From ``weaker_from`` on their left
    leg is weaker than it was by ``weaker_left`` of it.
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
    """The state of a simulated athlete as the days go by."""

    truth: Truth
    fatigue: float = 0.0
    day: date | None = None
    # Fatigue after each session.
    trace: list[tuple[date, float]] = field(default_factory=list)
    fading: float = FATIGUE_DAYS

    def advance(self, day: date) -> None:
        if self.day is not None:
            self.fatigue *= float(np.exp(-(day - self.day).days / FATIGUE_DAYS))
        self.day = day

    def perform(self, day: date, minutes: float, intended: float, random: np.random.Generator) -> float:
        """Do a session; returns how hard it was, 0 to 10, unrounded."""
        self.advance(day)
        full = self.truth.capacity_on(day) / 7 * FATIGUE_DAYS
        strain = self.fatigue / full - 0.9
        felt = intended + self.truth.bias + self.truth.sensitivity * strain + random.normal(0, self.truth.noise)
        felt = float(np.clip(felt, 0.5, 10))
        self.fatigue += minutes * felt
        self.trace.append((day, self.fatigue))
        return felt


def to_half(effort: float) -> float:
    return float(np.clip(np.round(effort * 2) / 2, 0, 10))

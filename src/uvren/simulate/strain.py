"""What wears a simulated athlete: load that fades, and life that nobody wrote down; and how they report it.

A truth is one of a family. In each, strain is the sum of two parts of a stated weight: fatigue left by load, which
fades at the athlete's own pace and is held against a capacity that wanders, and hidden stress from outside training,
which comes in spells. What is assumed here is assumed, not found: a simulated truth is no evidence about people.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from uvren.core.windows import Bools, Floats, decayed_sum

# Strain is in capacities beyond usual; so much of it is one SD of an athlete's season.
STRAIN_SD = 0.2


@dataclass(frozen=True)
class Truth:
    """One of the family.

    ``share`` of the variance of strain is fatigue from load, the rest is hidden. ``fading`` are the shortest and the
    longest fading time of an athlete, in days; ``spells`` of hidden stress a year last ``spell_days`` on average, and
    what is left of the hidden part drifts with a memory of ``drift_days``. Capacity wanders by ``wander`` (SD, as a
    share). ``sleep`` is by how many points a bad night (1 SD) lowers what is said of it.
    """

    name: str
    share: float
    fading: tuple[float, float] = (5.0, 16.0)
    spells: float = 6.0
    spell_days: float = 10.0
    drift_days: float = 6.0
    wander: float = 0.06
    sleep: float = 0.5


MIXTURE = Truth("a mixture", 0.5)
TRUTHS = (
    MIXTURE,
    Truth("mostly load", 0.8, wander=0.03),
    Truth("mostly life", 0.2),
    Truth("slow to fade", 0.5, fading=(12.0, 16.0), wander=0.10),
    Truth("bad sleepers", 0.5, sleep=1.2),
)


class Habit(StrEnum):
    """How somebody answers."""

    CAREFUL = "careful"
    CARELESS = "repeats the last answer"
    FORGETS = "forgets two of five"
    PLAYS_DOWN = "plays it down"
    CHANGES = "answers otherwise from mid-season"
    RHYTHM = "goes with the match week"


# How far each answer falls when strain is one capacity beyond usual, and by a bad night; and where it stands else.
SCALES = {
    "sleep_quality": (7.0, 1.8, 1.0),
    "energy": (7.2, 2.8, 0.5),
    "soreness": (7.4, 2.8, 0.1),
    "mood": (7.6, 1.8, 0.4),
    "stress": (7.1, 1.6, 0.3),
    "drive": (7.8, 2.2, 0.4),
}
ANSWER_NOISE = 0.8
REPEATS, FORGETS, PLAYED_DOWN, SHIFT, AFTER_MATCH = 0.5, 0.4, 0.45, 1.2, 0.9


def hidden_stress(truth: Truth, days: int, random: np.random.Generator) -> Floats:
    """Stress from outside training, shape (days,), mean 0 and SD 1 over the season."""
    spells = np.zeros(days)
    for begin in np.flatnonzero(random.random(days) < truth.spells / 365):
        length = max(int(random.exponential(truth.spell_days)), 3)
        spells[begin : begin + length] += random.uniform(0.6, 1.4)
    keep = float(np.exp(-1 / truth.drift_days))
    drift = decayed_sum(random.normal(0, np.sqrt(1 - keep**2), days), keep)
    # A spell begins and ends over some days.
    soft = decayed_sum(spells * 0.4, 0.6)
    whole = soft / max(float(soft.std()), 0.2) + 0.7 * drift
    return np.asarray((whole - whole.mean()) / whole.std())


def wandering(truth: Truth, days: int, random: np.random.Generator) -> Floats:
    """Capacity as a share of what it is on the whole, shape (days,)."""
    keep = float(np.exp(-1 / 60))
    return 1 + truth.wander * decayed_sum(random.normal(0, np.sqrt(1 - keep**2), days), keep)


def nights(days: int, random: np.random.Generator) -> Floats:
    """How bad each night was, in SD; one is a little like the one before."""
    return decayed_sum(random.normal(0, np.sqrt(1 - 0.3**2), days), 0.3)


@dataclass(frozen=True)
class Life:
    """What of somebody's season no load tells: by day from the first, each of shape (days,)."""

    truth: Truth
    fading: float
    hidden: Floats
    strength: Floats
    night: Floats

    def strain(self, day: int, load: float) -> float:
        """True strain of a morning, with its load part in capacities beyond usual."""
        return float(np.sqrt(self.truth.share)) * load + float(np.sqrt(1 - self.truth.share)) * STRAIN_SD * float(
            self.hidden[day]
        )


def live(truth: Truth, days: int, random: np.random.Generator, calm: float = 1.0) -> Life:
    """One out of the truth; ``calm`` below 1 makes what is hidden smaller by that."""
    fading = float(random.uniform(*truth.fading))
    hidden = calm * hidden_stress(truth, days, random)
    return Life(truth, fading, hidden, wandering(truth, days, random), nights(days, random))


@dataclass(frozen=True)
class Answers:
    """What somebody answers of themselves, by day.

    ``base`` is where they stand on each scale of :data:`SCALES` on an ordinary day; ``after_match`` tells the mornings
    after a match.
    """

    truth: Truth
    habit: Habit
    base: Floats
    after_match: Bools

    def given(self, strain: Floats, night: Floats, random: np.random.Generator) -> Floats:
        """Answers of each morning, items x days; nan where somebody did not answer."""
        days = strain.size
        falls, sleeps = (np.array([scale[i] for scale in SCALES.values()]) for i in (1, 2))
        told = np.full(days, PLAYED_DOWN if self.habit is Habit.PLAYS_DOWN else 1.0)
        out = np.broadcast_to(self.base[:, None], (len(SCALES), days)).copy()
        out -= falls[:, None] * strain * told
        out -= sleeps[:, None] * self.truth.sleep * night * told
        if self.habit is Habit.CHANGES:
            out[:, days // 2 :] -= SHIFT
        if self.habit is Habit.RHYTHM:
            out -= AFTER_MATCH * self.after_match
        out = np.clip(np.round(out + random.normal(0, ANSWER_NOISE, out.shape)), 0, 10)
        if self.habit is Habit.CARELESS:
            for day in map(int, np.flatnonzero(random.random(days) < REPEATS)):
                out[:, day] = out[:, max(day - 1, 0)]
        if self.habit is Habit.FORGETS:
            out[:, random.random(days) < FORGETS] = np.nan
        return out

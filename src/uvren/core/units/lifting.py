"""Lifting: tonnage, hard sets and the estimated one-repetition maximum."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, Self

import numpy as np

from uvren.core.recovery import System
from uvren.core.units.base import Form, Level, Source, choice, places_of
from uvren.core.windows import Floats, Ints

HARD_RESERVE = 4.0
MOST_REPS = 12.0


class LiftMeasure(StrEnum):
    TONNAGE = "tonnage"
    HARD_SETS = "hard_sets"


class MaximumFormula(StrEnum):
    """Published ways from kilograms and repetitions to a one-repetition maximum."""

    EPLEY = "epley"
    BRZYCKI = "brzycki"


@dataclass(frozen=True)
class Lifts:
    """Sets of lifting, an item each; ``reserve`` (repetitions left) is nan where it was not said."""

    owner: Ints
    exercise: Sequence[str]
    sets: Floats
    reps: Floats
    kg: Floats
    reserve: Floats


def estimated_maximum(
    kg: Floats, reps: Floats, reserve: Floats, formula: MaximumFormula = MaximumFormula.EPLEY
) -> Floats:
    """Estimated one-repetition maximum in kg, from n = repetitions + reserve; nan outside n = 1 to 12.

    Epley: kg x (1 + n/30), and kg itself at n = 1. Brzycki: kg x 36/(37 - n). A reserve that was not said is taken as
    none, which can only make the estimate lower.
    """
    n = reps + np.nan_to_num(reserve)
    valid = (n >= 1) & (n <= MOST_REPS) & (kg > 0)
    safe = np.where(valid, n, 1.0)
    estimate = (
        np.where(safe > 1, kg * (1 + safe / 30), kg) if formula is MaximumFormula.EPLEY else kg * 36 / (37 - safe)
    )
    return np.where(valid, estimate, np.nan)


@dataclass(frozen=True)
class Lifting(Form):
    """Kilograms moved, or sets that were hard."""

    measure: LiftMeasure

    code = "lifting"
    title = "Lifting"
    unit = "kg"
    level = Level.EXTERNAL
    source = Source.LIFTING
    published = "Tonnage; hard sets after repetitions in reserve; Epley 1985, Brzycki 1993"
    systems = (System.MUSCLE, System.NERVE)

    @classmethod
    def from_settings(cls, settings: Mapping[str, Any]) -> Self:
        return cls(places_of(settings), choice(settings, "measure", LiftMeasure, "What is counted"))

    def formula(self) -> str:
        if self.measure is LiftMeasure.TONNAGE:
            return "Sets × repetitions × kilograms, added up."
        return f"Sets with at most {HARD_RESERVE:g} repetitions left in reserve, added up."

    @property
    def hardest(self) -> tuple[str, float] | None:
        return ("hard set", 1.0) if self.measure is LiftMeasure.HARD_SETS else None

    def loads(self, lifts: Lifts, count: int) -> Floats:
        """Load of each of ``count`` entries, shape (count,); nan where nothing was lifted, or a reserve is not said."""
        if self.measure is LiftMeasure.TONNAGE:
            each = lifts.sets * lifts.reps * lifts.kg
        else:
            each = np.where(np.isnan(lifts.reserve), np.nan, lifts.sets * (lifts.reserve <= HARD_RESERVE))
        load = np.bincount(lifts.owner, weights=each, minlength=count)
        return np.where(np.bincount(lifts.owner, minlength=count) > 0, load, np.nan)

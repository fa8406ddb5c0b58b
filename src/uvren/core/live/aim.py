"""How hard a part of a session is meant to be, as a range of the own maximum heart rate."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

# Per cent of the own maximum at effort 0 and for each step of effort, and half the width of an aim. A rating of 10 is
# 95 %, one of 5 is 72 %: our own line through how ratings and heart rates of whole sessions go together, not a law.
AT_REST, A_STEP, HALF = 50.0, 4.5, 6.0
# The day before a match nobody is to come above this, whatever the part.
HELD_DOWN = 74.0
MOST_EFFORT = 10.0


@dataclass(frozen=True)
class Aim:
    """From ``low`` to ``high``, in per cent of the own maximum; ``held`` says that it is held down, so that only what
    is above it matters.
    """

    low: float
    high: float
    held: bool = False


def efforts(effort: float, minutes: Sequence[float], weights: Sequence[float]) -> list[float]:
    """Effort of each part of a session of this effort: by its weight, so that the parts come to the whole."""
    whole = sum(m * w for m, w in zip(minutes, weights, strict=True))
    if whole <= 0:
        return [effort] * len(weights)
    mean = whole / sum(minutes)
    return [min(effort * weight / mean, MOST_EFFORT) for weight in weights]


def aim(effort: float, *, before_match: bool = False, cap: float = float("inf")) -> Aim:
    """The aim of a part of this effort, for somebody who goes no harder than ``cap``."""
    capped = min(effort, cap)
    middle = AT_REST + A_STEP * capped
    low, high = middle - HALF, min(middle + HALF, 100.0)
    if before_match:
        high = min(high, HELD_DOWN)
    return Aim(min(low, high - HALF), high, held=before_match or cap < effort)

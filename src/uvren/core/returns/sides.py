"""Sides that differ: where the difference comes from, looked for in order, and what may be done about it.

Range of motion by joint, then strength by joint; where both are even it is use, not capacity: the strength is there and
is not used.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from uvren.core.errors import BadPlan
from uvren.core.trials import MATTERS_PERCENT, Asymmetry, asymmetry, side_norm
from uvren.core.windows import Floats


class Comes(StrEnum):
    """Where a difference of the sides comes from."""

    RANGE = "range"
    STRENGTH = "strength"
    USE = "use"


class How(StrEnum):
    """What is done about it: the weaker side first, added sets on it, or as many repetitions as it can on both."""

    FIRST = "first"
    SETS = "sets"
    MATCHED = "matched"


SUITS: Mapping[Comes, How] = {Comes.RANGE: How.FIRST, Comes.STRENGTH: How.SETS, Comes.USE: How.MATCHED}
MOST_PAIRS, LONGEST_NAME = 12, 60


@dataclass(frozen=True)
class Pair:
    """What was measured of a joint on both sides, more is better: a range in degrees, or a strength.

    Raises BadPlan for a pair without a name, or with a value that is not above 0.
    """

    name: str
    left: float
    right: float

    def __post_init__(self) -> None:
        if not 0 < len(self.name.strip()) <= LONGEST_NAME:
            raise BadPlan(f"say which joint, in up to {LONGEST_NAME} letters", field="name")
        for field, value in (("left", self.left), ("right", self.right)):
            if not 0 < value < 100_000:
                raise BadPlan("a measured value is more than 0", field=field)

    @property
    def found(self) -> Asymmetry:
        return asymmetry(self.left, self.right)

    @property
    def even(self) -> bool:
        """Whether the sides differ by no more than what matters in a test."""
        return self.found.percent <= MATTERS_PERCENT


@dataclass(frozen=True)
class Walk:
    """How far the walk has come: where the difference ``comes`` from, and by which ``pair``; what is next without one.

    ``asks`` is what is measured next: RANGE or STRENGTH, None where the answer is there.
    """

    comes: Comes | None
    pair: Pair | None
    asks: Comes | None


def walk(ranges: Sequence[Pair], strengths: Sequence[Pair]) -> Walk:
    """The answer by what was measured, in order: the most uneven range, else the most uneven strength, else use."""
    for comes, pairs in ((Comes.RANGE, ranges), (Comes.STRENGTH, strengths)):
        if not pairs:
            return Walk(None, None, comes)
        worst = max(pairs, key=lambda one: one.found.percent)
        if not worst.even:
            return Walk(comes, worst, None)
    return Walk(Comes.USE, None, None)


def even_again(percents: Floats, before: int) -> bool:
    """Whether a test after ``before`` of them has the sides within 10 %, or within the own norm of those before.

    ``percents`` are differences of one athlete, oldest first, signed by side. The rule that ends a check.
    """
    later = percents[before:]
    if later.size == 0:
        return False
    return bool(abs(later[-1]) <= max(side_norm(percents[:before]), MATTERS_PERCENT))

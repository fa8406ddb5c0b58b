"""How hard a plan of rounds is in all, against what it is to be."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from uvren.core import words

EASIEST, HARDEST = 1, 5
# What rounds of open play with contact are to come to as a rule.
OPEN_CONTACT = 0.70


@dataclass(frozen=True)
class Mix:
    """Rounds graded 1 to 5: their mean is so large a ``share`` of the hardest grade.

    ``nearest`` are the grades that come nearest to the aim, one a round; ``said`` tells how far it is.
    """

    share: float
    aim: float
    nearest: tuple[int, ...]
    said: str


def mix_of(grades: Sequence[int], aim: float = OPEN_CONTACT) -> Mix | None:
    """The mix of rounds, mean grade / 5, with ``aim`` from 0.2 to 1. None without a round.

    To come to the aim the hardest rounds become harder, or the easiest easier: what goes and stops is not to end all in
    the middle.
    """
    if not grades:
        return None
    whole = HARDEST * len(grades)
    lacks = aim * whole - sum(grades)
    # Where two are as near the one that changes less counts.
    more = int(math.copysign(math.ceil(abs(lacks) - 0.5 - 1e-9), lacks))
    share = sum(grades) / whole
    said = f"{words.count(len(grades), 'round')} at {words.percent(share)} of full intensity; the aim is "
    said += words.percent(aim)
    said += f": {words.count(abs(more), 'grade')} {'more' if more > 0 else 'fewer'} in all." if more else "."
    return Mix(share, aim, _with(grades, more), said)


def _with(grades: Sequence[int], more: int) -> tuple[int, ...]:
    """So many grades more (below 0: fewer), from the hardest round down (the easiest up), the first of those alike."""
    found = list(grades)
    step = 1 if more > 0 else -1
    end = HARDEST if more > 0 else EASIEST
    for _ in range(abs(more)):
        open_ = [i for i, grade in enumerate(found) if grade != end]
        at = max(open_, key=lambda i: (step * found[i], -i))
        found[at] += step
    return tuple(found)

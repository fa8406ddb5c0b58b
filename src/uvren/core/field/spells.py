"""A count that is to be done in spells, with a break between two of them."""

from __future__ import annotations

import math
from dataclasses import dataclass

from uvren.core.field.fold import SpellRule


@dataclass(frozen=True)
class Split:
    """``spells`` of at most ``each``, with so many ``minutes`` of breaks between them in all."""

    spells: int
    each: int
    minutes: float

    def fits(self, minutes: float) -> bool:
        """Whether a session of so many minutes has the breaks, and as long again for the work between them."""
        return self.minutes * 2 <= minutes


def split(count: float, rule: SpellRule) -> Split:
    """As few spells as the rule lets there be, as even as they can be; of nothing none."""
    whole = math.ceil(count - 1e-9)
    if whole <= 0:
        return Split(0, 0, 0.0)
    spells = math.ceil(whole / rule.most)
    return Split(spells, math.ceil(whole / spells), (spells - 1) * rule.seconds / 60)


def most_in(minutes: float, rule: SpellRule) -> int:
    """The most that a session of so many minutes has room for in spells; see :meth:`Split.fits`."""
    breaks = math.floor(minutes / 2 / (rule.seconds / 60) + 1e-9) if rule.seconds > 0 else 10**6
    return rule.most * (breaks + 1)

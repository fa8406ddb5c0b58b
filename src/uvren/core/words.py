"""Numbers as the screens write them: unit beside the number, thin space for thousands."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import date

import numpy as np

THIN = "\u2009"
NBSP = "\u00a0"


def number(value: float, decimals: int = 0) -> str:
    """``4065.2`` -> ``4 065``, with a thin space; minus as a minus sign."""
    text = f"{abs(value):,.{decimals}f}".replace(",", THIN)
    return f"−{text}" if round(value, decimals) < 0 else text


def percent(share: float) -> str:
    """``0.34`` -> ``34 %``; one decimal where rounding would hide what is said."""
    hundred = share * 100
    decimals = 0 if abs(hundred) >= 10 or abs(hundred - round(hundred)) < 0.05 else 1
    return f"{number(hundred, decimals)}{NBSP}%"


def spread(value: float) -> str:
    """An SD with a digit that is not zero: ``0.9``, ``0.05``."""
    for decimals in (1, 2, 3):
        if value >= 10.0**-decimals:
            return f"{value:.{decimals}f}"
    return f"{value:g}"


def apart(one: float, other: float, say: Callable[[float, int], str], decimals: int = 0) -> tuple[str, str]:
    """Two numbers in words, with one decimal more until they read differently, as far as they differ."""
    for more in range(4):
        said = say(one, decimals + more), say(other, decimals + more)
        if said[0] != said[1] or abs(one - other) <= 1e-6 * max(abs(one), abs(other)):
            break
    return said


def percents(one: float, other: float) -> tuple[str, str]:
    """Two shares that stand against each other: ``10.4 %`` and ``10.0 %``, not twice ``10 %``."""
    if percent(one) != percent(other):
        return percent(one), percent(other)
    return apart(one, other, lambda share, decimals: f"{number(share * 100, decimals)}{NBSP}%")


def numbers(one: float, other: float) -> tuple[str, str]:
    """Two loads that stand against each other."""
    return apart(one, other, number)


def above_or_below(share: float) -> str:
    """``0.34`` -> ``34 % above``, ``-0.1`` -> ``10 % below``."""
    return f"{percent(abs(share))} {'above' if share >= 0 else 'below'}"


def day(value: date) -> str:
    """``Thu 12 March``; the year is on the screen already."""
    return f"{value:%a} {value.day} {value:%B}"


def count(n: int, one: str, many: str | None = None) -> str:
    """``1 day``, ``3 days``."""
    return f"{n} {one if n == 1 else many or one + 's'}"


def listed(items: Sequence[str]) -> str:
    """``a, b and c``."""
    return " and ".join(filter(None, (", ".join(items[:-1]), *items[-1:])))


def minutes_at(load: float, effort: float) -> int:
    """Minutes at ``effort`` that make up ``load``, rounded down to 5: room is never overstated."""
    if effort <= 0 or not np.isfinite(load):
        return 0
    return int(load / effort // 5 * 5)


def minutes_phrase(load: float, effort: float) -> str:
    """Room in human terms: ``about 50 min at 7``."""
    if load <= 0:
        return "no load today"
    minutes = minutes_at(load, effort)
    level = number(effort, 0 if effort == int(effort) else 1)
    if minutes > 120:
        return f"over 2 h at {level}"
    if minutes < 5:
        return f"under 5 min at {level}"
    return f"about {minutes} min at {level}"

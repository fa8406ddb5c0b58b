"""Load in the athlete's own terms: minutes at an effort, or repetitions and minutes of the usual work."""

from __future__ import annotations

from abc import ABC, abstractmethod
from dataclasses import dataclass

import numpy as np

from uvren.core import words
from uvren.core.windows import Floats


class Terms(ABC):
    """How a load of a channel is said for a row (an athlete)."""

    @abstractmethod
    def phrase(self, load: float, row: int) -> str:
        """Room as the athlete would know it."""

    @abstractmethod
    def minutes(self, load: float, row: int) -> float:
        """Minutes of the usual work that make up the load; inf where there is nothing to go by."""

    @abstractmethod
    def less(self, over: float, row: int) -> str:
        """What to leave out to take ``over`` off."""


@dataclass(frozen=True)
class EffortTerms(Terms):
    """Of effort x minutes: minutes at the athlete's typical rating (shape (rows,))."""

    effort: Floats

    def phrase(self, load: float, row: int) -> str:
        return words.minutes_phrase(load, float(self.effort[row]))

    def minutes(self, load: float, row: int) -> float:
        return load / float(self.effort[row])

    def less(self, over: float, row: int) -> str:
        effort = float(self.effort[row])
        return f"{int(np.ceil(over / effort / 5) * 5)} min at {effort:g}"


@dataclass(frozen=True)
class RateTerms(Terms):
    """Of any other channel: its unit, repetitions of the hardest kind, and the usual load a minute (shape (rows,)).

    A rate is nan where there is nothing to go by.
    """

    unit: str
    rate: Floats
    one: tuple[str, float] | None = None

    def phrase(self, load: float, row: int) -> str:
        if load <= 0:
            return "none left today"
        return self._amount(load) + self._about(load, row)

    def minutes(self, load: float, row: int) -> float:
        rate = float(self.rate[row])
        return load / rate if rate > 0 else float("inf")

    def less(self, over: float, row: int) -> str:
        return self._amount(float(np.ceil(over)))

    def _amount(self, load: float) -> str:
        if self.one is None:
            return f"{words.number(np.floor(load))}{words.NBSP}{self.unit}"
        name, weight = self.one
        return words.count(int(load / weight + 1e-9), name)

    def _about(self, load: float, row: int) -> str:
        minutes = self.minutes(load, row)
        if not np.isfinite(minutes):
            return ""
        rounded = int(minutes // 5 * 5)
        if rounded > 120:
            return ", over 2 h as usual"
        return f", about {rounded} min as usual" if rounded >= 5 else ", under 5 min as usual"

"""Limits on the ratio of acute to chronic load, by any of the three schools that have one."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from uvren.core import words
from uvren.core.limits.base import Line, Rule, Unit, last_days
from uvren.core.windows import Floats
from uvren.core.workload import School, Withheld, Workload


def _parts(workload: Workload, school: School) -> tuple[Floats, Floats, Floats, Floats]:
    """Acute and chronic load without today, and the weight that today's load has in each.

    The acute load is ``a + x * wa`` and the chronic ``c + x * wc`` for a load x today. Shapes rows x days.
    """
    loads, settings = workload.loads, workload.settings
    today = loads.values
    if school is School.EWMA:
        total_a, weight_a = workload.ewma_parts(settings.acute_days)
        total_c, weight_c = workload.ewma_parts(settings.chronic_days)
        wa, wc = _inverse(weight_a), _inverse(weight_c)
        return (total_a - today) * wa, (total_c - today) * wc, wa, wc
    wa = _inverse(loads.known_in(settings.acute_days))
    a = (loads.sum_over(settings.acute_days) - today) * wa
    if school is School.UNCOUPLED:
        return a, np.nan_to_num(workload.chronic_uncoupled), wa, np.zeros_like(wa)
    wc = _inverse(loads.known_in(settings.chronic_days))
    return a, (loads.sum_over(settings.chronic_days) - today) * wc, wa, wc


def _weights(workload: Workload, school: School, column: int) -> tuple[Floats, Floats]:
    """What each day's load through ``column`` counts in the acute and in the chronic load, each (rows, column + 1)."""
    settings = workload.settings

    def weighted(span: int) -> Floats:
        fading = (1.0 - 2.0 / (span + 1)) ** np.arange(column, -1, -1)
        return _shares(workload.loads.known[:, : column + 1] * fading)

    if school is School.EWMA:
        return weighted(settings.acute_days), weighted(settings.chronic_days)
    skip = settings.acute_days if school is School.UNCOUPLED else 0
    acute = last_days(workload, column, settings.acute_days)
    return _shares(acute), _shares(last_days(workload, column, settings.chronic_days, skip=skip))


def _shares(weights: Floats) -> Floats:
    return weights * _inverse(weights.sum(axis=1, keepdims=True))


def _inverse(x: Floats) -> Floats:
    return np.divide(1.0, x, out=np.zeros_like(x), where=x > 0)


@dataclass(frozen=True)
class _Ratio(Rule):
    school: School = School.EWMA

    unit = Unit.RATIO
    bends_corridor = True
    compares = True

    def __post_init__(self) -> None:
        super().__post_init__()
        if self.school is School.EWMA:
            # The weighted school has no week: its limits are not called by one.
            object.__setattr__(self, "title", f"{'Floor' if self.floor else 'Ceiling'} on the weighted ratio")

    @property
    def key(self) -> str:
        return f"{self.code}:{self.school}"

    def figure(self, workload: Workload) -> Floats:
        return workload.shown_ratio(self.school)

    def silent(self, workload: Workload) -> np.ndarray:
        # Without a base of its own there is nothing to compare with, whatever the reason given.
        no_base = np.isnan(workload.ratio(self.school))
        return np.where(no_base & ~workload.is_withheld, Withheld.REBUILD, workload.withheld)

    def excess(self, workload: Workload) -> Floats:
        a, c, wa, wc = _parts(workload, self.school)
        today = workload.loads.values
        over = a + today * wa - self.bound * (c + today * wc)
        return -over if self.floor else over

    def _said(self, figure: float, value: float, what: str) -> str:
        # The weighted school has no week: it is named as what it is.
        weighted = self.school is School.EWMA
        acute, base = ("Weighted recent load", "weighted base load") if weighted else ("Week load", "base load")
        here, limit = words.percents(abs(figure - 1), abs(value - 1))
        side, of = ("above" if one >= 1 else "below" for one in (figure, value))
        return f"{acute} is {here} {side} {base}; the {what} is {limit} {of}."

    def level(self, workload: Workload) -> Floats:
        """The load today at which the ratio stands exactly at the limit; below 0 where none does."""
        a, c, wa, wc = _parts(workload, self.school)
        slope = wa - self.bound * wc
        out = np.full(slope.shape, np.inf)
        return np.divide(self.bound * c - a, slope, out=out, where=slope > 0)

    def load_left(self, workload: Workload) -> Floats:
        return self.level(workload) - workload.loads.values

    def line(self, workload: Workload, column: int, as_of: int) -> Line:
        value = self.values_on(workload, column)
        acute, chronic = _weights(workload, self.school, column)
        weights = acute - value[:, None] * chronic
        base = (chronic * workload.loads.values[:, : column + 1]).sum(axis=1)
        return Line(-weights if self.floor else weights, np.zeros_like(value), value * base)


class RatioCeiling(_Ratio):
    """Acute load at most ``value`` times chronic load."""

    code = "ratio_ceiling"
    title = "Ceiling on week load over base load"
    lowest, highest = 0.5, 4.0
    source = "Williams et al. 2017; no value predicts injury (Impellizzeri et al. 2020)"

    def sentence(self, figure: float, value: float) -> str:
        return self._said(figure, value, "ceiling")


class RatioFloor(_Ratio):
    """Acute load at least ``value`` times chronic load: keeps what was built."""

    code = "ratio_floor"
    title = "Floor on week load over base load"
    lowest, highest = 0.0, 1.5
    floor = True
    source = "Squad's own choice"

    def load_left(self, workload: Workload) -> Floats:
        return np.full(workload.loads.load.shape, np.inf)

    def sentence(self, figure: float, value: float) -> str:
        return self._said(figure, value, "floor")

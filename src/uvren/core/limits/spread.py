"""Limit on monotony: how alike the days of a week are (Foster 1998)."""

from __future__ import annotations

import numpy as np

from uvren.core import words
from uvren.core.limits.base import TOLERANCE, Rule, Unit, silent_week
from uvren.core.windows import Floats, rolling_sum
from uvren.core.workload import Workload

# Spread of seven equal days, with the SD taken as 5 % of the mean.
ALIKE = 20 - 1e-6


class MonotonyCap(Rule):
    """Monotony (mean over SD of seven days) at most ``value``."""

    code = "monotony_cap"
    title = "Cap on spread (monotony)"
    unit = Unit.PLAIN
    lowest, highest = 0.4, 20.0
    source = "Foster 1998"

    def figure(self, workload: Workload) -> Floats:
        return workload.monotony

    def silent(self, workload: Workload) -> np.ndarray:
        return silent_week(workload, history=7, days=7)

    def excess(self, workload: Workload) -> Floats:
        # mean/SD <= v  <=>  mean^2 - v^2 SD^2 <= 0, which is a quadratic in any one of the days.
        total = workload.loads.sum_over(7)
        squares = rolling_sum(workload.loads.values**2, 7)
        return (total / 7) ** 2 - self.bound**2 / 6 * (squares - total**2 / 7)

    def load_left(self, workload: Workload) -> Floats:
        today = workload.loads.values
        others = workload.loads.sum_over(7) - today
        squares = rolling_sum(workload.loads.values**2, 7) - today**2
        v2 = self.bound**2
        # excess(t) = qa t^2 + qb t + qc for a day's total t beside the six before it.
        qa = 1 / 49 - v2 / 7
        qb = others * (2 / 49 + v2 / 21)
        qc = others**2 / 49 - v2 / 6 * (squares - others**2 / 7)
        return first_crossing(qa, qb, qc, today)

    def sentence(self, figure: float, value: float) -> str:
        if figure >= ALIKE:
            return f"All seven days are alike, so spread is at its highest ({figure:.0f}); the cap is {value:g}."
        spread, cap = words.apart(figure, value, words.number, 1)
        return f"Spread (monotony: mean over standard deviation of the last 7 days) is {spread}; the cap is {cap}."


def first_crossing(qa: Floats, qb: Floats, qc: Floats, start: Floats | float) -> Floats:
    """How far from ``start`` the quadratic ``qa t^2 + qb t + qc`` first rises above 0.

    -inf where it is above 0 at ``start`` already, inf where it never rises above 0. Arrays broadcast.
    """
    qa, qb, qc, start = np.broadcast_arrays(qa, qb, qc, start)
    scale = np.abs(qa) * start**2 + np.abs(qb * start) + np.abs(qc) + TOLERANCE
    with np.errstate(divide="ignore", invalid="ignore"):
        root = np.sqrt(np.maximum(qb * qb - 4 * qa * qc, 0.0))
        # The form that subtracts nothing of like size, so that both roots keep their digits.
        q = -0.5 * (qb + np.where(qb >= 0, root, -root))
        straight = np.abs(qa) <= 1e-15 * (np.abs(qb) + 1e-300)
        one = np.where(straight, np.where(qb == 0, np.nan, -qc / qb), q / qa)
        two = np.where(straight, np.nan, np.where(q == 0, 0.0, qc / q))
        rises = np.stack([one, two])
        slope = 2 * qa * rises + qb
        has_root = straight | (qb * qb - 4 * qa * qc > 0)
        at_start = qa * start**2 + qb * start + qc
        # A root at which the curve comes up through 0, at or after the start. At the start itself no way is left.
        ahead = has_root & (slope > 0) & (rises >= start - 1e-9 * (1 + np.abs(start)))
        distance = np.where(ahead, rises - start, np.inf).min(axis=0)
    return np.where(at_start > 1e-12 * scale, -np.inf, np.maximum(distance, 0.0))

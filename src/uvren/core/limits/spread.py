"""Limits on monotony, how alike the days of a week are, and on week strain, its load times that (Foster 1998)."""

from __future__ import annotations

import numpy as np

from uvren.core import words
from uvren.core.limits.base import TOLERANCE, Rule, Unit, silent_week
from uvren.core.windows import Floats, rolling_sum
from uvren.core.workload import Workload

# Spread of seven equal days, with the SD taken as 5 % of the mean.
ALIKE = 20 - 1e-6


class _OfSpread(Rule):
    """A rule on how alike the seven days are; it speaks once they are known."""

    source = "Foster 1998"

    def silent(self, workload: Workload) -> np.ndarray:
        return silent_week(workload, history=7, days=7)


class MonotonyCap(_OfSpread):
    """Monotony (mean over SD of seven days) at most ``value``."""

    code = "monotony_cap"
    title = "Cap on spread (monotony)"
    unit = Unit.PLAIN
    lowest, highest = 0.4, 20.0

    def figure(self, workload: Workload) -> Floats:
        return workload.monotony

    def excess(self, workload: Workload) -> Floats:
        # mean/SD <= v  <=>  mean^2 - v^2 SD^2 <= 0, which is a quadratic in any one of the days.
        total, squares = _sums(workload)
        return (total / 7) ** 2 - self.bound**2 / 6 * (squares - total**2 / 7)

    def load_left(self, workload: Workload) -> Floats:
        today = workload.loads.values
        total, squares = _sums(workload)
        others, squares = total - today, squares - today**2
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


class StrainCap(_OfSpread):
    """Week strain (load of seven days times monotony) at most ``value``."""

    code = "strain_cap"
    title = "Cap on week strain"
    unit = Unit.LOAD
    degree = 4
    lowest, highest = 1.0, 200000.0

    def figure(self, workload: Workload) -> Floats:
        return workload.strain

    def excess(self, workload: Workload) -> Floats:
        # W mean/SD <= v  <=>  (W^2/7)^2 / v^2 - SD^2 <= 0, which is a quartic in any one of the days.
        total, squares = _sums(workload)
        return total**4 / (49 * self.bound**2) - (squares - total**2 / 7) / 6

    def load_left(self, workload: Workload) -> Floats:
        today = workload.loads.values
        total, squares = _sums(workload)
        others, squares = total - today, squares - today**2
        v = np.broadcast_to(self.bound, today.shape)
        # By the week's total in units of the cap, in which it has no cubic: numbers of one size keep their digits.
        zero = np.zeros(today.shape)
        quartic = [-(squares + others**2) / (6 * v**2), others / (3 * v), zero - 1 / 7, zero, zero + 1 / 49]
        return v * first_rise(np.stack(quartic), (others + today) / v)

    def sentence(self, figure: float, value: float) -> str:
        strain, cap = words.apart(figure, value, words.number, 0)
        return f"Week strain (load of the last 7 days times their spread) is {strain}; the cap is {cap}."


def _sums(workload: Workload) -> tuple[Floats, Floats]:
    """Sum of the loads of seven days, and of their squares."""
    return workload.loads.sum_over(7), rolling_sum(workload.loads.values**2, 7)


def first_rise(polynomial: Floats, start: Floats) -> Floats:
    """How far from ``start`` a polynomial first rises above 0; -inf where it is above 0 there, inf where it never does.

    Parameters
    ----------
    polynomial : float array, shape (degree + 1, ...)
        Coefficients, that of the lowest power first; the highest is not 0. nan gives inf.
    start : float array, shape (...)
    """
    known = np.isfinite(polynomial).all(axis=0) & np.isfinite(start)
    out = np.full(start.shape, np.inf)
    if not known.any():
        return out
    some, begin = polynomial[:, known], start[known]
    roots = np.linalg.eigvals(_companion(some))
    real = np.where(np.abs(roots.imag) <= 1e-6 * (1 + np.abs(roots)), roots.real, np.nan)
    slopes = some[1:] * np.arange(1, len(some))[:, None]
    ahead = (_at(slopes, real) > 0) & (real >= begin[:, None] - 1e-9 * (1 + np.abs(begin[:, None])))
    distance = np.maximum(np.where(ahead, real - begin[:, None], np.inf).min(axis=1), 0.0)
    size = (np.abs(some) * np.abs(begin) ** np.arange(len(some))[:, None]).sum(axis=0)
    over = _at(some, begin[:, None])[:, 0] > 1e-12 * size
    out[known] = np.where(over, -np.inf, distance)
    return out


def _companion(polynomial: Floats) -> Floats:
    """Matrices whose eigenvalues are the roots, shape (n, degree, degree)."""
    degree = len(polynomial) - 1
    found = np.zeros((polynomial.shape[1], degree, degree))
    found[:, range(1, degree), range(degree - 1)] = 1.0
    found[:, :, -1] = -(polynomial[:-1] / polynomial[-1]).T
    return found


def _at(polynomial: Floats, places: Floats) -> Floats:
    """Values at places, shape (n, places)."""
    value = np.zeros(places.shape)
    for coefficient in polynomial[::-1]:
        value = value * places + coefficient[:, None]
    return value


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

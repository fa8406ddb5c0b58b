"""Limit on the balance of the two-time-constant model."""

from __future__ import annotations

import numpy as np

from uvren.core import words
from uvren.core.limits.base import SLACK, Line, Rule, Unit, never_silent
from uvren.core.windows import Floats
from uvren.core.workload import Withheld, Workload


class BalanceFloor(Rule):
    """Balance on the following morning at least ``value`` (a daily load; most often below 0)."""

    code = "balance_floor"
    title = "Floor on balance"
    unit = Unit.PLAIN
    lowest, highest = -100_000.0, 100_000.0
    source = "Banister et al. 1975; the value is the squad's own choice"
    # A floor of the model's balance is a ceiling on load, so `floor` stays False and the slack turns round.
    bends_corridor = True
    compares = True

    def figure(self, workload: Workload) -> Floats:
        return workload.exp_chronic - workload.exp_acute

    def silent(self, workload: Workload) -> np.ndarray:
        # Before that it says more of where the model was begun than of the work done.
        short = (workload.loads.age >= 1) & (workload.loads.age < workload.settings.balance_days)
        return np.where(short, Withheld.HISTORY, never_silent(workload))

    def excess(self, workload: Workload) -> Floats:
        return self.value - SLACK - self.figure(workload)

    def load_left(self, workload: Workload) -> Floats:
        # A load x moves the acute state by x times its step and the chronic by x times a smaller one.
        settings = workload.settings
        step = np.exp(-1.0 / settings.chronic_tau) - np.exp(-1.0 / settings.acute_tau)
        return -self.excess(workload) / step

    def line(self, workload: Workload, column: int, as_of: int) -> Line:
        loads, settings = workload.loads, workload.settings
        known = loads.known[:, : column + 1].astype(np.float64)
        # Days that are known after each one: a day that is not leaves both states as they were.
        later = known[:, ::-1].cumsum(axis=1)[:, ::-1] - known

        def step(tau: float) -> tuple[Floats, Floats]:
            keep = np.exp(-1.0 / tau)
            return (1 - keep) * keep**later * known, keep ** known.sum(axis=1)

        (fast, fast_left), (slow, slow_left) = step(settings.acute_tau), step(settings.chronic_tau)
        before = np.zeros(known.shape[0]) if loads.before is None else np.nan_to_num(loads.before)
        bound = (slow_left - fast_left) * before - self.values_on(workload, column)
        return Line(fast - slow, bound, np.maximum(1.0, workload.exp_chronic[:, as_of]))

    def sentence(self, figure: float, value: float) -> str:
        balance, floor = words.numbers(figure, value)
        return f"Balance is {balance} the morning after; the floor is {floor}."

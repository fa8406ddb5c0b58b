"""Acute and chronic load by five schools, spread, and when a figure is withheld.

All arrays are rows x days. A value on a day rests on that day and earlier ones only.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property

import numpy as np

from uvren.core.loads import DailyLoads
from uvren.core.windows import (
    Bools,
    Floats,
    Ints,
    decayed_sum,
    decayed_sum_over_known,
    rolling_max,
    shifted,
    window_view,
)


class School(StrEnum):
    """How acute and chronic load are defined for a ratio."""

    EWMA = "ewma"
    COUPLED = "coupled"
    UNCOUPLED = "uncoupled"


class Withheld(StrEnum):
    """Why a ratio is not given. The first that applies is the one that is said."""

    NO = ""
    HISTORY = "history"
    MISSING = "missing"
    ESTIMATED = "estimated"
    REBUILD = "rebuild"


@dataclass(frozen=True)
class Settings:
    """Windows in days, shares from 0 to 1. The defaults are the plain definitions, as ``uvren analyse`` writes them.

    ``known_days`` are the least of 28 that must be known for a ratio, ``spread_floor`` the least SD in the spread as a
    share of the mean, ``balance_days`` the history without which a balance is not spoken of. With
    ``estimated_weeks`` rules on weeks are silent too where much of them is estimated, not ratios alone.
    """

    acute_days: int = 7
    chronic_days: int = 28
    acute_tau: float = 7.0
    chronic_tau: float = 42.0
    history_days: int = 21
    rebuild_share: float = 0.25
    rebuild_days: int = 365
    estimated_share: float = 0.25
    known_days: int = 0
    spread_floor: float = 0.0
    balance_days: int = 0
    estimated_weeks: bool = True


DEFAULTS = Settings()
# As the app speaks of them.
APP = Settings(known_days=14, spread_floor=0.05, balance_days=28)


@dataclass(frozen=True)
class Carried:
    """What earlier days, which are left out, leave to the figures of the days that are kept.

    Parameters
    ----------
    weighted : mapping from a span to two float arrays of shape (rows,)
        :meth:`Workload.ewma_parts` on the evening before the first day.
    states : mapping from a time constant to a float array of shape (rows,)
    chronic : float array, shape (rows, columns)
        The base load of the first days, whose windows reach back further than what is kept.
    highest : float array, shape (rows, days)
        The highest base load of the days that are left out, as far as they are in the last year of each day.
    """

    weighted: Mapping[int, tuple[Floats, Floats]]
    states: Mapping[float, Floats]
    chronic: Floats
    highest: Floats

    def of_rows(self, rows: Ints) -> Carried:
        return Carried(
            {span: (total[rows], weight[rows]) for span, (total, weight) in self.weighted.items()},
            {tau: state[rows] for tau, state in self.states.items()},
            self.chronic[rows],
            self.highest[rows],
        )


@dataclass(frozen=True)
class Workload:
    """Every school's figures for the given loads, computed when first asked for.

    Undefined values are nan. The ratios are given as they come out; :attr:`withheld` says on which days
    they are not to be shown or acted on, and ``ratio_*`` columns of :meth:`columns` obey it.
    """

    loads: DailyLoads
    settings: Settings = DEFAULTS
    carried: Carried | None = None

    # Some of it -----------------------------------------------------------------------------------

    def of_last(self) -> Workload:
        """The same with the last days alone: as many as it takes for every figure of the last day to be the same.

        What is asked again and again of one day is asked of few days. Figures of the first days kept may be others.
        """
        settings, days = self.settings, self.loads.days
        kept = 2 * (settings.chronic_days + settings.acute_days) + 28
        cut = days - kept
        if cut <= 0 or self.carried is not None:
            return self
        spans, taus = (settings.acute_days, settings.chronic_days), (settings.acute_tau, settings.chronic_tau)
        values, known = self.loads.values[:, :cut], self.loads.known[:, :cut].astype(np.float64)
        weights = {span: (1.0 - 2.0 / (span + 1)) ** np.arange(cut - 1, -1, -1) for span in spans}
        base = np.where(np.isnan(self.chronic), -np.inf, self.chronic)[:, :cut]
        highest = np.maximum.accumulate(base[:, ::-1], axis=1)[:, ::-1]
        # The first day that is in the last year of each day kept.
        since = np.arange(cut, days) - settings.rebuild_days + 1
        within = np.where(since < cut, highest[:, np.clip(since, 0, cut - 1)], -np.inf)
        carried = Carried(
            {span: (values @ weight, known @ weight) for span, weight in weights.items()},
            {tau: self._state_on(cut, tau) for tau in taus},
            self.chronic[:, cut : cut + settings.chronic_days - 1],
            within,
        )
        loads = self.loads
        estimated = None if loads.estimated is None else loads.estimated[:, cut:]
        last = DailyLoads(loads.date_of(cut), loads.load[:, cut:], loads.start - cut, estimated, loads.before)
        return Workload(last, settings, carried)

    def of_rows(self, rows: Ints) -> Workload:
        """The same of some rows only, each as often as it is named."""
        carried = None if self.carried is None else self.carried.of_rows(rows)
        return Workload(self.loads.of_rows(rows), self.settings, carried)

    def with_last(self, load: Floats) -> Workload:
        """The same with another load on the last day, shape (rows,)."""
        last = self.loads.date_of(self.loads.days - 1)
        return Workload(self.loads.with_day(last, load), self.settings, self.carried)

    # Rolling means ------------------------------------------------------------------------------

    def _from(self, day_number: int, values: Floats) -> Floats:
        return np.where(self.loads.age >= day_number, values, np.nan)

    def _mean_of_known(self, days: int) -> Floats:
        known = self.loads.known_in(days)
        out = np.full(known.shape, np.nan)
        return np.divide(self.loads.sum_over(days), known, out=out, where=known > 0)

    @cached_property
    def acute(self) -> Floats:
        """Mean of the known days among the last 7."""
        return self._from(self.settings.acute_days, self._mean_of_known(self.settings.acute_days))

    @cached_property
    def chronic(self) -> Floats:
        """Mean of the known days among the last 28, from day 21 of the history."""
        found = self._from(self.settings.history_days, self._mean_of_known(self.settings.chronic_days))
        if self.carried is not None:
            found[:, : self.carried.chronic.shape[1]] = self.carried.chronic
        return found

    @cached_property
    def chronic_uncoupled(self) -> Floats:
        """Mean of the known days among d-27 ... d-7: the acute week left out."""
        lag = self.settings.acute_days
        span = self.settings.chronic_days - lag
        total = shifted(self.loads.sum_over(span), lag)
        known = shifted(self.loads.known_in(span), lag)
        out = np.full(known.shape, np.nan)
        mean = np.divide(total, known, out=out, where=known > 0)
        return self._from(self.settings.history_days, mean)

    # Exponentially weighted means (Williams et al. 2017) ------------------------------------------

    def ewma_parts(self, span: int) -> tuple[Floats, Floats]:
        """Weighted sum and sum of weights, ``sum (1-l)^i L[d-i]`` and ``sum (1-l)^i``, l = 2/(span+1)."""
        keep = 1.0 - 2.0 / (span + 1)
        total = decayed_sum(self.loads.values, keep)
        weight = decayed_sum(self.loads.known.astype(np.float64), keep)
        if self.carried is not None:
            fading = keep ** np.arange(1, self.loads.days + 1)
            before = self.carried.weighted[span]
            total, weight = (now + one[:, None] * fading for now, one in zip((total, weight), before, strict=True))
        return total, weight

    def _ewma(self, span: int) -> Floats:
        total, weight = self.ewma_parts(span)
        out = np.full(weight.shape, np.nan)
        return np.divide(total, weight, out=out, where=weight > 0)

    @cached_property
    def ewma_acute(self) -> Floats:
        return self._from(self.settings.acute_days, self._ewma(self.settings.acute_days))

    @cached_property
    def ewma_chronic(self) -> Floats:
        return self._from(self.settings.history_days, self._ewma(self.settings.chronic_days))

    # Two time constants (Banister et al. 1975) -----------------------------------------------------

    def _state(self, tau: float) -> Floats:
        keep = float(np.exp(-1.0 / tau))
        # Before the history the load is 0 and known, which leaves the state at its start of 0.
        known = self.loads.known | (self.loads.age <= 0)
        state = decayed_sum_over_known(self.loads.values * (1.0 - keep), known, keep)
        before = self.loads.before if self.carried is None else self.carried.states[tau]
        if before is None:
            return state
        # What was there before fades with every day that is known.
        faded = keep ** np.cumsum(self.loads.known, axis=-1)
        return np.asarray(state + np.nan_to_num(before)[:, None] * faded)

    def _state_on(self, column: int, tau: float) -> Floats:
        """The state on the evening before a day, shape (rows,)."""
        loads, keep = self.loads, float(np.exp(-1.0 / tau))
        out = loads.values[:, :column] @ ((1.0 - keep) * keep ** np.arange(column - 1, -1, -1))
        if loads.before is not None:
            out += np.nan_to_num(loads.before) * keep ** loads.known[:, :column].sum(axis=1)
        # A day that is not known leaves the state as it was.
        held = np.flatnonzero(loads.missing[:, :column].any(axis=1))
        if held.size:
            out[held] = self.of_rows(held)._state(tau)[:, column - 1]
        return np.asarray(out)

    @cached_property
    def exp_acute(self) -> Floats:
        return self._state(self.settings.acute_tau)

    @cached_property
    def exp_chronic(self) -> Floats:
        return self._state(self.settings.chronic_tau)

    @cached_property
    def balance(self) -> Floats:
        """Chronic minus acute state on the morning of the day: as the evening before left them."""
        return shifted(self.exp_chronic - self.exp_acute, 1)

    @cached_property
    def _found(self) -> dict[str, np.ndarray]:
        return {}

    def once(self, what: str, found: Callable[[], np.ndarray]) -> np.ndarray:
        """What several ask for, by a name; it is worked out for the first."""
        if what not in self._found:
            self._found[what] = found()
        return self._found[what]

    # Week on week ------------------------------------------------------------------------------------

    @cached_property
    def week_load(self) -> Floats:
        """Sum of the last 7 days, from day 7; undefined with a missing day among them."""
        week = self._from(7, self.loads.sum_over(7))
        return np.where(self.loads.missing_in(7) > 0, np.nan, week)

    @cached_property
    def week_change(self) -> Floats:
        before = shifted(self.week_load, 7, np.nan)
        out = np.full(before.shape, np.nan)
        return np.divide(self.week_load, before, out=out, where=before > 0) - 1.0

    # Spread (Foster 1998) -------------------------------------------------------------------------------

    @cached_property
    def monotony(self) -> Floats:
        """Mean over SD (n-1) of the 7 daily totals; undefined when they are all alike, unless the SD has a floor."""
        week = window_view(self.loads.values, 7)
        out = np.full(self.loads.load.shape, np.nan)
        mean, sd = week.mean(axis=-1), week.std(axis=-1, ddof=1)
        floor = self.settings.spread_floor * mean
        # Equal days may leave an SD of rounding errors.
        alike = week.max(axis=-1) == week.min(axis=-1)
        sd = np.where(alike, floor, np.maximum(sd, floor))
        return np.divide(mean, sd, out=out, where=~np.isnan(self.week_load) & (sd > 0))

    @cached_property
    def strain(self) -> Floats:
        return self.week_load * self.monotony

    # Ratios and when they are withheld ---------------------------------------------------------------------

    def ratio(self, school: School) -> Floats:
        """Acute over chronic by the school, not yet withheld; undefined when the base is 0."""
        acute, chronic = {
            School.EWMA: (self.ewma_acute, self.ewma_chronic),
            School.COUPLED: (self.acute, self.chronic),
            School.UNCOUPLED: (self.acute, self.chronic_uncoupled),
        }[school]
        out = np.full(acute.shape, np.nan)
        return np.divide(acute, chronic, out=out, where=chronic > 0)

    @cached_property
    def history_short(self) -> Bools:
        return self.loads.age < self.settings.history_days

    @cached_property
    def rebuilding(self) -> Bools:
        """The base load is 0, or under a quarter of its own highest in the last year."""
        highest = rolling_max(self.chronic, self.settings.rebuild_days)
        if self.carried is not None:
            highest = np.maximum(highest, self.carried.highest)
        base = np.nan_to_num(self.chronic)
        return (base <= 0) | (base < self.settings.rebuild_share * highest)

    def too_estimated(self, days: int) -> Bools:
        """More than a quarter of the load of the last ``days`` days is estimated."""
        return self.loads.estimated_share(days) > self.settings.estimated_share

    @cached_property
    def estimated_week(self) -> Bools:
        """The whole load of the last 7 days is estimated."""
        if not self.settings.estimated_weeks:
            return np.zeros(self.loads.load.shape, dtype=bool)
        return self.loads.estimated_share(7) > 1 - 1e-9

    @cached_property
    def hardly_known(self) -> Bools:
        """Fewer of the last 28 days are known than a ratio needs."""
        return self.loads.known_in(self.settings.chronic_days) < self.settings.known_days

    @cached_property
    def withheld(self) -> np.ndarray:
        """Reason for each day, an array of :class:`Withheld` values."""
        return np.select(
            [
                self.history_short,
                (self.loads.missing_in(7) > 0) | self.hardly_known,
                self.too_estimated(self.settings.chronic_days) | self.estimated_week,
                self.rebuilding,
            ],
            [Withheld.HISTORY, Withheld.MISSING, Withheld.ESTIMATED, Withheld.REBUILD],
            default=Withheld.NO,
        )

    @cached_property
    def is_withheld(self) -> Bools:
        return np.asarray(self.withheld != Withheld.NO)

    def shown_ratio(self, school: School) -> Floats:
        """The ratio where it may be shown, nan where it is withheld."""
        return np.where(self.is_withheld, np.nan, self.ratio(school))

    def columns(self) -> dict[str, np.ndarray]:
        """Every figure by its standard name, as ``uvren analyse`` writes them."""
        return {
            "load": self.loads.load,
            "acute": self.acute,
            "chronic": self.chronic,
            "chronic_uncoupled": self.chronic_uncoupled,
            "ewma_acute": self.ewma_acute,
            "ewma_chronic": self.ewma_chronic,
            "exp_acute": self.exp_acute,
            "exp_chronic": self.exp_chronic,
            "balance": self.balance,
            "week_load": self.week_load,
            "week_change": self.week_change,
            "monotony": self.monotony,
            "strain": self.strain,
            "ratio_coupled": self.shown_ratio(School.COUPLED),
            "ratio_uncoupled": self.shown_ratio(School.UNCOUPLED),
            "ratio_ewma": self.shown_ratio(School.EWMA),
            "withheld": self.withheld,
        }

"""What every rule of a limit can answer."""

from __future__ import annotations

from abc import ABC, abstractmethod
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import ClassVar, Self

import numpy as np

from uvren.core import words
from uvren.core.errors import BadLimit
from uvren.core.windows import Bools, Floats
from uvren.core.workload import Withheld, Workload

# A figure this close to its limit stands on it, not over it: sums of decimal fractions are not exact.
SLACK = 1e-7
# Two loads closer than this (in the channel's unit) are the same load.
TOLERANCE = 1e-7


class Unit(StrEnum):
    """What the number of a limit counts; says how a screen writes and reads it."""

    SHARE = "share"
    RATIO = "ratio"
    LOAD = "load"
    DAYS = "days"
    PLAIN = "plain"


@dataclass(frozen=True)
class Line:
    """A rule on one day as a line in the loads: ``(weights * loads).sum(axis=1) <= bound`` where it holds.

    Parameters
    ----------
    weights : float array, shape (rows, days)
        One for each day through the one it is of, 0 where the load of a day is not known.
    bound : float array, shape (rows,)
    scale : float array, shape (rows,)
        What an excess is a share of, in the unit of the bound.
    """

    weights: Floats
    bound: Floats
    scale: Floats


@dataclass(frozen=True)
class Rule(ABC):
    """A limit's rule with its value.

    Parameters
    ----------
    value : float array
        Broadcasts to rows x days, so that each athlete and each day has the value then in force;
        nan where the limit is not in force.
    """

    value: Floats

    code: ClassVar[str]
    title: ClassVar[str]
    unit: ClassVar[Unit]
    lowest: ClassVar[float]
    highest: ClassVar[float]
    source: ClassVar[str]
    floor: ClassVar[bool] = False
    bends_corridor: ClassVar[bool] = False
    # The highest power of the load of one day in its excess.
    degree: ClassVar[int] = 2
    # Whether it comes with a plan of somebody's and nobody sets it by itself.
    of_plan: ClassVar[bool] = False
    # Whether it compares with work done before: on the way back there is none to compare with, and it rests.
    compares: ClassVar[bool] = False

    def __post_init__(self) -> None:
        values = np.asarray(self.value, dtype=np.float64)
        object.__setattr__(self, "value", values)
        real = values[~np.isnan(values)]
        if real.size and not ((real >= self.lowest) & (real <= self.highest)).all():
            raise BadLimit(
                f"{self.title}: the value must be between {self.lowest:g} and {self.highest:g}",
                field="value",
            )

        if self.unit is Unit.DAYS and (real % 1 != 0).any():
            raise BadLimit(f"{self.title}: the value must be a whole number of days", field="value")

    @property
    def bound(self) -> Floats:
        """The value with the slack within which a figure still holds."""
        return self.value - SLACK if self.floor else self.value + SLACK

    @property
    def key(self) -> str:
        """Tells this rule from others of its kind that stand beside it."""
        return self.code

    @abstractmethod
    def figure(self, workload: Workload) -> Floats:
        """The number the rule looks at, rows x days, nan where undefined."""

    @abstractmethod
    def silent(self, workload: Workload) -> np.ndarray:
        """Why the rule does not speak on a day (:class:`Withheld`), empty where it does."""

    @abstractmethod
    def excess(self, workload: Workload) -> Floats:
        """Above 0 where the rule is broken, rows x days.

        In the load of any one day it is a polynomial of ``degree`` at most, or (rules on days) a step at 0:
        that is what makes room exact.
        """

    @abstractmethod
    def load_left(self, workload: Workload) -> Floats:
        """Largest load that may be added on each day, negative where the rule is broken already.

        rows x days; takes the days before as they stand and no day after. inf where nothing stops it.
        """

    def line(self, workload: Workload, column: int, as_of: int) -> Line | None:
        """What :meth:`excess` is of the loads through a day, without slack; None where that is no line.

        The days that are known, and for the scale the loads, are those of ``workload``, of which those after the column
        ``as_of`` are planned.
        """
        return None

    @abstractmethod
    def sentence(self, figure: float, value: float) -> str:
        """What the figure says against the limit, with its numbers."""

    def sentence_at(self, workload: Workload, row: int, column: int, of: int | None = None) -> str:
        """What the rule says of a row on a day, with its numbers; ``of`` is the day whose value it is held against."""
        value = self.value_at(workload, row, column if of is None else of)
        return self.sentence(float(self.figure(workload)[row, column]), value)

    def values_on(self, workload: Workload, column: int) -> Floats:
        """The value of each row on a day."""
        return np.broadcast_to(self.value, workload.loads.load.shape)[:, column]

    def value_at(self, workload: Workload, row: int, column: int) -> float:
        return float(np.broadcast_to(self.value, workload.loads.load.shape)[row, column])

    def at(self, rows: np.ndarray | None = None, columns: np.ndarray | None = None) -> Self:
        """The rule of some rows and days only."""
        return self.with_value(part(self.value, rows, columns))

    def said(self, value: float) -> str:
        """A value or a figure as a screen writes it."""
        if self.unit is Unit.SHARE:
            return words.percent(value).replace("-", "−")
        if self.unit is Unit.DAYS:
            return words.count(int(value), "day")
        return words.number(value) if self.unit is Unit.LOAD else f"{round(value, 2):g}".replace("-", "−")

    def with_value(self, value: Floats) -> Self:
        """The same rule with other values."""
        return replace(self, value=value)

    def speaks(self, workload: Workload) -> Bools:
        """Where the rule is in force and its figure can be trusted."""
        in_force = ~np.isnan(np.broadcast_to(self.value, workload.loads.load.shape))
        return in_force & workload.once(f"speaks {self.key}", lambda: self.reasons(workload) == Withheld.NO)

    def reasons(self, workload: Workload) -> np.ndarray:
        """:meth:`silent`, worked out once for a workload: it is the same whatever the value of the limit."""
        return workload.once(f"silent {self.key}", lambda: self.silent(workload))

    def room(self, workload: Workload) -> Floats:
        """:meth:`load_left` where the rule speaks, inf elsewhere."""
        return np.where(self.speaks(workload), self.load_left(workload), np.inf)

    def broken(self, workload: Workload) -> Bools:
        """Where the rule speaks and does not hold."""
        with np.errstate(invalid="ignore"):
            return self.speaks(workload) & (self.excess(workload) > 0)


def part(values: Floats, rows: np.ndarray | None, columns: np.ndarray | None) -> Floats:
    """Some rows and columns of values that may be one for all of them."""
    if rows is not None and values.ndim == 2 and values.shape[0] > 1:
        values = values[rows]
    if columns is not None and values.ndim == 2 and values.shape[1] > 1:
        values = values[:, columns]
    return values


def last_days(workload: Workload, column: int, days: int, skip: int = 0) -> Floats:
    """1 on each known day among the ``days`` through a day, the last ``skip`` of them left out, else 0."""
    known = workload.loads.known[:, : column + 1].astype(np.float64)
    back = np.arange(column, -1, -1)
    return np.where((back >= skip) & (back < days), known, 0.0)


def silent_week(workload: Workload, history: int, days: int) -> np.ndarray:
    """A rule on week sums is silent before ``history`` days, with a day missing in ``days`` or too much estimated."""
    return np.select(
        [
            workload.loads.age < history,
            workload.loads.missing_in(days) > 0,
            workload.too_estimated(days) & workload.settings.estimated_weeks,
        ],
        [Withheld.HISTORY, Withheld.MISSING, Withheld.ESTIMATED],
        default=Withheld.NO,
    )


def never_silent(workload: Workload) -> np.ndarray:
    """Before the history begins there is nothing to judge; after that the rule always speaks."""
    return np.where(workload.loads.age < 1, Withheld.HISTORY, Withheld.NO)

"""A mixed-integer linear program as it is written down, and its solution by HiGHS (Huangfu & Hall 2018)."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

import numpy as np

from uvren.core.windows import Floats

Terms = Mapping[int, float]
INTEGRAL, FREE = 1, 0
# Values closer than this to a whole number are that number.
WHOLE = 1e-6


@dataclass(frozen=True)
class Solved:
    """What came out: the values, whether they are proven best, and the bound that is proven."""

    values: Floats
    value: float
    bound: float
    optimal: bool


class NoneHolds(Exception):
    """No values hold every row."""


class OutOfTime(Exception):
    """Time was up before any values were found."""


@dataclass
class Milp:
    """Variables and rows, added one by one; rows are ``sum of terms <= bound``."""

    low: list[float] = field(default_factory=list)
    high: list[float] = field(default_factory=list)
    integral: list[int] = field(default_factory=list)
    _row: list[int] = field(default_factory=list)
    _column: list[int] = field(default_factory=list)
    _factor: list[float] = field(default_factory=list)
    bounds: list[float] = field(default_factory=list)

    def variable(self, low: float = 0.0, high: float = np.inf, *, integral: bool = False) -> int:
        self.low.append(low)
        self.high.append(high)
        self.integral.append(INTEGRAL if integral else FREE)
        return len(self.low) - 1

    def yes_or_no(self, high: float = 1.0) -> int:
        return self.variable(0.0, high, integral=True)

    def at_most(self, terms: Terms | Iterable[tuple[int, float]], bound: float) -> None:
        number = len(self.bounds)
        for column, factor in terms.items() if isinstance(terms, Mapping) else terms:
            self._row.append(number)
            self._column.append(column)
            self._factor.append(factor)
        self.bounds.append(bound)

    def most(self, terms: Terms) -> float:
        """The most that terms can come to within the bounds of their variables."""
        return sum(factor * (self.high[column] if factor > 0 else self.low[column]) for column, factor in terms.items())

    def equal(self, terms: Terms, bound: float) -> None:
        self.at_most(terms, bound)
        self.at_most({column: -factor for column, factor in terms.items()}, -bound)

    def solve(self, objective: Terms, seconds: float = np.inf) -> Solved:
        """The values with the least objective that are found within so many seconds. Raises NoneHolds, OutOfTime."""
        from scipy.optimize import Bounds, LinearConstraint, milp
        from scipy.sparse import csr_array

        costs = np.zeros(len(self.low))
        for column, factor in objective.items():
            costs[column] = factor
        shape = (len(self.bounds), len(self.low))
        rows = csr_array((self._factor, (self._row, self._column)), shape=shape)
        if seconds <= 0:
            raise OutOfTime
        found = milp(
            costs,
            integrality=np.array(self.integral),
            bounds=Bounds(np.array(self.low), np.array(self.high)),
            constraints=LinearConstraint(rows, -np.inf, np.array(self.bounds)) if self.bounds else None,
            options={"mip_rel_gap": 1e-7, "time_limit": seconds},
        )
        if found.status == 2:
            raise NoneHolds
        if found.x is None:
            raise OutOfTime
        whole = np.round(found.x)
        near = (np.array(self.integral) == INTEGRAL) & (np.abs(found.x - whole) < WHOLE * 10)
        bound = found.mip_dual_bound
        return Solved(
            np.where(near, whole, found.x), float(found.fun),
            float(found.fun if bound is None else bound), found.status == 0,
        )  # fmt: skip

"""Fitness tests as the rules of notices look at them: results, bars and sides, as known on a day."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import trials as rules
from uvren.core.day import TestSeries
from uvren.core.trials import Better
from uvren.store import queries
from uvren.store.models import FitnessResult, FitnessTest, Squad


def definitions(db: DbSession, squad: Squad) -> list[FitnessTest]:
    return queries.squad.tests_of(db, squad.id)


@dataclass(frozen=True)
class Bars:
    """Typical error and smallest worthwhile change of a test, nan where unknown, and what the error rests on."""

    error: float
    worthwhile: float
    basis: str


def bars(test: FitnessTest, rows: Sequence[FitnessResult]) -> Bars:
    """As set, else from the results that are there: between days, or within a day where nothing else is known."""
    error, basis = float("nan") if test.typical_error is None else test.typical_error, "as set"
    if test.typical_error is None:
        own: dict[tuple[int, str], dict[date, float]] = defaultdict(dict)
        for row in rows:
            own[row.athlete_id, row.side][row.day] = row.value
        error, basis = (
            rules.error_between_days([[days[day] for day in sorted(days)] for days in own.values()]),
            "between days",
        )
        if np.isnan(error) and test.trials > 1 and rows:
            grid = np.full((len(rows), test.trials), np.nan)
            for i, row in enumerate(rows):
                told = [np.nan if one is None else one for one in row.trials][: test.trials]
                grid[i, : len(told)] = told
            error, basis = rules.error_within_day(grid, test.combine), "within a day"
    worthwhile = float("nan") if test.worthwhile is None else test.worthwhile
    if test.worthwhile is None:
        latest = {(row.athlete_id, row.side): row.value for row in rows}
        worthwhile = rules.smallest_worthwhile(np.array(list(latest.values())))
    return Bars(error, worthwhile, "" if np.isnan(error) else basis)


def differences(own: Mapping[tuple[int, str], Sequence[FitnessResult]], athlete: int, better: Better) -> np.ndarray:
    """Side differences of every test with both sides, oldest first; positive where the left is the stronger one."""
    return _differing(own, athlete, better)[1]


def _differing(
    own: Mapping[tuple[int, str], Sequence[FitnessResult]], athlete: int, better: Better
) -> tuple[list[date], np.ndarray]:
    left, right = ({row.day: row.value for row in own.get((athlete, side), ())} for side in SIDES)
    days = [day for day in sorted(left.keys() & right.keys()) if left[day] > 0 and right[day] > 0]
    found = [rules.asymmetry(left[day], right[day], better) for day in days]
    return days, np.array([-one.percent if one.stronger == "right" else one.percent for one in found])


def test_series(db: DbSession, squad: Squad, row_of: Mapping[int, int], as_of: date) -> tuple[TestSeries, ...]:
    """Every test of the squad as the rules of notices look at it: the year through a day, by row."""
    tests = {one.id: one for one in definitions(db, squad)}
    # A morning gone by knows what was entered by the end of its day.
    end = datetime.combine(as_of + timedelta(days=1), time(0), ZoneInfo(squad.time_zone))
    found = queries.squad.test_results_between(db, list(tests), as_of - timedelta(days=NORM_DAYS), as_of, end)
    by_test: dict[int, list[FitnessResult]] = defaultdict(list)
    for result in found:
        by_test[result.test_id].append(result)
    return tuple(_as_series(test, by_test[test.id], row_of) for test in tests.values() if by_test[test.id])


@dataclass(frozen=True)
class Sides:
    """The side differences of somebody in a test, oldest first, signed by side, with their days.

    ``matters`` says that they are to be looked into.
    """

    name: str
    days: list[date]
    percents: np.ndarray

    @property
    def matters(self) -> bool:
        return rules.side_matters(self.percents)

    def until(self, day: date) -> int:
        """How many there were up to a day."""
        return sum(one <= day for one in self.days)


def sides_of(db: DbSession, squad: Squad, athletes: Collection[int], as_of: date) -> dict[tuple[int, str], Sides]:
    """The side differences of these people by (athlete, code of the test), the year through a day."""
    tests = {one.id: one for one in definitions(db, squad) if one.sides}
    end = datetime.combine(as_of + timedelta(days=1), time(0), ZoneInfo(squad.time_zone))
    own: dict[tuple[int, int], dict[tuple[int, str], list[FitnessResult]]] = defaultdict(lambda: defaultdict(list))
    for row in queries.squad.test_results_between(db, list(tests), as_of - timedelta(days=NORM_DAYS), as_of, end):
        if row.athlete_id in athletes:
            own[row.athlete_id, row.test_id][row.athlete_id, row.side].append(row)
    out = {}
    for (athlete, test_id), rows in own.items():
        test = tests[test_id]
        days, percents = _differing(rows, athlete, test.better)
        if days:
            out[athlete, test.code] = Sides(test.name, days, percents)
    return out


def _as_series(test: FitnessTest, rows: Sequence[FitnessResult], row_of: Mapping[int, int]) -> TestSeries:
    found = bars(test, rows)
    error, worthwhile = found.error, found.worthwhile
    days: dict[int, dict[date, list[float]]] = defaultdict(lambda: defaultdict(list))
    own: dict[tuple[int, str], list[FitnessResult]] = defaultdict(list)
    for result in rows:
        if result.athlete_id in row_of:
            days[row_of[result.athlete_id]][result.day].append(result.value)
            own[result.athlete_id, result.side].append(result)
    sides = {}
    for athlete, row in row_of.items() if test.sides else ():
        history = differences(own, athlete, test.better)
        if rules.side_matters(history):
            sides[row] = (abs(float(history[-1])), "left" if history[-1] > 0 else "right")
    return TestSeries(
        code=test.code,
        name=test.name,
        unit=test.unit,
        better=test.better,
        error=error,
        worthwhile=worthwhile,
        # Of two sides their mean stands for the test as a whole.
        results={
            row: [(day.toordinal(), float(np.mean(values))) for day, values in by_day.items()]
            for row, by_day in days.items()
        },
        sides=sides,
        jump=test.jump,
    )


@dataclass(frozen=True)
class TestLine:
    """Results as (day, value) pairs with their typical error."""

    code: str
    name: str
    unit: str
    error: float | None
    days: list[date]
    values: list[float]


def test_lines(found: Sequence[TestSeries], row: int) -> list[TestLine]:
    """The results of one athlete, test by test."""
    out = []
    for series in found:
        results = series.results.get(row, ())
        if results:
            error = None if np.isnan(series.error) else series.error
            days = [date.fromordinal(day) for day, _ in results]
            out.append(TestLine(series.code, series.name, series.unit, error, days, [value for _, value in results]))
    return out


SIDES = ("left", "right")


# Results this far back make up the typical error, the spread between athletes and the own norms.
NORM_DAYS = 365

"""A day of testing: every athlete with the results of the day against their own earlier ones."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import trials as rules
from uvren.core.trials import Asymmetry, Better, Change
from uvren.services.day.fitness import SIDES, bars, differences
from uvren.services.squad.fitness_results import trials_since
from uvren.store import queries
from uvren.store.models import FitnessResult, FitnessTest, Squad
from uvren.store.queries.squad import Member


@dataclass(frozen=True)
class SideResult:
    """A side of an athlete on a testing day; ``last`` and ``last_day`` are the result before it."""

    side: str
    result: FitnessResult | None
    last: float | None
    last_day: date | None
    change: Change


@dataclass(frozen=True)
class Row:
    """An athlete on a testing day.

    ``rank`` is that of their better side; ``matters`` says that the difference of the sides is to be looked into.
    """

    member: Member
    sides: tuple[SideResult, ...]
    rank: int | None
    asymmetry: Asymmetry | None
    matters: bool


@dataclass(frozen=True)
class TestingDay:
    test: FitnessTest
    day: date
    typical_error: float | None
    error_basis: str
    worthwhile: float | None
    days: tuple[date, ...]
    rows: tuple[Row, ...]


def testing_day(db: DbSession, squad: Squad, test: FitnessTest, day: date) -> TestingDay:
    """Everyone on a testing day: their trials, against their own last ones and the bars of the test."""
    rows = trials_since(db, test, day)
    found = bars(test, rows)
    error, worthwhile = found.error, found.worthwhile
    own: dict[tuple[int, str], list[FitnessResult]] = defaultdict(list)
    for row in rows:
        own[row.athlete_id, row.side].append(row)
    shown = []
    for member in queries.squad.members(db, squad.id, day):
        sides = tuple(
            _side(side, own[member.athlete_id, side], day, test, error, worthwhile)
            for side in (SIDES if test.sides else ("",))
        )
        shown.append((member, sides))
    best = {member.athlete_id: _best(sides, test.better) for member, sides in shown}
    order = sorted((value for value in best.values() if value is not None), reverse=test.better is Better.HIGHER)
    days = queries.squad.test_days(db, test.id)
    out = []
    for member, sides in shown:
        value = best[member.athlete_id]
        history = differences(own, member.athlete_id, test.better) if test.sides else np.array([])
        out.append(
            Row(
                member,
                sides,
                None if value is None else order.index(value) + 1,
                _asymmetry(sides, test.better) if test.sides else None,
                rules.side_matters(history),
            )
        )
    return TestingDay(
        test=test,
        day=day,
        typical_error=None if np.isnan(error) else error,
        error_basis=found.basis,
        worthwhile=None if np.isnan(worthwhile) else worthwhile,
        days=tuple(days),
        rows=tuple(out),
    )


def _side(
    side: str, own: Sequence[FitnessResult], day: date, test: FitnessTest, error: float, worthwhile: float
) -> SideResult:
    result = next((row for row in own if row.day == day), None)
    before = [row for row in own if row.day < day]
    last = before[-1] if before else None
    said = Change.UNKNOWN
    if result is not None and last is not None:
        said = rules.change(result.value, last.value, error, worthwhile, test.better)
    return SideResult(side, result, last.value if last else None, last.day if last else None, said)


def _best(sides: Sequence[SideResult], better: Better) -> float | None:
    values = [side.result.value for side in sides if side.result is not None]
    if not values:
        return None
    return max(values) if better is Better.HIGHER else min(values)


def _asymmetry(sides: Sequence[SideResult], better: Better) -> Asymmetry | None:
    values = [side.result.value for side in sides if side.result is not None]
    return rules.asymmetry(values[0], values[1], better) if len(values) == 2 and min(values) > 0 else None

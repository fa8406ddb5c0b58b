"""Results of fitness tests: one trial and more by athlete and side, and the anchors that follow from them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import trials as rules
from uvren.core.windows import Floats
from uvren.services.day.fitness import NORM_DAYS, SIDES, bars
from uvren.services.errors import Invalid, NotFound, Stale
from uvren.services.squad.anchors import NewAnchor, set_anchor, withdraw_anchor
from uvren.services.squad.fitness_tests import MOST_VALUE
from uvren.services.stamp import Stamp
from uvren.services.versions import keep_earlier
from uvren.store import queries
from uvren.store.models import FitnessResult, FitnessTest, Source, Squad
from uvren.store.types import new_ulid


@dataclass(frozen=True)
class NewResult:
    """Trials of an athlete on one side ("" where the test has none). No trials at all takes the result away.

    ``version`` is the one that was seen, None where there was none. ``sure`` keeps a value that looks unlikely.
    """

    athlete_id: int
    trials: Sequence[float | None]
    side: str = ""
    version: int | None = None
    sure: bool = False
    more: Mapping[str, float] = field(default_factory=dict)


def record(
    db: DbSession,
    squad: Squad,
    test: FitnessTest,
    day: date,
    results: Sequence[NewResult],
    *,
    stamp: Stamp,
    today: date,
    source: Source = Source.STAFF,
) -> None:
    """Write results of a day, all or nothing. Does not commit. The same ones sent again change nothing.

    Raises Invalid with the field at fault; for an unlikely value nobody is sure of its ``extra`` says ``unlikely``.
    Raises Stale, with both versions, for a result that was changed since.
    """
    if day > today:
        raise Invalid("A test is entered on its day, or later.", field="day")
    known = queries.squad.members_ever(db, squad.id)
    there = {(row.athlete_id, row.side): row for row in queries.squad.results_for_update(db, test.id, day)}
    before = _own_values(db, test, day)
    error = bars(test, trials_since(db, test, day)).error
    for i, new in enumerate(results):
        where = f"results.{i}"
        _check(test, new, known, where)
        standing = there.get((new.athlete_id, new.side))
        done = [None if value is None else float(value) for value in new.trials]
        if standing is not None and standing.trials == done:
            continue
        if standing is not None and new.version != standing.version:
            both = {"yours": {"trials": done}, "theirs": {"trials": standing.trials, "version": standing.version}}
            raise Stale("Someone changed this result in the meantime.", field=where, extra=both)
        if standing is not None:
            keep_earlier(db, squad.id, "result", standing.id, standing.version, {"trials": standing.trials},
                         athlete_id=standing.athlete_id, stamp=stamp)  # fmt: skip
        if all(value is None for value in done):
            if standing is not None:
                db.delete(standing)
                _anchor(db, squad, test, new.athlete_id, day, None, where, stamp=stamp, today=today)
            continue
        _check_likely(test, done, None if new.sure else before[new.athlete_id, new.side], error, where)
        array = np.array([[np.nan if value is None else value for value in done]])
        stands = float(rules.combined(array, test.combine, test.better)[0])
        values = {
            "trials": done,
            "value": stands,
            "more": dict(new.more),
            "sure": new.sure,
            "source": source,
            "entered_by": stamp.by,
            "entered_at": stamp.now,
        }
        if standing is None:
            key = {"id": new_ulid(), "test_id": test.id, "athlete_id": new.athlete_id, "day": day, "side": new.side}
            db.add(FitnessResult(**key, **values, version=1))
        else:
            for name, kept in (values | {"version": standing.version + 1}).items():
                setattr(standing, name, kept)
        _anchor(db, squad, test, new.athlete_id, day, stands, where, stamp=stamp, today=today)
    db.flush()


def _check(test: FitnessTest, new: NewResult, known: Collection[int], where: str) -> None:
    if new.athlete_id not in known:
        raise NotFound("There is no such athlete in this squad.", field=f"{where}.athlete_id")
    if new.side not in (SIDES if test.sides else ("",)):
        said = "Say which side: left or right." if test.sides else "This test has no sides."
        raise Invalid(said, field=f"{where}.side")
    if len(new.trials) > test.trials:
        raise Invalid(f"This test has {test.trials} trials.", field=f"{where}.trials")


def unlikely(db: DbSession, test: FitnessTest, day: date, values: Sequence[tuple[int, str, float | None]]) -> list[str]:
    """What is to be said of each (athlete, side, value) before it is taken: nothing where it is likely enough."""
    before, error = _own_values(db, test, day), bars(test, trials_since(db, test, day)).error
    out = []
    for athlete, side, value in values:
        try:
            _check_likely(test, [value], before[athlete, side], error, "")
            out.append("")
        except Invalid as wrong:
            out.append(wrong.detail)
    return out


def _check_likely(
    test: FitnessTest, done: Sequence[float | None], own: Floats | None, error: float, where: str
) -> None:
    """Raises Invalid for what is no result, and for one far from their own; None for who is sure of it."""
    for at, value in enumerate(done):
        if value is None:
            continue
        if not -MOST_VALUE <= value <= MOST_VALUE:
            raise Invalid("This is no result of a test.", field=f"{where}.trials.{at}")
        if own is not None and rules.unlikely(value, own, error):
            raise Invalid(
                f"{value:g} {test.unit} is far from their own {own.min():g} to {own.max():g}. Is it right?",
                field=f"{where}.trials.{at}",
                extra={"unlikely": True},
            )


def _anchor(
    db: DbSession,
    squad: Squad,
    test: FitnessTest,
    athlete_id: int,
    day: date,
    value: float | None,
    where: str,
    *,
    stamp: Stamp,
    today: date,
) -> None:
    """Let a result be the athlete's anchor from its day on, in place of what this test gave that day before."""
    if test.anchor is None:
        return
    for old in queries.squad.anchors_from(db, athlete_id, test.anchor, day, test.name):
        withdraw_anchor(db, squad, old.id, stamp=stamp, today=today)
    if value is None:
        return
    try:
        new = NewAnchor(athlete_id, test.anchor, value, None, day, test.name)
        set_anchor(db, squad, new, stamp=stamp, today=today)
    except Invalid as error:
        raise Invalid(str(error), field=f"{where}.trials.0") from error


def trials_since(db: DbSession, test: FitnessTest, day: date) -> Sequence[FitnessResult]:
    """Results of the year up to and with a day, oldest first."""
    return queries.squad.results_between(db, test.id, day - timedelta(days=NORM_DAYS), day)


def _own_values(db: DbSession, test: FitnessTest, day: date) -> dict[tuple[int, str], np.ndarray]:
    out: dict[tuple[int, str], list[float]] = defaultdict(list)
    for row in trials_since(db, test, day - timedelta(days=1)):
        out[row.athlete_id, row.side].append(row.value)
    return defaultdict(lambda: np.array([]), {key: np.array(values) for key, values in out.items()})


def bars_on(db: DbSession, test: FitnessTest, day: date) -> tuple[float | None, float | None]:
    """Typical error and smallest worthwhile change as of a day; None where there is too little to say."""
    found = bars(test, trials_since(db, test, day))
    error, worthwhile = (None if np.isnan(bar) else bar for bar in (found.error, found.worthwhile))
    return error, worthwhile


def series(db: DbSession, squad: Squad, test: FitnessTest, athlete_id: int) -> Sequence[FitnessResult]:
    """All results of an athlete, oldest first. Raises NotFound."""
    if athlete_id not in queries.squad.members_ever(db, squad.id):
        raise NotFound("There is no such athlete in this squad.")
    return queries.squad.results_of(db, test.id, athlete_id)

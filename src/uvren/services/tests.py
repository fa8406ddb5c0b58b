"""Tests of a squad: definitions, a testing day, what changed, and sides."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from uvren.core import trials as rules
from uvren.core.day import TestSeries
from uvren.core.trials import Asymmetry, Better, Change, Combine
from uvren.services import audit
from uvren.services.anchors import MEANINGS, NewAnchor, set_anchor, withdraw_anchor
from uvren.services.errors import Invalid, NotFound, Stale
from uvren.store import queries
from uvren.store.models import Anchor, AnchorKind, Source, Squad, TestDefinition, TestResult
from uvren.store.queries import Member
from uvren.store.types import new_ulid

SIDES = ("left", "right")
# Results this far back make up the typical error, the spread between athletes and the own norms.
NORM_DAYS = 365
MOST_VALUE = 100_000.0


@dataclass(frozen=True)
class Draft:
    """A test as someone wants it. Bars that are None are worked out from what was measured."""

    name: str
    unit: str
    better: Better = Better.HIGHER
    trials: int = 3
    sides: bool = False
    combine: Combine = Combine.BEST
    typical_error: float | None = None
    worthwhile: float | None = None
    protocol: str | None = None
    anchor: AnchorKind | None = None


_STEPS = "Steps of 4 min or a ramp; the result is the athlete's anchor from that day on."

# What a squad begins with; it changes, adds and leaves out as it likes.
SHIPPED: tuple[Draft, ...] = (
    Draft("Countermovement jump, height", "cm", protocol="Hands on the hips, stand still, dip and jump. Plate or mat."),
    Draft("Countermovement jump, reactive index", "m/s", protocol="Height by impulse / time to take-off."),
    Draft("Drop jump, reactive index", "m/s", protocol="From 30 cm, as short a contact as possible."),
    Draft("Isometric squat", "N", sides=True, combine=Combine.MEAN, protocol="Five seconds against the bar, each leg."),
    Draft("Isometric shoulder rotation out", "N", sides=True, protocol="Lying, elbow at 90°."),
    Draft("Shoulder rotation in, range", "°", trials=2, sides=True, combine=Combine.MEAN),
    Draft("Ankle to the wall", "cm", trials=2, sides=True, combine=Combine.MEAN, protocol="Knee to it, heel down."),
    Draft("Sprint 5 m", "s", Better.LOWER, 2),
    Draft("Sprint 30 m", "s", Better.LOWER, 2),
    Draft("Throw speed", "km/h"),
    Draft("Back squat, repetition maximum", "kg", trials=1),
    Draft("Bench press, repetition maximum", "kg", trials=1),
    Draft("Running test, second threshold", "km/h", trials=1, protocol="Steps of 4 min or a ramp."),
    Draft("Step test, first threshold", "/min", trials=1, protocol=_STEPS, anchor=AnchorKind.THRESHOLD_1),
    Draft("Step test, second threshold", "/min", trials=1, protocol=_STEPS, anchor=AnchorKind.THRESHOLD_2),
    Draft("Step test, highest heart rate", "/min", trials=1, protocol=_STEPS, anchor=AnchorKind.HR_MAX),
    Draft("Questionnaire on the knee", "points", trials=1, combine=Combine.MEAN),
)


def _check(draft: Draft) -> None:
    if not draft.name.strip():
        raise Invalid("A test has a name.", field="name")
    if not draft.unit.strip():
        raise Invalid("A test has a unit.", field="unit")
    if not 1 <= draft.trials <= 10:
        raise Invalid("A test has 1 to 10 trials.", field="trials")
    for name in ("typical_error", "worthwhile"):
        value = getattr(draft, name)
        if value is not None and not 0 <= value <= MOST_VALUE:
            raise Invalid("This is a number above 0, in the unit of the test.", field=name)
    if draft.anchor is not None:
        meaning = MEANINGS[draft.anchor]
        if meaning.words or draft.unit.strip() != meaning.unit:
            raise Invalid(f"{meaning.name} is given in {meaning.unit or 'words'}, this test in {draft.unit}.",
                          field="anchor")  # fmt: skip
        if draft.sides:
            raise Invalid("A test of two sides gives two values; an anchor is one.", field="anchor")


def definitions(db: DbSession, squad: Squad) -> list[TestDefinition]:
    query = select(TestDefinition).where(TestDefinition.squad_id == squad.id, TestDefinition.withdrawn_at.is_(None))
    return list(db.scalars(query.order_by(TestDefinition.rank, TestDefinition.id)))


def find_test(db: DbSession, squad: Squad, code: str) -> TestDefinition:
    """Raises NotFound."""
    found = next((one for one in definitions(db, squad) if one.code == code), None)
    if found is None:
        raise NotFound("There is no such test in this squad.")
    return found


def _ever(db: DbSession, squad: Squad, code: str) -> TestDefinition:
    """A test, on the list or left out. Raises NotFound."""
    where = (TestDefinition.squad_id == squad.id, TestDefinition.code == code)
    found = db.scalar(select(TestDefinition).where(*where))
    if found is None:
        raise NotFound("There is no such test in this squad.")
    return found


def save_test(
    db: DbSession, squad: Squad, draft: Draft, *, code: str | None, by: int | None, now: datetime
) -> TestDefinition:
    """Make a test or change one; one that was left out is on the list again. Does not commit.

    Unit, sides and which way is better of a test that has results stay: a different test is a new one. Raises Invalid
    with the field at fault, NotFound.
    """
    _check(draft)
    there = definitions(db, squad)
    if any(one.name.lower() == draft.name.strip().lower() and one.code != code for one in there):
        raise Invalid("There is a test of this name already.", field="name")
    if code is None:
        found = TestDefinition(squad_id=squad.id, code=_new_code(db, squad, draft.name), rank=len(there))
        db.add(found)
    else:
        found = _ever(db, squad, code)
        found.withdrawn_at = None
        kept = db.scalar(select(TestResult.id).where(TestResult.test_id == found.id).limit(1)) is not None
        for name in ("unit", "sides", "better"):
            if kept and getattr(found, name) != getattr(draft, name):
                raise Invalid("There are results in this already; make another test instead.", field=name)
    for name, value in vars(draft).items():
        setattr(found, name, value.strip() if name in ("name", "unit") else value)
    found.set_by, found.set_at = by, now
    audit.note(db, "test_set", f"test:{found.code}", by=by, now=now, squad_id=squad.id, name=draft.name)
    db.flush()
    return found


def _new_code(db: DbSession, squad: Squad, name: str) -> str:
    codes = set(db.scalars(select(TestDefinition.code).where(TestDefinition.squad_id == squad.id)))
    stem = re.sub(r"[^a-z0-9]+", "_", name.strip().lower()).strip("_")[:36] or "test"
    return next(code for n in range(1, 1000) if (code := stem if n == 1 else f"{stem}_{n}") not in codes)


def leave_out(db: DbSession, squad: Squad, code: str, *, by: int, now: datetime) -> None:
    """Take a test off the list; its results are kept. Does not commit."""
    found = find_test(db, squad, code)
    found.withdrawn_at = now
    audit.note(db, "test_left_out", f"test:{code}", by=by, now=now, squad_id=squad.id)


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
    test: TestDefinition,
    day: date,
    results: Sequence[NewResult],
    *,
    by: int | None,
    now: datetime,
    today: date,
    source: Source = Source.STAFF,
) -> None:
    """Write results of a day, all or nothing. Does not commit. The same ones sent again change nothing.

    Raises Invalid with the field at fault; for an unlikely value nobody is sure of its ``extra`` says ``unlikely``.
    Raises Stale, with both versions, for a result that was changed since.
    """
    if day > today:
        raise Invalid("A test is entered on its day, or later.", field="day")
    known = queries.members_ever(db, squad.id)
    rows = db.scalars(select(TestResult).where(TestResult.test_id == test.id, TestResult.day == day).with_for_update())
    there = {(row.athlete_id, row.side): row for row in rows}
    before = _own_values(db, test, day)
    error = bars(test, _trials_since(db, test, day)).error
    for i, new in enumerate(results):
        where = f"results.{i}"
        if new.athlete_id not in known:
            raise NotFound("There is no such athlete in this squad.", field=f"{where}.athlete_id")
        if new.side not in (SIDES if test.sides else ("",)):
            raise Invalid("Say which side: left or right." if test.sides else "This test has no sides.",
                          field=f"{where}.side")  # fmt: skip
        if len(new.trials) > test.trials:
            raise Invalid(f"This test has {test.trials} trials.", field=f"{where}.trials")
        standing = there.get((new.athlete_id, new.side))
        done = [None if value is None else float(value) for value in new.trials]
        if standing is not None and standing.trials == done:
            continue
        if standing is not None and new.version != standing.version:
            raise Stale(
                "Someone changed this result in the meantime.",
                field=where,
                extra={"yours": {"trials": done}, "theirs": {"trials": standing.trials, "version": standing.version}},
            )
        if all(value is None for value in done):
            if standing is not None:
                db.delete(standing)
                _anchor(db, squad, test, new.athlete_id, day, None, where, by=by, now=now, today=today)
            continue
        for at, value in enumerate(done):
            if value is not None and not -MOST_VALUE <= value <= MOST_VALUE:
                raise Invalid("This is no result of a test.", field=f"{where}.trials.{at}")
            own = before[new.athlete_id, new.side]
            if value is not None and not new.sure and rules.unlikely(value, own, error):
                raise Invalid(
                    f"{value:g} {test.unit} is far from their own {own.min():g} to {own.max():g}. Is it right?",
                    field=f"{where}.trials.{at}",
                    extra={"unlikely": True},
                )
        array = np.array([[np.nan if value is None else value for value in done]])
        stands = float(rules.combined(array, test.combine, test.better)[0])
        values = {
            "trials": done,
            "value": stands,
            "more": dict(new.more),
            "sure": new.sure,
            "source": source,
            "entered_by": by,
            "entered_at": now,
        }
        if standing is None:
            key = {"id": new_ulid(), "test_id": test.id, "athlete_id": new.athlete_id, "day": day, "side": new.side}
            db.add(TestResult(**key, **values, version=1))
        else:
            for name, kept in values.items():
                setattr(standing, name, kept)
            standing.version += 1
        _anchor(db, squad, test, new.athlete_id, day, stands, where, by=by, now=now, today=today)
    db.flush()


def _anchor(
    db: DbSession,
    squad: Squad,
    test: TestDefinition,
    athlete_id: int,
    day: date,
    value: float | None,
    where: str,
    *,
    by: int | None,
    now: datetime,
    today: date,
) -> None:
    """Let a result be the athlete's anchor from its day on, in place of what this test gave that day before."""
    if test.anchor is None:
        return
    before = db.scalars(
        select(Anchor).where(
            Anchor.athlete_id == athlete_id, Anchor.kind == test.anchor, Anchor.from_day == day,
            Anchor.source == test.name, Anchor.withdrawn_at.is_(None),
        )
    ).all()  # fmt: skip
    for old in before:
        withdraw_anchor(db, squad, old.id, by=by, now=now, today=today)
    if value is None:
        return
    try:
        new = NewAnchor(athlete_id, test.anchor, value, None, day, test.name)
        set_anchor(db, squad, new, by=by, now=now, today=today)
    except Invalid as error:
        raise Invalid(str(error), field=f"{where}.trials.0") from error


def _trials_since(db: DbSession, test: TestDefinition, day: date) -> Sequence[TestResult]:
    """Results of the year up to and with a day, oldest first."""
    return list(
        db.scalars(
            select(TestResult)
            .where(TestResult.test_id == test.id, TestResult.day.between(day - timedelta(days=NORM_DAYS), day))
            .order_by(TestResult.day, TestResult.id)
        )
    )


def _own_values(db: DbSession, test: TestDefinition, day: date) -> dict[tuple[int, str], np.ndarray]:
    out: dict[tuple[int, str], list[float]] = defaultdict(list)
    for row in _trials_since(db, test, day - timedelta(days=1)):
        out[row.athlete_id, row.side].append(row.value)
    return defaultdict(lambda: np.array([]), {key: np.array(values) for key, values in out.items()})


@dataclass(frozen=True)
class Bars:
    """Typical error and smallest worthwhile change of a test, nan where unknown, and what the error rests on."""

    error: float
    worthwhile: float
    basis: str


def bars(test: TestDefinition, rows: Sequence[TestResult]) -> Bars:
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


def bars_on(db: DbSession, test: TestDefinition, day: date) -> tuple[float | None, float | None]:
    """Typical error and smallest worthwhile change as of a day; None where there is too little to say."""
    found = bars(test, _trials_since(db, test, day))
    error, worthwhile = (None if np.isnan(bar) else bar for bar in (found.error, found.worthwhile))
    return error, worthwhile


@dataclass(frozen=True)
class SideResult:
    """A side of an athlete on a testing day; ``last`` and ``last_day`` are the result before it."""

    side: str
    result: TestResult | None
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
    test: TestDefinition
    day: date
    typical_error: float | None
    error_basis: str
    worthwhile: float | None
    days: tuple[date, ...]
    rows: tuple[Row, ...]


def testing_day(db: DbSession, squad: Squad, test: TestDefinition, day: date) -> TestingDay:
    """Everyone on a testing day: their trials, against their own last ones and the bars of the test."""
    rows = _trials_since(db, test, day)
    found = bars(test, rows)
    error, worthwhile = found.error, found.worthwhile
    own: dict[tuple[int, str], list[TestResult]] = defaultdict(list)
    for row in rows:
        own[row.athlete_id, row.side].append(row)
    shown = []
    for member in queries.members(db, squad.id, day):
        sides = tuple(
            _side(side, own[member.athlete_id, side], day, test, error, worthwhile)
            for side in (SIDES if test.sides else ("",))
        )
        shown.append((member, sides))
    best = {member.athlete_id: _best(sides, test.better) for member, sides in shown}
    order = sorted((value for value in best.values() if value is not None), reverse=test.better is Better.HIGHER)
    days = db.scalars(select(TestResult.day).where(TestResult.test_id == test.id).distinct().order_by(TestResult.day))
    out = []
    for member, sides in shown:
        value = best[member.athlete_id]
        history = _differences(own, member.athlete_id, test.better) if test.sides else np.array([])
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
    side: str, own: Sequence[TestResult], day: date, test: TestDefinition, error: float, worthwhile: float
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


def _differences(own: Mapping[tuple[int, str], Sequence[TestResult]], athlete: int, better: Better) -> np.ndarray:
    """Side differences of every test with both sides, oldest first; positive where the left is the stronger one."""
    left, right = ({row.day: row.value for row in own.get((athlete, side), ())} for side in SIDES)
    out = []
    for day in sorted(left.keys() & right.keys()):
        if left[day] > 0 and right[day] > 0:
            found = rules.asymmetry(left[day], right[day], better)
            out.append(found.percent if found.stronger != "right" else -found.percent)
    return np.array(out)


def test_series(db: DbSession, squad: Squad, row_of: Mapping[int, int], as_of: date) -> tuple[TestSeries, ...]:
    """Every test of the squad as the rules of notices look at it: the year through a day, by row."""
    tests = {one.id: one for one in definitions(db, squad)}
    found = db.scalars(
        select(TestResult)
        .where(
            TestResult.test_id.in_(tests),
            TestResult.day.between(as_of - timedelta(days=NORM_DAYS), as_of),
            # A morning gone by knows what was entered by the end of its day.
            TestResult.entered_at < datetime.combine(as_of + timedelta(days=1), time(0), ZoneInfo(squad.time_zone)),
        )
        .order_by(TestResult.day, TestResult.id)
    )
    by_test: dict[int, list[TestResult]] = defaultdict(list)
    for result in found:
        by_test[result.test_id].append(result)
    return tuple(_as_series(test, by_test[test.id], row_of) for test in tests.values() if by_test[test.id])


def _as_series(test: TestDefinition, rows: Sequence[TestResult], row_of: Mapping[int, int]) -> TestSeries:
    found = bars(test, rows)
    error, worthwhile = found.error, found.worthwhile
    days: dict[int, dict[date, list[float]]] = defaultdict(lambda: defaultdict(list))
    own: dict[tuple[int, str], list[TestResult]] = defaultdict(list)
    for result in rows:
        if result.athlete_id in row_of:
            days[row_of[result.athlete_id]][result.day].append(result.value)
            own[result.athlete_id, result.side].append(result)
    sides = {}
    for athlete, row in row_of.items() if test.sides else ():
        history = _differences(own, athlete, test.better)
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
        jump="jump" in test.name.lower() and test.unit in ("cm", "m/s"),
    )


def series(db: DbSession, squad: Squad, test: TestDefinition, athlete_id: int) -> Sequence[TestResult]:
    """All results of an athlete, oldest first. Raises NotFound."""
    if athlete_id not in queries.members_ever(db, squad.id):
        raise NotFound("There is no such athlete in this squad.")
    query = select(TestResult).where(TestResult.test_id == test.id, TestResult.athlete_id == athlete_id)
    return list(db.scalars(query.order_by(TestResult.day, TestResult.side)))


def set_up(db: DbSession, squad: Squad, *, by: int | None, now: datetime) -> list[TestDefinition]:
    """Begin with the tests that are shipped; those of a name that is there already are left alone. Does not commit."""
    there = {one.name.lower() for one in definitions(db, squad)}
    return [
        save_test(db, squad, draft, code=None, by=by, now=now) for draft in SHIPPED if draft.name.lower() not in there
    ]

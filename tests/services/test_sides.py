"""Sides that differ, looked into: who is listed, what is kept, what is refused, and when it is over."""

from datetime import timedelta

import pytest

from tests.conftest import NOW, TODAY
from uvren.core.returns.sides import Comes, How
from uvren.core.trials import Combine
from uvren.services.errors import Invalid, NotFound, Stale
from uvren.services.return_ import sides
from uvren.services.return_.sides import Looked
from uvren.services.squad import fitness_results
from uvren.services.squad import fitness_tests as testing
from uvren.services.squad.fitness_results import NewResult
from uvren.services.squad.fitness_tests import Draft
from uvren.services.stamp import Stamp
from uvren.services.versions import WHATEVER
from uvren.store.models import Audit
from uvren.store.types import new_ulid

SQUAT = Draft("Squat", "N", trials=1, sides=True, combine=Combine.MEAN, typical_error=20, worthwhile=20)
EVEN = {"name": "Hip", "left": 100.0, "right": 98.0}
UNEVEN = {"name": "Ankle", "left": 30.0, "right": 40.0}


@pytest.fixture
def who(squad):
    return {"stamp": Stamp(squad.staff.id, NOW), "today": TODAY}


@pytest.fixture
def squat(db, squad):
    return testing.save_test(db, squad.squad, SQUAT, code=None, stamp=Stamp(squad.staff.id, NOW))


@pytest.fixture
def enter(db, squad, squat):
    def go(back, left, right, athlete=0):
        for side, value in (("left", left), ("right", right)):
            new = NewResult(squad.athletes[athlete], (value,), side=side, sure=True)
            day = TODAY - timedelta(days=back)
            fitness_results.record(db, squad.squad, squat, day, [new], stamp=Stamp(squad.staff.id, NOW), today=TODAY)

    return go


@pytest.fixture
def differ(enter):
    for back in (60, 30, 5):
        enter(back, 1000.0, 800.0)
        enter(back, 1000.0, 950.0, athlete=1)


def rows(db, squad, day=TODAY):
    return sides.read_sides(db, squad.squad, day)


def test_whoever_differs_for_three_tests_is_listed_and_nobody_else(db, squad, squat, differ):
    (row,) = rows(db, squad)
    assert (row.athlete_id, row.test_name, row.percent, row.stronger) == (squad.athletes[0], "Squat", 20.0, "left")
    assert (row.check, row.asks, row.over) == (None, Comes.RANGE, False)
    assert row.said.startswith("Look in this order")
    # Three weeks ago there were two tests.
    assert rows(db, squad, TODAY - timedelta(days=10)) == []


def test_the_walk_is_kept_step_by_step_and_says_what_is_next(db, squad, squat, differ, who):
    check = sides.begin(db, squad.squad, squad.athletes[0], squat.code, **who)
    assert sides.begin(db, squad.squad, squad.athletes[0], squat.code, **who).id == check.id
    assert rows(db, squad)[0].said == "Next: range of motion of each joint, both sides."
    sides.save(db, squad.squad, check.id, Looked([EVEN], []), version=1, **who)
    assert rows(db, squad)[0].asks is Comes.STRENGTH
    sides.save(db, squad.squad, check.id, Looked([EVEN], [UNEVEN, EVEN]), version=2, **who)
    row = rows(db, squad)[0]
    assert (row.comes, row.suits) == (Comes.STRENGTH, How.SETS)
    assert row.said.replace("\u00a0", " ") == "Ankle: strength 25 % more on the right."
    plan = Looked([EVEN], [UNEVEN], How.SETS, 2, TODAY + timedelta(days=28), "two a week")
    sides.save(db, squad.squad, check.id, plan, version=3, **who)
    row = rows(db, squad)[0]
    assert (row.how, row.sets, row.retest_on, row.words) == (How.SETS, 2, plan.retest_on, "two a week")
    with pytest.raises(Stale):
        sides.save(db, squad.squad, check.id, plan, version=3, **who)
    said = [one.action for one in db.query(Audit).filter(Audit.action.startswith("side_check")).order_by(Audit.id)]
    assert said == ["side_check_begun"] + ["side_check_changed"] * 3


def test_it_ends_by_its_rule_once_a_later_test_is_even(db, squad, squat, differ, enter, who):
    before = {"stamp": who["stamp"], "today": TODAY - timedelta(days=4)}
    check = sides.begin(db, squad.squad, squad.athletes[0], squat.code, **before)
    assert not rows(db, squad)[0].over
    enter(0, 1000.0, 930.0)
    row = rows(db, squad)[0]
    assert (row.over, round(row.percent, 1)) == (True, 7.0)
    sides.end(db, squad.squad, check.id, True, **who)
    assert rows(db, squad) == []
    # What was so before stays to be read, and an end is taken back.
    assert len(rows(db, squad, TODAY - timedelta(days=1))) == 1
    sides.end(db, squad.squad, check.id, False, **who)
    assert rows(db, squad)[0].check == check.id


@pytest.mark.parametrize(
    ("looked", "field"),
    [
        (Looked([EVEN | {"left": 0.0}], []), "ranges.0.left"),
        (Looked([EVEN], [EVEN, {"name": " ", "left": 1.0, "right": 1.0}]), "strengths.1.name"),
        (Looked([EVEN] * 13, []), "ranges"),
        (Looked([EVEN], [], How.FIRST), "how"),
        (Looked([EVEN], [EVEN], How.MATCHED, 2), "sets"),
        (Looked([EVEN], [UNEVEN], How.SETS, 21), "sets"),
        (Looked([EVEN], [UNEVEN], How.SETS, 2, TODAY), "retest_on"),
        (Looked([EVEN], [], words="x" * 401), "words"),
    ],
)
def test_what_makes_no_sense_is_refused_at_its_place(db, squad, squat, differ, who, looked, field):
    check = sides.begin(db, squad.squad, squad.athletes[0], squat.code, **who)
    with pytest.raises(Invalid) as refused:
        sides.save(db, squad.squad, check.id, looked, version=WHATEVER, **who)
    assert refused.value.field == field
    assert (check.ranges, check.version) == ([], 1)


def test_only_an_athlete_a_test_and_a_check_of_the_squad(db, squad, squat, who):
    with pytest.raises(NotFound):
        sides.begin(db, squad.squad, 999_999, squat.code, **who)
    with pytest.raises(NotFound):
        sides.begin(db, squad.squad, squad.athletes[0], "no_test", **who)
    with pytest.raises(NotFound):
        sides.end(db, squad.squad, new_ulid(), True, **who)

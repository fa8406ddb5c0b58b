"""Testing days: what stands for the trials, what counts as a change, and values that ask before they are saved."""

from dataclasses import replace
from datetime import timedelta

import pytest

from tests.conftest import NOW, TODAY
from uvren.core.trials import Better, Change, Combine
from uvren.files.errors import BadFile
from uvren.files.force import read_force
from uvren.services.day import fitness
from uvren.services.day.loads import anchor_book
from uvren.services.errors import Invalid, NotFound, Stale
from uvren.services.squad import fitness_day, fitness_results
from uvren.services.squad import fitness_tests as testing
from uvren.services.squad.fitness_results import NewResult
from uvren.services.squad.fitness_tests import Draft
from uvren.services.stamp import Stamp
from uvren.store.models import AnchorKind

JUMP = Draft("Jump", "cm", typical_error=1.0, worthwhile=0.8)


@pytest.fixture
def make(db, squad):
    def go(draft=JUMP, code=None):
        return testing.save_test(db, squad.squad, draft, code=code, stamp=Stamp(squad.staff.id, NOW))

    return go


@pytest.fixture
def enter(db, squad):
    def go(test, back, *trials, athlete=0, **more):
        new = NewResult(squad.athletes[athlete], trials, **more)
        day = TODAY - timedelta(days=back)
        fitness_results.record(db, squad.squad, test, day, [new], stamp=Stamp(squad.staff.id, NOW), today=TODAY)

    return go


def on_day(db, squad, test, back=0):
    return fitness_day.testing_day(db, squad.squad, test, TODAY - timedelta(days=back))


def test_a_result_is_the_best_trial_ranked_and_set_against_the_own_last_one(db, squad, make, enter):
    test = make()
    enter(test, 30, 40.0, 41.0)
    enter(test, 0, 41.5, 43.2, None)
    enter(test, 0, 45.0, athlete=1)
    first, second, third, _ = on_day(db, squad, test).rows
    assert (first.sides[0].result.value, first.sides[0].last, first.sides[0].change) == (43.2, 41, Change.BETTER)
    assert [row.rank for row in (first, second, third)] == [2, 1, None]
    assert second.sides[0].change is Change.UNKNOWN


def test_where_lower_is_better_the_fastest_stands_and_ranks_first(db, squad, make, enter):
    test = make(Draft("Sprint", "s", Better.LOWER, 2, typical_error=0.03, worthwhile=0.02))
    enter(test, 10, 4.30)
    enter(test, 0, 4.28, 4.22)
    enter(test, 0, 4.40, athlete=1)
    first, second, *_ = on_day(db, squad, test).rows
    assert (first.sides[0].result.value, first.rank, second.rank) == (4.22, 1, 2)
    assert first.sides[0].change is Change.BETTER


def test_bars_that_are_not_set_come_from_the_trials_and_the_spread(db, squad, make, enter):
    test = make(replace(JUMP, typical_error=None, worthwhile=None, trials=2))
    assert on_day(db, squad, test).typical_error is None
    for athlete, pair in enumerate([(40.0, 41.0), (44.0, 43.0), (36.0, 38.0), (50.0, 50.5)]):
        enter(test, 0, *pair, athlete=athlete)
    found = on_day(db, squad, test)
    # From two trials of one day, and what stands is the better of them.
    assert (found.typical_error, found.error_basis) == (pytest.approx(0.884 * 0.826, abs=0.01), "within a day")
    assert found.worthwhile == pytest.approx(0.2 * 5.344, abs=0.001)


def test_an_unlikely_value_asks_and_is_kept_once_someone_is_sure(db, squad, make, enter):
    test = make()
    enter(test, 30, 40.0)
    with pytest.raises(Invalid) as asked:
        enter(test, 0, 4.1)
    assert (asked.value.field, asked.value.extra) == ("results.0.trials.0", {"unlikely": True})
    assert on_day(db, squad, test).rows[0].sides[0].result is None
    enter(test, 0, 4.1, sure=True)
    assert on_day(db, squad, test).rows[0].sides[0].result.value == 4.1


def test_results_are_changed_by_who_saw_them_and_taken_away_by_leaving_them_empty(db, squad, make, enter):
    test = make()
    enter(test, 0, 40.0)
    enter(test, 0, 40.0)
    with pytest.raises(Stale) as stale:
        enter(test, 0, 41.0)
    assert stale.value.extra["theirs"] == {"trials": [40.0], "version": 1}
    enter(test, 0, 41.0, version=1)
    enter(test, 0, None, version=2)
    assert on_day(db, squad, test).rows[0].sides[0].result is None


def test_sides_are_compared_and_matter_after_three_tests_running(db, squad, make, enter):
    test = make(Draft("Squat", "N", trials=1, sides=True, combine=Combine.MEAN, typical_error=20, worthwhile=20))
    for back, left in ((90, 1150.0), (60, 1000.0), (30, 990.0)):
        enter(test, back, left, side="left", sure=True)
        enter(test, back, 1160.0, side="right", sure=True)
    assert not on_day(db, squad, test, 30).rows[0].matters
    enter(test, 0, 1010.0, side="left")
    enter(test, 0, 1165.0, side="right")
    row = on_day(db, squad, test).rows[0]
    assert row.matters
    assert (row.asymmetry.stronger, round(row.asymmetry.percent, 1)) == ("right", 13.3)
    with pytest.raises(Invalid, match="which side"):
        enter(test, 0, 1000.0)


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"name": " "}, "name"),
        ({"unit": ""}, "unit"),
        ({"trials": 0}, "trials"),
        ({"typical_error": -1}, "typical_error"),
    ],
)
def test_a_test_that_makes_no_sense_is_refused_at_its_field(make, change, field):
    with pytest.raises(Invalid) as refused:
        make(replace(JUMP, **change))
    assert refused.value.field == field


def test_what_results_rest_on_stays_as_it_is(make, enter):
    test = make()
    enter(test, 0, 40.0)
    for change, field in (({"unit": "m"}, "unit"), ({"sides": True}, "sides"), ({"better": Better.LOWER}, "better")):
        with pytest.raises(Invalid) as refused:
            make(replace(JUMP, **change), test.code)
        assert refused.value.field == field
    assert make(replace(JUMP, typical_error=2.0), test.code).typical_error == 2


def test_a_squad_begins_with_the_shipped_tests_once(db, squad):
    assert len(testing.set_up(db, squad.squad, stamp=Stamp(None, NOW))) == len(testing.SHIPPED)
    assert testing.set_up(db, squad.squad, stamp=Stamp(None, NOW)) == []
    code = fitness.definitions(db, squad.squad)[0].code
    testing.leave_out(db, squad.squad, code, stamp=Stamp(squad.staff.id, NOW))
    with pytest.raises(NotFound):
        testing.find_test(db, squad.squad, code)


HEAD = "Time (ms);Left;Right\n"


@pytest.mark.parametrize(
    ("text", "why"),
    [
        ("a;b\n1;2\n", "is the time"),
        (HEAD + "".join(f"{i * i};1;1\n" for i in range(200)), "evenly"),
        (HEAD + "1;2;3\n", "100 to"),
        (HEAD + "x;1;1\n" * 200, "Row"),
    ],
)
def test_a_force_file_that_is_none_is_refused_with_a_sentence(tmp_path, text, why):
    path = tmp_path / "plate.csv"
    path.write_text(text)
    with pytest.raises(BadFile, match=why):
        read_force(path)


STEPS = Draft("Steps, second threshold", "/min", trials=1, anchor=AnchorKind.THRESHOLD_2)


def threshold(db, squad):
    return anchor_book(db, [squad.athletes[0]], TODAY).number(squad.athletes[0], AnchorKind.THRESHOLD_2, TODAY)


def test_a_threshold_from_a_step_test_is_the_anchor_until_the_result_is_taken_away(db, squad, make, enter):
    test = make(STEPS)
    enter(test, 0, 171.0)
    assert threshold(db, squad) == 171
    enter(test, 0, 173.0, version=1)
    assert threshold(db, squad) == 173
    enter(test, 0, None, version=2)
    assert threshold(db, squad) is None


def test_a_threshold_that_cannot_be_one_is_refused_at_its_trial(db, squad, make, enter):
    with pytest.raises(Invalid, match="70 to 230") as refused:
        enter(make(STEPS), 0, 17.1)
    assert refused.value.field == "results.0.trials.0"


def test_only_a_test_in_the_unit_of_an_anchor_becomes_one(make):
    for draft in (replace(STEPS, unit="km/h"), replace(STEPS, sides=True), replace(STEPS, anchor=AnchorKind.SEX)):
        with pytest.raises(Invalid) as refused:
            make(draft)
        assert refused.value.field == "anchor"

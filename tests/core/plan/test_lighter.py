"""A lighter week reproduces the reference cases, and never makes anything heavier."""

import json
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from typer.testing import CliRunner

from uvren.cli import app
from uvren.core.errors import BadPlan
from uvren.core.plan.lighter import Lift, School, Settings, Sport, freed_days, lighten, said

CASES = json.loads((Path(__file__).parents[2] / "reference" / "lighter.json").read_text())


@pytest.mark.parametrize("case", CASES)
def test_lighter_reproduces_every_line(tmp_path, case):
    path = tmp_path / "plan.json"
    path.write_text(json.dumps(case["plan"]))
    result = CliRunner().invoke(app, ["lighter", str(path)])
    assert result.exit_code == 0, result.output
    got = json.loads(result.stdout)
    assert len(got["lines"]) == len(case["answer"]["lines"])
    for line, wanted in zip(got["lines"], case["answer"]["lines"], strict=True):
        assert line == pytest.approx(wanted)
    assert got["tonnage"] == pytest.approx(case["answer"]["tonnage"])
    assert got["load"] == pytest.approx(case["answer"]["load"])


lifts = st.builds(
    Lift, st.just("lift"), st.integers(1, 12), st.integers(1, 20), st.none() | st.floats(0, 300),
    st.none() | st.integers(0, 5), st.booleans(), st.none() | st.floats(20, 300),
)  # fmt: skip
sports = st.builds(Sport, st.just("court"), st.integers(5, 180).map(float), st.integers(0, 20).map(lambda n: n / 2))
settings = st.builds(Settings, st.sampled_from(School), st.floats(0, 1), st.integers(0, 3), st.integers(0, 4),
                     st.floats(0, 1), st.sampled_from([1.25, 2.5, 5.0]))  # fmt: skip


@given(st.lists(lifts | sports, max_size=8), settings)
def test_nothing_becomes_more_and_no_line_goes_away(lines, chosen):
    found = lighten(lines, chosen)
    assert [line.name for line in found.lines] == [line.name for line in lines]
    for before, after in zip(lines, found.lines, strict=True):
        if isinstance(before, Sport):
            assert 5 <= after.minutes <= max(5, before.minutes + 2.5)
            assert after.effort <= before.effort
            continue
        assert 1 <= after.sets <= before.sets
        assert 1 <= after.reps <= before.reps
        if after.reserve is not None:
            assert after.reserve >= before.reserve
        if chosen.school is School.CUT and before.kg is not None:
            assert after.kg <= before.kg + 1e-6
    assert found.tonnage[0] == pytest.approx(sum(line.tonnage for line in lines if isinstance(line, Lift)))


def test_a_line_is_said_before_and_after():
    squat, court = Lift("Squat", 4, 6, 100.0, 2, compound=True), Sport("Court", 70.0, 7.0)
    found = lighten([squat, court])
    assert said(squat, found.lines[0]) == "4 × 6 at 100 kg, 2 in reserve → 2 × 6 at 65 kg, 4 in reserve"
    assert said(court, found.lines[1]) == "70 min at 7 → 40 min at 6"


@pytest.mark.parametrize("wrong", [{"sets": 1.2}, {"kg_step": 0}, {"minutes": -0.1}])
def test_settings_that_make_no_sense_are_refused(wrong):
    with pytest.raises(BadPlan):
        Settings(**wrong)


@pytest.mark.parametrize(
    ("plan", "said_of_it"),
    [
        ({"lines": [{"kind": "dance"}]}, "lines.0"),
        ({"lines": [{"kind": "lift", "sets": 0, "reps": 3}]}, "1 or more"),
        ({"lines": [{"kind": "sport", "minutes": 30, "effort": 11}]}, "effort 0 to 10"),
        ({"settings": {"speed": 1}, "lines": []}, "settings.speed"),
        ({"settings": {"kg": 3}, "lines": []}, "kg is a share"),
    ],
)
def test_a_plan_that_makes_no_sense_is_refused_in_a_sentence(tmp_path, plan, said_of_it):
    path = tmp_path / "plan.json"
    path.write_text(json.dumps(plan))
    result = CliRunner().invoke(app, ["lighter", str(path)])
    assert result.exit_code == 2
    assert said_of_it in result.stderr


@pytest.mark.parametrize(
    ("load", "gym", "freed"),
    [
        ([300, 200], [True, True], []),
        ([300, 200, 400], [False, False, False], [1]),
        # Sport comes first: the gym's day goes, though it is the heavier one.
        ([300, 200, 400], [False, False, True], [2]),
        ([300, 300, 300, 300, 100, 100, 50, 50], [True, False] * 4, [4, 6]),
        ([], [], []),
    ],
)
def test_one_day_in_four_is_freed_and_the_gym_gives_way(load, gym, freed):
    assert freed_days(load, gym) == freed

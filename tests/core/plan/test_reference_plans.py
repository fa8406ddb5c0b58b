"""The plan command reaches independently computed optima, and its plans hold by plain arithmetic."""

import json
from pathlib import Path

import pytest
from typer.testing import CliRunner

from tests.core.plan.plain import Plain
from uvren.cli import app
from uvren.core.plan import solve
from uvren.files.loads_csv import read_loads
from uvren.files.plan_json import read_problem

CASES = Path(__file__).parents[2] / "reference" / "plan"
EXPECTED = json.loads((CASES / "expected.json").read_text())


def opened(name):
    problem, history = read_problem(CASES / f"{name}.json")
    if history is None:
        return problem, []
    with history.open() as source:
        return problem, read_loads(source)


@pytest.mark.parametrize("name", EXPECTED)
def test_a_plan_is_as_near_as_one_can_be_and_holds(name):
    wanted = EXPECTED[name]
    problem, rows = opened(name)
    found = solve(problem, rows)
    assert found.holds == (wanted["status"] == "holds")
    assert found.optimal
    values = [level.value for level in found.levels]
    assert values == pytest.approx(wanted["levels"], abs=0.01, rel=1e-4)
    # What a second pass gave up for the spread is a gap to the bound.
    assert wanted.get("spread") or all(level.gap < 1e-4 for level in found.levels)
    assert all(level.bound <= level.value + 1e-9 for level in found.levels)
    plain = Plain(problem, rows)
    plan = (found.start, found.minutes, found.own)
    assert plain.is_plan(*plan)
    assert plain.levels(*plan) == pytest.approx(values, abs=1e-6)
    broken = plain.excess(found.start, found.own)
    assert broken == pytest.approx(dict(found.give_way), abs=1e-5)
    assert len(broken) == wanted.get("count", 0)
    assert sum(broken.values()) == pytest.approx(wanted.get("amount", 0), abs=1e-4)
    if wanted.get("spread"):
        assert found.after == ()


def test_the_command_says_what_was_found_as_json():
    result = CliRunner().invoke(app, ["plan", str(CASES / "05-juggle.json")])
    assert result.exit_code == 0, result.output
    said = json.loads(result.stdout)
    assert (said["status"], said["optimal"]) == ("holds", True)
    changes = {one["id"]: one["change"] for one in said["sessions"]}
    assert set(changes.values()) - {"kept", "scaled", "moved", "dropped", "added", "none"} == set()
    assert sum(change != "kept" for change in changes.values()) == 2
    assert said["minutes"]["a1"]["mon"] == next(one["minutes"] for one in said["sessions"] if one["id"] == "mon")


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"days": 29}, "a plan has 1 to 28 days, not 29"),
        ({"channels": []}, "there is no channel"),
        ({"as_of": "someday"}, "as_of"),
        ({"limits": [{"id": "l", "rule": "magic", "value": 1}]}, "there is no rule 'magic'"),
        ({"limits": [{"id": "l", "rule": "day_cap", "channel": "session_rpe"}]}, "its value is a number"),
        ({"athletes": [{"id": "a1"}, {"id": "a1"}]}, "'a1' stands there twice"),
        ({"levels": [{"speed": 1}]}, "a level weighs"),
        ({"history": "nowhere.csv"}, "cannot read"),
        ({"sessions": [{"id": "s", "start": "2026-03-09T17:00", "minutes": 30}]}, "offset from UTC"),
        ({"sessions": [{"id": "s", "start": "2026-05-09T17:00Z", "minutes": 30}]}, "none of the days planned"),
        ({"sessions": [{"id": "s", "start": "2026-03-09T17:00Z", "minutes": 30, "least": 40}]}, "more than"),
        ({"sessions": [{"id": "s", "start": "2026-03-09T17:00Z", "minutes": 33, "step": 5}]}, "no multiple of 5"),
        ({"sessions": [{"id": "s", "start": "2026-03-09T17:00Z", "minutes": 30, "who": ["b"]}]}, "no athlete 'b'"),
    ],
)  # fmt: skip
def test_a_problem_that_makes_no_sense_is_refused_in_a_sentence(tmp_path, change, said):
    given = json.loads((CASES / "01-fits.json").read_text()) | {"history": str(CASES / "loads.csv")} | change
    path = tmp_path / "problem.json"
    path.write_text(json.dumps(given))
    result = CliRunner().invoke(app, ["plan", str(path)])
    assert result.exit_code == 2
    assert said in result.stderr
    assert len(result.stderr.strip().splitlines()) == 1


def test_without_time_the_coachs_plan_or_the_best_found_stands_and_says_so():
    problem, rows = opened("12-fortnight")
    found = solve(problem, rows, left=lambda: 0.0)
    assert not found.optimal
    assert Plain(problem, rows).is_plan(found.start, found.minutes, found.own)

"""The way back reproduces the reference cases; it never asks for more than the reference, nor hurries what is held."""

import json
from datetime import date, timedelta
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from typer.testing import CliRunner

from uvren.cli import app
from uvren.core.errors import BadPlan
from uvren.core.loads import DailyLoads
from uvren.core.returns import WhyNot, way_back

REFERENCE = Path(__file__).parents[2] / "reference"
CASES = json.loads((REFERENCE / "ramp.json").read_text())
FIRST = date(2025, 9, 1)


def run(*arguments):
    return CliRunner().invoke(app, ["ramp", str(REFERENCE / "ramp-loads.csv"), *arguments])


def options(case):
    found = ["--athlete", case["athlete"], "--channel", case["channel"], "--return", case["return"],
             "--needed", str(case["needed"])]  # fmt: skip
    return [*found, *(["--target", case["target"]] if case["target"] else [])]


@pytest.mark.parametrize("case", CASES, ids=lambda case: f"{case['athlete']} {case['channel']} {case['target']}")
def test_ramp_reproduces_every_case(case):
    result = run(*options(case))
    assert result.exit_code == 0, result.output
    got, wanted = json.loads(result.stdout), case["answer"]
    assert got.keys() == wanted.keys()
    for name in wanted.keys() - {"steps", "reference"}:
        assert got[name] == wanted[name], name
    assert got.get("reference") == pytest.approx(wanted.get("reference"))
    for step, other in zip(wanted["steps"], got["steps"], strict=True):
        assert other.keys() == step.keys()
        assert other["from"] == step["from"]
        for name in step.keys() - {"from"}:
            assert other[name] == pytest.approx(step[name]), name


@pytest.mark.parametrize(
    ("more", "said"),
    [
        (["--channel", "runs"], "no channel 'runs'"),
        (["--needed", "120"], "less than or equal to 100"),
        (["--return", "soon"], "soon"),
    ],
)
def test_what_cannot_be_asked_is_said(more, said):
    given_ = options(CASES[4])
    result = run(*given_, *more)
    assert result.exit_code != 0
    assert said in result.output


def loads(days_off, before=60, base=300.0):
    days = [base if i % 7 else 0.0 for i in range(before)] + [base] + [0.0] * days_off
    return DailyLoads(FIRST, np.array([days]), np.array([0])), FIRST + timedelta(days=len(days))


def back(days_off, **more):
    of, first = loads(days_off, **more)
    return way_back(of, 0, first)


@given(st.integers(7, 120), st.floats(10, 900))
def test_no_week_is_above_the_reference_and_what_is_held_is_never_ahead(days_off, base):
    found = back(days_off, base=base)
    assert found.days_off == days_off
    shares = [step.share for step in found.steps]
    assert shares == sorted(shares)
    assert shares[-1] == 100
    for step in found.steps:
        assert step.load == pytest.approx(found.reference * step.share / 100)
        assert step.load <= found.reference + 1e-9
        assert step.held_share <= step.share
        assert (step.effort_cap is None) == (step.week > (3 if days_off >= 56 else 2))
    assert [step.open_share for step in found.steps] == sorted(step.open_share for step in found.steps)


@given(st.integers(7, 100), st.integers(1, 20), st.integers(40, 100))
def test_a_shorter_break_is_never_a_longer_way_back(days_off, more, needed):
    assert back(days_off).weeks_to(needed) <= back(days_off + more).weeks_to(needed)


@given(st.integers(7, 100), st.integers(-10, 80), st.integers(0, 30), st.integers(40, 100))
def test_a_later_date_never_lowers_what_is_reached_nor_fits_worse(days_off, day, later, needed):
    found = back(days_off)
    one, two = (found.first + timedelta(days=day + more) for more in (0, later))
    assert found.share_on(one) <= found.share_on(two)
    assert found.days_short(needed, one) >= found.days_short(needed, two)
    assert (found.days_short(needed, one) == 0) == (found.share_on(one) >= needed)


def test_without_something_to_take_a_share_of_there_is_no_ramp():
    assert back(6).why_not is WhyNot.SHORT
    assert back(20, before=20).why_not is WhyNot.HISTORY
    nothing = DailyLoads(FIRST, np.zeros((1, 40)), np.array([0]))
    found = way_back(nothing, 0, FIRST + timedelta(days=40))
    assert (found.why_not, found.first_day_off, found.steps) == (WhyNot.HISTORY, None, ())
    with pytest.raises(BadPlan):
        found.weeks_to(50)
    assert found.share_on(FIRST) == 0
    # Before the file begins there is nothing either.
    assert way_back(nothing, 0, FIRST - timedelta(days=5)).why_not is WhyNot.HISTORY


def test_a_day_without_a_report_is_no_day_with_load():
    of, first = loads(20)
    load = of.load.copy()
    load[0, -5] = np.nan
    assert way_back(DailyLoads(FIRST, load, of.start), 0, first).days_off == 20

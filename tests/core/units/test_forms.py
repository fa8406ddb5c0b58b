"""Each form of a unit of work, on numbers small enough to work out by hand."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvren.core.errors import BadUnit
from uvren.core.recordings import HeartAnchors, Samples, Sex
from uvren.core.units import FORMS, Counts, Lifts, MaximumFormula, estimated_maximum, make_form

CLASSES = [{"code": "full", "name": "Full", "weight": 1}, {"code": "half", "name": "Half", "weight": 0.5}]
NAN = float("nan")

# Settings with which every form can be made.
WHOLE = {
    "effort_minutes": {},
    "segment_effort": {},
    "counted": {"classes": CLASSES},
    "lifting": {"measure": "tonnage"},
    "heart_rate": {"method": "banister"},
    "position": {"measure": "distance"},
    "impacts": {"measure": "load"},
}


def held(values, seconds=60.0):
    values = np.array(values, dtype=float)
    return Samples(np.arange(values.size, dtype=float), values, np.full(values.size, seconds))


def test_every_form_says_its_formula_and_its_places():
    assert WHOLE.keys() == FORMS.keys()
    for code, settings in WHOLE.items():
        form = make_form(code, settings | {"places": {"Snow": 1.2}})
        assert form.sentence().endswith("By place: Snow × 1.2.")
        assert form.factor(["Snow", None, "Court"]).tolist() == [1.2, 1, 1]


def test_counts_are_weighted_by_class_surface_and_posture():
    form = make_form(
        "counted",
        {
            "classes": CLASSES,
            "surfaces": [{"code": "sand", "name": "Sand", "weight": 0.6}],
            "postures": [{"code": "low", "name": "Low", "weight": 1.5}],
        },
    )
    counts = Counts(
        owner=np.array([0, 0, 2, 2, 1]),
        of_class=["full", "half", "half", "full", "other"],
        surface=[None, "sand", "gravel", None, None],
        posture=[None, None, None, "low", None],
        count=np.array([10.0, 10, 10, 10, 99]),
    )
    loads = form.loads(counts, 4)
    assert loads[[0, 2]].tolist() == [10 + 10 * 0.5 * 0.6, 10 * 0.5 + 10 * 1.5]
    # Nothing of this channel's classes was counted: unknown, not 0.
    assert np.isnan(loads[[1, 3]]).all()
    assert form.hardest == ("full", 1)


def test_segments_add_up_minutes_effort_and_weight():
    form = make_form("segment_effort")
    loads = form.loads(np.array([0, 0, 1]), np.array([20.0, 40, 0]), np.array([4.0, 7, NAN]), np.array([1.0, 3, 4]), 2)
    assert loads.tolist() == [80 + 840, 0]
    with pytest.raises(BadUnit, match="1 to 4"):
        form.loads(np.array([0]), np.array([1.0]), np.array([1.0]), np.array([5.0]), 1)


def test_tonnage_and_hard_sets():
    lifts = Lifts(
        owner=np.array([0, 0, 1]), exercise=["a", "b", "a"], sets=np.array([3.0, 4, 5]), reps=np.array([5.0, 8, 5]),
        kg=np.array([100.0, 20, 80]), reserve=np.array([2.0, 5, NAN]),
    )  # fmt: skip
    assert make_form("lifting", {"measure": "tonnage"}).loads(lifts, 2).tolist() == [1500 + 640, 2000]
    hard = make_form("lifting", {"measure": "hard_sets"}).loads(lifts, 3)
    assert hard[0] == 3
    # How hard the second was is not said, and the third lifted nothing.
    assert np.isnan(hard[1:]).all()


@pytest.mark.parametrize(
    ("formula", "reps", "reserve", "wanted"),
    [
        (MaximumFormula.EPLEY, 1, 0, 100),
        (MaximumFormula.EPLEY, 8, 2, 100 * (1 + 10 / 30)),
        (MaximumFormula.BRZYCKI, 1, 0, 100),
        (MaximumFormula.BRZYCKI, 8, 2, 100 * 36 / 27),
        (MaximumFormula.EPLEY, 12, 1, NAN),
        (MaximumFormula.EPLEY, 5, NAN, 100 * (1 + 5 / 30)),
    ],
)
def test_estimated_maxima_within_their_range(formula, reps, reserve, wanted):
    found = estimated_maximum(np.array([100.0]), np.array([reps]), np.array([reserve]), formula)
    assert found[0] == pytest.approx(wanted, nan_ok=True)


@given(st.integers(1, 11), st.floats(20, 300), st.sampled_from(list(MaximumFormula)))
def test_one_more_repetition_never_lowers_the_estimate(reps, kg, formula):
    one, more = estimated_maximum(np.array([kg, kg]), np.array([reps, reps + 1.0]), np.zeros(2), formula)
    assert more >= one >= kg * 0.999


def test_heart_rate_by_each_method_and_without_its_anchors():
    samples = held([100.0, 130, 150, 180])
    anchors = HeartAnchors(200, 50, Sex.MALE, 140, 170)
    assert make_form("heart_rate", {"method": "three_zones"}).load(samples, anchors) == pytest.approx(2 + 2 + 3)
    assert make_form("heart_rate", {"method": "edwards"}).load(samples, anchors) == pytest.approx(1 + 2 + 3 + 5)
    banister = make_form("heart_rate", {"method": "banister"})
    reserve = np.array([50, 80, 100, 130]) / 150
    assert banister.load(samples, anchors) == pytest.approx((reserve * 0.64 * np.exp(1.92 * reserve)).sum())
    assert banister.load(samples, HeartAnchors(200)) is None


def test_given_zone_minutes_must_be_as_many_as_the_method_has():
    three = make_form("heart_rate", {"method": "three_zones"})
    assert three.load_of_zones([10, 5, 2]) == 26
    assert three.load_of_zones([1, 2, 3, 4, 5]) is None
    assert make_form("heart_rate", {"method": "banister"}).load_of_zones([]) is None


def test_speeds_are_absolute_or_a_share_of_the_own_maximum():
    samples = held([3.0, 5, 8], seconds=10.0)
    above = make_form("position", {"measure": "distance_above", "speed": 5})
    assert above.load(samples, None) == 130
    own = make_form("position", {"measure": "distance_above", "share": 0.8})
    assert own.load(samples, 9.0) == 80
    assert own.load(samples, None) is None
    assert make_form("position", {"measure": "distance"}).load(samples, None) == 160


def test_impacts_of_one_side_and_both():
    g, right = np.array([3.0, 5, 1, 12]), np.array([True, False, False, True])
    made = {side: make_form("impacts", {"measure": "load", "side": side}) for side in ("both", "left", "right")}
    assert {side: form.load(g, right) for side, form in made.items()} == {"both": 11, "left": 2, "right": 9}
    assert make_form("impacts", {"measure": "count"}).load(g, right) == 3


@pytest.mark.parametrize(
    ("form", "settings", "field"),
    [
        ("karma", {}, "form"),
        ("counted", {}, "classes"),
        ("counted", {"classes": [*CLASSES, CLASSES[0]]}, "classes.2.name"),
        ("counted", {"classes": [{"name": "Full", "weight": 99}]}, "classes.0.weight"),
        ("counted", {"classes": [{"name": "Full", "weight": True}]}, "classes.0.weight"),
        ("lifting", {"measure": "sweat"}, "measure"),
        ("heart_rate", {}, "method"),
        ("position", {"measure": "sprints"}, "speed"),
        ("position", {"measure": "sprints", "speed": 40}, "speed"),
        ("position", {"measure": "sprints", "share": 2}, "share"),
        ("impacts", {"measure": "load", "edges": [4, 2], "weights": [1, 2]}, "edges"),
        ("effort_minutes", {"places": {"Moon": 0}}, "Moon"),
    ],
)
def test_settings_that_make_no_sense_are_refused_at_their_field(form, settings, field):
    with pytest.raises(BadUnit) as refused:
        make_form(form, settings)
    assert refused.value.field == field

"""What is noted at the pitch, put together: the cases that the browser is held to as well, and what holds always."""

import json
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvren.core.field import Event, FieldKind, SpellRule, fold

CASES = json.loads((Path(__file__).parents[2] / "field_cases.json").read_text())


@pytest.mark.parametrize("case", CASES, ids=lambda case: case["name"])
def test_the_cases(case):
    events = [Event(id, FieldKind(kind), *more) for id, kind, *more in case["events"]]
    rules = {int(key): SpellRule(*rule) for key, rule in case["rules"].items()}
    found = fold(events, rules, case.get("what"))
    assert [[run.part, run.begin, run.end] for run in found.runs] == case["runs"]
    spells = {str(key): [one.count, one.total, one.break_until, one.over] for key, one in found.spells.items()}
    assert spells == case["spells"]
    assert {str(key): at for key, at in found.left.items()} == case["left"]
    assert [[one.athlete, one.place, one.begin, one.end] for one in found.stints] == case["stints"]


noted = st.builds(
    Event,
    id=st.uuids().map(str),
    kind=st.sampled_from(FieldKind),
    at=st.integers(0, 3000).map(float),
    athlete=st.sampled_from([1, 2, 3]),
    part=st.integers(0, 3),
    amount=st.sampled_from([-1.0, 1.0, 2.0, 60.0]),
    words=st.sampled_from(["keeper", "pivot"]),
)
RULES = {1: SpellRule(5, 120), 2: SpellRule(2, 600)}


@given(st.lists(noted, max_size=30, unique_by=lambda one: one.id), st.randoms())
def test_two_tablets_come_to_the_same_whatever_came_in_first(events, random):
    mixed = events[:]
    random.shuffle(mixed)
    assert fold(mixed, RULES) == fold(events, RULES)


@given(st.lists(noted, max_size=40, unique_by=lambda one: one.id))
def test_what_holds_always(events):
    found = fold(events, RULES)
    assert all(run.end is not None for run in found.runs[:-1])
    assert all(a.end <= b.begin for a, b in zip(found.runs, found.runs[1:], strict=False))
    for one in found.spells.values():
        assert one.count >= 0
        assert one.total >= one.over >= 0
    # Nobody is in two places at once, and no place is taken twice.
    on = [one for one in found.stints if one.end is None]
    assert len({one.athlete for one in on}) == len({one.place for one in on}) == len(on)
    assert all(one.end is None or one.end >= one.begin for one in found.stints)
    # The most at once is what is counted at the moments when somebody came on.
    at = [sum(one.begin <= begin and (one.end is None or one.end > begin) for one in found.stints)
          for begin in {one.begin for one in found.stints}]  # fmt: skip
    assert found.most_on() == max(at, default=0)


def test_minutes_on_the_field_run_while_somebody_is_on():
    found = fold([Event("a", FieldKind.ON, 0, 4, words="wing"), Event("b", FieldKind.OFF, 300, 4),
                  Event("c", FieldKind.ON, 600, 4, words="wing")], {})  # fmt: skip
    assert found.minutes_on(4, 1200) == pytest.approx(15)
    assert found.minutes_on(5, 1200) == 0

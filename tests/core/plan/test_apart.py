"""People solved one by one beside the squad's sessions: when that is the whole truth, and when it is not."""

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta

import pytest

from uvren.core.plan import Own, PlanAthlete, PlanLimit, PlanSession, Problem, Split, solve
from uvren.core.plan import model as programs

AS_OF = date(2026, 3, 8)
PEOPLE = "ABC"


def session(name, day, minutes=60.0, **more):
    start = datetime.combine(AS_OF + timedelta(days=day + 1), datetime.min.time(), UTC) + timedelta(hours=17)
    given = {"load": {"a": 5.0}, "least": minutes, "split": Split(15.0, 15.0), "step": 5.0} | more
    return PlanSession(name, start, minutes, **given)


def cap(name, value, who=PEOPLE, **more):
    return PlanLimit(name, "day_cap", value, "a", frozenset(who), **more)


def problem(sessions, limits):
    return Problem(AS_OF, 7, ("a",), tuple(map(PlanAthlete, PEOPLE)), tuple(sessions), tuple(limits))


@pytest.fixture
def sizes(monkeypatch):
    """How many people each program was of."""
    found = []
    made = programs.Model.__post_init__

    def counted(self):
        found.append(len(self.athletes))
        made(self)

    monkeypatch.setattr(programs.Model, "__post_init__", counted)
    return found


def test_one_who_cannot_hold_leaves_the_others_apart(sizes):
    match = session("match", 2, 60.0, kind="match", split=None)
    plan = solve(problem([match, session("court", 3, 90.0)], [cap("own", 200.0, "A"), cap("all", 375.0, "BC")]))
    assert (plan.holds, plan.optimal) == (False, True)
    # 300 in the match against 200, and no more than that on the court; the others only have less there.
    assert plan.give_way == {("own", "A"): pytest.approx(0.5)}
    assert plan.own[("A", "court")] == 60
    assert plan.own[("B", "court")] == plan.own[("C", "court")] == 75
    assert [level.value for level in plan.levels] == [0, 30 + 15 + 15, 3]
    assert max(sizes) == 1


def test_a_limit_that_other_minutes_of_the_squads_would_hold_does_not_give_way(sizes):
    court = session("court", 2, 90.0, least=45.0, own={"A": Own(split=False)})
    plan = solve(problem([court], [cap("own", 300.0, "A")]))
    assert plan.holds
    assert (plan.minutes["court"], plan.levels[0].value) == (60, 30)
    assert max(sizes) == 3


def test_less_gives_way_by_other_minutes_of_the_squads(sizes):
    """Beside the session as it is A would give way by 250 of 275; where it is shorter for all, by 25."""
    court = session("court", 2, 90.0, least=45.0, own={"A": Own(split=False)})
    match = session("match", 2, 15.0, kind="match", split=None)
    match = replace(match, start=match.start - timedelta(hours=6))
    plan = solve(problem([court, match], [cap("own", 275.0, "A"), cap("firm", 280.0, "B", firm=True)]))
    assert plan.give_way == {("own", "A"): pytest.approx(25 / 275, abs=1e-5)}
    assert plan.minutes["court"] == 45
    assert max(sizes) == 3


def test_what_weighs_most_is_proven_for_everybody_before_what_weighs_less():
    asked = problem([session("court", 2, 90.0), session("run", 4, 60.0)], [cap("all", 240.0)])
    calls = iter([9.0] * len(PEOPLE))
    plan = solve(asked, left=lambda: next(calls, 0.0))
    whole = solve(asked)
    assert [level.value for level in plan.levels[:2]] == [level.value for level in whole.levels[:2]]
    assert [level.gap == 0 for level in plan.levels] == [True, True, False]
    assert (plan.holds, plan.optimal, whole.optimal) == (True, False, True)

"""Which session stands better on another day."""

from datetime import UTC, date, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from uvren.core.plan import Move, Own, PlanAthlete, PlanLimit, PlanSession, Problem, best_move, lay_out, moved, solve
from uvren.core.plan.course import set_out

AS_OF = date(2026, 3, 8)


def at(day, hour=17):
    return datetime.combine(AS_OF + timedelta(days=day + 1), datetime.min.time(), UTC) + timedelta(hours=hour)


def session(name, day, load, **more):
    return PlanSession(name, at(day), 60.0, load={"a": load}, **more)


def course(*sessions, cap=400.0, people="A", **more):
    limits = (PlanLimit("cap", "day_cap", cap), *more.pop("limits", ()))
    problem = Problem(AS_OF, 7, ("a",), tuple(map(PlanAthlete, people)), sessions, limits, **more)
    return set_out(problem, ())


def everywhere(of):
    return {one.id: [at(day) for day in range(7) if at(day) != one.start] for one in of.sessions}


def test_one_of_two_on_a_day_goes_to_the_nearest_day_that_has_room():
    of = course(session("gym", 2, 4.0), session("court", 2, 5.0), session("run", 3, 5.0))
    # By either of the two; the third day has room for neither.
    assert best_move(of, everywhere(of)) == Move("court", at(1))
    assert best_move(of, {"gym": [at(6), at(0), at(3)]}) == Move("gym", at(0))
    dear = course(session("gym", 2, 4.0, weight=0.5), session("court", 2, 5.0), session("run", 3, 5.0))
    assert best_move(dear, everywhere(dear)) == Move("gym", at(1))
    better = moved(of, Move("gym", at(0)))
    assert [one.start for one in better.sessions] == [at(2), at(0), at(3)]
    assert solve(better.problem).levels[0].value == solve(better.problem).levels[1].value == 0


def test_there_is_none_where_none_makes_it_less():
    holds = course(session("gym", 2, 4.0), session("court", 3, 5.0))
    assert best_move(holds, everywhere(holds)) is None
    too_much = course(session("match", 2, 9.0))
    assert best_move(too_much, everywhere(too_much)) is None
    both = course(session("gym", 2, 4.0), session("court", 2, 5.0))
    assert best_move(both, {}) is None


def test_what_it_is_for_everybody_counts_and_not_for_one():
    for_b = {"B": Own({"a": 7.0})}
    limits = (PlanLimit("own", "day_cap", 100.0, athletes=frozenset("B")),)
    sessions = session("gym", 2, 4.0, own=for_b), session("court", 2, 5.0), session("swim", 4, 1.0, own=for_b)
    of = course(*sessions, people="AB", limits=limits)
    # Away from the court the gym still is too much for one, but for one only.
    assert best_move(of, everywhere(of)).session in ("gym", "court")
    assert best_move(of, {"swim": [at(5)]}) is None


days = st.integers(0, 6)


@given(st.lists(st.tuples(days, st.sampled_from([2.0, 3.0, 5.0, 7.0])), min_size=1, max_size=4), days, st.booleans())
def test_no_other_move_needs_less_to_be_cut(sessions, rest, in_row):
    limits = (PlanLimit("row", "days_in_row", 2),) if in_row else ()
    of = course(*(session(f"s{i}", day, load) for i, (day, load) in enumerate(sessions)), limits=limits)
    starts = {name: [one for one in mine if one != at(rest)] for name, mine in everywhere(of).items()}
    best = best_move(of, starts)

    def excess(move=None):
        """By each limit's own sentence: over 400 on the worst day, and days in a row over two."""
        load = [0.0] * 7
        for one in of.sessions:
            start = move.start if move is not None and move.session == one.id else one.start
            load[of.problem.day(start)] += one.load["a"] * 60
        runs = [sum(load[day] > 0 for day in range(i, i + 3)) for i in range(5)] if in_row else [0]
        return max(0.0, max(load) / 400 - 1) + max(0.0, (max(runs) - 2) / 2)

    every = [Move(name, start) for name, mine in starts.items() for start in mine]
    least = min(map(excess, every), default=excess())
    if best is None:
        assert least == pytest.approx(excess()) or least > excess()
    else:
        assert best in every
        assert excess(best) == pytest.approx(least)
        assert excess(best) < excess()
        # Moved there it is as if it had been planned so.
        again = lay_out(moved(of, best).problem, of.history)
        assert again.planned["a"].loads.load.tolist() == moved(of, best).planned["a"].loads.load.tolist()

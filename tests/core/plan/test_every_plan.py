"""Small plans, each held against every plan there is."""

import os
from datetime import UTC, date, datetime, timedelta, timezone
from itertools import islice

import numpy as np
import pytest

from tests.core.plan.plain import Plain
from uvren.core.plan import Heavy, Own, PlanAthlete, PlanLimit, PlanSession, Problem, Split, solve
from uvren.core.series import LoadRow

AS_OF = date(2026, 3, 28)
CASES = int(os.environ.get("UVREN_EXAMPLES", "324"))
# Clocks change in the night after the first day planned.
ZONES = [timezone(timedelta(hours=1)), timezone(timedelta(hours=2))]


def choose(random, *options):
    return options[random.integers(len(options))]


def moment(random, day):
    at = datetime.combine(AS_OF + timedelta(days=int(day) + 1), datetime.min.time(), ZONES[min(1, int(day))])
    return at + timedelta(hours=int(random.integers(8, 20)))


def history(random, athletes):
    rows = []
    for athlete in athletes:
        days = int(choose(random, 0, 5, 12, 30, 60))
        quiet = int(choose(random, 0, 0, 0, 20))
        for back in range(days):
            if back < quiet or random.random() < 0.35:
                continue
            day = AS_OF - timedelta(days=back)
            lost = back < 10 and random.random() < 0.03
            load = None if lost else float(random.integers(2, 9) * 60)
            rows.append(LoadRow(athlete.id, day, "a", load, bool(random.random() < 0.1)))
            if random.random() < 0.5:
                rows.append(LoadRow(athlete.id, day, "b", float(random.integers(10, 90))))
    return rows


def session(random, i, days, ids):
    minutes = float(choose(random, 0, 30, 45, 60, 75))
    least, most = choose(random, (minutes, minutes), (15.0, 60.0), (30.0, 75.0))
    day = random.integers(days)
    own = {ids[0]: Own({"a": 9.0}, choose(random, 1.0, 0.5), bool(random.random() < 0.8))}
    return PlanSession(
        f"s{i}",
        moment(random, day),
        minutes,
        kind=choose(random, "court", "gym", "match"),
        who=choose(random, None, None, frozenset(ids[:1])),
        least=least if minutes else 15.0,
        most=most if minutes else 45.0,
        step=15.0,
        drop=bool(random.random() < 0.5),
        moves=tuple(moment(random, random.integers(days)) for _ in range(random.random() < 0.5)),
        move_minutes=float(choose(random, 10, 30)),
        weight=choose(random, 1.0, 0.25),
        load={"a": float(random.integers(3, 9)), "b": choose(random, 0.0, 1.0)},
        own=choose(random, {}, own),
        split=choose(random, None, Split(15.0, 15.0), Split(20.0, 20.0)),
        heavy=choose(random, frozenset(), frozenset({"muscle"})),
        effort=float(random.integers(3, 10)),
        open=choose(random, 0.0, 0.5, 1.0),
    )


def limits(random, ids):
    def some(rule, channel, value, **settings):
        return PlanLimit(
            f"l{rule}{random.integers(10**9)}", rule, value, channel, choose(random, None, frozenset(ids[:1])),
            choose(random, None, None, AS_OF + timedelta(days=3)),
            choose(random, None, None, AS_OF + timedelta(days=6)),
            hard=bool(random.random() < 0.95), firm=bool(random.random() < 0.3), settings=settings,
        )  # fmt: skip

    a = lambda low, high: float(random.uniform(low, high))  # noqa: E731
    all_ = [
        some("day_cap", "a", a(150, 600)),
        some("week_cap", "a", a(300, 2200)),
        some("week_floor", "a", a(100, 1500)),
        some("week_change_cap", "a", a(0, 0.5)),
        some("ratio_ceiling", "a", a(0.8, 1.6), school=choose(random, "ewma", "coupled", "uncoupled")),
        some("ratio_floor", "a", a(0.3, 0.9), school="ewma"),
        some("balance_floor", "a", a(-150, 20)),
        some("day_cap", "b", a(20, 60)),
        some("days_in_row", "a", int(choose(random, 1, 2, 3))),
        some("days_in_seven", "a", int(choose(random, 2, 3, 4)), over=int(choose(random, 0, 1))),
        some("spacing", None, float(choose(random, 24, 48)), system="muscle"),
        some("gate", None, None, allow=["gym"]),
        some("effort_cap", None, 7.0),
        some("content_cap", None, 0.5),
    ]
    return tuple(one for one in all_ if random.random() < 0.35)


def problem(seed):
    random = np.random.default_rng(seed)
    athletes = (PlanAthlete("x", 1.0, bool(random.random() < 0.8)), PlanAthlete("y", 0.5))
    ids = [one.id for one in athletes]
    days = int(choose(random, 3, 7, 8))
    return history(random, athletes), Problem(
        AS_OF, days, ("a", "b"), athletes, tuple(session(random, i, days, ids) for i in range(3)),
        limits(random, ids),
        done=(Heavy(datetime(2026, 3, 28, 18, tzinfo=UTC), frozenset({"muscle"})),) if random.random() < 0.3 else (),
        levels=choose(random, ({"squad": 1.0}, {"own": 1.0}, {"touched": 1.0, "own_touched": 1.0}),
                      ({"squad": 1.0, "own": 2.0}, {"touched": 1.0})),
    )  # fmt: skip


def best_of(plain, firm):
    """The levels of the best plan there is, those of giving way first."""
    best, loads = None, {}
    for plan in plain.every_plan():
        start, _, own = plan
        key = tuple(sorted((pair, start[pair[1]], minutes) for pair, minutes in own.items()))
        if key not in loads:
            loads[key] = plain.excess(start, own)
        broken = loads[key]
        given = (sum(limit in firm for limit, _ in broken), len(broken), round(sum(broken.values()), 6))
        levels = (*given, *(round(level, 6) for level in plain.levels(*plan)))
        if best is None or levels < best:
            best = levels
    return best


def few_enough(plain, most=1500):
    return sum(1 for _ in islice(plain.every_plan(), most + 1)) <= most


@pytest.mark.parametrize("first", range(0, CASES, 12))
def test_of_all_plans_there_are_it_is_the_nearest(first):
    for seed in range(first, first + 12):
        rows, given = problem(seed)
        plain = Plain(given, rows)
        if not few_enough(plain):
            continue
        wanted = best_of(plain, {limit.id for limit in given.limits if limit.firm})
        found = solve(given, rows)
        plan = (found.start, found.minutes, found.own)
        assert plain.is_plan(*plan), seed
        broken = plain.excess(found.start, found.own)
        assert broken == pytest.approx(dict(found.give_way), abs=1e-5), seed
        assert found.holds == (wanted[1] == 0), seed
        levels = [level.value for level in found.levels]
        assert levels == pytest.approx(wanted[3:], abs=0.01, rel=1e-4), seed
        assert sum(broken.values()) == pytest.approx(wanted[2], abs=1e-4), seed


def test_enough_of_them_are_small_enough_and_of_both_kinds():
    assert sum(few_enough(Plain(given, rows)) for rows, given in map(problem, range(324))) >= 200
    small = [plain for plain in (Plain(given, rows) for rows, given in map(problem, range(60))) if few_enough(plain)]
    assert len(small) >= 36
    cannot = [plain for plain in small if best_of(plain, set())[1]]
    assert 5 <= len(cannot) <= len(small) - 5

"""Worn: the three sources against a plain reckoning, and what made series come to."""

import math
from datetime import date, timedelta

import numpy as np
import pytest

from uvren.core import worn
from uvren.core.day import Desk, Facts, SessionsDone
from uvren.core.loads import DailyLoads
from uvren.core.notices import Severity
from uvren.core.notices.worn import HarderForWeeks, Worn
from uvren.core.terms import EffortTerms
from uvren.core.worn import Basis, Sources, level_for, speaks, squad_variance

ITEMS = ("sleep_hours", "energy", "soreness", "mood")
WORSE, FLOORS = np.array([0.0, -1.0, -1.0, -1.0]), np.array([0.25, 0.5, 0.5, 0.5])
AS_OF, DAYS = date(2026, 3, 12), 180


def made(rows=1, days=DAYS, seed=1, answered=0.9, rated=0.9):
    """Reports, sessions (two days of three) and loads of a steady season."""
    random = np.random.default_rng(seed)
    daily = np.clip(np.round(random.normal(7, 1, (rows, len(ITEMS), days))), 0, 10)
    daily[np.broadcast_to(random.random((rows, 1, days)) > answered, daily.shape)] = np.nan
    at = [(row, day) for day in range(days) for row in range(rows) if day % 3]
    row, day = (np.array(one) for one in zip(*at, strict=True))
    kind = day % 2
    planned = np.where(kind == 0, 5.0, 6.0)
    effort = np.round((planned + 0.3 * kind + random.normal(0, 0.6, row.size)) * 2) / 2
    effort[random.random(row.size) > rated] = np.nan
    loads = np.zeros((rows, days))
    np.add.at(loads, (row, day), 60 * np.where(np.isnan(effort), planned, effort))
    return {"daily": daily, "row": row, "column": day, "kind": kind, "planned": planned, "effort": effort,
            "loads": loads}  # fmt: skip


def sources(given, variance=None):
    variance = squad_variance(given["daily"], FLOORS) if variance is None else variance
    return worn.sources(given["daily"], WORSE, FLOORS, variance, given["row"], given["column"], given["kind"],
                        given["planned"], given["effort"], given["loads"])  # fmt: skip


# One athlete, one day, in words as the method has them.
def plain_badness(daily, variance, day):
    def mean_of(day):
        out = []
        for item in range(len(ITEMS)):
            before = [one for one in daily[item, max(day - 56, 0) : day] if not math.isnan(one)]
            value = daily[item, day]
            if WORSE[item] == 0 or math.isnan(value) or len(before) < 10:
                continue
            middle = sum(before) / len(before)
            squares = sum((one - middle) ** 2 for one in before)
            spread = max(math.sqrt((squares + 10 * variance[item]) / (len(before) - 1 + 10)), FLOORS[item])
            out.append(min(max((value - middle) / spread * WORSE[item], -3), 3))
        return sum(out) / len(out) if out else math.nan

    mean = mean_of(day)
    before = [one for one in map(mean_of, range(max(day - 56, 0), day)) if not math.isnan(one)]
    middle = sum(before) / max(len(before), 1)
    squares = sum((one - middle) ** 2 for one in before)
    off = mean / max(math.sqrt((squares + 10 * 0.35) / max(len(before) - 1 + 10, 1)), 0.2)
    return off if math.isnan(off) else min(max(off, -3), 3)


def plain_reports(daily, variance, day):
    told = [(age, plain_badness(daily, variance, day - age)) for age in range(60)]
    known = [(0.7**age, bad) for age, bad in told if not math.isnan(bad)]
    return sum(w * bad for w, bad in known) / (sum(w for w, _ in known) + 1)


def plain_effort(given, day):
    def off(i):
        gap = given["effort"] - given["planned"]
        mine = [j for j in range(gap.size) if 0 < given["column"][i] - given["column"][j] <= 120
                and not math.isnan(gap[j])]  # fmt: skip
        if len(mine) < 10 or math.isnan(gap[i]):
            return math.nan
        whole = sum(gap[mine]) / len(mine)
        like = [j for j in mine if given["kind"][j] == given["kind"][i]]
        usual = (sum(gap[like]) + 5 * whole) / (len(like) + 5)
        spread = math.sqrt(sum((gap[j] - whole) ** 2 for j in mine) / (len(mine) - 1))
        return min(max((gap[i] - usual) / max(spread, 0.25), -3), 3)

    known = [(0.8 ** (day - 1 - given["column"][i]), off(i)) for i in range(given["row"].size)
             if given["column"][i] < day]  # fmt: skip
    known = [(w, x) for w, x in known if not math.isnan(x)]
    return sum(w * x for w, x in known) / (sum(w for w, _ in known) + 3)


def plain_load(loads, day):
    fading = [sum(loads[d] * math.exp(-(at - 1 - d) / 7) for d in range(at)) for at in range(day + 1)]
    before = np.array(fading[max(day - 180, 0) : day])
    return min(max((fading[day] - before.mean()) / before.std(ddof=1), -3), 3)


@pytest.mark.parametrize("day", [60, 133, DAYS - 1])
def test_the_sources_are_those_of_the_method(day):
    given = made(answered=0.7, rated=0.8)
    variance = squad_variance(given["daily"], FLOORS)
    of = sources(given)
    assert of.reports[0, day] == pytest.approx(plain_reports(given["daily"][0], variance, day))
    assert of.effort[0, day] == pytest.approx(plain_effort(given, day))
    assert of.load[0, day] == pytest.approx(plain_load(given["loads"][0], day))


def test_a_day_rests_on_nothing_that_comes_later_and_on_nobody_else():
    whole = made(rows=3)
    of = sources(whole)
    variance = squad_variance(whole["daily"], FLOORS)
    early = 150
    kept = whole["column"] < early
    cut = {name: whole[name][kept] for name in ("row", "column", "kind", "planned", "effort")}
    cut |= {"daily": whole["daily"][..., :early], "loads": whole["loads"][:, :early]}
    earlier = sources(cut, variance)
    for one, other in zip(vars(of).values(), vars(earlier).values(), strict=True):
        np.testing.assert_allclose(one[:, :early], other)
    mine = whole["row"] == 1
    alone = {name: whole[name][mine] for name in ("column", "kind", "planned", "effort")}
    alone |= {"row": np.zeros(mine.sum(), dtype=int), "daily": whole["daily"][1:2], "loads": whole["loads"][1:2]}
    for one, other in zip(vars(of).values(), vars(sources(alone, variance)).values(), strict=True):
        np.testing.assert_allclose(one[1:2], other)


def desk(given, level=1.3, past=60):
    """The given season on its last day, ``past`` days into what is known of the loads."""
    days = given["daily"].shape[2]
    rows = given["daily"].shape[0]
    none = np.zeros((rows, 0))
    done = SessionsDone(given["row"], given["column"] + AS_OF.toordinal() - days + 1, given["kind"], given["planned"],
                        given["effort"], np.full(given["row"].size, 60.0))  # fmt: skip
    facts = Facts(AS_OF, ITEMS, given["daily"], np.ones((rows, days), dtype=bool), (), none[..., None],
                  np.zeros(0, dtype=np.int64), done,
                  basis=Basis(level, squad_variance(given["daily"], FLOORS)))  # fmt: skip
    loads = DailyLoads(AS_OF - timedelta(days=days - 1), given["loads"], np.full(rows, max(days - past, 0)))
    ahead = DailyLoads(loads.first_day, np.pad(given["loads"], [(0, 0), (0, 7)]), loads.start)
    return Desk(AS_OF, loads, ahead, (), (), EffortTerms(np.full(rows, 5.0)), facts=facts)


def worse_lately(given, days, points, effort=0.0):
    """The same with reports lower and sessions harder over the last days."""
    out = {name: one.copy() for name, one in given.items()}
    out["daily"][:, 1:, -days:] = np.clip(out["daily"][:, 1:, -days:] - points, 0, 10)
    late = out["column"] >= DAYS - days
    out["effort"][late] = np.clip(out["effort"][late] + effort, 0, 10)
    return out


def said(kind, of):
    return dict(kind.find(of))


def test_one_bad_morning_is_not_over_read():
    spoke = 0
    for seed in range(20):
        quiet = made(seed=seed, answered=1.0, rated=1.0)
        quiet["loads"][:] = 200.0
        alone = {name: one.copy() for name, one in worse_lately(quiet, 1, 3).items()}
        spoke += bool(said(Worn(), desk(alone, past=DAYS)))
        alone["effort"][:] = alone["planned"]
        assert said(Worn(), desk(alone, past=DAYS)) == {}
    # By chance sessions felt harder just then.
    assert spoke <= 4


def test_three_weeks_of_small_ones_are_seen():
    seen = [
        bool(said(HarderForWeeks(), desk(worse_lately(made(seed=seed), 21, 0.8, effort=0.5), past=DAYS)))
        for seed in range(20)
    ]
    before = [bool(said(HarderForWeeks(), desk(made(seed=seed), past=DAYS))) for seed in range(20)]
    assert sum(seen) >= 15
    assert sum(before) <= 5


def test_two_of_three_that_agree_speak_with_the_numbers_of_each_and_three_ask_for_a_call():
    given = worse_lately(made(answered=1.0, rated=1.0), 5, 2, effort=1.5)
    given["loads"][:] = 200.0
    (notice,) = said(Worn(), desk(given, past=DAYS)).values()
    assert notice.severity is Severity.WATCH
    assert "own 56 days (" in notice.sentence
    assert "points harder for their plan than usual" in notice.sentence
    assert "load fading" not in notice.sentence
    given["loads"][:] += np.random.default_rng(1).normal(0, 10, given["loads"].shape)
    given["loads"][:, -6:] = 600.0
    (notice,) = said(Worn(), desk(given, past=DAYS)).values()
    assert notice.severity is Severity.ACT
    assert "load fading over a week is" in notice.sentence
    assert said(Worn(), desk(given, level=9.0, past=DAYS)) == {}


def test_it_is_silent_for_the_first_six_weeks():
    given = worse_lately(made(answered=1.0, rated=1.0), 5, 3, effort=2.5)
    (early,) = said(Worn(), desk(given, past=42)).values()
    assert (early.severity, early.about) == (Severity.NOTE, "early")
    assert "42 of 42 days" in early.sentence
    assert said(Worn(), desk(given, past=60)) != {}


@pytest.mark.parametrize(
    "how",
    [
        lambda given: given["daily"].fill(7.0),
        lambda given: given["effort"].fill(np.nan),
        lambda given: given["daily"].fill(np.nan),
        lambda given: given["daily"][:, 2, :90].fill(np.nan),
        lambda given: given["loads"].fill(0.0),
    ],
    ids=["constant answers", "no ratings", "no reports", "an item asked since mid-season", "no loads"],
)
def test_what_is_not_known_leaves_the_rest_and_breaks_nothing(how):
    given = made(rows=2)
    how(given)
    of = sources(given)
    for one in (of.reports, of.effort, of.load, of.total, of.drift):
        assert np.isfinite(one).all()
    assert list(Worn().find(desk(given, past=DAYS))) == []
    assert len(list(HarderForWeeks().find(desk(given, past=DAYS)))) <= 2


def flat(total, days=120, rows=4):
    random = np.random.default_rng(3)
    part = random.normal(total / 3, 0.4, (3, rows, days))
    return Sources(*part, *(np.zeros((rows, days)) for _ in range(5)))


def test_it_goes_on_down_to_half_a_point_below_where_it_began():
    one = lambda *values: np.array([values])  # noqa: E731
    of = Sources(one(0, 0.9, 0.6, 0.3, 0.6), one(0, 0.9, 0.6, 0.3, 0.6), one(0, 0, 0, 0, 0), *[one(0, 0, 0, 0, 0)] * 5)
    assert speaks(of, 1.5).tolist() == [[False, True, True, False, False]]
    silent = np.array([[False, True, False, False, False]])
    assert speaks(of, 1.5, silent).any() == False  # noqa: E712


@pytest.mark.parametrize("rate", [0.3, 0.5, 1.0])
def test_the_level_is_that_at_which_it_would_have_spoken_so_often(rate):
    of, there = flat(1.0), np.ones((4, 120), dtype=bool)
    level = level_for(of, rate, there)
    assert speaks(of, level).mean() * 7 == pytest.approx(rate, abs=0.12)
    there[:, :79] = False
    assert level_for(of, rate, there) == worn.USUAL_LEVEL


@pytest.mark.parametrize(("total", "level"), [(-5.0, worn.LOWEST_LEVEL), (9.0, worn.HIGHEST_LEVEL)])
def test_the_level_stays_within_bounds(total, level):
    assert level_for(flat(total), 0.5, np.ones((4, 120), dtype=bool)) == pytest.approx(level, abs=0.02)


def test_what_answers_vary_by_is_never_finer_than_half_a_step():
    daily = np.full((1, 4, 60), 7.0)
    assert squad_variance(daily, FLOORS).tolist() == (FLOORS**2).tolist()
    assert squad_variance(daily[..., :5], FLOORS).tolist() == (FLOORS**2).tolist()

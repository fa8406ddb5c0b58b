from datetime import date, timedelta

import numpy as np
import pytest

from uvren.core.day import Desk
from uvren.core.limits import make_rule
from uvren.core.loads import DailyLoads
from uvren.core.notices import Notice, Severity, Shape, needs, notices_for
from uvren.core.notices.squads import smallest_cut
from uvren.core.terms import EffortTerms

FIRST = date(2025, 8, 4)


def desk(past, plan=(), hard=(), advisory=(), start=0, today=0.0, estimated=None):
    """One athlete: loads through yesterday, today's so far, and the plan from today on."""
    done = np.array([[*past, today]], dtype=float)
    ahead = list(plan) + [0.0] * (8 - len(plan))
    planned = np.array([[*past, today + ahead[0], *ahead[1:]]], dtype=float)
    begins = np.array([start])
    guess = np.zeros_like(planned)
    if estimated is not None:
        guess[0, : len(estimated)] = estimated
    return Desk(
        as_of=FIRST + timedelta(days=len(past)),
        done=DailyLoads(FIRST, done, begins, guess[:, : done.shape[1]]),
        planned=DailyLoads(FIRST, planned, begins, guess),
        hard=tuple(hard),
        advisory=tuple(advisory),
        terms=EffortTerms(np.array([6.0])),
    )


def found(of):
    return {notice.code: notice for notice in notices_for(of)[0]}


def test_a_broken_limit_says_by_how_much_and_what_would_clear_it():
    past = [300.0] * 35 + [450.0] * 7
    hard = [make_rule("week_change_cap", 0.25)]
    notice = found(desk(past, hard=hard, plan=[450]))["limit_broken"]
    assert (notice.shape, notice.severity) == (Shape.OVER, Severity.ACT)
    assert "50\u00a0% above the week before" in notice.sentence
    # Six days of 450 stand; the seven days before today hold 6 x 300 + 450.
    left = 1.25 * (6 * 300 + 450) - 6 * 450
    assert notice.clears == f"Clears tonight if today adds {left // 1:.0f} or less."
    # What today's plan clears by itself asks for nothing.
    clears = found(desk(past, hard=hard, plan=[left - 1]))["limit_broken"]
    assert (clears.severity, clears.sentence) == (Severity.NOTE, notice.sentence)
    assert clears.clears == "Clears tonight with today's plan as it stands."


def test_a_limit_that_rest_today_does_not_mend_names_the_day_on_which_rest_does():
    past = [300.0] * 33 + [700.0] * 7
    notice = found(desk(past, hard=[make_rule("ratio_ceiling", 1.1)], plan=[300]))["limit_broken"]
    assert notice.clears.startswith("With rest from today it clears on ")


def test_an_advisory_limit_is_watched_and_sets_no_room():
    past = [300.0] * 35 + [450.0] * 7
    of = desk(past, advisory=[make_rule("week_change_cap", 0.25)], plan=[900])
    assert found(of)["limit_broken"].severity is Severity.WATCH
    assert of.rooms[0].load is None


def test_a_plan_beyond_room_needs_a_call_and_one_slightly_beyond_is_watched():
    cap = [make_rule("day_cap", 400)]
    far = found(desk([300.0] * 30, plan=[605], hard=cap))["plan_over_room"]
    assert far.severity is Severity.ACT
    assert far.sentence == "Today's plan is 605; room is 400, so the plan is 205 too much."
    assert far.clears == "Clears with 35 min at 6 off today's plan."
    assert found(desk([300.0] * 30, plan=[420], hard=cap))["plan_over_room"].severity is Severity.WATCH
    assert "plan_over_room" not in found(desk([300.0] * 30, plan=[400], hard=cap))


def test_a_coming_day_that_breaks_a_limit_is_named():
    notice = found(desk([300.0] * 30, plan=[300, 300, 700], hard=[make_rule("day_cap", 500)]))["planned_break"]
    assert (FIRST + timedelta(days=32)).strftime("%a") in notice.sentence
    assert notice.severity is Severity.WATCH


def test_under_the_floor_points_down_and_says_when_the_plan_mends_it():
    past = [300.0] * 35 + [0.0] * 6
    notice = found(desk(past, plan=[600] * 7, advisory=[make_rule("ratio_floor", 0.8)]))["under_floor"]
    assert notice.shape is Shape.UNDER
    assert notice.clears.startswith("With the plan kept it clears on ")


def test_an_unknown_load_is_a_gap_and_never_rest():
    past = [300.0] * 29 + [np.nan]
    notices = found(desk(past, hard=[make_rule("week_cap", 900)]))
    assert notices["rating_missing"].shape is Shape.GAP
    assert "not counted as rest" in notices["rating_missing"].sentence
    assert "limit_broken" not in notices


def test_an_estimate_is_a_note():
    notice = found(desk([300.0] * 30, estimated=[0.0] * 29 + [300.0]))["rating_estimated"]
    assert notice.severity is Severity.NOTE
    assert "300 is an estimate" in notice.sentence


def test_a_newcomer_is_told_how_many_days_are_missing():
    notice = found(desk([0.0] * 20 + [300.0] * 12, start=20))["newcomer"]
    assert (notice.shape, notice.clears) == (Shape.GAP, "Clears after 9 more days.")
    assert "12 of 21 days" in notice.sentence


def test_a_base_that_has_to_be_rebuilt_withholds_the_ratio_and_names_the_break():
    notices = found(desk([400.0] * 60 + [0.0] * 25))
    assert "return to training" in notices["ratio_withheld"].sentence
    assert (notices["break_found"].shape, notices["break_found"].figure) == (Shape.LINK, 25)
    assert "25 days without load and still going" in notices["break_found"].sentence


def test_the_last_day_allowed_in_a_row_is_noted():
    notice = found(desk([300.0] * 30 + [0.0] + [300.0] * 6, hard=[make_rule("days_in_row", 6)]))["limit_near"]
    assert "6 days in a row" in notice.sentence
    assert notice.clears == "Nearly reached: it leaves no room today."


def test_what_is_recorded_today_is_judged_today():
    of = desk([300.0] * 30, today=800.0, hard=[make_rule("day_cap", 600)])
    assert found(of)["limit_broken"].sentence == "The day's load is 800; the cap is 600."


def test_an_athlete_with_nothing_found_is_as_planned():
    of = desk([300.0, 200.0, 350.0, 0.0] * 9, plan=[300], hard=[make_rule("day_cap", 900)])
    assert notices_for(of) == [[]]
    assert needs([]) == "plan"


def test_the_group_follows_the_most_pressing_notice():
    past = [300.0] * 35 + [450.0] * 7
    hard = [make_rule("week_change_cap", 0.25)]
    assert needs(notices_for(desk(past, hard=hard, plan=[450]))[0]) == "change"
    assert needs(notices_for(desk(past, advisory=hard, plan=[450]))[0]) == "watch"


def test_a_state_that_asks_for_a_call_goes_before_a_plan_that_needs_a_change():
    said = lambda code, severity: Notice(code, Shape.OVER, severity, "", "", "")  # noqa: E731
    plan, state = said("limit_broken", Severity.ACT), said("worn", Severity.ACT)
    assert needs([plan]) == "change"
    assert needs([plan, state]) == needs([state]) == "call"
    assert needs([plan, said("worn", Severity.WATCH)]) == "change"
    assert needs([said("worn", Severity.WATCH)]) == "watch"
    assert needs([said("worn", Severity.NOTE)]) == needs([]) == "plan"


def test_one_session_too_long_for_several_is_one_story_with_its_smallest_change():
    over = np.array([60.0, 31.0, -5.0, np.nan, 260.0])
    cut = smallest_cut(over, np.full(5, 5.0), np.full(5, 65.0))
    assert (cut.minutes, cut.cleared, cut.left) == (15, (0, 1), (4,))
    names = ["A", "B", "C", "D", "E"]
    assert cut.sentence("court session", names) == (
        "Today's court session is over what the limits leave for 3; 15 min less clears all but E."
    )
    two = smallest_cut(over[:2], np.full(2, 5.0), np.full(2, 65.0))
    assert two.sentence("match", names).endswith("15 min less clears them all.")
    # To the minute, where five are five.
    assert smallest_cut(np.array([25.0, 25.0]), np.full(2, 5.0), np.full(2, 65.0)).minutes == 5
    # Who is planned for 40 of 65 minutes has less only once the session is shorter than that.
    part = smallest_cut(np.array([25.0, 25.0]), np.full(2, 5.0), np.array([65.0, 40.0]), 65.0)
    assert (part.minutes, part.cleared, part.left) == (30, (0, 1), ())
    late = smallest_cut(np.array([25.0, 60.0]), np.full(2, 5.0), np.array([65.0, 40.0]), 65.0)
    assert (late.minutes, late.cleared, late.left) == (5, (0,), (1,))
    none = smallest_cut(np.array([300.0, 300.0]), np.full(2, 5.0), np.full(2, 65.0))
    assert (none.minutes, none.left) == (0, (0, 1))
    assert none.sentence("match", names).endswith("half of it would still be.")
    assert smallest_cut(np.array([60.0, 0.0]), np.full(2, 5.0), np.full(2, 65.0)) is None


@pytest.mark.parametrize("seed", range(30))
def test_no_smaller_change_clears_them(seed):
    random = np.random.default_rng(seed)
    rows = int(random.integers(2, 12))
    over, effort = random.uniform(-50, 300, rows), random.uniform(3, 8, rows)
    minutes = np.full(rows, 60.0)
    cut = smallest_cut(over, effort, minutes)
    if cut is None:
        assert (over > 0.5).sum() < 2
        return
    assert set(cut.rows) == set(np.flatnonzero(over > 0.5))
    for row in cut.cleared:
        assert over[row] <= cut.minutes * effort[row] + 1e-6
    for row in cut.left:
        assert over[row] > 30 * effort[row]
    if cut.minutes:
        assert any(over[row] > (cut.minutes - 5) * effort[row] for row in cut.cleared)


def test_who_begins_today_is_noticed_today_and_not_before():
    first = desk([0.0] * 10, start=10, today=300.0, hard=[make_rule("day_cap", 100)])
    assert "limit_broken" in found(first)
    assert found(desk([0.0] * 10, start=11, today=0.0, hard=[make_rule("day_cap", 100)])) == {}

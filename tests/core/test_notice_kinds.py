"""Each kind of notice: when it speaks, when it does not, how it is tuned, and that its page is complete."""

from dataclasses import replace
from datetime import timedelta

import numpy as np
import pytest

from tests.core.test_notices import FIRST, desk
from uvren.core.audience import Audience
from uvren.core.day import Complaint, Doubt, Facts, Gate, Review, SessionsDone, Tuning
from uvren.core.day import TestSeries as Series
from uvren.core.errors import BadSetting
from uvren.core.fatigue import RestTrial
from uvren.core.limits import make_rule
from uvren.core.notices import KINDS, Severity, is_quiet, notices_for
from uvren.core.recovery import System, Work
from uvren.core.reports import ITEMS, ReportKind
from uvren.core.trials import Better

DAYS = 63
PAST = [400.0, 200.0, 0.0, 500.0, 300.0, 450.0, 0.0] * 10
AS_OF = FIRST + timedelta(days=len(PAST))
DAILY = tuple(code for code, item in ITEMS.items() if item.kind is ReportKind.DAILY)
WEEKLY = tuple(code for code, item in ITEMS.items() if item.kind is ReportKind.WEEKLY)
USUAL = {"energy": 7.0, "mood": 8.0, "soreness": 7.0, "drive": 8.0, "sleep_quality": 7.0}


def facts(last=None, signs=None, sessions=(), **more):
    """Steady reports, a step up and down by turns; ``last`` are answers of the last days by item."""
    daily = np.full((1, len(DAILY), DAYS), np.nan)
    for code, value in USUAL.items():
        daily[0, DAILY.index(code)] = value + np.where(np.arange(DAYS) % 2, 0.5, -0.5)
    for code, values in (last or {}).items():
        daily[0, DAILY.index(code), DAYS - len(values) :] = values
    weeks = np.array([AS_OF.toordinal() - back for back in (24, 17, 10, 3)])
    weekly = np.zeros((1, len(WEEKLY), 4))
    for code, values in (signs or {}).items():
        weekly[0, WEEKLY.index(code)] = values
    columns = list(zip(*sessions, strict=True)) if sessions else [()] * 5
    day, kind, planned, effort, minutes = columns
    done = SessionsDone(
        np.zeros(len(day), dtype=np.int64), np.array([AS_OF.toordinal() - back for back in day], dtype=np.int64),
        np.array(kind, dtype=np.int64), *(np.array(one, dtype=float) for one in (planned, effort, minutes)),
    )  # fmt: skip
    given = {"as_of": AS_OF, "items": DAILY, "daily": daily, "asked": np.ones((1, DAYS), dtype=bool),
             "signs": WEEKLY, "weekly": weekly, "weeks": weeks, "sessions": done}  # fmt: skip
    return Facts(**(given | more))


def of(known, past=PAST, plan=(), **more):
    return replace(desk(past, plan=plan, **more), facts=known)


def found(of_desk):
    return {notice.code: notice for notice in notices_for(of_desk)[0]}


def test_steady_reports_make_no_notice():
    # But that ten weeks without a lighter one are long.
    assert set(found(of(facts()))) == {"lighter_due"}


@pytest.mark.parametrize(
    ("last", "severity"),
    [
        ({"energy": [5.0]}, None),
        ({"energy": [5.0], "mood": [6.0]}, Severity.NOTE),
        ({"energy": [5.0], "mood": [6.0], "drive": [5.0]}, Severity.WATCH),
        ({"energy": [5.0, 5.0, 7.0, 5.0]}, Severity.WATCH),
        ({code: [5.0, 5.0, 5.0] for code in ("energy", "mood", "drive")}, Severity.ACT),
    ],
)
def test_a_changed_report_stands_beside_unless_a_squad_wants_it_on_the_list(last, severity):
    notice = found(of(facts(last))).get("report_changed")
    assert (notice.severity if notice else None) == (severity and Severity.NOTE)
    listed = Tuning(values={("report_changed", "listed"): np.ones(1)})
    put_back = found(replace(of(facts(last)), tuning=listed)).get("report_changed")
    assert (put_back.severity if put_back else None) == severity
    if notice:
        assert "5 (usual" in notice.sentence


def test_better_than_usual_is_no_notice():
    assert "report_changed" not in found(of(facts({"energy": [10.0] * 4, "mood": [10.0] * 4})))


def test_low_mood_names_who_to_talk_to_and_is_not_for_coaches():
    notice = found(of(facts({"mood": [4.0] * 4})))["low_mood"]
    assert "clinician" in notice.clears
    assert KINDS["low_mood"].audience is Audience.REPORTS
    assert "low_mood" in found(of(facts(signs={"low": [0, 1, 1, 1]})))


def test_low_mood_does_not_clear_itself_and_stays_until_five_of_seven_days_are_back():
    # Six weeks of low mood would be usual by now, were it held against the last 28 days.
    low = [4.0] * 42
    assert "low_mood" in found(of(facts({"mood": low})))
    assert "low_mood" in found(of(facts({"mood": [*low, 8.0, 8.0, 8.0, 8.0]})))
    assert "low_mood" not in found(of(facts({"mood": [*low, 8.0, 8.0, 4.0, 8.0, 8.0, 8.0]})))


def test_a_very_low_mood_counts_whatever_is_usual():
    always = [3.0] * DAYS
    assert "low_mood" in found(of(facts({"mood": always})))
    once = [8.0, 2.0, 8.0, 2.0, 8.0, 2.0, 8.0]
    assert "low_mood" not in found(of(facts({"mood": once})))


SIGNS = {code: [2, 2, 2, 2] for code in ("performance_down", "tired", "poor_sleep", "irritable")}
RESTED = [*PAST[:-21], *([300.0] * 9), 0.0, 0.0, *([300.0] * 10)]
WORKED = [*PAST[:-42], *([300.0] * 42)]


def dropped(*days_and_values):
    """A test that stood at 40 and then came out so, each as (days ago, value)."""
    before = [(AS_OF.toordinal() - back, 40.0 + back % 2) for back in (60, 53, 46, 39)]
    later = [(AS_OF.toordinal() - back, value) for back, value in days_and_values]
    return replace(series(40), results={0: [*before, *later]})


def test_the_screen_watches_and_an_answer_alone_is_no_measurement():
    watch = found(of(facts(signs={"tired": [0, 0, 1, 1], "colds": [0, 0, 1, 1]})))["overtraining"]
    assert (watch.severity, watch.about) == (Severity.WATCH, "watch")
    # Somebody says that performance is down, among other signs for weeks; nothing was measured.
    assert found(of(facts(signs=SIGNS), past=RESTED))["overtraining"].about == "watch"
    stale = facts(signs=SIGNS)
    old = replace(stale, weeks=stale.weeks - 14)
    assert "overtraining" not in found(of(old))


def test_a_drop_despite_rest_with_lasting_signs_is_suspect_and_refers():
    twice = dropped((18, 36.0), (3, 36.0))
    suspect = found(of(facts(signs=SIGNS, tests=(twice,)), past=RESTED))["overtraining"]
    assert (suspect.severity, suspect.about) == (Severity.ACT, "suspect")
    assert "although there was rest of usual length" in suspect.sentence
    assert "refer" in suspect.sentence
    assert "no more work is proposed" in suspect.clears
    assert found(of(facts(tests=(twice,)), past=RESTED))["overtraining"].about == "watch"


def test_a_drop_without_rest_says_rest_first_and_refers_with_lasting_signs():
    twice = dropped((18, 36.0), (3, 36.0))
    first = found(of(facts(tests=(twice,)), past=WORKED))["overtraining"]
    assert (first.severity, first.about, "refer" in first.sentence) == (Severity.ACT, "rest", False)
    assert "Two easy days, then the test again" in first.clears
    assert "refer" in found(of(facts(signs=SIGNS, tests=(twice,)), past=WORKED))["overtraining"].sentence


def test_still_down_after_a_week_off_is_suspect_and_a_single_result_is_not():
    off = [*PAST[:-21], *([0.0] * 8), *([300.0] * 13)]
    assert found(of(facts(tests=(dropped((18, 36.0), (3, 36.0)),)), past=off))["overtraining"].about == "suspect"
    once = found(of(facts(tests=(dropped((3, 37.8)),)), past=off))["overtraining"]
    assert (once.severity, once.about) == (Severity.NOTE, "watch")
    # Beyond twice the error and confirmed a week later it is a drop as well.
    confirmed = dropped((10, 36.0), (3, 36.0))
    assert found(of(facts(tests=(confirmed,)), past=WORKED))["overtraining"].about == "rest"


def test_a_rest_trial_is_followed_and_then_judged():
    resting = facts(signs=SIGNS, trials={0: RestTrial(AS_OF - timedelta(days=2), 7)})
    assert "day 3 of 7" in found(of(resting))["overtraining"].sentence
    over = found(of(replace(resting, trials={0: RestTrial(AS_OF - timedelta(days=7), 7)})))["overtraining"]
    assert (over.severity, "whether they are better" in over.sentence) == (Severity.ACT, True)
    not_better = replace(resting, trials={0: RestTrial(AS_OF - timedelta(days=7), 7, better=False)})
    assert "refer" in found(of(not_better))["overtraining"].sentence
    better = replace(
        resting, trials={0: RestTrial(AS_OF - timedelta(days=7), 7, better=True)}, weekly=resting.weekly * 0
    )
    assert "overtraining" not in found(of(better))


def test_soreness_counts_when_the_like_session_comes_again():
    sessions = [(1, 2, 5.0, 5.0, 60.0)]
    known = facts({"soreness": [7.0, 4.0]}, sessions=sessions, kinds_today=frozenset({2}))
    assert "soreness_stays" in found(of(known, plan=[300]))
    assert "soreness_stays" not in found(of(replace(known, kinds_today=frozenset({3})), plan=[300]))
    assert "soreness_stays" not in found(of(known))


def test_life_load_counts_only_with_hard_training():
    known = facts(signs={"life_mind": [0, 0, 0, 2], "life_feelings": [0, 0, 0, 2]})
    hard = [300.0, 0.0] * 28 + [700.0] * 5
    assert (
        "mind and feelings"
        in found(of(replace(known, as_of=FIRST + timedelta(days=61)), past=hard))["life_load"].sentence
    )
    assert "life_load" not in found(of(known))


EASY = [(back, 1, 5.0, 5.0 + 0.5 * (back % 2), 60.0) for back in range(40, 6, -2)]


def test_light_sessions_that_felt_hard_twice_are_watched_and_once_are_not():
    hard = [(5, 1, 3.0, 6.0, 40.0), (2, 1, 3.0, 6.5, 40.0)]
    sentence = found(of(facts(sessions=[*EASY, *hard])))["index_off"].sentence
    assert "6" in sentence
    assert "planned at 3; sessions usually come out as planned" in sentence
    assert "index_off" not in found(of(facts(sessions=[*EASY, hard[0], (2, 1, 3.0, 3.0, 40.0)])))


def test_light_sessions_rated_below_their_plan_are_not_hard_however_low_the_usual_is():
    low = [(back, 1, 5.0, 2.0 + 0.5 * (back % 2), 60.0) for back in range(40, 6, -2)]
    below = [(5, 1, 4.0, 3.0, 40.0), (2, 1, 4.0, 3.0, 40.0)]
    assert "index_off" not in found(of(facts(sessions=[*low, *below])))
    on_plan = [(5, 1, 4.0, 4.0, 40.0), (2, 1, 4.0, 4.5, 40.0)]
    assert "3.0 below plan" in found(of(facts(sessions=[*low, *on_plan])))["index_off"].sentence


def test_an_effort_far_above_its_plan_is_noted_the_day_after():
    assert "planned at 5, felt as 9" in found(of(facts(sessions=[(1, 1, 5.0, 9.0, 60.0)])))["effort_far"].sentence
    assert "effort_far" not in found(of(facts(sessions=[(3, 1, 5.0, 9.0, 60.0)])))


def series(*values, jump=True, gap=14, **more):
    today = AS_OF.toordinal()
    results = [(today - 2 - gap * (len(values) - 1 - i), value) for i, value in enumerate(values)]
    return Series("jump", "Jump", "cm", Better.HIGHER, 1.0, 0.8, {0: results}, jump=jump, **more)


def test_a_test_down_beyond_its_error_is_noted_and_twice_that_watched():
    assert "test_down" not in found(of(facts(tests=(series(40, 40.5, 39.8, 40, 38.8),))))
    assert found(of(facts(tests=(series(40, 40.5, 39.8, 40, 38.3),))))["test_down"].severity is Severity.NOTE
    assert found(of(facts(tests=(series(40, 40.5, 39.8, 40, 37.0),))))["test_down"].severity is Severity.WATCH


def test_jump_and_energy_down_together_are_not_recovering_and_jump_alone_is_not():
    jump = (series(40, 40.5, 39.8, 40, 37.0),)
    both = found(of(facts({"energy": [5.0, 5.0, 5.0]}, tests=jump)))["three_signals"]
    assert "not recovering" in both.sentence
    alone = found(of(facts(tests=jump)))["three_signals"]
    assert "muscle and nerve" in alone.sentence
    assert alone.severity is Severity.NOTE


def test_a_jump_down_twice_running_is_watched_and_what_is_only_felt_is_a_passing_note():
    twice = (series(40, 40.5, 39.8, 40, 37.0, 35.0),)
    assert found(of(facts(tests=twice)))["three_signals"].severity is Severity.WATCH
    held = (series(40, 40.5, 39.8, 40, 40.2),)
    felt = facts({"energy": [5.0, 7.0, 7.0]}, tests=held)
    assert "felt, not yet seen in the jump" in found(of(felt))["three_signals"].sentence
    older = replace(held[0], results={0: [(day - 3, value) for day, value in held[0].results[0]]})
    tired = facts({"energy": [5.0] + [7.0] * 5}, tests=(older,))
    assert "three_signals" not in found(of(tired))


def test_sides_that_differ_say_where_to_look():
    notice = found(of(facts(tests=(series(40, 40, jump=False, sides={0: (14.0, "right")}),))))["sides_differ"]
    assert "range of motion" in notice.clears


def test_complaints_gates_reviews_and_doubts_become_notices():
    known = facts(
        complaints=(Complaint(0, "left knee, 4 of 10", 4, AS_OF, 1, new=False),),
        gates=(Gate(0, False, "No sprints", AS_OF, None, "Dr. A"),),
        reviews=(Review(0, "rest", AS_OF - timedelta(days=3), AS_OF),),
        doubts=(Doubt(0, AS_OF, "x", "The recording covers half of its time."),),
    )
    notices = found(of(known))
    assert notices["complaint"].severity is Severity.WATCH
    assert "No sprints" in notices["gate"].sentence
    assert {"review_due", "sensor_doubtful"} <= set(notices)
    unseen = replace(known, complaints=(Complaint(0, "left knee, 4 of 10", 4, AS_OF, 1, new=True),))
    assert found(of(unseen))["complaint"].severity is Severity.ACT
    assert KINDS["complaint"].audience is Audience.CLINICAL


def test_missing_reports_count_asked_days_and_not_this_morning():
    known = facts()
    daily = known.daily.copy()
    daily[:, :, -4:] = np.nan
    assert found(of(replace(known, daily=daily)))["report_missing"].figure == 3
    asked = known.asked.copy()
    asked[:, -3:] = False
    assert "report_missing" not in found(of(replace(known, daily=daily, asked=asked)))


def test_days_without_rest_alike_days_and_heavy_days_are_noticed():
    notices = found(of(facts(), past=[300.0, 0.0] * 25 + [300.0] * 9))
    assert notices["days_running"].figure == 9 + 0
    alike = [100.0, 600.0, 0.0, 300.0, 50.0, 500.0, 0.0] * 6 + [400.0, 410.0, 400.0, 390.0, 400.0, 410.0, 395.0]
    assert found(of(facts(), past=alike))["spread_high"].figure > 2
    often = [300.0, 0.0] * 20 + [300.0] * 7 + [0.0] + [300.0] * 6
    assert "13 of the last 14 days" in found(of(facts(), past=often))["days_running"].sentence
    assert "days_running" not in found(of(facts(), past=[300.0, 0.0] * 20 + ([300.0] * 6 + [0.0]) * 2))


BEFORE = [200.0, 0.0, 250.0] * 12


def worked(*kinds, beginner=False, plan=()):
    """A desk with kinds of work: (name, systems, days from BEFORE on, begins, ends)."""
    past = [*BEFORE, *kinds[0][2]]
    main = of(facts(), past=past, plan=plan)
    works = []
    for name, systems, last, begins, ends in kinds:
        load = main.planned.load.copy()
        load[0, : len(past)] = [*BEFORE, *last]
        hours = np.ones(load.shape[1])
        works.append(Work(name, systems, load, begins * hours, ends * hours))
    return replace(main, work=tuple(works), beginner=np.array([beginner]))


def court(*last, begins=18.0, ends=19.5):
    return ("Session load", (System.MUSCLE, System.ENERGY), last, begins, ends)


def test_two_heavy_days_for_one_system_are_too_close_within_its_window():
    notice = found(worked(court(0.0, 700.0, 700.0)))["heavy_close"]
    assert (notice.about, notice.figure) == ("muscle", 22.5)
    assert "22 h later; the recovery window (muscle) is 24 h or more" in notice.sentence
    # A day between, or more than a day from one to the next, is enough for muscle.
    assert "heavy_close" not in found(worked(court(700.0, 0.0, 700.0)))
    assert "heavy_close" not in found(worked(court(0.0, 700.0, 700.0, begins=19.0, ends=18.9)))


def test_a_beginners_window_is_taken_at_its_late_end():
    assert "72 h" in found(worked(court(700.0, 0.0, 700.0), beginner=True))["heavy_close"].sentence


def test_different_work_counts_together_where_it_loads_one_system():
    lifting = ("Lifting", (System.MUSCLE, System.NERVE), (0.0, 900.0, 0.0), 17.0, 18.5)
    notice = found(worked(court(0.0, 0.0, 700.0), lifting))["heavy_close"]
    assert "Heavy lifting on" in notice.sentence
    assert "and heavy session load on" in notice.sentence
    throws = ("Throws", (System.TENDON_BONE,), (0.0, 900.0, 0.0), 18.0, 19.0)
    assert "heavy_close" not in found(worked(court(0.0, 0.0, 700.0), throws))


def test_what_is_planned_heavy_for_today_counts_while_it_can_still_be_changed():
    notice = found(worked(court(0.0, 0.0, 700.0), plan=[700.0]))["heavy_close"]
    assert "as planned for today" in notice.sentence
    assert "heavy_close" not in found(worked(court(0.0, 0.0, 700.0), plan=[200.0]))


def test_a_base_that_rises_for_four_weeks_is_noted():
    rising = [200 * 1.05 ** (day // 7) * (day % 7 < 5) for day in range(70)]
    assert "4 weeks running" in found(of(facts(), past=rising))["base_rising"].sentence
    assert "base_rising" not in found(of(facts()))


def test_settings_turn_a_notice_off_or_move_it_for_one_row():
    known = of(facts({"energy": [5.0], "mood": [6.0]}))
    assert "report_changed" in found(known)
    off = replace(known, tuning=Tuning(off={"report_changed": np.array([True])}))
    assert "report_changed" not in found(off)
    wider = replace(known, tuning=Tuning(values={("report_changed", "size"): np.array([6.0])}))
    assert "report_changed" not in found(wider)


def test_a_setting_that_makes_no_sense_is_refused_at_its_field():
    with pytest.raises(BadSetting) as refused:
        KINDS["report_changed"].check({"size": 99})
    assert refused.value.field == "values.size"
    with pytest.raises(BadSetting):
        KINDS["limit_broken"].check({"size": 1})


def test_a_call_quiets_what_it_saw_and_not_what_got_worse():
    notice = found(of(facts({"energy": [5.0], "mood": [6.0]})))["report_changed"]
    assert is_quiet(notice, {notice.key: "note"})
    assert not is_quiet(replace(notice, severity=Severity.ACT), {notice.key: "note"})
    assert not is_quiet(notice, {})


def test_what_stood_yesterday_is_found_on_yesterdays_desk():
    known = of(facts({"energy": [5.0, 5.0], "mood": [6.0, 6.0]}))
    assert "report_changed" in found(known.before())
    fresh = of(facts({"energy": [5.0], "mood": [6.0]}))
    assert "report_changed" not in found(fresh.before())


def test_what_a_day_brought_was_not_there_on_its_morning():
    """The load, the session and the test of yesterday are new this morning."""
    cap = [make_rule("day_cap", 600)]
    loaded = replace(desk([*PAST[:-1], 700.0], hard=cap), facts=facts(sessions=[(1, 1, 5.0, 9.0, 60.0)]))
    assert {"limit_broken", "effort_far"} <= set(found(loaded))
    assert not {"limit_broken", "effort_far"} & set(found(loaded.before()))
    two_days_ago = replace(desk([*PAST[:-2], 700.0, 700.0], hard=cap), facts=facts())
    assert "limit_broken" in found(two_days_ago.before())
    unrated = desk([*PAST[:-1], np.nan])
    assert "rating_missing" in found(unrated)
    assert "rating_missing" not in found(unrated.before())
    down = series(40, 40.5, 39.8, 40, 37.0)
    yesterday = replace(down, results={0: [(day + 1, value) for day, value in down.results[0]]})
    assert "test_down" in found(of(facts(tests=(yesterday,))))
    assert "test_down" not in found(of(facts(tests=(yesterday,))).before())
    assert "test_down" in found(of(facts(tests=(down,))).before())


def test_two_jumps_of_one_day_are_one_and_energy_that_was_not_asked_is_not_held():
    one = series(40, 40.5, 39.8, 40, 37.0)
    other = replace(series(30, 30.5, 29.8, 30, 27.0), code="drop")
    assert found(of(facts(tests=(one, other))))["three_signals"].severity is Severity.NOTE
    silent = facts(tests=(one,), sessions=[*EASY, (3, 1, 5.0, 5.0, 60.0)])
    daily = silent.daily.copy()
    daily[:, silent.item("energy")] = np.nan
    said = found(of(replace(silent, daily=daily)))["three_signals"].sentence
    assert "energy was not asked" in said


def test_an_item_that_is_good_neither_way_is_judged_both_ways():
    hours = [7.5, 8.0] * (DAYS // 2)
    for last in (4.0, 12.0):
        known = facts({"sleep_hours": [*hours[:-1], last]})
        at = known.item("sleep_hours")
        assert known.badness[0, at, -1] > 3


def test_what_lasts_is_held_against_days_before_it_can_have_begun():
    weeks = facts({"energy": [5.0] * 16})
    at = weeks.item("energy")
    assert weeks.lasting[0, at] == 1
    # The days themselves have become half of what was usual in the last 28.
    assert weeks.badness[0, at, -1] < 1

"""Lighter weeks: proposed with their signs, planned session by session, taken back, and looked back on."""

from datetime import timedelta

import pytest

from tests.conftest import NOW, TODAY
from tests.squad import noon
from uvren.core.audience import ALL, LEAST
from uvren.core.plan.helped import Verdict
from uvren.core.plan.lighter import School
from uvren.core.reports import ReportKind
from uvren.services.errors import Invalid, NotFound
from uvren.services.reports import Told, give
from uvren.services.session.planning import NewSession, plan_sessions
from uvren.services.session.work import WorkChange, record_work
from uvren.services.stamp import Stamp
from uvren.services.week import lighter, saving
from uvren.services.week.reading import Changes, open_week
from uvren.store.models import LighterWeek, SessionKind
from uvren.store.types import new_ulid

BY = Stamp(None, NOW)
FRIDAY = TODAY + timedelta(days=1)


def read(db, squad, day=TODAY, audiences=ALL, school=School.CUT, **more):
    return lighter.read_lighter(db, squad.squad, day, TODAY, audiences, school, **more)


def accept(db, squad, i=0, day=TODAY, school=School.CUT, **more):
    how = {"stamp": Stamp(squad.staff.id, NOW), "today": TODAY} | more
    return lighter.accept(db, squad.squad, day, squad.athletes[i], school, ALL, **how)


def plans(db, squad, day=FRIDAY):
    ahead = open_week(db, squad.squad, TODAY, TODAY, Changes()).ahead["session_rpe"]
    return list(ahead[(day - TODAY).days].plan)


def test_after_eight_weeks_without_one_it_is_proposed_with_what_becomes_of_each_session(db, squad):
    found = read(db, squad)
    assert [one.name for one in found.due] == ["A", "B", "C", "D"]
    assert found.due[0].signs == "8 weeks since a lighter one."
    # Six courts of 60 min at 5: to three fifths, to the nearest five.
    assert [line.said for line in found.due[0].lines] == ["60 min at 5 → 35 min at 5"] * 6
    assert (found.standing, found.back) == ([], [])


def test_a_coach_reads_which_stand_and_no_sign_and_no_proposal(db, squad):
    accept(db, squad)
    found = read(db, squad, audiences=LEAST)
    assert (found.due, found.back) == ([], [])
    assert [one.name for one in found.standing] == ["A"]


def test_accepted_it_is_the_plan_and_taken_back_the_plan_before_it(db, squad):
    saving.plan_own(db, squad.squad, {(squad.athletes[0], squad.on(FRIDAY).id): 40.0}, stamp=BY)
    week = accept(db, squad)
    assert plans(db, squad) == [25 * 5, 300, 300, 300]
    found = read(db, squad)
    assert [one.name for one in found.due] == ["B", "C", "D"]
    assert found.standing[0].last == TODAY + timedelta(days=6)
    assert found.standing[0].lines[1].said == "40 min at 5 → 25 min at 5"
    with pytest.raises(NotFound, match="No lighter week is proposed"):
        accept(db, squad)
    lighter.take_back(db, squad.squad, week.id, stamp=BY)
    lighter.take_back(db, squad.squad, week.id, stamp=BY)
    assert plans(db, squad) == [200, 300, 300, 300]
    assert [one.name for one in read(db, squad).due] == ["A", "B", "C", "D"]
    with pytest.raises(NotFound):
        lighter.take_back(db, squad.squad, new_ulid(), stamp=BY)


def test_in_fewer_days_the_gyms_is_freed_first_for_mobility_or_a_walk(db, squad):
    squad.on(FRIDAY).kind = SessionKind.GYM
    db.flush()
    lines = read(db, squad, fewer=True).due[0].lines
    freed = [line for line in lines if line.day == FRIDAY]
    assert [line.said for line in freed] == ["60 min at 5 → a day without work; mobility or a walk, 20 min at 2"]
    assert [line.said for line in lines if line.day != FRIDAY] == ["60 min at 5 → 35 min at 5"] * 5
    week = accept(db, squad, fewer=True)
    assert plans(db, squad) == [40, 300, 300, 300]
    lighter.take_back(db, squad.squad, week.id, stamp=BY)
    assert plans(db, squad) == [300] * 4


def test_a_second_session_of_a_freed_day_is_left_out(db, squad):
    friday = squad.on(FRIDAY)
    friday.kind = SessionKind.GYM
    plan_sessions(db, squad.squad, [NewSession(noon(FRIDAY) + timedelta(hours=5), SessionKind.GYM, "Gym", 40, 4)])
    said = [line.said for line in read(db, squad, fewer=True).due[0].lines if line.day == FRIDAY]
    assert said[0].startswith("60 min at 5 → a day without work")
    assert said[1] == "40 min at 4 → left out"


def test_an_effort_above_the_cap_comes_down_and_goes_back_up(db, squad):
    session = squad.on(FRIDAY)
    session.planned_effort = 8.0
    db.flush()
    week = accept(db, squad)
    assert plans(db, squad)[0] == 35 * 6
    lighter.take_back(db, squad.squad, week.id, stamp=BY)
    assert plans(db, squad)[0] == 60 * 8


def test_no_lighter_week_begins_in_the_past(db, squad):
    with pytest.raises(Invalid, match="today or later"):
        accept(db, squad, day=TODAY - timedelta(days=1))


@pytest.fixture
def gym(db, squad):
    """A gym session with lifts three days ago, and one to come on Friday."""
    done, to_come = plan_sessions(
        db,
        squad.squad,
        [
            NewSession(noon(day) + timedelta(hours=5), SessionKind.GYM, "Strength", 50, 6)
            for day in (TODAY - timedelta(days=3), FRIDAY)
        ],
    )
    items = [{"exercise": "Front squat", "sets": 4, "reps": 5, "kg": 100, "reserve": 2},
             {"exercise": "Calf raise", "sets": 3, "reps": 12, "kg": 40}]  # fmt: skip
    change = WorkChange(done.id, squad.athletes[0], "lifting", {"items": items})
    record_work(db, squad.squad.id, [change], stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    return to_come


def test_lifts_are_told_line_by_line_by_what_was_lifted_last(db, squad, gym):
    found = {one.name: one for one in read(db, squad).due}
    line = next(one for one in found["A"].lines if one.session_id == gym.id)
    assert line.said == "50 min at 6 → 30 min at 6"
    assert line.lifts == [
        "Front squat: 4 × 5 at 100 kg, 2 in reserve → 2 × 5 at 65 kg, 4 in reserve",
        "Calf raise: 3 × 12 at 40 kg → 2 × 10 at 40 kg",
    ]
    # The other school: a low share of the estimated maximum, moved fast.
    share = {one.name: one for one in read(db, squad, school=School.SHARE).due}
    fast = next(one for one in share["A"].lines if one.session_id == gym.id)
    assert fast.lifts[0] == "Front squat: 4 × 5 at 100 kg, 2 in reserve → 3 × 3 at 60 kg"
    assert next(one for one in found["B"].lines if one.session_id == gym.id).lifts == []


@pytest.mark.parametrize(("after", "verdict"), [(8.0, Verdict.HELPED), (6.0, Verdict.SAME), (3.0, Verdict.WORSE)])
def test_the_week_after_says_whether_it_helped_and_the_next_one_follows_from_it(db, squad, after, verdict):
    first = TODAY - timedelta(days=14)
    db.add(LighterWeek(squad_id=squad.squad.id, athlete_id=squad.athletes[0], from_day=first, school="cut", signs=[],
                       lines=[], stood=[], made_by=squad.staff.id, made_at=noon(first)))  # fmt: skip
    for back in range(1, 43):
        day = TODAY - timedelta(days=back)
        energy = after if back <= 7 else 6.0
        told = Told(new_ulid(), squad.athletes[0], ReportKind.DAILY, day, {"energy": energy}, noon(day))
        give(db, squad.squad, told, stamp=Stamp(squad.staff.id, noon(day)), today=day)
    db.flush()
    found = read(db, squad)
    (back,) = found.back
    assert back.verdict is verdict
    due = next(one for one in found.due if one.name == "A")
    assert due.last.startswith("The last one, from Thu 26 February: ")
    minutes = {line.after for line in due.lines}
    assert minutes == ({35.0} if verdict is Verdict.HELPED else {30.0})
    assert ("cuts deeper" in due.last) is (verdict is not Verdict.HELPED)

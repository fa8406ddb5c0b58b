"""The day after a match: who has played it, who is short of it, inside the room there is."""

from datetime import timedelta

import pytest

from tests.conftest import NOW, TODAY
from tests.squad import limit, noon
from uvren.core.audience import ALL, LEAST
from uvren.core.day import CallKind
from uvren.core.plan.topup import Form
from uvren.services.morning.calls import NewCall, make_call
from uvren.services.session import making, planning
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.squad.limits import set_limit
from uvren.services.stamp import Stamp
from uvren.services.versions import WHATEVER
from uvren.services.week import saving
from uvren.services.week.reading import Changes, open_week
from uvren.services.week.solving import course_of
from uvren.services.week.topups import TOP_UP, after_match, chosen_form
from uvren.store.models import Scope, SessionKind
from uvren.store.types import new_ulid

BY = Stamp(None, NOW)
YESTERDAY = TODAY - timedelta(days=1)


def played(db, squad, day, minutes):
    """A match of that day in which each was on for so long; None is not said."""
    (match,) = planning.plan_sessions(
        db, squad.squad, [planning.NewSession(noon(day) + timedelta(hours=6), SessionKind.MATCH, "Match", 60, 9)]
    )
    changes = [
        EntryChange(match.id, athlete, on, 9.0 if on else None)
        for athlete, on in zip(squad.athletes, minutes, strict=True)
    ]
    record_entries(db, squad.squad.id, changes, stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    db.flush()
    return match


@pytest.fixture
def wide(db, squad):
    """Limits that leave room for a match and a top-up."""
    for rule, value in (("ratio_ceiling", 3.0), ("week_change_cap", 3.0), ("day_cap", 3000)):
        set_limit(db, squad.squad, limit(rule, value, TODAY - timedelta(days=3)), stamp=Stamp(squad.staff.id, NOW),
                  today=TODAY - timedelta(days=3))  # fmt: skip


def read(db, squad, day=TODAY, audiences=ALL):
    return after_match(db, squad.squad, day, TODAY, audiences)


def rows(found):
    return {row.name: row for row in found.rows}


def test_without_a_match_in_the_last_days_there_is_nothing_to_recover_from(db, squad):
    assert read(db, squad) is None
    played(db, squad, TODAY - timedelta(days=4), [60, 60, 60, 60])
    assert read(db, squad) is None


def test_who_played_recovers_and_who_did_not_tops_up_within_half_an_hour(db, squad, wide):
    played(db, squad, YESTERDAY, [60, 40, 0, None])
    # A recovery that the squad has anyway is not one for some.
    own = planning.NewSession(noon(TODAY) - timedelta(hours=2), SessionKind.RECOVERY, "Recovery", 20, 2)
    planning.plan_sessions(db, squad.squad, [own])
    found = read(db, squad)
    assert (found.played_on, found.on, found.may, found.planned) == (YESTERDAY, TODAY, True, False)
    # After the court of the day, which is over at one.
    assert found.at == "13:00"
    does = {name: row.does for name, row in rows(found).items()}
    assert does == {"A": "recover", "B": "recover", "C": "top_up", "D": "nothing"}
    top = rows(found)["C"]
    assert top.words == "16 × 20 s runs, 40 s rest, 30 min with the warm-up"
    assert (top.minutes, top.loads["session_rpe"]) == (30, 210)
    assert rows(found)["D"].words == "nobody has said how long they played"


def test_nobody_tops_up_beyond_what_a_match_of_their_position_is(db, squad, wide):
    # A match of a wing (A, C) is 40 minutes here; C had 20 of them.
    played(db, squad, YESTERDAY, [40, 60, 20, 60])
    top = rows(read(db, squad))["C"]
    assert top.does == "top_up"
    assert top.loads["session_rpe"] <= 20 * 9
    assert rows(read(db, squad))["C"].minutes < 30


def test_a_limit_that_leaves_no_room_is_named_and_so_is_the_day_from_which_it_does(db, squad, wide):
    played(db, squad, YESTERDAY, [60, 60, 0, 0])
    own = limit("day_cap", 300.0, TODAY, athlete_id=squad.athletes[2], scope=Scope.ATHLETE)
    set_limit(db, squad.squad, own, stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    row = rows(read(db, squad))["C"]
    # The squad's own session takes all of it on each day but Sunday, the last that is asked.
    assert row.does == "later"
    assert row.words.startswith("not before Sun 15 March: cap on a day")


def test_who_does_not_train_tops_up_for_nothing_and_a_coach_reads_no_reason(db, squad, wide):
    played(db, squad, YESTERDAY, [60, 60, 0, 0])
    call = NewCall(new_ulid(), squad.athletes[2], TODAY, CallKind.REFER, "meniscus", sure=True)
    make_call(db, squad.squad, call, stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    assert rows(read(db, squad))["C"].does == "nothing"
    assert rows(read(db, squad, audiences=LEAST))["C"].words in ("does not train", "ask staff first")


def test_a_position_works_in_place_when_the_squad_says_so(db, squad, wide):
    played(db, squad, YESTERDAY, [60, 60, 0, 0])
    chosen_form(squad.squad, "wing", Form.IN_PLACE)
    found = rows(read(db, squad))
    assert (found["C"].form, found["D"].form) == (Form.IN_PLACE, Form.RUNS)
    assert "quick work in place" in found["C"].words


def test_what_is_planned_for_some_counts_as_it_says_and_for_nobody_else(db, squad, wide):
    played(db, squad, YESTERDAY, [60, 60, 0, 0])
    before = open_week(db, squad.squad, TODAY, TODAY, Changes()).ahead["session_rpe"][0]
    row = rows(read(db, squad))["C"]
    wanted = making.Wanted(SessionKind.RUN, TOP_UP, TODAY, noon(TODAY).time(), row.minutes, 7.0)
    (session,) = making.make_sessions(db, squad.squad, wanted, until=None, stamp=BY)
    own = {(athlete, session.id): row.minutes if athlete == row.athlete_id else 0.0 for athlete in squad.athletes}
    loads = {(row.athlete_id, session.id): {"session_rpe": 150.0}}
    saving.plan_own(db, squad.squad, own, stamp=BY, loads=loads)
    opened = open_week(db, squad.squad, TODAY, TODAY, Changes())
    after = opened.ahead["session_rpe"][0]
    assert list(after.plan - before.plan) == [0, 0, 150, 0]
    assert read(db, squad).planned
    # The solver reads the same, and half the minutes are half the load.
    course, _ = course_of(squad.squad, TODAY, opened)
    solved = next(one for one in course.sessions if one.id == session.id)
    assert solved.load_of(str(row.athlete_id), "session_rpe") * row.minutes == pytest.approx(150)
    saving.plan_own(db, squad.squad, {(row.athlete_id, session.id): row.minutes / 2}, stamp=BY)
    half = open_week(db, squad.squad, TODAY, TODAY, Changes()).ahead["session_rpe"][0]
    assert half.plan[2] - before.plan[2] == pytest.approx(75)
    # Deleted and brought back it is the same again.
    making.delete_session(db, squad.squad, session.id, version=WHATEVER, stamp=BY)
    assert not read(db, squad).planned
    making.restore_session(db, squad.squad, session.id, stamp=BY)
    again = open_week(db, squad.squad, TODAY, TODAY, Changes()).ahead["session_rpe"][0]
    assert again.plan[2] - before.plan[2] == pytest.approx(75)

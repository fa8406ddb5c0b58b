"""Stages of a return, who moves them, what else stands in the list, and what is refused."""

from dataclasses import replace
from datetime import timedelta

import pytest

from tests.conftest import NOW, TODAY
from tests.returning import MAIN, OFF, begun, hurt, part_of, read, rested, shown, told
from uvren.core.audience import ALL, LEAST
from uvren.core.body import Pain, Side, Site
from uvren.core.day import Stands
from uvren.core.returns import School
from uvren.services.day.day import Part
from uvren.services.day.kept import parts_on
from uvren.services.errors import Invalid, NotAllowed, NotFound, Stale
from uvren.services.morning import read_morning
from uvren.services.morning.own_today import own_today
from uvren.services.return_ import plans, reading, rest_trials, whole
from uvren.services.return_.plans import Changed, NewPlan, SquadBreak
from uvren.services.squad import squads
from uvren.services.stamp import Stamp
from uvren.services.versions import WHATEVER
from uvren.store.models import Channel, Club, ReturnEvent, ReturnKind, ReturnStep, Source
from uvren.store.types import new_ulid


def test_a_stage_goes_on_by_a_clinician_with_a_reason_where_something_is_open(db, squad, by):
    rested(db, squad)
    plan = hurt(db, squad, by)
    stage = shown(db, squad, plan).stage
    assert (stage.number, stage.of, [one.met for one in stage.criteria]) == (1, 5, [False] * 3)
    plans.measure(db, squad.squad, plan.id, "range", 160.0, 170.0, by)
    plans.give_word(db, squad.squad, plan.id, "", by)
    assert [one.met for one in shown(db, squad, plan).stage.criteria] == [False, True, True]
    with pytest.raises(Invalid, match="Say why it goes on: Pain, then next morning not met"):
        plans.move(db, squad.squad, plan.id, 2, "", by, version=plan.version)
    plans.move(db, squad.squad, plan.id, 2, "seen today", by, version=plan.version)
    # Today's plan follows at once, and the word was for the stage before.
    assert "easy passing, no shots" in part_of(db, squad).standing.changes(60)[1]
    found = shown(db, squad, plan).stage
    assert (found.number, found.criteria[-1].met) == (2, False)
    assert [(one.step, one.stage) for one in db.query(ReturnEvent).order_by(ReturnEvent.id)][-1] == (
        ReturnStep.STAGE, 2,
    )  # fmt: skip


def test_two_who_move_a_stage_at_once_are_told_and_nothing_is_skipped(db, squad, by):
    plan = hurt(db, squad, by)
    seen = plan.version
    plans.move(db, squad.squad, plan.id, 2, "seen", by, version=seen)
    with pytest.raises(Stale, match="stage 2 of 5 now"):
        plans.move(db, squad.squad, plan.id, 2, "seen too", by, version=seen)
    with pytest.raises(Invalid, match="one stage at a time"):
        plans.move(db, squad.squad, plan.id, 4, "seen", by, version=plan.version)
    # A day on, so that which came last is plain.
    assert plan.stage == 2


def test_back_goes_anybody_at_once_and_on_only_a_clinician_or_with_their_word(db, squad, by):
    plan = hurt(db, squad, by, stage=3)
    coach = replace(by, clinician=False, plans=False)
    staff = replace(by, clinician=False)
    with pytest.raises(NotAllowed):
        plans.move(db, squad.squad, plan.id, 4, "looks fine", coach, version=WHATEVER)
    plans.move(db, squad.squad, plan.id, 1, "", coach, version=WHATEVER)
    assert (plan.stage, part_of(db, squad).standing.changes(60)[1].partition(";")[0]) == (1, "no throws, no duels")
    plans.set_sign_off(db, squad.squad, True, by)
    with pytest.raises(NotAllowed, match="when everything holds"):
        plans.move(db, squad.squad, plan.id, 2, "all fine", staff, version=WHATEVER)
    with pytest.raises(NotAllowed):
        plans.set_sign_off(db, squad.squad, True, staff)
    with pytest.raises(NotAllowed):
        plans.give_word(db, squad.squad, plan.id, "", staff)


def test_pain_the_morning_after_proposes_one_stage_back_until_a_clinician_answers(db, squad, by):
    before = replace(by, today=TODAY - timedelta(days=3))
    plan = hurt(db, squad, before, stage=3, first_day=TODAY - timedelta(days=3), first_off=OFF)
    told(db, squad, Pain(Site.SHOULDER, Side.RIGHT, 4.0))
    said = "pain 4 the morning after Wed 11 March; 2 is the most"
    assert read(db, squad).rows[0].back == said
    found = {notice.code for notice in part_of(db, squad).day.found[0][part_of(db, squad).row]}
    assert "stage_back" in found
    assert read(db, squad, audiences=LEAST).rows[0].back == ""
    with pytest.raises(Invalid):
        plans.keep(db, squad.squad, plan.id, "", by)
    plans.keep(db, squad.squad, plan.id, "a knock, not the tendon", by)
    assert read(db, squad).rows[0].back == ""


def test_a_pain_elsewhere_proposes_nothing(db, squad, by):
    before = replace(by, today=TODAY - timedelta(days=3))
    hurt(db, squad, before, stage=3, first_day=TODAY - timedelta(days=3), first_off=OFF)
    told(db, squad, Pain(Site.SHOULDER, Side.LEFT, 6.0), Pain(Site.KNEE, Side.RIGHT, 6.0))
    assert read(db, squad).rows[0].back == ""


def test_a_head_knock_gets_no_climb_and_stays_closed(db, squad, by):
    plan = begun(db, squad, by, kind=ReturnKind.INJURY, template="head", target_day=TODAY + timedelta(days=9))
    row = read(db, squad).rows[0]
    assert (row.weeks, row.full_day, row.days_short) == ([], None, 0)
    assert part_of(db, squad).standing.closed
    found = shown(db, squad, plan)
    assert (found.ways, found.lanes) == ([], [])
    assert found.stage.advice.startswith("Refer.")
    assert shown(db, squad, plan, audiences=LEAST).stage.advice == ""


def test_the_last_stage_ends_the_plan_and_what_was_said_last_is_taken_back(db, squad, by):
    plan = hurt(db, squad, by, stage=5)
    plans.move(db, squad.squad, plan.id, 6, "done", by, version=plan.version)
    assert plan.ended_on == TODAY
    assert part_of(db, squad).standing.stands is Stands.PLAN
    with pytest.raises(Invalid, match="over"):
        plans.give_word(db, squad.squad, plan.id, "", by)
    plans.take_back(db, squad.squad, plan.id, by)
    assert (plan.ended_on, plan.stage) == (None, 5)
    plans.move(db, squad.squad, plan.id, 2, "", by, version=WHATEVER)
    with pytest.raises(NotAllowed):
        plans.take_back(db, squad.squad, plan.id, replace(by, stamp=Stamp(None, NOW)))
    plans.take_back(db, squad.squad, plan.id, by)
    assert plan.stage == 5
    # Once more, and it was never begun.
    plans.take_back(db, squad.squad, plan.id, by)
    assert read(db, squad).rows == []


def test_a_second_injury_takes_the_place_of_the_first_and_keeps_its_usual_week(db, squad, by):
    rested(db, squad)
    first = hurt(db, squad, by)
    again = {"kind": ReturnKind.INJURY, "template": "knee", "site": Site.KNEE, "side": Side.LEFT,
             "first_off": TODAY, "first_day": TODAY + timedelta(days=7)}  # fmt: skip
    with pytest.raises(Invalid) as error:
        begun(db, squad, by, **again)
    assert error.value.extra == {"running": first.id}
    second = begun(db, squad, by, **again, replaces=first.id)
    assert (first.ended_on, second.parts[MAIN]["reference"]) == (TODAY, 1800)
    assert [one.plan_id for one in read(db, squad).rows] == [second.id]
    # The same once more is the same one.
    assert begun(db, squad, by, **again).id == second.id


def test_a_break_of_the_whole_squad_is_planned_at_once_and_leaves_who_has_a_plan(db, squad, by):
    rested(db, squad)
    hurt(db, squad, by)
    wanted = SquadBreak(TODAY + timedelta(days=10), TODAY + timedelta(days=38), TODAY + timedelta(days=57))
    made, left = plans.begin_for_all(db, squad.squad, wanted, replace(by, clinician=False))
    assert (len(made), left) == (3, ["A"])
    rows = [one for one in read(db, squad).rows if one.group.startswith("layoff")]
    assert [one.state for one in rows] == [reading.State.SHORT] * 3
    assert len({one.group for one in rows}) == 1
    assert rows[0].short.replace("\u00a0", " ") == "Reaches 80 % by Fri 8 May, 9 days short."
    # Today is as it was.
    assert part_of(db, squad, 1).standing.stands is Stands.PLAN


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"first_day": OFF - timedelta(days=1)}, "first_day"),
        ({"first_off": None}, "first_off"),
        ({"kind": ReturnKind.NEW}, "first_off"),
        ({"target_day": TODAY - timedelta(days=1)}, "target_day"),
        ({"target_day": TODAY + timedelta(days=1), "first_day": TODAY + timedelta(days=2)}, "target_day"),
        ({"needed": 0.0}, "needed"),
        ({"needed": 101.0}, "needed"),
        ({"usual": 0.0}, "usual"),
        ({"template": "wing"}, "template"),
        ({"side": Side.LEFT}, "side"),
        ({"site": Site.HEAD, "side": Side.LEFT}, "side"),
        ({"note": "x" * 401}, "note"),
        ({"kind": ReturnKind.INJURY, "stage": 3}, "stage"),
    ],
)
def test_a_plan_that_makes_no_sense_is_refused_at_its_field(db, squad, by, more, field):
    with pytest.raises(Invalid) as error:
        begun(db, squad, by, **more)
    assert error.value.field == field


def test_who_may_begin_and_for_whom(db, squad, by):
    with pytest.raises(NotAllowed):
        hurt(db, squad, replace(by, clinician=False))
    with pytest.raises(NotAllowed):
        begun(db, squad, replace(by, clinician=False, plans=False))
    with pytest.raises(NotFound):
        plans.begin(db, squad.squad, NewPlan(10**6, ReturnKind.LAYOFF, TODAY, OFF), by)
    with pytest.raises(NotFound):
        plans.end(db, squad.squad, new_ulid(), "", by)


@pytest.mark.parametrize(
    ("criterion", "value", "field"), [("range", 0.0, "value"), ("throw", 7.0, ""), ("wing", 7.0, "criterion")]
)
def test_what_no_stage_asks_for_or_cannot_be_measured_is_refused(db, squad, by, criterion, value, field):
    plan = hurt(db, squad, by)
    if not field:
        plans.measure(db, squad.squad, plan.id, criterion, value, 8.0, by)
        return
    with pytest.raises(Invalid) as error:
        plans.measure(db, squad.squad, plan.id, criterion, value, 8.0, by)
    assert error.value.field == field


def test_who_may_not_read_clinical_detail_learns_no_reason(db, squad, by):
    plan = hurt(db, squad, by, note="tendon")
    plans.measure(db, squad.squad, plan.id, "strength", 15.0, 20.0, by)
    found = shown(db, squad, plan, audiences=LEAST)
    assert (found.row.what, found.note, found.kind, found.stage.criteria) == ("on the way back", "", "", [])
    said = repr(found)
    for secret in ("shoulder", "Strength", "tendon", "injury", "15 against"):
        assert secret not in said.replace("tendon', early", "")


def test_a_break_without_a_plan_is_found(db, squad, by):
    rested(db, squad, first=TODAY - timedelta(days=9))
    assert [(one.name, one.days) for one in read(db, squad).breaks] == [("A", 9)]
    begun(db, squad, by, first_off=TODAY - timedelta(days=9))
    assert read(db, squad).breaks == []


def test_on_an_empty_squad_nobody_comes_back(db, squad, by):
    found = reading.read_returns(db, squad.squad, TODAY - timedelta(days=300), TODAY, ALL)
    assert (found.said, found.rows, found.breaks) == ("Nobody is on the way back.", [], [])


def test_an_athlete_reads_what_the_next_stage_holds_and_no_day_for_it(db, squad, by):
    rested(db, squad)
    hurt(db, squad, by, stage=2)
    back = own_today(db, squad.squad, squad.athletes[0], TODAY).back
    assert back.next[-1] == "Next, when your clinician says so: passing and standing shots; no full throws, no duels."
    begun(db, squad, by, i=1, first_day=TODAY + timedelta(days=3))
    assert own_today(db, squad.squad, squad.athletes[1], TODAY).back.said == "You are back on Sun 15 March."


def test_room_is_the_same_on_return_as_on_the_morning_where_a_stage_leaves_part_of_the_plan(db, squad, by):
    rested(db, squad)
    plan = begun(db, squad, by, kind=ReturnKind.ILLNESS, template="fever", stage=2)
    lane = read_morning(db, squad.squad, TODAY, TODAY, squad.athletes[0])[0].lanes[0]
    # Half of an hour, at an effort of 3.
    assert (lane.room.load, lane.room.bound_by) == (90.0, "plan to come back")
    assert shown(db, squad, plan).lanes[0].room == 90.0
    plans.move(db, squad.squad, plan.id, 1, "", by, version=WHATEVER)
    assert shown(db, squad, plan).lanes[0].room == 0.0


def test_one_kind_of_work_that_was_left_out_is_found_while_the_others_went_on(db, squad, by, monkeypatch):
    """The main channel goes on; on a second one of the same sessions there was nothing for three weeks."""
    day = part_of(db, squad).day
    main = day.main
    load = main.desk.done.load.copy()
    load[0, -30:] = 0.0
    throws = replace(main, channel=Channel(code="throws", name="Throws", is_main=False),
                     desk=replace(main.desk, main=False, done=replace(main.desk.done, load=load)))  # fmt: skip
    both = replace(day, desks=[main, throws], found=[*day.found, *day.found])
    monkeypatch.setattr(reading, "parts_on", lambda *_: {
        member.athlete_id: Part(both, row) for row, member in enumerate(both.members)
    })  # fmt: skip
    (found,) = read(db, squad).breaks
    assert (found.name, found.channel, found.back) == ("A", "Throws", None)
    assert found.said.startswith("no throws for 2")


def test_a_rest_trial_stands_in_the_list_and_is_judged_on_its_day(db, squad, by):
    how = {"stamp": by.stamp, "today": TODAY - timedelta(days=7)}
    rest_trials.start(db, squad.squad, squad.athletes[0], TODAY - timedelta(days=7), 7, **how)
    (row,) = read(db, squad).trials
    assert (row.name, row.day, row.days, row.judge) == ("A", 7, 7, True)
    assert read(db, squad, day=TODAY - timedelta(days=4)).trials[0].judge is False
    assert read(db, squad, audiences=LEAST).trials == []
    rest_trials.judge(db, squad.squad, squad.athletes[0], True, stamp=by.stamp, today=TODAY)
    assert read(db, squad).trials == []


def test_nobody_ends_a_clinicians_plan_by_putting_another_in_its_place(db, squad, by):
    plan = hurt(db, squad, by)
    staff = replace(by, clinician=False)
    with pytest.raises(NotAllowed, match="ended by a clinician"):
        begun(db, squad, staff, replaces=plan.id)
    with pytest.raises(NotAllowed, match="ended by a clinician"):
        plans.end(db, squad.squad, plan.id, "", staff)
    assert plan.ended_on is None


def test_a_climb_that_is_over_stands_in_nobodys_way(db, squad, by):
    first = TODAY - timedelta(days=22)
    early = replace(by, today=first)
    begun(db, squad, early, first_day=first, first_off=first - timedelta(days=8), usual=100.0)
    # Two weeks of it, long gone: the next break has a plan of its own.
    assert read(db, squad).rows == []
    assert begun(db, squad, by).first_day == TODAY


def test_a_plan_that_was_begun_by_mistake_was_never_there_and_the_one_it_replaced_stands_again(db, squad, by):
    rested(db, squad)
    first = hurt(db, squad, by, stage=2)
    second = begun(db, squad, by, replaces=first.id)
    with pytest.raises(NotAllowed):
        plans.take_back(db, squad.squad, second.id, replace(by, today=TODAY + timedelta(days=1)))
    plans.take_back(db, squad.squad, second.id, by)
    (row,) = read(db, squad).rows
    assert (row.plan_id, row.stage) == (first.id, 2)
    with pytest.raises(NotFound):
        plans.find(db, squad.squad, second.id)
    assert [one.said for one in shown(db, squad, first).events] == ["plan begun"]


def test_what_a_date_was_changed_to_is_changed_again_not_taken_back(db, squad, by):
    rested(db, squad)
    plan = begun(db, squad, by)
    later = Changed(TODAY + timedelta(days=30), 100, School.STANDARD, None)
    plans.change(db, squad.squad, plan.id, later, "", by, version=plan.version)
    with pytest.raises(Invalid, match="nothing to take back"):
        plans.take_back(db, squad.squad, plan.id, by)


def test_what_is_measured_and_said_counts_for_its_day_and_its_stage(db, squad, by):
    rested(db, squad)
    early = replace(by, today=TODAY - timedelta(days=5))
    plan = hurt(db, squad, early, stage=2)
    plans.measure(db, squad.squad, plan.id, "strength", 15.0, 20.0, early)
    plans.give_word(db, squad.squad, plan.id, "", by)
    plans.measure(db, squad.squad, plan.id, "strength", 18.5, 20.0, by)

    def criteria(day):
        return {one.key: one for one in shown(db, squad, plan, day=day).stage.criteria}

    before, now = criteria(TODAY - timedelta(days=1)), criteria(TODAY)
    assert (before["strength"].met, before["word"].met) == (False, False)
    assert (now["strength"].met, now["word"].met, len(now["strength"].marks)) == (True, True, 2)
    plans.move(db, squad.squad, plan.id, 3, "seen", by, version=WHATEVER)
    # A test stands on; a word is for its stage.
    after = criteria(TODAY)
    assert (after["strength"].met, after["word"].met) == (True, False)


def test_sessions_rated_by_oneself_are_asked_about_pain_and_those_typed_by_staff_are_not(db, squad, by):
    early = replace(by, today=TODAY - timedelta(days=4))
    plan = hurt(db, squad, early, stage=2, first_off=OFF, first_day=TODAY - timedelta(days=4))

    def known():
        return whole.evidence(db, squad.squad, plan.id, TODAY)[1].done

    assert [one.during for one in known()] == [None] * len(known())
    yesterday = squad.entry(db, squad.athletes[0], TODAY - timedelta(days=1))
    yesterday.source = Source.ATHLETE
    db.flush()
    assert known()[-1].during == 0.0
    told(db, squad, Pain(Site.SHOULDER, Side.RIGHT, 2.0), Pain(Site.KNEE, Side.LEFT, 5.0))
    assert (known()[-1].during, known()[-1].after) == (0.0, 2.0)


def test_a_return_of_no_place_minds_whatever_hurts(db, squad, by):
    early = replace(by, today=TODAY - timedelta(days=3))
    hurt(db, squad, early, site=None, side=None, template="blank", stage=2, first_day=TODAY - timedelta(days=3))
    told(db, squad, Pain(Site.KNEE, Side.LEFT, 5.0))
    assert read(db, squad).rows[0].back == "pain 5 the morning after Wed 11 March; 2 is the most"


def test_the_first_stage_has_none_to_go_back_to(db, squad, by):
    early = replace(by, today=TODAY - timedelta(days=3))
    hurt(db, squad, early, stage=1, first_day=TODAY - timedelta(days=3))
    told(db, squad, Pain(Site.SHOULDER, Side.RIGHT, 8.0))
    assert read(db, squad).rows[0].back == ""


def test_a_squad_on_its_first_day_has_a_plan_without_any_data(db, squad, by):
    """Somebody new in a squad in which nothing was ever done: every look stands, and little is offered."""
    other = squads.create_squad(db, db.get_one(Club, squad.squad.club_id), "first-day", "First", "Europe/Oslo", NOW)
    (athlete,) = squads.add_members(db, other, [squads.NewMember("E", 5, "wing", TODAY)])
    plan = plans.begin(db, other, NewPlan(athlete, ReturnKind.NEW, TODAY), by)
    row = reading.read_returns(db, other, TODAY, TODAY, ALL).rows[0]
    assert (row.state, row.weeks, row.what) == (reading.State.WAITS, [], "new, no history")
    found = whole.read_whole(db, other, plan.id, TODAY, TODAY, ALL)
    assert (found.lanes, found.ways, found.usual) == ([], [], None)
    assert found.allowed == ["effort at most 7", "controlled drills only"]
    said = Changed(None, 100, School.STANDARD, None, usual=2000.0)
    plans.change(db, other, plan.id, said, "", by, version=plan.version)
    part = parts_on(db, other, TODAY, TODAY)[athlete]
    assert part.day.main.desk.day_rooms[0].room.load == pytest.approx(1000 * 1.5 / 5)
    assert whole.read_whole(db, other, plan.id, TODAY, TODAY, ALL).lanes[0].room == pytest.approx(300)

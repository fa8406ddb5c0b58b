"""Plans to come back: one truth on every look, stages by the evidence, and what is refused."""

from dataclasses import replace
from datetime import timedelta

import pytest

from tests.conftest import NOW, TODAY
from uvren.core.audience import ALL, LEAST
from uvren.core.body import Pain, Side, Site
from uvren.core.day import Stands, Why
from uvren.core.reports import ReportKind
from uvren.core.returns import School
from uvren.services.day.day import Part
from uvren.services.day.kept import parts_on
from uvren.services.errors import Invalid, NotAllowed, NotFound, Stale
from uvren.services.morning import read_morning
from uvren.services.morning.own_today import own_today
from uvren.services.morning.sheet import read_sheet
from uvren.services.reports import Told, give
from uvren.services.return_ import plans, reading, rest_trials, whole
from uvren.services.return_.clinical import NewRestriction, restrict
from uvren.services.return_.plans import By, Changed, NewPlan, SquadBreak
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.stamp import Stamp
from uvren.services.versions import WHATEVER
from uvren.services.week.reading import Changes, open_week
from uvren.store.models import Availability, Channel, ReturnEvent, ReturnKind, ReturnPlan, ReturnStep
from uvren.store.types import new_ulid

OFF = TODAY - timedelta(days=14)
MAIN = "session_rpe"


@pytest.fixture
def by(squad):
    return By(clinician=True, plans=True, stamp=Stamp(squad.staff.id, NOW), today=TODAY)


def changed(db, squad, first, last, minutes, effort, i=0):
    """What an athlete's entries say from a day on, up to another."""
    days = [one for one in squad.sessions if first <= one.day < last]
    athlete = squad.athletes[i]
    changes = [
        EntryChange(one.id, athlete, minutes, effort, version=squad.entry(db, athlete, one.day).version) for one in days
    ]
    record_entries(db, squad.squad.id, changes, stamp=Stamp(squad.staff.id, NOW), today=TODAY)


def rested(db, squad, first=OFF, last=TODAY, i=0):
    """The athlete was not there on these days."""
    changed(db, squad, first, last, 0.0, None, i)


def begun(db, squad, by, i=0, **more):
    given = {"kind": ReturnKind.LAYOFF, "first_day": TODAY, "first_off": OFF} | more
    return plans.begin(db, squad.squad, NewPlan(squad.athletes[i], **given), by)


def hurt(db, squad, by, **more):
    what = {"kind": ReturnKind.INJURY, "template": "shoulder", "site": Site.SHOULDER, "side": Side.RIGHT}
    return begun(db, squad, by, **(what | more))


def told(db, squad, *pains):
    """This morning's report of the first athlete, with what hurts."""
    what = Told(new_ulid(), squad.athletes[0], ReportKind.DAILY, TODAY, {"energy": 7.0}, NOW, pains=list(pains))
    give(db, squad.squad, what, stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    db.flush()


def plain(text):
    """Without the spaces that numbers are written with."""
    return text.replace("\u2009", " ").replace("\u00a0", " ")


def read(db, squad, audiences=ALL, day=TODAY):
    return reading.read_returns(db, squad.squad, day, TODAY, audiences)


def shown(db, squad, plan, audiences=ALL, day=TODAY):
    return whole.read_whole(db, squad.squad, plan.id, day, TODAY, audiences)


def part_of(db, squad, i=0, day=TODAY):
    return parts_on(db, squad.squad, day, TODAY)[squad.athletes[i]]


# One truth.
def test_a_plan_is_what_every_look_shows(db, squad, by):
    rested(db, squad)
    plan = begun(db, squad, by)
    # A usual week of 1,800, half of it, six days with work in it: 225 on one.
    assert plan.parts == {MAIN: {"reference": 1800.0, "held": 0, "region": False}}
    part = part_of(db, squad)
    room = part.day.main.desk.day_rooms[part.row].room
    assert (room.load, room.binding) == (pytest.approx(225), ("return_day",))
    assert (part.standing.stands, part.standing.why) == (Stands.PART, Why.RETURN)
    allowed = ["effort at most 7", "open play a quarter at most"]
    assert part.standing.changes(60) == allowed
    lane = read_morning(db, squad.squad, TODAY, TODAY, squad.athletes[0])[0].lanes[0]
    assert (lane.room.load, lane.room.bound_by) == (pytest.approx(225), "plan to come back, day")
    assert lane.gate == ", ".join(allowed)
    sentences = [notice.sentence for notice in lane.notices]
    assert "Step 1 of 3: 50 % of 1 800 a week; a full week from Thu 26 March. Today: " + ", ".join(allowed) + "." in [
        one.replace("\u2009", " ").replace("\u00a0", " ") for one in sentences
    ]
    assert own_today(db, squad.squad, squad.athletes[0], TODAY).gate == lane.gate
    sheet = read_sheet(db, squad.squad, TODAY, TODAY)
    assert [line.how for line in sheet.lines if line.group == "return"] == [", ".join(allowed)]
    ahead = open_week(db, squad.squad, TODAY, TODAY, Changes()).ahead[MAIN]
    assert ahead[0].rooms[part.row].room.load == pytest.approx(225)
    found = shown(db, squad, plan)
    assert (found.allowed, found.lanes[0].room) == (allowed, pytest.approx(225))


def test_limits_that_compare_with_earlier_work_rest_on_the_way_back_and_only_there(db, squad, by):
    rested(db, squad)
    begun(db, squad, by)
    part = part_of(db, squad)
    keys = {rule.key.partition(":")[0] for rule in part.day.main.desk.hard}
    assert keys >= {"return_week", "return_day", "ratio_ceiling", "week_change_cap"}
    resting = {rule.key.partition(":")[0]: rule for rule in part.day.main.desk.hard}
    column = part.day.main.desk.today
    for key in ("ratio_ceiling", "week_change_cap"):
        values = resting[key].value
        assert values[part.row, column] != values[part.row, column]
        assert values[part.row, column - 1] == values[part.row - 3, column - 1]
        # The others are under them as ever.
        assert all(values[row, column] == values[row, column] for row in range(4) if row != part.row)
    # The squad's cap on a day holds for everybody.
    assert resting["day_cap"].value[part.row, column] == 900


def test_a_week_that_was_not_kept_is_held_and_says_so(db, squad, by):
    first = TODAY - timedelta(days=7)
    rested(db, squad, first=first - timedelta(days=21), last=first)
    # Half a week of work where the step asks for 900: enough. Two days of it: not.
    rested(db, squad, first=first + timedelta(days=2), last=TODAY)
    plan = begun(db, squad, replace(by, today=first), first_off=first - timedelta(days=21), first_day=first)
    assert [(one.share, one.again) for one in shown(db, squad, plan).row.weeks] == [
        (50, False), (50, True), (70, False), (100, False),
    ]  # fmt: skip
    assert "the week before came to 600, so its step is held" in read(db, squad).rows[0].said
    # As it stood a week ago it was not known yet.
    assert not any(one.again for one in read(db, squad, day=first).rows[0].weeks)


def test_before_the_first_day_nothing_stands_and_after_the_climb_nothing_is_held(db, squad, by):
    rested(db, squad)
    plan = begun(db, squad, by, first_day=TODAY + timedelta(days=3), first_off=OFF)
    part = part_of(db, squad)
    assert (part.standing.closed, part.standing.why) == (True, Why.RETURN)
    assert part.standing.said(LEAST) == "does not train"
    row = read(db, squad).rows[0]
    assert (row.said, row.full_day) == ("Back on Sun 15 March by plan.", plan.first_day + timedelta(days=14))
    over = plan.first_day + timedelta(days=21)
    assert reading.running(db, squad.squad, over, TODAY) == {}


def test_without_a_usual_week_the_plan_says_what_it_waits_for_and_then_goes_by_what_is_said(db, squad, by):
    plan = begun(db, squad, by, first_off=TODAY - timedelta(days=50), first_day=TODAY)
    row = read(db, squad).rows[0]
    assert (row.state, row.short) == (reading.State.WAITS, "Waits for a usual week: say what one is.")
    # As long as nobody has said so, what every climb begins with.
    assert part_of(db, squad).standing.changes(60) == ["effort at most 7", "controlled drills only"]
    plans.change(db, squad.squad, plan.id, Changed(None, 100, School.STANDARD, None, usual=2000.0), "", by,
                 version=plan.version)  # fmt: skip
    assert shown(db, squad, plan).usual == 2000
    new = begun(db, squad, by, i=1, kind=ReturnKind.NEW, first_off=None, usual=2600.0)
    assert [one.share for one in shown(db, squad, new).row.weeks] == [50, 70, 80, 90, 100]


def test_ratings_that_are_missing_in_the_usual_week_are_told(db, squad, by):
    changed(db, squad, OFF - timedelta(days=3), OFF, 60.0, None)
    plan = begun(db, squad, by)
    assert shown(db, squad, plan).usual_said == "mean of the four weeks before; 3 days of them not rated"


# Dates and ways.
def test_a_date_that_does_not_fit_has_three_ways(db, squad, by):
    rested(db, squad)
    begun(db, squad, by, target_day=TODAY + timedelta(days=9))
    row = read(db, squad).rows[0]
    assert (row.state, row.reached, row.days_short) == (reading.State.SHORT, 70.0, 5)
    assert row.short.replace("\u00a0", " ") == "Reaches 70 % by Sat 21 March, 5 days short."
    found = shown(db, squad, db.get(ReturnPlan, row.plan_id))
    later, quicker, in_part = found.ways
    assert (later.kind, later.target, later.load.replace("\u00a0", " ")) == (
        "later",
        TODAY + timedelta(days=14),
        "100 %",
    )
    assert (quicker.shares, quicker.costs.replace("\u00a0", " ")) == ([50.0, 100.0], "a week up 100 %, not 43 %")
    assert (in_part.possible, in_part.costs) == (False, "No match is planned from then on.")


def test_a_quicker_way_takes_a_reason_and_stands_with_who_gave_it(db, squad, by):
    rested(db, squad)
    plan = begun(db, squad, by, target_day=TODAY + timedelta(days=9))
    quick = Changed(plan.target_day, 100, School.STANDARD, [50.0, 100.0])
    with pytest.raises(Invalid) as error:
        plans.change(db, squad.squad, plan.id, quick, " ", by, version=plan.version)
    assert error.value.field == "words"
    db.refresh(plan)
    plans.change(db, squad.squad, plan.id, quick, "a final", by, version=plan.version)
    assert read(db, squad).rows[0].days_short == 0
    assert (shown(db, squad, plan).events[0].by, shown(db, squad, plan).events[0].said) == (
        "S. Taff", "other steps: steps 50, 100 %; a final",
    )  # fmt: skip
    # Slower than the school takes none.
    slow = Changed(plan.target_day, 100, School.STANDARD, [40.0, 60.0, 80.0, 100.0])
    plans.change(db, squad.squad, plan.id, slow, "", by, version=plan.version)
    with pytest.raises(Stale):
        plans.change(db, squad.squad, plan.id, quick, "again", by, version=1)


# Stages.
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
    with pytest.raises(Invalid, match="nothing to take back"):
        plans.take_back(db, squad.squad, plan.id, by)


# Others, and bad input.
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


def test_an_athlete_reads_the_own_climb_and_nobody_elses(db, squad, by):
    first = TODAY - timedelta(days=7)
    rested(db, squad, first=first - timedelta(days=21), last=first)
    begun(db, squad, by, first_off=first - timedelta(days=21), first_day=first)
    back = own_today(db, squad.squad, squad.athletes[0], TODAY).back
    assert plain(back.said) == "Week 2 of your way back: up to 70 % of your usual week."
    assert [(one.share, one.here) for one in back.steps] == [(50, False), (70, True), (100, False)]
    (main,) = back.climbs
    assert (main.name, main.done, main.most, main.opens) == ("Session load", 100.0, 70.0, None)
    assert [plain(one) for one in back.next] == ["From Thu 19 March: up to 100 %, if this week goes as planned."]
    assert own_today(db, squad.squad, squad.athletes[1], TODAY).back is None


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


def test_days_before_a_plan_was_made_stay_as_they_were(db, squad, by):
    rested(db, squad)
    before = TODAY - timedelta(days=3)
    stood = read_morning(db, squad.squad, before, TODAY, squad.athletes[0])[0].lanes[0]
    plan = begun(db, squad, by, first_day=TODAY - timedelta(days=7), first_off=OFF)
    lane = read_morning(db, squad.squad, before, TODAY, squad.athletes[0])[0].lanes[0]
    assert (lane.room, lane.gate, lane.notices) == (stood.room, stood.gate, stood.notices)
    assert (read(db, squad, day=before).rows, len(read(db, squad).rows)) == ([], 1)
    # A break still to come is in the list from the day on which it was planned.
    plans.end(db, squad.squad, plan.id, "", by)
    begun(db, squad, by, first_off=TODAY + timedelta(days=20), first_day=TODAY + timedelta(days=48))
    assert read(db, squad, day=before).rows == []
    assert [one.state for one in read(db, squad).rows] == [reading.State.AHEAD]


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


def limits_on(db, squad, key, i=0):
    """The values of a limit for somebody over the planned days, and today's column."""
    part = part_of(db, squad, i)
    rule = next(one for one in part.day.main.desk.hard if one.key.startswith(key))
    return rule.value[part.row], part.day.main.desk.today


def test_what_rests_on_the_way_back_speaks_again_the_day_after_the_climb(db, squad, by):
    first = TODAY - timedelta(days=13)
    begun(db, squad, replace(by, today=first), first_day=first, first_off=first - timedelta(days=8))
    # Two weeks of it: today is the last day.
    ratio, today = limits_on(db, squad, "ratio_ceiling")
    week, _ = limits_on(db, squad, "return_week")
    assert (ratio[today] != ratio[today], ratio[today + 1]) == (True, 1.3)
    assert (week[today], week[today + 1] != week[today + 1]) == (1800.0, True)


def test_the_limits_of_a_plan_begin_on_the_day_it_was_made(db, squad, by):
    rested(db, squad)
    begun(db, squad, by, first_day=TODAY - timedelta(days=3), first_off=OFF)
    week, today = limits_on(db, squad, "return_week")
    assert (week[today - 1] != week[today - 1], week[today] == week[today]) == (True, True)
    ratio, _ = limits_on(db, squad, "ratio_ceiling")
    assert (ratio[today - 1], ratio[today] != ratio[today]) == (1.3, True)


def test_a_clinicians_word_and_a_plan_hold_together(db, squad, by):
    rested(db, squad)
    begun(db, squad, by)
    new = NewRestriction(squad.athletes[0], Availability.LIMITED, "no duels", "", TODAY, None, 0.5, 8.0)
    restrict(db, squad.squad, new, stamp=by.stamp, today=TODAY)
    lane = read_morning(db, squad.squad, TODAY, TODAY, squad.athletes[0])[0].lanes[0]
    for said in ("half the minutes", "no duels", "effort at most 7", "open play a quarter at most"):
        assert said in lane.gate
        assert said in ", ".join(part_of(db, squad).standing.changes(60))
    assert part_of(db, squad).standing.why is Why.CLINICIAN

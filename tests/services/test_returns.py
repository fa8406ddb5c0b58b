"""Plans to come back: one truth on every look, dates and limits."""

from dataclasses import replace
from datetime import timedelta

import pytest

from tests.conftest import NOW, TODAY
from tests.returning import MAIN, OFF, begun, changed, part_of, plain, read, rested, shown
from tests.squad import noon
from uvren.core.audience import LEAST
from uvren.core.day import Stands, Why
from uvren.core.limits import CATALOGUE
from uvren.core.returns import School
from uvren.services.errors import Invalid, Stale
from uvren.services.morning import read_morning
from uvren.services.morning.own_today import own_today
from uvren.services.morning.sheet import read_sheet
from uvren.services.return_ import plans, reading
from uvren.services.return_.clinical import NewRestriction, restrict
from uvren.services.return_.plans import Changed
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.session.planning import NewSegment, NewSession, plan_sessions
from uvren.services.stamp import Stamp
from uvren.services.week.reading import Changes, open_week
from uvren.store.models import Availability, ReturnKind, ReturnPlan, SessionKind


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


def in_drills(db, squad, day, minutes, *names):
    """A session in parts of twenty minutes; the first athlete did so many minutes of it, the second all of it."""
    parts = tuple(NewSegment(name, 20, 2.0) for name in names)
    wanted = NewSession(noon(day), SessionKind.COURT, "Parts", 20 * len(names), 5, segments=parts)
    (made,) = plan_sessions(db, squad.squad, [wanted])
    whole = 20.0 * len(names)
    changes = [EntryChange(made.id, one, did, 5.0) for one, did in zip(squad.athletes, (minutes, whole), strict=False)]
    record_entries(db, squad.squad.id, changes, stamp=Stamp(squad.staff.id, NOW), today=TODAY)


def test_an_athlete_reads_drill_by_drill_what_was_done_of_a_usual_week(db, squad, by):
    first = TODAY - timedelta(days=7)
    off = first - timedelta(days=21)
    begun(db, squad, by, first_off=off, first_day=first)
    in_drills(db, squad, off - timedelta(days=29), 40.0, "Waves", "Long ago")
    in_drills(db, squad, off - timedelta(days=28), 40.0, "Waves", "Finishing")
    in_drills(db, squad, off - timedelta(days=1), 40.0, "waves, 6 s on, 15 s off", "Finishing")
    in_drills(db, squad, off, 0.0, "Waves", "Finishing")
    in_drills(db, squad, TODAY - timedelta(days=8), 40.0, "Waves", "Finishing")
    # Half of a session is half of each of its parts.
    in_drills(db, squad, TODAY - timedelta(days=7), 20.0, "Waves", "Passing")
    in_drills(db, squad, TODAY - timedelta(days=1), 99.0, "Waves", "Passing")
    drills = own_today(db, squad.squad, squad.athletes[0], TODAY).back.drills
    assert [(one.name, one.done, one.usual) for one in drills] == [
        ("Waves", 30.0, 10.0), ("Finishing", 0.0, 10.0), ("Passing", 30.0, 0.0),
    ]  # fmt: skip


def test_somebody_new_has_no_drills_of_before(db, squad, by):
    begun(db, squad, by, kind=ReturnKind.NEW, first_off=None, first_day=TODAY - timedelta(days=3), usual=2000.0)
    in_drills(db, squad, TODAY - timedelta(days=1), 40.0, "Waves", "Passing")
    assert own_today(db, squad.squad, squad.athletes[0], TODAY).back.drills == []


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


def test_of_a_week_that_is_not_in_sight_as_a_whole_a_day_holds_no_more_than_a_usual_one(db, squad, by):
    rested(db, squad)
    begun(db, squad, by, first_day=TODAY - timedelta(days=3), first_off=OFF - timedelta(days=3))
    most, today = limits_on(db, squad, "return_day")
    # The week that runs has three days with work; of the next one four are in sight, of six that are usual.
    assert most[today] == pytest.approx(900 * 1.5 / 3)
    assert most[today + 4] == pytest.approx(1260 * 1.5 / 6)


def test_which_limits_rest_is_said_by_themselves():
    assert {code for code, rule in CATALOGUE.items() if rule.compares} == {
        "ratio_ceiling", "ratio_floor", "week_change_cap", "week_end_change_cap", "week_floor", "balance_floor",
    }  # fmt: skip


def test_a_usual_week_that_is_made_more_takes_a_reason_and_one_that_is_stated_is_told(db, squad, by):
    rested(db, squad)
    plan = begun(db, squad, by)
    more = Changed(None, 100, School.STANDARD, None, usual=2400.0)
    with pytest.raises(Invalid) as error:
        plans.change(db, squad.squad, plan.id, more, "", by, version=plan.version)
    assert error.value.field == "words"
    db.refresh(plan)
    less = Changed(None, 100, School.STANDARD, None, usual=1500.0)
    plans.change(db, squad.squad, plan.id, less, "", by, version=plan.version)
    assert shown(db, squad, plan).usual == 1500
    stated = begun(db, squad, by, i=1, usual=2000.0)
    assert plain(shown(db, squad, stated).usual_said) == "mean of the four weeks before; 2 000 a week as stated"


def test_a_channel_is_held_for_longer_without_a_reason_and_for_less_only_with_one(db, squad, by):
    rested(db, squad)
    plan = begun(db, squad, by)
    plan.parts = plan.parts | {"throws": {"reference": 100.0, "held": 1, "region": True}}
    longer = Changed(None, 100, School.STANDARD, None, held={"throws": 3})
    plans.change(db, squad.squad, plan.id, longer, "", by, version=plan.version)
    assert plan.parts["throws"]["held"] == 3
    for held, field in (({"throws": 0}, "words"), ({MAIN: 1}, "held"), ({"runs": 1}, "held"), ({"throws": 27}, "held")):
        with pytest.raises(Invalid) as error:
            plans.change(db, squad.squad, plan.id, Changed(None, 100, School.STANDARD, None, held=held), "", by,
                         version=plan.version)  # fmt: skip
        assert error.value.field == field
        db.refresh(plan)


@pytest.mark.parametrize(
    ("wanted", "field"),
    [
        ({"target_day": TODAY - timedelta(days=1)}, "target_day"),
        ({"needed": 0.0}, "needed"),
        ({"shares": [80.0, 50.0]}, "shares"),
        ({"shares": []}, "shares"),
        ({"usual": -1.0}, "usual"),
        ({"school": School.FASTER}, "words"),
    ],
)
def test_a_change_that_makes_no_sense_is_refused_at_its_field_and_changes_nothing(db, squad, by, wanted, field):
    rested(db, squad)
    plan = begun(db, squad, by)
    stood = (plan.version, plan.target_day, plan.shares, plan.school)
    given = {"target_day": None, "needed": 100.0, "school": School.STANDARD, "shares": None} | wanted
    with pytest.raises(Invalid) as error, db.begin_nested():
        plans.change(db, squad.squad, plan.id, Changed(**given), "", by, version=plan.version)
    assert error.value.field == field
    db.refresh(plan)
    assert (plan.version, plan.target_day, plan.shares, plan.school) == stood

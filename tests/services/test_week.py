"""The week ahead: each day as its own morning will show it, what is tried out, what is proposed, and what is saved."""

from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from datetime import UTC, datetime, time, timedelta
from threading import Barrier
from time import sleep

import pytest

from tests.conftest import NOW, TODAY
from uvren.core.audience import ALL, LEAST
from uvren.core.day import CallKind
from uvren.services.day.desk import open_desks
from uvren.services.day.loads import refresh_daily_loads
from uvren.services.errors import Invalid, NotFound, Stale
from uvren.services.morning.calls import NewCall, make_call
from uvren.services.return_ import clinical
from uvren.services.return_.clinical import NewRestriction
from uvren.services.session import making, planning
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.squad.limits import set_limit
from uvren.services.stamp import Stamp
from uvren.services.versions import WHATEVER
from uvren.services.week import saving
from uvren.services.week.moving import other_starts
from uvren.services.week.reading import Changes, open_week, read_week, with_changes
from uvren.services.week.solving import SessionChange, _moved, course_of, propose
from uvren.store.models import Availability, DayMarkKind, Scope, SessionKind
from uvren.store.types import new_ulid

from tests.squad import limit  # isort: skip

BY = Stamp(None, NOW)
FRIDAY = TODAY + timedelta(days=1)


def read(db, squad, changes=None, day=TODAY, audiences=ALL):
    return read_week(db, squad.squad, day, TODAY, changes=changes, audiences=audiences)


def proposals(db, squad, day=TODAY):
    opened = open_week(db, squad.squad, day, TODAY, Changes())
    return propose(squad.squad, day, TODAY, opened, lambda: 20.0)


def longer(db, squad, day, minutes):
    """Somebody plans more than limits leave."""
    session = squad.on(day)
    wanted = making.as_wanted(squad.squad, session)
    making.change_session(db, squad.squad, session.id, replace(wanted, minutes=minutes),
                          version=WHATEVER, stamp=BY)  # fmt: skip


def capped(db, squad, i, value):
    own = limit("day_cap", value, TODAY, athlete_id=squad.athletes[i], scope=Scope.ATHLETE)
    set_limit(db, squad.squad, own, stamp=Stamp(squad.staff.id, NOW), today=TODAY)


def cell(week, row, day):
    return week.rows[row].cells[(day - week.first).days]


def test_a_day_of_the_week_is_what_its_own_morning_shows_once_the_plan_before_it_is_done(db, squad):
    longer(db, squad, FRIDAY, 90.0)
    week = read(db, squad)
    for i in range(1, 7):
        day = TODAY + timedelta(days=i)
        desk = open_desks(db, squad.squad, day, TODAY)[0].desk
        rooms = [one.room.load for one in desk.day_rooms]
        assert [cell(week, row, day).room for row in range(4)] == pytest.approx(rooms)
        assert [cell(week, row, day).plan for row in range(4)] == pytest.approx(list(desk.plan_today))


def test_what_is_too_much_is_counted_and_says_by_how_much_and_over_what(db, squad):
    assert read(db, squad).said == "The plan holds every limit for all 4."
    longer(db, squad, FRIDAY, 200.0)
    week = read(db, squad)
    friday = cell(week, 0, FRIDAY)
    assert friday.plan == 1000
    assert friday.over == pytest.approx(1000 - friday.room)
    assert friday.by in ("cap on a day's load", "week-on-week cap", "ceiling on the weighted ratio")
    assert week.over_people == 4
    assert week.said == f"The plan goes over a limit in {week.over_cells} cells, for 4 of 4."


def test_what_is_tried_out_is_what_it_will_be_when_it_is_saved(db, squad):
    session = squad.on(FRIDAY)
    own = {(squad.athletes[1], session.id): 30.0}
    tried = read(db, squad, Changes({session.id: 90.0}, own))
    assert tried.days[1].sessions[0].typed == 90
    assert [cell(tried, row, FRIDAY).plan for row in range(4)] == [450, 150, 450, 450]
    longer(db, squad, FRIDAY, 90.0)
    saving.plan_own(db, squad.squad, own, stamp=BY)
    saved = read(db, squad)
    assert [row.cells for row in saved.rows] == [row.cells for row in tried.rows]
    assert saved.edition != tried.edition


def test_who_was_planned_for_less_follows_a_shorter_session(db, squad):
    session = squad.on(FRIDAY)
    saving.plan_own(db, squad.squad, {(squad.athletes[0], session.id): 40.0}, stamp=BY)
    plans = [[cell(read(db, squad, Changes({session.id: minutes})), row, FRIDAY).plan for row in (0, 1)]
             for minutes in (60.0, 90.0, 30.0)]  # fmt: skip
    assert plans == [[200, 300], [200, 450], [150, 150]]


def test_a_call_that_leaves_so_many_minutes_leaves_them_of_a_longer_session_too(db, squad):
    call = NewCall(new_ulid(), squad.athletes[0], FRIDAY, CallKind.ADAPT, reason="flat", minutes=30.0, sure=True)
    make_call(db, squad.squad, call, stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    for minutes in (60.0, 120.0):
        assert cell(read(db, squad, Changes({squad.on(FRIDAY).id: minutes})), 0, FRIDAY).plan == pytest.approx(150)


def test_a_closed_day_is_closed_and_a_coach_learns_no_reason(db, squad):
    gate = NewRestriction(squad.athletes[2], Availability.OUT, "", "Shoulder", TODAY, None)
    clinical.restrict(db, squad.squad, gate, stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    for audiences in (ALL, LEAST):
        row = read(db, squad, audiences=audiences).rows[2]
        assert all(one.closed for one in row.cells)
        assert "Shoulder" not in repr(row)
    (proposal,) = proposals(db, squad)
    assert squad.athletes[2] not in {one.athlete_id for one in proposal.own}


def test_a_plan_that_holds_needs_no_change(db, squad):
    (proposal,) = proposals(db, squad)
    assert (proposal.said, proposal.holds, proposal.proven) == ("The plan holds as it is.", True, True)
    assert proposal.changes == Changes()


def test_every_proposal_holds_by_the_grids_own_arithmetic(db, squad):
    longer(db, squad, FRIDAY, 200.0)
    capped(db, squad, 3, 240)
    before = read(db, squad)
    assert before.over_people == 4
    found = proposals(db, squad)
    assert [bool(one.sessions) for one in found] == [True, False]
    for proposal in found:
        assert proposal.holds
        assert proposal.proven
        assert read(db, squad, proposal.changes).over_cells == 0, proposal.said
    squads, alone = found
    assert squads.sessions[0].title == "Court"
    assert "less of Court on Fri 13 March" in squads.said
    assert {one.athlete_id for one in alone.own} == set(squad.athletes)
    assert {one.athlete_id for one in squads.own} == {squad.athletes[3]}


def test_who_lacks_a_rating_keeps_the_days_that_hold(db, squad):
    """What is estimated counts high, and a day that is cut leaves its load to the days after it."""
    lost = [TODAY - timedelta(days=back) for back in (1, 2, 3)]
    for day in lost:
        squad.entry(db, squad.athletes[0], day).effort = None
    db.flush()
    refresh_daily_loads(db, squad.squad.id, {(squad.athletes[0], day) for day in lost})
    longer(db, squad, FRIDAY, 200.0)
    alone = next(one for one in proposals(db, squad) if not one.sessions)
    week = read(db, squad, alone.changes)
    assert week.over_cells == 0
    days = {athlete: [one.day for one in alone.own if one.athlete_id == athlete] for athlete in squad.athletes}
    assert days[squad.athletes[0]] == days[squad.athletes[1]] == [FRIDAY]


def test_who_comes_back_is_held_to_the_ramp_and_no_more(db, squad):
    athlete = squad.athletes[0]
    for back in range(1, 16):
        day = TODAY - timedelta(days=back)
        if day.weekday() != 6:
            entry = squad.entry(db, athlete, day)
            entry.minutes, entry.effort = 0.0, 0.0
            refresh_daily_loads(db, squad.squad.id, {(athlete, day)})
    before = read(db, squad)
    assert any("days off" in one.words for one in before.rows[0].cells)
    assert before.over_people == 1
    (proposal, *_) = proposals(db, squad)
    after = read(db, squad, proposal.changes).rows[0]
    assert all(one.over == 0 for one in after.cells)
    # Half of the usual week of six times 300: what is cut early is there to be used later.
    assert sum(one.plan for one in after.cells) == pytest.approx(900)


def test_what_cannot_hold_says_which_limit_gives_way_and_by_how_much(db, squad):
    session = squad.on(FRIDAY)
    wanted = making.as_wanted(squad.squad, session)
    match = replace(wanted, kind=SessionKind.MATCH, minutes=60.0, effort=9.0, opponent="X")
    making.change_session(db, squad.squad, session.id, match, version=WHATEVER, stamp=BY)
    capped(db, squad, 0, 400)
    proposal, without, *_ = proposals(db, squad)
    assert not proposal.holds
    assert proposal.give_way == ["Cap on a day's load (Session load): by 140 for A"]
    assert proposal.said == "The week cannot hold: 1 limit would have to give way, for 1 person."
    # Or that one is in the match for as long as holds.
    assert without.holds
    assert without.said == "A plays 40 of 60 min on Fri 13 March."
    assert read(db, squad, without.changes).over_cells == 0


def test_a_session_that_is_tried_on_another_day_is_there_as_it_will_be_when_it_is_moved(db, squad):
    sunday = TODAY + timedelta(days=(6 - TODAY.weekday()) % 7)
    session = squad.on(FRIDAY)
    call = NewCall(new_ulid(), squad.athletes[0], sunday, CallKind.ADAPT, reason="flat", minutes=30.0, sure=True)
    make_call(db, squad.squad, call, stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    tried = read(db, squad, Changes({session.id: 80.0}, days={session.id: sunday}))
    assert [len(day.sessions) for day in tried.days if day.day in (FRIDAY, sunday)] == [0, 1]
    assert [cell(tried, row, sunday).plan for row in (0, 1)] == pytest.approx([150, 400])
    assert cell(tried, 1, FRIDAY).plan == 0
    wanted = replace(making.as_wanted(squad.squad, session), day=sunday, minutes=80.0)
    making.change_session(db, squad.squad, session.id, wanted, version=WHATEVER, stamp=BY)
    moved = read(db, squad)
    assert [row.cells for row in moved.rows] == [row.cells for row in tried.rows]
    assert proposals(db, squad) == proposals(db, squad)
    with pytest.raises(Invalid, match="within the week"):
        read(db, squad, Changes(days={session.id: TODAY + timedelta(days=9)}))


def gym_on(db, squad, day, minutes, effort, hour=11):
    at = datetime.combine(day, time(hour), UTC)
    (new,) = planning.plan_sessions(
        db, squad.squad, [planning.NewSession(at, SessionKind.GYM, "Strength", minutes, effort)]
    )
    return new


def test_a_session_that_costs_less_on_another_day_is_proposed_there_and_saved_so(db, squad):
    set_limit(db, squad.squad, limit("day_cap", 500, TODAY), stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    gym = gym_on(db, squad, FRIDAY, 100.0, 4.0, hour=15)
    first, *others = proposals(db, squad)
    sunday = FRIDAY + timedelta(days=2)
    assert first.said == "Strength on Sun 15 March instead of Fri 13 March."
    assert (first.holds, first.own) == (True, [])
    assert first.sessions == [SessionChange(gym.id, "Strength", FRIDAY, 100.0, 100.0, sunday)]
    assert read(db, squad, first.changes).over_cells == 0
    # 50 minutes less of it would cost more, for all of them or for each.
    assert first.cost == 90
    assert all(one.cost > 90 and one.holds for one in others)
    assert len(others) == 2


def test_nothing_is_moved_to_a_match_or_the_day_before_or_to_where_no_work_is(db, squad):
    set_limit(db, squad.squad, limit("day_cap", 500, TODAY), stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    gym = gym_on(db, squad, FRIDAY, 100.0, 4.0, hour=15)
    sunday, tuesday = FRIDAY + timedelta(days=2), FRIDAY + timedelta(days=4)

    def starts():
        opened = open_week(db, squad.squad, TODAY, TODAY, Changes())
        return other_starts(opened, course_of(squad.squad, TODAY, opened)[0], TODAY, TODAY)

    days = {one.date() for one in starts()[gym.id]}
    assert days == {TODAY + timedelta(days=i) for i in (2, 3, 4, 5, 6)}
    # The court would run into the court of any other day but Sunday.
    assert [one.date() for one in starts()[squad.on(FRIDAY).id]] == [sunday]
    making.mark_day(db, squad.squad, sunday, DayMarkKind.OFF, stamp=BY)
    match = replace(making.as_wanted(squad.squad, squad.on(tuesday)), kind=SessionKind.MATCH, opponent="X")
    making.change_session(db, squad.squad, squad.on(tuesday).id, match, version=WHATEVER, stamp=BY)
    assert {one.date() for one in starts()[gym.id]} == {TODAY + timedelta(days=i) for i in (2, 6)}
    assert squad.on(tuesday).id not in starts()
    # The match after the seven days keeps the day before it free too.
    last = TODAY + timedelta(days=6)
    after = replace(
        making.as_wanted(squad.squad, squad.on(last + timedelta(days=1))), kind=SessionKind.MATCH, opponent="Y"
    )
    making.change_session(db, squad.squad, squad.on(last + timedelta(days=1)).id, after, version=WHATEVER, stamp=BY)
    assert {one.date() for one in starts()[gym.id]} == {TODAY + timedelta(days=2)}
    assert not any(one.to == sunday for proposal in proposals(db, squad) for one in proposal.sessions)


def test_a_cap_on_week_strain_that_no_shorter_session_holds_is_said(db, squad):
    strain = limit("strain_cap", 3000, TODAY, athlete_id=squad.athletes[0], scope=Scope.ATHLETE)
    set_limit(db, squad.squad, strain, stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    longer(db, squad, FRIDAY, 200.0)
    for proposal in proposals(db, squad):
        assert proposal.still_over == ["Cap on week strain (Session load): still over for A"]
    # The grid says it too, and nobody else's.
    week = read(db, squad)
    assert any("cap on week strain" in one.by for one in week.rows[0].cells)
    assert not any("strain" in one.by for row in week.rows[1:] for one in row.cells)


def test_the_gym_gives_way_before_the_sport(db, squad):
    """As much load a minute in both: minutes of the gym count half."""
    capped(db, squad, 0, 450)
    gym = gym_on(db, squad, FRIDAY, 60.0, 5.0, hour=15)
    alone = next(one for one in proposals(db, squad) if not one.sessions)
    assert [(one.session_id, one.before, one.after) for one in alone.own] == [(gym.id, 60, 30)]


def test_what_is_tried_is_solved_as_it_is_tried(db, squad):
    session = squad.on(FRIDAY)
    tried = Changes({session.id: 200.0})
    opened = open_week(db, squad.squad, TODAY, TODAY, tried)
    first = propose(squad.squad, TODAY, TODAY, opened, lambda: 20.0)[0]
    assert first.holds
    merged = Changes({**tried.sessions, **first.changes.sessions}, first.changes.own)
    assert read(db, squad, tried).over_people == 4
    assert read(db, squad, merged).over_cells == 0


def test_a_week_that_has_begun_is_planned_for_the_days_that_are_left(db, squad):
    monday = TODAY - timedelta(days=3)
    longer(db, squad, FRIDAY, 200.0)
    before = read(db, squad, day=monday)
    assert before.over_people == 4
    assert [one.done for day in before.days for one in day.sessions] == [True] * 3 + [False] * 3
    for proposal in proposals(db, squad, day=monday):
        assert proposal.holds
        assert read(db, squad, proposal.changes, day=monday).over_cells == 0
        to_come = {squad.on(TODAY + timedelta(days=i)).id for i in range(3)}
        assert {one.session_id for one in (*proposal.sessions, *proposal.own)} <= to_come


def test_a_rating_that_comes_in_is_no_other_plan(db, squad):
    edition = read(db, squad).edition
    rated = EntryChange(squad.on(TODAY).id, squad.athletes[0], 60.0, 5.0)
    record_entries(db, squad.squad.id, [rated], stamp=BY, today=TODAY)
    saving.check_edition(db, squad.squad, TODAY, edition)


def test_only_sessions_of_the_week_that_are_still_to_come_are_tried(db, squad):
    done, far = squad.on(TODAY - timedelta(days=1)), squad.on(TODAY + timedelta(days=7))
    for name, minutes in ((done.id, 30.0), (far.id, 30.0), (squad.on(FRIDAY).id, 2000.0), (new_ulid(), 30.0)):
        with pytest.raises(Invalid):
            read(db, squad, Changes({name: minutes}))
    with pytest.raises(Invalid):
        read(db, squad, Changes(own={(squad.athletes[0], done.id): 10.0}))


def test_own_minutes_are_kept_until_they_are_taken_back(db, squad):
    session, athlete = squad.on(FRIDAY), squad.athletes[0]
    key = (athlete, session.id)
    saving.plan_own(db, squad.squad, {key: 20.0}, stamp=BY)
    assert saving.own_plans(db, [session.id]) == {key: 20.0}
    saving.plan_own(db, squad.squad, {key: 35.0}, stamp=BY)
    assert saving.own_plans(db, [session.id]) == {key: 35.0}
    saving.plan_own(db, squad.squad, {key: None}, stamp=BY)
    assert saving.own_plans(db, [session.id]) == {}
    with pytest.raises(Invalid, match="was done already"):
        saving.plan_own(db, squad.squad, {(athlete, squad.on(TODAY - timedelta(days=1)).id): 5.0}, stamp=BY)
    with pytest.raises(NotFound):
        saving.plan_own(db, squad.squad, {(999_999, session.id): 5.0}, stamp=BY)


def test_who_plans_what_somebody_planned_meanwhile_is_told(db, squad):
    edition = read(db, squad).edition
    saving.check_edition(db, squad.squad, TODAY, edition)
    saving.plan_own(db, squad.squad, {(squad.athletes[0], squad.on(FRIDAY).id): 20.0}, stamp=BY)
    with pytest.raises(Stale, match="planned this week meanwhile"):
        saving.check_edition(db, squad.squad, TODAY, edition)
    some = read(db, squad).edition
    saving.plan_own(db, squad.squad, {(squad.athletes[0], squad.on(FRIDAY).id): 0.0}, stamp=BY)
    assert read(db, squad).edition not in (edition, some)


def test_an_empty_squad_has_no_week(db, squad):
    long_ago = TODAY - timedelta(days=300)
    assert read(db, squad, day=long_ago) is None
    assert proposals(db, squad, day=long_ago) == []


def test_minutes_that_leave_one_session_and_come_to_another_of_its_name_are_said_to_move():
    monday = FRIDAY + timedelta(days=3)
    changes = [
        SessionChange("1", "Court", FRIDAY, 80.0, 60.0),
        SessionChange("2", "Strength", FRIDAY, 40.0, 35.0),
        SessionChange("3", "Court", monday, 60.0, 80.0),
    ]
    assert list(_moved(changes)) == ["20 min of Court from Fri 13 March to Mon 16 March",
                                     "5 min less of Strength on Fri 13 March"]  # fmt: skip


def test_what_several_ask_of_a_week_is_found_once_and_what_is_not_worth_it_each_time(db, squad):
    opened = open_week(db, squad.squad, TODAY, TODAY, Changes())
    found, both = [], Barrier(2)

    def find():
        found.append(len(found))
        sleep(0.05)
        return found[-1]

    def ask(_):
        both.wait()
        return opened.once("what", find, lambda _: True)

    with ThreadPoolExecutor(2) as pool:
        assert list(pool.map(ask, range(2))) == [0, 0]
    assert opened.once("what", find, lambda _: True) == 0
    # With something tried out in it, or asked for something else, it is another question.
    name = next(one.id for one in opened.sessions if not one.done)
    tried = with_changes(opened, Changes({name: 20.0}))
    assert tried.once("what", find, lambda _: True) == 1
    assert with_changes(opened, Changes({name: 20.0})).once("what", find, lambda _: True) == 1
    assert [opened.once("other", find, lambda _: False) for _ in range(2)] == [2, 3]

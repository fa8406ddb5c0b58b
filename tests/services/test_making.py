"""Sessions made, changed, taken away and brought back by hand."""

from dataclasses import replace
from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import pytest
from sqlalchemy import select

from tests.conftest import NOW, TODAY
from uvren.services.errors import Invalid, NotFound, Stale
from uvren.services.morning import read_morning
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.session.making import (
    Wanted,
    change_session,
    copy_week,
    delete_session,
    make_sessions,
    restore_session,
    take_back,
)
from uvren.services.squad.places import add_place, remove_place
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import DailyLoad, Earlier, Entry, Membership, Segment, Session, SessionKind, Venue

FRIDAY = TODAY + timedelta(days=1)
COURT = Wanted(SessionKind.COURT, "Evening court", FRIDAY, time(18, 0), 75, 5)


@pytest.fixture
def stamp(squad):
    return Stamp(squad.staff.id, NOW)


def make(db, squad, stamp, until=None, **more):
    return make_sessions(db, squad.squad, replace(COURT, **more), until=until, stamp=stamp)


def test_a_session_stands_on_the_squads_own_day_and_clock(db, squad, stamp):
    (made,) = make(db, squad, stamp)
    zone = ZoneInfo(squad.squad.time_zone)
    assert (made.day, made.starts_at.astimezone(zone).hour) == (FRIDAY, 18)
    assert (made.title, made.planned_minutes, made.planned_effort, made.done) == ("Evening court", 75, 5, False)


def test_the_same_again_is_no_second_one(db, squad, stamp):
    make(db, squad, stamp)
    with pytest.raises(Invalid, match="there already"):
        make(db, squad, stamp)
    assert len(make(db, squad, stamp, title="Another")) == 1
    assert len(make(db, squad, stamp, at=time(19, 30))) == 1


def test_weekly_until_a_day_keeps_the_clock_over_the_change_of_time(db, squad, stamp):
    made = make(db, squad, stamp, until=FRIDAY + timedelta(weeks=4))
    assert [one.day for one in made] == [FRIDAY + timedelta(weeks=week) for week in range(5)]
    zone = ZoneInfo(squad.squad.time_zone)
    assert {one.starts_at.astimezone(zone).hour for one in made} == {18}
    # What is there already is left alone.
    assert len(make(db, squad, stamp, until=FRIDAY + timedelta(weeks=5))) == 1


def test_a_time_that_the_clock_skips_is_refused_and_one_that_it_has_twice_is_the_first(db, squad, stamp):
    """On 29 March 2026 the clock goes from 2 to 3, on 25 October from 3 back to 2."""
    for more in ({"day": date(2026, 3, 29)}, {"day": date(2026, 3, 22), "until": date(2026, 4, 5)}):
        with pytest.raises(Invalid, match=r"Sun 29 March.* the clock skips 02:30") as error:
            make(db, squad, stamp, at=time(2, 30), **more)
        assert error.value.field == "at"
    (made,) = make(db, squad, stamp, day=date(2026, 10, 25), at=time(2, 30))
    assert made.starts_at == datetime(2026, 10, 25, 0, 30, tzinfo=UTC)
    db.commit()
    with pytest.raises(Invalid, match="there already"):
        make(db, squad, stamp, day=date(2026, 10, 25), at=time(2, 30))


@pytest.mark.parametrize(
    ("more", "until", "field"),
    [
        ({"title": " "}, None, "title"), ({"minutes": 0}, None, "minutes"), ({"minutes": 2000}, None, "minutes"),
        ({"effort": 11}, None, "effort"), ({"effort": -1}, None, "effort"), ({"place": "Nowhere"}, None, "place"),
        ({}, TODAY, "until"), ({}, TODAY + timedelta(days=700), "until"),
    ],
)  # fmt: skip
def test_what_cannot_be_is_said_at_its_place(db, squad, stamp, more, until, field):
    with pytest.raises(Invalid) as error:
        make(db, squad, stamp, until, **more)
    assert error.value.field == field


def test_a_match_has_an_opponent_and_needs_no_title(db, squad, stamp):
    (made,) = make(db, squad, stamp, kind=SessionKind.MATCH, title="", opponent="Lindhav ", venue=Venue.AWAY)
    assert (made.name, made.opponent, made.venue) == ("Match against Lindhav", "Lindhav", Venue.AWAY)
    # What is no match has none, whatever a form still holds.
    (made,) = make(db, squad, stamp, opponent="Lindhav", venue=Venue.AWAY)
    assert (made.name, made.opponent, made.venue) == ("Evening court", None, None)


def test_a_week_is_copied_at_the_same_times_with_its_parts_and_once(db, squad, stamp):
    monday = TODAY - timedelta(days=TODAY.weekday()) + timedelta(weeks=3)
    (made,) = make(db, squad, stamp, day=monday + timedelta(days=2))
    made.segments = [Segment(place=0, name="Warm-up", begins=0.0, minutes=15.0, weight=1.0, grade=2)]
    made.mix_aim = 0.55
    make(db, squad, stamp, day=monday + timedelta(days=5), kind=SessionKind.MATCH, opponent="Lindhav", title="")
    db.flush()
    into = monday + timedelta(weeks=2, days=4)
    copies = copy_week(db, squad.squad, monday + timedelta(days=6), into, stamp=stamp)
    assert [(one.day, one.name) for one in copies] == [
        (monday + timedelta(days=16), "Evening court"),
        (monday + timedelta(days=19), "Match against Lindhav"),
    ]
    zone = ZoneInfo(squad.squad.time_zone)
    assert {one.starts_at.astimezone(zone).hour for one in copies} == {18}
    assert [(part.name, part.minutes, part.grade) for part in copies[0].segments] == [("Warm-up", 15.0, 2)]
    assert copies[0].mix_aim == 0.55
    assert not any(one.done for one in copies)
    with pytest.raises(Invalid, match="no session in that week") as refused:
        copy_week(db, squad.squad, monday, into, stamp=stamp)
    assert refused.value.field == "of"
    with pytest.raises(Invalid, match="same week"):
        copy_week(db, squad.squad, monday, monday + timedelta(days=3), stamp=stamp)


def planned(db, squad, stamp, session, *plans):
    changes = [
        EntryChange(session_id=session.id, athlete_id=athlete, minutes=None, effort=None, planned_minutes=minutes,
                    planned_effort=effort)
        for athlete, (minutes, effort) in zip(squad.athletes, plans, strict=False)
    ]  # fmt: skip
    record_entries(db, squad.squad.id, changes, stamp=stamp, today=TODAY)


def plans_of(db, session):
    return {one.athlete_id: (one.planned_minutes, one.planned_effort) for one in
            queries.session.entries_of(db, [session.id])}  # fmt: skip


def test_everybodys_plan_follows_the_sessions_and_comes_back_with_it(db, squad, stamp):
    """Planned as everybody, for part of it, for more, and with no effort of one's own."""
    a, b, c, d = squad.athletes
    (made,) = make(db, squad, stamp)
    planned(db, squad, stamp, made, (75, 5), (45, 4), (90, 6), (40, None))
    before = plans_of(db, made)
    change_session(db, squad.squad, made.id, replace(COURT, minutes=42, effort=3), version=1, stamp=stamp)
    assert plans_of(db, made) == {a: (42, 3), b: (42, 3), c: (90, 6), d: (40, None)}
    back = take_back(db, squad.squad, made.id, version=2, stamp=stamp)
    assert (back.planned_minutes, back.planned_effort, back.version) == (75, 5, 3)
    assert plans_of(db, made) == before
    # And forth again: what was taken back is a change as well.
    take_back(db, squad.squad, made.id, version=3, stamp=stamp)
    assert plans_of(db, made)[a] == (42, 3)


def test_a_shorter_session_leaves_more_room_for_what_follows_on_the_desk(db, squad, stamp):
    today = squad.on(TODAY)
    lanes = read_morning(db, squad.squad, TODAY, TODAY)[0].lanes
    planned(db, squad, stamp, today, *[(today.planned_minutes, today.planned_effort)] * 4)
    shorter = replace(COURT, kind=today.kind, title=today.title, day=TODAY, at=time(12), minutes=10, effort=2)
    change_session(db, squad.squad, today.id, shorter, version=today.version, stamp=stamp)
    after = read_morning(db, squad.squad, TODAY, TODAY)[0].lanes
    assert [lane.room.plan for lane in after] == [20.0] * 4
    assert all(lane.room.plan > 20 for lane in lanes)


def test_what_was_not_changed_is_not_taken_back(db, squad, stamp):
    (made,) = make(db, squad, stamp)
    with pytest.raises(Stale, match="was not changed"):
        take_back(db, squad.squad, made.id, version=1, stamp=stamp)
    change_session(db, squad.squad, made.id, replace(COURT, minutes=60), version=1, stamp=stamp)
    with pytest.raises(Stale):
        take_back(db, squad.squad, made.id, version=1, stamp=stamp)
    assert made.planned_minutes == 60


def test_a_place_that_left_the_list_stays_where_it_is_and_is_chosen_nowhere_else(db, squad, stamp):
    hall = add_place(db, squad.squad, "Old hall")
    (made,) = make(db, squad, stamp, place="Old hall")
    remove_place(db, squad.squad, hall.id)
    change_session(db, squad.squad, made.id, replace(COURT, minutes=60, place="Old hall"), version=1, stamp=stamp)
    assert (made.planned_minutes, made.place) == (60, "Old hall")
    with pytest.raises(Invalid):
        make(db, squad, stamp, title="Another", place="Old hall")


def load_on(db, athlete, day):
    query = select(DailyLoad.load).where(DailyLoad.athlete_id == athlete, DailyLoad.day == day)
    return [one for one in db.scalars(query) if one]


def rated(db, squad, stamp, session, athlete):
    change = EntryChange(session_id=session.id, athlete_id=athlete, minutes=70, effort=6)
    record_entries(db, squad.squad.id, [change], stamp=stamp, today=TODAY)


def test_a_session_that_moves_takes_what_was_entered_with_it(db, squad, stamp):
    past = TODAY - timedelta(days=40)
    (made,) = make(db, squad, stamp, day=past, at=time(6, 0))
    athlete = squad.athletes[0]
    before, target = load_on(db, athlete, past), past + timedelta(days=1)
    there = load_on(db, athlete, target)
    rated(db, squad, stamp, made, athlete)
    assert sum(load_on(db, athlete, past)) == pytest.approx(sum(before) + 420)
    moved = change_session(
        db, squad.squad, made.id, replace(COURT, day=target, at=time(6, 0)), version=made.version, stamp=stamp
    )
    assert (moved.day, moved.version) == (target, 2)
    assert load_on(db, athlete, past) == before
    assert sum(load_on(db, athlete, target)) == pytest.approx(sum(there) + 420)
    kept = db.scalars(select(Earlier).where(Earlier.key == made.id)).one()
    assert kept.data["day"] == str(past)


def test_what_was_done_is_not_moved_to_a_day_to_come(db, squad, stamp):
    (made,) = make(db, squad, stamp, day=TODAY - timedelta(days=2), at=time(6, 0))
    rated(db, squad, stamp, made, squad.athletes[0])
    with pytest.raises(Invalid, match="still to come") as error:
        change_session(db, squad.squad, made.id, replace(COURT, day=FRIDAY), version=1, stamp=stamp)
    assert error.value.field == "day"
    change_session(db, squad.squad, made.id, replace(COURT, day=TODAY, at=time(6, 0)), version=1, stamp=stamp)
    assert made.day == TODAY


def test_nobody_takes_part_before_they_were_in_the_squad(db, squad, stamp):
    (made,) = make(db, squad, stamp, day=TODAY - timedelta(days=3), at=time(6, 0))
    rated(db, squad, stamp, made, squad.athletes[0])
    membership = db.scalars(select(Membership).where(Membership.athlete_id == squad.athletes[0])).one()
    membership.from_day = TODAY - timedelta(days=3)
    db.flush()
    with pytest.raises(Invalid, match=f"Not in the squad .*{membership.athlete.name}") as error:
        change_session(db, squad.squad, made.id, replace(COURT, day=TODAY - timedelta(days=9)), version=1, stamp=stamp)
    assert error.value.field == "day"


def test_of_two_who_change_one_the_second_is_shown_both(db, squad, stamp):
    (made,) = make(db, squad, stamp)
    change_session(db, squad.squad, made.id, replace(COURT, minutes=60), version=1, stamp=stamp)
    with pytest.raises(Stale) as error:
        change_session(db, squad.squad, made.id, replace(COURT, minutes=90), version=1, stamp=stamp)
    assert error.value.extra["theirs"]["minutes"] == 60
    assert error.value.extra["yours"]["minutes"] == 90
    change_session(
        db,
        squad.squad,
        made.id,
        replace(COURT, minutes=90),
        version=error.value.extra["theirs"]["version"],
        stamp=stamp,
    )
    assert made.planned_minutes == 90


def test_a_deleted_session_comes_back_with_its_parts_and_plans(db, squad, stamp):
    (made,) = make(db, squad, stamp)
    plan = EntryChange(session_id=made.id, athlete_id=squad.athletes[1], minutes=None, effort=None, planned_minutes=40)
    record_entries(db, squad.squad.id, [plan], stamp=stamp, today=TODAY)
    session_id, version = made.id, made.version
    delete_session(db, squad.squad, session_id, version=version, stamp=stamp)
    assert db.get(Session, session_id) is None
    assert db.scalars(select(Entry).where(Entry.session_id == session_id)).all() == []
    back = restore_session(db, squad.squad, session_id, stamp=stamp)
    assert (back.id, back.title, back.day, back.kind) == (session_id, "Evening court", FRIDAY, SessionKind.COURT)
    assert [(one.athlete_id, one.planned_minutes) for one in queries.session.entries_of(db, [session_id])] == [
        (squad.athletes[1], 40)
    ]
    # Twice is once.
    assert restore_session(db, squad.squad, session_id, stamp=stamp) is back
    with pytest.raises(Stale):
        delete_session(db, squad.squad, session_id, version=version, stamp=stamp)


def test_what_somebody_entered_is_never_deleted_with_its_session(db, squad, stamp):
    (made,) = make(db, squad, stamp, day=TODAY - timedelta(days=40), at=time(6, 0))
    rated(db, squad, stamp, made, squad.athletes[0])
    with pytest.raises(Stale, match="Something was entered"):
        delete_session(db, squad.squad, made.id, version=made.version, stamp=stamp)
    assert db.get(Session, made.id) is not None


def test_another_squads_session_is_not_there(db, squad, stamp):
    for call in (
        lambda: delete_session(db, squad.squad, "x", version=1, stamp=stamp),
        lambda: change_session(db, squad.squad, "x", COURT, version=1, stamp=stamp),
        lambda: restore_session(db, squad.squad, "x", stamp=stamp),
    ):
        with pytest.raises(NotFound):
            call()

"""Sessions that are called off, and days of which it is said that they were off or are not known."""

from datetime import timedelta

import numpy as np
import pytest
from sqlalchemy import select

from tests.conftest import NOW, TODAY
from uvren.services.day.desk import open_desks
from uvren.services.errors import Invalid, NotFound, Stale
from uvren.services.session import making
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.session.sessions import read_grid
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import DailyLoad, DayMarkKind, Session, SessionKind

BY = Stamp(None, NOW)
SUNDAY = TODAY - timedelta(days=TODAY.weekday() + 1)


@pytest.fixture
def today(squad):
    return squad.on(TODAY)


def called_off(db, squad, session, why="hall closed"):
    return making.call_off(db, squad.squad, session.id, why, version=session.version, stamp=BY)


def on_the_day(db, squad, day):
    return [one.id for one in queries.session.sessions_between(db, squad.squad.id, day, day)]


def test_what_is_called_off_is_kept_with_why_and_planned_for_nobody(db, squad, today):
    called_off(db, squad, today)
    db.expire_all()
    assert on_the_day(db, squad, TODAY) == []
    assert queries.day.plan(db, squad.squad.id, TODAY, TODAY) == []
    with pytest.raises(NotFound):
        read_grid(db, squad.squad, today.id, TODAY)
    (kept,) = queries.session.planned_between(db, squad.squad.id, TODAY, TODAY)
    assert (kept.id, kept.called_off) == (today.id, "hall closed")


def test_a_statement_that_joins_sessions_leaves_out_what_is_called_off(db, squad, today):
    called_off(db, squad, today)
    days = select(Session.day).where(Session.squad_id == squad.squad.id, Session.day == TODAY)
    assert db.execute(days).all() == []
    assert len(db.execute(days, execution_options={"also_called_off": True}).all()) == 1


def test_it_takes_place_after_all(db, squad, today):
    off = called_off(db, squad, today)
    making.put_on(db, squad.squad, today.id, version=off.version, stamp=BY)
    assert on_the_day(db, squad, TODAY) == [today.id]


def test_a_session_in_which_something_was_entered_took_place(db, squad):
    done = squad.on(TODAY - timedelta(days=1))
    with pytest.raises(Stale, match="it took place"):
        called_off(db, squad, done)


def test_who_rates_what_was_called_off_is_told_so(db, squad, today):
    called_off(db, squad, today, "snow")
    with pytest.raises(Stale, match="was called off: snow"):
        record_entries(db, squad.squad.id, [EntryChange(today.id, squad.athletes[0], 60, 5)], stamp=BY, today=TODAY)


@pytest.mark.parametrize("why", ["", "   ", "x" * 201])
def test_why_is_said_in_a_few_words(db, squad, today, why):
    with pytest.raises(Invalid, match="Say why"):
        called_off(db, squad, today, why)


def test_who_calls_off_what_somebody_changed_meanwhile_is_told(db, squad, today):
    with pytest.raises(Stale, match="changed meanwhile"):
        making.call_off(db, squad.squad, today.id, "x", version=today.version + 1, stamp=BY)


def test_a_day_that_is_not_known_is_no_rest_and_one_that_is_off_is(db, squad):
    channel = queries.squad.main_channel(db, squad.squad.id).id

    def rows():
        found = queries.day.daily_loads(db, [channel], squad.athletes, TODAY)
        return {int(row[1]): row[3] for row in found if int(row[2]) == SUNDAY.toordinal()}

    assert rows() == {}
    making.mark_day(db, squad.squad, SUNDAY, DayMarkKind.OFF, stamp=BY)
    assert rows() == {}
    making.mark_day(db, squad.squad, SUNDAY, DayMarkKind.UNKNOWN, stamp=BY)
    assert set(rows()) == set(squad.athletes)
    assert all(load != load for load in rows().values())
    making.mark_day(db, squad.squad, SUNDAY, None, stamp=BY)
    assert rows() == {}


def test_what_is_known_of_a_day_counts_whatever_is_said_of_it(db, squad):
    channel = queries.squad.main_channel(db, squad.squad.id).id
    making.mark_day(db, squad.squad, SUNDAY, DayMarkKind.UNKNOWN, stamp=BY)
    db.add(DailyLoad(channel_id=channel, athlete_id=squad.athletes[0], day=SUNDAY, load=120, estimated=0, sessions=1))
    db.flush()
    found = queries.day.daily_loads(db, [channel], squad.athletes[:1], TODAY, SUNDAY)
    assert [row[3] for row in found if int(row[2]) == SUNDAY.toordinal()] == [120]


def test_on_the_desk_a_day_that_is_not_known_has_no_load_for_anybody(db, squad):
    def load():
        (desk,) = [one.desk for one in open_desks(db, squad.squad, TODAY, TODAY) if one.channel.is_main]
        return desk.planned.load[:, desk.today - (TODAY - SUNDAY).days]

    assert (load() == 0).all()
    making.mark_day(db, squad.squad, SUNDAY, DayMarkKind.UNKNOWN, stamp=BY)
    assert np.isnan(load()).all()


def test_a_day_with_a_session_is_neither_off_nor_unknown_and_the_mark_stands_again_without_it(db, squad):
    with pytest.raises(Invalid, match="There is a session"):
        making.mark_day(db, squad.squad, TODAY, DayMarkKind.OFF, stamp=BY)
    with pytest.raises(Invalid, match="still to come"):
        making.mark_day(db, squad.squad, TODAY + timedelta(days=3), DayMarkKind.UNKNOWN, stamp=BY)
    making.mark_day(db, squad.squad, SUNDAY, DayMarkKind.UNKNOWN, stamp=BY)
    wanted = making.Wanted(SessionKind.COURT, "Extra", SUNDAY, NOW.time().replace(tzinfo=None), 60, 5)
    (extra,) = making.make_sessions(db, squad.squad, wanted, until=None, stamp=BY)
    channel = queries.squad.main_channel(db, squad.squad.id).id

    def unknown():
        rows = queries.day.daily_loads(db, [channel], squad.athletes, TODAY)
        return {int(row[1]) for row in rows if int(row[2]) == SUNDAY.toordinal() and row[3] != row[3]}

    # However the session came there: who was not in it rested, and is not unknown.
    assert (queries.session.day_marks(db, squad.squad.id, SUNDAY, SUNDAY), unknown()) == ({}, set())
    off = called_off(db, squad, extra)
    assert unknown() == set(squad.athletes)
    making.put_on(db, squad.squad, extra.id, version=off.version, stamp=BY)
    assert unknown() == set()
    making.delete_session(db, squad.squad, extra.id, version=extra.version, stamp=BY)
    assert set(queries.session.day_marks(db, squad.squad.id, SUNDAY, SUNDAY)) == {SUNDAY}

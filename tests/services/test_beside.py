"""Taking part without load: what somebody who is out does with the squad, wherever it is read."""

from datetime import timedelta

import pytest

from tests.conftest import NOW, TODAY
from tests.returning import hurt, shown
from tests.squad import noon
from uvren.core.audience import LEAST
from uvren.core.ratings import Origin
from uvren.services.day.beside import beside_between
from uvren.services.errors import Invalid, NotFound
from uvren.services.morning.own_today import own_today
from uvren.services.morning.sheet import read_sheet
from uvren.services.reports.days import own_day
from uvren.services.session import making
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.session.planning import NewSession, plan_sessions
from uvren.services.session.sessions import read_grid
from uvren.services.stamp import Stamp
from uvren.services.versions import WHATEVER
from uvren.services.week.saving import plan_beside, plan_own
from uvren.store import queries
from uvren.store.models import Besides, Entry, SessionKind
from uvren.store.types import new_ulid


@pytest.fixture
def stamp(squad):
    return Stamp(squad.staff.id, NOW)


@pytest.fixture
def evening(db, squad):
    wanted = NewSession(noon(TODAY) + timedelta(hours=5), SessionKind.COURT, "Evening", 60, 5)
    return plan_sessions(db, squad.squad, [wanted])[0]


@pytest.fixture
def put(db, squad, evening, stamp):
    def go(how, session=evening, i=0):
        plan_beside(db, squad.squad, squad.athletes[i], session.id, how, stamp=stamp)

    return go


def own_entry(db, squad, session, i=0):
    return db.query(Entry).filter_by(session_id=session.id, athlete_id=squad.athletes[i]).one_or_none()


def test_what_is_planned_without_load_is_read_everywhere_and_is_no_load(db, squad, by, evening, put):
    plan = hurt(db, squad, by)
    put(Besides.WATCH)
    line = next(one for one in read_sheet(db, squad.squad, TODAY, TODAY).lines if one.athlete_id == squad.athletes[0])
    assert line.how.endswith(", watches (Evening)")
    own = own_today(db, squad.squad, squad.athletes[0], TODAY)
    assert [one.said for one in own.beside] == ["Evening: you watch"]
    assert "Evening" not in [one.title for one in own.plan]
    assert [(one.name, one.how) for one in shown(db, squad, plan, audiences=LEAST).beside if one.how] == [
        ("Evening", Besides.WATCH)
    ]
    # Nobody else is in it, and nobody who only watches is asked to rate it.
    after = noon(TODAY) + timedelta(hours=8)
    asked = [own_day(db, squad.squad, one, now=after, today=TODAY).dues for one in squad.athletes[:2]]
    assert [evening.id in {one.session.id for one in dues if one.session} for dues in asked] == [False, True]
    assert own_today(db, squad.squad, squad.athletes[1], TODAY).beside == []
    assert own_entry(db, squad, evening).planned_minutes == 0


def test_what_is_taken_back_leaves_nothing_and_own_minutes_stay(db, squad, evening, put, stamp):
    put(Besides.TACTICS)
    put(None)
    assert own_entry(db, squad, evening) is None
    plan_own(db, squad.squad, {(squad.athletes[0], evening.id): 20.0}, stamp=stamp)
    put(Besides.WALK)
    assert (own_entry(db, squad, evening).planned_minutes, own_entry(db, squad, evening).beside) == (20.0, Besides.WALK)
    put(None)
    assert (own_entry(db, squad, evening).planned_minutes, own_entry(db, squad, evening).beside) == (20.0, None)


def test_it_counts_as_done_with_the_session_and_misses_no_rating(db, squad, put, stamp):
    yesterday = TODAY - timedelta(days=1)
    wanted = NewSession(noon(yesterday) + timedelta(hours=6), SessionKind.COURT, "Late", 60, 5)
    (late,) = plan_sessions(db, squad.squad, [wanted])
    put(Besides.WATCH, late)
    changes = [EntryChange(late.id, one, 60.0, 5.0) for one in squad.athletes[1:]]
    record_entries(db, squad.squad.id, changes, stamp=stamp, today=TODAY)
    rows = {one.member.athlete_id: one for one in read_grid(db, squad.squad, late.id, TODAY, LEAST).rows}
    mine = rows[squad.athletes[0]]
    assert (mine.entry.beside, mine.load, mine.origin) == (Besides.WATCH, 0.0, Origin.MEASURED)
    assert queries.session.unrated_counts(db, [late.id]) == {}
    done = [one for one in beside_between(db, squad.squad, squad.athletes[0], yesterday, TODAY) if one.done]
    assert [(one.name, one.how) for one in done] == [("Late", Besides.WATCH)]
    # Of others, what is done and was not taken part in so is not listed.
    assert [one for one in beside_between(db, squad.squad, squad.athletes[1], yesterday, TODAY) if one.done] == []
    with pytest.raises(Invalid, match="done already"):
        put(None, late)


def test_only_a_session_and_an_athlete_of_the_squad(db, squad, evening, stamp):
    with pytest.raises(NotFound):
        plan_beside(db, squad.squad, squad.athletes[0], new_ulid(), Besides.WATCH, stamp=stamp)
    with pytest.raises(NotFound):
        plan_beside(db, squad.squad, 999_999, evening.id, Besides.WATCH, stamp=stamp)


def test_a_session_that_is_deleted_and_brought_back_has_it_still(db, squad, evening, put, stamp):
    put(Besides.WALK)
    name = evening.id
    making.delete_session(db, squad.squad, name, version=WHATEVER, stamp=stamp)
    making.restore_session(db, squad.squad, name, stamp=stamp)
    assert own_entry(db, squad, queries.session.any_session(db, name)).beside is Besides.WALK

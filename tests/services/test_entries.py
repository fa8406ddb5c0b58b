from datetime import timedelta

import pytest
from sqlalchemy import func, select

from tests.conftest import NOW, TODAY
from uvren.services.errors import Invalid, NotFound, Stale
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.stamp import Stamp
from uvren.store.models import Audit, Entry

YESTERDAY = TODAY - timedelta(days=1)


def change(squad, athlete, minutes, effort, day=YESTERDAY, version=1, **more):
    return EntryChange(squad.on(day).id, squad.athletes[athlete], minutes, effort, version=version, **more)


def record(db, squad, *changes):
    return record_entries(db, squad.squad.id, changes, stamp=Stamp(squad.staff.id, NOW), today=TODAY)


def test_the_daily_load_follows_the_entry_in_the_same_transaction(db, squad):
    record(db, squad, change(squad, 0, 70.0, 6.5))
    daily = squad.daily(db, squad.athletes[0], YESTERDAY)
    assert (daily.load, daily.estimated, daily.sessions) == (455, 0, 1)


def test_a_rating_taken_away_becomes_an_estimate_from_the_athletes_own_median(db, squad):
    record(db, squad, change(squad, 0, 80.0, None))
    daily = squad.daily(db, squad.athletes[0], YESTERDAY)
    assert (daily.load, daily.estimated) == (400, 400)


def test_an_estimate_is_recomputed_when_an_earlier_rating_changes(db, squad):
    record(db, squad, change(squad, 0, 60.0, None))
    days = [session.day for session in squad.sessions if session.day < YESTERDAY][-36:]
    record(db, squad, *(change(squad, 0, 60.0, 8.0, day=day) for day in days))
    assert squad.daily(db, squad.athletes[0], YESTERDAY).load == 480


def test_minutes_unknown_make_the_day_unknown_and_not_a_rest_day(db, squad):
    record(db, squad, change(squad, 0, None, 5.0))
    daily = squad.daily(db, squad.athletes[0], YESTERDAY)
    assert daily.load is None
    assert daily.sessions == 1


def test_zero_minutes_are_a_day_of_rest(db, squad):
    record(db, squad, change(squad, 0, 0.0, None))
    assert squad.daily(db, squad.athletes[0], YESTERDAY).load == 0


@pytest.mark.parametrize(
    ("minutes", "effort", "field"),
    [(60.0, 11.0, "changes.1.effort"), (60.0, -1.0, "changes.1.effort"), (60.0, 5.3, "changes.1.effort"),
     (601.0, 5.0, "changes.1.minutes"), (-5.0, 5.0, "changes.1.minutes")],
)  # fmt: skip
def test_a_value_out_of_range_is_refused_with_its_place_and_nothing_is_written(db, squad, minutes, effort, field):
    with pytest.raises(Invalid) as refused:
        record(db, squad, change(squad, 0, 90.0, 9.0), change(squad, 1, minutes, effort))
    assert refused.value.field == field
    assert squad.daily(db, squad.athletes[0], YESTERDAY).load == 300


def test_the_same_change_sent_twice_changes_nothing_the_second_time(db, squad):
    first = record(db, squad, change(squad, 0, 70.0, 6.0))[0]
    audits = db.scalar(select(func.count()).select_from(Audit))
    again = record(db, squad, change(squad, 0, 70.0, 6.0))[0]
    assert (first.id, again.version) == (again.id, 2)
    assert db.scalar(select(func.count()).select_from(Audit)) == audits


def test_a_stale_change_gets_both_versions_and_writes_nothing(db, squad):
    record(db, squad, change(squad, 0, 70.0, 6.0))
    with pytest.raises(Stale) as stale:
        record(db, squad, change(squad, 0, 75.0, 7.0))
    assert stale.value.extra["yours"] == {"minutes": 75.0, "effort": 7.0}
    assert stale.value.extra["theirs"] == {"minutes": 70.0, "effort": 6.0, "version": 2}
    assert squad.daily(db, squad.athletes[0], YESTERDAY).load == 420


def test_a_session_still_to_come_cannot_be_recorded(db, squad):
    tomorrow = TODAY + timedelta(days=1)
    with pytest.raises(Invalid, match="recorded when it is done"):
        record(db, squad, change(squad, 0, 60.0, 5.0, day=tomorrow, version=None))


def test_the_first_entry_makes_a_session_done_and_those_without_one_unknown(db, squad):
    planned = [EntryChange(squad.on(TODAY).id, athlete, None, None, planned_minutes=60) for athlete in squad.athletes]
    record(db, squad, *planned)
    assert squad.daily(db, squad.athletes[1], TODAY) is None
    record(db, squad, change(squad, 0, 60.0, 5.0, day=TODAY))
    assert squad.on(TODAY).done
    assert squad.daily(db, squad.athletes[0], TODAY).load == 300
    assert squad.daily(db, squad.athletes[1], TODAY).load is None


def test_entries_of_another_squad_cannot_be_reached(db, squad):
    with pytest.raises(NotFound):
        record_entries(db, squad.squad.id + 1, [change(squad, 0, 60.0, 5.0)], stamp=Stamp(None, NOW), today=TODAY)
    with pytest.raises(NotFound) as wrong:
        record(db, squad, EntryChange(squad.on(YESTERDAY).id, 10**6, 60.0, 5.0))
    assert wrong.value.field == "changes.0.athlete_id"


def test_every_change_is_in_the_audit_with_before_and_after(db, squad):
    record(db, squad, change(squad, 2, 70.0, 6.0, words="heavy legs"))
    last = db.scalars(select(Audit).order_by(Audit.id.desc()).limit(1)).one()
    assert last.action == "entries"
    assert last.details == {"athlete_before_after": [[squad.athletes[2], [60.0, 5.0], [70.0, 6.0]]]}
    assert db.scalar(select(Entry.words).where(Entry.words == "heavy legs"))

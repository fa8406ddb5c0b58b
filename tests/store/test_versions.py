"""What tables held, told the club's own time, also where the clock is set back."""

from datetime import timedelta

from sqlalchemy import text

from tests.conftest import NOW, TODAY
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.versions import known_at, not_before, written_at

YESTERDAY = TODAY - timedelta(days=1)


def rate(db, squad, effort, at):
    """A rating of yesterday's session, as a request at a moment of the clock writes it."""
    written_at(db, at)
    entry = squad.entry(db, squad.athletes[0], YESTERDAY)
    db.refresh(entry)
    change = EntryChange(entry.session_id, entry.athlete_id, 60.0, effort, version=entry.version)
    record_entries(db, squad.squad.id, [change], stamp=Stamp(squad.staff.id, at), today=TODAY)
    db.flush()
    return entry.id


def held(db, entry, at):
    known_at(db, at)
    effort = db.scalar(text("SELECT effort FROM entry WHERE id = :id"), {"id": entry})
    known_at(db, None)
    return effort


def test_no_version_is_older_than_the_one_before_where_the_clock_goes_back(db, squad):
    hour = timedelta(hours=1)
    entry = rate(db, squad, 6.0, NOW)
    rate(db, squad, 7.0, NOW - hour)
    rate(db, squad, 8.0, NOW - 2 * hour)
    rate(db, squad, 9.0, NOW + hour)
    rows = db.execute(text("SELECT row_start, row_end, effort FROM entry FOR SYSTEM_TIME ALL WHERE id = :id "
                           "ORDER BY version"), {"id": entry}).all()  # fmt: skip
    assert all(one.row_start <= one.row_end for one in rows)
    assert [one.row_start for one in rows] == sorted(one.row_start for one in rows)
    # What the clock set back wrote is known from then on, not from before it was written.
    assert held(db, entry, NOW - hour / 2) not in (7, 8)
    assert (held(db, entry, NOW + hour / 2), held(db, entry, NOW + hour)) == (8, 9)


def test_another_squads_clock_holds_nobody_up(db, squad):
    rate(db, squad, 6.0, NOW)
    written_at(db, NOW - timedelta(hours=1))
    queries.squad.hold(db, squad.squad.id + 1000)
    assert not_before(db, None) == NOW - timedelta(hours=1)
    queries.squad.hold(db, squad.squad.id)
    assert not_before(db, None) == NOW


def test_whoever_holds_every_squad_writes_after_all_of_them(db, squad):
    rate(db, squad, 6.0, NOW)
    written_at(db, NOW - timedelta(hours=1))
    queries.squad.hold_all(db)
    assert not_before(db, None) == NOW

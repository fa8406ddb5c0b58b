"""Heavy days of the week ahead that are too close, and what holds of cold water."""

from datetime import timedelta

from tests.conftest import TODAY
from tests.squad import noon
from uvren.core.season import PhaseKind
from uvren.services.day.loads import refresh_daily_loads
from uvren.services.session.planning import NewSession, plan_sessions
from uvren.services.week.recovering import read_recovering
from uvren.store.models import Entry, SeasonPhase, SessionKind, Source
from uvren.store.types import new_ulid


def read(db, squad):
    return read_recovering(db, squad.squad, TODAY, TODAY)


def some_of_each(db, squad):
    """Days are not all alike, so that there is something to be heavy against."""
    for i, session in enumerate(one for one in squad.sessions if one.day < TODAY):
        for athlete in squad.athletes:
            squad.entry(db, athlete, session.day).effort = 4.0 + i % 3
    db.flush()


def test_two_heavy_evenings_running_are_told_for_whom_they_are_planned(db, squad):
    assert read(db, squad).conflicts == []
    for back in (1, 2):
        squad.on(TODAY + timedelta(days=back)).planned_minutes = 150.0
    # One of them is planned for less.
    own = Entry(id=new_ulid(), session_id=squad.on(TODAY + timedelta(days=2)).id, athlete_id=squad.athletes[3],
                planned_minutes=30.0, source=Source.STAFF, version=1, entered_at=noon(TODAY))  # fmt: skip
    db.add(own)
    db.flush()
    some_of_each(db, squad)
    past = {(athlete, one.day) for one in squad.sessions if one.day < TODAY for athlete in squad.athletes}
    refresh_daily_loads(db, squad.squad.id, past)
    found = read(db, squad).conflicts
    assert [(one.name, one.day) for one in found] == [(name, TODAY + timedelta(days=2)) for name in "ABC"]
    assert (
        found[0].said == "heavy session load 22 h after heavy session load on Fri 13 March; muscle wants 24 h or more"
    )


def test_cold_water_follows_the_matches_and_the_phase(db, squad):
    assert "not needed" in read(db, squad).cold
    db.add(SeasonPhase(squad_id=squad.squad.id, edition=new_ulid(), kind=PhaseKind.PREPARATION, name="Base",
                       first_day=TODAY - timedelta(days=9), last_day=TODAY, set_at=noon(TODAY)))  # fmt: skip
    db.flush()
    assert "builds" in read(db, squad).cold
    days = (TODAY - timedelta(days=1), TODAY + timedelta(days=2))
    plan_sessions(db, squad.squad, [NewSession(noon(day), SessionKind.MATCH, "Match", 60, 9) for day in days])
    assert read(db, squad).cold.startswith("Matches are 3 days apart")

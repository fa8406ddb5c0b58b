"""A stale answer is never given: what was written is in every later answer, whichever process gives it."""

import os
import signal
import time
import urllib.error
from datetime import timedelta

import pytest

from tests.conftest import TODAY
from tests.squad import make_small_squad
from tests.visitor import Visitor
from uvren.services.squad.squads import create_user
from uvren.simulate.club import PASSWORD
from uvren.store.database import connect, sessions
from uvren.store.models import Club, Role

# A thousand, with eight kills, take two minutes and more.
WRITES = int(os.environ.get("UVREN_WRITES", "250"))
KILL_EVERY = 50


@pytest.fixture
def squad(served):
    engine = connect(served.database_url)
    with sessions(engine)() as db:
        small = make_small_squad(db, TODAY)
        club = db.get_one(Club, small.squad.club_id)
        create_user(db, club, "writes-and-reads", "W. Rites", PASSWORD, {small.squad.id: Role.PERFORMANCE})
        db.commit()
    engine.dispose()
    return small


def web_processes(served):
    """The processes that answer: below the one that only looks after them."""
    return served.pids_of("gunicorn")[1:]


def patiently(ask):
    """What was asked of a process that was killed meanwhile is asked again."""
    until = time.monotonic() + 60
    while True:
        try:
            return ask()
        except (urllib.error.URLError, ConnectionError) as error:
            if isinstance(error, urllib.error.HTTPError) or time.monotonic() > until:
                raise
            time.sleep(0.1)


@pytest.mark.timeout(1800)
def test_what_was_written_is_in_the_next_answer_of_every_process_also_when_they_are_killed(served, squad):
    visitor = Visitor(served.address, "writes-and-reads")
    path, day = f"/api/squads/{squad.squad.slug}", TODAY - timedelta(days=1)
    session, athlete = squad.on(day).id, squad.athletes[0]
    version, killed, unlike = 1, 0, []
    for i in range(WRITES):
        effort = (3.0, 8.5, 5.5)[i % 3]
        change = {"athlete_id": athlete, "minutes": 60, "effort": effort, "version": version}

        def write(change=change):
            return visitor.ask("PATCH", f"{path}/sessions/{session}/entries", {"changes": [change]})

        if i % KILL_EVERY == KILL_EVERY - 1:
            os.kill(web_processes(served)[i % 2], signal.SIGKILL)
            killed += 1
        grid = patiently(write)
        version = next(row["version"] for row in grid["rows"] if row["athlete_id"] == athlete)
        # A connection of its own each time: either process may be the one that answers.
        lane = patiently(lambda: visitor.ask("GET", f"{path}/morning?day={TODAY}"))["lanes"][0]
        if lane["strip"]["load"][-9] != effort * 60:
            unlike.append((i, lane["strip"]["load"][-9], effort * 60))
    assert (unlike, killed) == ([], WRITES // KILL_EVERY)

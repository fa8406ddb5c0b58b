import os
import signal
import time
from datetime import UTC, datetime

import numpy as np

from tests.visitor import Visitor
from uvren.simulate import devices

SQUAD = "/api/squads/tarnholm-handball"


def wait_for(what, seconds=90):
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        found = what()
        if found:
            return found
        time.sleep(0.02)
    raise AssertionError("it did not come about in time")


def test_a_worker_killed_in_the_middle_of_a_file_begins_it_again_and_nothing_is_in_twice(served):
    staff = Visitor(served.address)
    people = staff.ask("GET", f"{SQUAD}/anchors?day=2026-03-12")["athletes"]
    starts, random = datetime(2026, 3, 4, 17, 0, tzinfo=UTC), np.random.default_rng(5)
    content = devices.pod_file({one["name"]: devices.move(starts, 60, 6, random) for one in people}, random).encode()
    (first,) = served.pids_of(" worker")
    # The club keeps how its pods' files are read, so that this one goes in by itself.
    put = staff.ask("POST", f"{SQUAD}/files?name=cut-off.csv", raw=content)["file"]
    path = f"{SQUAD}/files/{put['id']}"
    wait_for(lambda: staff.ask("GET", path)["state"] == "running")
    os.kill(first, signal.SIGKILL)
    assert wait_for(lambda: served.pids_of(" worker")) != [first]
    done = wait_for(lambda: (now := staff.ask("GET", path))["state"] in ("done", "failed") and now)
    assert done["state"] == "done", done["report"]
    assert len(done["report"]["recordings"]) == len(people)
    # Taken back, so that other tests meet the demo as it was.
    assert staff.ask("POST", f"{path}/undo", {})["state"] == "undone"

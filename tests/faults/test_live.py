"""A web process and MariaDB are killed while hubs send and people watch: nothing acknowledged is lost."""

import json
import os
import signal
import threading
import urllib.error
import urllib.request
from datetime import timedelta

import pytest

from tests.conftest import serving
from tests.faults.test_never_stale import patiently, web_processes
from tests.visitor import Visitor
from uvren.simulate.hub import Sender
from uvren.store.database import connect, sessions
from uvren.store.models import LiveChunk
from uvren.store.types import new_ulid

SQUAD = "/api/squads/tarnholm-handball"
SECONDS = 60


@pytest.fixture(scope="module")
def served(demo_folder):
    with serving(demo_folder) as running:
        yield running


class Watching(threading.Thread):
    """Watches a session as a browser does: opens the stream again whenever it ends."""

    def __init__(self, visitor, path):
        super().__init__(daemon=True)
        self.visitor, self.path, self.seen, self.on = visitor, path, [], True

    def run(self):
        while self.on:
            try:
                request = urllib.request.Request(self.visitor.address + self.path)
                with self.visitor.opener.open(request, timeout=15) as answer:
                    for line in answer:
                        if line.startswith(b"data: "):
                            self.seen.append(json.loads(line[6:]))
                        if not self.on:
                            return
            except (OSError, urllib.error.URLError, ValueError):
                threading.Event().wait(0.2)


def test_nothing_acknowledged_is_lost_over_kills_and_viewers_catch_up(served):
    staff = Visitor(served.address)
    field = staff.ask("GET", f"{SQUAD}/field?day=2026-03-12")
    session, now = field["session"]["id"], staff.now()
    event = {"id": new_ulid(), "kind": "begin", "part": 0, "at": now.isoformat()}
    staff.ask("POST", f"{SQUAD}/sessions/{session}/field", {"events": [event]})
    sender = Sender(served.address, staff.ask("POST", f"{SQUAD}/hubs", {"name": "Pitch"})["token"])
    names = [row["name"] for row in field["rows"]]
    watching = [Watching(Visitor(served.address), f"{SQUAD}/sessions/{session}/live/stream") for _ in range(4)]
    for one in watching:
        one.start()
    for second in range(SECONDS):
        at = (now + timedelta(seconds=second - SECONDS)).isoformat()
        sender.send([{"device": name, "kind": "heart_rate", "number": second, "at": at, "t": [0.0],
                      "value": [120.0 + second % 5]} for name in names])  # fmt: skip
        if second in (15, 35):
            os.kill(web_processes(served)[0], signal.SIGKILL)
        if second == 25:
            os.kill(served.pids_of("mariadbd")[0], signal.SIGKILL)
        threading.Event().wait(0.1)
    # What was not acknowledged waits at the hub, and goes out once there is somebody to take it.
    patiently(lambda: staff.ask("GET", "/api/me"))
    for _ in range(100):
        if not sender.unsent:
            break
        sender.send([])
        threading.Event().wait(0.2)
    assert sender.unsent == []
    engine = connect(served.database_url)
    with sessions(engine)() as db:
        kept = {(one.device, one.number) for one in db.query(LiveChunk).filter_by(session_id=session)}
    engine.dispose()
    assert kept == {(name, second) for name in names for second in range(SECONDS)}
    # Everybody who watches has the last of it on the screen, whichever process they are at now.
    for one in watching:
        for _ in range(150):
            if one.seen and all(lane["bpm"] == 124.0 for lane in one.seen[-1]["lanes"]):
                break
            threading.Event().wait(0.2)
        assert {lane["bpm"] for lane in one.seen[-1]["lanes"]} == {124.0}
        one.on = False

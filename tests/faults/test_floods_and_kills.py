"""Many at once, and everything killed in the middle: what was acknowledged is there, and there once."""

import contextlib
import os
import random
import signal
import socket
import time
import urllib.request
from concurrent.futures import ThreadPoolExecutor

import pytest
from sqlalchemy import func, select

from tests.faults.storm import Storm, make_flood, report
from tests.visitor import Visitor
from uvren.store.database import connect, sessions
from uvren.store.models import Report, User
from uvren.store.types import new_ulid
from uvren.web.workers import HEADER_SECONDS

ATHLETES = 200


@pytest.fixture(scope="module")
def flood(served):
    """A squad of 200 athletes who can sign in; returns its athletes."""
    engine = connect(served.database_url)
    with sessions(engine)() as db:
        athletes = make_flood(db, ATHLETES)
        db.commit()
    yield athletes
    with sessions(engine)() as db:
        for user in db.scalars(select(User).where(User.login.startswith("flood-"))):
            user.active = False
        db.commit()
    engine.dispose()


def counted(served, *where):
    engine = connect(served.database_url)
    with sessions(engine)() as db:
        found = db.scalar(select(func.count()).select_from(Report).where(*where))
    engine.dispose()
    return found


def test_two_hundred_athletes_at_once_and_twice_lose_and_double_nothing(served, flood):
    with ThreadPoolExecutor(16) as pool:
        visitors = list(pool.map(lambda i: Visitor(served.address, f"flood-{i}"), range(ATHLETES)))
    keys = [new_ulid() for _ in visitors]

    def send(i):
        return visitors[i].ask("PUT", *report(keys[i], i % 11))["report"]["id"]

    order = list(range(ATHLETES)) * 2
    random.Random(3).shuffle(order)
    with ThreadPoolExecutor(32) as pool:
        said = list(pool.map(send, order))
    assert sorted(said) == sorted(keys * 2)
    assert counted(served, Report.athlete_id.in_(flood)) == ATHLETES
    assert counted(served, Report.athlete_id.in_(flood), Report.counts) == ATHLETES


@pytest.mark.parametrize(("victim", "effort"), [("database", 4.5), ("everything", 3.5)])
def test_what_was_acknowledged_before_a_kill_is_there_after_it_once(served, flood, victim, effort):
    storm = Storm(served, flood[:20], effort, [f"2026-01-{day:02}" for day in range(12, 31)])
    with storm.blowing():
        assert storm.goes_on()
        if victim == "database":
            os.kill(served.pids_of("mariadbd")[0], signal.SIGKILL)
        else:
            served.kill()
            served.start()
        # The storm goes on through the kill, and for a while after it.
        assert storm.goes_on(), "the storm did not go on after the kill"
    outcome = storm.outcome()
    assert (outcome.lost, outcome.doubled) == (0, 0)
    assert storm.ratings


def test_who_asks_slowly_is_cut_and_holds_up_nobody(served):
    """More connections than there are threads, each with half a head and no more."""
    half = b"GET /api/me HTTP/1.1\r\nHost: 127.0.0.1\r\nX-Slow: "
    held = [socket.create_connection(("127.0.0.1", served.port), timeout=60) for _ in range(160)]
    try:
        for one in held:
            one.sendall(half)
        began = time.monotonic()
        with urllib.request.urlopen(f"{served.address}/api/me", timeout=60) as answer:
            assert answer.status == 200
        assert time.monotonic() - began < 3 * HEADER_SECONDS
        cut = 0
        for one in held:
            with contextlib.suppress(ConnectionError):
                cut += one.recv(1) == b""
        assert cut >= 100
    finally:
        for one in held:
            one.close()

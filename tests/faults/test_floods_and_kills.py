"""Many at once, and everything killed in the middle: what was acknowledged is there, and there once."""

import contextlib
import http.client
import os
import random
import signal
import socket
import threading
import time
import urllib.error
import urllib.request
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from sqlalchemy import func, select

from tests.conftest import TODAY
from tests.visitor import Visitor
from uvren.services.club.accounts import hash_password
from uvren.services.squad import squads
from uvren.simulate.club import PASSWORD
from uvren.store.database import connect, sessions
from uvren.store.models import Club, Entry, Report, Role, RoleGrant, User
from uvren.store.types import new_ulid
from uvren.web.workers import HEADER_SECONDS

ATHLETES = 200
SLUG = "the-flood"
BASE = f"/api/squads/{SLUG}"


@pytest.fixture(scope="module")
def flood(served):
    """A squad of 200 athletes who can sign in; returns its athletes."""
    engine = connect(served.database_url)
    with sessions(engine)() as db:
        from datetime import UTC, datetime, time

        club = db.scalars(select(Club)).first()
        now = datetime.combine(TODAY, time(5), UTC)
        squad = squads.create_squad(db, club, SLUG, "The Flood", "Europe/Oslo", now)
        people = [squads.NewMember(f"Flood {i:03}", None, "back", TODAY) for i in range(ATHLETES)]
        athletes = squads.add_members(db, squad, people)
        # One digest for all: two hundred would take longer than the flood.
        digest = hash_password(PASSWORD)
        users = [
            User(club_id=club.id, login=f"flood-{i}", name=f"F {i}", password_hash=digest, athlete_id=athlete)
            for i, athlete in enumerate(athletes)
        ]
        db.add_all(users)
        db.flush()
        db.add_all(RoleGrant(user_id=user.id, squad_id=squad.id, role=Role.ATHLETE) for user in users)
        db.commit()
    yield athletes
    with sessions(engine)() as db:
        for user in db.scalars(select(User).where(User.login.startswith("flood-"))):
            user.active = False
        db.commit()
    engine.dispose()


def report(key, mood):
    return f"{BASE}/own/reports/{key}", {
        "kind": "daily", "day": str(TODAY), "answers": {"mood": mood}, "made_at": f"{TODAY}T06:00:00Z", "ill": False,
    }  # fmt: skip


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


def mariadb_of(served):
    names = {pid: Path(f"/proc/{pid}/comm") for pid in served.children()}
    return next(pid for pid, path in names.items() if path.exists() and path.read_text().startswith("mariadb"))


@pytest.mark.parametrize(("victim", "effort"), [("database", 4.5), ("everything", 3.5)])
def test_what_was_acknowledged_before_a_kill_is_there_after_it_once(served, flood, victim, effort):
    """A storm of reports and ratings, each sent until it is acknowledged, through a kill -9 in the middle."""
    staff = Visitor(served.address)
    squad = "/api/squads/tarnholm-handball"
    days = [f"2026-01-{day:02}" for day in range(12, 31)]
    grids = [staff.ask("GET", f"{squad}/sessions/latest?day={day}") for day in days]
    cells = [(grid["id"], row["athlete_id"], row["version"]) for grid in grids for row in grid["rows"][:4]]
    visitors = [Visitor(served.address, f"flood-{i}") for i in range(20)]
    stop, reports, ratings = threading.Event(), [], {}

    def until_taken(visitor, method, path, body):
        """What a browser does: the same thing again, until there is an answer. None once the storm is over."""
        while not stop.is_set():
            try:
                return visitor.ask(method, path, body)
            except urllib.error.HTTPError as error:
                if error.code < 500:
                    raise
            except (OSError, http.client.HTTPException):
                pass
            time.sleep(0.1)
        return None

    def tell(visitor):
        seen = None
        while not stop.is_set():
            key = new_ulid()
            path, body = report(key, 5)
            if until_taken(visitor, "PUT", path, body | {"replaces": seen}):
                reports.append(key)
                seen = key

    def rate(mine):
        for session, athlete, version in mine:
            change = {"athlete_id": athlete, "minutes": 61, "effort": effort, "version": version}
            if until_taken(staff, "PATCH", f"{squad}/sessions/{session}/entries", {"changes": [change]}):
                ratings[session, athlete] = version

    workers = [threading.Thread(target=tell, args=(one,)) for one in visitors]
    workers += [threading.Thread(target=rate, args=(cells[i::2],)) for i in range(2)]
    for worker in workers:
        worker.start()
    time.sleep(1.5)
    before = len(reports), len(ratings)
    if victim == "database":
        os.kill(mariadb_of(served), signal.SIGKILL)
    else:
        served.kill()
        served.start()
    # The storm goes on through the kill, and for a while after it.
    until = time.monotonic() + 60
    while time.monotonic() < until and (len(reports) <= before[0] + 20 or len(ratings) <= before[1]):
        time.sleep(0.2)
    stop.set()
    for worker in workers:
        worker.join()
    assert before[0] > 0
    assert len(reports) > before[0] + 20, "the storm did not go on after the kill"
    engine = connect(served.database_url)
    with sessions(engine)() as db:
        there = list(db.scalars(select(Report.id).where(Report.id.in_(reports))))
        assert sorted(there) == sorted(reports)
        standing = db.scalar(
            select(func.count()).where(Report.athlete_id.in_(flood[:20]), Report.day == TODAY, Report.counts)
        )
        assert standing == 20
        for (session, athlete), version in ratings.items():
            (entry,) = db.scalars(select(Entry).where(Entry.session_id == session, Entry.athlete_id == athlete))
            assert (entry.minutes, entry.effort) == (61, effort)
            assert entry.version == (version or 0) + 1
    engine.dispose()


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

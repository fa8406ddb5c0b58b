"""A storm of reports and ratings, each sent until it is acknowledged, and what became of them."""

from __future__ import annotations

import http.client
import threading
import time
import urllib.error
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from datetime import time as clock

from sqlalchemy import func, select
from sqlalchemy.orm import Session as DbSession

from tests.conftest import TODAY
from tests.served import Served
from tests.visitor import Visitor
from uvren.services.club.accounts import hash_password
from uvren.services.squad import squads
from uvren.simulate.club import PASSWORD
from uvren.store.database import connect, sessions
from uvren.store.models import Club, Entry, Report, Role, RoleGrant, User
from uvren.store.types import new_ulid

SLUG = "the-flood"
OWN = f"/api/squads/{SLUG}/own"
STAFFS = "/api/squads/tarnholm-handball"


def make_flood(db: DbSession, count: int) -> list[int]:
    """A squad of athletes who can sign in as flood-0, flood-1 and so on; returns them."""
    club = db.scalars(select(Club)).first()
    assert club is not None
    now = datetime.combine(TODAY, clock(5), UTC)
    squad = squads.create_squad(db, club, SLUG, "The Flood", "Europe/Oslo", now)
    people = [squads.NewMember(f"Flood {i:03}", None, "back", TODAY) for i in range(count)]
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
    return athletes


def report(key: str, mood: int) -> tuple[str, dict[str, object]]:
    """Where a report of today goes, and what it says."""
    return f"{OWN}/reports/{key}", {
        "kind": "daily", "day": str(TODAY), "answers": {"mood": mood}, "made_at": f"{TODAY}T06:00:00Z", "ill": False,
    }  # fmt: skip


@dataclass(frozen=True)
class Outcome:
    """``doubled`` are people of whom not one report counts, and entries that were changed more often than once."""

    acknowledged: int
    lost: int
    doubled: int


class Storm:
    """Athletes who report again and again, and two of the staff who rate, through whatever happens."""

    def __init__(self, served: Served, athletes: Sequence[int], effort: float, days: Sequence[str]) -> None:
        self.served, self.athletes, self.effort = served, athletes, effort
        self.staff = Visitor(served.address)
        grids = [self.staff.ask("GET", f"{STAFFS}/sessions/latest?day={day}") for day in days]
        self.cells = [(grid["id"], row["athlete_id"], row["version"]) for grid in grids for row in grid["rows"][:4]]
        self.phones = [Visitor(served.address, f"flood-{i}") for i in range(len(athletes))]
        self.reports: list[str] = []
        self.ratings: dict[tuple[str, int], int | None] = {}
        self._stop = threading.Event()

    @contextmanager
    def blowing(self) -> Iterator[None]:
        workers = [threading.Thread(target=self._tell, args=(one,)) for one in self.phones]
        workers += [threading.Thread(target=self._rate, args=(self.cells[i::2],)) for i in range(2)]
        for worker in workers:
            worker.start()
        try:
            yield
        finally:
            self._stop.set()
            for worker in workers:
                worker.join()

    def _until_taken(self, visitor: Visitor, method: str, path: str, body: dict[str, object]) -> object:
        """What a browser does: the same thing again, until there is an answer. None once the storm is over."""
        while not self._stop.is_set():
            try:
                return visitor.ask(method, path, body)
            except urllib.error.HTTPError as error:
                if error.code < 500:
                    raise
            except (OSError, http.client.HTTPException):
                pass
            time.sleep(0.1)
        return None

    def _tell(self, visitor: Visitor) -> None:
        seen = None
        while not self._stop.is_set():
            key = new_ulid()
            path, body = report(key, 5)
            if self._until_taken(visitor, "PUT", path, body | {"replaces": seen}):
                self.reports.append(key)
                seen = key

    def _rate(self, mine: Sequence[tuple[str, int, int | None]]) -> None:
        for session, athlete, version in mine:
            change = {"athlete_id": athlete, "minutes": 61, "effort": self.effort, "version": version}
            path = f"{STAFFS}/sessions/{session}/entries"
            if self._until_taken(self.staff, "PATCH", path, {"changes": [change]}):
                self.ratings[session, athlete] = version

    def goes_on(self, reports: int = 20, seconds: float = 60) -> bool:
        """Waits for so many more reports; False when they do not come."""
        wanted, until = len(self.reports) + reports, time.monotonic() + seconds
        while time.monotonic() < until and len(self.reports) < wanted:
            time.sleep(0.1)
        return len(self.reports) >= wanted

    def outcome(self) -> Outcome:
        """What of all that was acknowledged is there."""
        engine = connect(self.served.database_url)
        lost = doubled = 0
        with sessions(engine)() as db:
            there = set(db.scalars(select(Report.id).where(Report.id.in_(self.reports))))
            lost += len(self.reports) - len(there)
            for athlete in self.athletes:
                counting = (Report.athlete_id == athlete, Report.day == TODAY, Report.counts)
                doubled += db.scalar(select(func.count()).where(*counting)) != 1
            for (session, athlete), version in self.ratings.items():
                (entry,) = db.scalars(select(Entry).where(Entry.session_id == session, Entry.athlete_id == athlete))
                lost += (entry.minutes, entry.effort) != (61, self.effort)
                doubled += entry.version > (version or 0) + 1
        engine.dispose()
        return Outcome(len(self.reports) + len(self.ratings), lost, doubled)

"""200 athletes reporting within a minute, twice: how long each waits, against an empty answer of the same app."""

import random
import shutil
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime
from datetime import time as clock
from pathlib import Path

import numpy as np
from sqlalchemy import select
from tests.conftest import TODAY
from tests.served import Served
from tests.visitor import Visitor

from benchmarks.timing import report
from uvren.services.club.accounts import hash_password
from uvren.services.squad import squads
from uvren.simulate.club import PASSWORD
from uvren.store.database import connect, sessions
from uvren.store.models import Club, Role, RoleGrant, User
from uvren.store.types import new_ulid

ATHLETES, SECONDS = 200, 60


def people(url: str) -> None:
    engine = connect(url)
    with sessions(engine)() as db:
        club = db.scalars(select(Club)).one()
        now = datetime.combine(TODAY, clock(5), UTC)
        squad = squads.create_squad(db, club, "many", "Many", "Europe/Oslo", now)
        new = [squads.NewMember(f"Many {i:03}", None, "back", TODAY) for i in range(ATHLETES)]
        password = hash_password(PASSWORD)
        for i, athlete in enumerate(squads.add_members(db, squad, new)):
            user = User(club_id=club.id, login=f"many-{i}", name="M", password_hash=password, athlete_id=athlete)
            db.add(user)
            db.flush()
            db.add(RoleGrant(user_id=user.id, squad_id=squad.id, role=Role.ATHLETE))
        db.commit()
    engine.dispose()


def main() -> None:
    folder = Path(tempfile.mkdtemp(prefix="uvren-"))
    served = Served(folder / "var")
    served.start()
    try:
        people(served.database_url)
        with ThreadPoolExecutor(8) as pool:
            visitors = list(pool.map(lambda i: Visitor(served.address, f"many-{i}"), range(ATHLETES)))
        keys = [new_ulid() for _ in visitors]
        order = list(range(ATHLETES)) * 2
        random.Random(1).shuffle(order)
        begin = time.monotonic()

        def send(turn: tuple[int, int]) -> float:
            at, i = turn
            time.sleep(max(0.0, begin + at * SECONDS / len(order) - time.monotonic()))
            body = {
                "kind": "daily", "day": str(TODAY), "answers": {"mood": i % 11}, "ill": False,
                "made_at": f"{TODAY}T06:00:00Z",
            }  # fmt: skip
            began = time.perf_counter()
            visitors[i].ask("PUT", f"/api/squads/many/own/reports/{keys[i]}", body)
            return time.perf_counter() - began

        with ThreadPoolExecutor(64) as pool:
            waits = np.array(list(pool.map(send, enumerate(order))))
        empty = []
        for _ in range(50):
            began = time.perf_counter()
            visitors[0].ask("GET", "/api/me")
            empty.append(time.perf_counter() - began)
        report(
            what="reports of 200 athletes within a minute, each sent twice",
            reports=len(waits),
            median_seconds=float(np.median(waits)),
            p95_seconds=float(np.quantile(waits, 0.95)),
            p99_seconds=float(np.quantile(waits, 0.99)),
            slowest_seconds=float(waits.max()),
            baseline="GET /api/me, median",
            baseline_seconds=float(np.median(empty)),
            ratio=float(np.median(waits) / np.median(empty)),
        )
    finally:
        served.stop()
        shutil.rmtree(folder)


if __name__ == "__main__":
    main()

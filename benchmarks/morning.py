"""The Morning resource for 22 athletes with two seasons, against a bare SELECT of the same rows."""

import logging
import os

import structlog
from sqlalchemy import text

from benchmarks.demo_server import demo_database
from benchmarks.timing import best, report
from uvren.simulate.club import PASSWORD
from uvren.store.database import connect
from uvren.web.app import create_app

ROWS = """
SELECT channel_id, athlete_id, day, `load`, estimated FROM daily_load
JOIN channel ON channel.id = channel_id JOIN squad ON squad.id = channel.squad_id
WHERE slug = 'tarnholm-handball' AND day <= '2026-03-11'
AND EXISTS (SELECT 1 FROM load_limit WHERE load_limit.channel_id = channel.id)
"""


def main() -> None:
    with demo_database() as url:
        app = create_app(url, os.urandom(16).hex())
        structlog.configure(wrapper_class=structlog.make_filtering_bound_logger(logging.ERROR))
        client = app.test_client()
        token = client.get("/api/me").json["csrf_token"]
        body = {"login": "performance", "password": PASSWORD}
        client.post("/api/sign-in", json=body, headers={"X-CSRF-Token": token})
        path = "/api/squads/tarnholm-handball/morning?day=2026-03-12"
        engine = connect(url)
        with engine.connect() as connection:
            rows = connection.execute(text(ROWS)).all()
            resource = best(lambda: client.get(path), runs=15)
            bare = best(lambda: connection.execute(text(ROWS)).all(), runs=15)
            resource_again = best(lambda: client.get(path), runs=15)
        engine.dispose()
        answer = client.get(path)
        report(
            what="GET morning of 22 athletes, whole answer",
            seconds=min(resource, resource_again),
            baseline="SELECT of the same daily loads of every channel with limits, fetched",
            baseline_seconds=bare,
            ratio=min(resource, resource_again) / bare,
            aim="at most 4 times",
            rows=len(rows),
            bytes=len(answer.data),
            lanes=len(answer.json["lanes"]),
        )


if __name__ == "__main__":
    main()

"""The preview of a changed unit on 8 weeks, against a bare SELECT of the documents it rests on."""

import logging
import os

import structlog
from sqlalchemy import text

from benchmarks.demo_server import demo_database
from benchmarks.timing import best, report
from uvren.simulate.club import PASSWORD
from uvren.simulate.units import HANDBALL
from uvren.store.database import connect
from uvren.web.app import create_app

WORK = """
SELECT work.session_id, work.athlete_id, data FROM work JOIN session ON session.id = session_id
JOIN squad ON squad.id = squad_id
WHERE slug = 'tarnholm-handball' AND what = 'counted' AND day > '2025-12-04' AND day <= '2026-03-12'
"""


def main() -> None:
    with demo_database() as url:
        app = create_app(url, os.urandom(16).hex())
        structlog.configure(wrapper_class=structlog.make_filtering_bound_logger(logging.ERROR))
        client = app.test_client()
        token = client.get("/api/me").json["csrf_token"]
        body = {"login": "performance", "password": PASSWORD}
        client.post("/api/sign-in", json=body, headers={"X-CSRF-Token": token})
        headers = {"X-CSRF-Token": client.get("/api/me").json["csrf_token"]}
        throws = HANDBALL[0]
        draft = {
            "name": throws.name, "unit": throws.unit, "form": throws.form, "settings": throws.settings,
            "kinds": list(throws.kinds), "regions": list(throws.regions), "mark": throws.mark,
            "from_day": "2026-03-12",
        }  # fmt: skip
        path = "/api/squads/tarnholm-handball/channels/preview"

        def preview() -> None:
            answer = client.post(path, json={"draft": draft, "channel": "throws"}, headers=headers)
            assert answer.status_code == 200, answer.json

        engine = connect(url)
        with engine.connect() as connection:
            rows = connection.execute(text(WORK)).all()
            whole = best(preview)
            bare = best(lambda: connection.execute(text(WORK)).all())
            whole = min(whole, best(preview))
        engine.dispose()
        report(
            what="preview of a unit: 8 weeks shown, 14 read, 22 athletes",
            documents=len(rows),
            seconds=whole,
            bare_select_seconds=bare,
            ratio=whole / bare,
        )


if __name__ == "__main__":
    main()

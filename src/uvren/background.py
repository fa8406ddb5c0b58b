"""Long work beside the web: a queue on the same MariaDB, and the process that works it off."""

from __future__ import annotations

import os
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import peewee
import structlog
from huey import crontab
from huey.contrib.sql_huey import SqlHuey
from sqlalchemy import Engine, make_url

from uvren.logs import log_as_json
from uvren.store import queries
from uvren.store.database import connect, demo_now, sessions
from uvren.store.versions import written_at

log = structlog.get_logger()

# So that a long import leaves the processors to those who wait at a screen.
NICENESS = 10


def uploads_folder() -> Path:
    """Where files stay until they are in."""
    return Path(os.environ.get("UVREN_UPLOADS") or "var/uploads")


def make_queue(url: str) -> SqlHuey:
    """The queue on the database at ``url``; its tables are made when they are missing."""
    parts = make_url(url)
    more: dict[str, Any] = {name: str(value) for name, value in parts.query.items() if name == "unix_socket"}
    if parts.port:
        more["port"] = parts.port
    database = peewee.MySQLDatabase(
        parts.database,
        host=parts.host or "localhost",
        user=parts.username,
        password=parts.password or "",
        charset="utf8mb4",
        **more,
    )
    queue = SqlHuey("uvren", database=database, results=False)
    queue.storage.close()
    return queue


class Background:
    """Hands work to the worker."""

    def __init__(self, url: str) -> None:
        self._url = url
        self._queue: SqlHuey | None = None
        self._import_file: Any = None

    def import_file(self, import_id: str) -> None:
        """Have a waiting file brought in."""
        if self._queue is None:
            self._queue = make_queue(self._url)
            self._import_file = register(self._queue, None)
        self._import_file(import_id)
        # The connection is not kept: threads of the web come and go.
        self._queue.storage.close()


def register(queue: SqlHuey, engine: Engine | None) -> Any:
    """Teach the queue what there is to do; only the worker has an engine to do it with."""

    @queue.task(name="import_file")  # type: ignore[untyped-decorator]
    def import_file(import_id: str) -> None:
        assert engine is not None
        bring_in(engine, import_id)

    return import_file


def bring_in(engine: Engine, import_id: str) -> None:
    """Bring one file in; progress is written as it goes, on a connection of its own."""
    from uvren.services import files as imports

    def tell(step: str, share: float) -> None:
        with sessions(engine).begin() as db:
            queries.files.tell_progress(db, import_id, step, share)

    with sessions(engine)() as db:
        now = demo_now(db)[1] or datetime.now(UTC)
        written_at(db, now)
        done = imports.run(db, import_id, uploads_folder(), now=now, tell=tell)
        log.info("import", import_id=import_id, state=done.state, file=done.file_name)


def keep_to_retention(engine: Engine) -> None:
    """Remove health data that is older than its club keeps it."""
    from uvren.services.club import accounts, privacy

    with sessions(engine)() as db:
        now = demo_now(db)[1] or datetime.now(UTC)
        written_at(db, now)
        queries.accounts.drop_old(db, now, now - accounts.TRIES_WINDOW)
        for club in queries.club.clubs(db):
            gone = privacy.keep_to_retention(db, club, now=now)
            log.info("retention", club=club.name, rows=gone)
        db.commit()


def work() -> None:
    """Work the queue off until told to stop."""
    os.nice(NICENESS)
    log_as_json()
    url = os.environ["UVREN_DATABASE_URL"]
    engine = connect(url)
    queue = make_queue(url)
    task = register(queue, engine)
    queue.periodic_task(crontab(hour="3", minute="0"), name="retention")(lambda: keep_to_retention(engine))
    keep_to_retention(engine)
    # What was under way when the last worker ended begins again; nothing of it had come in.
    with sessions(engine).begin() as db:
        waiting = queries.files.imports_to_begin(db)
    for import_id in waiting:
        task(import_id)
    consumer = queue.create_consumer(
        workers=1, periodic=True, initial_delay=0.2, max_delay=1.0, backoff=1.2, check_worker_health=False
    )
    consumer.run()

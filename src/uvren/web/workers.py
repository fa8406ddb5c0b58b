"""How gunicorn runs the web processes."""

import gc
import socket
import time
from contextlib import suppress
from threading import Thread
from typing import Any

from gunicorn.workers.gthread import TConn, ThreadWorker

from uvren.core.audience import LEAST, Audience

# How long a browser may take to say what it asks for, and each piece of what it sends with it.
HEADER_SECONDS, PIECE_SECONDS = 10.0, 30.0
# How often, a second apart, a process that starts tries to work out today.
READY_TRIES = 120
# Who looks first in the morning: staff who read reports, and coaches.
READERS = (frozenset({Audience.DESK, Audience.REPORTS}), LEAST)


class PatientWorker(ThreadWorker):  # type: ignore[misc]
    """Lets nobody hold a thread by asking slowly: a connection whose head does not come in time is cut."""

    def __init__(self, *given: Any, **named: Any) -> None:
        super().__init__(*given, **named)
        self.reading: dict[TConn, float] = {}

    def init_process(self) -> None:
        Thread(target=self._watch, daemon=True).start()
        super().init_process()

    def handle(self, conn: TConn) -> Any:
        self.reading[conn] = time.monotonic() + HEADER_SECONDS
        try:
            return super().handle(conn)
        finally:
            self.reading.pop(conn, None)

    def handle_request(self, req: Any, conn: TConn) -> Any:
        self.reading.pop(conn, None)
        conn.sock.settimeout(PIECE_SECONDS)
        return super().handle_request(req, conn)

    def _watch(self) -> None:
        while True:
            time.sleep(1)
            now = time.monotonic()
            for conn, until in list(self.reading.items()):
                if until < now:
                    with suppress(OSError):
                        conn.sock.shutdown(socket.SHUT_RDWR)


worker_class = PatientWorker
# A browser may hold connections open that ask for nothing yet; each takes a thread.
threads = 64
graceful_timeout = 2
loglevel = "warning"
control_socket_disable = True
# Loaded once and forked: quicker to start than each process loading everything for itself.
preload_app = True


def post_fork(_server: Any, worker: Any) -> None:
    """Get ready in the background, so that the first who looks does not wait for it."""
    Thread(target=_get_ready, args=(worker,), daemon=True).start()


def _get_ready(worker: Any) -> None:
    import scipy.ndimage
    import scipy.signal  # noqa: F401

    # What is loaded by now stays: the collector need not look through it again and again.
    gc.collect()
    gc.freeze()
    for _ in range(READY_TRIES):
        # The tables may still be brought up to date, or the demo club be on its way in.
        with suppress(Exception):
            if work_out_today(worker.app.wsgi()):
                return
        time.sleep(1)


def work_out_today(app: Any) -> bool:
    """Work out today for each squad, as many as are kept. Returns whether there is any squad."""
    from uvren.services.day.dates import local_day
    from uvren.services.morning import read_morning
    from uvren.store import queries

    days, now = app.extensions["uvren_days"], app.extensions["uvren_clock"].now()
    with app.extensions["uvren_sessions"]() as db:
        days.lend(db)
        squads = queries.club.squads(db)
        for squad in squads[: days.most]:
            today = local_day(squad, now)
            for audiences in READERS:
                read_morning(db, squad, today, today, audiences=audiences)
    return bool(squads)

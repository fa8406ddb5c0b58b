"""Runs the database, the web processes and the worker together, for one machine."""

from __future__ import annotations

import fcntl
import os
import secrets
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path
from types import FrameType
from typing import IO, TYPE_CHECKING

from uvren.store.private_server import PrivateServer, ServerError, end_with_parent

if TYPE_CHECKING:
    from sqlalchemy.orm import Session as DbSession

HOST = "127.0.0.1"
# How long to wait before MariaDB is started again where it could not start.
AGAIN_SECONDS = 5.0


class Trouble(RuntimeError):
    """Why it cannot be served, in one sentence."""


def run(var: Path, *, port: int, fresh: bool, demo: bool, workers: int, say: Callable[[str], None]) -> None:
    """Serve until told to stop. Uses the database of UVREN_DATABASE_URL, or a private one under ``var``."""
    _check_port(port)
    var.mkdir(parents=True, exist_ok=True)
    given = os.environ.get("UVREN_DATABASE_URL")
    lock = _only_one(var)
    server = None if given else PrivateServer(var / "db")
    if fresh and server:
        shutil.rmtree(server.folder, ignore_errors=True)
    # A stop while things are still starting ends them in order too.
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, _stop)
    web: subprocess.Popen[bytes] | None = None
    worker: Worker | None = None
    try:
        url = given or (server.start() if server else "")
        environment = {
            **os.environ,
            "UVREN_DATABASE_URL": url,
            "UVREN_SECRET_KEY": os.environ.get("UVREN_SECRET_KEY") or _secret(var),
            "UVREN_STARTED": f"{time.time():.3f}",
            "UVREN_ADDRESS": os.environ.get("UVREN_ADDRESS") or f"http://{HOST}:{port}/",
            "UVREN_UPLOADS": os.environ.get("UVREN_UPLOADS") or str(var / "uploads"),
        }
        # The web processes take a while to load; meanwhile the tables are brought up to date.
        web = subprocess.Popen(_gunicorn(port, workers), env=environment, preexec_fn=end_with_parent)
        sign_ins = _prepare(url, environment["UVREN_ADDRESS"], fresh=fresh and given is not None, demo=demo, say=say)
        worker = Worker(environment, say)
        _await_web(web, port)
        say(f"\nUvren is at http://{HOST}:{port}")
        for line in sign_ins:
            say(f"  {line}")
        say("Ctrl-C stops it.")
        while web.poll() is None:
            time.sleep(0.2)
            # What was committed is on disk, so whatever ends by itself can simply begin again.
            if server is None or _runs(server, say):
                worker.keep()
        raise Trouble(f"The web processes ended by themselves (code {web.returncode}).")
    except KeyboardInterrupt:
        say("\nStopping.")
    except ServerError as error:
        raise Trouble(str(error)) from error
    finally:
        for process in (worker.process if worker else None, web):
            if process is not None and process.poll() is None:
                process.terminate()
                process.wait(timeout=30)
        if server is not None:
            server.stop()
        lock.close()


class Worker:
    """The process that brings files in, started again when it ends by itself."""

    def __init__(self, environment: dict[str, str], say: Callable[[str], None]) -> None:
        self.environment, self.say = environment, say
        self.process = self._start()

    def _start(self) -> subprocess.Popen[bytes]:
        command = [sys.executable, "-m", "uvren.cli", "worker"]
        return subprocess.Popen(command, env=self.environment, preexec_fn=end_with_parent)

    def keep(self) -> None:
        if self.process.poll() is not None:
            self.say(f"The worker ended by itself (code {self.process.returncode}); starting it again.")
            self.process = self._start()
            time.sleep(1)


def _runs(server: PrivateServer, say: Callable[[str], None]) -> bool:
    """Whether MariaDB runs; it is started again when it ended by itself. Where it cannot start the web says so."""
    if not server.ended():
        return True
    say("MariaDB ended by itself; starting it again.")
    try:
        server.start()
    except ServerError as error:
        # A disk that was cleared needs nobody who starts Uvren again.
        say(f"{error} Trying again in {AGAIN_SECONDS:g} s.")
        time.sleep(AGAIN_SECONDS)
    return not server.ended()


def _stop(_number: int, _frame: FrameType | None) -> None:
    raise KeyboardInterrupt


def _only_one(var: Path) -> IO[str]:
    """Hold the folder. Raises Trouble where another one runs on it, on whatever port."""
    held = (var / "running").open("a+", encoding="ascii")
    try:
        fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError as error:
        held.close()
        raise Trouble(f"Another Uvren runs on {var}; stop it, or choose another folder with --var.") from error
    return held


def _check_port(port: int) -> None:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((HOST, port))
        except OSError as error:
            raise Trouble(f"Port {port} cannot be used ({error.strerror}); choose another with --port.") from error


def _prepare(url: str, address: str, *, fresh: bool, demo: bool, say: Callable[[str], None]) -> list[str]:
    """Bring the tables up to date, and load the demo club where it is wanted and nothing is there yet.

    Returns what to say about signing in: to a demo club, or, where there is none, with what link it is begun.
    """
    from sqlalchemy.exc import OperationalError

    from uvren.store import database, versions

    engine = database.connect(url)
    try:
        database.migrate(url)
        if fresh:
            versions.truncate(engine)
        with database.sessions(engine)() as db:
            if demo and not database.clubs(db):
                from uvren.simulate.club import load_demo

                say("Loading the demo club.")
                load_demo(db)
            if not database.clubs(db):
                return [_begin_line(db, address)]
            return database.demo_hints(db)
    except OperationalError as error:
        raise Trouble(f"The database cannot be used: {error.orig}") from error
    finally:
        engine.dispose()


def _begin_line(db: DbSession, address: str) -> str:
    from uvren.services.club.begin import HOLDS, make_link

    token = make_link(db, datetime.now(UTC))
    db.commit()
    days = HOLDS.days
    return f"There is no club yet. Begin it here, once, within {days} days: {address}begin#{token}"


def _secret(var: Path) -> str:
    path = var / "secret_key"
    if not path.exists():
        path.touch(mode=0o600)
        path.write_text(secrets.token_hex(32), encoding="ascii")
    return path.read_text(encoding="ascii")


def _gunicorn(port: int, workers: int) -> list[str]:
    return [
        sys.executable,
        "-m",
        "gunicorn",
        f"--bind={HOST}:{port}",
        f"--workers={workers}",
        "--config=python:uvren.web.workers",
        "uvren.web.app:create_app()",
    ]


def _await_web(web: subprocess.Popen[bytes], port: int) -> None:
    until = time.monotonic() + 120
    while time.monotonic() < until:
        if web.poll() is not None:
            raise Trouble(f"The web processes ended while starting (code {web.returncode}).")
        try:
            with urllib.request.urlopen(f"http://{HOST}:{port}/healthz", timeout=2):
                return
        except (urllib.error.URLError, OSError):
            time.sleep(0.05)
    raise Trouble("The web processes did not answer within 120 s.")

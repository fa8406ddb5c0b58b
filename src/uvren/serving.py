"""Runs the database and the web processes together, for one machine."""

from __future__ import annotations

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
from pathlib import Path
from types import FrameType

from sqlalchemy import select
from sqlalchemy.exc import OperationalError

from uvren.simulate.club import PASSWORD, SIGN_INS, load_demo
from uvren.simulate.seasons import NOW
from uvren.store.database import connect, empty, migrate, sessions
from uvren.store.models import Club
from uvren.store.private_server import PrivateServer, ServerError, end_with_parent

HOST = "127.0.0.1"


class Trouble(RuntimeError):
    """Why it cannot be served, in one sentence."""


def run(var: Path, *, port: int, fresh: bool, demo: bool, workers: int, say: Callable[[str], None]) -> None:
    """Serve until told to stop. Uses the database of UVREN_DATABASE_URL, or a private one under ``var``."""
    _check_port(port)
    var.mkdir(parents=True, exist_ok=True)
    given = os.environ.get("UVREN_DATABASE_URL")
    server = None if given else PrivateServer(var / "db")
    if fresh and server:
        shutil.rmtree(server.folder, ignore_errors=True)
    # A stop while things are still starting ends them in order too.
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, _stop)
    web: subprocess.Popen[bytes] | None = None
    try:
        url = given or (server.start() if server else "")
        is_demo = _prepare(url, fresh=fresh and given is not None, demo=demo, say=say)
        environment = {
            **os.environ,
            "UVREN_DATABASE_URL": url,
            "UVREN_SECRET_KEY": os.environ.get("UVREN_SECRET_KEY") or _secret(var),
        }
        if is_demo:
            environment |= {"UVREN_CLOCK": f"{NOW.isoformat()}@{time.time():.3f}", "UVREN_DEMO": "1"}
        web = subprocess.Popen(_gunicorn(port, workers), env=environment, preexec_fn=end_with_parent)
        _await_web(web, port)
        say(f"\nUvren is at http://{HOST}:{port}")
        if is_demo:
            for login, what in SIGN_INS:
                say(f"  sign in as {login!r} with {PASSWORD!r} ({what})")
        say("Ctrl-C stops it.")
        code = web.wait()
        raise Trouble(f"The web processes ended by themselves (code {code}).")
    except KeyboardInterrupt:
        say("\nStopping.")
    except ServerError as error:
        raise Trouble(str(error)) from error
    except OperationalError as error:
        raise Trouble(f"The database does not answer: {error.orig}") from error
    finally:
        if web is not None and web.poll() is None:
            web.terminate()
            web.wait(timeout=30)
        if server is not None:
            server.stop()


def _stop(_number: int, _frame: FrameType | None) -> None:
    raise KeyboardInterrupt


def _check_port(port: int) -> None:
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((HOST, port))
        except OSError as error:
            raise Trouble(f"Port {port} cannot be used ({error.strerror}); choose another with --port.") from error


def _prepare(url: str, *, fresh: bool, demo: bool, say: Callable[[str], None]) -> bool:
    """Bring the tables up to date and load the demo club where it is wanted and nothing is there yet.

    Returns whether the demo club is what the database holds.
    """
    migrate(url)
    engine = connect(url)
    try:
        if fresh:
            empty(engine)
        with sessions(engine)() as db:
            names = list(db.scalars(select(Club.name)))
            if not names and demo:
                say("Loading the demo club.")
                load_demo(db)
                return True
            return names == ["Tarnholm"]
    finally:
        engine.dispose()


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
        "--worker-class=gthread",
        "--threads=16",
        "--graceful-timeout=2",
        "--log-level=warning",
        "--no-control-socket",
        "uvren.web.app:create_app()",
    ]


def _await_web(web: subprocess.Popen[bytes], port: int) -> None:
    until = time.monotonic() + 30
    while time.monotonic() < until:
        if web.poll() is not None:
            raise Trouble(f"The web processes ended while starting (code {web.returncode}).")
        try:
            with urllib.request.urlopen(f"http://{HOST}:{port}/healthz", timeout=2):
                return
        except (urllib.error.URLError, OSError):
            time.sleep(0.05)
    raise Trouble("The web processes did not answer within 30 s.")

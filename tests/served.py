"""The whole application as `uvren serve` runs it, on a folder and a port of its own."""

import contextlib
import os
import re
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
from pathlib import Path

from uvren.simulate.club import load_demo
from uvren.store import database
from uvren.store.private_server import PrivateServer, free_port


def prepare(folder: Path) -> None:
    """Make the folder of the application as it is after its first start with the demo club."""
    server = PrivateServer(folder / "db")
    url = server.start()
    try:
        database.migrate(url)
        engine = database.connect(url)
        with database.sessions(engine)() as db:
            load_demo(db)
        engine.dispose()
    finally:
        server.stop()


# What the tests and the demo club report, complain of and note.
HEALTH = re.compile(r"\b(knee|shoulder|thigh|groin|hamstring|fever|illness|soreness|sore|headache|concussion)\b", re.I)


def health_in(log: Path) -> list[str]:
    """The lines of a log that say something of somebody's health."""
    return [line for line in log.read_text(errors="replace").splitlines() if HEALTH.search(line)]


class Served:
    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.port = free_port()
        self.process: subprocess.Popen[str] | None = None

    @property
    def log(self) -> Path:
        return self.folder.parent / "serve.log"

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    @property
    def database_url(self) -> str:
        return PrivateServer(self.folder / "db").url

    def command(self, *more: str) -> list[str]:
        return [sys.executable, "-m", "uvren.cli", "serve", "--var", str(self.folder), "--port", str(self.port), *more]

    def start(self, *more: str, wait: float = 240) -> None:
        self.log.write_text("")
        log = self.log.open("a")
        environment = {k: v for k, v in os.environ.items() if not k.startswith("UVREN_")}
        self.process = subprocess.Popen(
            self.command(*more), stdout=log, stderr=log, text=True, env=environment, start_new_session=True
        )
        until = time.monotonic() + wait
        while time.monotonic() < until:
            said = self.log.read_text()
            assert self.process.poll() is None, said
            if "Uvren is at" in said:
                return
            time.sleep(0.1)
        raise AssertionError(said)

    def answers(self) -> bool:
        try:
            with urllib.request.urlopen(f"{self.address}/healthz", timeout=2) as answer:
                return answer.status == 200
        except (urllib.error.URLError, OSError):
            return False

    def stop(self) -> int:
        """Ctrl-C; returns the exit code. Nothing of anybody's health may stand in what it said until then."""
        assert self.process is not None
        self.process.send_signal(signal.SIGINT)
        code = self.process.wait(timeout=90)
        for log in (self.log, self.folder / "db" / "err.log"):
            assert not log.exists() or health_in(log) == []
        return code

    def children(self) -> list[int]:
        """Every process that works for this one, by id."""
        assert self.process is not None
        out = subprocess.run(["ps", "-eo", "pid=,ppid="], capture_output=True, text=True, check=True).stdout
        pairs = [tuple(map(int, line.split())) for line in out.splitlines()]
        found = [self.process.pid]
        for parent in found:
            found += [pid for pid, above in pairs if above == parent]
        return found

    def pids_of(self, word: str) -> list[int]:
        """Of the processes that work for this one, those with a word in their command line."""
        out = []
        for pid in self.children()[1:]:
            with contextlib.suppress(OSError):
                if word in Path(f"/proc/{pid}/cmdline").read_text().replace("\0", " "):
                    out.append(pid)
        return out

    def kill(self) -> None:
        """kill -9 of everything it runs."""
        for pid in self.children():
            os.kill(pid, signal.SIGKILL)
        assert self.process is not None
        self.process.wait()

"""What was acknowledged, lost and doubled through kills of each process and full disks: a storm of reports and ratings.

Each round a process is killed (kill -9), or the disk is filled and emptied again, while the storm blows; what was
acknowledged is then looked for in the database. ``python -m benchmarks.faults [rounds]``; full disks need the right to
mount a small one, and are left out without it.
"""

import os
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from itertools import cycle
from pathlib import Path

from tests.faults.storm import Outcome, Storm, make_flood
from tests.served import Served, prepare

from uvren.store.database import connect, sessions

PHONES, DISK_MB, DISK_ROUNDS = 12, 700, 10
DAYS = [f"2026-{month:02}-{day:02}" for month in (1, 2) for day in range(3, 28)]
WORKERS = ("--workers", "2")


def kill_one(served: Served, word: str, at: int = 0) -> None:
    """Kill a process and wait for another in its place."""
    before = served.pids_of(word)
    os.kill(before[at % len(before)], signal.SIGKILL)
    until = time.monotonic() + 60
    while set(served.pids_of(word)) <= set(before) and time.monotonic() < until:
        time.sleep(0.1)


def kill_everything(served: Served) -> None:
    served.kill()
    served.start(*WORKERS)


def fill_disk(served: Served) -> None:
    """Leave no byte free for three seconds."""
    filler = served.folder.parent / "filler"
    with filler.open("wb", buffering=0) as out:
        try:
            while True:
                out.write(b"\0" * 65536)
        except OSError:
            pass
    time.sleep(3)
    filler.unlink()


def measure(served: Served, athletes: list[int], rounds: int, what: str, harm: Callable[[int], None]) -> None:
    efforts = cycle(range(2, 20))
    total, stuck = Outcome(0, 0, 0), 0
    done = 0
    while done < rounds:
        storm = Storm(served, athletes, next(efforts) / 2, DAYS)
        with storm.blowing():
            for _ in range(min(5, rounds - done)):
                stuck += not storm.goes_on(10)
                harm(done)
                done += 1
                stuck += not storm.goes_on(10, 90)
        found = storm.outcome()
        total = Outcome(*(getattr(total, name) + getattr(found, name) for name in ("acknowledged", "lost", "doubled")))
    print(f"{what:28} {done:4} {total.acknowledged:13} {total.lost:5} {total.doubled:8} {stuck:6}", flush=True)


def main() -> None:
    rounds = int(sys.argv[1]) if len(sys.argv) > 1 else 30
    folder = Path(tempfile.mkdtemp(prefix="uvren-"))
    disk = folder / "disk"
    disk.mkdir()
    mounted = subprocess.run(
        ["mount", "-t", "tmpfs", "-o", f"size={DISK_MB}m", "tmpfs", str(disk)], capture_output=True, check=False
    ).returncode == 0  # fmt: skip
    served = Served(disk / "var")
    try:
        prepare(disk / "var")
        served.start(*WORKERS)
        engine = connect(served.database_url)
        with sessions(engine)() as db:
            athletes = make_flood(db, PHONES)
            db.commit()
        engine.dispose()
        print(f"{'killed or filled':28} {'n':>4} {'acknowledged':>13} {'lost':>5} {'doubled':>8} {'stuck':>6}")
        measure(served, athletes, rounds, "a web process", lambda i: kill_one(served, "gunicorn", 1 + i % 2))
        measure(served, athletes, rounds, "the worker", lambda _: kill_one(served, " worker"))
        measure(served, athletes, rounds, "MariaDB", lambda _: kill_one(served, "mariadbd"))
        measure(served, athletes, rounds, "everything", lambda _: kill_everything(served))
        if mounted:
            measure(served, athletes, DISK_ROUNDS, "no space on the disk", lambda _: fill_disk(served))
    finally:
        if served.process and served.process.poll() is None:
            served.stop()
        if mounted:
            subprocess.run(["umount", str(disk)], check=True)
        shutil.rmtree(folder)


if __name__ == "__main__":
    main()

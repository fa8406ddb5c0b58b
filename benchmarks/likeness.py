"""Whether a session of 25 people at 10 Hz was like a match of 90 minutes, against a bare read of the session's file."""

from __future__ import annotations

import tempfile
from datetime import UTC, date, datetime
from pathlib import Path

import numpy as np
import pyarrow.csv as pacsv

from benchmarks.recordings import SPEC, write
from benchmarks.timing import best, report
from uvren.core.demands import SPEED, likeness, to_change
from uvren.core.recordings import Samples, clean_speed
from uvren.services.files.read_file import read_file
from uvren.services.files.read_samples import Around
from uvren.simulate import devices


def of_a_match() -> list[Samples]:
    random = np.random.default_rng(2)
    starts = datetime(2026, 3, 7, 17, 0, tzinfo=UTC)
    moves = [devices.move(starts, 90, 6, random) for _ in range(25)]
    return [clean_speed(np.arange(move.speed.size) / 10.0, move.speed) for move in moves]


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "session.csv"
        write(path)
        parts = read_file(path, SPEC, Around(date(2026, 3, 12))).parts
        session = [clean_speed(part.columns["t"], part.columns["speed"]) for part in parts]
        match = of_a_match()
        bare = best(lambda: pacsv.read_csv(path), runs=5)
        reading = best(lambda: read_file(path, SPEC, Around(date(2026, 3, 12))), runs=3)
        like = best(lambda: likeness(session, match, SPEED), runs=5)
        change = best(lambda: to_change(session, match, SPEED, 90), runs=3)
    report(
        samples=sum(one.t.size for one in session),
        bare_read_seconds=bare,
        likeness_per_bare_read=like / bare,
        likeness_per_reading=like / reading,
        change_per_bare_read=change / bare,
    )


if __name__ == "__main__":
    main()

"""25 athletes x 90 minutes x 10 Hz in one CSV: read, cleaned, all figures and windows, against a bare read of it."""

import subprocess
import sys
import tempfile
from datetime import UTC, date, datetime
from pathlib import Path

import numpy as np
import pyarrow.csv as pacsv

from benchmarks.timing import best, report
from uvren.core.recordings import Samples, clean_speed, hold, peak_means, position_metrics
from uvren.core.recordings.heart_rate import HeartAnchors, Sex, heart_rate_metrics
from uvren.files.layout import look_at
from uvren.files.moments import Writing
from uvren.services.files.mappings import ColumnUse, FileKind, Role, Spec
from uvren.services.files.read_file import read_file
from uvren.services.files.read_samples import Around
from uvren.simulate import devices

SPEC = Spec(
    FileKind.SAMPLES,
    (
        ColumnUse("player", Role.ATHLETE),
        ColumnUse("timestamp_utc", Role.TIME),
        ColumnUse("speed_kmh", Role.SPEED, "km/h"),
        ColumnUse("satellites", Role.IGNORE),
    ),
    Writing.YEAR_FIRST,
)


def write(path: Path) -> None:
    random = np.random.default_rng(1)
    starts = datetime(2026, 3, 11, 17, 0, tzinfo=UTC)
    squad = {f"P{i:02d}": devices.move(starts, 90, 6, random) for i in range(25)}
    path.write_text(devices.pod_file(squad, random))


def all_of_it(path: Path) -> int:
    rows = 0
    for part in read_file(path, SPEC, Around(date(2026, 3, 12))).parts:
        samples = clean_speed(part.columns["t"], part.columns["speed"])
        position_metrics(samples, 5.0, 6.5)
        rows += samples.t.size
    return rows


def peak_memory(code: str, path: Path) -> int:
    """Bytes at the peak of a process of its own that runs the code."""
    # Not what the system says of its resources: that remembers the process it was started from.
    tail = "print(int(open('/proc/self/status').read().split('VmHWM:')[1].split()[0]) * 1024)"
    program = f"import sys\nfrom pathlib import Path\npath = Path(sys.argv[1])\n{code}\n{tail}"
    done = subprocess.run([sys.executable, "-c", program, str(path)], capture_output=True, text=True, check=True)
    return int(done.stdout.strip().splitlines()[-1])


def doubling() -> dict[str, float]:
    """Time of peak windows and zones of twice the samples against once; 2 is linear."""
    anchors = HeartAnchors(190, 50, Sex.FEMALE, 150, 170)
    times = []
    for count in (400_000, 800_000):
        t = np.arange(count, dtype=np.float64)
        heart = Samples(t, 90 + 60 * np.random.default_rng(2).random(count), hold(t, 10))
        windows = best(lambda t=t, heart=heart: peak_means(t, heart.value, (1, 3, 5, 10)))
        zones = best(lambda heart=heart: heart_rate_metrics(heart, anchors))
        times.append((windows, zones))
    return {"windows_doubled": times[1][0] / times[0][0], "zones_doubled": times[1][1] / times[0][1]}


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "pods.csv"
        write(path)
        size = path.stat().st_size
        ours = best(lambda: all_of_it(path), runs=5)
        bare = best(lambda: pacsv.read_csv(path), runs=5)
        ours = min(ours, best(lambda: all_of_it(path), runs=3))
        loaded = "from benchmarks.recordings import all_of_it\n"
        idle = peak_memory(loaded, path)
        peak = peak_memory(loaded + "all_of_it(path)", path)
        report(
            what="25 x 90 min x 10 Hz in one CSV: read, clean, figures, windows",
            rows=all_of_it(path),
            megabytes=size / 1e6,
            seconds=ours,
            bare_read_seconds=bare,
            ratio=ours / bare,
            peak_memory_of_file=(peak - idle) / size,
            peak_memory_with_the_program=peak / size,
            layout=look_at(path).layout.separator,
            **doubling(),
        )


if __name__ == "__main__":
    main()

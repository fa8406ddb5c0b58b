"""Opening Morning while the worker brings in 1.35 million rows, against opening it with nothing else going on."""

import shutil
import statistics
import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path

import numpy as np
from tests.served import Served
from tests.visitor import Visitor

from benchmarks.timing import report
from uvren.simulate import devices

SQUAD = "/api/squads/tarnholm-handball"


def morning(browser: Visitor) -> float:
    began = time.perf_counter()
    browser.ask("GET", f"{SQUAD}/morning?day=2026-03-12")
    return time.perf_counter() - began


def main() -> None:
    folder = Path(tempfile.mkdtemp(prefix="uvren-"))
    served = Served(folder / "var")
    served.start()
    try:
        browser = Visitor(served.address)
        people = browser.ask("GET", f"{SQUAD}/anchors?day=2026-03-12")["athletes"]
        starts = datetime(2026, 3, 10, 18, 0, tzinfo=UTC)
        random = np.random.default_rng(1)
        squad = {one["name"]: devices.move(starts, 90, 6, random) for one in people}
        extra = {f"Guest {i}": devices.move(starts, 90, 6, random) for i in range(25 - len(squad))}
        content = devices.pod_file(squad | extra, random).encode()
        for _ in range(5):
            morning(browser)
        idle = [morning(browser) for _ in range(15)]
        put = browser.ask("POST", f"{SQUAD}/files?name=pods.csv", raw=content)["file"]
        path = f"{SQUAD}/files/{put['id']}"
        people = [{"said": name, "athlete_id": None} for name in extra]
        spec = browser.ask("POST", f"{path}/preview", {"people": people})["spec"]
        began = time.perf_counter()
        browser.ask("POST", f"{path}/bring-in", {"spec": spec | {"make_sessions": True}})
        busy = []
        while browser.ask("GET", path)["state"] in ("waiting", "running"):
            busy.append(morning(browser))
        took = time.perf_counter() - began
        done = browser.ask("GET", path)
        assert done["state"] == "done", done["report"]
        report(
            what="GET morning while 25 x 90 min x 10 Hz come in",
            whole_import_seconds=took,
            mornings_meanwhile=len(busy),
            idle_median_seconds=statistics.median(idle),
            busy_median_seconds=statistics.median(busy),
            busy_slowest_seconds=max(busy),
            ratio=statistics.median(busy) / statistics.median(idle),
        )
    finally:
        served.stop()
        shutil.rmtree(folder)


if __name__ == "__main__":
    main()

"""Live: 40 straps once a second, 25 pods ten times, 50 viewers, two web processes.

For ten minutes, or as many as ``UVREN_LIVE_MINUTES`` says.

Prints how old a sample is when a viewer has it, what of the processor it takes, and how memory goes.
"""

from __future__ import annotations

import json
import os
import shutil
import tempfile
import threading
import time
import urllib.error
import urllib.request
from datetime import datetime, timedelta
from pathlib import Path

import numpy as np
from playwright.sync_api import sync_playwright
from tests.browser.chromium import launch
from tests.conftest import TODAY
from tests.served import Served, prepare
from tests.visitor import Visitor

from benchmarks.desk import WATCH, fill, smooth
from benchmarks.timing import report
from uvren.simulate.club import PASSWORD
from uvren.simulate.hub import Sender
from uvren.store.types import new_ulid

MINUTES = float(os.environ.get("UVREN_LIVE_MINUTES", "10"))
STRAPS, PODS, VIEWERS = 40, 25, 50
SQUAD = "/api/squads/sixty"


class Viewer(threading.Thread):
    """Watches, and keeps how old the newest sample of a lane was when it came."""

    def __init__(self, visitor: Visitor, path: str, ahead: float) -> None:
        super().__init__(daemon=True)
        self.visitor, self.path, self.ahead, self.on = visitor, path, ahead, True
        self.ages: list[float] = []
        self.gaps = 0

    def run(self) -> None:
        seen: dict[int, float] = {}
        while self.on:
            try:
                request = urllib.request.Request(self.visitor.address + self.path)
                with self.visitor.opener.open(request, timeout=20) as answer:
                    for line in answer:
                        if line.startswith(b"data: "):
                            self._take(json.loads(line[6:]), seen)
                        if not self.on:
                            return
            except (OSError, urllib.error.URLError):
                self.gaps += 1
                time.sleep(0.5)

    def _take(self, live: dict, seen: dict[int, float]) -> None:
        now = time.time() + self.ahead
        for lane in live["lanes"]:
            at = lane["seen_at"]
            if at is not None and seen.get(lane["athlete_id"]) != at:
                if lane["athlete_id"] in seen:
                    self.ages.append(now - at)
                seen[lane["athlete_id"]] = at


def begin(staff: Visitor) -> str:
    """The squad's session of today in one part, begun now."""
    field = staff.ask("GET", f"{SQUAD}/field?day={TODAY}")
    session = field["session"]["id"]
    version = staff.ask("GET", f"{SQUAD}/sessions/{session}")["version"]
    part = {"name": "Open play", "minutes": 60, "weight": 3}
    staff.ask("PUT", f"{SQUAD}/sessions/{session}/parts", {"version": version, "parts": [part]})
    event = {"id": new_ulid(), "kind": "begin", "part": 0, "at": staff.now().isoformat()}
    staff.ask("POST", f"{SQUAD}/sessions/{session}/field", {"events": [event]})
    return session


def second_of(number: int, now: datetime) -> list[dict]:
    at = now.isoformat()
    straps = [
        {"device": f"Athlete {i:02}", "kind": "heart_rate", "number": number, "at": at, "t": [0.0],
         "value": [130.0 + (number + i) % 9]}
        for i in range(STRAPS)
    ]  # fmt: skip
    begins = (now - timedelta(seconds=0.9)).isoformat()
    pods = [
        {"device": f"Athlete {i:02}", "kind": "position", "number": number, "at": begins,
         "t": [tenth / 10 for tenth in range(10)], "value": [2.0 + tenth / 10 for tenth in range(10)]}
        for i in range(PODS)
    ]  # fmt: skip
    return straps + pods


def used(pids: list[int]) -> tuple[float, float]:
    """Seconds of the processor, and megabytes, of these processes."""
    seconds = megabytes = 0.0
    for pid in pids:
        fields = Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()
        seconds += (int(fields[11]) + int(fields[12])) / os.sysconf("SC_CLK_TCK")
        megabytes += int(fields[21]) * os.sysconf("SC_PAGE_SIZE") / 1e6
    return seconds, megabytes


def main() -> None:
    folder = Path(tempfile.mkdtemp(prefix="uvren-"))
    prepare(folder / "var")
    served = Served(folder / "var")
    served.start()
    try:
        fill(served.database_url)
        staff = Visitor(served.address)
        session = begin(staff)
        sender = Sender(served.address, staff.ask("POST", f"{SQUAD}/hubs", {"name": "Bench"})["token"])
        ahead = sender.clock().timestamp() - time.time()
        path = f"{SQUAD}/sessions/{session}/live/stream"
        viewers = [Viewer(Visitor(served.address), path, ahead) for _ in range(VIEWERS)]
        for one in viewers:
            one.start()
        stream(sender, ahead, viewers, served)
        screen(served, sender, ahead)
    finally:
        served.stop()
        shutil.rmtree(folder)


def stream(sender: Sender, ahead: float, viewers: list[Viewer], served: Served) -> None:
    pids = [*served.pids_of("gunicorn"), *served.pids_of("mariadbd")]
    zone = sender.clock().tzinfo
    seconds, before, early = int(MINUTES * 60), (0.0, 0.0), 0.0
    began = time.monotonic()
    for number in range(seconds):
        if number == 30:
            # The first half minute joins, reads the morning and warms up.
            for one in viewers:
                one.ages.clear()
            before, early = used(pids), time.monotonic()
        time.sleep(max(began + number - time.monotonic(), 0))
        sender.send(second_of(number, datetime.fromtimestamp(time.time() + ahead, zone)))
    time.sleep(2)
    cpu, memory = used(pids)
    lasted = time.monotonic() - early
    for one in viewers:
        one.on = False
    ages = np.concatenate([np.array(one.ages) for one in viewers]) * 1000
    watching = sum(1 for one in viewers if one.ages)
    middle, slowest = np.quantile(ages, (0.5, 0.99))
    report(
        what=f"{STRAPS} straps once a second, {PODS} pods ten times, {VIEWERS} viewers, {MINUTES:g} minutes",
        watching=watching,
        sample_to_viewer_ms_median=float(middle),
        sample_to_viewer_ms_slowest_1_percent=float(slowest),
        processor_share=(cpu - before[0]) / lasted / (os.cpu_count() or 1),
        memory_mb_after_half_a_minute=before[1],
        memory_mb_at_the_end=memory,
        acknowledged=sender.kept,
        sent=seconds * (STRAPS + PODS),
        waiting=len(sender.unsent),
        aims="300 ms, 1000 ms, 0.35, memory flat, nothing waiting",
    )


def screen(served: Served, sender: Sender, ahead: float) -> None:
    """Frames of Live with every strap streaming, and nobody else watching."""
    over = threading.Event()
    zone = sender.clock().tzinfo

    def go() -> None:
        number = 10**6
        while not over.wait(1):
            sender.send(second_of(number, datetime.fromtimestamp(time.time() + ahead, zone)))
            number += 1

    sending = threading.Thread(target=go, daemon=True)
    sending.start()
    with sync_playwright() as playwright:
        page = launch(playwright).new_context(base_url=served.address).new_page()
        page.goto("/")
        page.get_by_label("Name").fill("performance")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        page.wait_for_selector(".lane")
        page.goto(f"/live?squad=sixty&day={TODAY}")
        page.wait_for_selector(".live-rest")
        page.evaluate(WATCH)
        found = smooth(page, lambda: page.wait_for_timeout(20_000))
    over.set()
    sending.join()
    report(what=f"milliseconds of frames of Live, {STRAPS} straps streaming", **found, aim="60 frames a second")


if __name__ == "__main__":
    main()

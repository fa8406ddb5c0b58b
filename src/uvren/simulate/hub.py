"""A stand-in for a hub at the pitch: straps that stream, with drop-outs, clocks that are off, late packets, a fault."""

from __future__ import annotations

import json
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from typing import Any

import numpy as np

from uvren.core.windows import Floats


@dataclass
class Strap:
    """A strap of somebody: the truth behind it, and what goes wrong with it. ``clock_off`` in seconds."""

    device: str
    heart_rate: Floats
    clock_off: float = 0.0
    # From this second on, for so many, nothing comes; packets are held back so long; the value stands still.
    drops: tuple[int, int] | None = None
    late: int = 0
    stuck_from: int | None = None
    waiting: list[dict[str, Any]] = field(default_factory=list)

    def value(self, second: int) -> float:
        at = second if self.stuck_from is None else min(second, self.stuck_from)
        return float(np.round(self.heart_rate[at % self.heart_rate.size]))

    def silent(self, second: int) -> bool:
        return self.drops is not None and self.drops[0] <= second < self.drops[0] + self.drops[1]


def straps(names: Sequence[str], seconds: int, random: np.random.Generator, hard: Sequence[str] = ()) -> list[Strap]:
    """A strap for each; those in ``hard`` work harder than the others. One drops out, one is late, one stands still."""
    from scipy.signal import lfilter

    made = []
    for i, name in enumerate(names):
        # An easy beginning, harder from part to part; runs and rests of twenty seconds.
        rising = np.interp(np.arange(seconds), (0, 780, 2000), (0.42, 0.5, 0.68))
        wanted = rising + np.repeat(random.normal(0, 0.03, seconds // 20 + 2), 20)[:seconds]
        wanted = wanted + (0.27 if name in hard else 0.0)
        truth = 52 + 140 * np.asarray(lfilter([0.04], [1.0, -0.96], wanted, zi=[0.4])[0])
        strap = Strap(name, truth + random.normal(0, 0.8, seconds), clock_off=float(random.normal(0, 0.4)))
        if i % 7 == 3:
            strap.drops = (150 + 10 * i, 45)
        if i % 7 == 5:
            strap.late = 9
        if i % 11 == 8:
            strap.stuck_from = 120
        made.append(strap)
    return made


def lines(wearing: Sequence[Strap], second: int, begin: datetime) -> Iterator[dict[str, Any]]:
    """What the straps send in a second; a late one sends what it measured some seconds ago."""
    for strap in wearing:
        if strap.silent(second):
            continue
        at = begin + timedelta(seconds=second + strap.clock_off)
        strap.waiting.append(
            {"device": strap.device, "kind": "heart_rate", "number": second, "at": at.isoformat(), "t": [0.0],
             "value": [strap.value(second)]}
        )  # fmt: skip
        while strap.waiting and strap.waiting[0]["number"] <= second - strap.late:
            yield strap.waiting.pop(0)


@dataclass
class Sender:
    """Sends lines to Uvren, and again what was not acknowledged."""

    address: str
    token: str
    unsent: list[dict[str, Any]] = field(default_factory=list)
    kept: int = 0
    refused: dict[str, str] = field(default_factory=dict)

    def clock(self) -> datetime:
        with urllib.request.urlopen(f"{self.address}/api/live/clock", timeout=10) as answer:
            return datetime.fromisoformat(json.load(answer)["now"]).astimezone(UTC)

    def send(self, new: Sequence[dict[str, Any]]) -> str:
        """Send what is new and what is left; why nothing was taken, empty where it was."""
        self.unsent += new
        batch = self.unsent[:2000]
        if not batch:
            return ""
        body = "\n".join(json.dumps(one) for one in batch).encode()
        request = urllib.request.Request(
            f"{self.address}/api/live/samples", body,
            {"Authorization": f"Bearer {self.token}", "Content-Type": "application/x-ndjson"},
        )  # fmt: skip
        try:
            with urllib.request.urlopen(request, timeout=10) as answer:
                found = json.load(answer)
        except urllib.error.HTTPError as error:
            return str(json.load(error).get("detail") or error)
        except (urllib.error.URLError, TimeoutError, ConnectionError) as error:
            return f"Uvren does not answer: {error}"
        self.kept += len(found["kept"])
        self.refused |= {batch[one["line"]]["device"]: one["said"] for one in found["refused"]}
        del self.unsent[: len(batch)]
        return ""


def catch_up(sender: Sender, wearing: Sequence[Strap], begin: datetime, done: Callable[[], bool]) -> None:
    """Send all since ``begin`` at once, then go on second by second as it is until ``done``."""
    second = 0
    while not done():
        now = sender.clock()
        new: list[dict[str, Any]] = []
        while begin + timedelta(seconds=second) <= now:
            new += lines(wearing, second, begin)
            second += 1
        sender.send(new)
        while sender.unsent and not done():
            if sender.send([]):
                time.sleep(0.5)
        time.sleep(0.5)


def stream(
    sender: Sender, wearing: Sequence[Strap], seconds: int, say: Callable[[str], None], speed: float = 1.0
) -> None:
    """Stream for so many seconds of the straps' time, ``speed`` times as quick as it is."""
    begin = sender.clock()
    began = time.monotonic()
    for second in range(seconds):
        wait = began + second / speed - time.monotonic()
        if wait > 0:
            time.sleep(wait)
        trouble = sender.send(list(lines(wearing, second, begin)))
        if trouble and second % 10 == 0:
            say(trouble)
    for device, said in sender.refused.items():
        say(f"{device}: {said}")
    say(f"{sender.kept} pieces were kept, {len(sender.unsent)} wait.")

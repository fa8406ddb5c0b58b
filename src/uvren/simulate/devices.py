"""Stand-ins for devices: what an athlete truly did, and the files that a strap, a pod and shoe pods make of it.

Each device has its own column names, units and way of writing times; a clock that is off; drop-outs; and, where asked
for, a fault. The truth behind the files is known, so that what is read from them can be judged.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np

from uvren.core.windows import Floats

POD_HERTZ = 10
GRAVITY = 9.80665


@dataclass(frozen=True)
class Movement:
    """What an athlete truly did in a session.

    ``speed`` in m/s ten times a second, ``heart_rate`` once a second, impacts as seconds from the start with their
    peak (g) and whether they were on the right.
    """

    starts_at: datetime
    speed: Floats
    heart_rate: Floats
    impact_at: Floats
    impact_g: Floats
    impact_right: np.ndarray

    @property
    def seconds(self) -> int:
        return self.heart_rate.size

    @property
    def distance(self) -> float:
        return float(self.speed.sum() / POD_HERTZ)

    def distance_above(self, speed: float) -> float:
        return float(self.speed[self.speed >= speed].sum() / POD_HERTZ)


def move(
    starts_at: datetime,
    minutes: float,
    intensity: float,
    random: np.random.Generator,
    *,
    hr_max: float = 195,
    hr_rest: float = 52,
    uneven: float = 0.0,
) -> Movement:
    """An athlete's stop-and-go work: bouts of a few seconds with rests between them, harder with ``intensity`` (0-10).

    ``uneven`` shifts impacts to the right side, as a share.
    """
    from scipy.signal import lfilter

    count = int(minutes * 60)
    bout = random.integers(3, 14, size=count)
    level = random.gamma(1.6, 0.28 + 0.13 * intensity, size=count)
    target = np.repeat(np.clip(level, 0.2, 8.5), bout)[:count]
    target[np.repeat(random.random(count) < 0.3, bout)[:count]] = 0.4
    fine = np.repeat(target, POD_HERTZ)
    # A body takes about a second to get to a new speed.
    speed = np.asarray(lfilter([0.12], [1.0, -0.88], fine))
    speed = np.clip(speed + random.normal(0, 0.03, speed.size), 0, 9.5)
    mean = speed.reshape(count, POD_HERTZ).mean(axis=1)
    reserve = np.clip(0.28 + 0.04 * intensity + 0.09 * np.asarray(lfilter([0.03], [1.0, -0.97], mean)), 0.1, 0.97)
    heart_rate = hr_rest + (hr_max - hr_rest) * np.asarray(lfilter([0.03], [1.0, -0.97], reserve, zi=[0.3])[0])
    landings = np.flatnonzero(random.random(count) < np.clip(mean / 12, 0, 0.6))
    return Movement(
        starts_at=starts_at,
        speed=speed,
        heart_rate=heart_rate + random.normal(0, 0.7, count),
        impact_at=landings + random.random(landings.size),
        impact_g=np.round(2 + random.gamma(2.0, 1.4, landings.size), 2),
        impact_right=random.random(landings.size) < 0.5 + uneven / 2,
    )


def strap_file(
    movement: Movement, zone: str, random: np.random.Generator, *, clock_off: float = 0.0, faulty: bool = False
) -> str:
    """A chest strap of one athlete: once a second, local time, semicolons, decimal commas.

    Now and then it loses contact for some seconds or doubles a beat; a faulty one reads 0 for half of the session.
    """
    begins = movement.starts_at + timedelta(seconds=clock_off)
    rate = np.round(movement.heart_rate)
    spikes = random.random(rate.size) < 0.004
    rate = np.where(spikes, np.minimum(rate * 2, 255), rate)
    if faulty:
        rate[rate.size // 4 : 3 * rate.size // 4] = 0
    lost = np.zeros(rate.size, dtype=bool)
    for start in np.flatnonzero(random.random(rate.size) < 1 / 900):
        lost[start : start + int(random.integers(3, 9))] = True
    local = [(begins + timedelta(seconds=i)).astimezone(ZoneInfo(zone)) for i in range(rate.size)]
    lines = ["Strap;Local time;Pulse (bpm);Battery"]
    lines += [
        f"S-1000;{at:%d.%m.%Y %H:%M:%S};{value:.0f};87,5"
        for at, value, gone in zip(local, rate.tolist(), lost.tolist(), strict=True)
        if not gone
    ]
    return "\n".join(lines) + "\n"


def pod_file(
    movements: dict[str, Movement], random: np.random.Generator, *, clock_off: float = 0.0, hertz: int = POD_HERTZ
) -> str:
    """Position pods of a squad in one file: ten times a second, UTC, km/h. Some samples are lost, a few are wild."""
    parts = ["player,timestamp_utc,speed_kmh,satellites"]
    for name, movement in movements.items():
        begins = np.datetime64((movement.starts_at + timedelta(seconds=clock_off)).astimezone(UTC).replace(tzinfo=None))
        speed = movement.speed[:: POD_HERTZ // hertz]
        step = np.arange(speed.size) * (1000 // hertz)
        at = np.datetime_as_string(begins.astype("datetime64[ms]") + step.astype("timedelta64[ms]"), unit="ms")
        kmh = np.round(speed * 3.6, 2)
        kmh = np.where(random.random(kmh.size) < 0.0001, 99.0, kmh)
        kept = random.random(kmh.size) > 0.002
        number = np.char.mod("%.2f", kmh[kept])
        rows = np.char.add(np.char.add(f"{name},", at[kept]), np.char.add("Z,", np.char.add(number, ",11")))
        parts.append("\n".join(rows.tolist()))
    return "\n".join(parts) + "\n"


def shoe_file(movement: Movement, random: np.random.Generator) -> str:
    """Shoe pods of one athlete: impacts left and right, milliseconds from the start, tabs, peak in m/s²."""
    noise = random.normal(1, 0.01, movement.impact_g.size)
    order = np.argsort(movement.impact_at)
    lines = ["ms\tfoot\tpeak (m/s²)"]
    lines += [
        f"{movement.impact_at[i] * 1000:.0f}\t{'R' if movement.impact_right[i] else 'L'}"
        f"\t{movement.impact_g[i] * noise[i] * GRAVITY:.1f}"
        for i in order
    ]
    return "\n".join(lines) + "\n"

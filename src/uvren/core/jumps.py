"""Jumps from a force plate: height by impulse and by flight time, power, sides, and contact of a drop jump.

Forces in N of the left and the right foot, sampled evenly; heights in m, times in s.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from uvren.core.errors import BadTest
from uvren.core.windows import Floats

GRAVITY = 9.81
# Below this sum of both feet nobody stands on the plate.
OFF_NEWTON = 20.0
# Weighing: so long, and no noisier than this share of the weight.
QUIET_SECONDS, QUIET_SHARE = 1.0, 0.01
# Forces that stay by the weight for so long divide one movement from the next.
STILL_SECONDS = 0.1
# Heights by impulse and by flight that differ by more are no jump that was measured.
MOST_APART = 0.10
LEAST_FLIGHT = 0.1
LEAST_WEIGHT = 100.0
LEAST_MOVEMENT = 0.01


@dataclass(frozen=True)
class CountermovementJump:
    """Height by take-off speed (impulse) and by flight time; time from the first movement to take-off.

    ``reactive_index`` is height by impulse / time to take-off (the modified reactive strength index, Ebben & Petushek
    2010). ``left_share`` is the left foot's part of the impulse from the first movement on, 0 to 1.
    """

    mass: float
    height_impulse: float
    height_flight: float
    flight_seconds: float
    take_off_seconds: float
    reactive_index: float
    peak_power: float
    left_share: float


@dataclass(frozen=True)
class DropJump:
    """Contact and flight after a drop; ``reactive_index`` is height by flight / contact time."""

    contact_seconds: float
    flight_seconds: float
    height_flight: float
    reactive_index: float
    left_share: float


def _height(flight: float) -> float:
    return GRAVITY * flight**2 / 8


def _runs(mask: np.ndarray) -> list[tuple[int, int]]:
    """Begin and end (exclusive) of each run of True."""
    edges = np.flatnonzero(np.diff(np.concatenate([[0], mask.astype(np.int8), [0]])))
    return list(zip(edges[::2].tolist(), edges[1::2].tolist(), strict=True))


def _check(left: Floats, right: Floats, rate: float) -> Floats:
    if left.shape != right.shape or left.ndim != 1:
        raise BadTest("Both feet need as many samples.", field="right")
    if rate < 100:
        raise BadTest("A force trace needs 100 samples a second or more.", field="rate")
    if left.size < rate:
        raise BadTest("A force trace needs a second or more.", field="left")
    if not (np.isfinite(left).all() and np.isfinite(right).all()):
        raise BadTest("A force trace has no gaps.", field="left")
    return left + right


def _flight(force: Floats, rate: float, after: int = 0) -> tuple[int, int]:
    """First and last sample of the longest time off the plate that ends with a landing. Raises BadTest."""
    runs = [(a, b) for a, b in _runs(force < OFF_NEWTON) if a > after and b < force.size]
    long = [(a, b) for a, b in runs if (b - a) / rate >= LEAST_FLIGHT]
    if not long:
        raise BadTest("There is no jump in this trace: nobody leaves the plate.", field="force")
    return max(long, key=lambda run: run[1] - run[0])


def _weighed(force: Floats, rate: float) -> tuple[float, float]:
    """Weight and its noise (SD) from the quietest second of standing. Raises BadTest without one."""
    n = int(QUIET_SECONDS * rate)
    if force.size >= n:
        total, squares = (np.concatenate([[0.0], np.cumsum(of)]) for of in (force, force**2))
        mean = (total[n:] - total[:-n]) / n
        spread = np.sqrt(np.maximum((squares[n:] - squares[:-n]) / n - mean**2, 0.0))
        stood = np.where(mean >= LEAST_WEIGHT, spread / np.maximum(mean, 1.0), np.inf)
        at = int(np.argmin(stood))
        if stood[at] <= QUIET_SHARE:
            return float(mean[at]), float(spread[at])
    raise BadTest("Stand still for a second before the jump.", field="force")


def countermovement_jump(left: Floats, right: Floats, rate: float) -> CountermovementJump:
    """Metrics of a countermovement jump that begins with quiet standing (Linthorne 2001).

    Raises BadTest when nobody leaves the plate, nobody stands still for a second before, or the heights by impulse and
    by flight differ by more than 10 %.
    """
    force = _check(left, right, rate)
    take_off, landing = _flight(force, rate)
    weight, noise = _weighed(force[:take_off], rate)
    away = np.abs(force[:take_off] - weight) > max(5 * noise, 0.02 * weight)
    # A single sample beyond the threshold is noise; a movement stays beyond it.
    moved = [(begin, end) for begin, end in _runs(away) if (end - begin) / rate >= LEAST_MOVEMENT]
    if not moved:
        raise BadTest("There is no movement before the jump.", field="force")
    # The last movement is the jump: whoever shifts their weight before it has stood still again.
    first = next(
        (i for i in range(len(moved) - 1, 0, -1) if (moved[i][0] - moved[i - 1][1]) / rate >= STILL_SECONDS), 0
    )
    # A little before the threshold is crossed, which is where the movement begins (Owen et al. 2014).
    start = max(int(moved[first][0] - 0.03 * rate), 0)
    net = force[start : take_off + 1] - weight
    step = (net[1:] + net[:-1]) / 2 / rate
    mass = weight / GRAVITY
    speed = np.concatenate([[0.0], np.cumsum(step)]) / mass
    power = float((force[start : take_off + 1] * speed).max())
    height = float(speed[-1]) ** 2 / (2 * GRAVITY)
    to_take_off = (take_off - start) / rate
    flight = (landing - take_off) / rate
    by_flight = _height(flight)
    if abs(height - by_flight) > MOST_APART * max(height, by_flight):
        raise BadTest(
            f"The height by impulse is {height * 100:.0f} cm and by flight {by_flight * 100:.0f} cm: more than 10 % "
            "apart. Stand still before the jump, and land as you took off.",
            field="force",
        )
    whole = float(force[start:take_off].sum())
    return CountermovementJump(
        mass=mass,
        height_impulse=height,
        height_flight=by_flight,
        flight_seconds=flight,
        take_off_seconds=to_take_off,
        reactive_index=height / to_take_off,
        peak_power=power,
        left_share=float(left[start:take_off].sum()) / whole,
    )


def drop_jump(left: Floats, right: Floats, rate: float) -> DropJump:
    """Metrics of a jump right after a drop onto the empty plate. Raises BadTest when there is no such contact."""
    force = _check(left, right, rate)
    if force[: int(0.05 * rate)].max() >= OFF_NEWTON:
        raise BadTest("A drop jump begins with nobody on the plate.", field="force")
    on = np.flatnonzero(force >= OFF_NEWTON)
    if on.size == 0:
        raise BadTest("Nobody lands on the plate.", field="force")
    first = int(on[0])
    take_off, landing = _flight(force, rate, after=first)
    contact, flight = (take_off - first) / rate, (landing - take_off) / rate
    whole = float(force[first:take_off].sum())
    return DropJump(
        contact_seconds=contact,
        flight_seconds=flight,
        height_flight=_height(flight),
        reactive_index=_height(flight) / contact,
        left_share=float(left[first:take_off].sum()) / whole,
    )

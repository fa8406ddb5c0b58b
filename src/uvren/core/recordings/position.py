"""Position and speed: cleaning, distances, sprints, accelerations."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from uvren.core.recordings.samples import Samples, count_runs, hold, in_order, peak_means
from uvren.core.windows import Bools, Floats

FASTEST = 12.0
LONGEST_HOLD = 2.0
SPRINT_SECONDS = 1.0
HARD_CHANGE = 2.5
HARD_SECONDS = 0.4
EARTH_RADIUS = 6_371_008.8
PEAK_MINUTES = (1, 3, 5, 10)
# A single position is taken to be this exact, in metres; means over these seconds tell standing from walking.
ACCURACY = 0.1
STANDING_SECONDS, STANDING_NOISE = 2.0, 4.0


def clean_speed(t: Floats, speed: Floats) -> Samples:
    """Samples (shape (n,), seconds and m/s) in order of time; what is outside 0 to 12 m/s is dropped and counted.

    A value is held across gaps of at most 2 s.
    """
    t, speed, _ = in_order(t, speed)
    sane = (speed >= 0) & (speed <= FASTEST)
    dropped = int((~sane).sum())
    if dropped:
        t, speed = t[sane], speed[sane]
    return Samples(t, speed, hold(t, LONGEST_HOLD), dropped)


def _stands(t: Floats, x: Floats, y: Floats, accuracy: float) -> Bools:
    """Where a track stands still: its mean places of the 2 s before and after differ by no more than noise makes them.

    ``accuracy`` is the standard deviation of a single position along an axis, in metres.
    """
    before = np.searchsorted(t, t - STANDING_SECONDS, side="left")
    after = np.searchsorted(t, t + STANDING_SECONDS, side="right")
    here = np.arange(t.size)
    n_before, n_after = here - before, after - here
    inside = (n_before > 0) & (n_after > 0)
    n_before, n_after = np.maximum(n_before, 1), np.maximum(n_after, 1)

    def moved(of: Floats) -> Floats:
        total = np.concatenate([[0.0], np.cumsum(of)])
        return (total[after] - total[here]) / n_after - (total[here] - total[before]) / n_before

    noise = accuracy * np.sqrt(1 / n_before + 1 / n_after)
    return np.asarray(inside & (np.hypot(moved(x - x.mean()), moved(y - y.mean())) < STANDING_NOISE * noise))


def speed_from_metres(t: Floats, x: Floats, y: Floats, accuracy: float = ACCURACY) -> Samples:
    """Cleaned speed from positions on a flat field, in metres.

    A point that needs more than 12 m/s to reach and to leave is a position jump: it is dropped and counted, as is a
    single step of that kind. Where somebody stands, as far as positions of this ``accuracy`` (m) can tell, the speed is
    0: else the noise of a pod that lies still would make hundreds of metres.
    """
    t, x, index = in_order(t, x)
    y = y[index]
    known = ~np.isnan(y)
    t, x, y = t[known], x[known], y[known]
    too_fast = _step_speed(t, x, y) > FASTEST
    # The first and the last point stand out by their only neighbour if that one is in step with the rest.
    jumped = np.zeros(t.shape, dtype=bool)
    if t.size > 2:
        jumped[1:-1] = too_fast[:-1] & too_fast[1:]
        jumped[0] = too_fast[0] and not too_fast[1]
    t, x, y = t[~jumped], x[~jumped], y[~jumped]
    speed = _step_speed(t, x, y)
    # The speed of a step belongs to the sample it begins with; the last one keeps the speed it came with.
    speed = np.concatenate([speed, speed[-1:]])[: t.size]
    if t.size > 2:
        speed = np.where(_stands(t, x, y, accuracy), 0.0, speed)
    samples = clean_speed(t, speed) if t.size > 1 else Samples(t[:0], speed[:0], t[:0])
    return Samples(samples.t, samples.value, samples.held, samples.dropped + int(jumped.sum()))


def speed_from_degrees(t: Floats, latitude: Floats, longitude: Floats) -> Samples:
    """Cleaned speed from geographic positions in degrees, on the sphere around their middle."""
    inside = (np.abs(latitude) <= 90) & (np.abs(longitude) <= 180)
    if not inside.any():
        return Samples(t[:0], t[:0], t[:0], int((~np.isnan(latitude)).sum()))
    outside = int((~inside & ~np.isnan(latitude) & ~np.isnan(longitude)).sum())
    middle = np.radians(np.median(latitude[inside]))
    y = np.where(inside, np.radians(latitude) * EARTH_RADIUS, np.nan)
    x = np.where(inside, np.radians(longitude) * EARTH_RADIUS * np.cos(middle), np.nan)
    samples = speed_from_metres(t, x, y)
    return Samples(samples.t, samples.value, samples.held, samples.dropped + outside)


def _step_speed(t: Floats, x: Floats, y: Floats) -> Floats:
    if t.size < 2:
        return np.zeros(0)
    return np.asarray(np.hypot(np.diff(x), np.diff(y)) / np.diff(t))


@dataclass(frozen=True)
class PositionMetrics:
    """What a recording of speed comes to, in metres, metres a second and counts. None is not known."""

    minutes: float
    coverage: float | None
    dropped: int
    distance: float
    distance_fast: float | None
    sprints: int | None
    top_speed: float | None
    accelerations: int
    decelerations: int
    peak_distance_per_minute: dict[int, float | None]


def distance_above(samples: Samples, speed: float) -> float:
    """Metres covered at this speed or above."""
    fast = samples.value >= speed - 1e-9
    return float(samples.value[fast] @ samples.held[fast])


def count_sprints(samples: Samples, speed: float) -> int:
    """Runs of samples at this speed or above that last at least 1 s; a gap over 2 s ends a run."""
    return count_runs(samples, samples.value >= speed - 1e-9, SPRINT_SECONDS, LONGEST_HOLD)


def hard_changes(samples: Samples) -> tuple[int, int]:
    """Accelerations and decelerations of at least 2.5 m/s² that last at least 0.4 s."""
    if samples.t.size < 2:
        return 0, 0
    gap = np.diff(samples.t)
    steep = np.where(gap <= LONGEST_HOLD, np.diff(samples.value) / gap, 0.0)
    steps = Samples(samples.t[:-1], steep, gap)
    # Tenths of a second are not exact in binary; a change of just this size counts.
    return (
        count_runs(steps, steep >= HARD_CHANGE - 1e-6, HARD_SECONDS),
        count_runs(steps, steep <= -HARD_CHANGE + 1e-6, HARD_SECONDS),
    )


def position_metrics(samples: Samples, fast: float | None, sprint: float | None) -> PositionMetrics:
    """All figures of cleaned speed at once; ``fast`` and ``sprint`` in m/s."""
    covered = samples.value * samples.held
    up, down = hard_changes(samples)
    return PositionMetrics(
        minutes=samples.seconds / 60,
        coverage=samples.coverage if samples.t.size > 1 else None,
        dropped=samples.dropped,
        distance=float(covered.sum()),
        distance_fast=None if fast is None else distance_above(samples, fast),
        sprints=None if sprint is None else count_sprints(samples, sprint),
        top_speed=float(samples.value.max()) if samples.value.size else None,
        accelerations=up,
        decelerations=down,
        peak_distance_per_minute=peak_means(samples.t, covered, PEAK_MINUTES, 60.0),
    )

"""One athlete while the session runs: heart rate against the aim, load against room, and faults of the sensor."""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntEnum, StrEnum

import numpy as np

from uvren.core import words as say
from uvren.core.live.aim import Aim
from uvren.core.recordings import Samples
from uvren.core.windows import Bools, Floats

# Heart rate is looked at as the mean of so many seconds: one beat more or less is nothing.
SMOOTH = 15.0
# Seconds above the aim after which it is looked at, and after which something is to be done; below it, looked at.
LOOK_ABOVE, ACT_ABOVE, LOOK_BELOW = 60.0, 180.0, 180.0
# Where the aim is held down half of that is enough.
HELD = 0.5
# A value is held for a while; after that it is missing. A packet that comes so much later than it was measured is late.
HELD_SECONDS, MISSING_SECONDS, LATE_SECONDS = 4.0, 15.0, 5.0
# A sensor that shows the same for so long, jumps by so much or beats so much over the own maximum is in doubt.
FLAT_SECONDS, JUMP, OVER_MAXIMUM = 45.0, 35.0, 6.0
# Room that is used up within so many minutes is to be acted on.
SOON = 10.0
# The pace of the last minutes says how long room lasts.
PACE_SECONDS = 300.0


class Height(IntEnum):
    REST = 0
    LOOK = 1
    ACT = 2


class Fault(StrEnum):
    HELD = "held"
    LATE = "late"
    MISSING = "missing"
    DOUBTFUL = "doubtful"


@dataclass(frozen=True)
class Pulse:
    """What is known of somebody's heart rate now.

    ``share`` is in per cent of the own maximum, None without a value that can be believed; ``bpm`` the last value and
    ``at`` when it was. ``above`` and ``below`` are seconds for which the aim has been missed without a break.
    """

    share: float | None
    bpm: float | None
    at: float | None
    above: float
    below: float
    fault: Fault | None


def pulse(samples: Samples, received: Floats, aims: tuple[Floats, Floats], maximum: float, now: float) -> Pulse:
    """Where somebody's heart rate stands.

    Parameters
    ----------
    samples : Samples
        Heart rate up to now, cleaned; seconds of the same clock as ``now``.
    received : float array, shape (n,)
        When each sample came in.
    aims : two float arrays, shape (n,)
        The lower and the upper end of the aim at each sample, in per cent of the maximum.
    maximum : float
        The own maximum, beats a minute.
    """
    if samples.t.size == 0:
        return Pulse(None, None, None, 0.0, 0.0, Fault.MISSING)
    last, bpm = float(samples.t[-1]), float(samples.value[-1])
    age = now - last
    if age > MISSING_SECONDS:
        return Pulse(None, bpm, last, 0.0, 0.0, Fault.MISSING)
    if _doubtful(samples, maximum):
        return Pulse(None, bpm, last, 0.0, 0.0, Fault.DOUBTFUL)
    share = smooth(samples) / maximum * 100
    late = received[-1] - last > LATE_SECONDS
    fault = Fault.LATE if late else Fault.HELD if age > HELD_SECONDS else None
    return Pulse(
        float(share[-1]), bpm, last, _lasting(samples.t, share > aims[1]), _lasting(samples.t, share < aims[0]), fault
    )


def smooth(samples: Samples) -> Floats:
    """Mean of the last 15 s at each sample, by time held (shape (n,))."""
    weight = np.maximum(samples.held, 1e-3)
    total = np.concatenate([[0.0], np.cumsum(samples.value * weight)])
    passed = np.concatenate([[0.0], np.cumsum(weight)])
    first = np.searchsorted(samples.t, samples.t - SMOOTH, side="right")
    here = np.arange(samples.t.size) + 1
    return np.asarray((total[here] - total[first]) / (passed[here] - passed[first]))


def _doubtful(samples: Samples, maximum: float) -> bool:
    recent = samples.t >= samples.t[-1] - FLAT_SECONDS
    value = samples.value[recent]
    long = samples.t[-1] - samples.t[0] >= FLAT_SECONDS
    flat = bool(long and value.size > 5 and (value == value[0]).all())
    near = value[-6:]
    jumps = bool(near.size > 1 and np.abs(np.diff(near)).max() > JUMP)
    return flat or jumps or float(np.median(near)) > maximum + OVER_MAXIMUM


def _lasting(t: Floats, so: Bools) -> float:
    """Seconds up to the last sample for which it has been so."""
    if not so[-1]:
        return 0.0
    not_so = np.flatnonzero(~so)
    return float(t[-1] - t[not_so[-1] + 1]) if not_so.size else float(t[-1] - t[0])


@dataclass(frozen=True)
class Used:
    """Load so far, from heart rate by the own usual relation to rating, against room.

    ``error`` is how far off it may be (one SD, of the load); ``left`` what room leaves, ``minutes`` how long that lasts
    at the pace of the last five minutes, inf at rest. None of it is known without a relation or without room.
    """

    load: float
    error: float
    left: float | None
    minutes: float | None


@dataclass(frozen=True)
class Relation:
    """Own session load for each unit of heart-rate impulse: median of ``n`` sessions, and its relative spread."""

    ratio: float
    spread: float
    n: int


# Sessions with both a rating and a heart rate from which on a relation is told.
ENOUGH = 5


def relation(load: Floats, impulse: Floats) -> Relation | None:
    """The own relation of session load (rating x minutes) to impulse; None below five sessions with both."""
    known = ~np.isnan(load) & ~np.isnan(impulse) & (impulse > 0) & (load > 0)
    if known.sum() < ENOUGH:
        return None
    ratios = load[known] / impulse[known]
    median = float(np.median(ratios))
    spread = float(1.4826 * np.median(np.abs(ratios - median)) / median)
    return Relation(median, spread, int(known.sum()))


def used(impulse: Floats, t: Floats, found: Relation, room: float | None, now: float) -> Used:
    """Load of this session so far: ``impulse`` of each sample (shape (n,)) by the own relation, against room today."""
    total = float(impulse.sum()) * found.ratio
    recent = float(impulse[t > now - PACE_SECONDS].sum()) * found.ratio / (PACE_SECONDS / 60)
    if room is None:
        return Used(total, total * found.spread, None, None)
    left = room - total
    minutes = 0.0 if left <= 0 else left / recent if recent > 1e-9 else float("inf")
    return Used(total, total * found.spread, left, minutes)


@dataclass(frozen=True)
class Lane:
    """How an athlete stands: how much of a look it takes, in a sentence, and the kind of mark beside it."""

    height: Height
    sentence: str
    mark: str


def judge(pulse: Pulse, used: Used | None, aim: Aim | None, minutes_left: float) -> Lane:
    """What is to be seen of somebody now; ``minutes_left`` are those of the session that are planned for them."""
    limit = HELD if aim is not None and aim.held else 1.0
    if aim is not None and pulse.above >= ACT_ABOVE * limit:
        return Lane(Height.ACT, f"above the aim for {_long(pulse.above)}", "over")
    if used is not None and used.left is not None and used.left <= 0:
        return Lane(Height.ACT, "room is used up", "over")
    if used is not None and used.minutes is not None and used.minutes <= min(SOON, minutes_left):
        return Lane(Height.ACT, f"room is used up in about {max(round(used.minutes), 1)} min at this pace", "over")
    if pulse.fault is Fault.MISSING:
        return Lane(Height.LOOK, "no signal" if pulse.at is None else "no signal now", "missing")
    if pulse.fault is Fault.DOUBTFUL:
        return Lane(Height.LOOK, "the sensor is in doubt", "missing")
    if aim is not None and pulse.above >= LOOK_ABOVE * limit:
        return Lane(Height.LOOK, f"above the aim for {_long(pulse.above)}", "over")
    if aim is not None and not aim.held and pulse.below >= LOOK_BELOW:
        return Lane(Height.LOOK, f"under the aim for {_long(pulse.below)}", "under")
    return Lane(Height.REST, "", "")


def _long(seconds: float) -> str:
    return say.count(int(seconds // 60), "min", "min") if seconds >= 60 else f"{seconds:.0f} s"

"""What would bring a drill nearer to the game: seconds on and off that keep its minutes, as an estimate."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from uvren.core.demands.likeness import Measure, overlap_of, shape, shares, stretches
from uvren.core.recordings.samples import Samples
from uvren.core.windows import Floats

# Seconds on and off that are tried; nobody counts finer than this on a field.
ON = np.array([4, 6, 8, 10, 12, 15, 20, 25, 30, 40, 60], dtype=np.float64)
OFF = np.array([4, 6, 8, 10, 12, 15, 20, 25, 30, 40, 50, 60, 75, 90, 120], dtype=np.float64)
# Of the patterns that come this near to the best one that with runs and rests most like the game's is proposed.
AS_GOOD = 0.02
# Less than this is no reason to change a drill.
WORTH = 0.05
# Bouts from which on it is told how pace goes with length, and the least spread of their lengths (of the logarithm).
BOUTS, SPREAD = 8, 0.3


@dataclass(frozen=True)
class Change:
    """A drill as it is done and as it might be: seconds on and off, how many runs, and how like the game (0 to 1)."""

    was_on: float
    was_off: float
    on: float
    off: float
    runs: int
    now: float
    after: float


def to_change(drill: list[Samples], match: list[Samples], measure: Measure, minutes: float) -> Change | None:
    """The pattern of work and rest nearest to the game's that makes a drill of these ``minutes`` like the game.

    Work is done as it was, in runs of another length; how pace goes with the length of a run is taken from the runs of
    the drill and of the match. Rest is spent as in the match: whoever stands there stands here. None where nothing is
    known of one of them, or nothing is gained by it.
    """
    game = shape(match, measure).share
    works, games = ([_Work.taken(part, measure) for part in parts] for parts in (drill, match))
    lengths = np.concatenate([np.zeros(0), *(work.length for work in works)])
    rest = np.concatenate([np.zeros(0), *(work.rest for work in works)])
    if game is None or lengths.size == 0 or rest.size == 0 or not any(one.rest.size for one in games):
        return None
    now = overlap_of(np.array(shape(drill, measure).share), np.array(game))
    value, held, of = (np.concatenate([getattr(work, name) for work in works]) for name in ("value", "held", "within"))
    easy = shares(*_joined(games, "easy"), measure.edges)
    slower = _slower(works + games)

    def like(on: float) -> Floats:
        """Overlap with the game in runs of ``on`` seconds, for each rest that is tried."""
        hard = shares(value * np.exp(slower * np.log(on / of)), held, measure.edges)
        work = (on / (on + OFF))[:, None]
        return np.asarray(np.minimum(work * hard + (1 - work) * easy, np.array(game)).sum(axis=1))

    found = np.stack([like(float(on)) for on in ON])
    was_on, was_off = float(np.median(lengths)), float(np.median(rest))
    run, wait = (float(np.median(np.concatenate([getattr(one, name) for one in games]))) for name in ("length", "rest"))
    far = np.abs(np.log(ON / run))[:, None] + np.abs(np.log(OFF / wait))[None, :]
    best = np.where(found >= found.max() - AS_GOOD, far, np.inf)
    i, j = np.unravel_index(int(np.argmin(best)), best.shape)
    on, off, after = float(ON[i]), float(OFF[j]), float(found[i, j])
    if after < now + WORTH:
        return None
    return Change(was_on, was_off, on, off, max(round(minutes * 60 / (on + off)), 1), now, after)


@dataclass(frozen=True)
class _Work:
    """A recording taken apart: samples of work, each with the length of its run, samples of rest, and lengths."""

    value: Floats
    held: Floats
    within: Floats
    easy: Floats
    easy_held: Floats
    length: Floats
    pace: Floats
    rest: Floats

    @classmethod
    def taken(cls, samples: Samples, measure: Measure) -> _Work:
        begin, end, passed = stretches(samples, measure)
        inside = np.zeros(samples.t.size, dtype=bool)
        of = np.zeros(samples.t.size)
        length = passed[end] - passed[begin]
        covered = np.concatenate([[0.0], np.cumsum(samples.value * samples.held)])
        for first, last, seconds in zip(begin, end, length, strict=True):
            inside[first:last], of[first:last] = True, seconds
        return cls(
            samples.value[inside], samples.held[inside], of[inside], samples.value[~inside], samples.held[~inside],
            length, (covered[end] - covered[begin]) / length, passed[begin[1:]] - passed[end[:-1]],
        )  # fmt: skip


def _joined(works: list[_Work], what: str) -> tuple[Floats, Floats]:
    value, held = ([getattr(one, name) for one in works] for name in (what, f"{what}_held"))
    return np.concatenate(value), np.concatenate(held)


def _slower(works: list[_Work]) -> float:
    """How pace goes with the length of a run, as an exponent of at most 0; 0 where too few runs tell."""
    length = np.concatenate([work.length for work in works])
    pace = np.concatenate([work.pace for work in works])
    if length.size < BOUTS or np.std(np.log(length)) < SPREAD:
        return 0.0
    return float(min(np.polyfit(np.log(length), np.log(pace), 1)[0], 0.0))

"""Whether training is like the game: shares of time by how hard it was, and how long work and rest last."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from uvren.core.errors import BadRecording
from uvren.core.recordings.samples import Samples, runs
from uvren.core.windows import Floats, Ints


@dataclass(frozen=True)
class Measure:
    """How one quantity is looked at.

    Parameters
    ----------
    edges : tuple of float
        Where the bins of the quantity begin, rising; the last has no end. What is below the first is in no bin.
    work : float
        From this value on it is work.
    gap : float
        Rest shorter than this between work belongs to it, in seconds.
    least : float
        Work shorter than this, so joined, is rest, in seconds.

    Raises
    ------
    BadRecording
        If the edges do not rise or a length is below 0.
    """

    edges: tuple[float, ...]
    work: float
    gap: float
    least: float

    def __post_init__(self) -> None:
        if not self.edges or any(a >= b for a, b in zip(self.edges, self.edges[1:], strict=False)):
            raise BadRecording("the edges of the bins rise", field="edges")
        if self.gap < 0 or self.least < 0:
            raise BadRecording("a length of time is 0 or more", field="gap" if self.gap < 0 else "least")


# Sorting is what takes the time where there are many values.
MOST_SORTED, STEPS = 200_000, 65_536
# Speed in m/s: standing, walking, easy, quick, fast, sprint.
SPEED = Measure((0, 0.5, 2, 3.5, 5, 6.5), work=2.0, gap=1.0, least=2.0)


@dataclass(frozen=True)
class Bouts:
    """How often a kind of bout was found and how long it lasts, in seconds; quartiles are None without any."""

    n: int
    per_minute: float | None
    q25: float | None
    median: float | None
    q75: float | None


@dataclass(frozen=True)
class Shape:
    """What one or more recordings look like: minutes, share of time in each bin, bouts of work and of rest."""

    minutes: float
    share: list[float] | None
    work: Bouts
    rest: Bouts


@dataclass(frozen=True)
class Likeness:
    """Two shapes held against each other.

    ``overlap`` is the sum of the smaller shares, 0 to 1; ``distance`` the first Wasserstein distance of the two
    distributions of the values by time, in their unit. Both are None where one of them holds no time.
    """

    training: Shape
    match: Shape
    overlap: float | None
    distance: float | None


def stretches(samples: Samples, measure: Measure) -> tuple[Ints, Ints, Floats]:
    """First and last-plus-one index of every bout of work, and the seconds passed at each index (shape (n + 1,)).

    Rest shorter than ``gap`` between two works belongs to them; then work shorter than ``least`` is rest.
    """
    begin, end = runs(samples.value >= measure.work)
    passed = np.concatenate([[0.0], np.cumsum(samples.held)])
    # Sums of a tenth of a second are not exact; a length of just the limit has reached it.
    if begin.size:
        apart = passed[begin[1:]] - passed[end[:-1]] >= measure.gap - 1e-9
        begin, end = begin[np.concatenate([[True], apart])], end[np.concatenate([apart, [True]])]
    long = passed[end] - passed[begin] >= measure.least - 1e-9
    # The last sample stands for no time: a bout of it alone is none.
    long &= passed[end] > passed[begin]
    return begin[long], end[long], passed


def bouts(samples: Samples, measure: Measure) -> tuple[Floats, Floats]:
    """Lengths in seconds of the bouts of work, and of the rests between two of them."""
    begin, end, passed = stretches(samples, measure)
    return passed[end] - passed[begin], passed[begin[1:]] - passed[end[:-1]]


def shape(parts: list[Samples], measure: Measure) -> Shape:
    """The shape of recordings together; no bout goes from one into the next."""
    return _shape(parts, *_together(parts), measure)


def _shape(parts: list[Samples], value: Floats, held: Floats, measure: Measure) -> Shape:
    lengths = [bouts(part, measure) for part in parts]
    minutes = float(held.sum()) / 60
    return Shape(
        minutes,
        [float(share) for share in shares(value, held, measure.edges)] if minutes > 0 else None,
        _said([work for work, _ in lengths], minutes),
        _said([rest for _, rest in lengths], minutes),
    )


def likeness(training: list[Samples], match: list[Samples], measure: Measure) -> Likeness:
    """How training stands to the game, each given as cleaned samples of one or more recordings."""
    trained, played = _together(training), _together(match)
    one, other = _shape(training, *trained, measure), _shape(match, *played, measure)
    if one.share is None or other.share is None:
        return Likeness(one, other, None, None)
    overlap = overlap_of(np.array(one.share), np.array(other.share))
    return Likeness(one, other, overlap, wasserstein(*trained, *played))


def shares(value: Floats, held: Floats, edges: tuple[float, ...]) -> Floats:
    """Share of the time in each bin, closed below, the last open above; 0 everywhere without time."""
    within = np.searchsorted(np.array(edges), value, side="right")
    seconds = np.bincount(within, weights=held, minlength=len(edges) + 1)[1:]
    return np.asarray(seconds / max(held.sum(), 1e-12))


def overlap_of(one: Floats, other: Floats) -> float:
    """The sum of the smaller shares, 0 to 1."""
    return float(np.minimum(one, other).sum())


def wasserstein(value: Floats, weight: Floats, other: Floats, other_weight: Floats) -> float:
    """First Wasserstein distance of two weighted distributions: the area between their cumulated shares.

    Of more than ``MOST_SORTED`` values each counts as the nearest of ``STEPS`` steps from the least to the most, which
    moves the distance by a step at most (for speeds of people less than 0.0002 m/s).
    """
    if value.size + other.size > MOST_SORTED:
        return _by_steps(value, weight, other, other_weight)
    values = np.concatenate([value, other])
    order = np.argsort(values)
    # How far the one is ahead of the other after each value; between two that are the same there is no way.
    ahead = np.cumsum(np.concatenate([weight / weight.sum(), -other_weight / other_weight.sum()])[order])
    return float(np.abs(ahead[:-1]) @ np.diff(values[order]))


def _by_steps(value: Floats, weight: Floats, other: Floats, other_weight: Floats) -> float:
    least, most = min(value.min(), other.min()), max(value.max(), other.max())
    step = (most - least) / STEPS

    def mass(values: Floats, weights: Floats) -> Floats:
        at = np.rint((values - least) / step).astype(np.int64)
        return np.asarray(np.bincount(at, weights, minlength=STEPS + 1) / weights.sum())

    if step == 0:
        return 0.0
    ahead = np.cumsum(mass(value, weight) - mass(other, other_weight))
    return float(np.abs(ahead[:-1]).sum() * step)


def _together(parts: list[Samples]) -> tuple[Floats, Floats]:
    none = np.zeros(0)
    return (
        np.concatenate([none, *(part.value for part in parts)]),
        np.concatenate([none, *(part.held for part in parts)]),
    )


def _said(lengths: list[Floats], minutes: float) -> Bouts:
    found = np.concatenate([np.zeros(0), *lengths])
    quartiles = [float(q) for q in np.quantile(found, [0.25, 0.5, 0.75])] if found.size else [None] * 3
    return Bouts(int(found.size), found.size / minutes if minutes > 0 else None, *quartiles)

"""Samples in order of time, and how long each one stands."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from uvren.core.errors import BadRecording
from uvren.core.windows import Bools, Floats, Ints


@dataclass(frozen=True)
class Samples:
    """A sampled quantity of one athlete, cleaned.

    Parameters
    ----------
    t : float array, shape (n,)
        Seconds from any fixed moment, rising.
    value : float array, shape (n,)
        The quantity, without gaps or artefacts.
    held : float array, shape (n,)
        Seconds for which each sample stands.
    dropped : int
        Artefacts that were left out.
    """

    t: Floats
    value: Floats
    held: Floats
    dropped: int = 0

    @cached_property
    def seconds(self) -> float:
        """Time that the samples stand for."""
        return float(self.held.sum())

    @cached_property
    def coverage(self) -> float:
        """Share of the time from the first to the last sample that they stand for; nan for fewer than two."""
        if self.t.size < 2:
            return float("nan")
        return self.seconds / float(self.t[-1] - self.t[0])

    def time_where(self, wanted: Bools) -> float:
        """Seconds of the samples that are wanted."""
        return float(self.held[wanted].sum())

    def between(self, begin: float, end: float) -> Samples:
        """The samples from ``begin`` up to, but not at, ``end``; the last one is not held beyond it."""
        first, last = np.searchsorted(self.t, [begin, end], side="left")
        t, held = self.t[first:last], self.held[first:last]
        return replace(self, t=t, value=self.value[first:last], held=np.minimum(held, end - t), dropped=0)


def in_order(t: Floats, value: Floats) -> tuple[Floats, Floats, Ints]:
    """Times and values in order of time, a time once, and where each one stood before.

    Rows without a time or a value are left out first. Of several rows of one time the first in the given order counts.
    Raises BadRecording where the two are not of one length.
    """
    if t.shape != value.shape or t.ndim != 1:
        raise BadRecording("times and values are two columns of one length", field="t")
    index = np.arange(t.size)
    there = ~(np.isnan(t) | np.isnan(value)) & ~np.isinf(t)
    if not there.all():
        t, value, index = t[there], value[there], index[there]
    if t.size > 1 and not (t[1:] > t[:-1]).all():
        order = np.argsort(t, kind="stable")
        t = t[order]
        first = np.concatenate([[True], t[1:] > t[:-1]])
        t, value, index = t[first], value[order][first], index[order][first]
    return t, value, index


def hold(t: Floats, longest: float) -> Floats:
    """Seconds each sample stands for, shape (n,).

    That is the time to the next one; across a gap longer than ``longest`` seconds, the recording's median interval. The
    last sample stands for none.
    """
    held = np.zeros(t.shape)
    if t.size > 1:
        gaps = np.diff(t)
        long = gaps > longest
        held[:-1] = np.where(long, np.median(gaps), gaps) if long.any() else gaps
    return held


def runs(wanted: Bools) -> tuple[Ints, Ints]:
    """First and last-plus-one index of every run of true values."""
    edges = np.diff(np.concatenate([[0], wanted.astype(np.int8), [0]]))
    return np.flatnonzero(edges == 1), np.flatnonzero(edges == -1)


def peak_means(
    t: Floats, amount: Floats, minutes: tuple[int, ...], per_seconds: float = 1.0
) -> dict[int, float | None]:
    """Greatest rolling mean of an amount, per ``per_seconds``, over each window of whole minutes.

    Amounts (shape (n,), of each sample) are added up by whole second from the first sample. None where the recording
    is shorter than the window.
    """
    if t.size == 0:
        return dict.fromkeys(minutes)
    second = (t - t[0]).astype(np.int64)
    total = np.concatenate([[0.0], np.cumsum(np.bincount(second, weights=amount))])
    out: dict[int, float | None] = {}
    for window in minutes:
        width = 60 * window
        if total.size <= width:
            out[window] = None
        else:
            out[window] = float((total[width:] - total[:-width]).max()) / width * per_seconds
    return out


def count_runs(samples: Samples, wanted: Bools, least: float, longest_gap: float = np.inf) -> int:
    """How many runs of wanted samples last at least ``least`` seconds; a gap longer than ``longest_gap`` ends one."""
    begin, end = runs(wanted)
    apart = np.flatnonzero(np.diff(samples.t) > longest_gap) + 1
    inside = apart[wanted[apart] & wanted[apart - 1]] if apart.size else apart
    begin, end = np.sort(np.concatenate([begin, inside])), np.sort(np.concatenate([end, inside]))
    total = np.concatenate([[0.0], np.cumsum(samples.held)])
    # Sums of a tenth of a second are not exact; a run of just the least length counts.
    return int(((total[end] - total[begin]) >= least - 1e-9).sum())


def rows_of(groups: Ints) -> list[tuple[int, int, int]]:
    """(code, begin, end) of every stretch of equal codes in a sorted column."""
    if groups.size == 0:
        return []
    edges = np.flatnonzero(np.diff(groups)) + 1
    begins = np.concatenate([[0], edges])
    ends = np.concatenate([edges, [groups.size]])
    return [(int(groups[b]), int(b), int(e)) for b, e in zip(begins, ends, strict=True)]

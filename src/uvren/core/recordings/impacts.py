"""Impacts: how often and how hard each side meets the ground or another body."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from uvren.core.errors import BadRecording
from uvren.core.recordings.samples import in_order
from uvren.core.windows import Bools, Floats

HARDEST = 200.0


class Side(StrEnum):
    LEFT = "left"
    RIGHT = "right"


@dataclass(frozen=True)
class Bands:
    """Bands of peak acceleration (g): each begins at its edge and weighs ``weights``; the last has no end."""

    edges: tuple[float, ...]
    weights: tuple[float, ...]

    def __post_init__(self) -> None:
        if not self.edges or len(self.edges) != len(self.weights):
            raise BadRecording("every band has an edge and a weight", field="edges")
        if any(a >= b for a, b in zip(self.edges, self.edges[1:], strict=False)) or self.edges[0] <= 0:
            raise BadRecording("the edges of the bands rise, from above 0", field="edges")
        if min(self.weights) < 0:
            raise BadRecording("a weight is 0 or more", field="weights")


DEFAULT_BANDS = Bands((2, 4, 6, 8, 10), (1, 2, 3.5, 5, 8))


@dataclass(frozen=True)
class SideLoad:
    count: int
    load: float


@dataclass(frozen=True)
class ImpactMetrics:
    """Count and load by side; ``asymmetry_percent`` is None where a side has nothing to compare with."""

    left: SideLoad
    right: SideLoad
    asymmetry_percent: float | None
    stronger: Side | None

    @property
    def load(self) -> float:
        return self.left.load + self.right.load

    @property
    def count(self) -> int:
        return self.left.count + self.right.count


def impacts_in_order(t: Floats, g: Floats, right: Bools) -> tuple[Floats, Floats, Bools]:
    """Impacts in order of time, one a time and side: a landing on both feet is two.

    Of several rows of one time and side the first in the given order counts; rows without a value are left out.
    """
    parts = []
    for on_right in (False, True):
        mine = np.asarray(right, dtype=bool) == on_right
        at, peak, _ = in_order(t[mine], g[mine])
        parts.append((at, peak, np.full(at.shape, on_right)))
    at, peak, side = (np.concatenate(column) for column in zip(*parts, strict=True))
    order = np.argsort(at, kind="stable")
    return at[order], peak[order], side[order]


def impact_metrics(g: Floats, right: Bools, bands: Bands = DEFAULT_BANDS) -> ImpactMetrics:
    """Impacts (shape (n,): peak acceleration in g, and whether it was the right side) by side and band.

    Counted are those from the first edge up to 200 g; above that it is the sensor. Asymmetry is
    (stronger - weaker)/stronger x 100 of the loads.
    """
    counted = (g >= bands.edges[0]) & (g <= HARDEST)
    band = np.searchsorted(np.array(bands.edges), g[counted], side="right") - 1
    weight = np.array(bands.weights, dtype=np.float64)[band]
    on_right = right[counted]
    sides = [SideLoad(int(on.sum()), float(weight[on].sum())) for on in (~on_right, on_right)]
    left_load, right_load = sides[0].load, sides[1].load
    strong = max(left_load, right_load)
    stronger = None if left_load == right_load else Side.LEFT if left_load > right_load else Side.RIGHT
    asymmetry = (strong - min(left_load, right_load)) / strong * 100 if strong > 0 else None
    return ImpactMetrics(sides[0], sides[1], asymmetry, stronger)

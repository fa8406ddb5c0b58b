"""What the game asks, how training stands to it, and what would bring it nearer."""

from uvren.core.demands.change import Change, to_change
from uvren.core.demands.heat import own_z
from uvren.core.demands.likeness import SPEED, Bouts, Likeness, Measure, Shape, likeness, shape
from uvren.core.demands.reference import (
    OWN,
    PLAYED,
    Reference,
    own_references,
    percent,
    references,
    short_of,
)

__all__ = [
    "OWN",
    "PLAYED",
    "SPEED",
    "Bouts",
    "Change",
    "Likeness",
    "Measure",
    "Reference",
    "Shape",
    "likeness",
    "own_references",
    "own_z",
    "percent",
    "references",
    "shape",
    "short_of",
    "to_change",
]

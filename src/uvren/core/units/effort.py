"""Effort x time: the whole session, or segment by segment with the coach's weights."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, Self

import numpy as np

from uvren.core.errors import BadUnit
from uvren.core.recovery import System
from uvren.core.units.base import Form, Level, Source, places_of
from uvren.core.windows import Floats, Ints

LIGHTEST, HEAVIEST = 1.0, 4.0


@dataclass(frozen=True)
class EffortMinutes(Form):
    """Rating (0-10) x minutes of the whole session."""

    code = "effort_minutes"
    title = "Effort × minutes"
    unit = "effort × min"
    level = Level.INTERNAL
    source = Source.RATING
    published = "Foster et al. 2001"
    systems = (System.MUSCLE, System.ENERGY)

    @classmethod
    def from_settings(cls, settings: Mapping[str, Any]) -> Self:
        return cls(places_of(settings))

    def formula(self) -> str:
        return "Minutes of the session × its rated effort (0 to 10)."

    def loads(self, minutes: Floats, effort: Floats) -> Floats:
        """Load of each entry, shapes (n,); no minutes is no load, whatever the rating."""
        return np.where(minutes == 0, 0.0, minutes * effort)


@dataclass(frozen=True)
class SegmentEffort(Form):
    """Sum over the session's parts of minutes x rating x the coach's weight for the part."""

    code = "segment_effort"
    title = "Effort × minutes by segment"
    unit = "weighted effort × min"
    level = Level.INTERNAL
    source = Source.SEGMENTS
    published = "Foster et al. 2001, by part of the session"
    systems = (System.MUSCLE, System.ENERGY)

    @classmethod
    def from_settings(cls, settings: Mapping[str, Any]) -> Self:
        return cls(places_of(settings))

    def formula(self) -> str:
        return "For each segment: minutes × rated effort × the coach's weight (1 drill to 4 competition); added up."

    def loads(self, owner: Ints, minutes: Floats, effort: Floats, weight: Floats, count: int) -> Floats:
        """Load of each of ``count`` entries from their segments (shapes (m,)); nan where a segment lacks something.

        Raises BadUnit for a weight outside 1 to 4.
        """
        if ((weight < LIGHTEST) | (weight > HEAVIEST)).any():
            raise BadUnit("A segment's weight is 1 to 4.", field="weight")
        load = np.where(minutes == 0, 0.0, minutes * effort * weight)
        return np.bincount(owner, weights=load, minlength=count).astype(np.float64)

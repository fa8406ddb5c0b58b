"""Work measured by sensors: heart rate, position and impacts."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, Self

import numpy as np

from uvren.core.errors import BadRecording, BadUnit
from uvren.core.recordings import DEFAULT_BANDS, Bands, HeartAnchors, Samples
from uvren.core.recordings.heart_rate import banister, edwards_minutes, three_zone_minutes, weighted_minutes
from uvren.core.recordings.impacts import HARDEST
from uvren.core.recordings.position import count_sprints, distance_above, hard_changes
from uvren.core.recovery import System
from uvren.core.units.base import Form, Level, Source, choice, number, places_of
from uvren.core.windows import Bools, Floats


class HeartMethod(StrEnum):
    BANISTER = "banister"
    EDWARDS = "edwards"
    THREE_ZONES = "three_zones"


_HEART_SAID = {
    HeartMethod.BANISTER: (
        "Minutes × heart rate reserve × a·exp(b × reserve); (a, b) is (0.64, 1.92) for men and (0.86, 1.67) for women."
    ),
    HeartMethod.EDWARDS: "Minutes at 50, 60, 70, 80 and 90 % of maximum heart rate × 1, 2, 3, 4 and 5, added up.",
    HeartMethod.THREE_ZONES: (
        "Minutes below the first threshold, between the thresholds and above the second × 1, 2 and 3, added up."
    ),
}
_HEART_NEEDS = {
    HeartMethod.BANISTER: ("hr_max", "hr_rest", "sex"),
    HeartMethod.EDWARDS: ("hr_max",),
    HeartMethod.THREE_ZONES: ("threshold_1", "threshold_2"),
}


@dataclass(frozen=True)
class HeartRateLoad(Form):
    """Impulse or weighted minutes from heart rate."""

    method: HeartMethod

    code = "heart_rate"
    title = "Heart rate"
    unit = "impulse"
    level = Level.INTERNAL
    source = Source.HEART_RATE
    published = "Banister 1991; Edwards 1993; Lucia et al. 2003"
    systems = (System.ENERGY,)

    @classmethod
    def from_settings(cls, settings: Mapping[str, Any]) -> Self:
        return cls(places_of(settings), choice(settings, "method", HeartMethod, "The method"))

    def formula(self) -> str:
        return _HEART_SAID[self.method]

    @property
    def needs(self) -> tuple[str, ...]:
        """Anchors without which nothing can be said."""
        return _HEART_NEEDS[self.method]

    def load(self, samples: Samples, anchors: HeartAnchors) -> float | None:
        """Load of a recording, None where an anchor it needs is not known."""
        if any(getattr(anchors, name) is None for name in self.needs):
            return None
        if self.method is HeartMethod.BANISTER:
            return banister(samples, anchors)
        if self.method is HeartMethod.EDWARDS:
            return weighted_minutes(edwards_minutes(samples, anchors.hr_max or 0))
        return weighted_minutes(three_zone_minutes(samples, anchors.threshold_1 or 0, anchors.threshold_2 or 0))

    @property
    def zones(self) -> int:
        """How many zones the method tells apart; 0 for one that does without."""
        return {HeartMethod.EDWARDS: 5, HeartMethod.THREE_ZONES: 3}.get(self.method, 0)

    def load_of_zones(self, minutes: Sequence[float]) -> float | None:
        """Load of given minutes in zones, None where their number is not that of the method."""
        return weighted_minutes(list(minutes)) if minutes and self.zones == len(minutes) else None


class PositionMeasure(StrEnum):
    DISTANCE = "distance"
    DISTANCE_ABOVE = "distance_above"
    SPRINTS = "sprints"
    ACCELERATIONS = "accelerations"
    DECELERATIONS = "decelerations"
    HARD_CHANGES = "hard_changes"


_WITH_SPEED = (PositionMeasure.DISTANCE_ABOVE, PositionMeasure.SPRINTS)


@dataclass(frozen=True)
class PositionLoad(Form):
    """Distances and counts from speed. A speed is given in m/s, or as a share of the athlete's own maximum."""

    measure: PositionMeasure
    speed: float | None
    share: float | None

    code = "position"
    title = "Position and speed"
    unit = "m"
    level = Level.EXTERNAL
    source = Source.POSITION
    published = "Speeds agreed by the squad"
    systems = (System.MUSCLE, System.NERVE)

    @classmethod
    def from_settings(cls, settings: Mapping[str, Any]) -> Self:
        measure = choice(settings, "measure", PositionMeasure, "What is counted")
        speed = share = None
        if measure in _WITH_SPEED:
            if settings.get("share") is not None:
                share = number(settings, "share", 0.1, 1.0, "The share of the own maximum")
            elif settings.get("speed") is not None:
                speed = number(settings, "speed", 0.5, 12.0, "The speed")
            else:
                raise BadUnit("Say the speed in m/s, or as a share of the own maximum.", field="speed")
        return cls(places_of(settings), measure, speed, share)

    def formula(self) -> str:
        at = (
            f"{self.speed or 0:g} m/s"
            if self.share is None
            else f"{self.share * 100:g} % of the athlete's own maximum speed"
        )
        return {
            PositionMeasure.DISTANCE: "Metres covered.",
            PositionMeasure.DISTANCE_ABOVE: f"Metres covered at {at} or faster.",
            PositionMeasure.SPRINTS: f"Runs of at least 1 s at {at} or faster.",
            PositionMeasure.ACCELERATIONS: "Accelerations of at least 2.5 m/s² for at least 0.4 s.",
            PositionMeasure.DECELERATIONS: "Decelerations of at least 2.5 m/s² for at least 0.4 s.",
            PositionMeasure.HARD_CHANGES: "Accelerations and decelerations of at least 2.5 m/s² for at least 0.4 s.",
        }[self.measure]

    def load(self, samples: Samples, own_maximum: float | None) -> float | None:
        """Load of a recording of speed, None where the own maximum is needed and not known."""
        if self.measure is PositionMeasure.DISTANCE:
            return float(samples.value @ samples.held)
        if self.measure in _WITH_SPEED:
            limit = self.speed
            if self.share is not None:
                if own_maximum is None:
                    return None
                limit = self.share * own_maximum
            assert limit is not None
            above = distance_above if self.measure is PositionMeasure.DISTANCE_ABOVE else count_sprints
            return float(above(samples, limit))
        up, down = hard_changes(samples)
        wanted = {PositionMeasure.ACCELERATIONS: up, PositionMeasure.DECELERATIONS: down}
        return float(wanted.get(self.measure, up + down))


class ImpactMeasure(StrEnum):
    LOAD = "load"
    COUNT = "count"


class ImpactSide(StrEnum):
    BOTH = "both"
    LEFT = "left"
    RIGHT = "right"


@dataclass(frozen=True)
class ImpactLoad(Form):
    """Impacts counted, or weighted by their band."""

    measure: ImpactMeasure
    side: ImpactSide
    bands: Bands

    code = "impacts"
    title = "Impacts"
    unit = "weighted impacts"
    level = Level.EXTERNAL
    source = Source.IMPACTS
    published = "Bands by the squad's own judgement"
    systems = (System.TENDON_BONE,)

    @classmethod
    def from_settings(cls, settings: Mapping[str, Any]) -> Self:
        try:
            bands = Bands(
                tuple(float(edge) for edge in settings.get("edges") or DEFAULT_BANDS.edges),
                tuple(float(weight) for weight in settings.get("weights") or DEFAULT_BANDS.weights),
            )
        except BadRecording as error:
            raise BadUnit(str(error), field=error.field) from None
        return cls(
            places_of(settings),
            choice(settings, "measure", ImpactMeasure, "What is counted"),
            choice({"side": "both", **settings}, "side", ImpactSide, "The side"),
            bands,
        )

    def formula(self) -> str:
        side = "both sides" if self.side is ImpactSide.BOTH else f"the {self.side} side"
        if self.measure is ImpactMeasure.COUNT:
            return f"Impacts of {side} from {self.bands.edges[0]:g} g."
        pairs = zip(self.bands.edges, self.bands.weights, strict=True)
        said = ", ".join(f"from {edge:g} g × {weight:g}" for edge, weight in pairs)
        return f"Impacts of {side}, weighted by their peak: {said}."

    def load(self, g: Floats, right: Bools) -> float:
        """Load of the impacts of a recording (shape (n,): peak in g, whether on the right)."""
        on_side = {ImpactSide.BOTH: np.ones(g.shape, dtype=bool), ImpactSide.LEFT: ~right, ImpactSide.RIGHT: right}
        counted = g[on_side[self.side] & (g >= self.bands.edges[0]) & (g <= HARDEST)]
        if self.measure is ImpactMeasure.COUNT:
            return float(counted.size)
        band = np.searchsorted(np.array(self.bands.edges), counted, side="right") - 1
        return float(np.array(self.bands.weights, dtype=np.float64)[band].sum())

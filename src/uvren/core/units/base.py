"""What every form of a unit of work can answer, and the settings that all of them share."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, ClassVar, Self, TypeVar

import numpy as np

from uvren.core import words
from uvren.core.errors import BadUnit
from uvren.core.recovery import System

Choice = TypeVar("Choice", bound=StrEnum)

WEIGHT_MOST = 10.0
FACTOR_LEAST, FACTOR_MOST = 0.1, 3.0


class Level(StrEnum):
    """Internal load is what the work does to the athlete, external what was done."""

    INTERNAL = "internal"
    EXTERNAL = "external"


class Source(StrEnum):
    """What a form is computed from."""

    RATING = "rating"
    SEGMENTS = "segments"
    COUNTED = "counted"
    LIFTING = "lifting"
    HEART_RATE = "heart_rate"
    POSITION = "position"
    IMPACTS = "impacts"


class Region(StrEnum):
    """Parts of the body that a channel stresses."""

    WHOLE = "whole body"
    NECK = "neck"
    SHOULDER = "shoulder"
    ELBOW = "elbow and wrist"
    TRUNK = "trunk"
    HIP = "hip and groin"
    THIGH = "thigh"
    KNEE = "knee"
    SHIN = "shin and calf"
    ANKLE = "ankle and foot"


@dataclass(frozen=True)
class WeightedClass:
    """A kind of repetition, surface or posture with its weight. A name is shown, a code stands in the data."""

    code: str
    name: str
    weight: float


@dataclass(frozen=True)
class Form(ABC):
    """How the work of a session becomes load.

    ``places`` holds a factor for each place or condition that is not like the usual one.
    """

    places: Mapping[str, float]

    code: ClassVar[str]
    title: ClassVar[str]
    unit: ClassVar[str]
    level: ClassVar[Level]
    source: ClassVar[Source]
    published: ClassVar[str]
    # What such work loads, for the windows of recovery.
    systems: ClassVar[tuple[System, ...]]

    @classmethod
    @abstractmethod
    def from_settings(cls, settings: Mapping[str, Any]) -> Self:
        """The form with its settings. Raises BadUnit with the path of the setting at fault."""

    @abstractmethod
    def formula(self) -> str:
        """How the load is worked out, as one sentence."""

    @property
    def hardest(self) -> tuple[str, float] | None:
        """Name and load of one repetition of the hardest kind, where there are repetitions."""
        return None

    def sentence(self) -> str:
        """The formula with the factors of its places."""
        if not self.places:
            return self.formula()
        factors = ", ".join(f"{name} × {factor:g}" for name, factor in self.places.items())
        return f"{self.formula()} By place: {factors}."

    def factor(self, places: Sequence[str | None]) -> np.ndarray:
        """Factor of each session's place, shape (n,)."""
        return np.array([self.places.get(place or "", 1.0) for place in places], dtype=np.float64)


def number(settings: Mapping[str, Any], name: str, low: float, high: float, what: str) -> float:
    """A setting that is a number within bounds. Raises BadUnit."""
    value = settings.get(name)
    if isinstance(value, bool) or not isinstance(value, int | float) or not low <= value <= high:
        raise BadUnit(f"{what} is a number from {low:g} to {high:g}.", field=name)
    return float(value)


def choice(settings: Mapping[str, Any], name: str, kind: type[Choice], what: str) -> Choice:
    """A setting that is one of a few. Raises BadUnit."""
    try:
        return kind(settings.get(name, ""))
    except ValueError:
        raise BadUnit(f"{what} is one of {', '.join(kind)}.", field=name) from None


def places_of(settings: Mapping[str, Any]) -> dict[str, float]:
    """Place factors. Raises BadUnit for one out of bounds."""
    places = settings.get("places") or {}
    for name in places:
        number(places, name, FACTOR_LEAST, FACTOR_MOST, f"The factor of {name}")
    return {str(name): float(factor) for name, factor in places.items()}


def classes_of(settings: Mapping[str, Any], name: str, what: str, *, least: int) -> tuple[WeightedClass, ...]:
    """A list of weighted classes. Raises BadUnit with the path of the entry at fault."""
    given = settings.get(name) or []
    if len(given) < least:
        raise BadUnit(f"Name at least {words.count(least, what)}.", field=name)
    out: list[WeightedClass] = []
    for i, entry in enumerate(given):
        title = str(entry.get("name", "")).strip()
        code = str(entry.get("code", "")).strip() or title.lower()
        if not title:
            raise BadUnit(f"Every {what} has a name.", field=f"{name}.{i}.name")
        if any(code == other.code for other in out):
            raise BadUnit(f"{title} stands twice.", field=f"{name}.{i}.name")
        try:
            weight = number(entry, "weight", 0, WEIGHT_MOST, f"The weight of {title}")
        except BadUnit as error:
            raise BadUnit(str(error), field=f"{name}.{i}.weight") from None
        out.append(WeightedClass(code, title, weight))
    return tuple(out)


def weights_said(classes: Sequence[WeightedClass]) -> str:
    return ", ".join(f"{each.name} {each.weight:g}" for each in classes)

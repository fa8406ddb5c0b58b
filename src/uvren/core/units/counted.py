"""Counted work: repetitions x class weight x surface weight x posture weight."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Self

import numpy as np

from uvren.core.recovery import System
from uvren.core.units.base import Form, Level, Source, WeightedClass, classes_of, places_of, weights_said
from uvren.core.windows import Floats, Ints


@dataclass(frozen=True)
class Counts:
    """Counted repetitions, an item each: whose (index of the entry), of which class, where and how, how many."""

    owner: Ints
    of_class: Sequence[str]
    surface: Sequence[str | None]
    posture: Sequence[str | None]
    count: Floats


@dataclass(frozen=True)
class CountedWork(Form):
    """A class weight is the stress of one repetition against the hardest class."""

    classes: tuple[WeightedClass, ...]
    surfaces: tuple[WeightedClass, ...]
    postures: tuple[WeightedClass, ...]

    code = "counted"
    title = "Counted work"
    unit = "weighted count"
    level = Level.EXTERNAL
    source = Source.COUNTED
    published = "Weights by the squad's own judgement"
    systems = (System.TENDON_BONE,)

    @classmethod
    def from_settings(cls, settings: Mapping[str, Any]) -> Self:
        return cls(
            places_of(settings),
            classes_of(settings, "classes", "class", least=1),
            classes_of(settings, "surfaces", "surface", least=0),
            classes_of(settings, "postures", "posture", least=0),
        )

    def formula(self) -> str:
        parts = [f"Repetitions × class weight ({weights_said(self.classes)})"]
        if self.surfaces:
            parts.append(f"surface weight ({weights_said(self.surfaces)})")
        if self.postures:
            parts.append(f"posture weight ({weights_said(self.postures)})")
        return " × ".join(parts) + ", added up."

    @property
    def hardest(self) -> tuple[str, float] | None:
        top = max(self.classes, key=lambda each: each.weight)
        return (top.name.lower(), top.weight) if top.weight > 0 else None

    def loads(self, counts: Counts, count: int) -> Floats:
        """Load of each of ``count`` entries, shape (count,); nan where none of its repetitions are of this channel."""
        of_class = {each.code: each.weight for each in self.classes}
        weight = np.array([of_class.get(code, np.nan) for code in counts.of_class], dtype=np.float64)
        for given, wanted in ((counts.surface, self.surfaces), (counts.posture, self.postures)):
            factors = {each.code: each.weight for each in wanted}
            if factors:
                weight = weight * np.array([factors.get(code or "", 1.0) for code in given], dtype=np.float64)
        mine = ~np.isnan(weight)
        owner = counts.owner[mine]
        load = np.bincount(owner, weights=(weight * counts.count)[mine], minlength=count)
        seen = np.bincount(owner, minlength=count) > 0
        return np.where(seen, load, np.nan)

"""What every kind of notice shares: its words, who may see it, its settings, and the desk it looks at."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import ClassVar

import numpy as np

from uvren.core.audience import Audience
from uvren.core.day import Desk
from uvren.core.errors import BadSetting
from uvren.core.windows import Floats


class Severity(StrEnum):
    """How much a notice asks for. Drawn as outline, half and solid."""

    NOTE = "note"
    WATCH = "watch"
    ACT = "act"

    @property
    def rank(self) -> int:
        """0 for the most pressing."""
        return _ORDER[self]


_ORDER = {Severity.ACT: 0, Severity.WATCH: 1, Severity.NOTE: 2}


class Shape(StrEnum):
    """The notch a notice is drawn as."""

    OVER = "over"
    UNDER = "under"
    WAVE = "wave"
    GAP = "gap"
    LINK = "link"


class Cause(StrEnum):
    """What a notice is about; an athlete's notices of one cause are one story."""

    LOAD = "load"
    BASE = "base"
    REPORTS = "reports"
    TESTS = "tests"
    CLINICAL = "clinical"
    DATA = "data"
    REVIEW = "review"


class Strand(StrEnum):
    """What a notice is about: a person's state, a plan against its limits, or neither.

    What finds no more than chance by itself stands beside: it is read in the evidence, and puts nobody on the list.
    """

    STATE = "state"
    PLAN = "plan"
    BESIDE = "beside"


@dataclass(frozen=True)
class Setting:
    """A number that a kind of notice can be tuned by."""

    key: str
    name: str
    default: float
    low: float
    high: float
    unit: str = ""
    # Whether it is one for the whole squad.
    of_squad: bool = False


@dataclass(frozen=True)
class Notice:
    """Something a rule found about one athlete. ``limit`` is the key of the limit behind it, if any.

    ``about`` tells notices of one kind apart, such as the name of a test.
    """

    code: str
    shape: Shape
    severity: Severity
    title: str
    sentence: str
    clears: str
    limit: str | None = None
    figure: float | None = None
    value: float | None = None
    about: str = ""

    @property
    def key(self) -> str:
        """The same from day to day while the same thing is found."""
        return ":".join(filter(None, (self.code, self.limit, self.about)))


# A squad can have what stands beside on its list after all.
LISTED = Setting("listed", "Stands on the list (1 for yes)", 0, 0, 1)


class NoticeKind(ABC):
    """One kind of notice: its rule, its words and what the method page says of it."""

    code: ClassVar[str]
    # As the settings and the method page name it.
    name: ClassVar[str]
    # When it is found, in words; numbers that can be set stand in braces.
    rule: ClassVar[str]
    # What would clear it, in general.
    cleared: ClassVar[str]
    source: ClassVar[str]
    cause: ClassVar[Cause]
    strand: ClassVar[Strand]
    severities: ClassVar[tuple[Severity, ...]]
    audience: ClassVar[Audience] = Audience.DESK
    settings: ClassVar[tuple[Setting, ...]] = ()
    # Whether it has a meaning for every channel, or for the main one alone.
    every_channel: ClassVar[bool] = False
    # Whether it is about the day itself, so that it is not new merely because the day is.
    of_the_day: ClassVar[bool] = False

    @abstractmethod
    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        """(row, notice) for each one found."""

    def setting(self, desk: Desk, key: str) -> Floats:
        """The number in force for each row."""
        default = next(one.default for one in self.settings if one.key == key)
        return desk.tuning.values.get((self.code, key), np.full(desk.rows, default))

    def said_rule(self) -> str:
        """The rule with its usual numbers."""
        return self.rule.format(**{one.key: f"{one.default:g}" for one in self.settings})

    def check(self, values: Mapping[str, float]) -> None:
        """Raises BadSetting, with the field at fault, for settings that make no sense."""
        known = {one.key: one for one in self.settings}
        for key, value in values.items():
            one = known.get(key)
            if one is None:
                raise BadSetting(f"{self.name} has no setting {key!r}.", field=f"values.{key}")
            if not one.low <= value <= one.high:
                raise BadSetting(
                    f"{one.name} is {one.low:g} to {one.high:g}{' ' + one.unit if one.unit else ''}.",
                    field=f"values.{key}",
                )

"""What every kind of notice shares: its words, who may see it, its settings, and the desk it looks at."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from enum import StrEnum
from functools import cached_property
from typing import ClassVar

import numpy as np

from uvren.core.errors import BadSetting
from uvren.core.limits.base import Rule
from uvren.core.limits.room import Room, rooms_of
from uvren.core.loads import DailyLoads
from uvren.core.notices.facts import Facts
from uvren.core.recovery import Work
from uvren.core.terms import Terms
from uvren.core.windows import Bools, Floats, Ints
from uvren.core.workload import DEFAULTS, Settings, Workload

REST_DAYS = 14


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


class Audience(StrEnum):
    """Who may read a notice: everyone at the desk, who may read reports, or who may read clinical detail."""

    DESK = "desk"
    REPORTS = "reports"
    CLINICAL = "clinical"


@dataclass(frozen=True)
class Setting:
    """A number that a kind of notice can be tuned by."""

    key: str
    name: str
    default: float
    low: float
    high: float
    unit: str = ""


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


@dataclass(frozen=True)
class Tuning:
    """Settings other than the usual ones, by row: which kinds are off, and numbers by (code, key)."""

    off: Mapping[str, Bools] = field(default_factory=dict)
    values: Mapping[tuple[str, str], Floats] = field(default_factory=dict)


@dataclass(frozen=True)
class Desk:
    """A squad's channel on the morning of ``as_of``: one row an athlete.

    ``done`` ends on ``as_of`` and holds what is recorded of it so far; ``planned`` is the same with the plan in
    place of what is not done yet, through the last planned day. ``hard`` and ``advisory`` are the limits, their values
    laid out over the days of ``planned``. ``terms`` says loads as each athlete knows them. Of a channel other than the
    ``main`` one only what holds for any channel makes notices. ``facts`` is what is known beside loads. ``work`` is
    every kind of work, columns as of ``planned``, for what one of them leaves to another; ``beginner`` tells the rows
    of those in their first half year of training. On a ``morning`` gone by nothing of the day itself was recorded yet,
    whatever ``done`` holds of it now.
    """

    as_of: date
    done: DailyLoads
    planned: DailyLoads
    hard: tuple[Rule, ...]
    advisory: tuple[Rule, ...]
    terms: Terms
    settings: Settings = DEFAULTS
    main: bool = True
    facts: Facts | None = None
    work: tuple[Work, ...] = ()
    beginner: Bools | None = None
    morning: bool = False
    tuning: Tuning = field(default_factory=Tuning)

    def before(self) -> Desk:
        """The desk of the morning before, as far as it can be told from what is known now."""
        facts = self.facts.before() if self.facts else None
        earlier = replace(self, as_of=self.as_of - timedelta(days=1), facts=facts, morning=True)
        # A figure of a day rests on that day and those before it: what is worked out for today holds for yesterday too.
        for name in ("now", "ahead", "resting", "_broken", "_of_rules"):
            earlier.__dict__[name] = getattr(self, name)
        return earlier

    @property
    def rows(self) -> int:
        return int(self.done.load.shape[0])

    @cached_property
    def today(self) -> int:
        return self.done.column(self.as_of)

    @cached_property
    def now(self) -> Workload:
        return Workload(self.done, self.settings)

    @cached_property
    def ahead(self) -> Workload:
        return Workload(self.planned, self.settings)

    @cached_property
    def resting(self) -> Workload:
        """The days ahead with nothing at all done in them."""
        rest = np.concatenate([self.done.load, np.zeros((self.rows, REST_DAYS))], axis=1)
        return Workload(DailyLoads(self.done.first_day, rest, self.done.start), self.settings)

    @cached_property
    def plan_today(self) -> Floats:
        """Load still planned for today, beside what is recorded of it."""
        return self.planned.values[:, self.today] - self.done.values[:, self.today]

    @cached_property
    def rooms(self) -> list[Room]:
        each = [self.room_left(rule)[:, self.today] for rule in self.hard]
        return rooms_of(self.hard, np.array(each).reshape(len(self.hard), self.rows))

    @cached_property
    def judged(self) -> Ints:
        """Column each row was last judged on: today where something is recorded of it, else yesterday."""
        if self.morning:
            return np.full(self.rows, max(self.today - 1, 0))
        recorded = (self.done.values[:, self.today] > 0) | self.done.missing[:, self.today]
        return np.where(recorded, self.today, max(self.today - 1, 0))

    def at_judged(self, values: np.ndarray) -> np.ndarray:
        return values[np.arange(values.shape[0]), self.judged]

    @cached_property
    def _of_rules(self) -> dict[tuple[str, str], np.ndarray]:
        return {}

    def _once(self, what: str, rule: Rule, found: Callable[[Rule, Workload], np.ndarray]) -> np.ndarray:
        """Several kinds of notice ask the same of a limit; it is worked out for the first."""
        key = (what, rule.key)
        if key not in self._of_rules:
            self._of_rules[key] = found(fitted(rule, self.done), self.now)
        return self._of_rules[key]

    def figure(self, rule: Rule) -> Floats:
        """The number a limit looks at, of what is done, rows x days."""
        return self._once("figure", rule, lambda one, work: one.figure(work))

    def speaks(self, rule: Rule) -> Bools:
        """Where a limit is in force and its figure can be trusted, of what is done, rows x days."""
        return self._once("speaks", rule, lambda one, work: one.speaks(work))

    def room_left(self, rule: Rule) -> Floats:
        """What one limit leaves of each day as it is done, rows x days; inf where it does not bind."""
        return self._once("room", rule, lambda one, work: np.where(self.speaks(rule), one.load_left(work), np.inf))

    @cached_property
    def _broken(self) -> dict[tuple[str, bool], Bools]:
        return {}

    def broken(self, rule: Rule, *, with_plan: bool = False) -> Bools:
        """Where a limit speaks and does not hold, rows x days; of what is done, or with the plan kept."""
        key = (rule.key, with_plan)
        if key not in self._broken:
            loads, work = (self.planned, self.ahead) if with_plan else (self.done, self.now)
            self._broken[key] = fitted(rule, loads).broken(work)
        return self._broken[key]


def fitted(rule: Rule, loads: DailyLoads) -> Rule:
    """The rule with its dated values cut, or its last ones held on, to the days of ``loads``."""
    if rule.value.ndim < 2 or rule.value.shape[1] == loads.days:
        return rule
    columns = np.minimum(np.arange(loads.days), rule.value.shape[1] - 1)
    return rule.with_value(rule.value[:, columns])


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

"""A squad on the morning of a day: loads, limits, what is planned, and what is known beside it."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from functools import cached_property

import numpy as np

from uvren.core.day.facts import Facts
from uvren.core.day.room import DayRoom, Unrated, day_rooms, fitted
from uvren.core.limits.base import Rule
from uvren.core.limits.room import Room
from uvren.core.loads import DailyLoads
from uvren.core.recovery import Work
from uvren.core.terms import Terms
from uvren.core.windows import Bools, Floats, Ints
from uvren.core.workload import APP, Settings, Workload
from uvren.core.worn import Sources, sources

REST_DAYS = 14


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
    whatever ``done`` holds of it now. ``unrated`` is what of the loads is not known, ``declared`` the usual week load
    that somebody has said (nan for none).
    """

    as_of: date
    done: DailyLoads
    planned: DailyLoads
    hard: tuple[Rule, ...]
    advisory: tuple[Rule, ...]
    terms: Terms
    settings: Settings = APP
    main: bool = True
    facts: Facts | None = None
    work: tuple[Work, ...] = ()
    beginner: Bools | None = None
    morning: bool = False
    unrated: Unrated | None = None
    declared: Floats | None = None
    tuning: Tuning = field(default_factory=Tuning)

    def before(self) -> Desk:
        """The desk of the morning before, as far as it can be told from what is known now."""
        facts = self.facts.before() if self.facts else None
        earlier = replace(self, as_of=self.as_of - timedelta(days=1), facts=facts, morning=True, unrated=None)
        # A figure of a day rests on that day and those before it: what is worked out for today holds for yesterday too.
        for name in ("now", "ahead", "resting", "_broken", "_of_rules"):
            earlier.__dict__[name] = getattr(self, name)
        if facts is not None:
            # The same to the day: what a morning rests on came before it.
            earlier.__dict__["sources"] = self.sources.part(0, facts.daily.shape[2])
        return earlier

    @cached_property
    def sources(self) -> Sources:
        """What speaks of somebody worn, rows x the days of ``facts``. Needs facts."""
        facts = self.facts
        assert facts is not None
        done = facts.sessions
        column = done.day - (facts.as_of.toordinal() - facts.daily.shape[2] + 1)
        loads = self.done.values[:, : self.today + 1]
        return sources(facts.daily, facts.worse, facts.floors, facts.in_force.variance, done.row, column, done.kind,
                       done.planned, done.effort, loads)  # fmt: skip

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
        return Workload(DailyLoads(self.done.first_day, rest, self.done.start, before=self.done.before), self.settings)

    @cached_property
    def plan_today(self) -> Floats:
        """Load still planned for today, beside what is recorded of it."""
        return self.planned.values[:, self.today] - self.done.values[:, self.today]

    @cached_property
    def day_rooms(self) -> list[DayRoom]:
        """Room of each row today, with what stands in where limits are silent."""
        return self.rooms_today()

    def rooms_today(self, *, used_up: bool | Bools = True) -> list[DayRoom]:
        """:attr:`day_rooms`, or without asking (of some rows) that a room also holds when it is used up."""
        declared = np.full(self.rows, np.nan) if self.declared is None else self.declared
        rules = [fitted(rule, self.done) for rule in self.hard]
        nothing = "say the usual week first" if self.main else "not enough history"
        return day_rooms(self.now, rules, declared, self.unrated, nothing, used_up=used_up)

    @property
    def rooms(self) -> list[Room]:
        return [one.room for one in self.day_rooms]

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

"""A plan to be solved: days ahead, sessions, who is in them, limits and what is wanted."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from functools import cached_property

from uvren.core.errors import BadPlan

LONGEST = 28
# What a level of the objective may weigh.
PARTS = ("squad", "own", "touched", "own_touched", "target")
Level = Mapping[str, float]
LEVELS: tuple[Level, ...] = ({"squad": 1.0}, {"own": 1.0}, {"touched": 1.0, "own_touched": 1.0})


@dataclass(frozen=True)
class PlanAthlete:
    """Somebody in the plan: what a change for them weighs, and whether they may have minutes of their own."""

    id: str
    weight: float = 1.0
    split: bool = True


@dataclass(frozen=True)
class Own:
    """What a session is for one athlete: load a minute by channel, and which share of its minutes they take part."""

    load: Mapping[str, float] = field(default_factory=dict)
    share: float = 1.0
    split: bool = True


@dataclass(frozen=True)
class Split:
    """Athletes may have their own minutes in a session: none, or at least so many, in steps or all of them."""

    least: float
    step: float | None = None


@dataclass(frozen=True)
class PlanSession:
    """A session as the coach plans it, and what of it may change.

    ``moves`` are other starts it may have, a move costs ``move_minutes``. ``load`` is a minute's, by channel;
    ``effort`` 0 to 10 and ``open``, the share of open play, None where nobody said. 0 minutes planned are an offer.
    """

    id: str
    start: datetime
    minutes: float
    kind: str = ""
    who: frozenset[str] | None = None
    least: float | None = None
    most: float | None = None
    step: float | None = None
    drop: bool = False
    moves: tuple[datetime, ...] = ()
    move_minutes: float = 30.0
    weight: float = 1.0
    load: Mapping[str, float] = field(default_factory=dict)
    own: Mapping[str, Own] = field(default_factory=dict)
    split: Split | None = None
    heavy: frozenset[str] = frozenset()
    effort: float | None = None
    open: float | None = None

    @property
    def shortest(self) -> float:
        return self.minutes if self.least is None else self.least

    @property
    def longest(self) -> float:
        return self.minutes if self.most is None else self.most

    @property
    def may_fall_out(self) -> bool:
        return self.drop or self.minutes == 0

    @property
    def starts(self) -> tuple[datetime, ...]:
        """Where it may stand, as planned first."""
        return (self.start, *self.moves)

    def load_of(self, athlete: str, channel: str) -> float:
        """Load a minute of an athlete's own minutes."""
        own = self.own.get(athlete)
        if own is not None and channel in own.load:
            return own.load[channel]
        return self.load.get(channel, 0.0)

    def share_of(self, athlete: str) -> float:
        return self.own[athlete].share if athlete in self.own else 1.0

    def for_(self, athlete: str) -> bool:
        return self.who is None or athlete in self.who

    def splits_for(self, athlete: PlanAthlete) -> bool:
        own = self.own.get(athlete.id)
        return self.split is not None and athlete.split and (own is None or own.split)


@dataclass(frozen=True)
class Heavy:
    """A session behind the plan that was heavy for body systems, of some or (None) of all."""

    end: datetime
    systems: frozenset[str]
    who: frozenset[str] | None = None


@dataclass(frozen=True)
class PlanLimit:
    """A limit that applies as it stands, to some or (None) to all, judged from one day to another.

    ``firm`` ones give way last. ``settings`` are a rule's own, such as ``school``, ``over``, ``system`` or ``allow``.
    """

    id: str
    rule: str
    value: float | None = None
    channel: str | None = None
    athletes: frozenset[str] | None = None
    first: date | None = None
    last: date | None = None
    hard: bool = True
    firm: bool = False
    settings: Mapping[str, object] = field(default_factory=dict)

    def judges(self, day: date) -> bool:
        return (self.first is None or self.first <= day) and (self.last is None or day <= self.last)

    def is_for(self, athlete: str) -> bool:
        return self.athletes is None or athlete in self.athletes


@dataclass(frozen=True)
class Target:
    """A load that is wanted of some days, which may reach back into the history; being off weighs."""

    channel: str
    first: date
    last: date
    load: float
    weight: float = 1.0
    athletes: frozenset[str] | None = None


@dataclass(frozen=True)
class Problem:
    """What is to be solved. Raises BadPlan, with the field at fault, for what makes no sense."""

    as_of: date
    days: int
    channels: tuple[str, ...]
    athletes: tuple[PlanAthlete, ...]
    sessions: tuple[PlanSession, ...]
    limits: tuple[PlanLimit, ...] = ()
    targets: tuple[Target, ...] = ()
    done: tuple[Heavy, ...] = ()
    levels: tuple[Level, ...] = LEVELS

    def __post_init__(self) -> None:
        if not 1 <= self.days <= LONGEST:
            raise BadPlan(f"a plan has 1 to {LONGEST} days, not {self.days}", field="days")
        for name, ids in (
            ("athletes", [one.id for one in self.athletes]),
            ("sessions", [one.id for one in self.sessions]),
            ("limits", [one.id for one in self.limits]),
            ("channels", list(self.channels)),
        ):
            twice = next((one for one in ids if ids.count(one) > 1), None)
            if twice is not None:
                raise BadPlan(f"{name}: {twice!r} stands there twice", field=name)
        for session in self.sessions:
            self._check_session(session)
        for limit in self.limits:
            self._check_limit(limit)
        for target in self.targets:
            self._check_channel(target.channel, "targets")
        for level in self.levels:
            unknown = set(level) - set(PARTS)
            if unknown or not level or any(weight < 0 for weight in level.values()):
                raise BadPlan(f"a level weighs {', '.join(PARTS)}, each 0 or more", field="levels")

    @cached_property
    def horizon(self) -> tuple[date, ...]:
        return tuple(self.as_of + timedelta(days=i + 1) for i in range(self.days))

    def day(self, moment: datetime) -> int:
        """The place of a moment's written day in the horizon."""
        return (moment.date() - self.as_of).days - 1

    def _check_session(self, one: PlanSession) -> None:
        def wrong(said: str) -> BadPlan:
            return BadPlan(f"session {one.id!r}: {said}", field="sessions")

        numbers = (one.minutes, one.shortest, one.longest, one.weight, one.move_minutes, *one.load.values())
        if not all(math.isfinite(number) and number >= 0 for number in numbers):
            raise wrong("minutes, loads and weights are numbers, 0 or more")
        if one.shortest > one.longest:
            raise wrong(f"its least minutes ({one.shortest:g}) are more than its most ({one.longest:g})")
        if (one.step is not None and one.step <= 0) or (one.split is not None and (one.split.step or 1) <= 0):
            raise wrong("a step is above 0")
        if any(start.tzinfo is None for start in one.starts):
            raise wrong("a start needs its offset from UTC, such as 2026-03-09T17:00+01:00")
        outside = next((start for start in one.starts if not 0 <= self.day(start) < self.days), None)
        if outside is not None:
            raise wrong(f"{outside.date()} is none of the days planned")
        if one.step is not None and not one.may_fall_out and not _multiple_within(one):
            raise wrong(f"no multiple of {one.step:g} lies in its {one.shortest:g} to {one.longest:g} minutes")
        for channel in {*one.load, *(channel for own in one.own.values() for channel in own.load)}:
            self._check_channel(channel, "sessions")
        self._check_people((*(one.who or ()), *one.own), "sessions")

    def _check_limit(self, limit: PlanLimit) -> None:
        if limit.channel is not None:
            self._check_channel(limit.channel, "limits")
        self._check_people(limit.athletes or (), "limits")
        if limit.rule != "gate" and (limit.value is None or not math.isfinite(limit.value)):
            raise BadPlan(f"limit {limit.id!r}: its value is a number", field="limits")

    def _check_channel(self, channel: str, where: str) -> None:
        if channel not in self.channels:
            raise BadPlan(f"{where}: there is no channel {channel!r}", field=where)

    def _check_people(self, ids: Sequence[str] | frozenset[str], where: str) -> None:
        known = {one.id for one in self.athletes}
        unknown = next((one for one in ids if one not in known), None)
        if unknown is not None:
            raise BadPlan(f"{where}: there is no athlete {unknown!r}", field=where)


def _multiple_within(session: PlanSession) -> bool:
    step = session.step or 1.0
    return math.ceil(session.shortest / step - 1e-9) * step <= session.longest + 1e-9

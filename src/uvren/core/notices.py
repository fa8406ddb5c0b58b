"""Notices: what the rules found, each with its evidence, its words and what would clear it.

One class for each kind of notice. A notice is evidence for a qualified person, never a prediction.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from functools import cached_property
from typing import ClassVar

import numpy as np

from uvren.core import words
from uvren.core.limits.base import Rule, Unit
from uvren.core.limits.room import Room, room_on
from uvren.core.loads import DailyLoads
from uvren.core.terms import Terms
from uvren.core.windows import Floats, Ints
from uvren.core.workload import DEFAULTS, Settings, Withheld, Workload

NEAR = 0.95
REST_DAYS = 14
LOOK_BACK = 7
# Up to this share of the plan, a plan over room is something to watch: it is within what a session varies by.
SMALL_SHARE = 0.1


class Severity(StrEnum):
    """How much a notice asks for. Drawn as outline, half and solid."""

    NOTE = "note"
    WATCH = "watch"
    ACT = "act"

    @property
    def rank(self) -> int:
        """0 for the most pressing."""
        return _ORDER[self]


class Shape(StrEnum):
    """The notch a notice is drawn as."""

    OVER = "over"
    UNDER = "under"
    GAP = "gap"
    LINK = "link"


@dataclass(frozen=True)
class Notice:
    """Something a rule found about one athlete. ``limit`` is the key of the limit behind it, if any."""

    code: str
    shape: Shape
    severity: Severity
    title: str
    sentence: str
    clears: str
    limit: str | None = None
    figure: float | None = None
    value: float | None = None


@dataclass(frozen=True)
class Desk:
    """A squad's channel on the morning of ``as_of``: one row an athlete.

    ``done`` ends on ``as_of`` and holds what is recorded of it so far; ``planned`` is the same with the plan in
    place of what is not done yet, through the last planned day. ``hard`` and ``advisory`` are the limits, their values
    laid out over the days of ``planned``. ``terms`` says loads as each athlete knows them. Of a channel other than the
    ``main`` one only its limits make notices.
    """

    as_of: date
    done: DailyLoads
    planned: DailyLoads
    hard: tuple[Rule, ...]
    advisory: tuple[Rule, ...]
    terms: Terms
    settings: Settings = DEFAULTS
    main: bool = True

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
        rows = self.done.load.shape[0]
        rest = np.concatenate([self.done.load, np.zeros((rows, REST_DAYS))], axis=1)
        return Workload(DailyLoads(self.done.first_day, rest, self.done.start), self.settings)

    @cached_property
    def plan_today(self) -> Floats:
        """Load still planned for today, beside what is recorded of it."""
        return self.planned.values[:, self.today] - self.done.values[:, self.today]

    @cached_property
    def rooms(self) -> list[Room]:
        return room_on(self.now, [fitted(rule, self.done) for rule in self.hard], self.as_of)

    @cached_property
    def judged(self) -> Ints:
        """Column each row was last judged on: today where something is recorded of it, else yesterday."""
        recorded = (self.done.values[:, -1] > 0) | self.done.missing[:, -1]
        return np.where(recorded, self.today, max(self.today - 1, 0))

    def at_judged(self, values: np.ndarray) -> np.ndarray:
        return values[np.arange(values.shape[0]), self.judged]


def fitted(rule: Rule, loads: DailyLoads) -> Rule:
    """The rule with its dated values cut, or its last ones held on, to the days of ``loads``."""
    if rule.value.ndim < 2 or rule.value.shape[1] == loads.days:
        return rule
    columns = np.minimum(np.arange(loads.days), rule.value.shape[1] - 1)
    return rule.with_value(rule.value[:, columns])


class NoticeKind(ABC):
    """One kind of notice."""

    code: ClassVar[str]
    # Whether it looks at limits alone, and so has a meaning for every channel.
    of_limits: ClassVar[bool] = True

    @abstractmethod
    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        """(row, notice) for each one found."""


def _each_limit(desk: Desk) -> Iterator[tuple[Rule, bool]]:
    yield from ((rule, True) for rule in desk.hard)
    yield from ((rule, False) for rule in desk.advisory)


class LimitBroken(NoticeKind):
    """The last judged day is over a ceiling."""

    code = "limit_broken"

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        for full, hard in _each_limit(desk):
            if full.floor:
                continue
            rule = fitted(full, desk.done)
            broken = desk.at_judged(rule.broken(desk.now))
            if not broken.any():
                continue
            figure = desk.at_judged(rule.figure(desk.now))
            value = desk.at_judged(np.broadcast_to(rule.value, desk.done.load.shape))
            left = rule.room(desk.now)[:, desk.today]
            for row in np.flatnonzero(broken):
                yield (
                    int(row),
                    Notice(
                        code=self.code,
                        shape=Shape.OVER,
                        severity=Severity.ACT if hard else Severity.WATCH,
                        title=rule.title,
                        sentence=rule.sentence(float(figure[row]), float(value[row])),
                        clears=self._clears(desk, full, int(row), float(left[row])),
                        limit=rule.key,
                        figure=float(figure[row]),
                        value=float(value[row]),
                    ),
                )

    @staticmethod
    def _clears(desk: Desk, rule: Rule, row: int, left: float) -> str:
        if left > 0 and np.isfinite(left):
            return f"Clears tonight if today adds {words.number(np.floor(left))} or less."
        if left == np.inf:
            return "Clears tonight on its own."
        still = fitted(rule, desk.resting.loads).broken(desk.resting)[row, desk.today :]
        if still[0] and still.all():
            return f"Does not clear within {REST_DAYS} days, even with rest."
        day = desk.resting.loads.date_of(desk.today + int(np.argmin(still)))
        return f"With rest from today it clears on {words.day(day)}."


class LimitNear(NoticeKind):
    """The last judged day is within 5 % of a limit, or one day short of a limit on days."""

    code = "limit_near"

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        for full, _hard in _each_limit(desk):
            if full.floor or full.unit in (Unit.SHARE, Unit.PLAIN):
                continue
            rule = fitted(full, desk.done)
            value = desk.at_judged(np.broadcast_to(rule.value, desk.done.load.shape))
            figure = desk.at_judged(rule.figure(desk.now))
            speaks = desk.at_judged(rule.speaks(desk.now) & ~rule.broken(desk.now))
            reach = value if rule.unit is Unit.DAYS else value * NEAR
            with np.errstate(invalid="ignore"):
                near = speaks & (figure >= reach)
            left = rule.room(desk.now)[:, desk.today]
            for row in np.flatnonzero(near):
                room = "no room" if left[row] <= 0 else f"room for {words.number(left[row])}"
                yield (
                    int(row),
                    Notice(
                        code=self.code,
                        shape=Shape.OVER,
                        severity=Severity.NOTE,
                        title=rule.title,
                        sentence=rule.sentence(float(figure[row]), float(value[row])),
                        clears=f"Nearly reached: it leaves {room} today."
                        if np.isfinite(left[row])
                        else "Nearly reached; it does not bind today.",
                        limit=rule.key,
                        figure=float(figure[row]),
                        value=float(value[row]),
                    ),
                )


class UnderFloor(NoticeKind):
    """The last judged day is under a floor."""

    code = "under_floor"

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        for full, hard in _each_limit(desk):
            if not full.floor:
                continue
            rule = fitted(full, desk.done)
            broken = desk.at_judged(rule.broken(desk.now))
            figure = desk.at_judged(rule.figure(desk.now))
            value = desk.at_judged(np.broadcast_to(rule.value, desk.done.load.shape))
            ahead = fitted(full, desk.planned).broken(desk.ahead)[:, desk.today :]
            for row in np.flatnonzero(broken):
                if ahead[row].all():
                    clears = "The plan ahead does not reach it."
                else:
                    day = desk.planned.date_of(desk.today + int(np.argmin(ahead[row])))
                    clears = f"With the plan kept it clears on {words.day(day)}."
                yield (
                    int(row),
                    Notice(
                        code=self.code,
                        shape=Shape.UNDER,
                        severity=Severity.ACT if hard else Severity.WATCH,
                        title=rule.title,
                        sentence=rule.sentence(float(figure[row]), float(value[row])),
                        clears=clears,
                        limit=rule.key,
                        figure=float(figure[row]),
                        value=float(value[row]),
                    ),
                )


class PlanOverRoom(NoticeKind):
    """Today's plan asks for more than the room there is."""

    code = "plan_over_room"

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        for row, room in enumerate(desk.rooms):
            plan = float(desk.plan_today[row])
            if room.load is None or plan <= room.load + 0.5:
                continue
            over = plan - room.load
            yield (
                row,
                Notice(
                    code=self.code,
                    shape=Shape.OVER,
                    severity=Severity.ACT if over > SMALL_SHARE * plan else Severity.WATCH,
                    title="Today's plan",
                    sentence=(
                        f"Today's plan is {words.number(plan)}; room is {words.number(room.load)}, "
                        f"so the plan is {words.number(over)} too much."
                    ),
                    clears=f"Clears with {desk.terms.less(over, row)} off today's plan.",
                    limit=room.binding[0],
                    figure=plan,
                    value=room.load,
                ),
            )


class PlannedDayBreaks(NoticeKind):
    """With the plan kept, a coming day breaks a limit that holds now."""

    code = "planned_break"

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        for full, hard in _each_limit(desk):
            if full.floor:
                continue
            rule = fitted(full, desk.planned)
            now = desk.at_judged(rule.broken(desk.ahead))
            broken = rule.broken(desk.ahead)
            coming = broken[:, desk.today + 1 :]
            figure = rule.figure(desk.ahead)
            value = np.broadcast_to(rule.value, figure.shape)
            for row in np.flatnonzero(coming.any(axis=1) & ~now & ~broken[:, desk.today]):
                column = desk.today + 1 + int(np.argmax(coming[row]))
                days = words.count(int(coming[row].sum()), "planned day")
                yield (
                    int(row),
                    Notice(
                        code=self.code,
                        shape=Shape.OVER,
                        severity=Severity.WATCH if hard else Severity.NOTE,
                        title=rule.title,
                        sentence=(
                            f"With the plan kept, on {words.day(desk.planned.date_of(column))}: "
                            + rule.sentence(float(figure[row, column]), float(value[row, column]))
                        ),
                        clears=f"{days} over; clears when the plan before it is lighter.",
                        limit=rule.key,
                        figure=float(figure[row, column]),
                        value=float(value[row, column]),
                    ),
                )


class ReportMissing(NoticeKind):
    """A session of the last 7 days has no rating: unknown, or estimated."""

    code = "rating_missing"
    of_limits = False

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        begin = max(desk.today - LOOK_BACK, 0)
        missing = desk.done.missing[:, begin:]
        for row in np.flatnonzero(missing.any(axis=1)):
            days = [desk.done.date_of(begin + int(c)) for c in np.flatnonzero(missing[row])]
            yield (
                int(row),
                Notice(
                    code=self.code,
                    shape=Shape.GAP,
                    severity=Severity.WATCH,
                    title="Rating missing",
                    sentence=(
                        f"No rating for {_list(days)}, and nothing to estimate it from. "
                        "It is not counted as rest, so week load cannot be said."
                    ),
                    clears="Clears when the rating is entered.",
                ),
            )
        if desk.done.estimated is None:
            return
        guessed = desk.done.estimated[:, begin:]
        for row in np.flatnonzero((guessed > 0).any(axis=1)):
            columns = np.flatnonzero(guessed[row] > 0)
            days = [desk.done.date_of(begin + int(c)) for c in columns]
            total = float(guessed[row].sum())
            yield (
                int(row),
                Notice(
                    code="rating_estimated",
                    shape=Shape.GAP,
                    severity=Severity.NOTE,
                    title="Rating estimated",
                    sentence=f"No rating for {_list(days)}; {words.number(total)} is an estimate.",
                    clears="Clears when the rating is entered.",
                ),
            )


class RatioWithheld(NoticeKind):
    """The ratio is not given, and why."""

    code = "ratio_withheld"
    of_limits = False

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        work, settings = desk.now, desk.settings
        reasons = desk.at_judged(work.withheld)
        age = desk.at_judged(desk.done.age)
        for row, reason in enumerate(reasons):
            if reason == Withheld.HISTORY:
                known = max(int(age[row]), 0)
                yield (
                    row,
                    self._notice(
                        Shape.GAP,
                        f"Not enough history: {known} of {settings.history_days} days. "
                        "Limits on the ratio rest until then.",
                        f"Clears after {words.count(settings.history_days - known, 'more day')}.",
                    ),
                )
            elif reason == Withheld.REBUILD:
                yield (
                    row,
                    self._notice(
                        Shape.LINK,
                        f"Base load is under {words.percent(settings.rebuild_share)} of the highest of the last "
                        "year, too little to compare with. A ratio would mislead; the return to training decides.",
                        "Clears when the base is rebuilt.",
                    ),
                )
            elif reason == Withheld.ESTIMATED:
                share = desk.at_judged(work.loads.estimated_share(settings.chronic_days))[row]
                yield (
                    row,
                    self._notice(
                        Shape.GAP,
                        f"{words.percent(share)} of the load of the last {settings.chronic_days} days is estimated; "
                        f"over {words.percent(settings.estimated_share)} no ratio is given.",
                        "Clears when enough ratings are entered.",
                    ),
                )

    def _notice(self, shape: Shape, sentence: str, clears: str) -> Notice:
        return Notice(self.code, shape, Severity.WATCH, "Ratio withheld", sentence, clears)


def _list(days: list[date]) -> str:
    texts = [words.day(day) for day in days]
    return texts[0] if len(texts) == 1 else ", ".join(texts[:-1]) + " and " + texts[-1]


KINDS: tuple[NoticeKind, ...] = (
    LimitBroken(),
    PlanOverRoom(),
    UnderFloor(),
    RatioWithheld(),
    PlannedDayBreaks(),
    ReportMissing(),
    LimitNear(),
)

_ORDER = {Severity.ACT: 0, Severity.WATCH: 1, Severity.NOTE: 2}


def notices_for(desk: Desk) -> list[list[Notice]]:
    """Every notice of each row, most pressing first. One list a row, empty for a row with nothing."""
    found: list[list[Notice]] = [[] for _ in range(desk.done.load.shape[0])]
    for kind in KINDS:
        if not desk.main and not kind.of_limits:
            continue
        for row, notice in kind.find(desk):
            if desk.done.start[row] <= desk.today:
                found[row].append(notice)
    for row, notices in enumerate(found):
        found[row] = sorted(notices, key=lambda notice: notice.severity.rank)
    return found


def needs(notices: list[Notice]) -> str:
    """Which part of the morning an athlete belongs to: ``call``, ``watch`` or ``plan``."""
    severities = {notice.severity for notice in notices}
    if Severity.ACT in severities:
        return "call"
    return "watch" if Severity.WATCH in severities else "plan"

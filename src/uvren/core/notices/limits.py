"""Notices of limits: broken, nearly reached, not reached, and broken by what is planned."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from uvren.core import words
from uvren.core.day import REST_DAYS, Desk, fitted
from uvren.core.limits.base import Rule, Unit
from uvren.core.notices.base import Cause, Notice, NoticeKind, Setting, Severity, Shape, Strand

_SOURCE = "Limits as the squad has set them, each with its own source."


def _each_limit(desk: Desk) -> Iterator[tuple[Rule, bool]]:
    yield from ((rule, True) for rule in desk.hard)
    yield from ((rule, False) for rule in desk.advisory)


class LimitBroken(NoticeKind):
    """The last judged day is over a ceiling."""

    code = "limit_broken"
    name = "Limit broken"
    rule = (
        "The last judged day is over a ceiling in force: of a hard one the plan needs a change, an advisory one is "
        "watched. Where today's plan as it stands clears it, it is a line in the evidence."
    )
    cleared = "Less load, or time: the sentence says which load today still clears it, or on which day rest does."
    source = _SOURCE
    cause = Cause.LOAD
    strand = Strand.PLAN
    severities = (Severity.ACT, Severity.WATCH, Severity.NOTE)
    every_channel = True

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        for full, hard in _each_limit(desk):
            if full.floor:
                continue
            broken = desk.at_judged(desk.broken(full))
            if not broken.any():
                continue
            rule = fitted(full, desk.done)
            figure = desk.at_judged(desk.figure(full))
            value = desk.at_judged(np.broadcast_to(rule.value, desk.done.load.shape))
            left = desk.room_left(full)[:, desk.today]
            # What today's plan clears by itself asks for nothing.
            stays = desk.broken(full, with_plan=True)[:, desk.today]
            for row in np.flatnonzero(broken):
                asks = Severity.ACT if hard else Severity.WATCH
                yield (
                    int(row),
                    Notice(
                        code=self.code,
                        shape=Shape.OVER,
                        severity=asks if stays[row] else Severity.NOTE,
                        title=rule.title,
                        sentence=rule.sentence_at(desk.now, int(row), int(desk.judged[row])),
                        clears=self._clears(desk, full, int(row), float(left[row]), stays=bool(stays[row])),
                        limit=rule.key,
                        figure=float(figure[row]),
                        value=float(value[row]),
                    ),
                )

    @staticmethod
    def _clears(desk: Desk, rule: Rule, row: int, left: float, *, stays: bool) -> str:
        if not stays:
            return "Clears tonight with today's plan as it stands."
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
    name = "Limit nearly reached"
    rule = "The last judged day is within {near} % of a limit on load, or has reached a limit on days."
    cleared = "A lighter day."
    source = _SOURCE
    cause = Cause.LOAD
    strand = Strand.PLAN
    severities = (Severity.NOTE,)
    settings = (Setting("near", "Within", 5, 1, 30, "%"),)
    every_channel = True

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        for full, _hard in _each_limit(desk):
            if full.floor or full.unit in (Unit.SHARE, Unit.PLAIN):
                continue
            rule = fitted(full, desk.done)
            value = desk.at_judged(np.broadcast_to(rule.value, desk.done.load.shape))
            figure = desk.at_judged(desk.figure(full))
            speaks = desk.at_judged(desk.speaks(full) & ~desk.broken(full))
            share = 1 - self.setting(desk, "near") / 100
            reach = value if rule.unit is Unit.DAYS else value * share
            with np.errstate(invalid="ignore"):
                near = speaks & (figure >= reach)
            left = desk.room_left(full)[:, desk.today]
            for row in np.flatnonzero(near):
                room = "no room" if left[row] <= 0 else f"room for {words.number(left[row])}"
                yield (
                    int(row),
                    Notice(
                        code=self.code,
                        shape=Shape.OVER,
                        severity=Severity.NOTE,
                        title=rule.title,
                        sentence=rule.sentence_at(desk.now, int(row), int(desk.judged[row])),
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
    name = "Under a floor"
    rule = (
        "The last judged day is under a floor that is in force: what was built is being lost. Where the plan ahead "
        "reaches it, it is a line in the evidence."
    )
    cleared = "The plan ahead, where it reaches the floor again; the sentence names the day."
    source = _SOURCE
    cause = Cause.BASE
    strand = Strand.PLAN
    severities = (Severity.ACT, Severity.WATCH, Severity.NOTE)
    every_channel = True

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        for full, hard in _each_limit(desk):
            if not full.floor:
                continue
            broken = desk.at_judged(desk.broken(full))
            if not broken.any():
                continue
            rule = fitted(full, desk.done)
            figure = desk.at_judged(desk.figure(full))
            value = desk.at_judged(np.broadcast_to(rule.value, desk.done.load.shape))
            ahead = desk.broken(full, with_plan=True)[:, desk.today :]
            for row in np.flatnonzero(broken):
                stays = bool(ahead[row].all())
                if stays:
                    clears = "The plan ahead does not reach it."
                else:
                    day = desk.planned.date_of(desk.today + int(np.argmin(ahead[row])))
                    clears = f"With the plan kept it clears on {words.day(day)}."
                yield (
                    int(row),
                    Notice(
                        code=self.code,
                        shape=Shape.UNDER,
                        severity=Severity.NOTE if not stays else Severity.ACT if hard else Severity.WATCH,
                        title=rule.title,
                        sentence=rule.sentence_at(desk.now, int(row), int(desk.judged[row])),
                        clears=clears,
                        limit=rule.key,
                        figure=float(figure[row]),
                        value=float(value[row]),
                    ),
                )


class PlanOverRoom(NoticeKind):
    """Today's plan asks for more than the room there is."""

    code = "plan_over_room"
    name = "Today's plan over room"
    rule = "Today's plan asks for more than the room there is. Up to {small} % of the plan too much is only watched."
    cleared = "Taking off what the sentence says."
    source = "Room is the largest load that keeps every hard limit; see limits and room."
    cause = Cause.LOAD
    strand = Strand.PLAN
    severities = (Severity.ACT, Severity.WATCH)
    settings = (Setting("small", "Watched up to", 10, 0, 50, "% of the plan"),)
    every_channel = True
    of_the_day = True

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        small = self.setting(desk, "small") / 100
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
                    severity=Severity.ACT if over > small[row] * plan else Severity.WATCH,
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
    name = "A planned day breaks a limit"
    rule = (
        "With the plan kept, one of the coming {ahead} days breaks a limit that holds now. Watched where a hard limit "
        "breaks within 2 days; further off there is time to change the plan."
    )
    cleared = "A lighter plan before that day."
    source = _SOURCE
    cause = Cause.LOAD
    strand = Strand.PLAN
    severities = (Severity.WATCH, Severity.NOTE)
    settings = (Setting("ahead", "Days ahead", 2, 1, 7, "days"),)
    every_channel = True

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        ahead = self.setting(desk, "ahead")
        for full, hard in _each_limit(desk):
            if full.floor:
                continue
            broken = desk.broken(full, with_plan=True)
            now = desk.at_judged(broken)
            coming = broken[:, desk.today + 1 :]
            coming = coming & (np.arange(coming.shape[1]) < ahead[:, None])
            if not coming.any():
                continue
            rule = fitted(full, desk.planned)
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
                        severity=Severity.WATCH if hard and column - desk.today <= 2 else Severity.NOTE,
                        title=rule.title,
                        sentence=(
                            f"With the plan kept, on {words.day(desk.planned.date_of(column))}: "
                            + rule.sentence_at(desk.ahead, int(row), column)
                        ),
                        clears=f"{days} over; clears when the plan before it is lighter.",
                        limit=rule.key,
                        figure=float(figure[row, column]),
                        value=float(value[row, column]),
                    ),
                )

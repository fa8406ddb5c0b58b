"""Plans to come back, as the day reads them: the climb of each, what it allows on a day, and the limits it becomes."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import words
from uvren.core.day import Gate, together
from uvren.core.limits.returning import ReturnDay, ReturnWeek
from uvren.core.limits.week import DayCap, WeekCap
from uvren.core.returns import Climb, ClimbWeek, Part, School, Stage, Template, Terms, climb, shares_after, template_of
from uvren.core.returns.climb import play_of
from uvren.core.returns.ramp import NEWCOMER_DAYS
from uvren.core.returns.stages import read_stages
from uvren.core.returns.steps import EFFORT_CAP
from uvren.core.windows import Bools, Floats
from uvren.services.day.limits import LimitsInForce
from uvren.store import queries
from uvren.store.models import Channel, Limit, ReturnEvent, ReturnPlan, ReturnStep, Scope, Squad
from uvren.store.queries.squad import Member


@dataclass(frozen=True)
class Returning:
    """One plan as it stands on a morning; ``climb`` is None where there is nothing to climb by.

    ``names`` are those of its channels, ``events`` what happened so far.
    """

    plan: ReturnPlan
    template: Template
    stages: tuple[Stage, ...]
    climb: Climb | None
    done: Floats
    events: Sequence[ReturnEvent]
    names: Mapping[str, str]

    @property
    def begins(self) -> date:
        """The first day that the plan is about."""
        return self.plan.first_off or self.plan.first_day

    @property
    def made_on(self) -> date:
        """The day on which it was made: those before it stay as they were."""
        return next((one.day for one in self.events if one.step is ReturnStep.BEGUN), self.begins)

    def runs_on(self, day: date) -> bool:
        """Whether the plan says anything of a day."""
        if day < max(self.begins, self.made_on) or (self.plan.ended_on is not None and day >= self.plan.ended_on):
            return False
        climbing = self.climb is None or day <= self.climb.last
        return climbing or day < self.plan.first_day or bool(self.stages)

    def stage_on(self, day: date) -> int:
        """The stage of a day, counted from 1; 0 without stages."""
        if not self.stages:
            return 0
        said = [one for one in self.events if one.step in (ReturnStep.BEGUN, ReturnStep.STAGE) and one.day <= day]
        return said[-1].stage if said else 1

    def gate_on(self, day: date, row: int = 0) -> Gate | None:
        """What the plan leaves of a day; None where it says nothing of it."""
        if not self.runs_on(day):
            return None
        plan, by = self.plan, self.plan.maker.name if self.plan.maker else ""
        if day < plan.first_day:
            until = plan.first_day - timedelta(days=1)
            return Gate(row, True, "", self.begins, until, by, of_plan=True)
        week = None if self.climb is None else self.climb.on(day)
        stage = self._stage(day)
        said = [stage.content if stage else "", *(() if week is None else self._content(week, day))]
        caps = [one.effort_cap for one in (stage, week) if one is not None and one.effort_cap is not None]
        if self.climb is None:
            # As long as nobody knows what is usual, what every climb begins with.
            said.append(play_of(0.0))
            caps.append(EFFORT_CAP)
        return Gate(
            row,
            stage is not None and stage.closed,
            "; ".join(dict.fromkeys(part for part in said if part)),
            plan.first_day,
            None,
            by,
            stage.minutes_share if stage else None,
            min(caps, default=None),
            of_plan=True,
        )

    def _stage(self, day: date) -> Stage | None:
        at = self.stage_on(day)
        return self.stages[min(at, len(self.stages)) - 1] if at else None

    def _content(self, week: ClimbWeek, day: date) -> list[str]:
        """What a week of the climb asks of the content: how much open play, and what is held."""
        assert self.climb is not None
        out = []
        if week.play:
            out.append(week.play)
        for code in self.climb.terms.parts:
            opens = self.climb.held_until(code)
            if opens is not None and day < opens:
                out.append(f"no {self.names.get(code, code).lower()} before {words.day(opens)}")
        return out


def read_returning(
    db: DbSession, squad: Squad, members: Sequence[Member], first: date, last: date, as_of: date,
    channels: Sequence[Channel] | None = None,
) -> dict[int, Returning]:  # fmt: skip
    """The plan of each of these people that says something of some day; of several the one made last.

    As of the morning of ``as_of``, none that is still to come: what was done before it holds steps back.
    """
    athletes = {member.athlete_id for member in members}
    plans = {
        plan.athlete_id: plan
        for plan in queries.return_.return_plans(db, squad.id, first, last)
        if plan.athlete_id in athletes
    }
    if not plans:
        return {}
    channels = queries.squad.channels(db, squad.id) if channels is None else channels
    events: dict[str, list[ReturnEvent]] = defaultdict(list)
    for event in queries.return_.return_events(db, [plan.id for plan in plans.values()]):
        events[event.plan_id].append(event)
    loads = _loads(db, list(plans.values()), channels, as_of)
    names = {channel.code: channel.name for channel in channels}
    return {
        athlete: returning_of(plan, loads.get(athlete, np.zeros(0)), events[plan.id], as_of, channels, names)
        for athlete, plan in plans.items()
    }


def returning_of(
    plan: ReturnPlan, done: Floats, events: Sequence[ReturnEvent], as_of: date, channels: Sequence[Channel],
    names: Mapping[str, str],
) -> Returning:  # fmt: skip
    """One plan, with ``done`` the load of each day on the main channel from the first one back on."""
    template = template_of(plan.template)
    terms = terms_of(plan, next((channel.code for channel in channels if channel.is_main), ""))
    found = None if terms is None or template.refers else climb(terms, done, as_of)
    return Returning(plan, template, read_stages(plan.stages), found, done, events, names)


def terms_of(plan: ReturnPlan, main: str) -> Terms | None:
    """What a plan's climb rests on; None without a usual week, or after a break too short for a climb."""
    shares = shares_of(plan)
    parts = {code: Part(float(one["reference"]), int(one["held"])) for code, one in plan.parts.items()}
    if not shares or main not in parts:
        return None
    return Terms(plan.first_day, days_off(plan), shares, parts, main, plan.days_a_week)


def days_off(plan: ReturnPlan) -> int:
    """How long the break is; somebody new is treated as after four weeks."""
    return NEWCOMER_DAYS if plan.first_off is None else (plan.first_day - plan.first_off).days


def shares_of(plan: ReturnPlan) -> tuple[float, ...]:
    """The steps of a plan in per cent: its own, else by its school."""
    if plan.shares is not None:
        return tuple(float(one) for one in plan.shares)
    return tuple(float(one) for one in shares_after(days_off(plan), School(plan.school)))


def _loads(db: DbSession, plans: Sequence[ReturnPlan], channels: Sequence[Channel], as_of: date) -> dict[int, Floats]:
    """Daily loads on the main channel from each one's first day back through the day before ``as_of``."""
    main = next((channel for channel in channels if channel.is_main), None)
    last = as_of - timedelta(days=1)
    first = min(plan.first_day for plan in plans)
    if main is None or first > last:
        return {}
    rows = queries.day.daily_loads(db, [main.id], [plan.athlete_id for plan in plans], last, first)
    out = {plan.athlete_id: np.zeros(max((as_of - plan.first_day).days, 0)) for plan in plans}
    begin = {plan.athlete_id: plan.first_day.toordinal() for plan in plans}
    for _, athlete, day, load, _ in rows:
        at = int(day) - begin[int(athlete)]
        if at >= 0:
            out[int(athlete)][at] = load
    return out


def told_on(one: Returning, day: date) -> tuple[str, bool]:
    """How far somebody is on a day, in a sentence for everyone, and whether the week is held for another one."""
    if day < one.plan.first_day:
        return f"Back on {words.day(one.plan.first_day)} by plan.", False
    stage = f"stage {one.stage_on(day)} of {len(one.stages)}" if one.stages else ""
    week = None if one.climb is None else one.climb.on(day)
    if week is None or one.climb is None:
        waits = "" if one.climb is not None else "no usual week is known to climb to"
        said = ", ".join(filter(None, (stage, waits))) or "the climb is over"
        return f"{said[:1].upper()}{said[1:]}.", False
    said = ", ".join(filter(None, (stage, _climbing(one.climb, week, day))))
    return f"{said[:1].upper()}{said[1:]}.", week.again


def _climbing(climb: Climb, week: ClimbWeek, day: date) -> str:
    usual = words.number(climb.terms.parts[climb.terms.main].reference)
    said = f"step {week.step} of {len(climb.terms.shares)}: {words.percent(week.share / 100)} of {usual} a week"
    if week.again:
        said += f"; the week before came to {words.number(_done_before(climb, week))}, so its step is held"
    full = climb.reaches(100)
    return said + (f"; a full week from {words.day(full)}" if day < full else "")


def _done_before(climb: Climb, week: ClimbWeek) -> float:
    return climb.weeks[climb.weeks.index(week) - 1].done or 0.0


def climbed(returning: Mapping[int, Returning]) -> set[str]:
    """The channels that somebody climbs on."""
    return {code for one in returning.values() if one.climb is not None for code in one.climb.terms.parts}


def gates_on(returning: Mapping[int, Returning], day: date, row_of: Mapping[int, int]) -> dict[int, Gate]:
    """What plans leave of a day, by athlete."""
    found = {athlete: one.gate_on(day, row_of[athlete]) for athlete, one in returning.items()}
    return {athlete: gate for athlete, gate in found.items() if gate is not None}


def with_plans(gates: Sequence[Gate], of_plans: Mapping[int, Gate]) -> list[Gate]:
    """Clinicians' words and plans together, one gate a row."""
    out: dict[int, Gate] = {}
    for gate in (*gates, *of_plans.values()):
        # What a clinician has said last replaces what was said before it.
        before = out.get(gate.row)
        out[gate.row] = together(before, gate) or gate if gate.of_plan else gate
    return list(out.values())


def limits_of(
    returning: Mapping[int, Returning], channel: Channel, row_of: Mapping[int, int], active: Bools, first: date
) -> list[tuple[Limit, str]]:
    """The limits that plans become on a channel, a week each, with who made the plan.

    ``active`` says, rows x days from ``first`` on, where there is work, done or planned.
    """
    out: list[tuple[Limit, str]] = []
    for athlete, one in returning.items():
        if one.climb is None or channel.code not in one.climb.terms.parts:
            continue
        for week in one.climb.weeks:
            if week.last < one.made_on:
                continue
            begin = (week.first - first).days
            days = int(active[row_of[athlete], max(begin, 0) : max(begin + 7, 0)].sum())
            if not 0 <= begin <= active.shape[1] - 7:
                # Of a week that is not in sight as a whole some days may be still to come.
                days = max(days, one.climb.terms.days_a_week)
            most = {
                ReturnWeek.code: one.climb.load_in(week, channel.code),
                ReturnDay.code: one.climb.day_in(week, channel.code, days),
            }
            out += [(_limit(one, channel, week, rule, value), _by(one.plan)) for rule, value in most.items()]
    return out


def _by(plan: ReturnPlan) -> str:
    return plan.maker.name if plan.maker else ""


def _limit(one: Returning, channel: Channel, week: ClimbWeek, rule: str, value: float) -> Limit:
    plan = one.plan
    highest = WeekCap.highest if rule == ReturnWeek.code else DayCap.highest
    return Limit(
        id=f"{plan.id}:{channel.code}:{rule}:{week.first}",
        squad_id=plan.squad_id,
        channel_id=channel.id,
        rule=rule,
        value=min(value, highest),
        settings={},
        hard=True,
        scope=Scope.ATHLETE,
        position=None,
        athlete_id=plan.athlete_id,
        from_day=max(week.first, one.made_on),
        to_day=min(week.last, plan.ended_on - timedelta(days=1)) if plan.ended_on else week.last,
        source=ReturnWeek.source,
        reason="Plan to come back",
        set_by=plan.made_by,
        set_at=plan.made_at,
        withdrawn_at=None,
    )


def rest(
    laid: LimitsInForce, returning: Mapping[int, Returning], row_of: Mapping[int, int], first: date
) -> LimitsInForce:
    """The same limits, those that compare with earlier work resting for whoever climbs, as long as they do."""
    if not laid.rules:
        return laid
    away = np.zeros(laid.who[0].shape, dtype=bool)
    for athlete, one in returning.items():
        if one.climb is not None:
            begin, end = ((day - first).days for day in (max(one.plan.first_day, one.made_on), one.climb.last))
            if one.plan.ended_on is not None:
                end = min(end, (one.plan.ended_on - first).days - 1)
            away[row_of[athlete], max(begin, 0) : max(end + 1, 0)] = True
    if not away.any():
        return laid
    rests = [rule.compares for rule in laid.rules]
    return replace(
        laid,
        rules=tuple(
            rule.with_value(np.where(away, np.nan, rule.value)) if one else rule
            for rule, one in zip(laid.rules, rests, strict=True)
        ),
        hard=tuple(hard & ~away if one else hard for hard, one in zip(laid.hard, rests, strict=True)),
        who=tuple(np.where(away, -1, who) if one else who for who, one in zip(laid.who, rests, strict=True)),
    )

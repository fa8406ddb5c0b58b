"""What stands behind one athlete's lane: figures, limits, what each call comes to, words and the last call."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import date, timedelta

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.audience import LEAST, Audience
from uvren.core.day import OFF_KINDS, Called, CallKind, Desk, Facts, fitted, weighed
from uvren.core.limits import Room, Rule, room_on, room_with_plan
from uvren.core.limits.base import Unit
from uvren.core.loads import DailyLoads
from uvren.core.notices import Cause
from uvren.core.workload import School, Workload
from uvren.services.day import outcomes as turned
from uvren.services.day.desk import AHEAD_DAYS, SquadDesk
from uvren.services.day.fitness import TestLine, test_lines
from uvren.services.day.limits import scope_words
from uvren.services.day.plan import PlannedToday, plan_of
from uvren.services.day.strips import REASONS
from uvren.services.errors import NotFound
from uvren.services.morning.lanes import Lane, read_morning
from uvren.services.morning.room import RoomSaid, least, room_said
from uvren.store import queries
from uvren.store.models import Squad

# How far back the last call is looked for.
LAST_CALL_DAYS = 28
# How far back words are shown.
WORDS_DAYS = 4


@dataclass(frozen=True)
class Figure:
    """A figure as it stood the evening before: standard name, screen name, value, and why it is withheld."""

    code: str
    name: str
    value: float | None
    text: str
    withheld: str


@dataclass(frozen=True)
class Outcome:
    """What a call would come to today, and in words what it leaves for tomorrow's plan."""

    kind: CallKind
    load: float | None
    words: str
    over: float
    tomorrow: str
    tomorrow_over: float


@dataclass(frozen=True)
class LimitSaid:
    """A limit in force for an athlete, with the figure it looks at; ``channel`` is empty for the main one."""

    key: str
    channel: str
    title: str
    hard: bool
    sentence: str
    provenance: str
    figure: float | None
    value: float
    figure_text: str
    value_text: str
    unit: Unit
    floor: bool
    over: bool
    silent: str


@dataclass(frozen=True)
class Said:
    """Words an athlete gave with a report or a rating."""

    day: date
    words: str


@dataclass(frozen=True)
class Evidence:
    """One athlete's morning. ``said``, ``last`` and ``outcomes`` are for who may read words and reasons.

    ``tests`` are those that a notice speaks of.
    """

    lane: Lane
    with_plan: RoomSaid
    figures: list[Figure]
    limits: list[LimitSaid]
    outcomes: list[Outcome]
    plan: list[PlannedToday]
    said: list[Said]
    last: turned.Turned | None
    tests: list[TestLine]


def read_evidence(
    db: DbSession,
    squad: Squad,
    athlete_id: int,
    as_of: date,
    today: date,
    channel: str | None = None,
    audiences: frozenset[Audience] = LEAST,
) -> Evidence:
    """One athlete's lane with the figures, the limits, room with the plan kept and what each call comes to."""
    morning, parts = read_morning(db, squad, as_of, today, athlete_id, channel, audiences)
    if athlete_id not in parts:
        raise NotFound("This athlete is not in the squad on that day.")
    day, row, lane = parts[athlete_id].day, parts[athlete_id].row, morning.lanes[0]
    desks, standing = [day.desks[i] for i in day.shown_first(channel)], day.standing[row]
    reads = Audience.REPORTS in audiences
    shown, before, yesterday = desks[0], as_of - timedelta(days=LAST_CALL_DAYS), as_of - timedelta(days=1)
    return Evidence(
        lane=lane,
        with_plan=room_said(_kept(shown.desk, row), lane.room.resting, shown, row, standing, audiences),
        figures=_figures(shown.desk, row),
        limits=[said for opened in desks for said in _limits(opened, row)],
        outcomes=[_outcome(kind, lane, shown, row) for kind in CallKind] if reads else [],
        plan=plan_of(db, squad, athlete_id, as_of, standing),
        said=_words(db, squad, athlete_id, as_of) if reads else [],
        last=next(iter(turned.outcomes(db, squad, before, yesterday, today, athlete_id, 1, audiences)), None),
        tests=_tests(day.facts, lane, row),
    )


def _words(db: DbSession, squad: Squad, athlete_id: int, as_of: date) -> list[Said]:
    found = queries.morning.words_of(db, squad.id, athlete_id, as_of - timedelta(days=WORDS_DAYS), as_of)
    return [Said(day, words) for day, words in found]


def _alone(desk: Desk, row: int) -> tuple[DailyLoads, list[Rule]]:
    """One row's loads with the plan, and the hard limits that are its own."""
    mine = np.array([row])
    return desk.planned.of_rows(mine), [rule.at(mine) for rule in desk.hard]


def _kept(desk: Desk, row: int) -> Room:
    """Room with the plan kept: the days ahead as planned, today as it is recorded."""
    planned, rules = _alone(desk, row)
    trial = planned.with_day(desk.as_of, desk.done.values[row : row + 1, desk.today])
    until = desk.as_of + timedelta(days=AHEAD_DAYS)
    return least(room_with_plan(trial, rules, desk.as_of, until, desk.settings)[0], desk.rooms[row])


def _tests(facts: Facts, lane: Lane, row: int) -> list[TestLine]:
    spoken = {said.about for said in lane.notices if said.cause is Cause.TESTS}
    return test_lines([series for series in facts.tests if series.code in spoken], row)


def _figures(desk: Desk, row: int) -> list[Figure]:
    work = desk.now
    withheld = str(desk.at_judged(work.withheld)[row])

    def at(values: np.ndarray) -> float | None:
        value = float(desk.at_judged(values)[row])
        return None if np.isnan(value) else value

    def figure(code: str, name: str, values: np.ndarray, form: str, reason: str = "") -> Figure:
        value = at(values)
        text = "" if value is None else _FORMS[form](value)
        return Figure(code, name, value, text, "" if value is not None else reason or "not defined")

    why = REASONS.get(withheld, "no base load")
    # Before there is a week of days its load is not missing.
    young = bool(desk.at_judged(desk.done.age)[row] < 7)
    return [
        figure("week_load", "Week load", work.week_load, "load", REASONS["history" if young else "missing"]),
        figure("week_change", "Change on the week before", work.week_change, "share"),
        figure("ewma_chronic", "Base load a day, weighted", work.ewma_chronic, "load", REASONS["history"]),
        figure("ratio_ewma", "Ratio, weighted", work.shown_ratio(School.EWMA), "ratio", why),
        figure("ratio_coupled", "Ratio, rolling coupled", work.shown_ratio(School.COUPLED), "ratio", why),
        figure("ratio_uncoupled", "Ratio, rolling uncoupled", work.shown_ratio(School.UNCOUPLED), "ratio", why),
        figure("balance", "Balance, two time constants", _balance(desk), "load", REASONS["history"]),
        figure("monotony", "Spread (monotony)", work.monotony, "ratio"),
        figure("strain", "Week strain (Foster's strain)", work.strain, "load"),
    ]


_FORMS: dict[str, Callable[[float], str]] = {
    "load": say.number,
    "share": lambda value: f"{'+' if value > 0 else ''}{say.percent(value)}",
    "ratio": lambda value: f"{value:.2f}",
}


def _balance(desk: Desk) -> np.ndarray:
    work = desk.now
    return np.where(desk.done.age < desk.settings.balance_days, np.nan, work.exp_chronic - work.exp_acute)


def _limits(opened: SquadDesk, row: int) -> list[LimitSaid]:
    desk = opened.desk
    out = []
    for full, hard in zip(opened.limits.rules, opened.limits.hard, strict=True):
        rule: Rule = fitted(full, desk.done)
        value = float(full.value[row, desk.today])
        behind = opened.limits.behind(full.key, row, desk.today)
        if np.isnan(value) or behind is None:
            continue
        figure = float(desk.at_judged(rule.figure(desk.now))[row])
        silent = str(desk.at_judged(rule.reasons(desk.now))[row])
        limit, name = behind
        whose = scope_words(limit, {opened.members[row].athlete_id: "own limit"})
        said = "" if np.isnan(figure) or silent else rule.sentence_at(desk.now, row, int(desk.judged[row]), desk.today)
        out.append(
            LimitSaid(
                key=full.key,
                channel="" if desk.main else opened.channel.name,
                title=full.title,
                hard=bool(hard[row, desk.today]),
                sentence=said,
                provenance=f"{whose} · {name}, {limit.from_day.day} {limit.from_day:%b %Y} · {limit.source}",
                figure=None if np.isnan(figure) else figure,
                value=value,
                figure_text="" if np.isnan(figure) else full.said(figure),
                value_text=full.said(value),
                unit=full.unit,
                floor=full.floor,
                over=bool(desk.at_judged(desk.broken(full))[row]),
                silent=REASONS.get(silent, "") if silent else "",
            )
        )
    return out


def called_load(called: Called, lane: Lane, opened: SquadDesk, row: int) -> float:
    """What a call comes to today, with everything else that stands."""
    if called.kind is CallKind.ADAPT and called.minutes is not None and lane.minutes <= 0:
        # Without a plan to adapt it is so many minutes of what they usually do.
        return called.minutes * min(lane.effort, np.inf if called.effort_cap is None else called.effort_cap)
    standing = weighed(replace(lane.standing.given, call=called, answered=True))
    return opened.load_if(row, standing)


def _outcome(kind: CallKind, lane: Lane, opened: SquadDesk, row: int) -> Outcome:
    standing = lane.standing
    load = called_load(Called(kind), lane, opened, row)
    closed = weighed(replace(standing.given, call=None)).closed
    if kind is CallKind.ADAPT and lane.leaves is not None:
        # How an adapted day looks is still to be said: at most what room leaves.
        load = min(load, lane.leaves)
    over = 0.0 if lane.leaves is None else max(load - lane.leaves, 0.0)
    if closed and kind not in OFF_KINDS:
        words = "day is closed"
    elif kind is CallKind.REFER:
        words = "none until seen"
    elif over > 0.5:
        words = f"{say.number(load)}, {say.number(over)} over"
    else:
        words = f"{say.number(load)}, holds"
    tomorrow, too_much = _tomorrow(opened, row, load)
    return Outcome(kind, load, words, over, tomorrow, too_much)


def _tomorrow(opened: SquadDesk, row: int, load: float) -> tuple[str, float]:
    """How the plan of the day after stands to the room that is left for it, and by how much it is beyond it."""
    desk = opened.desk
    day = desk.as_of + timedelta(days=1)
    plan = float(desk.planned.values[row, desk.today + 1])
    if opened.off[row, desk.today + 1]:
        return f"{say.day(day)} is a day off.", 0.0
    if plan <= 0:
        return f"{say.day(day)} is free.", 0.0
    planned, own = _alone(desk, row)
    used = desk.done.values[row : row + 1, desk.today] + load
    after = planned.with_day(desk.as_of, used).with_day(day, np.zeros(1))
    rules = [fitted(rule, after) for rule in own]
    room = room_on(Workload(after, desk.settings), rules, day)[0].load
    if room is None:
        return f"{say.day(day)}: no limit binds, the plan is {say.number(plan)}.", 0.0
    if plan > room + 0.5:
        return f"{say.day(day)}’s plan is then {say.number(plan - room)} too much.", plan - room
    return f"{say.day(day)}’s plan then fits, {say.number(room - plan)} to spare.", 0.0

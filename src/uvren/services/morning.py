"""The morning: each athlete's corridor, room, notices and call, as they stood on a day."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, datetime, timedelta

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.limits import CATALOGUE, Room, Rule, corridor, room_with_plan
from uvren.core.norms import USUAL_DAYS
from uvren.core.notices import KINDS, Audience, Cause, Desk, Facts, Notice, fitted, is_quiet, needs, notices_for
from uvren.core.reports import ITEM_NAMES
from uvren.core.terms import EffortTerms
from uvren.core.windows import Bools
from uvren.core.workload import School
from uvren.services import outcomes as turned
from uvren.services.decisions import SHARE_OF_PLAN
from uvren.services.desk import AHEAD_DAYS, SquadDesk, open_desks
from uvren.services.errors import NotFound
from uvren.services.limits import scope_words
from uvren.store import queries
from uvren.store.models import Call, CallKind, Channel, Squad
from uvren.store.queries import Member

BACK_DAYS = 28
# How far back a call can answer what is found today.
ANSWER_DAYS = 14


@dataclass(frozen=True)
class Strip:
    """Week load, day's load and corridor by day, as long as :attr:`Morning.days`; None where there is none.

    ``state`` is measured, estimated, missing, rest, planned or before (no history yet); ``side`` is over, under or
    empty, as the week load stands to the corridor.
    """

    week: list[float | None]
    load: list[float | None]
    floor: list[float | None]
    ceiling: list[float | None]
    state: list[str]
    side: list[str]


@dataclass(frozen=True)
class RoomSaid:
    """Room with its words: what binds, what binds next, and how it stands to today's plan.

    ``resting`` says why some hard limits do not speak today; where it is not empty, room is at most what is said.
    ``plan`` is what calls leave of today's plan, ``written`` the plan before them.
    """

    load: float | None
    words: str
    binding: list[str]
    bound_by: str
    next_load: float | None
    next_by: str
    plan: float
    written: float
    plan_words: str
    resting: str


@dataclass(frozen=True)
class ChannelRoom:
    """Room on a channel beside the one shown."""

    code: str
    name: str
    mark: str
    unit: str
    room: RoomSaid


@dataclass(frozen=True)
class NoticeSaid:
    """A notice with the limit behind it; ``channel`` is empty for the main one.

    ``quiet`` says that a call has answered it, ``new`` that it was not there the morning before.
    """

    notice: Notice
    provenance: str
    channel: str
    channel_code: str
    quiet: bool
    new: bool

    @property
    def cause(self) -> Cause:
        return KINDS[self.notice.code].cause


@dataclass(frozen=True)
class CallSaid:
    call: Call
    made_by: str


@dataclass(frozen=True)
class Felt:
    """An item of this morning's report against the athlete's own usual; ``z`` is up where it is better."""

    item: str
    name: str
    value: float | None
    usual: float | None
    spread: float | None
    z: float | None
    lasting: int
    # The last 28 days with today, oldest first.
    days: list[float | None]


@dataclass(frozen=True)
class Lane:
    """An athlete's line. ``room`` and ``strip`` are of the channel shown, ``others`` of the rest.

    ``binding`` is the code of the channel that leaves the fewest minutes of its usual work, where that is not the one
    shown. ``notices`` stand by story: those of one cause together, the most pressing story first. ``gate`` is what a
    clinician allows, in words. ``felt`` is empty for who may not read reports, and without a report. ``minutes`` are
    those planned today before any call.
    """

    member: Member
    group: str
    effort: float
    minutes: float
    room: RoomSaid
    others: list[ChannelRoom]
    binding: str | None
    strip: Strip
    notices: list[NoticeSaid]
    felt: list[Felt]
    gate: str
    call: CallSaid | None


@dataclass(frozen=True)
class ChannelName:
    code: str
    name: str
    mark: str
    unit: str


@dataclass(frozen=True)
class Morning:
    """A squad's morning; ``channels`` are those that can be shown, ``channel`` is the one that is."""

    as_of: date
    channel: ChannelName
    channels: list[ChannelName]
    days: list[date]
    lanes: list[Lane]


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
    """What a call would come to today."""

    kind: CallKind
    load: float | None
    words: str
    over: float


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
    silent: str


@dataclass(frozen=True)
class PlannedToday:
    """A session of today's plan, as planned for the athlete before any call."""

    title: str
    starts_at: datetime
    minutes: float
    effort: float


@dataclass(frozen=True)
class Said:
    """Words an athlete gave with a report or a rating."""

    day: date
    words: str


@dataclass(frozen=True)
class Evidence:
    """One athlete's morning. ``said`` and ``last`` are for who may read words and reasons."""

    lane: Lane
    with_plan: RoomSaid
    figures: list[Figure]
    limits: list[LimitSaid]
    outcomes: list[Outcome]
    plan: list[PlannedToday]
    said: list[Said]
    last: turned.Outcome | None


def read_morning(
    db: DbSession,
    squad: Squad,
    as_of: date,
    today: date,
    only: int | None = None,
    channel: str | None = None,
    audiences: frozenset[Audience] = frozenset(Audience),
) -> tuple[Morning, list[SquadDesk]]:
    """Every athlete of the squad, or ``only`` one, on the morning of ``as_of``; desks with the channel shown first.

    The main channel is shown unless ``channel`` names another. Only what these audiences may read is said. Raises
    NotFound for a channel that cannot be shown.
    """
    desks = open_desks(db, squad, as_of, today, only, with_facts=True)
    if not desks:
        main = _name(queries.main_channel(db, squad.id))
        return Morning(as_of, main, [main], [], []), []
    names = [_name(opened.channel) for opened in desks]
    if channel is not None:
        if channel not in {name.code for name in names}:
            raise NotFound("This channel has no limits on that day, so there is no room to show.", field="channel")
        desks = sorted(desks, key=lambda opened: opened.channel.code != channel)
    shown = desks[0]
    calls = queries.calls_on(db, squad.id, as_of)
    found = [notices_for(opened.desk) for opened in desks]
    before = [
        _keys(notices_for(opened.desk.before(), lasting=True)) if opened.desk.today > 0 else [] for opened in desks
    ]
    answered = _answered(db, squad, as_of)
    facts = next(opened.desk.facts for opened in desks if opened.desk.main)
    assert facts is not None
    at_main = next(i for i, opened in enumerate(desks) if opened.desk.main)
    blocked = _blocked(found[at_main], facts)
    rooms = [_rooms(opened, blocked) for opened in desks]
    lines = strips(shown.desk, shown.to_come, _begin(shown.desk))
    efforts = _typical_efforts(desks)
    lanes = []
    for row, member in enumerate(shown.members):
        called = answered.get(member.athlete_id, {})
        notices = [
            NoticeSaid(
                notice=notice,
                provenance=_provenance(opened, notice, row),
                channel="" if opened.desk.main else opened.channel.name,
                channel_code=opened.channel.code,
                quiet=is_quiet(notice, called.get(opened.channel.code, {})),
                new=bool(earlier) and not KINDS[notice.code].of_the_day and notice.key not in earlier[row],
            )
            for opened, of_channel, earlier in zip(desks, found, before, strict=True)
            for notice in of_channel[row]
            if KINDS[notice.code].audience in audiences
        ]
        call = calls.get(member.athlete_id)
        asking = [said.notice for said in notices if not said.quiet]
        lanes.append(
            Lane(
                member=member,
                group="called" if call else needs(asking),
                effort=float(efforts[row]),
                minutes=float(shown.minutes[row]),
                room=rooms[0][row],
                others=[
                    ChannelRoom(**vars(_name(opened.channel)), room=of_channel[row])
                    for opened, of_channel in zip(desks[1:], rooms[1:], strict=True)
                ],
                binding=_binding(desks, rooms, row),
                strip=lines[row],
                notices=_by_story(notices),
                felt=_felt(facts, row) if Audience.REPORTS in audiences else [],
                gate=_gate(facts, row),
                call=CallSaid(*call) if call else None,
            )
        )
    desk = shown.desk
    days = [desk.planned.date_of(column) for column in range(_begin(desk), desk.planned.days)]
    return Morning(as_of, _name(shown.channel), names, days, lanes), desks


def _name(channel: Channel) -> ChannelName:
    return ChannelName(channel.code, channel.name, channel.mark, channel.unit)


def _typical_efforts(desks: list[SquadDesk]) -> np.ndarray:
    for opened in desks:
        if isinstance(opened.desk.terms, EffortTerms):
            return opened.desk.terms.effort
    return np.full(len(desks[0].members), 5.0)


def _keys(found: list[list[Notice]]) -> list[set[str]]:
    return [{notice.key for notice in notices} for notices in found]


def _by_story(notices: list[NoticeSaid]) -> list[NoticeSaid]:
    """Notices of one cause and channel together, most pressing first; stories that a call has answered last."""
    stories: dict[tuple[Cause, str], list[NoticeSaid]] = {}
    for said in sorted(notices, key=lambda one: (one.quiet, one.notice.severity.rank)):
        stories.setdefault((said.cause, said.channel), []).append(said)
    return [said for story in stories.values() for said in story]


def _answered(db: DbSession, squad: Squad, as_of: date) -> dict[int, dict[str, dict[str, str]]]:
    """What the last call of each athlete has answered: severity by key, by channel. A due review answers no more."""
    out: dict[int, dict[str, dict[str, str]]] = {}
    calls = queries.calls_between(db, squad.id, as_of - timedelta(days=ANSWER_DAYS), as_of)
    for (athlete, day), call in sorted(calls.items(), key=lambda item: item[0][1]):
        due = call.review_on is not None and call.review_on <= as_of and day < as_of
        out[athlete] = {} if due else call.about
    return out


def _blocked(found: list[list[Notice]], facts: Facts) -> dict[int, str]:
    """Rows for which no work is proposed, whatever the limits leave, with why."""
    out = {
        row: "no more work while the overtraining screen is open"
        for row, notices in enumerate(found)
        if any(notice.code == "overtraining" and notice.about in ("suspect", "trial") for notice in notices)
    }
    return out | {gate.row: "a clinician’s restriction" for gate in facts.gates if gate.closed}


def _gate(facts: Facts, row: int) -> str:
    for gate in facts.gates:
        if gate.row == row:
            until = f" until {say.day(gate.until)}" if gate.until else ""
            return f"{'does not train' if gate.closed else gate.change}{until}"
    return ""


def _felt(facts: Facts, row: int) -> list[Felt]:
    """This morning's report, item by item; empty where there is none."""
    if facts.daily.shape[2] == 0 or np.isnan(facts.daily[row, :, -1]).all():
        return []

    def plain(value: float) -> float | None:
        return None if np.isnan(value) else round(float(value), 2)

    # The profile is of what the squad asks: items somebody has answered within the window.
    asked = np.asarray(~np.isnan(facts.daily).all(axis=(0, 2)))
    return [
        Felt(
            item=code,
            name=ITEM_NAMES[code],
            value=plain(facts.daily[row, i, -1]),
            usual=plain(facts.norm.middle[row, i, -1]),
            spread=plain(facts.norm.spread[row, i, -1]),
            z=plain(-facts.badness[row, i, -1]),
            lasting=-int(facts.lasting[row, i]),
            days=[plain(value) for value in facts.daily[row, i, -USUAL_DAYS - 1 :]],
        )
        for i, code in enumerate(facts.items)
        if asked[i]
    ]


def _rooms(opened: SquadDesk, blocked: dict[int, str]) -> list[RoomSaid]:
    resting = _resting(opened.desk)
    return [_room(room, resting[row], opened, row, blocked.get(row)) for row, room in enumerate(opened.desk.rooms)]


def _binding(desks: list[SquadDesk], rooms: list[list[RoomSaid]], row: int) -> str | None:
    """The other channel that leaves fewer minutes of its usual work than the one shown, if any does."""

    def minutes(i: int) -> float:
        load = rooms[i][row].load
        return float("inf") if load is None else desks[i].desk.terms.minutes(load, row)

    least = min(range(len(desks)), key=minutes)
    # A channel without any such work planned stops nobody today.
    others = [i for i in range(1, len(desks)) if rooms[i][row].plan > 0 and minutes(i) < minutes(0)]
    if least == 0 or not others:
        return None
    return desks[min(others, key=minutes)].channel.code


def read_evidence(
    db: DbSession,
    squad: Squad,
    athlete_id: int,
    as_of: date,
    today: date,
    channel: str | None = None,
    audiences: frozenset[Audience] = frozenset(Audience),
) -> Evidence:
    """One athlete's lane with the figures, the limits, room with the plan kept and what each call comes to."""
    morning, desks = read_morning(db, squad, as_of, today, athlete_id, channel, audiences)
    if not desks:
        raise NotFound("This athlete is not in the squad on that day.")
    row, lane, desk = 0, morning.lanes[0], desks[0].desk
    # With the plan kept: the days ahead as planned, today as it is recorded.
    trial = desk.planned.with_day(as_of, desk.done.values[:, desk.today])
    until = as_of + timedelta(days=AHEAD_DAYS)
    kept = room_with_plan(trial, desk.hard, as_of, until, desk.settings)[row]
    return Evidence(
        lane=lane,
        with_plan=_room(kept, lane.room.resting, desks[0], row, None),
        figures=_figures(desk, row),
        limits=[said for opened in desks for said in _limits(opened, row)],
        outcomes=[_outcome(kind, lane.room) for kind in CallKind],
        plan=_plan_of(db, squad, athlete_id, as_of),
        said=[Said(*row) for row in queries.words_of(db, squad.id, athlete_id, as_of - timedelta(days=4), as_of)],
        last=next(
            iter(
                turned.outcomes(
                    db, squad, as_of - timedelta(days=28), as_of - timedelta(days=1), today, only=athlete_id
                )
            ),
            None,
        ),
    )


def _plan_of(db: DbSession, squad: Squad, athlete_id: int, day: date) -> list[PlannedToday]:
    sessions = queries.sessions_between(db, squad.id, day, day)
    own = {
        row.session_id: row
        for row in queries.own_plans(db, [one.id for one in sessions])
        if row.athlete_id == athlete_id
    }
    out = []
    for session in sessions:
        row = own.get(session.id)
        minutes = session.planned_minutes if row is None or row.planned_minutes is None else row.planned_minutes
        effort = session.planned_effort if row is None or row.planned_effort is None else row.planned_effort
        out.append(PlannedToday(session.title, session.starts_at, minutes, effort))
    return out


def _room(room: Room, resting: str, opened: SquadDesk, row: int, blocked: str | None) -> RoomSaid:
    """Room in words; ``blocked`` says why no work is proposed although limits would leave some."""
    desk = opened.desk
    plan, written = float(desk.plan_today[row]), float(opened.written[row])
    if blocked is not None:
        return RoomSaid(0.0, blocked, [], blocked, None, "", plan, written, "nothing is proposed", "")
    if room.load is None:
        quiet = "not enough history" if desk.now.history_short[row, desk.today] else "no limit binds"
        words = f"no figure: {quiet}"
    else:
        words = desk.terms.phrase(room.load, row)
    if plan <= 0:
        plan_words = "nothing planned today"
    elif room.load is None:
        plan_words = f"plan {say.number(plan)}"
    elif plan > room.load + 0.5:
        plan_words = f"plan is {say.number(plan - room.load)} too much"
    else:
        plan_words = f"plan fits, {say.number(room.load - plan)} to spare"
    if plan < written - 0.5:
        plan_words = f"after the call {say.number(plan)} (was {say.number(written)})"
        if room.load is not None and plan > room.load + 0.5:
            plan_words += f", {say.number(plan - room.load)} too much"
    return RoomSaid(
        load=room.load,
        words=words,
        binding=list(room.binding),
        bound_by=_titles(room.binding),
        next_load=room.next_load,
        next_by=_titles(room.next_binding),
        plan=plan,
        written=written,
        plan_words=plan_words,
        resting=resting,
    )


def _resting(desk: Desk) -> list[str]:
    """For each row, why hard limits that are in force do not speak today, each with its reason."""
    said: list[list[str]] = [[] for _ in desk.rooms]
    for full in desk.hard:
        rule = fitted(full, desk.done)
        reasons = rule.silent(desk.now)[:, desk.today]
        in_force = ~np.isnan(full.value[:, desk.today])
        for row in np.flatnonzero((reasons != "") & in_force):
            if not rule.floor:
                said[row].append(f"the {rule.title.lower()} ({REASONS[str(reasons[row])]})")
    return [" and ".join(lines) for lines in said]


def _titles(keys: tuple[str, ...]) -> str:
    return " and ".join(CATALOGUE[key.partition(":")[0]].title.lower() for key in keys)


def _provenance(opened: SquadDesk, notice: Notice, row: int) -> str:
    if notice.limit is None:
        return ""
    column = opened.desk.today if notice.code == "plan_over_room" else int(opened.desk.judged[row])
    behind = opened.limits.behind(notice.limit, row, column)
    behind = behind or opened.limits.behind(notice.limit, row, opened.desk.today)
    if behind is None:
        return ""
    limit, name = behind
    title = CATALOGUE[limit.rule].title
    whose = scope_words(limit, {opened.members[row].athlete_id: "own limit"})
    return f"{title} · {whose} · {name}, {limit.from_day.day} {limit.from_day:%b %Y}"


def _begin(desk: Desk) -> int:
    return max(desk.today - BACK_DAYS, 0)


def strips(desk: Desk, to_come: Bools, begin: int) -> list[Strip]:
    """Week load, load and corridor of each row from a column on."""
    rules = [fitted(rule, desk.planned) for rule in (*desk.hard, *desk.advisory)]
    window = slice(begin, None)
    band = corridor(desk.ahead, rules)
    loads = desk.planned
    assert loads.estimated is not None
    before = (loads.age < 1)[:, window]
    missing = loads.missing[:, window]
    week = np.where((loads.missing_in(7) > 0) | (loads.age < 1), np.nan, loads.sum_over(7))[:, window]
    load = np.where(before | missing, np.nan, loads.values[:, window])
    floor, ceiling = band.floor[:, window], band.ceiling[:, window]
    state = np.select(
        [before, missing, to_come[:, window], loads.estimated[:, window] > 0, load > 0],
        ["before", "missing", "planned", "estimated", "measured"],
        default="rest",
    )
    with np.errstate(invalid="ignore"):
        side = np.select([week > ceiling + 0.5, week < floor - 0.5], ["over", "under"], default="")
    columns = [_listed(values) for values in (week, load, floor, ceiling)]
    return [
        Strip(
            week=columns[0][row],
            load=columns[1][row],
            floor=columns[2][row],
            ceiling=columns[3][row],
            state=state[row].tolist(),
            side=side[row].tolist(),
        )
        for row in range(week.shape[0])
    ]


def _listed(values: np.ndarray) -> list[list[float | None]]:
    """Rows as lists, nan as None; a tenth of a unit is finer than any screen shows."""
    tidy = np.round(values, 1).astype(object)
    tidy[np.isnan(values)] = None
    return tidy.tolist()


REASONS = {
    "history": "not enough history",
    "missing": "a rating is missing in the last 7 days",
    "estimated": "too much of it is estimated",
    "rebuild": "base load is too low to compare with",
}


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
    return [
        figure("week_load", "Week load", work.week_load, "load", REASONS["missing"]),
        figure("week_change", "Change on the week before", work.week_change, "share"),
        figure("ewma_chronic", "Base load a day, weighted", work.ewma_chronic, "load", REASONS["history"]),
        figure("ratio_ewma", "Ratio, weighted", work.shown_ratio(School.EWMA), "ratio", why),
        figure("ratio_coupled", "Ratio, rolling coupled", work.shown_ratio(School.COUPLED), "ratio", why),
        figure("ratio_uncoupled", "Ratio, rolling uncoupled", work.shown_ratio(School.UNCOUPLED), "ratio", why),
        figure("balance", "Balance, two time constants", work.exp_chronic - work.exp_acute, "load"),
        figure("monotony", "Spread (monotony)", work.monotony, "ratio"),
        figure("strain", "Week strain (Foster's strain)", work.strain, "load"),
    ]


_FORMS: dict[str, Callable[[float], str]] = {
    "load": say.number,
    "share": lambda value: f"{'+' if value > 0 else ''}{say.percent(value)}",
    "ratio": lambda value: f"{value:.2f}",
}


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
        silent = str(desk.at_judged(rule.silent(desk.now))[row])
        limit, name = behind
        whose = scope_words(limit, {opened.members[row].athlete_id: "own limit"})
        said = "" if np.isnan(figure) or silent else rule.sentence(figure, value)
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
                silent=REASONS.get(silent, "") if silent else "",
            )
        )
    return out


def _outcome(kind: CallKind, room: RoomSaid) -> Outcome:
    if kind is CallKind.ADAPT:
        load = room.written if room.load is None else min(room.written, room.load)
    else:
        load = room.written * SHARE_OF_PLAN[kind]
    over = 0.0 if room.load is None else max(load - room.load, 0.0)
    if kind is CallKind.REFER:
        words = "none until seen"
    elif over > 0.5:
        words = f"{say.number(load)}, {say.number(over)} over"
    else:
        words = f"{say.number(load)}, holds"
    return Outcome(kind, load, words, over)

"""Proposals for a week: the smallest changes with which every limit holds, or what has to give way."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterator, Mapping, Sequence, Set
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np

from uvren.core import plan, words
from uvren.core.day.room import REACH
from uvren.core.day.week import DayAhead
from uvren.core.limits import CATALOGUE, Unit, title_of
from uvren.core.loads import DailyLoads
from uvren.core.plan import Course, PlanLimit, PlanSession
from uvren.services.day.desk import SquadDesk
from uvren.services.week.moving import other_starts
from uvren.services.week.reading import DAYS, Changes, Opened, holds, with_changes
from uvren.store.models import Session, SessionKind, Squad

# Minutes in which sessions are planned, and how far one may be cut or drawn out.
STEP, LEAST, MOST = 5.0, 0.5, 1.25
SHORTEST = 15.0
WEEK = 7
MOST_PLANS = 3
# What is done already of the first day, as a session that nothing changes.
RECORDED = "recorded"
ALONE = ({"squad": 1.0}, {"own": 1.0}, {"touched": 1.0, "own_touched": 1.0})
# A minute of everybody's counts as much as a minute of three on their own.
BOTH = ({"squad": 3.0, "own": 1.0}, {"touched": 1.0, "own_touched": 1.0})
# What a session on another day is worth in minutes of everybody's.
MOVE = 30.0
# Sport comes first and the gym gives way: a minute of it counts half.
GIVES_WAY = 0.5
# Nobody's week is to be less than planned: a unit of load that is lacking weighs as a part of a minute.
KEPT = ({"squad": 1.0, "own": 1.0, "target": 1.0}, {"touched": 1.0, "own_touched": 1.0})
WORTH = 0.1


@dataclass(frozen=True)
class _Called:
    """What a limit of the problem is called, and on which channel it is."""

    title: str
    channel: str
    limit: PlanLimit

    @property
    def said(self) -> str:
        return f"{self.title} ({self.channel})"

    def amount(self, share: float) -> str:
        """An excess as the limit itself counts: its load where it caps one, else a share of it."""
        by_load = CATALOGUE[self.limit.rule].unit is Unit.LOAD
        return words.number(share * (self.limit.value or 0.0)) if by_load else words.percent(share)


@dataclass(frozen=True)
class SessionChange:
    """A session that would be longer or shorter for everybody, or (``to``) on another day."""

    session_id: str
    title: str
    day: date
    before: float
    after: float
    to: date | None = None


@dataclass(frozen=True)
class OwnChange:
    """One athlete's part in a session that would be shorter."""

    athlete_id: int
    name: str
    session_id: str
    title: str
    day: date
    before: float
    after: float


@dataclass(frozen=True)
class Proposal:
    """A plan in which every limit holds, or (``holds`` false) as many as can; ``give_way`` says which do not.

    ``proven`` is false where time was up before it was known to be the smallest change; ``giving`` are those for whom a
    limit gives way. ``still_over`` says which limits on spread and week strain are looked at afterwards and do not
    hold.
    """

    said: str
    holds: bool
    proven: bool
    sessions: list[SessionChange]
    own: list[OwnChange]
    give_way: list[str]
    still_over: list[str]
    giving: Set[int] = frozenset()

    @property
    def changes(self) -> Changes:
        return Changes(
            {one.session_id: one.after for one in self.sessions},
            {(one.athlete_id, one.session_id): one.after for one in self.own},
            {one.session_id: one.to for one in self.sessions if one.to is not None},
        )

    @property
    def cost(self) -> float:
        """What it changes, in minutes of one person's."""
        squads = sum(abs(one.after - one.before) + MOVE * (one.to is not None) for one in self.sessions)
        return BOTH[0]["squad"] * squads + sum(one.before - one.after for one in self.own)


def propose(squad: Squad, first: date, today: date, opened: Opened, left: Callable[[], float]) -> list[Proposal]:
    """Up to three plans that differ in whom and what they touch; where no plan holds, what has to give way comes first.

    People alone; the squad's sessions where that is less; a session on another day where that is; and else the minutes
    of a session put into another one, so that nobody's week becomes less than it has to.
    """
    if not opened.desks:
        return []
    course, limits = course_of(squad, first, opened)

    def solved(of: Course, levels: Sequence[plan.Level] = ALONE, targets: Sequence[plan.Target] = ()) -> Proposal:
        problem = replace(of.problem, levels=tuple(levels), targets=tuple(targets))
        return _told(opened, of, limits, plan.solve_course(replace(of, problem=problem), left=left))

    def held(of: Course, levels: Sequence[plan.Level], targets: Sequence[plan.Target] = ()) -> Proposal | None:
        """What stands in where limits are silent is that of the plan as it was: whether another holds is looked at."""
        one = solved(of, levels, targets)
        return one if one.holds and one.sessions and holds(with_changes(opened, one.changes)) else None

    alone = solved(course)
    found = [alone]
    if not alone.holds:
        course = _with_matches(course, alone.giving)
        alone = solved(course)
        if not alone.holds:
            return found
        found.append(alone)
    before_alone = len(found) - 1
    several = len({one.athlete_id for one in alone.own}) > 2
    apart = _apart(course, {one.athlete_id for one in alone.own})
    if several:
        other = solved(apart, BOTH)
        if other.holds and other.sessions and left() > 0:
            found.insert(before_alone, other)
    move = plan.best_move(course, other_starts(opened, course, first, today)) if alone.own and left() > 0 else None
    if move is not None:
        elsewhere = held(plan.moved(apart, move), BOTH if several else ALONE)
        if elsewhere is not None and elsewhere.cost < found[before_alone].cost:
            found.insert(before_alone, elsewhere)
    if several and sum(one.holds for one in found) < MOST_PLANS:
        kept = held(_alike(apart), KEPT, _as_planned(apart))
        if kept is not None and all(kept.sessions != one.sessions for one in found):
            found.append(kept)
    return found


def _with_matches(course: Course, athletes: Set[int]) -> Course:
    """The same where these may be in a match for shorter than planned, or not at all."""
    out = {str(one) for one in athletes}
    sessions = tuple(
        replace(
            one,
            split=plan.Split(STEP, STEP),
            own={athlete: replace(own, split=athlete in out) for athlete, own in one.own.items()},
        )
        if one.kind == SessionKind.MATCH and one.split is None
        else one
        for one in course.sessions
    )
    return replace(course, sessions=sessions, problem=replace(course.problem, sessions=sessions))


def _alike(course: Course) -> Course:
    """The same with a minute of each session counting as much as one of another: nothing gives way here."""
    sessions = tuple(replace(one, weight=1.0) for one in course.sessions)
    return replace(course, sessions=sessions, problem=replace(course.problem, sessions=sessions))


def _apart(course: Course, athletes: Set[int]) -> Course:
    """The same where only these may have minutes of their own: the others hold as planned, and still will."""
    people = tuple(replace(one, split=int(one.id) in athletes) for one in course.athletes)
    return replace(course, athletes=people, problem=replace(course.problem, athletes=people))


def _as_planned(course: Course) -> list[plan.Target]:
    """That everybody's week comes to what is planned for it, on the main channel."""
    problem = course.problem
    channel = problem.channels[0]
    loads = course.planned[channel].loads.values[:, course.as_of + 1 :].sum(axis=1)
    return [
        plan.Target(channel, problem.horizon[0], problem.horizon[-1], float(load), WORTH, frozenset({athlete.id}))
        for athlete, load in zip(course.athletes, loads, strict=True)
        if load > 0
    ]


def course_of(squad: Squad, first: date, opened: Opened) -> tuple[Course, dict[str, _Called]]:
    """The week as a problem of the solver, and what its limits are called: title and whose, by id."""
    desks = opened.desks
    main = desks[0]
    athletes = tuple(plan.PlanAthlete(str(member.athlete_id)) for member in main.members)
    sessions = [one for one in (_session(squad, one, opened) for one in opened.sessions) if one is not None]
    sessions += _recorded(first, desks)
    limits: list[PlanLimit] = []
    names: dict[str, _Called] = {}
    for opened_one in desks:
        for limit, title, whose in (
            *_limits(first, opened_one),
            *_stand_ins(first, opened_one, opened.ahead[opened_one.channel.code]),
        ):
            limits.append(limit)
            names[limit.id] = _Called(title, whose, limit)
    problem = plan.Problem(
        as_of=first - timedelta(days=1),
        days=DAYS,
        channels=tuple(one.channel.code for one in desks),
        athletes=athletes,
        sessions=tuple(sessions),
        limits=tuple(limits),
        levels=ALONE,
    )
    history = {one.channel.code: _history(one) for one in desks}
    return plan.lay_out(problem, history, main.desk.settings), names


def _history(opened: SquadDesk) -> DailyLoads:
    """What stands behind the week: with what is unrated counted high, where something is."""
    desk = opened.desk
    load = desk.planned.load[:, : desk.today].copy()
    estimated = None if desk.planned.estimated is None else desk.planned.estimated[:, : desk.today].copy()
    if desk.unrated is not None:
        some = desk.unrated.missing > 0
        load[some] = desk.unrated.high.load[some][:, : desk.today]
        if estimated is not None:
            estimated[some] = 0.0
    return DailyLoads(desk.planned.first_day, load, desk.planned.start, estimated, desk.planned.before)


def _session(squad: Squad, session: Session, week: Opened) -> PlanSession | None:
    """A session, with what a minute of it is for each and how long it is for them; what was done stays as it is."""
    minutes = week.minutes(session)
    if minutes <= 0:
        return None
    own: dict[str, plan.Own] = {}
    shares: dict[str, float] = {}
    loads: dict[str, dict[str, float]] = defaultdict(dict)
    for opened in week.desks:
        items = opened.plan
        each = items.a_minute(opened.channel.code, opened.definition, opened.rate, items.cap)
        here = [i for i, name in enumerate(opened.plan.session) if name == session.id]
        for i in here:
            athlete = str(opened.members[int(opened.plan.row[i])].athlete_id)
            loads[athlete][opened.channel.code] = float(each[i])
            shares[athlete] = float(opened.plan.minutes[i] * opened.plan.share[i]) / minutes
    for athlete, load in loads.items():
        own[athlete] = plan.Own(load, shares[athlete])
    fixed = session.done or session.kind is SessionKind.MATCH
    step = STEP if minutes % STEP == 0 else None
    least = minutes if fixed else min(minutes, max(SHORTEST, np.ceil(minutes * LEAST / STEP) * STEP))
    most = minutes if fixed else np.floor(max(minutes, minutes * MOST) / STEP) * STEP
    zone = ZoneInfo(squad.time_zone)
    return PlanSession(
        id=session.id,
        start=datetime.combine(week.day(session), session.starts_at.astimezone(zone).time(), zone),
        minutes=minutes,
        kind=session.kind.value,
        least=float(least),
        most=float(max(most, minutes)),
        step=None if fixed else step,
        weight=GIVES_WAY if session.kind is SessionKind.GYM else 1.0,
        own=own,
        split=None if fixed else plan.Split(min(SHORTEST, minutes), step),
        effort=session.planned_effort,
    )


def _recorded(first: date, desks: Sequence[SquadDesk]) -> list[PlanSession]:
    own: dict[str, dict[str, float]] = defaultdict(dict)
    for opened in desks:
        done = np.nan_to_num(opened.desk.done.load[:, opened.desk.today])
        for row in np.flatnonzero(done > 0):
            own[str(opened.members[int(row)].athlete_id)][opened.channel.code] = float(done[row])
    if not own:
        return []
    start = datetime.combine(first, time(0), UTC)
    parts = {athlete: plan.Own(load) for athlete, load in own.items()}
    return [PlanSession(RECORDED, start, 1.0, who=frozenset(own), own=parts)]


def _limits(first: date, opened: SquadDesk) -> Iterator[tuple[PlanLimit, str, str]]:
    """Each hard limit that holds for somebody in the week, from when to when it does for them."""
    today, laid = opened.desk.today, opened.limits
    ids = [str(member.athlete_id) for member in opened.members]
    for rule, hard, who in zip(laid.rules, laid.hard, laid.who, strict=True):
        days = np.where(hard, who, -1)[:, today : today + DAYS]
        spans: dict[tuple[int, int, int], list[str]] = defaultdict(list)
        for row, athlete in enumerate(ids):
            for index in np.unique(days[row][days[row] >= 0]):
                there = np.flatnonzero(days[row] == index)
                spans[int(index), int(there[0]), int(there[-1])].append(athlete)
        for (index, begin, end), athletes in spans.items():
            limit, _ = laid.limits[index]
            name = f"{limit.id}:{begin}:{end}"
            yield (
                PlanLimit(
                    name, limit.rule, limit.value, opened.channel.code, frozenset(athletes),
                    first + timedelta(days=begin), first + timedelta(days=end), settings=limit.settings or {},
                ),
                title_of(rule.key),
                opened.channel.name,
            )  # fmt: skip


def _stand_ins(first: date, opened: SquadDesk, ahead: Sequence[DayAhead]) -> Iterator[tuple[PlanLimit, str, str]]:
    """What stands in where limits are silent: a ramp on the week that ends on a day, the hardest day on the day."""
    channel, age = opened.channel.code, opened.desk.planned.age
    for i, day in enumerate(ahead):
        at = first + timedelta(days=i)
        for row, room in enumerate(day.rooms):
            athlete = str(opened.members[row].athlete_id)
            rule, value = "", 0.0
            if room.ramp is not None and age[row, opened.desk.today + i] >= WEEK:
                rule, value = "week_cap", room.ramp
            elif room.ramp is not None or REACH in room.room.binding:
                # Before a week of history is there, what the day itself is left.
                rule, value = "day_cap", room.room.load or 0.0
            if rule:
                name = f"{channel}:{athlete}:{i}"
                limit = PlanLimit(name, rule, value, channel, frozenset({athlete}), at, at)
                yield limit, room.why, opened.channel.name


def _told(opened: Opened, course: Course, names: Mapping[str, _Called], found: plan.Plan) -> Proposal:
    by_id = {one.id: one for one in opened.sessions}
    people = {str(member.athlete_id): member for member in opened.desks[0].members}
    sessions = [
        SessionChange(one.id, by_id[one.id].name, day, one.minutes, after, None if to == day else to)
        for one in course.sessions
        if one.id != RECORDED
        for day, to in [(opened.day(by_id[one.id]), one.start.date())]
        for after in [found.minutes.get(one.id, 0.0)]
        if after != one.minutes or to != day
    ]
    own = [
        OwnChange(people[athlete.id].athlete_id, people[athlete.id].name, one.id, by_id[one.id].name,
                  opened.day(by_id[one.id]),                   round(full, 1), round(mine, 1))
        for athlete in course.athletes
        for one in course.sessions
        if one.id != RECORDED and one.splits_for(athlete)
        for full in [one.share_of(athlete.id) * found.minutes.get(one.id, 0.0)]
        for mine in [found.own.get((athlete.id, one.id), 0.0)]
        if full - mine > 0.05
    ]  # fmt: skip
    own.sort(key=lambda one: (one.name, one.day))
    sessions.sort(key=lambda one: one.day)
    ways: dict[str, list[tuple[float, str]]] = defaultdict(list)
    for (limit, athlete), amount in sorted(found.give_way.items()):
        ways[names[limit].said].append((amount, f"{names[limit].amount(amount)} for {people[athlete].name}"))
    give_way = [
        f"{limit}: by {words.listed([who for _, who in sorted(of, reverse=True)])}" for limit, of in ways.items()
    ]
    giving = frozenset(people[athlete].athlete_id for _, athlete in found.give_way)
    matches = {one.id for one in opened.sessions if one.kind is SessionKind.MATCH}
    said = _sentence(sessions, own, matches, len(found.give_way), len(giving))
    after: dict[str, list[str]] = defaultdict(list)
    for one in found.after:
        if people[one.athlete].name not in after[names[one.limit].said]:
            after[names[one.limit].said].append(people[one.athlete].name)
    still_over = [f"{limit}: still over for {words.listed(who)}" for limit, who in after.items()]
    return Proposal(said, found.holds, found.optimal, sessions, own, give_way, still_over, giving)


def _sentence(
    sessions: Sequence[SessionChange], own: Sequence[OwnChange], matches: Set[str], limits: int, people: int
) -> str:
    if limits:
        many = words.count(limits, "limit")
        return f"The week cannot hold: {many} would have to give way, for {words.count(people, 'person', 'people')}."
    if not sessions and not own:
        return "The plan holds as it is."
    said = list(_moved(sessions))
    said += [f"{one.name} plays {one.after:g} of {one.before:g} min on {words.day(one.day)}"
             for one in own if one.session_id in matches]  # fmt: skip
    alone = len({one.athlete_id for one in own if one.session_id not in matches})
    if alone:
        who = words.count(alone, "person", "people")
        said.append(f"{'then ' if said else ''}shorter parts for {who} alone")
    text = "; ".join(said)
    return f"{text[0].upper()}{text[1:]}."


def _moved(sessions: Sequence[SessionChange]) -> Iterator[str]:
    """What becomes of sessions: minutes that leave one and come to another of its name are moved."""
    rest = list(sessions)
    for one in sessions:
        if one not in rest:
            continue
        rest.remove(one)
        more = one.after - one.before
        if one.to is not None:
            yield f"{one.title} on {words.day(one.to)} instead of {words.day(one.day)}"
            continue
        to = next(
            (two for two in rest if two.title == one.title and not two.to and two.after - two.before == -more), None
        )
        if to is None:
            yield f"{abs(more):g} min {'more' if more > 0 else 'less'} of {one.title} on {words.day(one.day)}"
            continue
        rest.remove(to)
        begin, end = (one, to) if more < 0 else (to, one)
        yield f"{abs(more):g} min of {one.title} from {words.day(begin.day)} to {words.day(end.day)}"

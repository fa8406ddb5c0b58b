"""Loads, plan and limits of a squad on a day, laid out for the core, channel by channel."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.day import Desk, Facts, Standing, Tuning
from uvren.core.loads import DailyLoads
from uvren.core.ratings import OWN_DAYS, typical_effort
from uvren.core.recovery import Work
from uvren.core.terms import EffortTerms, RateTerms, Terms
from uvren.core.units import EffortMinutes
from uvren.core.windows import Bools, Floats
from uvren.services.day.ahead import Plan, Span, plan_ahead
from uvren.services.day.facts import DAYS as FACTS_DAYS
from uvren.services.day.facts import read_facts
from uvren.services.day.limits import LimitsInForce, lay_out
from uvren.services.day.loads import LATE_DAYS, Definition, definition_on, definitions_of, loads_as_known
from uvren.services.day.people import years_trained
from uvren.services.day.recent import Recent, Weeks
from uvren.services.day.returns import Returning, climbed, limits_of, read_returning, rest
from uvren.services.day.standing import PLANNED, standings
from uvren.services.day.tuning import tuning
from uvren.services.day.unrated import UnratedSessions, declared_weeks, read_unrated
from uvren.store import queries
from uvren.store.models import Channel, Limit, SessionKind, Squad
from uvren.store.queries.session import KIND_CODES
from uvren.store.queries.squad import Member
from uvren.store.versions import is_known_at

AHEAD_DAYS = 7
# The days before the desk's that a strip shows.
SHOWN_DAYS = 28
# What is looked back on for recovery: the days a heavy one is compared with, and those a window can reach over.
WORK_DAYS = 45
BEGINNER_YEARS = 0.5


@dataclass(frozen=True)
class SquadDesk:
    """A desk with the people and the limits behind its rows.

    ``to_come`` says, rows x planned days, where the load is (in part) one that is only planned. ``written`` is what
    the plan asks for today before any call, shape (rows,), and ``minutes`` how long that is. ``standing`` is how each
    stands today, the overtraining screen left out, and ``off``, rows x planned days, where nothing is to be done.
    ``leans`` tells the rows of whom something rests on what the others did.
    """

    members: list[Member]
    channel: Channel
    limits: LimitsInForce
    desk: Desk
    to_come: Bools
    written: Floats
    minutes: Floats
    standing: list[Standing]
    off: Bools
    plan: Plan
    definition: Definition
    rate: Floats
    leans: Bools

    def load_if(self, row: int, standing: Standing) -> float:
        """What today's plan would come to for somebody if they stood so."""
        return self.plan.load_if(row, self.desk.today, standing, self.channel.code, self.definition, self.rate)


@dataclass(frozen=True)
class _Read:
    """What is read for every channel alike."""

    db: DbSession
    squad: Squad
    members: list[Member]
    span: Span
    channels: list[tuple[Channel, Definition]]
    beside: list[tuple[Channel, Definition]]
    limits: Mapping[int, list[tuple[Limit, str]]]
    rows: Floats
    recent: Recent
    recorded_until: date
    tuned: Tuning
    plan: Plan
    off: Bools
    standing: list[Standing]
    unrated: UnratedSessions
    declared: Floats
    efforts: Floats
    returning: Mapping[int, Returning]

    @property
    def row_of(self) -> dict[int, int]:
        return {member.athlete_id: i for i, member in enumerate(self.members)}


def open_desks(
    db: DbSession, squad: Squad, as_of: date, today: date, only: Collection[int] | None = None, *,
    with_facts: bool = False, with_work: bool = False, days_of_facts: int = FACTS_DAYS,
) -> list[SquadDesk]:  # fmt: skip
    """The squad on the morning of ``as_of``, a desk for each channel with limits, the main channel first.

    On today's date with what is recorded so far today. A morning still to come takes the plan of the days before it as
    done. With ``only`` these athletes of it, each as they are among everybody; ``with_facts`` the main desk knows what
    there is beside loads, of so many days, ``with_work`` alone every kind of work. Empty where there is nobody on
    that day.
    """
    everybody = queries.squad.members(db, squad.id, as_of)
    members = [member for member in everybody if only is None or member.athlete_id in only]
    if not members:
        return []
    read = _read(db, squad, everybody, members, as_of, today)
    facts = read_facts(db, squad, members, as_of, today, days_of_facts, read.returning) if with_facts else None
    back = max(read.span.first, as_of - timedelta(days=WORK_DAYS + days_of_facts - FACTS_DAYS))
    with_work = with_work or with_facts
    hours = _hours(db, squad, read.span, back) if with_work else {}
    desks = [_desk(read, channel, definition, facts) for channel, definition in read.channels]
    if with_work:
        works = [_work(one.channel, one.definition, one.desk.planned.load, hours) for one in desks]
        works += _works_beside(db, read.beside, read.row_of, read.span, (back, read.recorded_until), hours)
        main = next(i for i, one in enumerate(desks) if one.channel.is_main)
        beginner = _beginners(db, members, as_of)
        desks[main] = replace(desks[main], desk=replace(desks[main].desk, work=tuple(works), beginner=beginner))
    return desks


def _read(
    db: DbSession, squad: Squad, everybody: list[Member], members: list[Member], as_of: date, today: date
) -> _Read:
    last = as_of + timedelta(days=AHEAD_DAYS)
    recorded_until = as_of if as_of >= today else as_of - timedelta(days=1)
    row_of = {member.athlete_id: i for i, member in enumerate(members)}
    limits: dict[int, list[tuple[Limit, str]]] = defaultdict(list)
    for limit, name in queries.squad.limits_until(db, squad.id, last):
        limits[limit.channel_id].append((limit, name))
    defined = _defined(db, squad, as_of)
    begin = min(as_of, today)
    # What somebody climbs on has a desk for everybody, whoever is asked about.
    everybodys = read_returning(db, squad, everybody, begin, last, begin, [channel for channel, _ in defined])
    channels = [one for one in defined if one[0].is_main or limits[one[0].id] or one[0].code in climbed(everybodys)]
    ids = [channel for channel, _ in channels]
    rows = _loads(db, squad, ids, list(row_of), recorded_until)
    # As many days for everybody, so that a picture of one is as long as one of the squad.
    first = as_of - timedelta(days=SHOWN_DAYS)
    if len(rows):
        first = min(first, date.fromordinal(int(rows[:, 2].min())))
    span = Span(first, as_of, last)
    tuned = tuning(db, squad, members, as_of)
    standing = standings(db, squad, members, max(begin, span.first), last, as_of, tuned, everybodys)
    off = np.zeros((len(members), span.days), dtype=bool)
    for (athlete, day), one in standing.items():
        off[row_of[athlete], (day - span.first).days] = one.closed
    since = as_of - timedelta(days=OWN_DAYS)
    before = as_of - timedelta(days=1)
    some = None if len(members) == len(everybody) else list(row_of)
    mine = Weeks(rows, list(row_of), queries.day.done_minutes(db, squad.id, since, before, some), as_of)

    def of_everybody() -> Weeks:
        if some is None:
            return mine
        athletes = [one.athlete_id for one in everybody]
        past = queries.day.done_minutes(db, squad.id, since, before)
        return Weeks(_loads(db, squad, ids, athletes, recorded_until, since), athletes, past, as_of)

    recent = Recent(mine, of_everybody)
    return _Read(
        db=db,
        squad=squad,
        members=members,
        span=span,
        channels=channels,
        # Channels without limits have no desk, but what they leave behind counts for recovery.
        beside=[one for one in defined if one not in channels],
        limits=limits,
        rows=rows,
        recent=recent,
        recorded_until=recorded_until,
        tuned=tuned,
        plan=plan_ahead(db, squad, row_of, span, today, standing),
        off=off,
        standing=[standing.get((member.athlete_id, as_of), PLANNED) for member in members],
        unrated=read_unrated(db, squad, row_of, recorded_until, recent),
        declared=declared_weeks(db, members, as_of),
        efforts=_efforts(mine.past, members),
        returning={athlete: one for athlete, one in everybodys.items() if athlete in row_of},
    )


def _desk(read: _Read, channel: Channel, definition: Definition, facts: Facts | None) -> SquadDesk:
    """One channel of the squad."""
    span, members, plan = read.span, read.members, read.plan
    load, estimated, start = _recorded(read.rows[read.rows[:, 0] == channel.id], read.row_of, span)
    rate, leans = read.recent.rates(channel, definition)
    terms: Terms = EffortTerms(read.efforts)
    if not isinstance(definition.form, EffortMinutes):
        terms = RateTerms(channel.unit, rate, definition.form.hardest)
    coming = plan.loads(load.shape, channel.code, definition, rate)
    row_of = read.row_of
    own = limits_of(read.returning, channel, row_of, np.nan_to_num(load, nan=1.0) + coming > 0, span.first)
    laid = lay_out([*read.limits[channel.id], *own], members, span.first, span.days)
    laid = rest(laid, read.returning, row_of, span.first)
    end = span.today + 1
    done_by_then = load + np.where(np.arange(span.days) < span.today, coming, 0.0)
    hard, advisory = laid.split()
    declared = read.declared if channel.is_main else np.full(len(members), np.nan)
    before = _before(load, start, declared)
    done = DailyLoads(span.first, done_by_then[:, :end], start, estimated[:, :end], before)
    desk = Desk(
        span.as_of,
        done,
        DailyLoads(span.first, load + coming, start, estimated, before),
        hard,
        advisory,
        terms,
        main=channel.is_main,
        facts=facts if channel.is_main else None,
        tuning=read.tuned,
        unrated=read.unrated.of(definition, done, lambda: read.recent.known(channel)),
        declared=read.declared if channel.is_main else None,
    )
    minutes = np.zeros(len(members))
    of_today = plan.column == span.today
    np.add.at(minutes, plan.row[of_today], plan.minutes[of_today])
    return SquadDesk(
        members=members,
        channel=channel,
        limits=laid,
        desk=desk,
        to_come=coming > 0,
        written=plan.loads(load.shape, channel.code, definition, rate, as_written=True)[:, span.today],
        minutes=minutes,
        standing=read.standing,
        off=read.off,
        plan=plan,
        definition=definition,
        rate=rate,
        leans=leans | read.unrated.leans(definition, done),
    )


def _defined(db: DbSession, squad: Squad, as_of: date) -> list[tuple[Channel, Definition]]:
    """The channels that are defined on a day, the main one first."""
    found = (
        (channel, definition_on(definitions_of(channel), as_of)) for channel in queries.squad.channels(db, squad.id)
    )
    return [(channel, definition) for channel, definition in found if definition is not None]


def _loads(
    db: DbSession, squad: Squad, channels: list[Channel], athletes: list[int], until: date, since: date | None = None
) -> Floats:
    """Daily loads up to a day, as ``daily_loads`` has them; the late ones as they were known, if asked."""
    rows = queries.day.daily_loads(db, [channel.id for channel in channels], athletes, until, since)
    if is_known_at(db) is None:
        return rows
    late = until - timedelta(days=LATE_DAYS)
    known = loads_as_known(db, squad.id, channels, athletes, until)
    return np.vstack([rows[rows[:, 2] < late.toordinal()], np.array(known, dtype=np.float64).reshape(-1, 5)])


Hours = dict[SessionKind, tuple[Floats, Floats]]


def _hours(db: DbSession, squad: Squad, span: Span, since: date) -> Hours:
    """By kind of session: hours after midnight at which the first begins and the last ends, nan without one, by day."""
    zone = ZoneInfo(squad.time_zone)
    out: Hours = {}
    for day, kind, starts_at, minutes in queries.day.hours_between(db, squad.id, since, span.last):
        if kind not in out:
            out[kind] = np.full(span.days, np.nan), np.full(span.days, np.nan)
        begins, ends = out[kind]
        at, local = (day - span.first).days, starts_at.astimezone(zone)
        hour = local.hour + local.minute / 60
        begins[at] = np.fmin(begins[at], hour)
        ends[at] = np.fmax(ends[at], hour + minutes / 60)
    return out


def _work(channel: Channel, definition: Definition, load: Floats, hours: Hours) -> Work:
    mine = [hours[kind] for kind in hours if KIND_CODES[kind] in definition.kinds]
    nothing = np.full(load.shape[1], np.nan)
    begins = np.fmin.reduce([one[0] for one in mine], axis=0) if mine else nothing
    ends = np.fmax.reduce([one[1] for one in mine], axis=0) if mine else nothing
    return Work(channel.name, definition.form.systems, load, begins, ends)


def _works_beside(
    db: DbSession, beside: Sequence[tuple[Channel, Definition]], row_of: dict[int, int], span: Span,
    recorded: tuple[date, date], hours: Hours,
) -> list[Work]:  # fmt: skip
    """Channels without limits, as recorded over the days that recovery looks back on; other days count as empty."""
    since, until = recorded
    rows = queries.day.daily_loads(db, [channel.id for channel, _ in beside], list(row_of), until, since=since)
    return [
        _work(channel, definition, _recorded(rows[rows[:, 0] == channel.id], row_of, span)[0], hours)
        for channel, definition in beside
    ]


def _beginners(db: DbSession, members: Sequence[Member], as_of: date) -> Bools:
    """Who is in the first half year of training, as far as their experience is known."""
    athletes = [member.athlete_id for member in members]
    years = years_trained(db, athletes, as_of)
    return np.array([years.get(athlete, BEGINNER_YEARS) < BEGINNER_YEARS for athlete in athletes], dtype=bool)


def _recorded(rows: Floats, row_of: dict[int, int], span: Span) -> tuple[Floats, Floats, np.ndarray]:
    load = np.zeros((len(row_of), span.days))
    estimated = np.zeros_like(load)
    start = np.full(len(row_of), span.today + 1, dtype=np.int64)
    athletes = np.array(sorted(row_of))
    row_at = np.array([row_of[athlete] for athlete in athletes])
    at = row_at[np.searchsorted(athletes, rows[:, 1])]
    column = rows[:, 2].astype(np.int64) - span.first.toordinal()
    load[at, column] = rows[:, 3]
    estimated[at, column] = rows[:, 4]
    np.minimum.at(start, at, column)
    return load, estimated, start


# Days at the beginning of a history whose mean stands for what was before it.
FIRST_DAYS = 14


def _before(load: Floats, start: np.ndarray, declared: Floats) -> Floats:
    """Load a day before the history began: from the declared usual week, else the mean of the first 14 days."""
    out = np.zeros(load.shape[0])
    for row, first in enumerate(start):
        days = load[row, first : first + FIRST_DAYS]
        known = days[~np.isnan(days)]
        out[row] = declared[row] / 7 if not np.isnan(declared[row]) else known.mean() if known.size else 0.0
    return out


def _efforts(past: Sequence[Any], members: list[Member]) -> Floats:
    given: dict[int, list[float]] = defaultdict(list)
    for athlete, _, _, _, effort, _ in past:
        if effort is not None:
            given[athlete].append(effort)
    return np.array([typical_effort(np.array(given[member.athlete_id])) for member in members])


@dataclass(frozen=True)
class ChannelName:
    code: str
    name: str
    mark: str
    unit: str


def name_of(channel: Channel) -> ChannelName:
    return ChannelName(channel.code, channel.name, channel.mark, channel.unit)

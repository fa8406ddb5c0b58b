"""Loads, plan and limits of a squad on a day, laid out for the core, channel by channel."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.day import Desk, Standing
from uvren.core.loads import DailyLoads
from uvren.core.ratings import OWN_DAYS, typical_effort
from uvren.core.recovery import Work
from uvren.core.terms import EffortTerms, RateTerms, Terms
from uvren.core.units import EffortMinutes
from uvren.core.windows import Bools, Floats
from uvren.services.day.facts import DAYS as FACTS_DAYS
from uvren.services.day.facts import read_facts
from uvren.services.day.limits import LimitsInForce, lay_out
from uvren.services.day.loads import LATE_DAYS, Definition, definition_on, definitions_of, loads_as_known
from uvren.services.day.plan import planned_for
from uvren.services.day.standing import PLANNED, Standings, standings
from uvren.services.day.tuning import tuning
from uvren.services.day.unrated import declared_weeks, read_unrated
from uvren.store import queries
from uvren.store.models import AnchorKind, Channel, Limit, SessionKind, Squad
from uvren.store.queries import KIND_CODES, Member
from uvren.store.versions import is_known_at

AHEAD_DAYS = 7
# What is looked back on for recovery: the days a heavy one is compared with, and those a window can reach over.
WORK_DAYS = 45
BEGINNER_YEARS = 0.5


@dataclass(frozen=True)
class SquadDesk:
    """A desk with the people and the limits behind its rows.

    ``to_come`` says, rows x planned days, where the load is (in part) one that is only planned. ``written`` is what
    the plan asks for today before any call, shape (rows,), and ``minutes`` how long that is. ``standing`` is how each
    stands today, the overtraining screen left out, and ``off``, rows x planned days, where nothing is to be done.
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

    def load_if(self, row: int, standing: Standing) -> float:
        """What today's plan would come to for somebody if they stood so."""
        return self.plan.load_if(row, self.desk.today, standing, self.definition, self.rate)


@dataclass(frozen=True)
class Plan:
    """Work still to come, an item each: whose (row), when (column), kind of session, minutes, effort.

    ``share`` and ``cap`` are what stands of it: a share of the minutes, and the most effort.
    """

    row: np.ndarray
    column: np.ndarray
    kind: np.ndarray
    minutes: Floats
    effort: Floats
    place: list[str | None]
    share: Floats
    cap: Floats

    def loads(
        self, shape: tuple[int, int], definition: Definition, rate: Floats, *, as_written: bool = False
    ) -> Floats:
        """Load that the plan asks for, rows x days; by rating on a rated channel, else at the usual rate.

        ``as_written`` leaves out what calls and clinicians have changed of it.
        """
        share, cap = (1.0, np.inf) if as_written else (self.share, self.cap)
        load = self._items(share, cap, definition, rate)
        out = np.zeros(shape)
        np.add.at(out, (self.row, self.column), load)
        return out

    def load_if(self, row: int, column: int, standing: Standing, definition: Definition, rate: Floats) -> float:
        """Load of one row on one day, were it to stand so."""
        here = (self.row == row) & (self.column == column)
        share = standing.share(float(self.minutes[here].sum()))
        return float(self._items(share, standing.cap, definition, rate)[here].sum())

    def _items(self, share: Floats | float, cap: Floats | float, definition: Definition, rate: Floats) -> Floats:
        minutes = self.minutes * share
        if isinstance(definition.form, EffortMinutes):
            load = minutes * np.minimum(self.effort, cap)
        else:
            load = minutes * np.nan_to_num(rate)[self.row]
        if definition.form.places:
            load = load * definition.form.factor(self.place)
        return np.where(np.isin(self.kind, list(definition.kinds)), load, 0.0)


@dataclass(frozen=True)
class _Span:
    """The days that are laid out: ``first`` to ``last``, with today's column and the last one recorded."""

    first: date
    as_of: date
    last: date

    @property
    def days(self) -> int:
        return (self.last - self.first).days + 1

    @property
    def today(self) -> int:
        return (self.as_of - self.first).days


def open_desks(
    db: DbSession, squad: Squad, as_of: date, today: date, only: int | None = None, *, with_facts: bool = False,
    days_of_facts: int = FACTS_DAYS,
) -> list[SquadDesk]:  # fmt: skip
    """The squad on the morning of ``as_of``, a desk for each channel with limits, the main channel first.

    On today's date with what is recorded so far today. A morning still to come takes the plan of the days before it as
    done. With ``only`` one athlete of it; ``with_facts`` the main desk knows what there is beside loads, of so many
    days. Empty where there is nobody on that day.
    """
    members = [member for member in queries.members(db, squad.id, as_of) if only is None or member.athlete_id == only]
    if not members:
        return []
    last = as_of + timedelta(days=AHEAD_DAYS)
    recorded_until = as_of if as_of >= today else as_of - timedelta(days=1)
    row_of = {member.athlete_id: i for i, member in enumerate(members)}

    limits: dict[int, list[tuple[Limit, str]]] = defaultdict(list)
    for limit, name in queries.limits_until(db, squad.id, last):
        limits[limit.channel_id].append((limit, name))
    defined = _defined(db, squad, as_of)
    channels = [one for one in defined if one[0].is_main or limits[one[0].id]]
    # Channels without limits have no desk, but what they leave behind counts for recovery.
    beside = [one for one in defined if one not in channels]
    rows = _loads(db, squad, [channel for channel, _ in channels], list(row_of), recorded_until)
    first = int(rows[:, 2].min()) if len(rows) else as_of.toordinal()
    span = _Span(date.fromordinal(first), as_of, last)

    tuned = tuning(db, squad, members, as_of)
    since = max(min(as_of, today), span.first)
    standing = standings(db, squad, members, since, last, as_of, tuned)
    plan = _plan(db, squad, row_of, span, today, standing)
    off = np.zeros((len(members), span.days), dtype=bool)
    for (athlete, day), one in standing.items():
        off[row_of[athlete], (day - span.first).days] = one.closed
    stand_today = [standing.get((member.athlete_id, as_of), PLANNED) for member in members]
    facts = read_facts(db, squad, members, as_of, today, days_of_facts) if with_facts else None
    past = queries.done_minutes(db, squad.id, as_of - timedelta(days=OWN_DAYS), as_of - timedelta(days=1))
    unrated = read_unrated(db, squad, row_of, recorded_until, past)
    usual = declared_weeks(db, members, as_of)
    efforts = _efforts(past, members)
    minutes = np.zeros(len(members))
    np.add.at(minutes, plan.row[plan.column == span.today], plan.minutes[plan.column == span.today])
    desks: list[SquadDesk] = []
    works: list[Work] = []
    back = max(span.first, as_of - timedelta(days=WORK_DAYS + days_of_facts - FACTS_DAYS))
    hours = _hours(db, squad, span, back) if with_facts else {}
    for channel, definition in channels:
        load, estimated, start = _recorded(rows[rows[:, 0] == channel.id], row_of, span)
        rate = _rates(load, past, row_of, definition, span)
        terms: Terms = EffortTerms(efforts)
        if not isinstance(definition.form, EffortMinutes):
            terms = RateTerms(channel.unit, rate, definition.form.hardest)
        coming = plan.loads(load.shape, definition, rate)
        laid = lay_out(limits[channel.id], members, span.first, span.days)
        end = span.today + 1
        done_by_then = load + np.where(np.arange(span.days) < span.today, coming, 0.0)
        hard, advisory = laid.split()
        before = _before(load, start, usual if channel.is_main else np.full(len(members), np.nan))
        desk = Desk(
            as_of,
            DailyLoads(span.first, done_by_then[:, :end], start, estimated[:, :end], before),
            DailyLoads(span.first, load + coming, start, estimated, before),
            hard,
            advisory,
            terms,
            main=channel.is_main,
            facts=facts if channel.is_main else None,
            tuning=tuned,
            unrated=unrated.of(definition, done_by_then[:, :end], estimated[:, :end], start, span.first, before),
            declared=usual if channel.is_main else None,
        )
        written = plan.loads(load.shape, definition, rate, as_written=True)[:, span.today]
        desks.append(
            SquadDesk(
                members, channel, laid, desk, coming > 0, written, minutes, stand_today, off, plan, definition, rate
            )
        )
        works.append(_work(channel, definition, desk.planned.load, hours))
    if with_facts:
        works += _works_beside(db, beside, row_of, span, (back, recorded_until), hours)
        main = next(i for i, one in enumerate(desks) if one.channel.is_main)
        beginner = _beginners(db, members, as_of)
        desks[main] = replace(desks[main], desk=replace(desks[main].desk, work=tuple(works), beginner=beginner))
    return desks


def _defined(db: DbSession, squad: Squad, as_of: date) -> list[tuple[Channel, Definition]]:
    """The channels that are defined on a day, the main one first."""
    found = ((channel, definition_on(definitions_of(channel), as_of)) for channel in queries.channels(db, squad.id))
    return [(channel, definition) for channel, definition in found if definition is not None]


def _loads(db: DbSession, squad: Squad, channels: list[Channel], athletes: list[int], until: date) -> Floats:
    """Daily loads up to a day, as :func:`queries.daily_loads` has them; the late ones as they were known, if asked."""
    rows = queries.daily_loads(db, [channel.id for channel in channels], athletes, until)
    if is_known_at(db) is None:
        return rows
    late = until - timedelta(days=LATE_DAYS)
    known = loads_as_known(db, squad.id, channels, athletes, until)
    return np.vstack([rows[rows[:, 2] < late.toordinal()], np.array(known, dtype=np.float64).reshape(-1, 5)])


Hours = dict[SessionKind, tuple[Floats, Floats]]


def _hours(db: DbSession, squad: Squad, span: _Span, since: date) -> Hours:
    """By kind of session: hours after midnight at which the first begins and the last ends, nan without one, by day."""
    zone = ZoneInfo(squad.time_zone)
    out: Hours = {}
    for day, kind, starts_at, minutes in queries.hours_between(db, squad.id, since, span.as_of):
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
    db: DbSession, beside: Sequence[tuple[Channel, Definition]], row_of: dict[int, int], span: _Span,
    recorded: tuple[date, date], hours: Hours,
) -> list[Work]:  # fmt: skip
    """Channels without limits, as recorded over the days that recovery looks back on; other days count as empty."""
    since, until = recorded
    rows = queries.daily_loads(db, [channel.id for channel, _ in beside], list(row_of), until, since=since)
    return [
        _work(channel, definition, _recorded(rows[rows[:, 0] == channel.id], row_of, span)[0], hours)
        for channel, definition in beside
    ]


def _beginners(db: DbSession, members: Sequence[Member], as_of: date) -> Bools:
    """Who is in the first half year of training, as far as their experience is known."""
    athletes = [member.athlete_id for member in members]
    years: dict[int, float] = {}
    for athlete, _, day, value, _ in queries.anchors_until(db, athletes, as_of, AnchorKind.EXPERIENCE_YEARS):
        if value is not None:
            years[athlete] = value + (as_of - day).days / 365.25
    return np.array([years.get(athlete, BEGINNER_YEARS) < BEGINNER_YEARS for athlete in athletes], dtype=bool)


def _recorded(rows: Floats, row_of: dict[int, int], span: _Span) -> tuple[Floats, Floats, np.ndarray]:
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


def _plan(db: DbSession, squad: Squad, row_of: dict[int, int], span: _Span, today: date, standing: Standings) -> Plan:
    """Work still to come from ``as_of`` (or today, if earlier) on.

    What was done on a past day and after it counts as planned there, whatever came of it.
    """
    begin = max(min(span.as_of, today), span.first)
    sessions = {
        row.id: row for row in queries.plan(db, squad.id, begin, span.last) if span.as_of < today or not row.done
    }
    own: dict[str, dict[int, Any]] = defaultdict(dict)
    for row in queries.own_plans(db, list(sessions)):
        own[row.session_id][row.athlete_id] = row
    items: list[tuple[int, int, int, float, float, str | None]] = []
    keys: list[tuple[int, date]] = []
    for session in sessions.values():
        column, kind = (session.day - span.first).days, KIND_CODES[session.kind]
        for athlete, index in row_of.items():
            items.append((index, column, kind, *planned_for(session, own[session.id].get(athlete)), session.place))
            keys.append((athlete, session.day))
    columns: list[Any] = list(zip(*items, strict=True)) if items else [()] * 6
    total: dict[tuple[int, date], float] = defaultdict(float)
    for key, minutes in zip(keys, columns[3], strict=True):
        total[key] += minutes
    stand = [standing.get(key, PLANNED) for key in keys]
    return Plan(
        row=np.array(columns[0], dtype=np.int64),
        column=np.array(columns[1], dtype=np.int64),
        kind=np.array(columns[2], dtype=np.int64),
        minutes=np.array(columns[3], dtype=np.float64),
        effort=np.array(columns[4], dtype=np.float64),
        place=list(columns[5]),
        share=np.array([one.share(total[key]) for one, key in zip(stand, keys, strict=True)], dtype=np.float64),
        cap=np.array([one.cap for one in stand], dtype=np.float64),
    )


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


def _rates(load: Floats, past: Sequence[Any], row_of: dict[int, int], definition: Definition, span: _Span) -> Floats:
    """Usual load a minute of such work, shape (rows,): own last six weeks, else the squad's; nan for no work at all.

    A minute at a place counts by the place's factor, so that the rate holds where that is 1.
    """
    minutes = np.zeros(load.shape)
    factors = definition.form.factor([place for *_, place in past]) if definition.form.places else np.ones(len(past))
    for (athlete, day, kind, done, _, _), factor in zip(past, factors, strict=True):
        row, column = row_of.get(athlete), (day - span.first).days
        if row is not None and done and column >= 0 and KIND_CODES[kind] in definition.kinds:
            minutes[row, column] += done * factor
    window = slice(max(span.today - OWN_DAYS, 0), span.today)
    known = ~np.isnan(load[:, window])
    work = np.where(known, load[:, window], 0.0).sum(axis=1)
    time = np.where(known, minutes[:, window], 0.0).sum(axis=1)
    with np.errstate(divide="ignore", invalid="ignore"):
        own = np.where(time > 0, work / time, np.nan)
    together = work.sum() / time.sum() if time.sum() > 0 else np.nan
    return np.where(np.isnan(own), together, own)


@dataclass(frozen=True)
class ChannelName:
    code: str
    name: str
    mark: str
    unit: str

"""One athlete on one time axis: corridors, kinds of work, reports, tests, calls, breaks, and figures opened up."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence, Set
from dataclasses import dataclass, replace
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import arithmetic
from uvren.core import words as say
from uvren.core.arithmetic import SCHOOLS, Arithmetic
from uvren.core.audience import LEAST, Audience
from uvren.core.day import Desk, fitted
from uvren.core.errors import UnknownRule
from uvren.core.norms import USUAL_DAYS, usual, z_scores
from uvren.core.notices import KINDS
from uvren.core.recordings.heart_rate import FIVE_ZONES, THREE_ZONES, zones_known
from uvren.core.recovery import WINDOWS, System, heaviness, last_heavy, open_hours
from uvren.core.reports import ITEM_NAMES, ITEMS, Good, ReportKind
from uvren.core.windows import run_length
from uvren.services.day import outcomes as turned
from uvren.services.day.desk import WORK_DAYS, ChannelName, SquadDesk, name_of, open_desks
from uvren.services.day.facts import DAILY, laid_out
from uvren.services.day.fitness import TestLine, test_lines, test_series
from uvren.services.day.loads import anchor_book, distribution
from uvren.services.day.strips import REASONS, Strip, strips
from uvren.services.errors import Invalid, NotFound
from uvren.store import queries
from uvren.store.models import Availability, RecordingKind, SessionKind, Squad


@dataclass(frozen=True)
class ChannelLine:
    channel: ChannelName
    strip: Strip


@dataclass(frozen=True)
class ItemLine:
    """A daily item through time: values, and z against the athlete's own norm, up where it is better."""

    item: str
    name: str
    value: list[float | None]
    z: list[float | None]


@dataclass(frozen=True)
class Break:
    """Days without load, or under a clinician's restriction; ``why`` says which."""

    first: date
    last: date
    why: str


@dataclass(frozen=True)
class Zones:
    """Minutes in zones of heart rate: the names of the zones, lowest first, and their minutes by day."""

    names: list[str]
    minutes: list[list[float]]


@dataclass(frozen=True)
class OpenWindow:
    """A recovery window still open, as a range: from the heavy day's end to its early and its late end."""

    system: System
    because: str
    begins: datetime
    early: datetime
    late: datetime


@dataclass(frozen=True)
class Competition:
    day: date
    name: str
    #: A match against somebody; otherwise a race or whatever the session is called.
    match: bool


@dataclass(frozen=True)
class SchoolLine:
    """The ratio day by day as a school works it out, None where it is withheld."""

    code: str
    words: str
    ratio: list[float | None]


@dataclass(frozen=True)
class Timeline:
    """Everything of one athlete from their first day through the plan; lists go by :attr:`days`.

    ``minutes`` are by kind of session, ``competitions`` the squad's matches and races, done and to come. ``base`` is
    base load on the scale of the week load (weighted, x 7). ``schools`` hold the ratio by each school, None where it is
    withheld.
    """

    athlete_id: int
    name: str
    number: int | None
    position: str
    as_of: date
    days: list[date]
    channels: list[ChannelLine]
    minutes: dict[str, list[float]]
    competitions: list[Competition]
    base: list[float | None]
    zones: Zones | None
    windows: list[OpenWindow]
    items: list[ItemLine]
    tests: list[TestLine]
    schools: list[SchoolLine]
    calls: list[turned.Turned]
    breaks: list[Break]


def read_timeline(
    db: DbSession, squad: Squad, athlete_id: int, as_of: date, today: date, audiences: Set[Audience] = LEAST
) -> Timeline:
    """One athlete as of a day. Raises NotFound for someone who is not in the squad then."""
    desks = open_desks(db, squad, as_of, today, {athlete_id}, with_facts=True)
    if not desks:
        raise NotFound("This athlete is not in the squad on that day.")
    main = desks[0]
    begin = int(main.desk.planned.start[0])
    first = main.desk.planned.date_of(begin)
    days = [main.desk.planned.date_of(i) for i in range(begin, main.desk.planned.days)]
    work, member = main.desk.now, main.members[0]
    reads = Audience.REPORTS in audiences
    year = as_of - timedelta(days=365)
    return Timeline(
        athlete_id=member.athlete_id,
        name=member.name,
        number=member.number,
        position=member.position,
        as_of=as_of,
        days=days,
        channels=[
            ChannelLine(
                name_of(one.channel),
                strips(one.desk, one.to_come, begin)[0],
            )
            for one in desks
        ],
        minutes=_minutes(db, squad, athlete_id, first, as_of, today, len(days)),
        competitions=[
            Competition(session.day, session.name, session.opponent is not None)
            for session in queries.session.sessions_between(db, squad.id, first, days[-1], SessionKind.MATCH)
        ],
        base=_listed(work.ewma_chronic[0, begin:] * 7),
        zones=_zones(db, squad, athlete_id, first, as_of, len(days)),
        windows=_windows(main, ZoneInfo(squad.time_zone)),
        items=_items(db, squad, athlete_id, first, as_of) if reads else [],
        tests=test_lines(test_series(db, squad, {athlete_id: 0}, as_of), 0) if reads else [],
        schools=[
            SchoolLine(school.value, said, _listed(work.shown_ratio(school)[0, begin:]))
            for school, said in SCHOOLS.items()
        ],
        calls=turned.outcomes(db, squad, max(first, year), as_of, today, only=athlete_id, audiences=audiences),
        breaks=_breaks(db, squad, athlete_id, main),
    )


def position_week_load(db: DbSession, squad: Squad, athlete_id: int, as_of: date, today: date) -> list[float | None]:
    """Mean week load of the others of an athlete's position, on the days of the athlete's timeline."""
    desks = open_desks(db, squad, as_of, today)
    row = next((i for i, one in enumerate(desks[0].members) if one.athlete_id == athlete_id), None) if desks else None
    if row is None:
        raise NotFound("This athlete is not in the squad on that day.")
    members, planned = desks[0].members, desks[0].desk.planned
    mine = [i for i, one in enumerate(members) if one.position == members[row].position and i != row]
    week = desks[0].desk.ahead.week_load[mine][:, int(planned.start[row]) :]
    known = np.sum(~np.isnan(week), axis=0)
    mean = np.where(known > 0, np.nansum(week, axis=0) / np.maximum(known, 1), np.nan)
    return _listed(mean)


def open_figure(
    db: DbSession, squad: Squad, athlete_id: int, as_of: date, today: date, code: str, channel: str | None = None
) -> Arithmetic:
    """The arithmetic of a figure as the evidence of a morning shows it; ``change:ITEM`` is of a reported item.

    Raises NotFound or Invalid.
    """
    item = code.partition(":")[2]
    desks = open_desks(db, squad, as_of, today, {athlete_id}, with_facts=bool(item))
    found = next((one for one in desks if channel is None or one.channel.code == channel), None)
    if found is None:
        raise NotFound("This athlete is not in the squad on that day.")
    desk = found.desk
    if code == "room":
        rules = [fitted(rule, desk.done) for rule in desk.hard]
        opened = arithmetic.explain_room(desk.now, rules, 0, desk.today, desk.day_rooms[0])
        return replace(opened, steps=tuple(_with_reasons(step) for step in opened.steps))
    if item:
        return _open_change(desk, item)
    try:
        opened = arithmetic.explain(code, found.desk.now, 0, int(found.desk.judged[0]))
    except UnknownRule as error:
        raise Invalid(str(error), field=error.field) from error
    return replace(opened, withheld=REASONS.get(opened.withheld, opened.withheld))


def _with_reasons(step: str) -> str:
    for code, words in REASONS.items():
        step = step.replace(f"rests ({code})", f"rests, {words}")
    return step


def _open_change(desk: Desk, item: str) -> Arithmetic:
    at = desk.facts.item(item) if desk.facts else None
    if desk.facts is None or at is None:
        raise Invalid(f"There is no daily item {item!r} to open.", field="figure")
    norm, days = desk.facts.norm, desk.facts.daily[0, at]
    usual_now = float(norm.middle[0, at, -1]), float(norm.spread[0, at, -1]), int(norm.n[0, at, -1])
    return arithmetic.explain_change(ITEM_NAMES[item], desk.as_of, days[-USUAL_DAYS - 1 :], usual_now)


def _listed(values: np.ndarray, decimals: int = 2) -> list[float | None]:
    tidy = np.round(values, decimals).astype(object)
    tidy[np.isnan(values)] = None
    return list(tidy)


def _minutes(
    db: DbSession, squad: Squad, athlete_id: int, first: date, as_of: date, today: date, count: int
) -> dict[str, list[float]]:
    last = as_of if as_of >= today else as_of - timedelta(days=1)
    out: dict[str, list[float]] = defaultdict(lambda: [0.0] * count)
    for athlete, day, kind, minutes, *_ in queries.day.done_minutes(db, squad.id, first, last):
        if athlete == athlete_id and minutes:
            out[SessionKind(kind).value][(day - first).days] += minutes
    return dict(out)


def _zones(db: DbSession, squad: Squad, athlete_id: int, first: date, as_of: date, count: int) -> Zones | None:
    """Three zones where they were given or the thresholds are known, else five of the own maximum; None without any."""
    anchors = anchor_book(db, [athlete_id], as_of)
    day_of = {one.id: one.day for one in queries.session.sessions_between(db, squad.id, first, as_of)}
    found: dict[int, list[list[float]]] = {
        size: [[0.0] * count for _ in range(size)] for size in (len(THREE_ZONES), len(FIVE_ZONES))
    }

    def add(session: str, minutes: Sequence[float] | None) -> None:
        if minutes is not None and len(minutes) in found and session in day_of:
            for zone, value in zip(found[len(minutes)], minutes, strict=True):
                zone[(day_of[session] - first).days] += value

    for session, athlete, _, data in queries.session.works_between(db, squad.id, ["zones"], first, as_of):
        if athlete == athlete_id:
            add(session, data["minutes"])
    kinds = [RecordingKind.HEART_RATE]
    for _, session, athlete, _, summary in queries.session.recordings_between(db, squad.id, kinds, first, as_of):
        if athlete == athlete_id and session in day_of:
            own = anchors.heart(athlete_id, day_of[session])
            add(session, zones_known(distribution(summary), own))
    sums = {size: sum(map(sum, zones)) for size, zones in found.items()}
    size = max(sums, key=lambda one: sums[one])
    if sums[size] <= 0:
        return None
    return Zones(list(THREE_ZONES if size == len(THREE_ZONES) else FIVE_ZONES), found[size])


def _windows(main: SquadDesk, zone: ZoneInfo) -> list[OpenWindow]:
    """Recovery windows open on the morning of the desk: after each system's last heavy day."""
    desk = main.desk
    begin = max(desk.today - WORK_DAYS, 0)
    works = [work.part(begin, desk.today + 1) for work in desk.work]
    heavy = [heaviness(work.load) for work in works]
    morning = datetime.combine(desk.as_of, time(8), zone)
    beginner = desk.beginner is not None and bool(desk.beginner[0])
    out = []
    for system, window in WINDOWS.items():
        last = last_heavy(works, heavy, system, 0, desk.today - begin - 1)[-1:]
        for one in last:
            day = desk.planned.date_of(begin + one.column)
            ends = one.work.ends[one.column]
            after = datetime.combine(day, time(0), zone) + timedelta(hours=24.0 if np.isnan(ends) else float(ends))
            hours = open_hours(window, one.z, beginner=beginner)
            late = after + timedelta(hours=max(hours, window.late))
            if late > morning:
                what = f"{one.work.name} of {say.day(day)}, {say.number(one.load)}"
                out.append(OpenWindow(system, what, after, after + timedelta(hours=hours), late))
    return out


def _items(db: DbSession, squad: Squad, athlete_id: int, first: date, as_of: date) -> list[ItemLine]:
    codes, kinds = DAILY, (ReportKind.DAILY,)
    rows = queries.day.reports_between(db, squad.id, kinds, first, as_of, [athlete_id])
    values = laid_out(rows, {athlete_id: 0}, first, (as_of - first).days + 1)[0]
    floors = np.array([[ITEMS[code].step / 2] for code in codes])
    sign = np.array([[-1.0 if ITEMS[code].good is Good.LOW else 1.0] for code in codes])
    z = z_scores(values, usual(values, floors)) * sign
    return [
        ItemLine(code, ITEM_NAMES[code], _listed(values[i]), _listed(z[i]))
        for i, code in enumerate(codes)
        if not np.isnan(values[i]).all()
    ]


def _breaks(db: DbSession, squad: Squad, athlete_id: int, main: SquadDesk) -> list[Break]:
    done = main.desk.done
    rest = (done.values[0] == 0) & ~done.missing[0] & (done.age[0] > 0)
    rest[main.desk.today :] = False
    least = KINDS["break_found"].setting(main.desk, "days")[0]
    run = run_length(rest)
    ends = np.flatnonzero((run >= least) & np.append(run[1:] == 0, True))
    out = [
        Break(done.date_of(int(end - run[end] + 1)), done.date_of(int(end)), f"{run[end]} days without load")
        for end in ends
    ]
    for one in queries.athlete.restrictions_of(db, squad.id, athlete_id, main.desk.as_of):
        if one.availability is not Availability.FULL:
            closed = one.availability is Availability.OUT
            last = one.to_day or main.desk.as_of
            out.append(Break(one.from_day, last, "does not train" if closed else f"trains in part: {one.change}"))
    return sorted(out, key=lambda one: one.first)

"""Lighter weeks: who is due one and by which signs, what becomes of each session, and whether the last one helped."""

from __future__ import annotations

from collections.abc import Sequence, Set
from dataclasses import asdict, dataclass, replace
from datetime import date, timedelta

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.audience import Audience
from uvren.core.notices import Shape
from uvren.core.plan.helped import Verdict, look_back, measures_of
from uvren.core.plan.lighter import (
    RESTORE_EFFORT,
    RESTORE_MINUTES,
    Lift,
    Line,
    School,
    Settings,
    Sport,
    freed_days,
    is_compound,
    lighten,
    said,
)
from uvren.core.units import estimated_maximum
from uvren.services.club import audit
from uvren.services.day.kept import parts_on
from uvren.services.errors import Invalid, NotFound
from uvren.services.stamp import Stamp
from uvren.services.week import saving
from uvren.services.week.reading import Changes, Opened, open_week
from uvren.store import queries
from uvren.store.models import LighterWeek, Session, SessionKind, Squad
from uvren.store.types import new_ulid

DAYS, WEEK = 7, timedelta(days=7)
# What was lifted last stands for what is planned; and so far back a lighter week is looked back on.
LIFTS_DAYS, BACK_DAYS = 28, 56


@dataclass(frozen=True)
class LighterLine:
    """A session before and after; ``lifts`` are the lifts in it, each before → after."""

    session_id: str
    title: str
    day: date
    before: float
    after: float
    effort_before: float
    effort_after: float
    said: str
    lifts: list[str]


@dataclass(frozen=True)
class Due:
    """Somebody a lighter week is proposed for, with its signs, what came of the last one, and what it would be.

    ``by_signs`` is false where only the last one is long ago.
    """

    athlete_id: int
    name: str
    signs: str
    by_signs: bool
    last: str
    lines: list[LighterLine]


@dataclass(frozen=True)
class Standing:
    """A lighter week that stands, to be taken back; ``last`` is its last day."""

    id: str
    athlete_id: int
    name: str
    first: date
    last: date
    lines: list[LighterLine]


@dataclass(frozen=True)
class Back:
    """What came of a lighter week."""

    athlete_id: int
    name: str
    first: date
    verdict: Verdict
    said: str


@dataclass(frozen=True)
class LighterWeeks:
    due: list[Due]
    standing: list[Standing]
    back: list[Back]


def read_lighter(
    db: DbSession, squad: Squad, first: date, today: date, audiences: Set[Audience], school: School = School.CUT, *,
    fewer: bool = False,
) -> LighterWeeks:  # fmt: skip
    """Lighter weeks of a squad around a day, with ``fewer`` in fewer days.

    What they rest on is for who reads reports: others see what stands.
    """
    names = {one.athlete_id: one.name for one in queries.squad.members(db, squad.id, first)}
    kept = queries.day.lighter_weeks(db, squad.id, first - timedelta(days=BACK_DAYS), first + WEEK)
    standing = [_standing(one, names) for one in kept if one.from_day + WEEK > first and one.athlete_id in names]
    if Audience.REPORTS not in audiences:
        return LighterWeeks([], standing, [])
    parts = parts_on(db, squad, first, today)
    back = []
    for one in kept:
        part = parts.get(one.athlete_id)
        if part is not None and one.from_day + 2 * WEEK <= first:
            looked = look_back(measures_of(part.day.facts, part.row, one.from_day))
            back.append(Back(one.athlete_id, names[one.athlete_id], one.from_day, looked.verdict, looked.said()))
    last = {one.athlete_id: one for one in back}
    has_one = {one.athlete_id for one in standing}
    signs = {
        athlete: notice
        for athlete, part in parts.items()
        if athlete not in has_one and not part.standing.closed
        for notice in part.day.found[0][part.row]
        if notice.code == "lighter_due"
    }
    opened = open_week(db, squad, first, today, Changes()) if signs else None
    lifts = _lifts(db, squad, first) if signs else {}
    due = []
    for athlete, notice in sorted(signs.items(), key=lambda one: one[1].shape is not Shape.WAVE):
        before = last.get(athlete)
        assert opened is not None
        settings = _tuned(school, None if before is None else before.verdict)
        lines = _lines(opened, athlete, lifts.get(athlete, []), settings, fewer=fewer)
        due.append(Due(athlete, names[athlete], notice.sentence, notice.shape is Shape.WAVE, _told(before), lines))
    return LighterWeeks(due, standing, back)


def accept(
    db: DbSession, squad: Squad, first: date, athlete_id: int, school: School, audiences: Set[Audience], *,
    stamp: Stamp, today: date, fewer: bool = False,
) -> LighterWeek:  # fmt: skip
    """Plan a lighter week that is proposed. Does not commit. Raises Invalid, NotFound."""
    if first < today:
        raise Invalid("A lighter week begins today or later.", field="day")
    found = read_lighter(db, squad, first, today, audiences, school, fewer=fewer)
    due = next((one for one in found.due if one.athlete_id == athlete_id), None)
    if due is None:
        raise NotFound("No lighter week is proposed for this athlete on this day.", field="athlete_id")
    sessions = [line.session_id for line in due.lines]
    stood = {
        row.session_id: {"minutes": row.planned_minutes, "effort": row.planned_effort, "loads": row.planned_loads}
        for row in queries.day.own_plans(db, sessions)
        if row.athlete_id == athlete_id
    }
    nothing = {"minutes": None, "effort": None, "loads": None}
    own = {(athlete_id, line.session_id): line.after for line in due.lines}
    efforts = {(athlete_id, line.session_id): line.effort_after for line in due.lines}
    saving.plan_own(db, squad, own, stamp=stamp, efforts=efforts)
    week = LighterWeek(
        id=new_ulid(), squad_id=squad.id, athlete_id=athlete_id, from_day=first, school=school.value,
        signs=[due.signs], lines=[asdict(line) | {"day": line.day.isoformat()} for line in due.lines],
        stood=[{"session_id": one, **stood.get(one, nothing)} for one in sessions], made_by=stamp.by, made_at=stamp.now,
    )  # fmt: skip
    db.add(week)
    audit.note(db, "lighter_week", f"lighter_week:{week.id}", stamp=stamp, squad_id=squad.id, athlete_id=athlete_id)
    db.flush()
    return week


def take_back(db: DbSession, squad: Squad, name: str, *, stamp: Stamp) -> None:
    """Take a lighter week back: what was planned before it stands again, as far as it is still to come.

    Does not commit. Raises NotFound.
    """
    week = queries.day.lighter_week(db, squad.id, name)
    if week is None:
        raise NotFound("There is no such lighter week in this squad.")
    if week.withdrawn_at is not None:
        return
    there = queries.session.sessions_of(db, squad.id, [one["session_id"] for one in week.stood])
    open_ = [one for one in week.stood if one["session_id"] in there and not there[one["session_id"]].done]
    key = week.athlete_id
    saving.plan_own(
        db, squad, {(key, one["session_id"]): one["minutes"] for one in open_}, stamp=stamp,
        efforts={(key, one["session_id"]): one["effort"] for one in open_},
        loads={(key, one["session_id"]): one["loads"] for one in open_ if one["loads"]},
    )  # fmt: skip
    week.withdrawn_at = stamp.now
    audit.note(db, "lighter_week_taken_back", f"lighter_week:{week.id}", stamp=stamp, squad_id=squad.id,
               athlete_id=key)  # fmt: skip
    db.flush()


def _tuned(school: School, verdict: Verdict | None) -> Settings:
    """After one that was not seen to help the next one cuts deeper."""
    if verdict in (Verdict.SAME, Verdict.WORSE):
        return Settings(school=school, sets=0.4, minutes=0.5, kg=0.4)
    return Settings(school=school)


def _told(last: Back | None) -> str:
    if last is None:
        return ""
    since = f"The last one, from {say.day(last.first)}: {last.said}"
    if last.verdict in (Verdict.SAME, Verdict.WORSE):
        return f"{since} This one cuts deeper; ask about sleep, food and work outside first."
    return since


def _standing(week: LighterWeek, names: dict[int, str]) -> Standing:
    lines = [LighterLine(**(one | {"day": date.fromisoformat(one["day"])})) for one in week.lines]
    last = week.from_day + WEEK - timedelta(days=1)
    return Standing(week.id, week.athlete_id, names[week.athlete_id], week.from_day, last, lines)


def _lifts(db: DbSession, squad: Squad, first: date) -> dict[int, list[Lift]]:
    """What each lifted in their last session with lifts: sets that are alike are one line."""
    since = first - timedelta(days=LIFTS_DAYS)
    days = {one.id: one.day for one in queries.session.sessions_between(db, squad.id, since, first)}
    last: dict[int, tuple[date, list[dict[str, float]]]] = {}
    for session, athlete, _, data in queries.session.works_between(db, squad.id, ["lifting"], since, first):
        day = days[session]
        if data["items"] and (athlete not in last or day >= last[athlete][0]):
            last[athlete] = (day, data["items"])
    return {athlete: [_lift(item) for item in items] for athlete, (_, items) in last.items()}


def _lift(item: dict[str, float]) -> Lift:
    name, kg, reserve, reps = str(item["exercise"]), float(item["kg"]), item.get("reserve"), int(item["reps"])
    n, left = np.array([float(reps)]), np.array([np.nan if reserve is None else float(reserve)])
    most = float(estimated_maximum(np.array([kg]), n, left)[0])
    maximum = None if np.isnan(most) else most
    return Lift(name, int(item["sets"]), reps, kg if kg > 0 else None, reserve, is_compound(name), maximum)


def _lines(
    opened: Opened, athlete: int, lifts: Sequence[Lift], settings: Settings, *, fewer: bool
) -> list[LighterLine]:
    """Each session of the week that somebody is planned for, matches left as they are."""
    plan = opened.desks[0].plan
    row = next(i for i, member in enumerate(opened.desks[0].members) if member.athlete_id == athlete)
    sessions = {one.id: one for one in opened.sessions if not one.done}
    found = []
    for i in np.flatnonzero(plan.row == row):
        session = sessions.get(plan.session[int(i)])
        minutes, effort = float(plan.minutes[i]), float(plan.effort[i])
        if session is None or session.kind in (SessionKind.MATCH, SessionKind.RECOVERY) or minutes <= 0:
            continue
        found.append(_line(session, minutes, effort, lifts if session.kind is SessionKind.GYM else (), settings))
    found.sort(key=lambda line: line.day)
    gym = {name for name, one in sessions.items() if one.kind is SessionKind.GYM}
    return _freed(found, gym) if fewer else found


def _freed(lines: Sequence[LighterLine], gym: Set[str]) -> list[LighterLine]:
    """The same with days without work: mobility or a walk stand in place of the first session of each."""
    days = sorted({line.day for line in lines})
    of = [[line for line in lines if line.day == day] for day in days]
    alone = [all(line.session_id in gym for line in mine) for mine in of]
    free = freed_days([sum(line.before * line.effort_before for line in mine) for mine in of], alone)
    out = []
    for i, mine in enumerate(of):
        if i in free:
            out += [_restored(mine[0]), *(_left_out(line) for line in mine[1:])]
        else:
            out += mine
    return out


def _restored(line: LighterLine) -> LighterLine:
    minutes, was = min(RESTORE_MINUTES, line.before), f"{line.before:g} min at {line.effort_before:g}"
    said = f"{was} → a day without work; mobility or a walk, {minutes:g} min at {RESTORE_EFFORT:g}"
    return replace(line, after=minutes, effort_after=RESTORE_EFFORT, said=said, lifts=[])


def _left_out(line: LighterLine) -> LighterLine:
    return replace(line, after=0.0, said=f"{line.before:g} min at {line.effort_before:g} → left out", lifts=[])


def _line(session: Session, minutes: float, effort: float, lifts: Sequence[Lift], settings: Settings) -> LighterLine:
    before: list[Line] = [Sport(session.name, minutes, effort), *lifts]
    after = lighten(before, settings).lines
    sport = after[0]
    assert isinstance(sport, Sport)
    # Nothing becomes longer: five minutes stay five.
    shorter = min(sport.minutes, minutes)
    told = f"{minutes:g} min at {effort:g} → {shorter:g} min at {sport.effort:g}"
    each = [
        f"{one.name}: {said(one, other)}" for one, other in zip(lifts, after[1:], strict=True) if isinstance(one, Lift)
    ]
    return LighterLine(session.id, session.name, session.day, minutes, shorter, effort, sport.effort, told, each)

"""A plan held against its limits by the limits' own arithmetic, not by the program that found it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from itertools import combinations

import numpy as np

from uvren.core.plan.course import Course
from uvren.core.plan.model import behind
from uvren.core.plan.problem import Level, PlanLimit, PlanSession
from uvren.core.plan.rows import AFTERWARDS, Row, channel_of, rule_of
from uvren.core.windows import Floats
from uvren.core.workload import Workload

# A figure this close to its limit, as a share of its scale, stands on it.
ON = 1e-6


@dataclass(frozen=True)
class Standing:
    """Where sessions stand, their minutes, and everybody's own: by session, and by athlete and session."""

    start: Mapping[str, datetime]
    minutes: Mapping[str, float]
    own: Mapping[tuple[str, str], float]


@dataclass(frozen=True)
class Given:
    """A limit that a plan breaks and that no plan was asked to hold."""

    limit: str
    athlete: str
    day: date
    figure: float


def coaches(course: Course) -> Standing:
    """The plan as the coach has it, by those who may take part."""
    standing = [one for one in course.sessions if one.minutes > 0]
    minutes = {
        (athlete.id, one.id): one.share_of(athlete.id) * one.minutes
        for athlete in course.athletes
        for one in standing
        if course.may[athlete.id, one.id][0]
    }
    own = {pair: each for pair, each in minutes.items() if each > 0}
    return Standing({one.id: one.start for one in standing}, {one.id: one.minutes for one in standing}, own)


def over(course: Course, rows: Sequence[Row], standing: Standing) -> Floats:
    """By how much each row is over its bound, in shares of its scale; below 0 where it holds. Shape (rows,)."""
    loads = course.loads(standing.own, standing.start)
    works = {channel: (ahead > 0).astype(np.float64) for channel, ahead in loads.items()}
    return np.array(
        [
            ((works if row.counts else loads)[row.channel][row.athlete] @ row.weights - row.bound) / row.scale
            for row in rows
        ]
    )


def broken(course: Course, rows: Sequence[Row], standing: Standing) -> dict[tuple[str, str], float]:
    """By limit and athlete the worst day's excess, in shares of its scale, where there is any."""
    found: dict[tuple[str, str], float] = defaultdict(float)
    for row, excess in zip(rows, over(course, rows, standing), strict=True):
        if excess > 0:
            key = (row.limit.id, course.athletes[row.athlete].id)
            found[key] = max(found[key], float(excess))
    for limit in course.problem.limits:
        if limit.rule == "spacing" and limit.hard and limit.value:
            for athlete in course.athletes:
                lacks = _too_close(course, standing, limit, athlete.id) if limit.is_for(athlete.id) else 0.0
                if lacks > 0:
                    found[limit.id, athlete.id] = lacks
    return dict(found)


def _too_close(course: Course, standing: Standing, limit: PlanLimit, athlete: str) -> float:
    """The hours that lack between heavy sessions at the worst, as a share of those asked for."""
    system, hours = limit.settings.get("system", ""), limit.value or 0.0
    mine = sorted(
        (standing.start[session.id], standing.own[athlete, session.id])
        for session in course.sessions
        if system in session.heavy and (athlete, session.id) in standing.own
    )
    gaps = [(two[0], (two[0] - one[0]).total_seconds() / 3600 - one[1] / 60) for one, two in combinations(mine, 2)] + [
        (start, (start - done.end).total_seconds() / 3600)
        for start, _ in mine
        for done in course.problem.done
        if system in done.systems and (done.who is None or athlete in done.who)
    ]
    return max((1 - gap / hours for start, gap in gaps if limit.judges(start.date())), default=0.0)


def binding(course: Course, rows: Sequence[Row], standing: Standing) -> list[tuple[tuple[str, date], tuple[str, ...]]]:
    """Athletes and days with the limits on load that they stand at."""
    found: dict[tuple[str, date], set[str]] = defaultdict(set)
    for row, excess in zip(rows, over(course, rows, standing), strict=True):
        if not row.counts and abs(excess) <= ON:
            found[course.athletes[row.athlete].id, course.problem.horizon[row.day]].add(row.limit.id)
    return [(at, tuple(sorted(limits))) for at, limits in sorted(found.items())]


def looked_at(course: Course, standing: Standing) -> tuple[Given, ...]:
    """What of spread and strain a plan breaks."""
    loads = course.loads(standing.own, standing.start)
    found = []
    for limit in sorted(course.problem.limits, key=lambda one: one.id):
        if limit.rule not in AFTERWARDS or limit.value is None:
            continue
        workload = course.workload(channel_of(course, limit), loads[channel_of(course, limit)])
        figures = figures_of(limit, workload)
        for i, athlete in enumerate(course.athletes):
            for day, date_ in enumerate(course.problem.horizon):
                figure = figures[i, course.as_of + 1 + day]
                if limit.is_for(athlete.id) and limit.judges(date_) and figure > limit.value * (1 + ON):
                    found.append(Given(limit.id, athlete.id, date_, float(figure)))
    return tuple(found)


def figures_of(limit: PlanLimit, workload: Workload) -> Floats:
    """Spread or strain of each day, nan where it is not spoken of."""
    spread = rule_of(limit) if limit.rule == "monotony_cap" else None
    if spread is None:
        return workload.strain
    return np.where(spread.speaks(workload), workload.monotony, np.nan)


def value_of(course: Course, standing: Standing, level: Level) -> float:
    """What a level comes to in a plan."""
    return float(sum(weight * _PARTS[part](course, standing) for part, weight in level.items() if weight))


def _squad(course: Course, standing: Standing) -> float:
    return sum(
        one.weight
        * (
            abs(standing.minutes.get(one.id, 0.0) - one.minutes)
            + (one.move_minutes if standing.start.get(one.id, one.start) != one.start else 0.0)
        )
        for one in course.sessions
    )


def _touched(course: Course, standing: Standing) -> float:
    return sum(is_touched(one, standing) for one in course.sessions)


def is_touched(session: PlanSession, standing: Standing) -> bool:
    moved = standing.start.get(session.id, session.start) != session.start
    return moved or standing.minutes.get(session.id, 0.0) != session.minutes


def lacking(course: Course, standing: Standing) -> dict[tuple[str, str], float]:
    """Minutes that athletes with minutes of their own are short of a session's, by athlete and session."""
    found = {}
    for session in course.sessions:
        if session.id not in standing.start:
            continue
        at = session.starts.index(standing.start[session.id])
        for athlete in course.athletes:
            if session.splits_for(athlete) and course.may[athlete.id, session.id][at]:
                full = session.share_of(athlete.id) * standing.minutes[session.id]
                found[athlete.id, session.id] = full - standing.own.get((athlete.id, session.id), 0.0)
    return found


def _own(course: Course, standing: Standing) -> float:
    people = {one.id: one.weight for one in course.athletes}
    sessions = {one.id: one.weight for one in course.sessions}
    lacks = lacking(course, standing).items()
    return sum(people[athlete] * sessions[session] * minutes for (athlete, session), minutes in lacks)


def _own_touched(course: Course, standing: Standing) -> float:
    return sum(minutes > 0 for minutes in lacking(course, standing).values())


def _target(course: Course, standing: Standing) -> float:
    loads = course.loads(standing.own, standing.start)
    off = 0.0
    for target in course.problem.targets:
        days = [i for i, day in enumerate(course.problem.horizon) if target.first <= day <= target.last]
        for i, athlete in enumerate(course.athletes):
            if target.athletes is None or athlete.id in target.athletes:
                ahead = float(loads[target.channel][i, days].sum())
                off += target.weight * abs(ahead + behind(course, target, athlete.id) - target.load)
    return off


_PARTS = {"squad": _squad, "own": _own, "touched": _touched, "own_touched": _own_touched, "target": _target}

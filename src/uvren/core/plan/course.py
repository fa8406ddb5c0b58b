"""The plan as the coach has it: who may take part in what, and the loads it gives behind everybody's history."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from datetime import date, datetime
from functools import cached_property

import numpy as np

from uvren.core.loads import DailyLoads
from uvren.core.plan.problem import PlanAthlete, PlanLimit, PlanSession, Problem
from uvren.core.series import LoadRow, tabulate
from uvren.core.windows import Floats
from uvren.core.workload import Settings, Workload

# Rules that say who may take part; they are never traded.
PRESENCE = ("gate", "effort_cap", "content_cap")
# As a plan is judged: estimates weigh in ratios alone.
JUDGED = Settings(estimated_weeks=False)


@dataclass(frozen=True)
class Course:
    """A problem with the history behind it. Athletes and sessions stand in the order of their ids.

    Parameters
    ----------
    history : mapping of channel to DailyLoads
        A row for each athlete, through ``as_of``; everybody's first day is their first on any channel.
    """

    problem: Problem
    athletes: tuple[PlanAthlete, ...]
    sessions: tuple[PlanSession, ...]
    history: Mapping[str, DailyLoads]
    settings: Settings = JUDGED

    @property
    def as_of(self) -> int:
        """Column of the last day of the history."""
        return next(iter(self.history.values())).days - 1

    @cached_property
    def may(self) -> dict[tuple[str, str], tuple[bool, ...]]:
        """Whether an athlete may take part in a session, by its starts."""
        return {
            (athlete.id, session.id): tuple(
                session.for_(athlete.id) and self._let_in(athlete.id, session, start) for start in session.starts
            )
            for athlete in self.athletes
            for session in self.sessions
        }

    def _let_in(self, athlete: str, session: PlanSession, start: datetime) -> bool:
        day = start.date()
        rules = (one for one in self._presence if one.is_for(athlete) and one.judges(day))
        return all(_lets_in(one, session) for one in rules)

    @cached_property
    def _presence(self) -> list[PlanLimit]:
        return [one for one in self.problem.limits if one.rule in PRESENCE and one.hard]

    @cached_property
    def planned(self) -> dict[str, Workload]:
        """Each channel's workload over history and the coach's plan: as planned, by those who may take part."""
        minutes = {
            (athlete.id, session.id): session.share_of(athlete.id) * session.minutes
            for athlete in self.athletes
            for session in self.sessions
            if self.may[athlete.id, session.id][0]
        }
        at = {session.id: session.start for session in self.sessions}
        return {channel: self.workload(channel, loads) for channel, loads in self.loads(minutes, at).items()}

    def loads(self, minutes: Mapping[tuple[str, str], float], at: Mapping[str, datetime]) -> dict[str, Floats]:
        """Load of the days ahead by channel, each (athletes, days).

        ``minutes`` are an athlete's own in a session, ``at`` where it stands; what is left out gives no load.
        """
        place = {athlete.id: i for i, athlete in enumerate(self.athletes)}
        by_id = {session.id: session for session in self.sessions}
        shape = (len(self.athletes), self.problem.days)
        found = {channel: np.zeros(shape) for channel in self.problem.channels}
        for (athlete, session), own in minutes.items():
            if own <= 0 or session not in at:
                continue
            day = self.problem.day(at[session])
            for channel in self.problem.channels:
                found[channel][place[athlete], day] += own * by_id[session].load_of(athlete, channel)
        return found

    def workload(self, channel: str, ahead: Floats) -> Workload:
        """The channel's history with these loads of the days ahead behind it."""
        history = self.history[channel]
        known = np.zeros(history.load.shape) if history.estimated is None else history.estimated
        whole = replace(
            history,
            load=np.concatenate([history.load, ahead], axis=1),
            estimated=np.concatenate([known, np.zeros(ahead.shape)], axis=1),
        )
        return Workload(whole, self.settings)


def _lets_in(limit: PlanLimit, session: PlanSession) -> bool:
    if limit.rule == "gate":
        allowed = limit.settings.get("allow") or ()
        return session.kind in allowed  # type: ignore[operator]
    said = session.effort if limit.rule == "effort_cap" else session.open
    return said is None or limit.value is None or said <= limit.value + 1e-9


def lay_out(problem: Problem, history: Mapping[str, DailyLoads], settings: Settings = JUDGED) -> Course:
    """A problem with its history by channel, a row for each of its athletes in their order, through ``as_of``."""
    order = np.array(sorted(range(len(problem.athletes)), key=lambda i: problem.athletes[i].id), dtype=np.int64)
    return Course(
        problem,
        tuple(problem.athletes[i] for i in order),
        tuple(sorted(problem.sessions, key=lambda one: one.id)),
        {channel: loads.of_rows(order) for channel, loads in history.items()},
        settings,
    )


def set_out(problem: Problem, rows: Iterable[LoadRow], settings: Settings = JUDGED) -> Course:
    """Put the history behind a problem: rows after its ``as_of``, of others and of other channels do not exist.

    Whose history has no row begins it on the first day planned.
    """
    athletes = tuple(sorted(problem.athletes, key=lambda one: one.id))
    ids = {one.id for one in athletes}
    known = [row for row in rows if row.day <= problem.as_of and row.athlete in ids]
    first = min((row.day for row in known), default=problem.as_of)
    shape = (len(athletes), (problem.as_of - first).days + 1)
    load = {channel: np.zeros(shape) for channel in problem.channels}
    estimated = {channel: np.zeros(shape) for channel in problem.channels}
    start = np.full(len(athletes), shape[1])
    place = {athlete.id: i for i, athlete in enumerate(athletes)}
    if known:
        _fill(known, first, place, load, estimated, start)
    return Course(
        problem,
        athletes,
        tuple(sorted(problem.sessions, key=lambda one: one.id)),
        {channel: DailyLoads(first, load[channel], start, estimated[channel]) for channel in problem.channels},
        settings,
    )


def _fill(
    known: list[LoadRow],
    first: date,
    place: Mapping[str, int],
    load: Mapping[str, Floats],
    estimated: Mapping[str, Floats],
    start: np.ndarray,
) -> None:
    table = tabulate(known)
    offset = (table.loads.first_day - first).days
    assert table.loads.estimated is not None
    for row, (athlete, channel) in enumerate(table.keys):
        start[place[athlete]] = table.loads.start[row] + offset
        if channel in load:
            days = slice(offset, offset + table.loads.days)
            load[channel][place[athlete], days] = table.loads.load[row]
            estimated[channel][place[athlete], days] = table.loads.estimated[row]

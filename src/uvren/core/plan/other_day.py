"""The one session that stands better on another day: with it there the plan goes over its limits by least."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from uvren.core.plan.course import Course
from uvren.core.plan.judge import ON, broken, coaches
from uvren.core.plan.rows import Row, rows_of


@dataclass(frozen=True)
class Move:
    """A session at another start than the coach's."""

    session: str
    start: datetime


def moved(course: Course, move: Move) -> Course:
    """The course with a session where a move puts it, as if the coach had planned it so."""
    sessions = tuple(replace(one, start=move.start) if one.id == move.session else one for one in course.sessions)
    return replace(course, sessions=sessions, problem=replace(course.problem, sessions=sessions))


def best_move(course: Course, starts: Mapping[str, Sequence[datetime]]) -> Move | None:
    """The move after which limits are broken by least in all; None where none makes it less.

    Parameters
    ----------
    course : Course
    starts : mapping of a session's id to other starts that it may have

    What is broken is told in shares of each limit's scale, the worst day of each limit and athlete, and where a rule
    speaks is settled on the plan as it is. Of moves that leave as much the one of the least weight counts, then the
    shortest, then the earlier.
    """
    rows = rows_of(course)
    tries = [Move(one.id, start) for one in course.sessions for start in starts.get(one.id, ())]
    planned = {one.id: one for one in course.sessions}

    def dearness(move: Move) -> tuple[float, timedelta, datetime, str]:
        session = planned[move.session]
        return session.weight, abs(move.start - session.start), move.start, move.session

    tries.sort(key=dearness)
    best, least = None, _over(course, rows)
    for move in tries:
        over = _over(moved(course, move), rows)
        if over < least - ON:
            best, least = move, over
    return best


def _over(course: Course, rows: Sequence[Row]) -> float:
    return sum(broken(course, rows, coaches(course)).values())

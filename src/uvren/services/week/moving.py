"""To which other days of the week a session may be moved as a whole."""

from __future__ import annotations

from datetime import date, datetime, timedelta

from uvren.core.plan import Course
from uvren.services.week.reading import DAYS, Opened
from uvren.store.models import Session, SessionKind


def other_starts(opened: Opened, course: Course, first: date, today: date) -> dict[str, list[datetime]]:
    """Other starts of sessions by id: at the same hour on a later day than today that is free then.

    Matches stay, and so does what was done. Nothing comes to the day of a match or the one before it, to a day that is
    said to be off, or to where another session runs at that hour.
    """
    days = [day for i in range(DAYS) if (day := first + timedelta(days=i)) > today and day not in opened.kept_free]
    matches = {opened.day(one) for one in opened.sessions if one.kind is SessionKind.MATCH}
    days = [day for day in days if not matches & {day, day + timedelta(days=1)}]
    by_id = {one.id: one for one in opened.sessions}
    found = {}
    for one in course.sessions:
        session = by_id.get(one.id)
        if session is None or session.done or session.kind is SessionKind.MATCH or opened.day(session) < today:
            continue
        starts = [datetime.combine(day, one.start.timetz()) for day in days if day != opened.day(session)]
        found[one.id] = [start for start in starts if not _taken(opened, course, session, start)]
    return found


def _taken(opened: Opened, course: Course, session: Session, start: datetime) -> bool:
    """Whether another session of the day would run into it."""
    end = start + timedelta(minutes=opened.minutes(session))
    return any(
        one.start < end and start < one.start + timedelta(minutes=one.minutes)
        for one in course.sessions
        if one.id != session.id and one.start.date() == start.date()
    )

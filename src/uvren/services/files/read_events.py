"""A calendar's file as matches and other sessions, each known by its event."""

from __future__ import annotations

from pathlib import Path

from uvren.core import words as say
from uvren.files.ical import CalendarEvent, read_calendar
from uvren.services.files.mappings import Role, Spec
from uvren.services.files.read_samples import Around, Content, Told


def read_events(path: Path, spec: Spec, around: Around) -> Content:
    """Every event of the file. Raises BadFile."""
    found = read_calendar(path, spec.tz, around.today)
    notes = []
    if found.far:
        notes.append(f"{say.count(found.far, 'event')} of other years left out.")
    whole = sum(one.whole_day for one in found.events)
    if whole:
        notes.append(f"{say.count(whole, 'event')} of a whole day: a start is not said, 15:00 is taken.")
    told = [_told(i, one, spec) for i, one in enumerate(found.events, 1)]
    return Content([], [], found.problems, len(told) + len(found.problems), len(found.problems), notes, told)


def _told(i: int, event: CalendarEvent, spec: Spec) -> Told:
    words = {Role.SESSION: event.title, Role.PLACE: event.place, Role.EVENT: event.uid}
    if event.cancelled:
        words[Role.CALLED_OFF] = "yes"
    day = event.starts_at.astimezone(spec.tz).date()
    said = {str(role): word for role, word in words.items() if word}
    return Told(i, "", "", day, event.starts_at, {Role.MINUTES: event.minutes}, said)

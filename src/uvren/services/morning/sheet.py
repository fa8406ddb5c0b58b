"""The sheet for the coach: who does what today, in plain words, without clinical detail or reasons."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Any
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.audience import LEAST
from uvren.core.day import Standing, Stands, Why
from uvren.core.demands import Reference
from uvren.files.paper import Paper, Section
from uvren.services.club import audit
from uvren.services.day.beside import beside_on
from uvren.services.day.matches import main_measure
from uvren.services.morning import Lane, read_morning
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import CoachSheet, Squad
from uvren.store.types import new_ulid

GROUPS = {
    "ask": "Ask staff first",
    "full": "Full",
    "adapt": "Adapted",
    "recover": "Recovery",
    "return": "Coming back",
    "out": "Not available",
}


@dataclass(frozen=True)
class Line:
    """One athlete on the sheet; ``how`` is what is to change, empty for the plan as it is. ``open`` wants a call."""

    athlete_id: int
    name: str
    number: int | None
    position: str
    group: str
    how: str
    open: bool


@dataclass(frozen=True)
class Sheet:
    """A day's sheet as it stands now. ``made`` is the last version there is; ``changes`` says what differs from it."""

    day: date
    sessions: list[str]
    lines: list[Line]
    made: CoachSheet | None
    changes: list[str]


def read_sheet(db: DbSession, squad: Squad, day: date, today: date) -> Sheet:
    """The sheet of a day, from calls, clinicians' restrictions and the plan."""
    # What a coach may read is all that goes on it.
    lanes = read_morning(db, squad, day, today, audiences=LEAST)[0].lanes
    matches = main_measure(db, squad, {lane.member.athlete_id: lane.member.position for lane in lanes}, day)
    beside = beside_on(db, squad, day)
    lines = [
        Line(
            athlete_id=lane.member.athlete_id,
            name=lane.member.name,
            number=lane.member.number,
            position=lane.member.position,
            group=_group(lane.standing),
            how=", ".join(
                filter(
                    None,
                    (
                        _how(lane, matches.of(lane.member.athlete_id, lane.member.position)[0]),
                        *beside.get(lane.member.athlete_id, ()),
                    ),
                )
            ),
            open=lane.group in ("call", "change"),
        )
        for lane in sorted(lanes, key=lambda one: one.member.name)
    ]
    zone = ZoneInfo(squad.time_zone)
    sessions = [
        f"{one.starts_at.astimezone(zone):%H:%M} {one.title}, {one.planned_minutes:g} min at {one.planned_effort:g}"
        for one in queries.session.sessions_between(db, squad.id, day, day)
    ]
    made = queries.morning.last_sheet(db, squad.id, day)
    return Sheet(day, sessions, lines, made, _changes(made, lines))


_GROUP_OF = {
    Stands.PLAN: "full", Stands.ASK: "ask", Stands.WAIT: "ask", Stands.RECOVER: "recover", Stands.REST: "out",
    Stands.OUT: "out",
}  # fmt: skip


def _group(standing: Standing) -> str:
    if standing.stands is Stands.PART:
        return "return" if standing.why in (Why.CLINICIAN, Why.RETURN) else "adapt"
    return _GROUP_OF[standing.stands]


def _how(lane: Lane, match: Reference | None) -> str:
    """Such as "about 45 of 80 min, effort at most 5, no throws, about 40 % of a match"."""
    standing = lane.standing
    if standing.stands is Stands.WAIT:
        return "does not train until staff have said so"
    parts = standing.changes(lane.minutes)
    if standing.stands is Stands.ASK:
        return ", ".join(["the plan stands once staff have said so", *parts])
    if match is not None and standing.given.call is not None and 0 < lane.room.plan < lane.room.written:
        parts.append(f"about {say.percent(round(lane.room.plan / float(match.load[0]), 1))} of a match")
    return ", ".join(parts)


def _content(lines: list[Line]) -> dict[str, Any]:
    return {str(line.athlete_id): {"name": line.name, "group": line.group, "how": line.how} for line in lines}


def _changes(made: CoachSheet | None, lines: list[Line]) -> list[str]:
    """What has changed since a version was made, in words."""
    if made is None:
        return []
    now, out = _content(lines), []
    for key, line in now.items():
        before = made.content.get(key)
        if before is None:
            out.append(f"{line['name']} is new on the sheet")
        elif before["group"] != line["group"]:
            out.append(f"{line['name']}: {_said(line)}, was {_said(before)}")
        elif before["how"] != line["how"]:
            out.append(f"{line['name']}: {line['how'] or 'as planned'}, was {before['how'] or 'as planned'}")
    out += [f"{line['name']} is no longer on the sheet" for key, line in made.content.items() if key not in now]
    return out


def _said(line: dict[str, Any]) -> str:
    return GROUPS[line["group"]].lower()


def make_sheet(db: DbSession, squad: Squad, day: date, *, stamp: Stamp, today: date) -> Sheet:
    """Give the sheet out as a version of its own; without a change the last one stands. Does not commit."""
    sheet = read_sheet(db, squad, day, today)
    if sheet.made is not None and not sheet.changes:
        return sheet
    made = CoachSheet(
        id=new_ulid(),
        squad_id=squad.id,
        day=day,
        version=(sheet.made.version if sheet.made else 0) + 1,
        content=_content(sheet.lines),
        made_by=stamp.by,
        made_at=stamp.now,
    )
    db.add(made)
    audit.note(db, "sheet_made", f"sheet:{made.id}", stamp=stamp, squad_id=squad.id, version=made.version)
    db.flush()
    return Sheet(sheet.day, sheet.sessions, sheet.lines, made, [])


def as_text(squad: Squad, sheet: Sheet) -> str:
    """The sheet as plain text, to be sent by whatever people use."""
    lines = [f"{squad.name}, {say.day(sheet.day)}", *sheet.sessions]
    for code, name in GROUPS.items():
        group = [line for line in sheet.lines if line.group == code]
        if not group:
            continue
        lines.append(f"\n{name} ({len(group)})")
        if code == "full" and not any(line.how for line in group):
            lines.append(", ".join(line.name for line in group))
            continue
        lines += [f"- {line.name}{f': {line.how}' if line.how else ''}" for line in group]
    return "\n".join(lines)


FOOT = (
    "Supports the coach’s and the staff’s judgement; what a clinician has said always stands. It is no diagnosis and "
    "predicts no injury."
)


def as_paper(squad: Squad, sheet: Sheet) -> Paper:
    """The sheet to be printed: the day, what has changed since the last version, and everybody by group."""
    made = sheet.made
    stands = f"Version {made.version}, {made.maker.name}." if made and made.maker else "Not given out yet."
    first = Section(sentences=[" · ".join(sheet.sessions) or "No session is planned.", stands])
    groups = []
    for code, name in GROUPS.items():
        rows = [
            [f"{line.number or ''}", line.name, line.position, ", ".join(filter(None, (line.how, _open(line))))]
            for line in sheet.lines
            if line.group == code
        ]
        if rows:
            groups.append(Section(f"{name} ({len(rows)})", columns=[""] * 4, rows=rows, widths=(6, 24, 14, 56)))
    changed = [Section(f"Changed since version {made.version}", points=sheet.changes)] if made and sheet.changes else []
    return Paper("Sheet for the coach", f"{squad.name}, {say.day(sheet.day)} {sheet.day.year}",
                 [first, *changed, *groups], FOOT)  # fmt: skip


def _open(line: Line) -> str:
    return "call open" if line.open else ""

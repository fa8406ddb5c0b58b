"""What a day asks of an athlete, and what staff see of it: who said what, who is missing, who disagrees."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session as DbSession

from uvren.core import reports as rules
from uvren.core import words as say
from uvren.core.reports import ReportKind, Timing
from uvren.services.day.forms import Form, Forms
from uvren.services.errors import NotFound
from uvren.services.reports.giving import BACK_DAYS, plain
from uvren.store import queries
from uvren.store.models import (
    Athlete,
    Complaint,
    Entry,
    Report,
    Session,
    SessionKind,
    Squad,
)
from uvren.store.queries.squad import Member

# How long a session waits to be rated, and how far back it is looked for since when reports are missing.
SESSION_DAYS = 3
MISSING_DAYS = 28


@dataclass(frozen=True)
class Due:
    """Something that is asked of an athlete, with what they said already and what else was said for it."""

    kind: ReportKind
    day: date
    session: Session | None
    form: Form
    given: Report | None
    rivals: tuple[Report, ...]
    planned_minutes: float | None = None


@dataclass(frozen=True)
class OwnDay:
    athlete: Athlete
    dues: tuple[Due, ...]
    complaints: tuple[Complaint, ...]


def own_day(db: DbSession, squad: Squad, athlete_id: int, *, now: datetime, today: date) -> OwnDay:
    """What is asked of an athlete now: today's and yesterday's daily report, the last weekly one, sessions to rate."""
    forms = Forms(db, squad.id)
    first = today - timedelta(days=BACK_DAYS)
    member = next((one for one in queries.squad.members(db, squad.id, today) if one.athlete_id == athlete_id), None)
    if member is None:
        raise NotFound("You are not in this squad today.")
    said = _said(db, squad.id, athlete_id, first)

    def due(kind: ReportKind, day: date, session: Session | None = None, planned: float | None = None) -> Due:
        reports = said.get((kind, day, session.id if session else None), [])
        given = next((one for one in reports if one.counts), None)
        rivals = tuple(one for one in reports if one.rival)
        return Due(kind, day, session, forms.on(kind, day), given, rivals, planned)

    dues = []
    for day in (today, today - timedelta(days=1)):
        if forms.on(ReportKind.DAILY, day).is_asked(day):
            dues.append(due(ReportKind.DAILY, day))
    for back in range(7):
        day = today - timedelta(days=back)
        if forms.on(ReportKind.WEEKLY, day).is_asked(day):
            dues.append(due(ReportKind.WEEKLY, day))
            break
    for session, entry in _own_sessions(db, squad.id, athlete_id, today - timedelta(days=SESSION_DAYS), now):
        wanted = due(ReportKind.SESSION, session.day, session, entry.planned_minutes if entry else None)
        rated = entry is not None and (entry.effort is not None or entry.minutes == 0)
        if wanted.given or wanted.rivals or not rated:
            dues.append(wanted)
    complaints = queries.reports.open_complaints_of(db, squad.id, athlete_id)
    return OwnDay(db.get_one(Athlete, athlete_id), tuple(dues), tuple(complaints))


def _said(
    db: DbSession, squad_id: int, athlete_id: int, first: date
) -> dict[tuple[ReportKind, date, str | None], list[Report]]:
    out: dict[tuple[ReportKind, date, str | None], list[Report]] = defaultdict(list)
    for report in queries.reports.reports_since(db, squad_id, athlete_id, first):
        out[report.kind, report.day, report.session_id].append(report)
    return out


def _own_sessions(
    db: DbSession, squad_id: int, athlete_id: int, first: date, now: datetime
) -> list[tuple[Session, Entry | None]]:
    """Sessions begun since a day that were planned for the athlete, the last one first."""
    rows = queries.reports.own_sessions(db, squad_id, athlete_id, first, now)
    return [(session, entry) for session, entry in rows if entry is None or entry.planned_minutes != 0]


@dataclass(frozen=True)
class SquadReport:
    """An athlete's reports as a day shows them.

    ``week_of`` is the day the last weekly report is for. ``missing_since`` is the first day of the run of asked days
    without one. ``unrated`` are sessions of the last days without a rating.
    """

    member: Member
    daily: Report | None
    weekly: Report | None
    week_of: date | None
    timing: Timing | None
    rivals: int
    asked: bool
    missing_since: date | None
    unrated: tuple[Session, ...]


def day_of_reports(db: DbSession, squad: Squad, day: date, now: datetime) -> list[SquadReport]:
    """Everyone's reports for a day, and who is missing since when."""
    forms = Forms(db, squad.id)
    first = day - timedelta(days=MISSING_DAYS)
    members = queries.squad.members(db, squad.id, day)
    rows = queries.reports.squad_reports(db, squad.id, first, day)
    daily: dict[int, dict[date, Report]] = defaultdict(dict)
    weekly: dict[int, dict[date, Report]] = defaultdict(dict)
    rivals: dict[int, int] = defaultdict(int)
    for report in rows:
        if report.counts:
            (daily if report.kind is ReportKind.DAILY else weekly)[report.athlete_id][report.day] = report
        elif report.rival and report.day == day:
            rivals[report.athlete_id] += 1
    span = [day - timedelta(days=back) for back in range(MISSING_DAYS)]
    asked_days = [one for one in span if forms.on(ReportKind.DAILY, one).is_asked(one)]
    asked_weeks = [one for one in span if forms.on(ReportKind.WEEKLY, one).is_asked(one)]
    zone = ZoneInfo(squad.time_zone)
    accounts = queries.club.users_of(db, [member.athlete_id for member in members])
    unrated = _unrated(db, squad.id, day, now)
    out = []
    for member in members:
        own = daily[member.athlete_id]
        # Nobody is asked who has no way to answer: by an account, or by a form of which something came in lately.
        reached = bool(own) or member.athlete_id in accounts
        said = own.get(day)
        made = said.made_at.astimezone(zone) if said else None
        out.append(
            SquadReport(
                member=member,
                daily=said,
                weekly=weekly[member.athlete_id].get(asked_weeks[0]) if asked_weeks else None,
                week_of=asked_weeks[0] if asked_weeks else None,
                timing=rules.timing(ReportKind.DAILY, day, made) if made else None,
                rivals=rivals[member.athlete_id],
                asked=reached and day in asked_days,
                missing_since=rules.missing_since(asked_days, list(own), member.from_day) if reached else None,
                unrated=tuple(unrated[member.athlete_id]),
            )
        )
    return out


def _unrated(db: DbSession, squad_id: int, day: date, now: datetime) -> dict[int, list[Session]]:
    """Sessions of the last days that an athlete has not rated, by athlete."""
    out: dict[int, list[Session]] = defaultdict(list)
    first = day - timedelta(days=SESSION_DAYS)
    for athlete, session in queries.reports.unrated_sessions(db, squad_id, first, day, now):
        out[athlete].append(session)
    return out


def disagreements(db: DbSession, squad_id: int, day: date) -> list[tuple[Report, Entry, Session]]:
    """Session reports of the last days whose effort is not the one that stands in the grid."""
    rows = queries.reports.reports_beside_staff(db, squad_id, day - timedelta(days=BACK_DAYS), day)
    return [(r, e, s) for r, e, s in rows if plain(r).get("effort") not in (None, e.effort)]


def reminder(name: str, missing: Collection[str]) -> str:
    """A text to copy to someone whose reports are missing; names no value and no reason."""
    asked = say.listed(list(missing))
    return f"Hello {name}, we are still missing {asked} from you. It takes under 20 seconds. Thank you."


def said_of(session: Session) -> str:
    """A session as a reminder names it."""
    title = (
        f"match against {session.opponent}" if session.kind is SessionKind.MATCH and session.opponent else session.title
    )
    return f"{title}, {say.day(session.day)}"

"""Giving a report: once, beside another one, in place of another one; and rating a session with it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from typing import Any

from sqlalchemy.orm import Session as DbSession

from uvren.core import reports as rules
from uvren.core import words as say
from uvren.core.body import Pain
from uvren.core.errors import BadReport
from uvren.core.reports import ITEMS, ReportKind
from uvren.services.club import audit
from uvren.services.errors import Invalid, NotFound
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.database import insert_many
from uvren.store.models import (
    Complaint,
    ComplaintKind,
    Report,
    Session,
    Source,
    Squad,
)
from uvren.store.types import new_ulid
from uvren.store.versions import insert_since

# How far back a report may be for.
BACK_DAYS = 7


@dataclass(frozen=True)
class Told:
    """A report as someone gives it. ``replaces`` is the report they saw when they changed it.

    ``told_by`` is how staff know, for a report that staff enter.
    """

    id: str
    athlete_id: int
    kind: ReportKind
    day: date
    answers: Mapping[str, float]
    made_at: datetime
    session_id: str | None = None
    words: str | None = None
    pains: Sequence[Pain] = field(default=())
    ill: bool = False
    clinical_words: str | None = None
    replaces: str | None = None
    told_by: str | None = None


@dataclass(frozen=True)
class Given:
    """What became of a report. ``disagrees`` says that staff had rated the session otherwise, and theirs stands."""

    report: Report
    disagrees: bool = False


def give(db: DbSession, squad: Squad, told: Told, *, stamp: Stamp, today: date) -> Given:
    """Take a report. Does not commit.

    The same report sent again changes nothing. One made without knowing of the report that counts is kept beside it as
    its rival, for the athlete to choose. Raises Invalid or NotFound with the field at fault.
    """
    if (before := _same(db, squad, told)) is not None:
        return Given(before)
    session = _check(db, squad, told, stamp.now, today)
    # One after the other, so that of two reports for one day exactly one counts.
    queries.squad.hold(db, squad.id)
    # The same one may have come in while we waited.
    if (before := _same(db, squad, told)) is not None:
        return Given(before)
    standing = queries.reports.standing_report(db, squad.id, told.athlete_id, told.kind, told.day, told.session_id)
    rival = standing is not None and standing.id != told.replaces
    if standing is not None and not rival:
        standing.counts = False
    report = Report(**_columns(squad, told, stamp) | {"counts": not rival, "rival": rival})
    db.add(report)
    db.flush()
    if standing is not None and not rival:
        _carry_over(db, standing.id, report.id)
    _complain(db, squad, told, stamp.now)
    audit.note(db, "report", f"report:{told.id}", stamp=stamp, squad_id=squad.id, athlete_id=told.athlete_id,
               kind=told.kind, day=str(told.day))  # fmt: skip
    disagrees = False
    if session is not None and not rival:
        disagrees = not _rate(db, squad, session, report, stamp=stamp, today=today)
    db.flush()
    return Given(report, disagrees)


def _same(db: DbSession, squad: Squad, told: Told) -> Report | None:
    """The report of this identifier, where it is there already. Raises Invalid where it is someone else's."""
    before = db.get(Report, told.id, populate_existing=True)
    if before is not None and (before.squad_id, before.athlete_id) != (squad.id, told.athlete_id):
        raise Invalid("This report belongs to someone else.", field="id")
    return before


def give_many(db: DbSession, squad: Squad, many: Sequence[Told]) -> None:
    """Take reports of which none is there yet, as a history is brought in: each counts. Does not commit.

    Raises Invalid for an answer off its scale.
    """
    rows, complaints = [], []
    for told in many:
        try:
            rules.check_answers(told.kind, told.answers)
        except BadReport as error:
            raise Invalid(str(error), field=error.field) from error
        rows.append(_columns(squad, told, stamp=Stamp(None, told.made_at)))
        complaints += _complaints(squad, told, told.made_at)
    insert_since(db, Report, rows, "entered_at")
    insert_many(db, Complaint, complaints)


def _columns(squad: Squad, told: Told, stamp: Stamp) -> dict[str, Any]:
    return {
        "id": told.id,
        "squad_id": squad.id,
        "athlete_id": told.athlete_id,
        "kind": told.kind,
        "day": told.day,
        "session_id": told.session_id,
        "answers": {code: {"value": value, "good": ITEMS[code].good.value} for code, value in told.answers.items()},
        "words": (told.words or "").strip() or None,
        "source": Source.STAFF if told.told_by else Source.ATHLETE,
        "told_by": told.told_by,
        "replaces": told.replaces,
        "counts": True,
        "rival": False,
        # A device's clock may be ahead; nothing is made after it has come in.
        "made_at": min(told.made_at, stamp.now),
        "entered_at": stamp.now,
        "entered_by": stamp.by,
    }


def _check(db: DbSession, squad: Squad, told: Told, now: datetime, today: date) -> Session | None:
    try:
        rules.check_answers(told.kind, told.answers)
    except BadReport as error:
        raise Invalid(str(error), field=error.field) from error
    if not told.answers and not told.pains and not told.ill and not (told.words or "").strip():
        raise Invalid("There is nothing in this report yet.", field="answers")
    if told.told_by is not None and not told.told_by.strip():
        raise Invalid("Say how you know: told you, by phone, from a note.", field="told_by")
    for name in ("words", "clinical_words"):
        if len(getattr(told, name) or "") > 2000:
            raise Invalid("Words are 2000 characters at most.", field=name)
    if not today - timedelta(days=BACK_DAYS) <= told.day <= today:
        raise Invalid(
            f"A report is for a day from {say.day(today - timedelta(days=BACK_DAYS))} to {say.day(today)}.",
            field="day",
        )
    if told.made_at < now - timedelta(days=BACK_DAYS + 1):
        raise Invalid("The clock of this device is wrong; set it and send again.", field="made_at")
    if told.athlete_id not in {member.athlete_id for member in queries.squad.members(db, squad.id, told.day)}:
        raise NotFound("This athlete is not in the squad on that day.", field="athlete_id")
    if told.kind is not ReportKind.SESSION:
        return None
    session = queries.session.any_session(db, told.session_id) if told.session_id else None
    if session is not None and session.squad_id == squad.id and session.called_off is not None:
        raise NotFound(f"{session.name} on {say.day(session.day)} was called off.", field="session_id")
    if session is None or session.squad_id != squad.id or session.day != told.day:
        raise NotFound("There is no such session on that day.", field="session_id")
    if session.starts_at > now:
        raise Invalid("This session has not begun yet.", field="session_id")
    return session


def _carry_over(db: DbSession, old: str, new: str) -> None:
    """What was told with the report before stays open until a clinician closes it."""
    for complaint in queries.reports.complaints_with(db, old):
        complaint.report_id = new


def _complaints(squad: Squad, told: Told, now: datetime) -> list[dict[str, Any]]:
    """The complaints that a report makes."""
    parts: list[tuple[ComplaintKind, Pain | None]] = [(ComplaintKind.PAIN, pain) for pain in told.pains]
    if told.ill:
        parts.append((ComplaintKind.ILLNESS, None))
    return [
        {
            "id": new_ulid(),
            "squad_id": squad.id,
            "athlete_id": told.athlete_id,
            "report_id": told.id,
            "kind": kind,
            "day": told.day,
            "site": pain.site.value if pain else None,
            "side": pain.side.value if pain and pain.side else None,
            "severity": pain.severity if pain else None,
            "words": (told.clinical_words or "").strip() or None,
            "told_at": now,
        }
        for kind, pain in parts
    ]


def _complain(db: DbSession, squad: Squad, told: Told, now: datetime) -> None:
    def key(one: Any) -> tuple[Any, ...]:
        return tuple(one[name] for name in ("kind", "site", "side", "severity", "words"))

    kept = {key(vars(one)) for one in queries.reports.complaints_with(db, told.id)}
    for wanted in _complaints(squad, told, now):
        # A report that is changed tells again what it told before.
        if key(wanted) not in kept:
            db.add(Complaint(**wanted))


def _rate(
    db: DbSession,
    squad: Squad,
    session: Session,
    report: Report,
    *,
    stamp: Stamp,
    today: date,
    over: bool = False,
) -> bool:
    """Put a session report's minutes and effort into the athlete's entry.

    False where staff said otherwise; ``over`` lets the report stand all the same.
    """
    entry = queries.session.entry_of(db, session.id, report.athlete_id)
    told = plain(report)
    minutes, effort = told.get("minutes"), told.get("effort")
    if entry is not None:
        minutes = entry.minutes if minutes is None else minutes
        effort = entry.effort if effort is None else effort
        by_staff = entry.source is Source.STAFF and report.source is Source.ATHLETE and not over
        if by_staff and entry.effort is not None and (entry.minutes, entry.effort) != (minutes, effort):
            return False
        # Minutes that staff have written down are from the watch at the side; the effort is the athlete's to say.
        if by_staff and entry.minutes is not None:
            minutes = entry.minutes
    change = EntryChange(
        session_id=session.id,
        athlete_id=report.athlete_id,
        minutes=minutes,
        effort=effort,
        words=report.words or (entry.words if entry else None),
        version=entry.version if entry else None,
        source=report.source,
    )
    record_entries(db, squad.id, [change], stamp=stamp, today=today)
    return True


def choose(db: DbSession, squad: Squad, athlete_id: int, report_id: str, *, stamp: Stamp, today: date) -> Report:
    """Of two reports for one day let this one count. Does not commit. Raises NotFound."""
    queries.squad.hold(db, squad.id)
    chosen = db.get(Report, report_id, populate_existing=True)
    if chosen is None or (chosen.squad_id, chosen.athlete_id) != (squad.id, athlete_id):
        raise NotFound("There is no such report.")
    for other in queries.reports.same_reports(db, chosen):
        other.counts, other.rival = other.id == chosen.id, False
    audit.note(db, "report_chosen", f"report:{chosen.id}", stamp=stamp, squad_id=squad.id, athlete_id=athlete_id)
    if chosen.session_id:
        _rate(db, squad, db.get_one(Session, chosen.session_id), chosen, stamp=stamp, today=today)
    db.flush()
    return chosen


def plain(report: Report) -> dict[str, float]:
    """A report's answers as plain numbers."""
    return {code: float(answer["value"]) for code, answer in report.answers.items()}


def end_of(session: Session) -> datetime:
    """When a session ends by its plan."""
    return session.starts_at + timedelta(minutes=session.planned_minutes)


def settle(db: DbSession, squad: Squad, report_id: str, athletes_own: bool, *, stamp: Stamp, today: date) -> None:
    """Where staff and athlete rated a session otherwise, say whose rating stands. Does not commit. Raises NotFound."""
    report = db.get(Report, report_id)
    if report is None or report.squad_id != squad.id or report.session_id is None:
        raise NotFound("There is no such report of a session.")
    if athletes_own:
        _rate(db, squad, db.get_one(Session, report.session_id), report, stamp=stamp, today=today, over=True)
    else:
        # It is kept, but asks no more.
        report.counts = False
    audit.note(db, "rating_settled", f"report:{report.id}", stamp=stamp, squad_id=squad.id,
               athlete_id=report.athlete_id, athletes_own=athletes_own)  # fmt: skip
    db.flush()

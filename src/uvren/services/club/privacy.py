"""An athlete's data is theirs: consent, a copy of all of it, and taking it away."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Any

from sqlalchemy import Column, Table
from sqlalchemy.dialects.mysql import LONGBLOB
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.files.writing import TableFormat, write_table
from uvren.services.club import audit
from uvren.services.errors import Invalid, NotFound
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import (
    Anchor,
    Athlete,
    Base,
    CalendarFeed,
    Call,
    Club,
    Complaint,
    Consent,
    DailyLoad,
    Earlier,
    Entry,
    FieldEvent,
    FitnessResult,
    LighterWeek,
    Limit,
    LiveChunk,
    Membership,
    Note,
    NoticeSetting,
    Recording,
    Report,
    Restriction,
    RestTrial,
    ReturnEvent,
    ReturnPlan,
    SideCheck,
    SpellLimit,
    Squad,
    Work,
)
from uvren.store.types import new_ulid
from uvren.store.versions import VERSIONED, purge_history

# Every table that holds something of an athlete, by the name it has in a copy.
_OWN: dict[str, type[Base]] = {
    "memberships": Membership,
    "reports": Report,
    "complaints": Complaint,
    "restrictions": Restriction,
    "sessions": Entry,
    "work": Work,
    "recordings": Recording,
    "tests": FitnessResult,
    "anchors": Anchor,
    "daily_loads": DailyLoad,
    "calls": Call,
    "limits": Limit,
    "notes": Note,
    "rest_trials": RestTrial,
    "lighter_weeks": LighterWeek,
    "return_plans": ReturnPlan,
    "return_events": ReturnEvent,
    "side_checks": SideCheck,
    "field_events": FieldEvent,
    "spell_limits": SpellLimit,
    "live_chunks": LiveChunk,
    "notice_settings": NoticeSetting,
    "consents": Consent,
    "calendar_links": CalendarFeed,
    "earlier": Earlier,
}
_HEALTH = (
    Earlier,
    ReturnEvent,
    ReturnPlan,
    SideCheck,
    Complaint,
    Restriction,
    RestTrial,
    LighterWeek,
    Report,
    Note,
    Anchor,
    FieldEvent,
)
_REST = (
    LiveChunk,
    SpellLimit,
    CalendarFeed,
    Recording,
    FitnessResult,
    Work,
    DailyLoad,
    Call,
    NoticeSetting,
    Entry,
    Membership,
)


def set_consent(db: DbSession, squad: Squad, athlete_id: int, given: bool, text: str, *, stamp: Stamp) -> None:
    """Agree to the club's text, or take that back. Does not commit. Raises Invalid when the text has changed."""
    standing = queries.club.consent_of(db, athlete_id)
    if standing is not None:
        standing.withdrawn_at = stamp.now
    if given:
        if text != db.get_one(Club, squad.club_id).consent_text:
            raise Invalid("The text has changed in the meantime; read it again.", field="text")
        db.add(
            Consent(
                id=new_ulid(),
                athlete_id=athlete_id,
                text=text,
                given_at=stamp.now,
                given_by=stamp.by,
                withdrawn_at=None,
            )
        )
    action = "consent_given" if given else "consent_withdrawn"
    audit.note(db, action, f"athlete:{athlete_id}", stamp=stamp, squad_id=squad.id, athlete_id=athlete_id)
    db.flush()


def _member(db: DbSession, squad: Squad, athlete_id: int) -> Athlete:
    if athlete_id not in queries.squad.members_ever(db, squad.id):
        raise NotFound("There is no such athlete in this squad.")
    return db.get_one(Athlete, athlete_id)


def _columns(table: Table) -> list[str]:
    """What is readable of a table: not the raw samples of recordings."""
    return [column.name for column in table.columns if column.name != "athlete_id" and not _is_raw(column)]


def _is_raw(column: Column[Any]) -> bool:
    return isinstance(column.type, LONGBLOB)


def _plain(value: Any) -> Any:
    if isinstance(value, datetime | date):
        return value.isoformat()
    return value


def _rows(db: DbSession, model: type[Base], athlete_id: int) -> Iterator[dict[str, Any]]:
    table = model.__table__
    assert isinstance(table, Table)
    names = _columns(table)
    for row in queries.club.rows_of_athlete(db, table, names, athlete_id):
        yield {name: _plain(value) for name, value in zip(names, row, strict=True)}


def copy_of(db: DbSession, squad: Squad, athlete_id: int, *, stamp: Stamp) -> bytes:
    """All that is kept of an athlete as a ZIP: one JSON with everything, and a CSV of each kind. Does not commit.

    Raw samples of recordings are not in it; they are taken out one by one.
    """
    athlete = _member(db, squad, athlete_id)
    found = {name: list(_rows(db, model, athlete_id)) for name, model in _OWN.items()}
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        whole = {"athlete": athlete.name, "taken_out_at": stamp.now.isoformat(), **found}
        archive.writestr("everything.json", json.dumps(whole, ensure_ascii=False, indent=1, default=str))
        for name, rows in found.items():
            if rows:
                cells = [[_cell(value) for value in row.values()] for row in rows]
                archive.writestr(f"{name}.csv", write_table(TableFormat.CSV, list(rows[0]), cells))
    audit.note(db, "athlete_copied", f"athlete:{athlete_id}", stamp=stamp, squad_id=squad.id, athlete_id=athlete_id)
    return buffer.getvalue()


def _cell(value: Any) -> Any:
    return json.dumps(value, ensure_ascii=False) if isinstance(value, dict | list) else value


def forget(db: DbSession, squad: Squad, athlete_id: int, *, everything: bool, stamp: Stamp) -> None:
    """Make an athlete nameless and remove all health data; with ``everything`` their loads too. Does not commit.

    Loads that stay keep the medians of teammates as they were. The audit stays, without the name.
    """
    athlete = _member(db, squad, athlete_id)
    # What they held before goes too, and with it a moment in which nobody else may add to it.
    queries.squad.hold_all(db)
    queries.club.delete_of_athlete(db, _HEALTH, athlete_id)
    queries.club.clear_words_of(db, athlete_id, stamp.now.date())
    queries.club.clear_users_of(db, athlete_id, "Former athlete", f"gone-{new_ulid().lower()}", stamp.now)
    if everything:
        queries.club.delete_of_athlete(db, (Limit, *_REST), athlete_id)
    db.flush()
    for kept in VERSIONED:
        purge_history(db, kept, "athlete_id = :athlete", athlete=athlete_id)
    athlete.name = f"Former athlete {athlete.id}"
    action = "athlete_erased" if everything else "athlete_anonymised"
    audit.note(db, action, f"athlete:{athlete_id}", stamp=stamp, squad_id=squad.id, athlete_id=athlete_id)
    db.flush()


@dataclass(frozen=True)
class Choices:
    """What a club decides about health data."""

    performance_reads_clinical: bool
    retention_days: int | None
    consent_text: str | None


def decide(db: DbSession, club: Club, choices: Choices, *, typed: str, stamp: Stamp) -> Club:
    """Let a club's choices hold, and keep to them at once. Does not commit.

    Raises Invalid where that would remove something and the club's name is not ``typed``: its ``extra`` says how many
    rows, and from before which day.
    """
    if choices.retention_days is not None and typed.strip() != club.name:
        last = stamp.now.date() - timedelta(days=choices.retention_days)
        if removes := queries.club.health_before(db, club.id, last):
            raise Invalid(
                f"This removes {removes} reports, complaints and restrictions from before {say.day(last)}, for good. "
                "Type the name of the club to be sure.",
                field="name",
                extra={"removes": removes, "before": str(last)},
            )
    audit.note(db, "club_set", f"club:{club.id}", stamp=stamp, **vars(choices))
    for name, value in vars(choices).items():
        setattr(club, name, value)
    db.flush()
    keep_to_retention(db, club, now=stamp.now)
    return club


def keep_to_retention(db: DbSession, club: Club, *, now: datetime) -> int:
    """Remove health data older than the club keeps it. Returns how many rows went. Does not commit."""
    if club.retention_days is None:
        return 0
    last = now.date() - timedelta(days=club.retention_days)
    queries.squad.hold_all(db)
    gone = queries.club.delete_health_before(db, club.id, last)
    if gone:
        purge_history(db, Report, "day < :last", last=last)
        audit.note(db, "retention", f"club:{club.id}", stamp=Stamp(None, now), rows=gone, before=str(last))
    return gone

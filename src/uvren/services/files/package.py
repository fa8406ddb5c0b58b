"""A whole squad taken out as a package, and brought into a squad in which nobody is yet."""

from __future__ import annotations

import io
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from pathlib import Path
from typing import Any

from sqlalchemy import JSON, Enum, Table
from sqlalchemy.dialects.mysql import LONGBLOB
from sqlalchemy.exc import DataError, IntegrityError
from sqlalchemy.orm import Session as DbSession

from uvren.core.audience import Audience
from uvren.files.errors import BadFile
from uvren.files.package import Resource, kind_of, read_package, write_package
from uvren.files.samples import unpack
from uvren.files.writing import TableFormat
from uvren.services.club import audit
from uvren.services.day.loads import refresh_daily_loads
from uvren.services.errors import Invalid
from uvren.services.squad.export import daily_loads, loads_table
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.database import insert_many
from uvren.store.models import (
    Alias,
    Anchor,
    Athlete,
    Base,
    Call,
    Channel,
    ChannelDefinition,
    Complaint,
    DayMark,
    Entry,
    FieldEvent,
    FileMapping,
    FitnessResult,
    FitnessTest,
    LighterWeek,
    Limit,
    Membership,
    Note,
    NoticeSetting,
    Place,
    PlannedWeek,
    Recording,
    Report,
    ReportForm,
    Restriction,
    RestTrial,
    ReturnEvent,
    ReturnPlan,
    SeasonPhase,
    Segment,
    Session,
    SideCheck,
    SpellLimit,
    Squad,
    User,
    WeekTemplate,
    Work,
)
from uvren.store.types import Instant, UlidType, new_ulid
from uvren.store.versions import VERSIONED, insert_since

FORMAT = "uvren-squad/1"
RAW = "recordings/"
# Of what is clinical these are left out for who may not read it; that something stands stays.
_CLINICAL = {
    "complaints": ("site", "side", "severity", "words", "answer"), "restrictions": ("reason",),
    "return_plans": ("template", "site", "side", "note", "onset", "mechanism", "stages"),
    "return_events": ("criterion", "value", "other", "words"), "side_checks": ("words",),
}  # fmt: skip
_KEPT_TEXT: Mapping[tuple[str, str], Any] = {
    ("restrictions", "reason"): "Not for who took this out", ("return_plans", "note"): "Not for who took this out",
    ("return_plans", "template"): "blank", ("return_events", "words"): "",
    ("side_checks", "words"): "",
}  # fmt: skip
# The moment from which a row counts, of tables that remember what stood before.
_SINCE = {Entry: "entered_at", Report: "entered_at", Limit: "set_at", Call: "made_at"}
# In the order in which they are brought in: what is pointed at comes first.
_TABLES: dict[str, type[Base]] = {
    "athletes": Athlete, "memberships": Membership, "places": Place, "channels": Channel,
    "channel_definitions": ChannelDefinition, "sessions": Session, "parts": Segment, "day_marks": DayMark,
    "phases": SeasonPhase, "planned_weeks": PlannedWeek, "week_templates": WeekTemplate,
    "entries": Entry, "work": Work, "recordings": Recording, "report_forms": ReportForm, "reports": Report,
    "complaints": Complaint, "restrictions": Restriction, "rest_trials": RestTrial,
    "lighter_weeks": LighterWeek, "return_plans": ReturnPlan, "return_events": ReturnEvent,
    "side_checks": SideCheck, "tests": FitnessTest,
    "test_results": FitnessResult, "anchors": Anchor, "limits": Limit,
    "notice_settings": NoticeSetting,
    "calls": Call, "notes": Note, "field_events": FieldEvent, "spell_limits": SpellLimit,
    "file_mappings": FileMapping, "names_in_files": Alias,
}  # fmt: skip
_TITLES = {"test_results": "Results of tests", "names_in_files": "What files call people", "parts": "Parts of sessions"}
# Who set or wrote something: the name alone goes along, no account.
STAFF = Resource("staff", "Who set and wrote it", {"id": "integer", "name": "string"})
_NAMES = {model.__tablename__: name for name, model in _TABLES.items()} | {"user": STAFF.name}
_LEFT = frozenset({"squad_id", "club_id", "import_id", "user_id", "mapping_id"})


def _table(model: type[Base]) -> Table:
    table = model.__table__
    assert isinstance(table, Table)
    return table


def resource_of(name: str) -> Resource:
    """A table's fields in the package, and what they point to."""
    fields: dict[str, str] = {}
    points: dict[str, str] = {}
    for column in _table(_TABLES[name]).columns:
        to = next((key.column.table.name for key in column.foreign_keys), None)
        if column.name in _LEFT or isinstance(column.type, LONGBLOB):
            continue
        fields[column.name] = _kind(column.type)
        if to in _NAMES:
            points[column.name] = _NAMES[to]
    return Resource(name, _TITLES.get(name, name.replace("_", " ").capitalize()), fields, points=points)


def _kind(of: Any) -> str:
    if isinstance(of, JSON):
        return "object"
    if isinstance(of, Instant):
        return "datetime"
    return "string" if isinstance(of, Enum | UlidType) else kind_of(of.python_type)


@dataclass(frozen=True)
class Reader:
    """Who takes a squad out: what they may read goes with it."""

    clinical: bool
    audiences: Collection[Audience]


def take_out(db: DbSession, squad: Squad, reader: Reader, *, stamp: Stamp, today: date) -> bytes:
    """Everything that is kept of a squad as one ZIP. Does not commit.

    Without the right to it clinical detail is not in it, and notes of other readers are not. Earlier versions of
    entries, reports, calls and limits stay where they are; those of limits are rows of their own.
    """
    tables = [(resource_of(name), _rows(db, squad, name, reader)) for name in _TABLES]
    tables.append((STAFF, _staff(db, squad.club_id, tables)))
    raw = [(f"{RAW}{one.id}.parquet", one.data) for one in queries.session.raw_of_squad(db, squad.id)]
    loads = b"".join(loads_table(daily_loads(db, squad, today, today), TableFormat.CSV))
    about = {
        "name": squad.slug, "title": squad.name, "format": FORMAT, "created": stamp.now.isoformat(),
        "squad": {"name": squad.name, "time_zone": squad.time_zone, "school": squad.school, "work": squad.work},
        "clinical": reader.clinical,
        "description": "loads.csv holds daily loads as `uvren analyse` reads them. Every table is there as CSV and as "
                       "Parquet; days are local, moments UTC.",
    }  # fmt: skip
    out = io.BytesIO()
    write_package(out, about, tables, [("loads.csv", loads), *raw])
    audit.note(db, "squad_taken_out", f"squad:{squad.id}", stamp=stamp, squad_id=squad.id, clinical=reader.clinical)
    db.flush()
    return out.getvalue()


def _staff(db: DbSession, club_id: int, tables: Sequence[tuple[Resource, list[list[Any]]]]) -> list[list[Any]]:
    """Names of everybody who is pointed at as having set or written something."""
    found: set[int] = set()
    for resource, rows in tables:
        for field in (name for name, to in resource.points.items() if to == STAFF.name):
            at = list(resource.fields).index(field)
            found |= {row[at] for row in rows if row[at] is not None}
    return [[one, name] for one, name in sorted(queries.club.user_names(db, club_id).items()) if one in found]


def _rows(db: DbSession, squad: Squad, name: str, reader: Reader) -> list[list[Any]]:
    names = list(resource_of(name).fields)
    rows = [list(row) for row in queries.package.rows_of(db, _TABLES[name], squad.id, names)]
    if name == "notes":
        rows = [row for row in rows if row[names.index("audience")] in reader.audiences]
    hidden = () if reader.clinical else _CLINICAL.get(name, ())
    for field in hidden:
        for row in rows:
            at = names.index(field)
            # What a stage allows is for everybody, what it looks at is not.
            row[at] = _allowed(row[at]) if field == "stages" else _KEPT_TEXT.get((name, field))
    return rows


def _allowed(stages: Sequence[Mapping[str, Any]]) -> list[dict[str, Any]]:
    return [{**stage, "criteria": []} for stage in stages]


@dataclass(frozen=True)
class Found:
    """A package as it is read: how many rows each table has, and the rows themselves."""

    about: dict[str, Any]
    tables: dict[str, list[dict[str, Any]]]
    raw: dict[str, bytes]

    def said(self) -> list[str]:
        """What would come in, a line each."""
        shown = ("athletes", "sessions", "entries", "reports", "recordings", "test_results", "limits", "calls")
        return [f"{len(self.tables.get(name, []))} {resource_of(name).title.lower()}" for name in shown]


def read(path: Path) -> Found:
    """Raises BadFile for what is no package of a squad."""
    found = read_package(path, {name: resource_of(name) for name in _TABLES} | {STAFF.name: STAFF}, RAW)
    if found.about.get("format") != FORMAT:
        raise BadFile("This data package is not of a squad, or of a version that is not known here.")
    for name, content in found.more.items():
        try:
            unpack(content)
        except (ValueError, KeyError, OSError) as error:
            raise BadFile(f"{name} is no recording, or is damaged.") from error
    return Found(found.about, found.tables, found.more)


def bring_in(
    db: DbSession, squad: Squad, found: Found, *, stamp: Stamp, tell: Callable[[str, float], None]
) -> dict[str, Any]:
    """Fill a squad in which nobody is yet. Does not commit.

    Raises Invalid for a squad with people or sessions, BadFile for tables that do not fit together.
    """
    if not queries.package.is_empty(db, squad.id):
        raise Invalid("A whole squad comes into a squad in which nobody is yet. Make a new one for it.", field="file")
    try:
        return _fill(db, squad, found, stamp=stamp, tell=tell)
    except (KeyError, ValueError, TypeError, IntegrityError, DataError) as error:
        # The tables were changed since they were taken out: a row points nowhere, or holds what cannot be.
        raise BadFile("The tables of this package do not fit together; nothing of it came in.") from error


def _fill(
    db: DbSession, squad: Squad, found: Found, *, stamp: Stamp, tell: Callable[[str, float], None]
) -> dict[str, Any]:
    queries.package.clear_set_up(db, squad.id)
    by = stamp.by if stamp.by is not None else queries.club.first_admin(db, squad.club_id)
    ids = _Ids(db, found)
    ids.known[STAFF.name] = _people(db, squad, found.tables.get(STAFF.name, []))
    for i, (name, model) in enumerate(_TABLES.items()):
        tell("Bringing the squad in", 0.1 + 0.7 * i / len(_TABLES))
        rows = [_row(model, name, row, ids, squad, by, found) for row in found.tables.get(name, [])]
        if name in ids.counted:
            ids.counted_in(db, name, model, rows)
        elif model in VERSIONED:
            insert_since(db, model, rows, _SINCE[model])
        else:
            insert_many(db, model, rows)
    of = found.about["squad"]
    squad.school, squad.time_zone = str(of["school"]), str(of["time_zone"])
    db.flush()
    db.expire_all()
    tell("Working out the loads", 0.85)
    days = {ids.of("sessions", row["id"]): row["day"] for row in found.tables.get("sessions", [])}
    touched = {(ids.of("athletes", row["athlete_id"]), days[ids.of("sessions", row["session_id"])])
               for row in found.tables.get("entries", [])}  # fmt: skip
    refresh_daily_loads(db, squad.id, touched)
    audit.note(db, "squad_brought_in", f"squad:{squad.id}", stamp=stamp, squad_id=squad.id, name=str(of["name"]))
    db.flush()
    return {name: len(rows) for name, rows in found.tables.items()}


def _people(db: DbSession, squad: Squad, staff: Sequence[dict[str, Any]]) -> dict[int, int]:
    """Who set and wrote things, as names that nobody can sign in with: an equal name need not be the same person."""
    out: dict[int, int] = {}
    for one in staff:
        login = f"from-elsewhere-{new_ulid().lower()}"
        made = User(club_id=squad.club_id, login=login, name=str(one["name"])[:120], password_hash="", active=False)
        db.add(made)
        db.flush()
        out[one["id"]] = made.id
    return out


class _Ids:
    """What rows are called here. They keep their identifiers unless one of them is taken; then all get new ones."""

    def __init__(self, db: DbSession, found: Found) -> None:
        self.counted = {"athletes", "channels", "tests"}
        self.known: dict[str, dict[Any, Any]] = {name: {} for name in _TABLES}
        for name, model in _TABLES.items():
            column = _table(model).columns.get("id")
            if column is None or name in self.counted or column.type.python_type is int:
                continue
            old = sorted(str(row["id"]) for row in found.tables.get(name, []))
            taken = bool(old) and queries.package.ids_there(db, model, old)
            # In the same order: what was set at the same moment is told apart by it.
            self.known[name] = dict(zip(old, sorted(new_ulid() for _ in old) if taken else old, strict=True))

    def of(self, name: str, old: Any) -> Any:
        return None if old is None else self.known[name][old]

    def counted_in(self, db: DbSession, name: str, model: type[Base], rows: list[dict[str, Any]]) -> None:
        """Insert rows whose identifiers the database counts, and remember what they are."""
        old = [row.pop("id") for row in rows]
        made = [model(**row) for row in rows]
        db.add_all(made)
        db.flush()
        self.known[name] = {key: one.id for key, one in zip(old, made, strict=True)}  # type: ignore[attr-defined]


def _row(
    model: type[Base], name: str, row: dict[str, Any], ids: _Ids, squad: Squad, by: int | None, found: Found
) -> dict[str, Any]:
    table, out = _table(model), dict(row)
    for field, to in resource_of(name).points.items():
        out[field] = ids.of(to, row[field])
    for column in table.columns:
        of_user = any(key.column.table.name == "user" for key in column.foreign_keys)
        if column.name == "squad_id":
            out["squad_id"] = squad.id
        elif column.name == "club_id":
            out["club_id"] = squad.club_id
        elif of_user and out.get(column.name) is None and not column.nullable:
            out[column.name] = by
        elif isinstance(column.type, Enum) and row.get(column.name) is not None:
            assert column.type.enum_class is not None
            out[column.name] = column.type.enum_class(row[column.name])
    if name == "recordings":
        out["data"], out["import_id"] = found.raw[f"{RAW}{row['id']}.parquet"], None
    if name == "reports" and row.get("replaces") is not None:
        out["replaces"] = ids.of("reports", row["replaces"])
    if "id" in out and name not in ids.counted:
        if table.columns["id"].type.python_type is int:
            out.pop("id")
        else:
            out["id"] = ids.of(name, row["id"])
    return out

"""Mappings: how the columns of a kind of file are to be read, and kept by name."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace
from datetime import date, time
from enum import StrEnum
from typing import Any
from zoneinfo import ZoneInfo, available_timezones

from sqlalchemy.orm import Session as DbSession

from uvren.core.ratings import EFFORT_MOST
from uvren.files.layout import Layout
from uvren.files.moments import NUMERIC, RELATIVE, Writing
from uvren.services.errors import Invalid, NotFound
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import FileMapping, SessionKind, Squad


class Role(StrEnum):
    """What a column holds.

    A column of a channel's load has the role ``channel:CODE``, of a zone ``zone:N``, of an answer ``question:CODE``, of
    a test's result ``test:CODE`` or, by side, ``test:CODE:left``. ``number`` is a shirt's; ``session`` what a session
    is called, by which two of a day are told apart. ``came_on`` and ``went_off`` are minutes of a match.
    """

    IGNORE = "ignore"
    ATHLETE = "athlete"
    TIME = "time"
    DATE = "date"
    HEART_RATE = "heart_rate"
    SPEED = "speed"
    LATITUDE = "latitude"
    LONGITUDE = "longitude"
    X = "x"
    Y = "y"
    IMPACT = "impact"
    SIDE = "side"
    MINUTES = "minutes"
    EFFORT = "effort"
    WORDS = "words"
    NUMBER = "number"
    SESSION = "session"
    OPPONENT = "opponent"
    PLACE = "place"
    VENUE = "venue"
    FIRST_NAME = "first_name"
    LAST_NAME = "last_name"
    POSITION = "position"
    FROM_DAY = "from_day"
    BIRTH_YEAR = "birth_year"
    EVENT = "event"
    CALLED_OFF = "called_off"
    CAME_ON = "came_on"
    WENT_OFF = "went_off"


# What one of a unit is in our own; the first of each is our own.
UNITS: dict[Role, dict[str, float]] = {
    Role.SPEED: {"m/s": 1.0, "km/h": 1 / 3.6, "mph": 0.44704},
    Role.X: {"m": 1.0, "cm": 0.01, "mm": 0.001},
    Role.Y: {"m": 1.0, "cm": 0.01, "mm": 0.001},
    Role.IMPACT: {"g": 1.0, "m/s²": 1 / 9.80665},
    Role.MINUTES: {"min": 1.0, "h": 60.0, "s": 1 / 60},
    Role.CAME_ON: {"min": 1.0, "s": 1 / 60},
    Role.WENT_OFF: {"min": 1.0, "s": 1 / 60},
}

SAMPLE_ROLES = frozenset(
    {Role.HEART_RATE, Role.SPEED, Role.LATITUDE, Role.LONGITUDE, Role.X, Role.Y, Role.IMPACT, Role.SIDE}
)
SESSION_ROLES = frozenset({Role.MINUTES, Role.EFFORT, Role.WORDS, Role.CAME_ON, Role.WENT_OFF})
# Answers that hold for one file only.
ONE_FILES = frozenset({"year", "from_day"})
# Roles of which a table has as many columns as it has channels, zones, questions and tests.
MANY = ("channel:", "zone:", "question:", "test:")


class FileKind(StrEnum):
    """Samples over time, or what each row of a table is; or a whole squad, as it was taken out."""

    SAMPLES = "samples"
    SESSIONS = "sessions"
    REPORTS = "reports"
    TESTS = "tests"
    FIXTURES = "fixtures"
    ROSTER = "roster"
    PACKAGE = "package"


@dataclass(frozen=True)
class ColumnUse:
    name: str
    role: str
    unit: str = ""


@dataclass(frozen=True)
class Spec:
    """How a file is read.

    ``writing`` is that of its times, ``zone`` where they are local. ``day`` and ``begins`` place times that do not say
    their day. ``athlete`` is the athlete of the whole file where no column names one: an id, or None for what the
    file's name says. ``offset_seconds`` is added to every time. ``layout`` None is guessed anew for each file.
    ``answers`` are those to what was open in it, by what was asked. Sessions that are made get ``made_kind`` and
    ``made_title``; without an effort planned they are planned with what was rated.
    """

    kind: FileKind
    columns: tuple[ColumnUse, ...]
    writing: Writing | None = None
    zone: str = "UTC"
    day: date | None = None
    begins: time | None = None
    athlete: int | None = None
    device: str = ""
    offset_seconds: float = 0.0
    layout: Layout | None = None
    make_sessions: bool = False
    good_rows: bool = False
    answers: tuple[tuple[str, str], ...] = ()
    made_kind: SessionKind | None = None
    made_title: str = ""
    made_effort: float | None = None

    def answer(self, key: str) -> str:
        """What was answered, nothing where it was not asked or is open still."""
        return dict(self.answers).get(key, "")

    def of(self, role: Role) -> ColumnUse | None:
        """The column of a role."""
        return next((column for column in self.columns if column.role == role), None)

    def others(self, prefix: str) -> list[tuple[str, ColumnUse]]:
        """(what follows the prefix, column) of roles such as ``channel:throws``."""
        return [(column.role.removeprefix(prefix), column) for column in self.columns if column.role.startswith(prefix)]

    def to_json(self) -> dict[str, Any]:
        out = asdict(self)
        out["day"] = None if self.day is None else self.day.isoformat()
        out["begins"] = None if self.begins is None else self.begins.isoformat()
        out["answers"] = dict(self.answers)
        return out

    @classmethod
    def from_json(cls, given: dict[str, Any], *, check: bool = True) -> Spec:
        """Raises Invalid, with the field at fault, for what makes no sense."""
        try:
            layout = given.get("layout")
            spec = cls(
                kind=FileKind(given["kind"]),
                columns=tuple(
                    ColumnUse(str(c["name"]), str(c["role"]), str(c.get("unit") or "")) for c in given["columns"]
                ),
                writing=Writing(given["writing"]) if given.get("writing") else None,
                zone=str(given.get("zone") or "UTC"),
                day=date.fromisoformat(given["day"]) if given.get("day") else None,
                begins=time.fromisoformat(given["begins"]) if given.get("begins") else None,
                athlete=None if given.get("athlete") is None else int(given["athlete"]),
                device=str(given.get("device") or "")[:120],
                offset_seconds=float(given.get("offset_seconds") or 0),
                layout=None if not layout else Layout.from_json(layout),
                make_sessions=bool(given.get("make_sessions")),
                good_rows=bool(given.get("good_rows")),
                answers=tuple((str(key), str(said)) for key, said in (given.get("answers") or {}).items()),
                made_kind=SessionKind(given["made_kind"]) if given.get("made_kind") else None,
                made_title=str(given.get("made_title") or "")[:120],
                made_effort=None if given.get("made_effort") is None else float(given["made_effort"]),
            )
        except (KeyError, ValueError, TypeError) as error:
            raise Invalid(f"This mapping cannot be read: {error}.", field="spec") from error
        if check:
            spec.check()
        return spec

    def check(self) -> None:
        """Raises Invalid for a mapping that could not bring anything in."""
        if self.zone not in available_timezones():
            raise Invalid(f"{self.zone!r} is no time zone such as Europe/Oslo.", field="zone")
        if abs(self.offset_seconds) > 86_400:
            raise Invalid("The clock is at most a day off.", field="offset_seconds")
        roles = [column.role for column in self.columns if column.role != Role.IGNORE]
        for role in set(roles):
            if roles.count(role) > 1:
                raise Invalid(f"Two columns are both {role}.", field="columns")
            if not role.startswith(MANY) and role not in list(Role):
                raise Invalid(f"{role!r} is nothing a column can hold.", field="columns")
        zones = sorted(zone for zone, _ in self.others("zone:"))
        if zones and zones not in (list("123"), list("12345")):
            raise Invalid("Choose the columns of all zones, 1 to 3 or 1 to 5.", field="columns")
        for column in self.columns:
            known = UNITS.get(Role(column.role), {}) if column.role in list(Role) else {}
            if column.unit and known and column.unit not in known:
                raise Invalid(f"{column.name}: the unit is one of {', '.join(known)}.", field="columns")
        if self.made_effort is not None and not 0 <= self.made_effort <= EFFORT_MOST:
            raise Invalid("Effort is 0 to 10.", field="made_effort")
        if self.kind is FileKind.SAMPLES:
            self._check_samples()
        elif self.kind is FileKind.PACKAGE:
            return
        elif self.kind is FileKind.ROSTER:
            if not any(self.of(role) for role in (Role.ATHLETE, Role.LAST_NAME)):
                raise Invalid("Say which column has the names.", field="columns")
        else:
            self._check_rows(roles)

    def _check_rows(self, roles: Sequence[str]) -> None:
        lacking = {
            FileKind.SESSIONS: (SESSION_ROLES, ("channel:", "zone:"), "minutes, effort, or a channel"),
            FileKind.REPORTS: ((), ("question:",), "the answer to a question"),
            FileKind.TESTS: ((), ("test:",), "a test's result"),
            FileKind.FIXTURES: ((Role.OPPONENT, Role.SESSION), (), "the opponent or what it is called"),
        }[self.kind]
        if not any(role in lacking[0] or role.startswith(lacking[1] or ("\0",)) for role in roles):
            raise Invalid(f"Choose at least one column to take: {lacking[2]}.", field="columns")
        dated = self.of(Role.DATE) is not None or self.day is not None
        timed = self.of(Role.TIME) is not None and self.writing is not Writing.CLOCK
        if not dated and not timed:
            raise Invalid("Say which column has the date, or the day of the whole file.", field="day")

    def _check_samples(self) -> None:
        has = {role for role in Role if self.of(role) is not None}
        if Role.TIME not in has:
            raise Invalid("Say which column has the time.", field="columns")
        placed = {Role.X, Role.Y} <= has or {Role.LATITUDE, Role.LONGITUDE} <= has
        if not placed and not has & {Role.HEART_RATE, Role.SPEED, Role.IMPACT}:
            raise Invalid("Say which column has heart rate, speed, a position or impacts.", field="columns")
        if Role.IMPACT in has and Role.SIDE not in has:
            raise Invalid("Impacts need a column that says left or right.", field="columns")
        if self.writing is Writing.CLOCK and self.day is None and Role.DATE not in has:
            raise Invalid("The times have no date: say on which day they are.", field="day")
        if self.writing in RELATIVE and (self.day is None or self.begins is None):
            raise Invalid("The times count from the start: say on which day and when it began.", field="begins")

    @property
    def tz(self) -> ZoneInfo:
        return ZoneInfo(self.zone)


def is_numeric(writing: Writing | None) -> bool:
    """Whether times of this writing are read as numbers."""
    return writing in NUMERIC


# Kept by name -----------------------------------------------------------------------------------------------


def signature(columns: Sequence[str]) -> str:
    """What files of one kind have in common: the names of their columns, in any order."""
    return hashlib.sha256("\n".join(sorted(columns)).encode()).hexdigest()


def mapping_for(db: DbSession, squad: Squad, columns: Sequence[str]) -> FileMapping | None:
    """The mapping saved last for files with these columns."""
    return queries.files.mapping_signed(db, squad.id, signature(columns))


def save_mapping(
    db: DbSession, squad: Squad, name: str, columns: Sequence[str], spec: Spec, *, stamp: Stamp
) -> FileMapping:
    """Keep a mapping under its name; one of that name is replaced. Raises Invalid."""
    if not name.strip():
        raise Invalid("Give the mapping a name.", field="name")
    mapping = queries.files.mapping_named(db, squad.id, name.strip())
    if mapping is None:
        mapping = FileMapping(squad_id=squad.id, name=name.strip())
        db.add(mapping)
    # What belongs to one file only is not part of what all of them have in common.
    answers = tuple((key, said) for key, said in spec.answers if key not in ONE_FILES)
    kept = replace(spec, day=None, begins=None, athlete=None, layout=None, good_rows=False, answers=answers)
    mapping.spec = kept.to_json()
    mapping.signature = signature(columns)
    mapping.set_by, mapping.set_at = stamp.by, stamp.now
    db.flush()
    return mapping


def remove_mapping(db: DbSession, squad: Squad, mapping_id: int) -> None:
    """Forget a mapping; what came in by it stays. Raises NotFound."""
    mapping = db.get(FileMapping, mapping_id)
    if mapping is None or mapping.squad_id != squad.id:
        raise NotFound("There is no such mapping.")
    queries.files.forget_mapping(db, mapping_id)
    db.delete(mapping)
    db.flush()

"""Mappings: how the columns of a kind of file are to be read, guessed from their names and values, and kept by name."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Sequence
from dataclasses import asdict, dataclass, replace
from datetime import date, time
from enum import StrEnum
from typing import Any
from zoneinfo import ZoneInfo, available_timezones

from sqlalchemy.orm import Session as DbSession

from uvren.files.layout import Format, Layout, Look
from uvren.files.moments import NUMERIC, RELATIVE, Writing, guess_writing
from uvren.services.errors import Invalid, NotFound
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Channel, FileMapping, Squad


class Role(StrEnum):
    """What a column holds. A column of a channel's load has the role ``channel:CODE``, of a zone ``zone:N``."""

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


# What one of a unit is in our own; the first of each is our own.
UNITS: dict[Role, dict[str, float]] = {
    Role.SPEED: {"m/s": 1.0, "km/h": 1 / 3.6, "mph": 0.44704},
    Role.X: {"m": 1.0, "cm": 0.01, "mm": 0.001},
    Role.Y: {"m": 1.0, "cm": 0.01, "mm": 0.001},
    Role.IMPACT: {"g": 1.0, "m/s²": 1 / 9.80665},
    Role.MINUTES: {"min": 1.0, "h": 60.0, "s": 1 / 60},
}

SAMPLE_ROLES = frozenset(
    {Role.HEART_RATE, Role.SPEED, Role.LATITUDE, Role.LONGITUDE, Role.X, Role.Y, Role.IMPACT, Role.SIDE}
)
SESSION_ROLES = frozenset({Role.MINUTES, Role.EFFORT, Role.WORDS})


class FileKind(StrEnum):
    """Samples over time, or one row for each athlete and session."""

    SAMPLES = "samples"
    SESSIONS = "sessions"


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
                layout=None if not layout else Layout(**{**layout, "format": Format(layout["format"])}),
                make_sessions=bool(given.get("make_sessions")),
                good_rows=bool(given.get("good_rows")),
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
            if not role.startswith(("channel:", "zone:")) and role not in list(Role):
                raise Invalid(f"{role!r} is nothing a column can hold.", field="columns")
        zones = sorted(zone for zone, _ in self.others("zone:"))
        if zones and zones not in (list("123"), list("12345")):
            raise Invalid("Choose the columns of all zones, 1 to 3 or 1 to 5.", field="columns")
        for column in self.columns:
            known = UNITS.get(Role(column.role), {}) if column.role in list(Role) else {}
            if column.unit and known and column.unit not in known:
                raise Invalid(f"{column.name}: the unit is one of {', '.join(known)}.", field="columns")
        if self.kind is FileKind.SAMPLES:
            self._check_samples()
        elif not any(role in SESSION_ROLES or ":" in role for role in roles):
            raise Invalid("Choose at least one column to take: minutes, effort, or a channel.", field="columns")
        elif self.of(Role.DATE) is None and self.day is None and self.writing in (None, Writing.CLOCK):
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


# Guessing ---------------------------------------------------------------------------------------------------

_NAMES: dict[Role, tuple[str, ...]] = {
    Role.ATHLETE: (
        "athlete",
        "name",
        "player",
        "who",
        "number",
        "shirt",
        "jersey",
        "device",
        "tag",
        "unit id",
        "person",
    ),
    Role.DATE: ("date", "day"),
    Role.TIME: ("time", "timestamp", "t", "datetime", "seconds", "elapsed", "clock", "ms", "moment", "local time"),
    Role.HEART_RATE: ("hr", "heart rate", "heartrate", "pulse", "bpm", "heart rate bpm"),
    Role.SPEED: ("speed", "velocity", "v", "spd"),
    Role.LATITUDE: ("lat", "latitude"),
    Role.LONGITUDE: ("lon", "lng", "long", "longitude"),
    Role.X: ("x", "pos x", "east"),
    Role.Y: ("y", "pos y", "north"),
    Role.IMPACT: ("g", "peak", "peak g", "impact", "peak acceleration", "acc", "acceleration"),
    Role.SIDE: ("side", "foot", "leg", "shoe"),
    Role.MINUTES: ("minutes", "min", "duration", "mins", "played"),
    Role.EFFORT: ("effort", "rpe", "rating", "srpe", "how hard"),
    Role.WORDS: ("words", "comment", "comments", "note", "notes", "remark"),
}
_UNIT_WORDS = {
    "kmh": "km/h", "km/h": "km/h", "kph": "km/h", "mph": "mph", "m/s": "m/s", "ms": "m/s",
    "ms2": "m/s²", "m/s2": "m/s²", "m/s²": "m/s²", "g": "g", "cm": "cm", "mm": "mm", "m": "m", "h": "h",
    "hours": "h", "min": "min", "s": "s", "sec": "s",
}  # fmt: skip


def plain(text: str) -> str:
    """Lower case, words apart by one blank, nothing else."""
    spaced = re.sub(r"([a-z])([A-Z])", r"\1 \2", text)
    return re.sub(r"[^a-z0-9/²%]+", " ", spaced.lower()).strip()


def _unit_of(name: str, role: Role) -> str:
    bracket = re.search(r"[(\[]([^)\]]+)[)\]]", name)
    words = [bracket[1].lower().strip()] if bracket else []
    words += plain(name).split()[::-1]
    units = UNITS.get(role, {})
    return next((_UNIT_WORDS[word] for word in words if _UNIT_WORDS.get(word) in units), "")


def _role_of(name: str) -> Role:
    said = plain(re.sub(r"[(\[][^)\]]*[)\]]", " ", name))
    bare = " ".join(word for word in said.split() if word not in _UNIT_WORDS or word == said) or said
    for role, names in _NAMES.items():
        if said in names or bare in names:
            return role
    for role, names in _NAMES.items():
        if any(len(one) > 2 and re.search(rf"\b{re.escape(one)}\b", bare) for one in names):
            return role
    return Role.IGNORE


def guess(look: Look, squad: Squad, channels: Sequence[Channel]) -> Spec:
    """What the columns seem to hold. A guess to be looked at: nothing comes in on the strength of it alone."""
    if look.layout.format is Format.GPX:
        columns = (
            ColumnUse("time", Role.TIME),
            ColumnUse("latitude", Role.LATITUDE),
            ColumnUse("longitude", Role.LONGITUDE),
            ColumnUse("heart_rate", Role.HEART_RATE),
        )
        return Spec(FileKind.SAMPLES, columns, Writing.UNIX_SECONDS)
    by_name = {plain(channel.name): channel.code for channel in channels} | {
        plain(channel.code): channel.code for channel in channels
    }
    uses: list[ColumnUse] = []
    taken: set[str] = set()
    for i, name in enumerate(look.columns):
        role: str = _role_of(name)
        unit = _unit_of(name, Role(role))
        zone = re.search(r"zone\s*([1-5])\b", plain(name))
        if plain(name) in by_name:
            role, unit = f"channel:{by_name[plain(name)]}", ""
        elif zone:
            role = f"zone:{zone[1]}"
        elif role == Role.SPEED and not unit:
            unit = "km/h" if _most(look, i) > 13 else "m/s"
        if role in taken:
            role, unit = Role.IGNORE, ""
        taken.add(role)
        uses.append(ColumnUse(name, role, unit))
    found = {use.role for use in uses}
    kind = FileKind.SESSIONS
    if Role.TIME in found and (found & {Role.HEART_RATE, Role.SPEED, Role.IMPACT} or {"x", "y"} <= found):
        kind = FileKind.SAMPLES
    if {"latitude", "longitude"} <= found:
        kind = FileKind.SAMPLES
    wrong = SESSION_ROLES if kind is FileKind.SAMPLES else SAMPLE_ROLES
    uses = [replace(use, role=Role.IGNORE, unit="") if use.role in wrong else use for use in uses]
    time_column = next((i for i, use in enumerate(uses) if use.role == Role.TIME), None)
    date_column = next((i for i, use in enumerate(uses) if use.role == Role.DATE), None)
    writing = None
    for column in (date_column, time_column) if kind is FileKind.SESSIONS else (time_column, date_column):
        if column is not None and writing is None:
            writing = guess_writing([row[column] for row in look.rows])
    if kind is FileKind.SAMPLES and date_column is not None and writing is Writing.CLOCK:
        writing = guess_writing([row[date_column] for row in look.rows]) or writing
    return Spec(kind, tuple(uses), writing, squad.time_zone)


def _most(look: Look, column: int) -> float:
    values = []
    for row in look.rows:
        try:
            values.append(float(row[column].replace(",", ".")))
        except ValueError:
            continue
    return max(values, default=0.0)


def is_numeric(writing: Writing | None) -> bool:
    """Whether times of this writing are read as numbers."""
    return writing in NUMERIC


# Kept by name -----------------------------------------------------------------------------------------------


def signature(columns: Sequence[str]) -> str:
    """What files of one kind have in common: the names of their columns, in any order."""
    return hashlib.sha256("\n".join(sorted(columns)).encode()).hexdigest()


def mapping_for(db: DbSession, squad: Squad, columns: Sequence[str]) -> FileMapping | None:
    """The mapping saved last for files with these columns."""
    return queries.session.mapping_signed(db, squad.id, signature(columns))


def save_mapping(
    db: DbSession, squad: Squad, name: str, columns: Sequence[str], spec: Spec, *, stamp: Stamp
) -> FileMapping:
    """Keep a mapping under its name; one of that name is replaced. Raises Invalid."""
    if not name.strip():
        raise Invalid("Give the mapping a name.", field="name")
    mapping = queries.session.mapping_named(db, squad.id, name.strip())
    if mapping is None:
        mapping = FileMapping(squad_id=squad.id, name=name.strip())
        db.add(mapping)
    # What belongs to one file only is not part of what all of them have in common.
    kept = replace(spec, day=None, begins=None, athlete=None, layout=None, good_rows=False)
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
    queries.session.forget_mapping(db, mapping_id)
    db.delete(mapping)
    db.flush()

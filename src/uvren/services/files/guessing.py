"""What the columns of a file seem to hold, from their names and values: a guess to be looked at."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date

from uvren.core.reports import ITEMS, ReportKind
from uvren.files.days import Order, how_written, is_day
from uvren.files.layout import Format, Look
from uvren.files.moments import Writing, guess_writing
from uvren.files.quantities import Measure, quantities
from uvren.services.files.mappings import (
    MANY,
    SAMPLE_ROLES,
    SESSION_ROLES,
    UNITS,
    ColumnUse,
    FileKind,
    Role,
    Spec,
)

_NAMES: dict[Role, tuple[str, ...]] = {
    Role.FIRST_NAME: ("first name", "forename", "given name"),
    Role.LAST_NAME: ("last name", "surname", "family name"),
    Role.ATHLETE: ("athlete", "name", "player", "who", "device", "tag", "unit id", "person", "full name"),
    Role.NUMBER: ("number", "no", "nr", "shirt", "jersey", "shirt number", "squad number", "#"),
    Role.FROM_DAY: ("from", "since", "joined", "from day", "in the squad from"),
    Role.BIRTH_YEAR: ("birth year", "born", "year of birth", "birthday", "date of birth", "dob", "birth"),
    Role.DATE: ("date", "day", "match day"),
    Role.TIME: ("time", "timestamp", "t", "datetime", "seconds", "elapsed", "clock", "ms", "moment", "local time",
                "start", "starts", "start time", "kick off", "kickoff", "throw off"),
    Role.HEART_RATE: ("hr", "heart rate", "heartrate", "pulse", "bpm", "heart rate bpm"),
    Role.SPEED: ("speed", "velocity", "v", "spd"),
    Role.LATITUDE: ("lat", "latitude"),
    Role.LONGITUDE: ("lon", "lng", "long", "longitude"),
    Role.X: ("x", "pos x", "east"),
    Role.Y: ("y", "pos y", "north"),
    Role.IMPACT: ("g", "peak", "peak g", "impact", "peak acceleration", "acc", "acceleration"),
    Role.SIDE: ("side", "foot", "leg", "shoe", "dominant side", "hand", "dominant"),
    Role.MINUTES: ("minutes", "min", "duration", "mins", "played", "dur", "session duration",
                   "session length", "length"),
    Role.EFFORT: ("effort", "rpe", "rating", "srpe", "s rpe", "how hard", "session rpe", "exertion", "borg", "cr10",
                  "intensity"),
    Role.WORDS: ("words", "comment", "comments", "note", "notes", "remark", "remarks"),
    Role.OPPONENT: ("opponent", "opponents", "versus", "vs", "against", "opposition"),
    Role.VENUE: ("home away", "h a", "home or away", "home/away", "h/a", "ha"),
    Role.PLACE: ("place", "location", "hall", "ground", "venue", "where", "arena"),
    Role.POSITION: ("position", "pos", "role", "discipline"),
    Role.SESSION: ("session", "session type", "type", "activity", "session name", "title", "training", "event", "kind",
                   "session title", "what"),
    Role.CAME_ON: ("on", "in", "came on", "minute on", "on min", "sub on", "entered", "on at"),
    Role.WENT_OFF: ("off", "out", "came off", "went off", "minute off", "off min", "sub off", "off at"),
}  # fmt: skip
_LOADS = ("load", "session load", "srpe load", "s rpe load", "training load", "tl", "au", "internal load", "total load",
          "session rpe load", "load au", "daily load")  # fmt: skip
_UNIT_WORDS = {
    "kmh": "km/h", "km/h": "km/h", "kph": "km/h", "mph": "mph", "m/s": "m/s", "ms": "m/s",
    "ms2": "m/s²", "m/s2": "m/s²", "m/s²": "m/s²", "g": "g", "cm": "cm", "mm": "mm", "m": "m", "h": "h",
    "hours": "h", "hrs": "h", "min": "min", "mins": "min", "s": "s", "sec": "s",
}  # fmt: skip
# What files call our questions, beside the questions' own codes.
_QUESTIONS: dict[str, tuple[str, ...]] = {
    "sleep_hours": ("hours slept", "sleep hours", "hours of sleep", "sleep h", "sleep duration", "sleep time"),
    "sleep_quality": ("sleep quality", "sleep", "quality of sleep"),
    "energy": ("energy", "fatigue", "tiredness", "freshness"),
    "soreness": ("soreness", "muscle soreness", "muscles", "doms"),
    "mood": ("mood",),
    "stress": ("stress", "calm"),
    "drive": ("drive", "motivation", "readiness to train", "desire to train"),
    "appetite": ("appetite",),
    "resting_heart_rate": ("resting heart rate", "rhr", "resting hr", "morning heart rate", "waking hr"),
}


# A session whose effort times minutes is less is hardly one.
LEAST_LOAD = 40.0
# Efforts are also rated from 0 to 100.
OTHER_SCALE = 100.0


@dataclass(frozen=True)
class About:
    """What the squad has that a file can speak of: channels and tests by the names they go by, the code of the main."""

    zone: str
    today: date
    channels: Mapping[str, str] = field(default_factory=dict)
    main: str = ""
    tests: Mapping[str, str] = field(default_factory=dict)


def plain(text: str) -> str:
    """Lower case, words apart by one blank, nothing else."""
    spaced = re.sub(r"([a-z])([A-Z])", r"\1 \2", text)
    return re.sub(r"[^a-z0-9/²%#]+", " ", spaced.lower()).strip()


def _bare(name: str) -> str:
    """A column's name without its unit."""
    said = plain(re.sub(r"[(\[][^)\]]*[)\]]", " ", name))
    return " ".join(word for word in said.split() if word not in _UNIT_WORDS or word == said) or said


def _unit_of(name: str, role: Role) -> str:
    bracket = re.search(r"[(\[]([^)\]]+)[)\]]", name)
    words = [bracket[1].lower().strip()] if bracket else []
    words += plain(name).split()[::-1]
    units = UNITS.get(role, {})
    return next((_UNIT_WORDS[word] for word in words if _UNIT_WORDS.get(word) in units), "")


def _role_of(name: str) -> Role:
    said, bare = plain(re.sub(r"[(\[][^)\]]*[)\]]", " ", name)), _bare(name)
    for role, names in _NAMES.items():
        if said in names or bare in names:
            return role
    for role, names in _NAMES.items():
        if any(len(one) > 2 and re.search(rf"\b{re.escape(one)}\b", bare) for one in names):
            return role
    return Role.IGNORE


def guess(look: Look, about: About) -> Spec:
    """What the columns seem to hold. A guess to be looked at: nothing comes in on the strength of it alone."""
    if look.layout.format is Format.GPX:
        columns = (
            ColumnUse("time", Role.TIME),
            ColumnUse("latitude", Role.LATITUDE),
            ColumnUse("longitude", Role.LONGITUDE),
            ColumnUse("heart_rate", Role.HEART_RATE),
        )
        return Spec(FileKind.SAMPLES, columns, Writing.UNIX_SECONDS)
    if look.layout.format is Format.PACKAGE:
        return Spec(FileKind.PACKAGE, ())
    if look.layout.format is Format.ICALENDAR:
        roles = (Role.SESSION, Role.TIME, Role.MINUTES, Role.PLACE, Role.CALLED_OFF, Role.EVENT)
        uses = [ColumnUse(name, role) for name, role in zip(look.columns, roles, strict=True)]
        return Spec(FileKind.FIXTURES, tuple(uses), Writing.YEAR_FIRST, about.zone)
    cells = _Cells(look)
    uses = _each_once([_use(look, cells, i, name, about) for i, name in enumerate(look.columns)])
    kind = _kind_of(uses)
    uses = [_fitting(use, kind) for use in uses]
    named = {use.role for use in uses}
    if Role.ATHLETE not in named and Role.LAST_NAME not in named and Role.NUMBER in named:
        # Who has a number and no name is meant by the number.
        uses = [replace(use, role=Role.ATHLETE) if use.role == Role.NUMBER else use for use in uses]
    if look.layout.sheets and "Sheet" in look.columns:
        uses = _by_sheet(uses, cells.of(look.columns.index("Sheet")))
    return Spec(kind, tuple(uses), _writing(uses, cells, kind, about), about.zone)


def _by_sheet(uses: list[ColumnUse], sheets: Sequence[str]) -> list[ColumnUse]:
    """What the names of sheets say, where no column does: the day of a session, or the athlete."""
    named = {use.role for use in uses}
    role = Role.IGNORE
    if Role.DATE not in named and all(map(is_day, sheets)):
        role = Role.DATE
    elif not named & {Role.ATHLETE, Role.LAST_NAME}:
        role = Role.ATHLETE
    return [replace(use, role=role) if use.name == "Sheet" else use for use in uses]


class _Cells:
    """The filled cells of each column, of all rows where they are there."""

    def __init__(self, look: Look) -> None:
        self._rows = look.whole.rows if look.whole is not None else look.rows
        self._shown = look.rows
        self._decimal = look.layout.decimal

    def of(self, i: int) -> list[str]:
        return [row[i] for row in self._rows if row[i]]

    def shown(self, i: int) -> list[str]:
        return [row[i] for row in self._shown]

    def numbers(self, i: int) -> list[float]:
        cells = [cell.replace(",", ".") for cell in self.of(i)[:5000]]
        return [value for value in quantities(cells, Measure.RATING) if value is not None]

    def most(self, i: int) -> float:
        return max(self.numbers(i), default=0.0)

    def are_loads(self, i: int) -> bool:
        """Whether these are no ratings. What stays within 100 may be of another scale, and is no load for certain."""
        values = self.numbers(i)
        beyond = sum(value > LEAST_LOAD for value in values) > 0.5 * len(values)
        return beyond and max(values) > OTHER_SCALE


def _use(look: Look, cells: _Cells, i: int, name: str, about: About) -> ColumnUse:
    said, bare = plain(name), _bare(name)
    role = _role_of(name)
    # “Session RPE” is what the main channel may be called, and what people call the rating.
    rating = role is Role.EFFORT and not cells.are_loads(i)
    for known in (said, plain(re.sub(r"[(\[][^)\]]*[)\]]", " ", name)), bare):
        if known in about.channels and not (rating and about.channels[known] == about.main):
            return ColumnUse(name, f"channel:{about.channels[known]}")
        if known in about.tests:
            return ColumnUse(name, f"test:{about.tests[known]}")
    if zone := re.search(r"zone\s*([1-5])\b", said):
        return ColumnUse(name, f"zone:{zone[1]}")
    if (said in _LOADS or bare in _LOADS) and about.main:
        return ColumnUse(name, f"channel:{about.main}")
    for code, names in _QUESTIONS.items():
        if said.replace(" ", "_") == code or said in names or bare in names:
            return ColumnUse(name, f"question:{code}")
    if role is Role.IGNORE and name == "Value":
        return _value(look, cells, i, about)
    if role is Role.EFFORT and cells.are_loads(i) and about.main:
        return ColumnUse(name, f"channel:{about.main}")
    unit = _unit_of(name, role)
    if role is Role.SPEED and not unit:
        unit = "km/h" if cells.most(i) > 13 else "m/s"
    return ColumnUse(name, role, unit)


def _value(look: Look, cells: _Cells, i: int, about: About) -> ColumnUse:
    """What the values of a wide table are, by what stands above them and what the sheet is called."""
    for said in [*look.above, look.layout.sheet, *look.layout.sheets]:
        bare = _bare(said)
        role = _role_of(said)
        if bare in _LOADS or re.search(r"\bloads?\b", bare):
            return ColumnUse("Value", f"channel:{about.main}")
        if role is Role.EFFORT:
            return ColumnUse("Value", Role.EFFORT if not cells.are_loads(i) else f"channel:{about.main}")
        if role is Role.MINUTES:
            return ColumnUse("Value", role, _unit_of(said, role))
    return ColumnUse("Value", Role.IGNORE)


def _each_once(uses: Sequence[ColumnUse]) -> list[ColumnUse]:
    """The first column of a role has it; a name that is the role's own goes before one that only holds it."""
    best: dict[str, ColumnUse] = {}
    for use in sorted(uses, key=lambda use: _bare(use.name) not in _NAMES.get(_plain_role(use.role), ())):
        best.setdefault(use.role, use)
    return [use if best[use.role] is use else replace(use, role=Role.IGNORE, unit="") for use in uses]


def _plain_role(role: str) -> Role:
    return Role(role) if role in list(Role) else Role.IGNORE


def _kind_of(uses: Sequence[ColumnUse]) -> FileKind:
    found = {use.role for use in uses}
    many = {prefix: sum(use.role.startswith(prefix) for use in uses) for prefix in MANY}
    if Role.TIME in found and (found & {Role.HEART_RATE, Role.SPEED, Role.IMPACT} or {"x", "y"} <= found):
        return FileKind.SAMPLES
    if {"latitude", "longitude"} <= found:
        return FileKind.SAMPLES
    if found & {Role.MINUTES, Role.EFFORT, Role.WENT_OFF} or many["channel:"] or many["zone:"]:
        return FileKind.SESSIONS
    if many["question:"] and many["question:"] >= many["test:"]:
        return FileKind.REPORTS
    if many["test:"]:
        return FileKind.TESTS
    dated = found & {Role.DATE, Role.TIME}
    if dated and Role.OPPONENT in found:
        return FileKind.FIXTURES
    if found & {Role.ATHLETE, Role.LAST_NAME} and (not dated or found & {Role.POSITION, Role.FROM_DAY}):
        return FileKind.ROSTER
    return FileKind.SESSIONS


_ROSTER = frozenset({Role.ATHLETE, Role.FIRST_NAME, Role.LAST_NAME, Role.NUMBER, Role.POSITION, Role.FROM_DAY,
                     Role.BIRTH_YEAR, Role.SIDE})  # fmt: skip
_WHO = frozenset({Role.ATHLETE, Role.NUMBER, Role.FIRST_NAME, Role.LAST_NAME, Role.DATE, Role.TIME})
_TAKEN: dict[FileKind, tuple[frozenset[Role], tuple[str, ...]]] = {
    FileKind.SAMPLES: (SAMPLE_ROLES | _WHO, ()),
    FileKind.SESSIONS: (SESSION_ROLES | _WHO | {Role.SESSION}, ("channel:", "zone:")),
    FileKind.REPORTS: (_WHO | {Role.WORDS}, ("question:",)),
    FileKind.TESTS: (_WHO | {Role.SIDE}, ("test:",)),
    FileKind.FIXTURES: (frozenset({Role.EVENT, Role.CALLED_OFF, Role.DATE, Role.TIME, Role.OPPONENT, Role.VENUE,
                                   Role.PLACE, Role.SESSION, Role.MINUTES, Role.EFFORT}), ()),
    FileKind.ROSTER: (_ROSTER, ()),
    FileKind.PACKAGE: (frozenset(), ()),
}  # fmt: skip


def _fitting(use: ColumnUse, kind: FileKind) -> ColumnUse:
    """A column as it is used in this kind of table, where what it holds is none of its business."""
    roles, many = _TAKEN[kind]
    fits = use.role in roles or (many and use.role.startswith(many))
    return use if fits else replace(use, role=Role.IGNORE, unit="")


def _writing(uses: Sequence[ColumnUse], cells: _Cells, kind: FileKind, about: About) -> Writing | None:
    """How moments are written; None where it is not settled, or there are none."""
    time_column = next((i for i, use in enumerate(uses) if use.role == Role.TIME), None)
    date_column = next((i for i, use in enumerate(uses) if use.role == Role.DATE), None)
    if kind is FileKind.ROSTER:
        return None
    if kind is FileKind.SAMPLES:
        writing = None
        for column in (time_column, date_column):
            if column is not None and writing is None:
                writing = guess_writing(cells.shown(column))
        if date_column is not None and writing is Writing.CLOCK:
            writing = guess_writing(cells.shown(date_column)) or writing
        return writing
    for column in (date_column, time_column):
        if column is None:
            continue
        read = how_written(cells.of(column), about.today, past=kind is not FileKind.FIXTURES)
        if read is not None:
            return writing_of(read.orders[0]) if len(read.orders) == 1 else None
        writing = guess_writing(cells.shown(column))
        if writing is not None:
            return writing
    return None


def writing_of(order: Order) -> Writing:
    return Writing(order.value)


def roles_of(kind: FileKind, channels: Sequence[str], zones: Sequence[str], tests: Sequence[str]) -> list[str]:
    """What a column of this kind of table can hold."""
    roles, many = _TAKEN[kind]
    questions = [f"question:{code}" for code, item in ITEMS.items() if item.kind is ReportKind.DAILY]
    several = [one for one in (*channels, *zones, *questions, *tests) if many and one.startswith(many)]
    return [Role.IGNORE, *(role for role in Role if role in roles), *several]

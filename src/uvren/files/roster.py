"""People as they are pasted from a spreadsheet or a list: a line each."""

from __future__ import annotations

import csv
import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

from uvren.files.errors import BadFile

MOST_PEOPLE, LONGEST_LINE = 500, 1000
SEPARATORS = "\t;|,"


class Column(StrEnum):
    """What a column holds."""

    NAME = "name"
    FIRST = "first name"
    LAST = "last name"
    NUMBER = "number"
    POSITION = "position"
    FROM = "from"
    SIDE = "side"
    BORN = "born"


HEADS: dict[str, Column] = {
    **dict.fromkeys(("name", "player", "athlete", "full name", "who"), Column.NAME),
    **dict.fromkeys(("first name", "first", "given name", "forename"), Column.FIRST),
    **dict.fromkeys(("last name", "last", "surname", "family name"), Column.LAST),
    **dict.fromkeys(("no", "no.", "nr", "nr.", "number", "#", "shirt", "shirt number", "jersey"), Column.NUMBER),
    **dict.fromkeys(("position", "pos", "pos.", "role", "discipline", "event"), Column.POSITION),
    **dict.fromkeys(("from", "since", "joined", "from day", "in the squad from", "start"), Column.FROM),
    **dict.fromkeys(("born", "birth year", "year of birth", "birth", "birthday", "date of birth", "dob"), Column.BORN),
    **dict.fromkeys(("side", "dominant side", "hand", "foot", "handed", "dominant"), Column.SIDE),
}
SIDES = {"l": "left", "left": "left", "r": "right", "right": "right"}
DAYS = (
    re.compile(r"(?P<y>\d{4})-(?P<m>\d{1,2})-(?P<d>\d{1,2})"),
    re.compile(r"(?P<d>\d{1,2})\.(?P<m>\d{1,2})\.(?P<y>\d{4})"),
)


@dataclass(frozen=True)
class Pasted:
    """A line as it was read; ``unread`` says what of it was not understood."""

    line: int
    name: str
    number: int | None
    position: str
    from_day: date | None
    side: str | None
    unread: str
    birth_year: int | None = None


def read_people(text: str) -> list[Pasted]:
    """Every line with something in it, but a line of heads. Raises BadFile for more than can be a squad.

    Columns are told by their heads; without heads by what is in them: words with letters are the name first and the
    position then, a whole number is the number, a day is the day from which, left and right are the dominant side.
    """
    lines = [(i, line) for i, line in enumerate(text.replace("\r\n", "\n").split("\n"), 1) if line.strip()]
    if len(lines) > MOST_PEOPLE or any(len(line) > LONGEST_LINE for _, line in lines):
        raise BadFile(f"At most {MOST_PEOPLE} people at once, a line each.")
    if not lines:
        return []
    cells = [(i, _cells(line, _separator([line for _, line in lines]))) for i, line in lines]
    columns = _heads(cells[0][1])
    rows = cells[1:] if columns else cells
    return [_read(i, row, columns or _guess(row)) for i, row in rows]


def _separator(lines: Sequence[str]) -> str | None:
    """What most lines are parted by; a comma alone parts a last name from a first."""
    for mark in SEPARATORS:
        if sum(mark in line for line in lines) > len(lines) / 2:
            return mark if mark != "," or any(line.count(mark) > 1 for line in lines) else None
    return None


def _cells(line: str, separator: str | None) -> list[str]:
    if separator is None:
        return [line.strip()]
    return [cell.strip() for cell in next(csv.reader([line], delimiter=separator))]


def _heads(row: Sequence[str]) -> list[Column | None]:
    """The columns that a line of heads names; nothing for a line that is none."""
    columns = [HEADS.get(cell.casefold().strip(" :")) for cell in row]
    named = [column for column in columns if column is not None]
    return columns if {Column.NAME, Column.LAST} & set(named) else []


def _guess(row: Sequence[str]) -> list[Column | None]:
    columns: list[Column | None] = []
    for cell in row:
        if not cell:
            columns.append(None)
        elif _day(cell) is not None:
            columns.append(Column.FROM)
        elif cell.casefold() in SIDES and Column.NAME in columns:
            columns.append(Column.SIDE)
        elif year_of(cell) is not None:
            columns.append(Column.BORN)
        elif re.fullmatch(r"\d{1,3}", cell):
            columns.append(Column.NUMBER)
        elif any(letter.isalpha() for letter in cell):
            columns.append(Column.POSITION if Column.NAME in columns else Column.NAME)
        else:
            columns.append(None)
    return columns


def _read(line: int, row: Sequence[str], columns: Sequence[Column | None]) -> Pasted:
    given: dict[Column, str] = {}
    unread = [cell for cell, column in zip(row, columns, strict=False) if cell and column is None]
    unread += [cell for cell in row[len(columns) :] if cell]
    for cell, column in zip(row, columns, strict=False):
        if column is not None and cell:
            given.setdefault(column, cell)
    number, side, from_day = given.get(Column.NUMBER), given.get(Column.SIDE), given.get(Column.FROM)
    if number is not None and not re.fullmatch(r"\d{1,3}", number):
        unread.append(number)
        number = None
    day = None if from_day is None else _day(from_day)
    if from_day is not None and day is None:
        unread.append(from_day)
    if side is not None and side.casefold() not in SIDES:
        unread.append(side)
        side = None
    born = given.get(Column.BORN)
    year = None if born is None else year_of(born)
    if born is not None and year is None:
        unread.append(born)
    return Pasted(
        line, _name(given), None if number is None else int(number), given.get(Column.POSITION, ""), day,
        None if side is None else SIDES[side.casefold()], ", ".join(unread), year,
    )  # fmt: skip


def year_of(cell: str) -> int | None:
    """A year of birth, alone or in a whole day."""
    found = re.search(r"(?<!\d)(19[3-9]\d|20[0-2]\d)(?!\d)", cell)
    return int(found[1]) if found else None


def _name(given: dict[Column, str]) -> str:
    if Column.NAME in given:
        last, comma, first = given[Column.NAME].partition(",")
        name = f"{first.strip()} {last.strip()}" if comma and first.strip() else given[Column.NAME].strip(" ,")
    else:
        name = f"{given.get(Column.FIRST, '')} {given.get(Column.LAST, '')}"
    return " ".join(name.split())


def _day(cell: str) -> date | None:
    """Only what can be read in one way: the year first, or points between day, month and year."""
    for form in DAYS:
        found = form.fullmatch(cell)
        if found:
            try:
                return date(int(found["y"]), int(found["m"]), int(found["d"]))
            except ValueError:
                return None
    return None

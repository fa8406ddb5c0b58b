"""How a table is written: its format, encoding, separator, decimal sign and head. Guessed, and open to correction."""

from __future__ import annotations

import codecs
import csv
import io
import re
from collections import Counter
from collections.abc import Collection, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum
from pathlib import Path
from typing import Any

from uvren.files.errors import BadFile
from uvren.files.grid import Grid, bounded, text_grid
from uvren.files.safety import DESCRIPTION, MOST_COLUMNS, check_archive, check_size
from uvren.files.shape import Across, Shape, find_shape
from uvren.files.straighten import Table, distinct, head_of, straighten

SAMPLE_BYTES = 256 * 1024
# Longer names are no names; of longer cells the beginning is shown.
MOST_NAME, MOST_SHOWN = 200, 200
SAMPLE_ROWS = 60
SEPARATORS = (",", ";", "\t", "|")
# A longer text is a recording; it is looked at by its beginning and read by columns.
MOST_KEPT_BYTES = 4 * 1024 * 1024


class Format(StrEnum):
    TEXT = "text"
    XLSX = "xlsx"
    ODS = "ods"
    PARQUET = "parquet"
    JSON_LINES = "json_lines"
    GPX = "gpx"
    ICALENDAR = "icalendar"
    PACKAGE = "package"


@dataclass(frozen=True)
class Layout:
    """How a table is written.

    ``head_row`` counts from 0; the data begin in the row after the last of ``head_rows`` rows of head. Separator,
    encoding and decimal sign are those of text; ``thousands`` is a sign that parts thousands. ``sheet`` is the one of a
    workbook that is read; ``sheets`` are several that are read as one table. ``across`` says what stands side by side,
    right of ``left`` columns.
    """

    format: Format
    encoding: str = "utf-8"
    separator: str = ","
    decimal: str = "."
    head_row: int = 0
    head_rows: int = 1
    sheet: str = ""
    sheets: tuple[str, ...] = ()
    across: Across = Across.NOTHING
    left: int = 0
    thousands: str = ""

    @classmethod
    def from_json(cls, given: dict[str, Any]) -> Layout:
        """Raises ValueError, KeyError or TypeError for what is no layout."""
        kinds = {"format": Format(given["format"]), "across": Across(given.get("across") or "nothing")}
        return cls(**{**given, **kinds, "sheets": tuple(map(str, given.get("sheets") or ()))})

    @property
    def shape(self) -> Shape:
        return Shape(self.head_row, self.head_rows, self.across, self.left)

    @property
    def is_workbook(self) -> bool:
        return self.format in (Format.XLSX, Format.ODS)

    @property
    def first_data_row(self) -> int:
        return self.head_row + self.head_rows


@dataclass(frozen=True)
class Look:
    """A first look at a table: its columns and its first rows, as text."""

    layout: Layout
    columns: list[str]
    rows: list[list[str]]
    sheets: list[str]
    hidden: list[str] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)
    # Every row of a table that people keep, and what stands above its head; of recordings only the beginning is read.
    whole: Table | None = None
    above: list[str] = field(default_factory=list)


def look_at(path: Path, given: Layout | None = None, people: Collection[str] = (), around: str = "") -> Look:
    """Guess how the file is written, or take ``given``, and show how it begins. Raises BadFile.

    ``people`` are names of the squad's people, by which a table with people side by side is known; ``around`` is what
    the file is called, which may say the month or year of its days.
    """
    check_size(path)
    try:
        look = _look_at(path, given, people, around)
    except csv.Error as error:
        raise BadFile(f"The text cannot be cut into columns: {error}.") from error
    if len(look.columns) > MOST_COLUMNS:
        raise BadFile(f"The file has {len(look.columns):,} columns; {MOST_COLUMNS} is the most.")
    if any(len(name) > MOST_NAME for name in look.columns):
        raise BadFile(f"The name of a column has more than {MOST_NAME} letters. Is the row with the names right?")
    return replace(look, rows=[[cell[:MOST_SHOWN] for cell in row] for row in look.rows])


def _look_at(path: Path, given: Layout | None, people: Collection[str], around: str) -> Look:
    layout = given or Layout(guess_format(path))
    if layout.format is Format.GPX:
        from uvren.files.gpx import COLUMNS

        return Look(layout, list(COLUMNS), [], [])
    if layout.format is Format.PACKAGE:
        return Look(layout, [], [], [])
    if layout.format is Format.ICALENDAR:
        from uvren.files.ical import COLUMNS as OF_EVENTS

        return Look(layout, list(OF_EVENTS), [], [])
    if layout.format is Format.PARQUET:
        return _look_at_parquet(path, layout)
    if layout.format is Format.JSON_LINES:
        return _look_at_json_lines(path, layout)
    if layout.format is Format.TEXT:
        if given is None:
            layout = _guess_text(path, layout)
        if path.stat().st_size > MOST_KEPT_BYTES:
            return _look_at_long_text(path, layout, guess=given is None)
    return _look_at_grid(path, layout, people, around, guess=given is None)


def _look_at_long_text(path: Path, layout: Layout, *, guess: bool) -> Look:
    """A text so long that it is a recording, by its first lines."""
    cells = list(_first_lines(path, layout))
    if guess:
        shape = find_shape(cells, ())
        layout = replace(layout, head_row=shape.head_row, head_rows=shape.head_rows)
        layout = replace(layout, decimal=_guess_decimal(cells[layout.first_data_row :], layout.separator))
    columns = head_of(cells[layout.head_row : layout.first_data_row])
    if not columns:
        raise BadFile("No row with the names of columns was found.")
    width = len(columns)
    rows = [(row + [""] * width)[:width] for row in cells[layout.first_data_row :] if any(row)]
    return Look(layout, columns, rows, [])


def _look_at_grid(path: Path, layout: Layout, people: Collection[str], around: str, *, guess: bool) -> Look:
    """A table that people keep: all of it, laid straight."""
    sheets: list[str] = []
    hidden: list[str] = []
    if layout.is_workbook:
        from uvren.files.workbook import names_of

        sheets, hidden = names_of(path)
    found = grids(path, layout)
    if layout.is_workbook and not layout.sheets:
        layout = replace(layout, sheet=found[0].name)
    if guess:
        shape = find_shape(found[0].rows, people, f"{found[0].name} {around}")
        layout = replace(layout, head_row=shape.head_row, head_rows=shape.head_rows, across=shape.across,
                         left=shape.left)  # fmt: skip
    table = straight(found, layout, people, around)
    if guess and layout.format is Format.TEXT:
        layout = replace(layout, decimal=_guess_decimal(table.rows[:2000], layout.separator))
    if not table.columns:
        raise BadFile("No row with the names of columns was found.")
    above = [cell for row in found[0].rows[: layout.head_row + 1] for cell in row if cell][:20]
    return Look(layout, table.columns, table.rows[:SAMPLE_ROWS], sheets, hidden, table.notes, table, above)


def grids(path: Path, layout: Layout) -> list[Grid]:
    """The sheets that a layout means, or the text, as cells. Raises BadFile."""
    if layout.format is Format.TEXT:
        return [text_grid(path, layout.encoding, layout.separator)]
    from uvren.files.workbook import sheet_grids

    return sheet_grids(path, layout.sheets or ((layout.sheet,) if layout.sheet else ()))


def straight(found: Sequence[Grid], layout: Layout, people: Collection[str] = (), around: str = "") -> Table:
    """Sheets as one table. A sheet whose head is not where that of the first one is has its own shape."""
    first = straighten(found[0], layout.shape, f"{found[0].name} {around}")
    if len(found) == 1:
        return first
    tables = [first]
    for grid in found[1:]:
        called = f"{grid.name} {around}"
        same = straighten(grid, layout.shape, called) if grid.rows else None
        if same is None or set(same.columns) != set(first.columns):
            same = straighten(grid, find_shape(grid.rows, people, called), called)
        tables.append(same)
    names = list(dict.fromkeys(name for table in tables for name in table.columns))
    sheet = distinct([*names, "Sheet"])[-1]
    out = Table([*names, sheet], [], [], [])
    said: dict[str, list[str]] = {}
    for grid, table in zip(found, tables, strict=True):
        place = [names.index(name) for name in table.columns]
        for row, line in zip(table.rows, table.lines, strict=True):
            cells = [""] * len(names)
            for at, cell in zip(place, row, strict=True):
                cells[at] = cell
            out.rows.append([*cells, grid.name])
            out.lines.append(line)
            out.sheets.append(grid.name)
        out.short.extend(table.short)
        for note in table.notes:
            said.setdefault(note, []).append(grid.name)
    for note, names_of_sheets in said.items():
        every = len(names_of_sheets) == len(found)
        out.notes.append(note if every else f"{', '.join(names_of_sheets)}: {note}")
    return out


def guess_format(path: Path) -> Format:
    """From what the file begins with, not from its name. Raises BadFile for what is no table."""
    with path.open("rb") as source:
        begin = source.read(4096)
    if begin.startswith(b"PK"):
        names = check_archive(path)
        if DESCRIPTION in names:
            return Format.PACKAGE
        if "content.xml" in names and "mimetype" in names:
            return Format.ODS
        if not any(name.startswith("xl/") for name in names):
            raise BadFile("This is an archive, not a workbook. Unpack it and give its files.")
        return Format.XLSX
    if begin.startswith(b"PAR1"):
        return Format.PARQUET
    if begin.startswith(b"\xd0\xcf\x11\xe0"):
        raise BadFile("This is an old or locked workbook. Save it as .xlsx, .ods or CSV.")
    text = begin.lstrip(codecs.BOM_UTF8).lstrip()
    if text.startswith(b"<"):
        if b"<gpx" in begin.lower() or b"<!doctype" in begin.lower() or b"<?xml" in begin.lower():
            return Format.GPX
        raise BadFile("This is a page or an XML file other than GPX.")
    if text[:15].upper() == b"BEGIN:VCALENDAR":
        return Format.ICALENDAR
    if text.startswith(b"{"):
        return Format.JSON_LINES
    if b"\x00" in begin and not _utf_16(begin):
        raise BadFile("This is neither text nor a workbook, Parquet or GPX file.")
    return Format.TEXT


def _utf_16(begin: bytes) -> str:
    """The UTF-16 encoding that the bytes are in, or nothing."""
    if begin.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        return "utf-16"
    pairs = len(begin) // 2
    if pairs >= 4:
        if begin[1::2].count(0) > 0.4 * pairs and begin[::2].count(0) < 0.1 * pairs:
            return "utf-16-le"
        if begin[::2].count(0) > 0.4 * pairs and begin[1::2].count(0) < 0.1 * pairs:
            return "utf-16-be"
    return ""


def _guess_text(path: Path, layout: Layout) -> Layout:
    with path.open("rb") as source:
        begin = source.read(SAMPLE_BYTES)
    # Not by a package that detects encodings: a file of names and numbers is nearly all ASCII, and of so little such a
    # package takes another code page (tried: charset-normalizer read Åse Bjørk in cp1252 as Ĺse Bjřrk).
    encoding = _utf_16(begin[:4096])
    if not encoding:
        encoding = "utf-8"
        try:
            # The sample may end in the middle of a letter.
            codecs.getincrementaldecoder("utf-8")().decode(begin)
        except UnicodeDecodeError:
            encoding = "cp1252"
    layout = replace(layout, encoding=encoding)
    lines = _decoded(begin, encoding).splitlines()[:SAMPLE_ROWS]
    return replace(layout, separator=_guess_separator(lines))


def _decoded(begin: bytes, encoding: str) -> str:
    return codecs.getincrementaldecoder(encoding)("replace").decode(begin).removeprefix("\ufeff")


def _guess_separator(lines: Sequence[str]) -> str:
    """The one that cuts most of the lines into the same number of columns, more than one."""
    best, best_score = ",", 0.0
    for separator in SEPARATORS:
        widths = Counter(len(row) for row in csv.reader(lines, delimiter=separator) if row)
        if not widths:
            continue
        # Of a comma that is also the decimal sign, rows differ in width; of the true separator they do not.
        width, count = max(widths.items(), key=lambda item: (item[0] > 1, item[1], item[0]))
        score = 0.0 if width < 2 else count / sum(widths.values()) * (1 + 0.01 * min(width, 20))
        if score > best_score:
            best, best_score = separator, score
    return best


def _first_lines(path: Path, layout: Layout) -> list[list[str]]:
    with path.open("rb") as source:
        begin = source.read(SAMPLE_BYTES)
    text = _decoded(begin, layout.encoding)
    if len(begin) == SAMPLE_BYTES:
        text = text[: max(text.rfind("\n"), text.rfind("\r")) + 1]
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=layout.separator)
    return bounded(reader, SAMPLE_ROWS)


def _guess_decimal(rows: list[list[str]], separator: str) -> str:
    if separator == ",":
        quoted = sum(bool(re.match(r"^[+-]?\d+,\d{1,2}$", cell)) for row in rows for cell in row)
        points = sum(bool(re.match(r"^[+-]?\d+\.\d+$", cell)) for row in rows for cell in row)
        return "," if quoted > points else "."
    commas = sum(bool(re.match(r"^[+-]?\d+,\d+$", cell)) for row in rows for cell in row)
    points = sum(bool(re.match(r"^[+-]?\d+\.\d+$", cell)) for row in rows for cell in row)
    return "," if commas > points else "."


def _look_at_parquet(path: Path, layout: Layout) -> Look:
    from uvren.files.parquet import open_parquet

    parquet = open_parquet(path)
    columns = [str(name) for name in parquet.schema_arrow.names]
    batch = next(parquet.iter_batches(batch_size=SAMPLE_ROWS), None)
    rows = [] if batch is None else [["" if v is None else str(v) for v in r.values()] for r in batch.to_pylist()]
    return Look(layout, columns, rows, [])


def _look_at_json_lines(path: Path, layout: Layout) -> Look:
    import json

    rows: list[dict[str, object]] = []
    with path.open("rb") as source:
        for number, line in enumerate(source, start=1):
            if len(rows) == SAMPLE_ROWS:
                break
            if not line.strip():
                continue
            try:
                row = json.loads(line)
            except ValueError as error:
                raise BadFile(f"Line {number} is not one JSON object: the file is no JSON lines.") from error
            if not isinstance(row, dict):
                raise BadFile(f"Line {number} is not a JSON object.")
            rows.append(row)
    columns = list(dict.fromkeys(str(name) for row in rows for name in row))
    shown = [["" if row.get(name) is None else str(row[name]) for name in columns] for row in rows]
    return Look(layout, columns, shown, [])

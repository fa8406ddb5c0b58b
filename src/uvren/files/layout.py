"""How a table is written: its format, encoding, separator, decimal sign and head. Guessed, and open to correction."""

from __future__ import annotations

import codecs
import csv
import io
import re
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import islice
from pathlib import Path

from uvren.files.errors import BadFile
from uvren.files.safety import MOST_COLUMNS, check_archive, check_size

SAMPLE_BYTES = 256 * 1024
# Longer names are no names; of longer cells the beginning is shown.
MOST_NAME, MOST_SHOWN = 200, 200
SAMPLE_ROWS = 60
SEPARATORS = (",", ";", "\t", "|")
HEAD_WITHIN = 20


class Format(StrEnum):
    TEXT = "text"
    XLSX = "xlsx"
    PARQUET = "parquet"
    JSON_LINES = "json_lines"
    GPX = "gpx"


@dataclass(frozen=True)
class Layout:
    """How a table is written.

    ``head_row`` counts from 0; the data begin in the row after the last of ``head_rows`` rows of head. Separator,
    encoding and decimal sign are those of text; the sheet is that of a workbook.
    """

    format: Format
    encoding: str = "utf-8"
    separator: str = ","
    decimal: str = "."
    head_row: int = 0
    head_rows: int = 1
    sheet: str = ""

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


def look_at(path: Path, given: Layout | None = None) -> Look:
    """Guess how the file is written, or take ``given``, and show how it begins. Raises BadFile."""
    check_size(path)
    try:
        look = _look_at(path, given)
    except csv.Error as error:
        raise BadFile(f"The text cannot be cut into columns: {error}.") from error
    if len(look.columns) > MOST_COLUMNS:
        raise BadFile(f"The file has {len(look.columns)} columns; {MOST_COLUMNS} is the most.")
    if any(len(name) > MOST_NAME for name in look.columns):
        raise BadFile(f"The name of a column has more than {MOST_NAME} letters. Is the row with the names right?")
    return replace(look, rows=[[cell[:MOST_SHOWN] for cell in row] for row in look.rows])


def _look_at(path: Path, given: Layout | None) -> Look:
    layout = given or Layout(guess_format(path))
    if layout.format is Format.GPX:
        from uvren.files.gpx import COLUMNS

        return Look(layout, list(COLUMNS), [], [])
    if layout.format is Format.PARQUET:
        return _look_at_parquet(path, layout)
    if layout.format is Format.JSON_LINES:
        return _look_at_json_lines(path, layout)
    sheets: list[str] = []
    if layout.format is Format.XLSX:
        from uvren.files.workbook import first_cells

        sheets, sheet, cells = first_cells(path, layout.sheet, SAMPLE_ROWS)
        layout = replace(layout, sheet=sheet)
    else:
        if given is None:
            layout = _guess_text(path, layout)
        cells = list(_first_lines(path, layout))
    if given is None:
        layout = _guess_head(cells, layout)
        if layout.format is Format.TEXT:
            layout = replace(layout, decimal=_guess_decimal(cells[layout.first_data_row :], layout.separator))
    columns = head_of(cells, layout)
    if not columns:
        raise BadFile("No row with the names of columns was found.")
    width = len(columns)
    rows = [(row + [""] * width)[:width] for row in cells[layout.first_data_row :] if any(row)]
    return Look(layout, columns, rows, sheets)


def guess_format(path: Path) -> Format:
    """From what the file begins with, not from its name. Raises BadFile for what is no table."""
    with path.open("rb") as source:
        begin = source.read(4096)
    if begin.startswith(b"PK"):
        if not any(name.startswith("xl/") for name in check_archive(path)):
            raise BadFile("This is an archive, not a workbook. Unpack it and give its files.")
        return Format.XLSX
    if begin.startswith(b"PAR1"):
        return Format.PARQUET
    if begin.startswith(b"\xd0\xcf\x11\xe0"):
        raise BadFile("This is an old or locked workbook. Save it as .xlsx or CSV.")
    text = begin.lstrip(codecs.BOM_UTF8).lstrip()
    if text.startswith(b"<"):
        if b"<gpx" in begin.lower() or b"<!doctype" in begin.lower() or b"<?xml" in begin.lower():
            return Format.GPX
        raise BadFile("This is a page or an XML file other than GPX.")
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
    return [[cell.strip() for cell in row] for row in islice(reader, SAMPLE_ROWS)]


_NUMBER = re.compile(r"^[+-]?\d+([.,]\d+)?([eE][+-]?\d+)?$")


def _is_word(cell: str) -> bool:
    return bool(cell) and not _NUMBER.match(cell) and not re.match(r"^\d{1,4}[-./:]\d", cell)


def _guess_head(cells: list[list[str]], layout: Layout) -> Layout:
    """The first row of words that is about as wide as the rows below it; two rows where heads are merged."""
    filled = [sum(1 for cell in row if cell) for row in cells]
    if not any(filled):
        raise BadFile("The file holds no rows.")
    body = Counter(count for count in filled if count).most_common(1)[0][0]
    width = max(body, 2)
    for i, row in enumerate(cells[:HEAD_WITHIN]):
        words = sum(1 for cell in row if _is_word(cell))
        if words and words == filled[i] and filled[i] >= 0.6 * width:
            below = cells[i + 1] if i + 1 < len(cells) else []
            if _is_second_head(row, below, cells[i + 2] if i + 2 < len(cells) else []):
                return replace(layout, head_row=i, head_rows=2)
            return replace(layout, head_row=i, head_rows=1)
        # A merged upper head has few words, each over several columns whose names stand in the next row.
        if words and words == filled[i] and i + 1 < len(cells) and filled[i] >= 2:
            lower = cells[i + 1]
            lower_words = sum(1 for cell in lower if _is_word(cell))
            if lower_words == filled[i + 1] and lower_words >= 0.6 * width and len(set(lower)) < len(lower):
                return replace(layout, head_row=i, head_rows=2)
    return replace(layout, head_row=0, head_rows=1)


def _is_second_head(upper: list[str], lower: list[str], data: list[str]) -> bool:
    """Whether a row of units or of merged heads' parts stands below the head."""
    if not lower or any(cell and not _is_word(cell) for cell in lower):
        return False
    has_blank_above = any(low and not (upper[i] if i < len(upper) else "") for i, low in enumerate(lower))
    return has_blank_above and any(_NUMBER.match(cell) for cell in data)


def head_of(cells: list[list[str]], layout: Layout) -> list[str]:
    """Names of the columns; merged heads are joined to what stands below them, a name met again gets a number."""
    rows = cells[layout.head_row : layout.first_data_row]
    if not rows:
        return []
    width = max(len(row) for row in rows)
    padded = [row + [""] * (width - len(row)) for row in rows]
    if len(padded) == 2:
        upper, over = [], ""
        for cell, below in zip(padded[0], padded[1], strict=True):
            over = cell or (over if below else "")
            upper.append(over)
        names = [" ".join(dict.fromkeys(part for part in pair if part)) for pair in zip(upper, padded[1], strict=True)]
    else:
        names = padded[0]
    while names and not names[-1]:
        names.pop()
    return distinct([name or f"Column {i + 1}" for i, name in enumerate(names)])


def distinct(names: list[str]) -> list[str]:
    out: list[str] = []
    for name in names:
        unique, n = name, 1
        while unique in out:
            n += 1
            unique = f"{name} ({n})"
        out.append(unique)
    return out


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

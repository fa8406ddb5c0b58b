"""Writes tables in the open formats that are read: CSV, TSV, XLSX, Parquet, JSON lines; and sessions as iCalendar.

Text that a spreadsheet would run as a formula is written so that it is shown instead.
"""

from __future__ import annotations

import csv
import io
import json
import re
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from enum import StrEnum
from itertools import chain, islice
from tempfile import TemporaryFile
from typing import IO, Any, TypeVar

Cell = str | float | int | bool | date | datetime | None

Item = TypeVar("Item")
# How many lines and bytes go out at once, and how many rows are made into columns at once.
_LINES, _CHUNK, _ROWS = 1000, 64 * 1024, 20_000

# A cell that begins with one of these, after any white space, would be run as a formula by spreadsheet programs.
FORMULA_STARTS = ("=", "+", "-", "@", "\t", "\r")
# Characters that no workbook may hold, and nobody can read.
_CONTROLS = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ufffe\uffff]")


class TableFormat(StrEnum):
    CSV = "csv"
    TSV = "tsv"
    XLSX = "xlsx"
    PARQUET = "parquet"
    JSON_LINES = "jsonl"


MEDIA_TYPES = {
    TableFormat.CSV: "text/csv; charset=utf-8",
    TableFormat.TSV: "text/tab-separated-values; charset=utf-8",
    TableFormat.XLSX: "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    TableFormat.PARQUET: "application/vnd.apache.parquet",
    TableFormat.JSON_LINES: "application/jsonl",
}


def plain_cell(text: str) -> str:
    """Text that a spreadsheet shows as it stands."""
    text = without_controls(text)
    return f"'{text}" if text.startswith(FORMULA_STARTS) or text.lstrip().startswith(FORMULA_STARTS) else text


def without_controls(text: str) -> str:
    return _CONTROLS.sub("", text)


def csv_lines(columns: Sequence[str], rows: Iterable[Sequence[Cell]], separator: str = ",") -> Iterator[str]:
    """Lines of CSV, the heads first; a float keeps all its digits."""
    buffer = io.StringIO()
    # The ending makes the writer quote a lone carriage return too; what is written ends in a line feed alone.
    writer = csv.writer(buffer, delimiter=separator, lineterminator="\r\n")
    for row in chain([columns], rows):
        writer.writerow(map(_text, row))
        yield f"{buffer.getvalue()[:-2]}\n"
        buffer.seek(0)
        buffer.truncate()


def _text(cell: Cell) -> str:
    if cell is None:
        return ""
    if isinstance(cell, str):
        return plain_cell(cell)
    if isinstance(cell, bool):
        return "yes" if cell else "no"
    return cell.isoformat() if isinstance(cell, date) else repr(cell)


def write_table(format: TableFormat, columns: Sequence[str], rows: Iterable[Sequence[Cell]]) -> bytes:
    """A table with a row of heads. Numbers keep all their digits."""
    return b"".join(table_chunks(format, columns, rows))


def table_chunks(format: TableFormat, columns: Sequence[str], rows: Iterable[Sequence[Cell]]) -> Iterator[bytes]:
    """The same piece by piece, for a table of any length: it is never in memory as a whole, but for Parquet's columns.

    Workbooks and Parquet are put together in a file first, as their beginning depends on their end.
    """
    if format in (TableFormat.CSV, TableFormat.TSV):
        yield from _gathered(csv_lines(columns, rows, "," if format is TableFormat.CSV else "\t"))
    elif format is TableFormat.JSON_LINES:
        yield from _gathered(
            f"{json.dumps(dict(zip(columns, map(_json, row), strict=True)), ensure_ascii=False)}\n" for row in rows
        )
    else:
        with TemporaryFile() as out:
            (_xlsx if format is TableFormat.XLSX else _parquet)(out, columns, rows)
            out.seek(0)
            yield from iter(lambda: out.read(_CHUNK), b"")


def _gathered(lines: Iterable[str]) -> Iterator[bytes]:
    for some in batched(lines, _LINES):
        yield "".join(some).encode("utf-8")


def batched(them: Iterable[Item], size: int) -> Iterator[list[Item]]:
    rest = iter(them)
    while some := list(islice(rest, size)):
        yield some


def _json(cell: Cell) -> Any:
    return cell.isoformat() if isinstance(cell, date) else cell


def _xlsx(out: IO[bytes], columns: Sequence[str], rows: Iterable[Sequence[Cell]]) -> None:
    from openpyxl import Workbook
    from openpyxl.cell import WriteOnlyCell

    book = Workbook(write_only=True)
    sheet = book.create_sheet("Uvren")
    for row in chain([columns], rows):
        cells: list[Any] = []
        for value in row:
            cell = WriteOnlyCell(sheet, _spreadsheet_value(value))
            if isinstance(value, str):
                # Given as text, so that it is never taken for a formula.
                cell.data_type = "s"
            cells.append(cell)
        sheet.append(cells)
    book.save(out)


def _spreadsheet_value(cell: Cell) -> Cell:
    if isinstance(cell, str):
        return without_controls(cell)
    # A workbook knows no time zones: moments are written as text with theirs.
    return cell.isoformat() if isinstance(cell, datetime) and cell.tzinfo else cell


def _parquet(out: IO[bytes], columns: Sequence[str], rows: Iterable[Sequence[Cell]]) -> None:
    import pyarrow as pa
    import pyarrow.parquet as papq

    # A column may be empty for as long as a part is, and hold numbers later.
    parts = [
        pa.table({name: pa.array(column) for name, column in zip(columns, zip(*some, strict=True), strict=True)})
        for some in batched(rows, _ROWS)
    ]
    empty = pa.table({name: pa.array([]) for name in columns})
    table = pa.concat_tables(parts, promote_options="permissive") if parts else empty
    papq.write_table(table, out, compression="zstd")


@dataclass(frozen=True)
class CalendarEntry:
    """A session for a calendar."""

    uid: str
    starts_at: datetime
    minutes: float
    title: str
    changed_at: datetime


def write_calendar(name: str, entries: Iterable[CalendarEntry]) -> bytes:
    """iCalendar (RFC 5545) with an event for each session."""
    from icalendar import Calendar, Event

    calendar = Calendar()
    calendar.add("prodid", "-//Uvren//Sessions//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    for entry in entries:
        event = Event()
        event.add("uid", f"{entry.uid}@uvren.invalid")
        event.add("dtstamp", entry.changed_at)
        event.add("dtstart", entry.starts_at)
        event.add("dtend", entry.starts_at + timedelta(minutes=entry.minutes))
        event.add("summary", entry.title)
        calendar.add_component(event)
    return bytes(calendar.to_ical())

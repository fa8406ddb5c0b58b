"""Daily loads as CSV: ``athlete,date,channel,load`` and, in our own exports, ``status``.

An empty load is a session without a report. ``status`` is measured, estimated or missing.
"""

from __future__ import annotations

import csv
import math
from collections.abc import Iterable, Iterator
from datetime import date
from typing import TextIO

from uvren.core.series import LoadRow
from uvren.files.errors import BadFile
from uvren.files.writing import Cell, csv_lines

COLUMNS = ("athlete", "date", "channel", "load")
EXPORTED = (*COLUMNS, "status")


def read_loads(source: TextIO) -> list[LoadRow]:
    """Read every line of work. Raises BadFile at the first line that makes no sense."""
    reader = csv.DictReader(source)
    heads = reader.fieldnames or ()
    lacking = [name for name in COLUMNS if name not in heads]
    if lacking:
        raise BadFile(f"line 1: the column {lacking[0]!r} is missing; needed are {','.join(COLUMNS)}")
    return [_row(line, reader.line_num) for line in reader]


def _row(line: dict[str, str | None], number: int) -> LoadRow:
    athlete, channel = (line["athlete"] or "").strip(), (line["channel"] or "").strip()
    if not athlete or not channel:
        raise BadFile(f"line {number}: athlete and channel must not be empty")
    try:
        day = date.fromisoformat((line["date"] or "").strip())
    except ValueError:
        raise BadFile(f"line {number}: {line['date']!r} is no date such as 2026-03-12") from None
    text = (line["load"] or "").strip()
    load: float | None = None
    if text:
        try:
            load = float(text)
        except ValueError:
            raise BadFile(f"line {number}: {text!r} is no number such as 412.5") from None
        if not math.isfinite(load) or load < 0:
            raise BadFile(f"line {number}: a load is 0 or more, not {text}")
    return LoadRow(athlete, day, channel, load, line.get("status") == "estimated")


def write_loads(rows: Iterable[LoadRow]) -> Iterator[str]:
    """CSV lines of the rows, head line first; a float keeps all its digits."""
    return csv_lines(EXPORTED, map(cells, rows))


def cells(row: LoadRow) -> tuple[Cell, ...]:
    status = "missing" if row.load is None else "estimated" if row.estimated else "measured"
    return row.athlete, row.day, row.channel, None if row.load is None else float(row.load), status

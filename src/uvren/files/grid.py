"""A table as its cells: every row of a sheet or of a text, as text, before anything is known of what they mean."""

from __future__ import annotations

import codecs
import csv
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path

from uvren.files.errors import BadFile

# What is laid out by dates or by people is wide; what is longer or wider than this is no table that people keep.
MOST_WIDE, MOST_CELLS = 4_000, 4_000_000


@dataclass(frozen=True)
class Grid:
    """Cells of a sheet, trimmed; rows may differ in length. Row ``i`` stands in line ``lines[i]`` of the file."""

    name: str
    rows: list[list[str]]
    lines: list[int]

    @property
    def width(self) -> int:
        return max(map(len, self.rows), default=0)


def bounded(rows: Iterator[Sequence[str]], most: int | None = None) -> list[list[str]]:
    """The rows, trimmed. Raises BadFile as soon as they are wider or more than any table that people keep."""
    out: list[list[str]] = []
    cells = 0
    for row in rows:
        if len(row) > MOST_WIDE:
            raise BadFile(f"The file has {len(row):,} columns; {MOST_WIDE:,} is the most.")
        cells += len(row)
        if cells > MOST_CELLS:
            raise BadFile(f"The table has more than {MOST_CELLS:,} cells. Split it, by season or by sheet.")
        out.append([cell.strip() for cell in row])
        if most is not None and len(out) >= most:
            break
    return out


def text_grid(path: Path, encoding: str, separator: str) -> Grid:
    """Every row of a text. Raises BadFile for what is not in this encoding."""
    try:
        with path.open(encoding=encoding.replace("utf-8-sig", "utf-8"), newline="") as source:
            if source.read(1) != codecs.BOM_UTF8.decode():
                source.seek(0)
            reader = csv.reader(source, delimiter=separator)
            lines: list[int] = []
            rows = bounded(_counted(reader, lines))
    except UnicodeDecodeError as error:
        raise BadFile(f"The text is not {encoding}: the file is damaged or written in another encoding.") from error
    except csv.Error as error:
        raise BadFile(f"The text cannot be cut into columns: {error}.") from error
    return Grid("", rows, lines)


def _counted(reader: Iterator[list[str]], lines: list[int]) -> Iterator[list[str]]:
    for i, row in enumerate(reader, 1):
        lines.append(i)
        yield row

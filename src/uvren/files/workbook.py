"""Workbooks (.xlsx, .ods): the cells of their sheets, without formulas, macros or links."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import date, datetime, time, timedelta
from pathlib import Path
from typing import TYPE_CHECKING

from uvren.files.errors import BadFile
from uvren.files.grid import MOST_CELLS, Grid, bounded
from uvren.files.safety import check_archive

if TYPE_CHECKING:
    from python_calamine import CalamineSheet, CalamineWorkbook

Cell = float | int | str | bool | date | datetime | time | timedelta


def _open(path: Path) -> tuple[CalamineWorkbook, list[str], list[str]]:
    """A workbook, the names of its visible sheets, and of its hidden ones. Raises BadFile."""
    import python_calamine as calamine

    check_archive(path)
    try:
        book = calamine.load_workbook(str(path))
        sheets = [each for each in book.sheets_metadata if each.typ is calamine.SheetTypeEnum.WorkSheet]
    except Exception as error:
        # The reader raises errors of many kinds for a damaged workbook; all of them mean this.
        raise BadFile("The workbook is cut off or damaged, or is locked with a password.") from error
    seen = [each.name for each in sheets if each.visible is calamine.SheetVisibleEnum.Visible]
    return book, seen, [each.name for each in sheets if each.name not in seen]


def names_of(path: Path) -> tuple[list[str], list[str]]:
    """Names of the visible sheets and of the hidden ones."""
    return _open(path)[1:]


def text_of(cell: Cell) -> str:
    """A cell as text that reads back as the same value."""
    if isinstance(cell, bool):
        return "yes" if cell else "no"
    if isinstance(cell, float):
        return str(int(cell)) if cell.is_integer() and abs(cell) < 1e15 else repr(cell)
    if isinstance(cell, datetime):
        # A day alone is the midnight with which it begins.
        return cell.date().isoformat() if cell.time() == time(0) else cell.isoformat(sep=" ")
    if isinstance(cell, timedelta):
        return f"{cell.total_seconds():.10g} s"
    if isinstance(cell, date | time):
        return cell.isoformat()
    return str(cell).strip()


def sheet_grids(path: Path, wanted: Sequence[str] = ()) -> list[Grid]:
    """The cells of the wanted sheets; of the first visible one with rows where none is wanted. Raises BadFile."""
    book, seen, hidden = _open(path)
    for name in wanted:
        if name not in seen and name not in hidden:
            raise BadFile(f"The workbook has no sheet {name!r}.")
    out = []
    for name in wanted or seen:
        try:
            sheet = book.get_sheet_by_name(name)
            if not wanted and not sheet.height:
                continue
            rows = bounded([text_of(cell) for cell in row] for row in _rows(sheet))
        except BadFile:
            raise
        except Exception as error:
            raise BadFile("The workbook is cut off or damaged, or is locked with a password.") from error
        out.append(Grid(name, rows, list(range(1, len(rows) + 1))))
        if not wanted:
            break
    if not out:
        raise BadFile("The workbook holds no sheet with rows.")
    return out


def _rows(sheet: CalamineSheet) -> Iterator[Sequence[Cell]]:
    # A sheet says its size before its cells are unpacked into rows.
    if (sheet.total_height + 1) * (sheet.total_width + 1) > MOST_CELLS:
        raise BadFile(f"The sheet {sheet.name} has more than {MOST_CELLS:,} cells. Split it, by season or by sheet.")
    yield from sheet.to_python(skip_empty_area=False)

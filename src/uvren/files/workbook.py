"""Workbooks (.xlsx): read by columns, without formulas, macros or links."""

from __future__ import annotations

from datetime import date, datetime, time, timedelta
from pathlib import Path
from typing import TYPE_CHECKING

from uvren.files.errors import BadFile
from uvren.files.safety import check_archive

if TYPE_CHECKING:
    from python_calamine import CalamineSheet, CalamineWorkbook

Cell = float | int | str | bool | date | datetime | time | timedelta


def _open(path: Path, sheet: str) -> tuple[CalamineWorkbook, CalamineSheet]:
    import python_calamine as calamine

    check_archive(path)
    try:
        book = calamine.load_workbook(str(path))
        visible = [
            each.name
            for each in book.sheets_metadata
            if each.typ is calamine.SheetTypeEnum.WorkSheet and each.visible is calamine.SheetVisibleEnum.Visible
        ]
        if sheet and sheet not in visible:
            raise BadFile(f"The workbook has no sheet {sheet!r}.")
        for name in [sheet] if sheet else visible:
            found = book.get_sheet_by_name(name)
            if sheet or found.total_height > 0:
                return book, found
    except BadFile:
        raise
    except Exception as error:
        # The reader raises errors of many kinds for a damaged workbook; all of them mean this.
        raise BadFile("The workbook is cut off or damaged, or is locked with a password.") from error
    raise BadFile("The workbook holds no sheet with rows.")


def text_of(cell: Cell) -> str:
    """A cell as text that reads back as the same value."""
    if isinstance(cell, bool):
        return "yes" if cell else "no"
    if isinstance(cell, float):
        return str(int(cell)) if cell.is_integer() and abs(cell) < 1e15 else repr(cell)
    if isinstance(cell, datetime):
        return cell.isoformat(sep=" ")
    if isinstance(cell, timedelta):
        return f"{cell.total_seconds():.10g}"
    if isinstance(cell, date | time):
        return cell.isoformat()
    return str(cell).strip()


def first_cells(path: Path, sheet: str, count: int) -> tuple[list[str], str, list[list[str]]]:
    """Names of the sheets, the sheet that was read, and its first rows as text."""
    book, found = _open(path, sheet)
    rows = found.to_python(skip_empty_area=False, nrows=count)
    return list(book.sheet_names), found.name, [[text_of(cell) for cell in row] for row in rows]


def all_cells(path: Path, sheet: str) -> list[tuple[str, ...]]:
    """The columns of a sheet as text, top to bottom, of equal length."""
    rows = _open(path, sheet)[1].to_python(skip_empty_area=False)
    return [tuple(map(text_of, column)) for column in zip(*rows, strict=True)]

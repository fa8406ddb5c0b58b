"""Workbooks as people keep them: several sheets, hidden ones, and cells of every kind."""

from datetime import UTC, date, datetime, time, timedelta

import openpyxl
import pyarrow as pa
import pytest

from tests.conftest import TODAY
from uvren.files.arrow import Kind, read_columns
from uvren.files.errors import BadFile
from uvren.files.layout import Format, Layout, look_at
from uvren.files.moments import Writing, guess_writing, read_moments
from uvren.files.workbook import sheet_grids, text_of


@pytest.fixture
def book(tmp_path):
    """A workbook of sheets, by name; rows under each."""

    def write(sheets, hidden=()):
        made = openpyxl.Workbook()
        made.remove(made.active)
        for name, rows in sheets.items():
            sheet = made.create_sheet(name)
            for row in rows:
                sheet.append(row)
            if name in hidden:
                sheet.sheet_state = "hidden"
        path = tmp_path / "book.xlsx"
        made.save(path)
        return path

    return write


ROWS = [["Name", "Minutes"], ["A", 60]]


def test_the_first_sheet_with_rows_is_read_and_all_are_named(book):
    path = book({"Cover": [], "March": ROWS, "April": [["Name", "Minutes"], ["B", 45]]})
    (grid,) = sheet_grids(path)
    assert grid.name == "March"
    assert grid.rows == [["Name", "Minutes"], ["A", "60"]]
    assert look_at(path).sheets == ["Cover", "March", "April"]


def test_another_sheet_is_read_when_it_is_asked_for(book):
    path = book({"March": ROWS, "April": [["Name", "Minutes"], ["B", 45]]})
    columns = read_columns(path, Layout(Format.XLSX, sheet="April"), {"Name": Kind.TEXT, "Minutes": Kind.NUMBER})
    assert columns.texts["Name"].to_pylist() == ["B"]
    assert columns.numbers["Minutes"].tolist() == [45]


def test_sheets_that_are_read_together_are_one_table_that_names_its_sheets(book):
    later = [["A title", None], ["Name", "Minutes"], ["B", 45]]
    path = book({"March": ROWS, "April": later})
    look = look_at(path, Layout(Format.XLSX, sheets=("March", "April")))
    assert look.columns == ["Name", "Minutes", "Sheet"]
    assert look.rows == [["A", "60", "March"], ["B", "45", "April"]]
    columns = read_columns(path, look.layout, {"Name": Kind.TEXT})
    assert columns.sheets == ["March", "April"]
    assert columns.row.tolist() == [2, 3]


def test_a_hidden_sheet_is_named_and_read_only_when_it_is_chosen(book):
    path = book({"Old": [["x"], ["y"]], "March": ROWS}, hidden=["Old"])
    look = look_at(path)
    assert (look.layout.sheet, look.sheets, look.hidden) == ("March", ["March"], ["Old"])
    assert look_at(path, Layout(Format.XLSX, sheet="Old")).columns == ["x"]
    with pytest.raises(BadFile, match="no sheet 'May'"):
        sheet_grids(path, ["May"])


def test_a_workbook_without_rows_is_refused(book):
    with pytest.raises(BadFile, match="no sheet with rows"):
        sheet_grids(book({"Empty": []}))


def test_a_sheet_of_more_cells_than_people_keep_is_refused_before_they_are_unpacked(book, monkeypatch):
    monkeypatch.setattr("uvren.files.workbook.MOST_CELLS", 100)
    with pytest.raises(BadFile, match="more than 100 cells"):
        sheet_grids(book({"Long": [["n"], *[[i] for i in range(400)]]}))


def test_no_more_than_the_first_rows_are_shown(book):
    look = look_at(book({"Long": [["n", "m"], *[[i, i] for i in range(400)]]}))
    assert len(look.rows) == 60
    assert len(look.whole.rows) == 400


@pytest.mark.parametrize(
    ("cell", "text"),
    [
        (True, "yes"),
        (False, "no"),
        (60.0, "60"),
        (-3.0, "-3"),
        (0.1, "0.1"),
        (1e300, "1e+300"),
        (7, "7"),
        ("  A. Orrin ", "A. Orrin"),
        ("", ""),
        (date(2026, 3, 11), "2026-03-11"),
        (datetime.combine(date(2026, 3, 11), time(18, 40)), "2026-03-11 18:40:00"),
        (time(18, 40), "18:40:00"),
        (timedelta(minutes=1, milliseconds=500), "60.5 s"),
        (datetime.combine(date(2026, 3, 11), time(0)), "2026-03-11"),
    ],
)
def test_a_cell_is_text_that_reads_back_as_the_same(cell, text):
    assert text_of(cell) == text


@pytest.mark.parametrize("value", [0.1 + 0.2, 1 / 3, 123456.789012345, 2.0**60, -1e-12])
def test_no_digit_of_a_number_is_lost(value):
    assert float(text_of(value)) == value


def test_dates_of_a_workbook_are_read_as_the_days_they_are(book):
    days = [TODAY - timedelta(days=back) for back in (2, 1, 0)]
    look = look_at(book({"S": [["Date"], *[[datetime.combine(day, time(18, 40))] for day in days]]}))
    texts = [row[0] for row in look.rows]
    writing = guess_writing(texts)
    assert writing is Writing.YEAR_FIRST
    seconds = read_moments(pa.array(texts), writing).seconds
    assert [datetime.fromtimestamp(value, UTC).date() for value in seconds.tolist()] == days

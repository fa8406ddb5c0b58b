"""What goes out: a sheet runs nothing of it, no line is broken by a cell, no character breaks a workbook."""

from __future__ import annotations

import csv
import io

import pytest
from openpyxl import load_workbook

from uvren.files.writing import TableFormat, write_table

RUN = ["=1+1", "+1", "-1 kg", "@SUM(A1)", "\t=1", "\r=1", " =1", "\n=1", "\x01=1"]


def cells_of(format: TableFormat, columns, rows):
    written = write_table(format, columns, rows)
    if format is TableFormat.XLSX:
        sheet = load_workbook(io.BytesIO(written)).active
        return [list(row) for row in sheet.iter_rows()]
    separator = "," if format is TableFormat.CSV else "\t"
    return list(csv.reader(io.StringIO(written.decode(), newline=""), delimiter=separator))


@pytest.mark.parametrize("format", [TableFormat.CSV, TableFormat.TSV])
@pytest.mark.parametrize("text", RUN)
def test_text_that_a_sheet_would_run_is_shown_instead(format, text):
    head, row = cells_of(format, ["name", text], [["A. Orrin", text]])
    assert row[1].startswith("'")
    assert head[1].startswith("'")


@pytest.mark.parametrize("text", RUN)
def test_a_workbook_holds_it_as_text(text):
    head, row = cells_of(TableFormat.XLSX, ["name", text], [["A. Orrin", text]])
    assert (head[1].data_type, row[1].data_type) == ("s", "s")


def test_numbers_stay_numbers_below_zero_too():
    assert cells_of(TableFormat.CSV, ["z"], [[-1.25]])[1] == ["-1.25"]
    assert cells_of(TableFormat.XLSX, ["z"], [[-1.25]])[1][0].value == -1.25


@pytest.mark.parametrize("format", [TableFormat.CSV, TableFormat.TSV])
def test_a_return_inside_a_cell_breaks_no_line(format):
    note = "slept badly\rknee\nfine\r\nagain, a\ttab"
    assert cells_of(format, ["name", "note"], [["A. Orrin", note], ["B. Calegar", ""]]) == [
        ["name", "note"],
        ["A. Orrin", note],
        ["B. Calegar", ""],
    ]
    assert b'"slept badly\rknee' in write_table(format, ["note"], [[note]])


def test_characters_that_nobody_can_read_are_left_out_and_break_no_workbook():
    said = "".join(map(chr, range(32))) + "knee\x7f\ufffe"
    assert cells_of(TableFormat.XLSX, ["note"], [[said]])[1][0].value.strip() == "knee"
    assert cells_of(TableFormat.CSV, ["note"], [["a\x00b\x1bc"]])[1] == ["abc"]

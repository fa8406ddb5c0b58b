"""What goes out: a sheet runs nothing of it, no line is broken by a cell, no character breaks a workbook."""

from __future__ import annotations

import csv
import io
import tracemalloc
from datetime import date

import pyarrow.parquet as papq
import pytest
from openpyxl import load_workbook

from uvren.files.writing import TableFormat, table_chunks, write_table

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


@pytest.mark.parametrize("format", list(TableFormat))
def test_a_table_of_any_length_is_given_piece_by_piece(format):
    rows = (("A. Orrin", date(2026, 3, 12), None if i < 15_000 else i / 4, bool(i % 2)) for i in range(30_000))
    # What is loaded for the first of a kind is no part of a table.
    write_table(format, ["load"], [(0.5,)])
    tracemalloc.start()
    size, pieces = 0, 0
    for piece in table_chunks(format, ["athlete", "date", "load", "estimated"], rows):
        size, pieces = size + len(piece), pieces + 1
        if pieces == 1:
            first = piece
    _, most = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    # A list of the rows alone takes more than six million bytes.
    assert most < 4e6, (most, size)
    assert len(first) < 200_000
    assert pieces > 1 or format is TableFormat.PARQUET


def test_a_column_of_a_parquet_that_is_empty_at_first_holds_numbers_later():
    rows = [(i, None if i < 25_000 else 0.5) for i in range(25_001)]
    table = papq.read_table(io.BytesIO(write_table(TableFormat.PARQUET, ["i", "load"], rows)))
    assert table.column("load").null_count == 25_000
    assert table.column("load")[25_000].as_py() == 0.5
    assert papq.read_table(io.BytesIO(write_table(TableFormat.PARQUET, ["i", "load"], []))).num_columns == 2


def test_characters_that_nobody_can_read_are_left_out_and_break_no_workbook():
    said = "".join(map(chr, range(32))) + "knee\x7f\ufffe"
    assert cells_of(TableFormat.XLSX, ["note"], [[said]])[1][0].value.strip() == "knee"
    assert cells_of(TableFormat.CSV, ["note"], [["a\x00b\x1bc"]])[1] == ["abc"]

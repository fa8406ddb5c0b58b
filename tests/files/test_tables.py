"""Tables as people's programs write them, and as they arrive when something went wrong on the way."""

import json
import zipfile

import numpy as np
import openpyxl
import pytest

from uvren.files.arrow import Kind, read_columns
from uvren.files.errors import BadFile
from uvren.files.layout import Format, look_at
from uvren.files.safety import MOST_BYTES
from uvren.files.writing import TableFormat, write_table

NUMBERS = {"t": Kind.NUMBER, "hr": Kind.NUMBER}


@pytest.fixture
def write(tmp_path):
    def put(content, name="file.csv", encoding="utf-8"):
        path = tmp_path / name
        path.write_bytes(content if isinstance(content, bytes) else content.encode(encoding))
        return path

    return put


def read(path, wanted=NUMBERS):
    return read_columns(path, look_at(path).layout, wanted)


def told(columns):
    return [(problem.row, problem.column, problem.said, problem.why) for problem in columns.problems]


@pytest.mark.parametrize("separator", [",", ";", "\t", "|"])
def test_any_usual_separator_is_recognised(write, separator):
    path = write("\n".join(separator.join(row) for row in [("t", "hr"), ("0", "100"), ("1", "101.5")]))
    assert look_at(path).layout.separator == separator
    assert read(path).numbers["hr"].tolist() == [100, 101.5]


def test_decimal_commas_are_recognised(write):
    path = write("t;hr\n0,0;100,5\n0,1;101,25\n")
    assert look_at(path).layout.decimal == ","
    assert read(path).numbers["hr"].tolist() == [100.5, 101.25]


def test_mixed_decimal_signs_are_told_cell_by_cell_and_never_guessed(write):
    columns = read(write("t;hr\n0,0;100,5\n0,1;101.25\n0,2;102,5\n"))
    assert columns.numbers["hr"].tolist()[::2] == [100.5, 102.5]
    assert np.isnan(columns.numbers["hr"][1])
    assert told(columns) == [(3, "hr", "101.25", "It has a point where the numbers of this file have a comma.")]


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "utf-16-le", "utf-16-be", "cp1252"])
def test_any_usual_encoding_is_recognised(write, encoding):
    path = write("namn;värde\nÅsk;1,5\nBør;2,5\n" * 1, encoding=encoding)
    columns = read(path, {"namn": Kind.TEXT, "värde": Kind.NUMBER})
    assert columns.texts["namn"].to_pylist() == ["Åsk", "Bør"]
    assert columns.numbers["värde"].tolist() == [1.5, 2.5]


def test_half_a_file_keeps_its_whole_rows_and_names_the_broken_one(write):
    columns = read(write("t,hr,speed\n0,100,1\n1,101,2\n2,10"))
    assert columns.numbers["hr"].tolist() == [100, 101]
    assert told(columns) == [(4, "", "2,10", "It has 2 of 3 columns.")]


def test_rows_of_another_width_are_told_with_their_numbers(write):
    columns = read(write("t,hr\n0,100\n1,101,7,8\n\n2,102\n3\n4,104\n"))
    assert columns.numbers["t"].tolist() == [0, 2, 4]
    assert columns.row.tolist() == [2, 5, 7]
    assert [(row, why) for row, _, _, why in told(columns)] == [
        (3, "It has 4 of 2 columns."),
        (6, "It has 1 of 2 columns."),
    ]


def test_words_infinity_and_nan_among_numbers(write):
    columns = read(write("t,hr\n0,100\n1,inf\n2,NaN\n3,\n4,dropped\n5,105\n"))
    assert [(row, said, why) for row, _, said, why in told(columns)] == [
        (3, "inf", "It is not a finite number."),
        (6, "dropped", "It is not a number."),
    ]
    assert columns.bad.tolist() == [False, True, False, False, True, False]
    assert np.isnan(columns.numbers["hr"]).tolist() == [False, True, True, True, True, False]


def test_a_missing_column_is_named_with_those_there_are(write):
    with pytest.raises(BadFile, match=r"no column “hr”.+ are: t, pulse"):
        read(write("t,pulse\n0,100\n"))


def test_lines_above_the_head_are_passed_over(write):
    look = look_at(write("Session of 11 March\n\nt,hr\n0,100\n1,101\n2,102\n"))
    assert (look.columns, look.rows[0]) == (["t", "hr"], ["0", "100"])


@pytest.mark.parametrize("content", [b"", b"\n\n\n"])
def test_an_empty_file_is_refused_in_a_sentence(write, content):
    with pytest.raises(BadFile):
        read(write(content))


def test_bytes_that_are_no_table_are_refused(write):
    with pytest.raises(BadFile, match="neither text"):
        look_at(write(bytes(range(256)) * 20))


def sheet(path, *rows, merge=()):
    book = openpyxl.Workbook()
    for row in rows:
        book.active.append(row)
    for area in merge:
        book.active.merge_cells(area)
    book.save(path)
    return path


def test_a_sheet_with_merged_heads_has_its_names_joined(tmp_path):
    path = sheet(
        tmp_path / "s.xlsx",
        ["Tarnholm, week 11"],
        ["Name", "Heart rate", None, "Distance", None],
        [None, "mean", "max", "total", "above 5 m/s"],
        ["Calgar", 141, 188, 5120.5, 410],
        ["Dellrin", 150, 191, 4800, 300],
        merge=["A1:E1", "B2:C2", "D2:E2", "A2:A3"],
    )
    look = look_at(path)
    assert look.columns == ["Name", "Heart rate mean", "Heart rate max", "Distance total", "Distance above 5 m/s"]
    columns = read(path, {"Name": Kind.TEXT, "Heart rate max": Kind.NUMBER})
    assert columns.texts["Name"].to_pylist() == ["Calgar", "Dellrin"]
    assert columns.numbers["Heart rate max"].tolist() == [188, 191]
    assert columns.row.tolist() == [4, 5]


def test_a_workbook_and_the_text_of_it_read_alike(tmp_path, write):
    rows = [["t", "hr"], [0, 100], [0.5, None], [1, 101.25]]
    from_book = read(sheet(tmp_path / "s.xlsx", *rows))
    from_text = read(write("t,hr\n0,100\n0.5,\n1,101.25\n"))
    np.testing.assert_array_equal(from_book.numbers["hr"], from_text.numbers["hr"])
    np.testing.assert_array_equal(from_book.row, from_text.row)


def test_half_a_workbook_is_refused(tmp_path):
    path = sheet(tmp_path / "s.xlsx", ["t", "hr"], [0, 100])
    path.write_bytes(path.read_bytes()[:2000])
    with pytest.raises(BadFile, match="cut off"):
        look_at(path)


def test_an_archive_that_unpacks_without_end_is_not_opened(tmp_path):
    path = tmp_path / "bomb.xlsx"
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("xl/worksheets/sheet1.xml", b"0" * (40 * 1024 * 1024))
    with pytest.raises(BadFile, match="far more than a table"):
        look_at(path)


def test_an_archive_of_files_is_no_workbook(tmp_path):
    path = tmp_path / "files.zip"
    with zipfile.ZipFile(path, "w") as archive:
        archive.writestr("a.csv", "t,hr\n")
    with pytest.raises(BadFile, match="Unpack it"):
        look_at(path)


def test_a_file_that_is_too_large_is_refused_by_its_size(tmp_path):
    path = tmp_path / "large.csv"
    with path.open("wb") as out:
        out.truncate(MOST_BYTES + 1)
    with pytest.raises(BadFile, match="is the most"):
        look_at(path)


def test_json_lines(write):
    lines = [{"t": 0, "hr": 100, "who": "A"}, {"t": 1, "hr": None, "who": "B"}, {"t": 2.5, "hr": 104.5, "who": "A"}]
    path = write("".join(json.dumps(line) + "\n" for line in lines), "file.jsonl")
    assert look_at(path).layout.format is Format.JSON_LINES
    columns = read(path, {**NUMBERS, "who": Kind.TEXT})
    assert columns.numbers["t"].tolist() == [0, 1, 2.5]
    assert columns.texts["who"].to_pylist() == ["A", "B", "A"]


def test_json_that_is_no_lines_is_refused(write):
    with pytest.raises(BadFile, match="JSON"):
        look_at(write('{"t": 0,\n "hr": 1}\n', "file.jsonl"))


@pytest.mark.parametrize("format", list(TableFormat))
def test_what_is_written_reads_back(tmp_path, format):
    path = tmp_path / f"out.{format}"
    path.write_bytes(write_table(format, ["who", "t", "hr"], [("Ask", 0.1, 100.0), ("Bor", 0.2, None)]))
    columns = read(path, {**NUMBERS, "who": Kind.TEXT})
    assert columns.texts["who"].to_pylist() == ["Ask", "Bor"]
    assert columns.numbers["t"].tolist() == [0.1, 0.2]
    assert np.isnan(columns.numbers["hr"]).tolist() == [False, True]


@pytest.mark.parametrize("format", [TableFormat.CSV, TableFormat.TSV])
def test_a_formula_in_a_name_is_neutralised_in_text(format):
    assert b"\n'=1+1" in write_table(format, ["who"], [("=1+1",)])


def test_a_formula_in_a_name_is_text_in_a_workbook(tmp_path):
    path = tmp_path / "out.xlsx"
    path.write_bytes(write_table(TableFormat.XLSX, ["who"], [('=HYPERLINK("x")',)]))
    cell = openpyxl.load_workbook(path).active["A2"]
    assert (cell.data_type, cell.value) == ("s", '=HYPERLINK("x")')


def test_parquet_cut_in_half_is_refused(tmp_path):
    path = tmp_path / "out.parquet"
    path.write_bytes(write_table(TableFormat.PARQUET, ["t", "hr"], [(0.0, 100.0)] * 100)[:300])
    with pytest.raises(BadFile, match="cut off"):
        read(path)

"""Files that are made to do harm: each is refused with a reason, and the process that asked goes on."""

from __future__ import annotations

import os
import time
import zipfile
from concurrent.futures import ThreadPoolExecutor

import pyarrow as pa
import pyarrow.parquet as papq
import pytest

from uvren.files.apart import AT_ONCE, apart
from uvren.files.arrow import Kind, read_columns
from uvren.files.errors import BadFile
from uvren.files.layout import Look, look_at

SECONDS = 60.0


def look(path) -> Look:
    return apart(SECONDS, look_at, path)


def read(path):
    seen = look(path)
    wanted = {seen.columns[0]: Kind.TEXT, seen.columns[-1]: Kind.NUMBER}
    return apart(SECONDS, read_columns, path, seen.layout, wanted)


def spin(path):
    while True:
        time.sleep(1)


def nap(path):
    begun = time.monotonic()
    time.sleep(0.2)
    return begun, time.monotonic()


def end(path):
    os.abort()


def of_whom(path):
    return os.getpid(), path


def workbook(path, cells: str):
    """A workbook of one sheet, of which only the cells are of interest."""
    main = "http://schemas.openxmlformats.org/spreadsheetml/2006/main"
    office = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
    package = "http://schemas.openxmlformats.org/package/2006"
    kind = "application/vnd.openxmlformats-officedocument.spreadsheetml"
    parts = {
        "[Content_Types].xml": f'<Types xmlns="{package}/content-types">'
        '<Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>'
        f'<Override PartName="/xl/workbook.xml" ContentType="{kind}.sheet.main+xml"/>'
        f'<Override PartName="/xl/worksheets/sheet1.xml" ContentType="{kind}.worksheet+xml"/></Types>',
        "_rels/.rels": f'<Relationships xmlns="{package}/relationships">'
        f'<Relationship Id="r" Type="{office}/officeDocument" Target="xl/workbook.xml"/></Relationships>',
        "xl/workbook.xml": f'<workbook xmlns="{main}" xmlns:r="{office}">'
        '<sheets><sheet name="S" sheetId="1" r:id="r"/></sheets></workbook>',
        "xl/_rels/workbook.xml.rels": f'<Relationships xmlns="{package}/relationships">'
        f'<Relationship Id="r" Type="{office}/worksheet" Target="worksheets/sheet1.xml"/></Relationships>',
        "xl/worksheets/sheet1.xml": f'<worksheet xmlns="{main}"><sheetData>{cells}</sheetData></worksheet>',
    }
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as book:
        for name, text in parts.items():
            book.writestr(name, f'<?xml version="1.0"?>{text}')
    return path


def test_what_is_worked_out_apart_comes_back_and_the_work_is_not_done_here(tmp_path):
    process, said = apart(SECONDS, of_whom, tmp_path)
    assert process != os.getpid()
    assert said == tmp_path


def test_no_more_than_two_are_read_at_once_and_the_others_wait(tmp_path):
    with ThreadPoolExecutor(6) as pool:
        spans = list(pool.map(lambda _: apart(SECONDS, nap, tmp_path), range(6)))
    most = max(sum(begun <= at < ended for begun, ended in spans) for at, _ in spans)
    assert most == AT_ONCE


def test_a_file_that_takes_too_long_is_given_up(tmp_path):
    with pytest.raises(BadFile, match="more than 1 seconds"):
        apart(1.0, spin, tmp_path)


def test_a_file_that_ends_its_reader_ends_nothing_else(tmp_path):
    with pytest.raises(BadFile, match="ended the program"):
        apart(SECONDS, end, tmp_path)


def test_what_the_reader_says_of_a_bad_file_is_said_here(tmp_path):
    empty = tmp_path / "empty.csv"
    empty.touch()
    with pytest.raises(BadFile, match="The file is empty"):
        look(empty)


def test_a_sheet_with_one_cell_at_its_far_end_is_refused(tmp_path):
    heads = '<row r="1"><c r="A1" t="str"><v>t</v></c><c r="B1" t="str"><v>hr</v></c></row>'
    far = '<row r="1048576"><c r="XFD1048576" t="n"><v>1</v></c></row>'
    one = '<row r="2"><c r="A2" t="n"><v>1</v></c></row>'
    assert look(workbook(tmp_path / "near.xlsx", heads + one)).columns == ["t", "hr"]
    with pytest.raises(BadFile):
        look(workbook(tmp_path / "far.xlsx", heads + far))


def test_a_parquet_file_that_unpacks_to_gigabytes_is_refused(tmp_path):
    path = tmp_path / "bomb.parquet"
    one = pa.array(["x" * 3000])
    many = pa.DictionaryArray.from_arrays(pa.array([0] * 3_000_000, pa.int32()), one)
    papq.write_table(pa.table({"t": many, "hr": pa.nulls(3_000_000, pa.float64())}), path, compression="zstd")
    assert path.stat().st_size < 2_000_000
    with pytest.raises(BadFile, match=r"memory|ended the program"):
        read(path)


@pytest.mark.parametrize(
    "lines",
    [
        b'{"t":' + b"[" * 200_000 + b"]" * 200_000 + b"}\n",
        b'{"t":1,"hr":2}\n' * 100 + b'{"a":' * 100_000 + b"1" + b"}" * 100_000 + b"\n",
        b'{"t":1,"hr":2}\n' * 100 + b'{"t":1,"hr":' + b"[" * 1_000_000 + b"]" * 1_000_000 + b"}\n",
    ],
    ids=["at the beginning", "objects, deep in the file", "brackets, deep in the file"],
)
def test_brackets_in_brackets_are_refused(tmp_path, lines):
    path = tmp_path / "nested.jsonl"
    path.write_bytes(lines)
    with pytest.raises(BadFile):
        read(path)


@pytest.mark.parametrize("content", [b"t,hr\n" + b"1" * 20_000_000 + b",2\n", b't,hr\n0,"' + b"x" * 9_000_000 + b'"\n'])
def test_a_line_of_megabytes_is_refused(tmp_path, content):
    path = tmp_path / "long.csv"
    path.write_bytes(content)
    with pytest.raises(BadFile, match="cannot be cut into columns"):
        look(path)


@pytest.mark.parametrize("ending", ["csv", "jsonl", "parquet"])
def test_nine_thousand_columns_are_refused_in_every_format(tmp_path, ending):
    path, names = tmp_path / f"wide.{ending}", [f"c{i}" for i in range(9000)]
    if ending == "csv":
        path.write_text(",".join(names) + "\n" + ",".join("1" for _ in names) + "\n")
    elif ending == "jsonl":
        path.write_text("{" + ",".join(f'"{name}":1' for name in names) + "}\n")
    else:
        papq.write_table(pa.table({name: [1.0] for name in names}), path)
    with pytest.raises(BadFile, match=r"9,000 columns; [4,0]+ is the most"):
        look(path)


def test_of_a_long_cell_the_beginning_is_shown_and_a_long_name_is_refused(tmp_path):
    path = tmp_path / "cells.csv"
    path.write_text(f"t,hr\n0,{'x' * 5000}\n")
    assert look(path).rows == [["0", "x" * 200]]
    path.write_text(f"t,{'hr' * 101}\n0,1\n")
    with pytest.raises(BadFile, match="more than 200 letters"):
        look(path)


def test_a_plain_file_of_millions_of_rows_is_read(tmp_path):
    path = tmp_path / "some.csv"
    path.write_text("t,hr\n" + "0,1\n" * 3_000_000)
    assert read(path).row.size == 3_000_000

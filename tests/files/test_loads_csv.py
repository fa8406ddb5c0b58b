import io
from datetime import date

import pytest

from uvren.core.series import LoadRow, tabulate
from uvren.files.loads_csv import BadFile, read_loads, write_loads


def read(text):
    return read_loads(io.StringIO(text))


HEAD = "athlete,date,channel,load\n"


def test_what_is_written_is_read_back_to_the_last_digit():
    rows = [
        LoadRow("A. Orrin", date(2026, 3, 1), "session_rpe", 412.3000000001),
        LoadRow("A. Orrin", date(2026, 3, 2), "session_rpe", None),
        LoadRow("B. Calegar", date(2026, 3, 2), "session_rpe", 200.0, estimated=True),
    ]
    assert read("".join(write_loads(rows))) == rows


def test_a_name_that_would_run_as_a_formula_is_written_as_text():
    rows = [LoadRow("=HYPERLINK(1)", date(2026, 3, 1), "session_rpe", 1.0)]
    assert "\n'=HYPERLINK(1)," in "".join(write_loads(rows))


@pytest.mark.parametrize(
    ("line", "message"),
    [
        ("a1,2026-02-30,session_rpe,100", "line 2: '2026-02-30' is no date"),
        ("a1,2026-02-01,session_rpe,lots", "line 2: 'lots' is no number"),
        ("a1,2026-02-01,session_rpe,-5", "line 2: a load is 0 or more"),
        ("a1,2026-02-01,session_rpe,inf", "line 2: a load is 0 or more"),
        (",2026-02-01,session_rpe,5", "line 2: athlete and channel"),
    ],
)
def test_a_line_that_makes_no_sense_is_named(line, message):
    with pytest.raises(BadFile, match=message):
        read(HEAD + line)


def test_a_missing_column_is_named():
    with pytest.raises(BadFile, match="'channel' is missing"):
        read("athlete,date,load\n")


def test_lines_of_a_day_add_up_and_one_unknown_makes_the_day_unknown():
    table = tabulate(
        read(HEAD + "a1,2026-02-01,rpe,100\na1,2026-02-01,rpe,50\na1,2026-02-03,rpe,10\na1,2026-02-03,rpe,\n")
    )
    assert table.loads.load[0, :2].tolist() == [150, 0]
    assert table.loads.missing.tolist() == [[False, False, True]]

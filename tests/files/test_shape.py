"""How tables lie: wide, with merged heads, titles and totals between; and the same table lying straight."""

import pytest

from uvren.files.grid import Grid
from uvren.files.shape import Across, Shape, find_shape
from uvren.files.straighten import distinct, head_of, straighten


def rows_of(text):
    return [[cell.strip() for cell in line.split(",")] for line in text.strip().splitlines()]


def straight(text, people=(), around=""):
    rows = rows_of(text)
    shape = find_shape(rows, people, around)
    return shape, straighten(Grid(around, rows, list(range(1, len(rows) + 1))), shape, around)


PAIRS = """
Week 36
Name,05.09.2026,,06.09.2026,,Total
,Min,RPE,Min,RPE,
A. Berg,75,6,60,4,690
B. Lund,70,7,,,490
Backs,,,,,
Total,145,,60,,
"""


def test_pairs_below_each_day_become_a_row_for_each_athlete_and_day():
    shape, table = straight(PAIRS)
    assert shape == Shape(1, 2, Across.DAYS, 1)
    assert table.columns == ["Name", "Date", "Min", "RPE"]
    assert table.rows == [
        ["A. Berg", "05.09.2026", "75", "6"],
        ["A. Berg", "06.09.2026", "60", "4"],
        ["B. Lund", "05.09.2026", "70", "7"],
    ]
    assert table.lines == [4, 4, 5]
    assert table.notes == ["Columns left out, being no day: Total.", "Rows left out as totals: Total."]


@pytest.mark.parametrize(
    ("text", "columns", "first"),
    [
        ("Name,2026-09-05 min,2026-09-05 RPE\nA,75,6", ["Name", "Date", "min", "RPE"], ["A", "2026-09-05", "75", "6"]),
        ("Name,No,05.09.,06.09.,07.09.\nA,4,450,300,0", ["Name", "No", "Date", "Value"], ["A", "4", "05.09.", "450"]),
        ("Name,46270,46271,46272\nA,450,300,0", ["Name", "Date", "Value"], ["A", "46270", "450"]),
        ("Name,05.09.2026,,06.09.2026,\n,AM,PM,AM,PM\nA,3,4,5,6", ["Name", "Date", "Session", "Value"],
         ["A", "05.09.2026", "AM", "3"]),
        # One day alone, with its parts below it: a sheet for a single session.
        ("Name,05.09.2026,\n,Min,RPE\nA,75,6\nB,60,5", ["Name", "Date", "Min", "RPE"], ["A", "05.09.2026", "75", "6"]),
        ("Date,05.09.2026,\nName,Min,RPE\nA,75,6", ["Name", "Date", "Min", "RPE"], ["A", "05.09.2026", "75", "6"]),
        # Minutes and effort as rows, of one athlete.
        ("What,05.09.2026,06.09.2026\nMinutes,75,60\nRPE,6,5", ["Date", "Minutes", "RPE"], ["05.09.2026", "75", "6"]),
    ],
)  # fmt: skip
def test_days_side_by_side_are_found_however_they_are_headed(text, columns, first):
    shape, table = straight(text)
    assert shape.across is Across.DAYS
    assert (table.columns, table.rows[0]) == (columns, first)


def test_the_same_day_twice_in_a_head_gives_two_rows_of_it():
    _, table = straight("Name,05.09.2026,05.09.2026,06.09.2026\nA,3,4,5")
    assert [row[1:] for row in table.rows] == [["05.09.2026", "3"], ["05.09.2026", "4"], ["06.09.2026", "5"]]


def test_bare_numbers_are_days_of_the_month_that_the_sheet_is_called_by():
    text = "Name,1,2,3,4,5,6\nA,300,,200,,,0"
    shape, table = straight(text, around="Sept 2026")
    assert shape.across is Across.DAYS
    assert [row[1] for row in table.rows] == ["2026-09-01", "2026-09-03", "2026-09-06"]
    assert straight(text)[0].across is Across.NOTHING


def test_heads_with_other_days_may_stand_below_one_another():
    _, table = straight("Name,01.09.2026,02.09.2026\nA,3,4\nB,5,6\nName,08.09.2026,09.09.2026\nA,7,8\nB,,9")
    assert [row[1:] for row in table.rows if row[0] == "A"] == [
        ["01.09.2026", "3"], ["02.09.2026", "4"], ["08.09.2026", "7"], ["09.09.2026", "8"],
    ]  # fmt: skip


def test_people_side_by_side_are_known_by_their_names_or_by_looking_like_names():
    _, known = straight("Date,Bo,Cy\n05.09.2026,4,3\n06.09.2026,2,1", people={"bo", "cy"})
    assert known.rows[:2] == [["05.09.2026", "Bo", "4"], ["05.09.2026", "Cy", "3"]]
    shape, pairs = straight(
        "Date,A. Berg,,B. Lund,,C. Moe,\n,Min,RPE,Min,RPE,Min,RPE\n05.09.2026,75,6,70,5,60,4\n06.09.2026,,,75,6,50,3"
    )
    assert shape == Shape(0, 2, Across.PEOPLE, 1)
    assert pairs.columns == ["Date", "Athlete", "Min", "RPE"]
    assert pairs.rows[-1] == ["06.09.2026", "C. Moe", "50", "3"]


@pytest.mark.parametrize(
    "text",
    [
        # Days in columns of their own are no head.
        "Name,From,Until,Born\nA,2026-01-01,2026-02-01,2000-01-01\nB,2026-01-02,2026-02-02,2001-01-01",
        "Date,Session RPE,Total Distance,Heart Rate\n05.09.2026,4,3,2\n06.09.2026,2,1,1",
        "Date,Name,Minutes\n05.09.2026,A,75\n06.09.2026,B,60",
    ],
)
def test_a_long_table_stays_as_it_is(text):
    shape, table = straight(text)
    assert shape.across is Across.NOTHING
    assert table.columns == rows_of(text)[0]


def test_titles_the_head_once_more_and_empty_lines_are_no_rows():
    _, table = straight("Name,Date,Min\nBacks,,\nA,2026-09-05,75\n,,\nname,date,min\nB,2026-09-05,60")
    assert [row[0] for row in table.rows] == ["A", "B"]
    assert table.lines == [3, 6]
    assert table.notes == ["Left out as titles between the rows: Backs.", "The head comes again once; it is no row."]


def test_a_title_with_a_day_is_the_day_of_the_rows_below_it():
    _, table = straight("Tue 3 Nov 2026 - Court,,\nName,Min,RPE\nA,75,6\n,,\nThu 5 Nov 2026,,\nName,Min,RPE\nA,60,4")
    assert table.columns == ["Name", "Min", "RPE", "Date", "Session"]
    assert table.rows == [["A", "75", "6", "Tue 3 Nov 2026", "Court"], ["A", "60", "4", "Thu 5 Nov 2026", ""]]


def test_rows_of_another_width_are_told_and_not_shifted():
    _, table = straight("Name,Date,Min\nA,2026-09-05,75\nB,60\nC,2026-09-05,60,7")
    assert [row[0] for row in table.rows] == ["A"]
    assert [(line, count) for line, count, _ in table.short] == [(3, 2), (4, 4)]


def test_names_met_again_get_a_number_in_the_time_that_it_takes_to_read_them():
    assert distinct(["a", "a", "b", "a (2)", "a"]) == ["a", "a (2)", "b", "a (2) (2)", "a (3)"]
    assert len(set(distinct(["c"] * 4000))) == 4000
    assert head_of([["", "Load", ""], ["Name", "Min", "RPE"]]) == ["Name", "Load Min", "Load RPE"]

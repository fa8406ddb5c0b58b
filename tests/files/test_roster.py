"""People as clubs paste them."""

from datetime import date

import pytest

from uvren.files.errors import BadFile
from uvren.files.roster import MOST_PEOPLE, read_people


def told(text):
    return [(one.name, one.number, one.position, one.from_day, one.side, one.unread) for one in read_people(text)]


def test_heads_say_what_is_where_in_any_order():
    text = "No.\tPosition\tName\tSince\tHand\n7\twing\tA. Tarn\t2026-07-01\tL\n12\tback\tB. Ostrel\t3.8.2026\tright\n"
    assert told(text) == [
        ("A. Tarn", 7, "wing", date(2026, 7, 1), "left", ""),
        ("B. Ostrel", 12, "back", date(2026, 8, 3), "right", ""),
    ]


def test_without_heads_what_is_in_the_cells_says_it():
    assert told("7\tA. Tarn\twing\t2026-07-01\nB. Ostrel\tback\t\tl") == [
        ("A. Tarn", 7, "wing", date(2026, 7, 1), None, ""),
        ("B. Ostrel", None, "back", None, "left", ""),
    ]


@pytest.mark.parametrize("mark", ["\t", ";", "|", ","])
def test_any_usual_mark_parts_the_cells(mark):
    text = mark.join(("Name", "Number", "Position")) + "\r\n" + mark.join(("A. Tarn", "7", "wing")) + "\r\n\r\n"
    assert told(text) == [("A. Tarn", 7, "wing", None, None, "")]


def test_names_alone_and_last_names_first():
    assert [one.name for one in read_people("A. Tarn\nB.  Ostrel\n")] == ["A. Tarn", "B. Ostrel"]
    assert [one.name for one in read_people("Tarn, Ada\nOstrel, Bo\n")] == ["Ada Tarn", "Bo Ostrel"]
    assert told("First name;Surname;Pos\nAda;Tarn;wing\n") == [("Ada Tarn", None, "wing", None, None, "")]


def test_quoted_cells_hold_what_parts_others():
    assert told('Name,Number,Position\n"Tarn, Ada",7,"wing, left"\n') == [("Ada Tarn", 7, "wing, left", None, None, "")]


def test_what_is_not_understood_is_said_and_not_guessed():
    text = "Name;No;Position;From;Side;Shoe\nA. Tarn;seven;wing;07/08/2026;both;44\nB. Ostrel;;;2026-13-01;;;;x"
    assert told(text) == [
        ("A. Tarn", None, "wing", None, None, "44, seven, 07/08/2026, both"),
        ("B. Ostrel", None, "", None, None, "x, 2026-13-01"),
    ]


def test_lines_keep_their_number_and_empty_ones_are_nobody():
    assert [(one.line, one.name) for one in read_people("\n\nA. Tarn\n  \nB. Ostrel")] == [
        (3, "A. Tarn"),
        (5, "B. Ostrel"),
    ]
    assert read_people("  \n\n") == []


def test_a_whole_other_table_is_refused():
    with pytest.raises(BadFile, match="At most 500"):
        read_people("A. Tarn\n" * (MOST_PEOPLE + 1))
    with pytest.raises(BadFile):
        read_people("x" * 2000)


def test_a_year_of_birth_is_known_by_its_head_or_by_being_one():
    born = [one.birth_year for one in read_people("Name;Born\nA. Tarn;14.02.2001\nB. Ostrel;1999\nC. Moe;soon\n")]
    assert born == [2001, 1999, None]
    assert read_people("Name;Born\nC. Moe;soon\n")[0].unread == "soon"
    (one,) = read_people("7\tA. Tarn\t1998\twing")
    assert (one.number, one.birth_year, one.position) == (7, 1998, "wing")

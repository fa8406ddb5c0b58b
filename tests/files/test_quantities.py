"""Numbers as people type them: with units, as hours and minutes, with signs between thousands."""

import pytest

from uvren.files.quantities import Measure, is_absent, quantities, sign_of_thousands


@pytest.mark.parametrize(
    ("text", "minutes"),
    [
        ("75 min", 75), ("75min", 75), ("75'", 75), ("75.5 mins", 75.5), ("1:15", 75), ("01:15:30", 75.5), ("1 h", 60),
        ("1.5 h", 90), ("1h15", 75), ("1 hr 05 min", 65), ("90 s", 1.5), ("4500 s", 75), ("75", 75),
        ("seventy", None), ("1:75", None), ("about 60", None), ("-", None), ("", None),
    ],
)  # fmt: skip
def test_minutes_are_read_from_what_people_write(text, minutes):
    assert quantities([text], Measure.MINUTES) == [minutes]


def test_two_parts_are_minutes_and_seconds_where_one_of_them_could_be_no_hours():
    assert quantities(["1:15", "2:00"], Measure.MINUTES) == [75, 120]
    assert quantities(["45:30", "8:30"], Measure.MINUTES) == [45.5, 8.5]


def test_a_cell_with_a_unit_of_its_own_is_turned_into_that_of_its_column():
    assert quantities(["75 min", "2"], Measure.MINUTES, minutes_in=60) == [1.25, 2]


@pytest.mark.parametrize(
    ("text", "value"),
    [("7/10", 7), ("7.5 of 10", 7.5), ("8 out of 10", 8), ("7", 7), ("7/20", None), ("hard", None)],
)
def test_ratings_may_say_what_they_are_out_of(text, value):
    assert quantities([text], Measure.RATING) == [value]


def test_numbers_may_carry_a_unit_and_blanks_between_thousands():
    said = ["412 AU", "61,5 kg", "1 250", "1'250", "1\u202f250", "12 34", "4.1"]
    assert quantities(said, Measure.NUMBER, ",") == [412, 61.5, 1250, 1250, 1250, None, None]
    assert quantities(["1.250", "980"], Measure.NUMBER, ",", ".") == [1250, 980]


@pytest.mark.parametrize(
    ("cells", "decimal", "found"),
    [
        (["1.250", "400"], ".", (True, ".", "1.250")),
        (["1,250", "400"], ".", (True, ",", "1,250")),
        # What stands beside it settles it.
        (["1.250", "12.5"], ".", (False, "", "1.250")),
        (["1.250", "0.998"], ".", (False, "", "1.250")),
        (["1.250", "12,5"], ",", (False, ".", "1.250")),
        (["1.250", "1.250.000"], ",", (False, ".", "1.250")),
        (["1250", "12.5", ""], ".", (False, "", "")),
    ],
)
def test_whether_a_sign_parts_thousands_is_open_until_something_settles_it(cells, decimal, found):
    assert sign_of_thousands(cells, decimal) == found


def test_what_says_that_there_was_nothing_is_no_number_and_no_mistake():
    assert [is_absent(text) for text in ("off", " Injured ", "DNP", "x", "0", "")] == [
        True,
        True,
        True,
        False,
        False,
        False,
    ]

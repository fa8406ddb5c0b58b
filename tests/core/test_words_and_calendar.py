from datetime import date

import pytest

from uvren.core import words
from uvren.core.calendar import match_offset

MATCHES = {date(2026, 3, 7), date(2026, 3, 10), date(2026, 3, 21)}


@pytest.mark.parametrize(
    ("day", "offset"),
    [(7, 0), (8, 1), (9, -1), (10, 0), (11, 1), (12, 2), (13, None), (14, -7), (20, -1), (23, 2), (24, None)],
)
def test_a_day_is_counted_from_the_nearer_match(day, offset):
    assert match_offset(date(2026, 3, day), MATCHES) == offset


def test_room_in_minutes_is_never_overstated():
    assert words.minutes_phrase(410, 7) == "about 55 min at 7"
    assert words.minutes_phrase(12, 4.5) == "under 5 min at 4.5"
    assert words.minutes_phrase(0, 5) == "no load today"
    assert words.minutes_phrase(1010, 7) == "over 2 h at 7"


@pytest.mark.parametrize(
    ("value", "text"), [(4065.2, "4\u2009065"), (-60, "−60"), (-0.2, "0"), (1234567, "1\u2009234\u2009567")]
)
def test_numbers_have_thin_spaces_and_a_true_minus(value, text):
    assert words.number(value) == text


@pytest.mark.parametrize(("share", "text"), [(0.34, "34"), (0.153, "15"), (0.034, "3.4"), (0.05, "5")])
def test_shares_are_said_in_per_cent(share, text):
    assert words.percent(share) == f"{text}\u00a0%"

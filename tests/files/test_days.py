"""Days as people write them, and what a column of them leaves open."""

from datetime import date, datetime, timedelta

import pytest

from uvren.files.days import Order, how_written, is_day, parse, read_days

TODAY = date(2026, 11, 28)


def orders(text):
    cell = parse(text)
    return {} if cell is None else {one.order: one.on(2026) for one in cell.readings}


@pytest.mark.parametrize(
    ("text", "readings"),
    [
        ("2026-03-12", {Order.YEAR_FIRST: date(2026, 3, 12)}),
        ("12.03.2026", {Order.DAY_FIRST: date(2026, 3, 12)}),
        ("12/03/2026", {Order.DAY_FIRST: date(2026, 3, 12), Order.MONTH_FIRST: date(2026, 12, 3)}),
        # No year has a 13th month.
        ("13/03/2026", {Order.DAY_FIRST: date(2026, 3, 13)}),
        ("3/25/26", {Order.MONTH_FIRST: date(2026, 3, 25)}),
        # Between points the day comes first, unless it cannot.
        ("3.25.26", {Order.MONTH_FIRST: date(2026, 3, 25)}),
        ("26-09-05", {Order.DAY_FIRST: date(2005, 9, 26), Order.SHORT_YEAR_FIRST: date(2026, 9, 5)}),
        ("20261103", {Order.COMPACT: date(2026, 11, 3)}),
        ("46329", {Order.SERIAL: date(2026, 11, 3)}),
        ("46329.0", {Order.SERIAL: date(2026, 11, 3)}),
        ("5 Sept 2026", {Order.NAMED: date(2026, 9, 5)}),
        ("5-Sep-26", {Order.NAMED: date(2026, 9, 5)}),
        ("September 5th, 2026", {Order.NAMED: date(2026, 9, 5)}),
        ("Sat 5 September", {Order.NAMED: date(2026, 9, 5)}),
        ("05.09.", {Order.DAY_FIRST: date(2026, 9, 5)}),
        ("05/09", {Order.DAY_FIRST: date(2026, 9, 5), Order.MONTH_FIRST: date(2026, 5, 9)}),
        ("Mon 07.09.", {Order.DAY_FIRST: date(2026, 9, 7)}),
        ("31.02.2026", {}),
        ("2026-13-01", {}),
        ("32 May 2026", {}),
        ("7.5", {}),
        ("412", {}),
        ("75 min", {}),
        ("AM", {}),
        ("12:30", {}),
        ("2026-03-12 25:00", {}),
        ("", {}),
    ],
)
def test_a_cell_is_read_in_every_way_that_gives_a_day_and_in_no_other(text, readings):
    assert orders(text) == readings


def test_29_february_is_a_day_where_the_year_has_one():
    assert parse("29.02.2024") is not None
    assert parse("29.02.2025") is None
    (reading,) = parse("29 Feb").readings
    assert (reading.on(2024), reading.on(2025)) == (date(2024, 2, 29), None)


@pytest.mark.parametrize(
    ("text", "seconds"),
    [
        ("2026-03-12T18:40", 18 * 3600 + 40 * 60),
        ("12.03.2026 6:40 pm", 18 * 3600 + 40 * 60),
        ("12 Mar 2026 12:05 am", 300),
    ],
)
def test_a_time_after_the_day_is_kept(text, seconds):
    assert parse(text).seconds == seconds


def test_bare_numbers_are_no_days_of_a_head_and_written_days_are():
    assert [is_day(text) for text in ("46329", "20261103", "7.5", "05.09.", "5 Sept")] == [False] * 3 + [True] * 2


def test_both_readings_stay_open_while_every_day_allows_them():
    assert how_written(["03/04/2026", "05/06/2026"], TODAY).orders == (Order.DAY_FIRST, Order.MONTH_FIRST)


@pytest.mark.parametrize(
    ("cells", "order"),
    [
        (["03/04/2026", "15/06/2026"], Order.DAY_FIRST),
        (["03/04/2026", "06/15/2026"], Order.MONTH_FIRST),
        # With the day first the first of them is still to come.
        (["09/12/2026", "05/06/2026"], Order.MONTH_FIRST),
        # 5 January 2026 is a Monday, 1 May is none.
        (["Mon 05/01/2026", "Mon 12/01/2026"], Order.DAY_FIRST),
        # With the day first these would be of 2005.
        (["26-09-05", "26-10-11"], Order.SHORT_YEAR_FIRST),
    ],
)
def test_what_cannot_be_settles_what_is_meant(cells, order):
    assert how_written(cells, TODAY).orders == (order,)


def test_a_list_of_matches_may_lie_ahead():
    assert how_written(["09/12/2026", "05/06/2027"], TODAY, past=False).orders == (Order.DAY_FIRST, Order.MONTH_FIRST)


def test_a_column_that_holds_other_things_is_none_of_days():
    assert how_written(["75", "60", "n/a"], TODAY) is None
    assert how_written(["x", "y", "2026-03-01"], TODAY) is None
    assert how_written([], TODAY) is None


def test_years_that_are_not_named_are_those_with_no_day_to_come():
    read = how_written(["05.09.", "10.10.", "02.02."], TODAY)
    assert (read.yearless, read.years[0]) == (True, 2025)
    assert 2026 not in read.years


def test_days_without_a_year_run_on_into_the_next_one():
    days = read_days(["20.12.", "03.01.", "", "x", "28.12."], Order.DAY_FIRST, 2025)
    assert [day and day.date() for day in days] == [
        date(2025, 12, 20),
        date(2026, 1, 3),
        None,
        None,
        date(2025, 12, 28),
    ]
    assert read_days(["20.12."], Order.DAY_FIRST) == [None]


def test_a_day_written_in_another_order_than_its_column_is_not_read():
    assert read_days(["2026-03-12", "12.03.2026"], Order.DAY_FIRST) == [None, datetime(2026, 3, 12) + timedelta()]  # noqa: DTZ001

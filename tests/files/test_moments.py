"""Moments in every writing, and local times around a change of the clocks."""

from datetime import UTC, datetime
from zoneinfo import ZoneInfo

import numpy as np
import pyarrow as pa
import pytest

from uvren.files.moments import Writing, guess_writing, read_moments, to_utc

OSLO = ZoneInfo("Europe/Oslo")


def at(*parts):
    return datetime(*parts, tzinfo=UTC).timestamp()


@pytest.mark.parametrize(
    ("cells", "writing"),
    [
        (["2026-03-11 18:00:01", "2026-03-11 18:00:02"], Writing.YEAR_FIRST),
        (["11.03.2026 18:00", "13.03.2026 18:00"], Writing.DAY_FIRST),
        (["03/11/2026 6:00 PM", "03/13/2026 6:00 PM"], Writing.MONTH_FIRST),
        (["18:00:01.1", "18:00:01.2"], Writing.CLOCK),
        (["0", "0.1", "0.2"], Writing.SECONDS),
        (["0", "100", "200"], Writing.MILLISECONDS),
        (["1773248400", "1773248401"], Writing.UNIX_SECONDS),
        (["1773248400000", "1773248400100"], Writing.UNIX_MILLISECONDS),
        (["46092.75", "46092.7501"], Writing.SHEET_DAYS),
        (["left", "right"], None),
        (["", ""], None),
    ],
)
def test_the_writing_is_guessed_from_the_cells(cells, writing):
    assert guess_writing(cells) is writing


@pytest.mark.parametrize(
    ("cell", "writing"),
    [
        ("2026-03-11T18:00:01.5", Writing.YEAR_FIRST),
        ("2026-03-11 18:00:01,5", Writing.YEAR_FIRST),
        ("11.3.2026 18:00:01,5", Writing.DAY_FIRST),
        ("11/03/26 06:00:01.5 PM", Writing.DAY_FIRST),
        ("3-11-2026 6:00:01.5 pm", Writing.MONTH_FIRST),
        ("46092.75001736111", Writing.SHEET_DAYS),
    ],
)
def test_local_moments(cell, writing):
    found = read_moments(pa.array([cell, None]), writing)
    assert not found.zoned
    assert found.seconds[0] == pytest.approx(at(2026, 3, 11, 18, 0, 1) + 0.5, abs=2e-3)
    assert np.isnan(found.seconds[1])


@pytest.mark.parametrize("cell", ["2026-03-11T18:00:01Z", "2026-03-11 19:00:01+01:00", "2026-03-11T12:30:01-0530"])
def test_zoned_moments_are_in_utc(cell):
    found = read_moments(pa.array([cell]), Writing.YEAR_FIRST)
    assert found.zoned
    assert found.seconds[0] == at(2026, 3, 11, 18, 0, 1)


@pytest.mark.parametrize(
    "cell", ["31.02.2026 10:00", "11.13.2026 10:00", "11.03.2026 25:00", "soon", "11.03.2026 10:61"]
)
def test_moments_that_do_not_exist_are_none(cell):
    assert np.isnan(read_moments(pa.array([cell]), Writing.DAY_FIRST).seconds[0])


def test_clocks_and_counts():
    assert read_moments(pa.array(["18:00:00.25"]), Writing.CLOCK).seconds[0] == 18 * 3600 + 0.25
    assert read_moments(pa.array([1500.0]), Writing.MILLISECONDS).seconds[0] == 1.5
    assert read_moments(pa.array(["1,5"]), Writing.MINUTES).seconds[0] == 90
    assert read_moments(pa.array(["1773248400"]), Writing.UNIX_SECONDS).zoned


def test_a_plain_day_is_placed_by_its_offset():
    placed = to_utc(np.array([at(2026, 3, 11, 18), at(2026, 7, 11, 18)]), OSLO)
    assert placed.seconds.tolist() == [at(2026, 3, 11, 17), at(2026, 7, 11, 16)]
    assert not placed.repeated


def test_times_that_the_clocks_leave_out_do_not_exist():
    placed = to_utc(np.array([at(2026, 3, 29, 1, 59), at(2026, 3, 29, 2, 30), at(2026, 3, 29, 3, 0)]), OSLO)
    assert placed.absent.tolist() == [False, True, False]
    assert placed.seconds[2] - placed.seconds[0] == 60


def test_a_run_through_the_repeated_hour_goes_on_without_a_step():
    utc = at(2025, 10, 26, 0, 30) + np.arange(0, 7200, 60.0)
    local = np.array(
        [datetime.fromtimestamp(s, OSLO).replace(tzinfo=UTC).timestamp() for s in utc]
    )  # the clock on the wall
    placed = to_utc(local, OSLO)
    assert placed.repeated
    assert placed.seconds.tolist() == utc.tolist()


def test_a_run_that_begins_in_the_second_of_the_two_hours():
    utc = at(2025, 10, 26, 1, 30) + np.arange(0, 3600, 60.0)
    local = np.array([datetime.fromtimestamp(s, OSLO).replace(tzinfo=UTC).timestamp() for s in utc])
    assert to_utc(local, OSLO).seconds.tolist() == utc.tolist()


def test_each_group_is_told_apart_by_its_own_order():
    local = np.array(
        [at(2025, 10, 26, 2, 50), at(2025, 10, 26, 2, 10), at(2025, 10, 26, 2, 20), at(2025, 10, 26, 1, 50)]
    )
    placed = to_utc(local, OSLO, np.array([1, 1, 2, 2]))
    assert placed.seconds[:2].tolist() == [at(2025, 10, 26, 0, 50), at(2025, 10, 26, 1, 10)]
    assert placed.seconds[2] == at(2025, 10, 26, 0, 20)

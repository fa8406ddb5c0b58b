from datetime import date, datetime, timedelta

import pytest

from uvren.core.body import PAIRED, Pain, Side, Site
from uvren.core.errors import BadReport
from uvren.core.reports import (
    FAMILIES,
    ITEMS,
    Good,
    ReportKind,
    Timing,
    check_answers,
    check_form,
    items_of,
    missing_since,
    timing,
    usual_form,
)

DAY = date(2026, 3, 12)


def at(hour, minute=0, days=0):
    return datetime(2026, 3, 12, hour, minute) + timedelta(days=days)  # noqa: DTZ001


def test_on_every_daily_scale_ten_is_the_good_end():
    scales = [item for item in items_of(ReportKind.DAILY) if item.most == 10]
    assert len(scales) == 7
    assert {item.good for item in scales} == {Good.HIGH}


def test_the_weekly_form_asks_for_eleven_families_and_for_being_clumsy():
    assert len(FAMILIES) == 11
    assert {*FAMILIES, "clumsy"} < set(usual_form(ReportKind.WEEKLY))
    assert all(ITEMS[code].choices == ("no", "some days", "most days") for code in FAMILIES)


@pytest.mark.parametrize(
    ("kind", "answers", "field"),
    [
        (ReportKind.DAILY, {"mood": 11}, "answers.mood"),
        (ReportKind.DAILY, {"mood": 6.5}, "answers.mood"),
        (ReportKind.DAILY, {"sleep_hours": 7.25}, "answers.sleep_hours"),
        (ReportKind.DAILY, {"effort": 5}, "answers.effort"),
        (ReportKind.DAILY, {"nothing": 5}, "answers.nothing"),
        (ReportKind.SESSION, {"effort": -0.5}, "answers.effort"),
        (ReportKind.WEEKLY, {"aches": 3}, "answers.aches"),
        (ReportKind.DAILY, {"mood": float("nan")}, "answers.mood"),
    ],
)
def test_an_answer_off_its_scale_or_to_nothing_is_refused_at_its_field(kind, answers, field):
    with pytest.raises(BadReport) as refused:
        check_answers(kind, answers)
    assert refused.value.field == field


def test_answers_on_their_scales_are_taken():
    check_answers(ReportKind.DAILY, {"mood": 0, "sleep_hours": 7.5, "body_mass": 81.3, "heart_rate_variability": 4.12})
    check_answers(ReportKind.SESSION, {"effort": 6.5, "minutes": 80})


@pytest.mark.parametrize(
    ("items", "days", "field"),
    [([], [0], "items"), (["mood", "mood"], [0], "items.1"), (["effort"], [0], "items.0"), (["mood"], [], "days"),
     (["mood"], [7], "days")],
)  # fmt: skip
def test_a_form_that_cannot_be_asked_is_refused(items, days, field):
    with pytest.raises(BadReport) as refused:
        check_form(ReportKind.DAILY, items, days)
    assert refused.value.field == field


@pytest.mark.parametrize(
    ("made", "stands"),
    [(at(6), Timing.ON_TIME), (at(12), Timing.ON_TIME), (at(12, 1), Timing.LATE), (at(6, days=1), Timing.BACKDATED)],
)
def test_a_daily_report_is_on_time_until_noon_of_its_day(made, stands):
    assert timing(ReportKind.DAILY, DAY, made) is stands


@pytest.mark.parametrize(
    ("made", "stands"),
    [
        (at(19, 9), Timing.EARLY),
        (at(19, 10), Timing.ON_TIME),
        (at(20), Timing.ON_TIME),
        (at(20, 1), Timing.LATE),
        (at(7, days=1), Timing.BACKDATED),
    ],
)
def test_a_session_is_rated_in_time_from_ten_to_sixty_minutes_after_its_end(made, stands):
    assert timing(ReportKind.SESSION, DAY, made, session_end=at(19)) is stands


@pytest.mark.parametrize(("days", "stands"), [(1, Timing.ON_TIME), (2, Timing.LATE), (4, Timing.BACKDATED)])
def test_a_weekly_report_has_two_days(days, stands):
    assert timing(ReportKind.WEEKLY, DAY, at(20, days=days)) is stands


def test_missing_since_counts_back_over_asked_days_to_the_last_report():
    days = [DAY - timedelta(days=back) for back in range(0, 20, 2)]
    assert missing_since(days, [DAY], date.min) is None
    assert missing_since(days, [DAY - timedelta(days=4)], date.min) == DAY - timedelta(days=2)
    assert missing_since(days, [], DAY - timedelta(days=5)) == DAY - timedelta(days=4)


def test_a_paired_place_needs_its_side_and_no_other_has_one():
    assert Pain(Site.KNEE, Side.LEFT, 4).said() == "left knee, 4 of 10"
    assert Pain(Site.LOWER_BACK, None, 2).said() == "lower back, 2 of 10"
    for site, side, severity, field in (
        (Site.KNEE, None, 4, "side"), (Site.HEAD, Side.LEFT, 4, "side"), (Site.HEAD, None, 0, "severity"),
        (Site.HEAD, None, 11, "severity"),
    ):  # fmt: skip
        with pytest.raises(BadReport) as refused:
            Pain(site, side, severity)
        assert refused.value.field == field
    assert len(PAIRED) == 14

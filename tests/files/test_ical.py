"""Calendars as clubs get them: series, zones, nights that change the clock, and files that are made to be bad."""

from datetime import UTC, date, datetime
from zoneinfo import ZoneInfo

import pytest

from uvren.files import ical
from uvren.files.errors import BadFile
from uvren.files.ical import read_calendar

OSLO, TODAY = ZoneInfo("Europe/Oslo"), date(2026, 3, 12)


@pytest.fixture
def read(tmp_path):
    def go(*events, head=""):
        path = tmp_path / "games.ics"
        inside = "\r\n".join(f"BEGIN:VEVENT\r\n{event.strip()}\r\nEND:VEVENT" for event in events)
        path.write_text(f"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\n{head}{inside}\r\nEND:VCALENDAR\r\n")
        return read_calendar(path, OSLO, TODAY)

    return go


def starts(found):
    return [f"{one.starts_at:%m-%d %H:%M}" for one in found.events]


@pytest.mark.parametrize(
    ("start", "utc", "whole"),
    [
        ("DTSTART:20260320T183000Z", "03-20 18:30", False),
        # Without a zone it is the squad's own clock.
        ("DTSTART:20260320T183000", "03-20 17:30", False),
        ("DTSTART;TZID=Europe/London:20260320T183000", "03-20 18:30", False),
        ("DTSTART;VALUE=DATE:20260320", "03-20 14:00", True),
    ],
)
def test_a_start_is_read_in_its_zone(read, start, utc, whole):
    found = read(f"UID:a\r\n{start}\r\nSUMMARY:Match")
    assert (starts(found), found.events[0].whole_day) == ([utc], whole)


def test_a_calendar_may_name_the_zone_of_what_names_none(read):
    found = read("UID:a\r\nDTSTART:20260320T183000\r\nSUMMARY:M", head="X-WR-TIMEZONE:America/New_York\r\n")
    assert starts(found) == ["03-20 22:30"]


@pytest.mark.parametrize(
    ("end", "minutes"),
    [("DTEND:20260320T201500Z", 105), ("DURATION:PT1H30M", 90), ("", 90), ("DTEND:20260320T183000Z", 90),
     ("DTEND:20260325T183000Z", 90)],
)  # fmt: skip
def test_how_long_it_is_planned_is_what_it_says_or_the_usual(read, end, minutes):
    (event,) = read(f"UID:a\r\nDTSTART:20260320T183000Z\r\n{end}\r\nSUMMARY:M").events
    assert event.minutes == minutes


def test_a_series_keeps_the_hour_of_its_clock_through_the_night_that_changes_it(read):
    rule = "RRULE:FREQ=WEEKLY;COUNT=4\r\nEXDATE;TZID=Europe/Oslo:20260402T180000"
    found = read(f"UID:a\r\nDTSTART;TZID=Europe/Oslo:20260319T180000\r\n{rule}\r\nSUMMARY:Training")
    assert starts(found) == ["03-19 17:00", "03-26 17:00", "04-09 16:00"]
    assert len({one.uid for one in found.events}) == 3


def test_a_series_ends_on_its_last_day_and_takes_in_days_beside_the_rule(read):
    rule = "RRULE:FREQ=DAILY;UNTIL=20260321T170000Z\r\nRDATE;TZID=Europe/Oslo:20260325T180000"
    found = read(f"UID:a\r\nDTSTART;TZID=Europe/Oslo:20260319T180000\r\n{rule}\r\nSUMMARY:T")
    assert [one[:5] for one in starts(found)] == ["03-19", "03-20", "03-21", "03-25"]


def test_one_of_a_series_that_was_moved_stands_once_and_keeps_what_it_is_known_by(read):
    zone = "TZID=Europe/Oslo"
    series = f"UID:a\r\nDTSTART;{zone}:20260319T180000\r\nRRULE:FREQ=WEEKLY;COUNT=2\r\nSUMMARY:T"
    moved = f"UID:a\r\nRECURRENCE-ID;{zone}:20260326T180000\r\nDTSTART;{zone}:20260327T190000\r\nSUMMARY:T, moved"
    before, after = read(series), read(series, moved)
    assert starts(after) == ["03-19 17:00", "03-27 18:00"]
    assert [one.uid for one in after.events] == [one.uid for one in before.events]


def test_what_is_cancelled_and_where_it_is_are_told(read):
    found = read("UID:a\r\nDTSTART:20260320T183000Z\r\nSUMMARY:M\r\nSTATUS:CANCELLED\r\nLOCATION:Hall  2")
    assert (found.events[0].cancelled, found.events[0].place) == (True, "Hall 2")


def test_events_of_another_century_are_counted_and_left_out(read):
    found = read("UID:a\r\nDTSTART:19010320T183000Z\r\nSUMMARY:M", "UID:b\r\nDTSTART:20260320T183000Z\r\nSUMMARY:N")
    assert (len(found.events), found.far) == (1, 1)


def test_an_event_without_a_start_is_told_and_the_others_are_read(read):
    found = read("UID:a\r\nSUMMARY:Nothing", "UID:b\r\nDTSTART:20260320T183000Z\r\nSUMMARY:N")
    assert [problem.said for problem in found.problems] == ["Nothing"]
    assert found.events[0].starts_at == datetime(2026, 3, 20, 18, 30, tzinfo=UTC)


def test_five_thousand_events_are_read_and_more_than_a_calendar_holds_are_refused(read, monkeypatch):
    many = [f"UID:{i}\r\nDTSTART:202603{1 + i % 28:02}T1{i % 10}0000Z\r\nSUMMARY:M{i}" for i in range(5000)]
    assert len(read(*many).events) == 5000
    monkeypatch.setattr(ical, "MOST_EVENTS", 100)
    with pytest.raises(BadFile, match="more than 100"):
        read("UID:a\r\nDTSTART:20260320T183000Z\r\nRRULE:FREQ=SECONDLY\r\nSUMMARY:Trap")


def test_what_is_no_calendar_is_refused(tmp_path):
    path = tmp_path / "x.ics"
    path.write_bytes(b"BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTSTART:what\r\n")
    with pytest.raises(BadFile, match="damaged"):
        read_calendar(path, OSLO, TODAY)

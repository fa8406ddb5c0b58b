"""Tables as people keep them: what is open is asked, what is said of it holds, and all of it can be taken back."""

import io
from dataclasses import replace
from datetime import timedelta

import openpyxl
import pytest
from sqlalchemy import func, select

from tests.conftest import NOW, TODAY
from uvren.core.ratings import Origin
from uvren.services import files as imports
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.session.sessions import read_grid
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import ALSO_CALLED_OFF, Entry, ImportState, Session

YESTERDAY = TODAY - timedelta(days=1)


def test_the_order_of_day_and_month_is_asked_with_both_readings_shown(db, squad, looked, bring):
    content = "Name,Date,Min,RPE\nA,02/03/2026,60,5\nB,03/02/2026,60,5\n"
    seen = looked(content)
    (question,) = seen.questions
    assert question.key == "order"
    assert {choice.value: choice.said for choice in question.choices} == {
        "day_first": "the day first: 02/03/2026 is 2 March 2026",
        "month_first": "the month first: 02/03/2026 is 3 February 2026",
    }
    left = bring(content)
    assert (left.state, "1 question" in left.report["wrong"]) == (ImportState.FAILED, True)
    assert bring(content + "\n", answers=(("order", "month_first"),), good_rows=True).state is ImportState.DONE


def test_two_rows_of_a_day_are_two_sessions_or_one_as_is_said(db, squad, bring):
    day = YESTERDAY - timedelta(days=YESTERDAY.weekday() + 1)
    content = f"Name,Date,Min,RPE\nA,{day},60,8\nA,{day},20,4\n"
    one = bring(content, answers=(("twice", "sum"),), make_sessions=True)
    assert one.state is ImportState.DONE, one.report
    (entry,) = entries_on(db, squad, day)
    assert (entry.minutes, entry.effort) == (80, 7)
    imports.undo(db, squad.squad, one.id, stamp=Stamp(None, NOW), today=TODAY)
    assert entries_on(db, squad, day) == []
    two = bring(content, answers=(("twice", "order"),), make_sessions=True)
    assert two.state is ImportState.DONE, two.report
    assert [(entry.minutes, entry.effort) for entry in entries_on(db, squad, day)] == [(60, 8), (20, 4)]


def entries_on(db, squad, day):
    db.expire_all()
    query = select(Entry).join(Session).where(Session.squad_id == squad.squad.id, Session.day == day)
    return list(db.scalars(query.order_by(Session.starts_at)))


def test_a_load_without_minutes_stands_on_the_main_channel_as_it_was_given(db, squad, bring):
    day = YESTERDAY - timedelta(days=YESTERDAY.weekday() + 1)
    done = bring(f"Name,Date,Load\nA,{day},450\n", make_sessions=True)
    assert done.state is ImportState.DONE, done.report
    assert squad.daily(db, squad.athletes[0], day).load == 450
    (session,) = {entry.session_id for entry in entries_on(db, squad, day)}
    grid = read_grid(db, squad.squad, session, TODAY)
    (row,) = [row for row in grid.rows if row.entry is not None]
    assert (row.load, row.origin, row.entry.minutes) == (450, Origin.GIVEN, None)
    assert row.how.startswith("As a file gave it")
    # What is rated later counts in its place.
    change = EntryChange(session, squad.athletes[0], 60.0, 6.0, version=row.entry.version)
    record_entries(db, squad.squad.id, [change], stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    assert squad.daily(db, squad.athletes[0], day).load == 360


def test_a_first_day_goes_back_for_a_file_and_stands_again_when_the_file_is_taken_back(db, squad, bring):
    member = queries.squad.memberships_of(db, squad.squad.id, squad.athletes[0])[0]
    before, early = member.from_day, TODAY - timedelta(days=200)
    content = f"Name,Date,Min,RPE\nA,{early},60,5\n"
    asked = bring(content)
    assert "A is in the squad from" in asked.report["wrong"]
    left = bring(content + "\n", answers=(("from_day", "leave"),), make_sessions=True)
    assert "Nothing in the file can come in" in left.report["wrong"]
    done = bring(content + "\n\n", answers=(("from_day", "move"),), make_sessions=True)
    assert done.state is ImportState.DONE, done.report
    assert member.from_day == early
    imports.undo(db, squad.squad, done.id, stamp=Stamp(None, NOW), today=TODAY)
    assert member.from_day == before


def test_another_sheet_has_its_own_columns_and_what_was_said_of_the_same_ones_stays(looked):
    book = openpyxl.Workbook()
    book.active.append(["Who", "Date", "Min"])
    book.active.append(["A", "2026-03-01", 60])
    other = book.create_sheet("Other")
    other.append(["Who", "Date", "RPE"])
    other.append(["A", "2026-03-01", 5])
    out = io.BytesIO()
    book.save(out)
    seen = looked(out.getvalue(), "book.xlsx")
    assert [use.name for use in seen.spec.columns] == ["Who", "Date", "Min"]
    chosen = replace(seen.spec, layout=replace(seen.look.layout, sheet="Other"))
    again = looked(out.getvalue(), "book.xlsx", chosen)
    assert {use.name: use.role for use in again.spec.columns} == {"Who": "athlete", "Date": "date", "RPE": "effort"}


@pytest.mark.parametrize(
    ("points", "why"),
    [
        ("<trkpt lat='59' lon='10'/><trkpt lat='59.1' lon='10'/>", "None of the points has a time"),
        ("<trkpt lat='59' lon='10'><time>2026-03-11T11:05:00Z</time></trkpt>", "one sample"),
        ("<trkpt lat='59' lon='10'><time>1901-03-11T11:05:00Z</time></trkpt>"
         "<trkpt lat='59' lon='10'><time>1901-03-11T11:06:00Z</time></trkpt>", "1901"),
    ],
)  # fmt: skip
def test_a_track_that_is_no_recording_is_refused_and_leaves_nothing_behind(db, squad, bring, points, why):
    content = f"<gpx version='1.1' xmlns='http://www.topografix.com/GPX/1/1'><trk><trkseg>{points}</trkseg></trk></gpx>"
    before = db.scalar(select(func.count()).select_from(Session)), db.scalar(select(func.count()).select_from(Entry))
    refused = bring(content, "A.gpx", make_sessions=True, athlete=squad.athletes[0])
    assert refused.state is ImportState.FAILED
    assert why in " ".join(problem["why"] for problem in refused.report["problems"])
    after = db.scalar(select(func.count()).select_from(Session)), db.scalar(select(func.count()).select_from(Entry))
    assert after == before


def test_points_without_a_time_are_said_and_the_others_come_in(db, squad, bring):
    timed = "".join(f"<trkpt lat='59.{i:03}' lon='10'><time>2026-03-11T11:0{i}:00Z</time></trkpt>" for i in range(5))
    track = f"<trk><trkseg>{timed}<trkpt lat='59' lon='10'/></trkseg></trk>"
    done = bring(f"<gpx version='1.1' xmlns='http://www.topografix.com/GPX/1/1'>{track}</gpx>", "A.gpx",
                 athlete=squad.athletes[0])  # fmt: skip
    assert done.state is ImportState.DONE, done.report
    assert done.report["notes"] == ["1 point without a time left out."]


def calendar(*events):
    inside = "".join(f"BEGIN:VEVENT\r\n{event}\r\nEND:VEVENT\r\n" for event in events)
    return f"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\n{inside}END:VCALENDAR\r\n"


def game(uid, day, more="", name="Match v Northby"):
    return f"UID:{uid}\r\nDTSTART:202604{day:02}T163000Z\r\nDTEND:202604{day:02}T181500Z\r\nSUMMARY:{name}{more}"


def test_a_changed_calendar_moves_its_own_events_only_and_can_be_taken_back(db, squad, bring):
    def matches():
        db.expire_all()
        query = select(Session).where(Session.squad_id == squad.squad.id, Session.calendar_uid.is_not(None))
        found = db.scalars(query.order_by(Session.starts_at), execution_options=ALSO_CALLED_OFF)
        return [(one.day.day, one.opponent, one.called_off is not None) for one in found]

    others = db.scalar(select(func.count()).select_from(Session))
    first = bring(calendar(game("a", 4), game("b", 11)), "games.ics")
    assert first.state is ImportState.DONE, first.report
    assert first.report["fixtures"] == 2
    assert matches() == [(4, "Northby", False), (11, "Northby", False)]
    second = bring(calendar(game("a", 5), game("b", 11, "\r\nSTATUS:CANCELLED"), game("c", 18)), "games.ics")
    assert (second.report["fixtures"], second.report["changed"]) == (1, 2)
    assert matches() == [(5, "Northby", False), (11, "Northby", True), (18, "Northby", False)]
    assert db.scalar(select(func.count()).select_from(Session), execution_options=ALSO_CALLED_OFF) == others + 3
    imports.undo(db, squad.squad, second.id, stamp=Stamp(None, NOW), today=TODAY)
    assert matches() == [(4, "Northby", False), (11, "Northby", False)]
    imports.undo(db, squad.squad, first.id, stamp=Stamp(None, NOW), today=TODAY)
    assert matches() == []


def test_the_same_workbook_with_one_more_sheet_adds_that_sheet_and_makes_nothing_twice(db, squad, bring):
    sunday = YESTERDAY - timedelta(days=YESTERDAY.weekday() + 1)

    def book(*weeks):
        made = openpyxl.Workbook()
        made.remove(made.active)
        for week in weeks:
            sheet = made.create_sheet(f"Week {week}")
            sheet.append(["Name", *[f"{sunday - timedelta(days=7 * week):%d.%m.%Y}", ""]])
            sheet.append(["", "Min", "RPE"])
            for name in "AB":
                sheet.append([name, 60 + week, 5])
        out = io.BytesIO()
        made.save(out)
        return out.getvalue()

    def go(*weeks):
        sheets = tuple(f"Week {week}" for week in weeks)
        return bring(book(*weeks), "weeks.xlsx", change=lambda spec: every_sheet(spec, sheets))

    def every_sheet(spec, sheets):
        layout = replace(spec.layout, sheets=sheets if len(sheets) > 1 else ())
        return replace(spec, make_sessions=True, layout=layout)

    first = go(1)
    assert first.state is ImportState.DONE, first.report
    sessions = db.scalar(select(func.count()).select_from(Session))
    again = go(1, 2)
    assert again.state is ImportState.DONE, again.report
    assert db.scalar(select(func.count()).select_from(Session)) == sessions + 1
    assert [(one.minutes, one.effort) for one in entries_on(db, squad, sunday - timedelta(days=7))] == [(61, 5)] * 2
    imports.undo(db, squad.squad, again.id, stamp=Stamp(None, NOW), today=TODAY)
    # What stood before is the first file's, and stays.
    assert len(entries_on(db, squad, sunday - timedelta(days=7))) == 2
    assert entries_on(db, squad, sunday - timedelta(days=14)) == []

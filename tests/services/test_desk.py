"""The sheet, how calls turned out, settings, rest trials, views, what was known then, and one athlete's timeline."""

from datetime import UTC, datetime, time, timedelta

import pytest

from tests.conftest import NOW, TODAY
from tests.squad import PASSWORD
from uvren.core.audience import ALL, LEAST, Audience
from uvren.core.day import CallKind
from uvren.core.reports import ReportKind
from uvren.services.athlete.timeline import open_figure, position_week_load, read_timeline
from uvren.services.day.outcomes import outcomes
from uvren.services.errors import Invalid, NotAllowed, NotFound
from uvren.services.morning import notes, read_morning, views
from uvren.services.morning.calls import NewCall, make_call
from uvren.services.morning.own_today import own_today
from uvren.services.morning.sheet import as_text, make_sheet, read_sheet
from uvren.services.reports import Told, give
from uvren.services.return_ import clinical, rest_trials
from uvren.services.return_.clinical import NewRestriction
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.session.sessions import read_grid
from uvren.services.squad import notice_settings
from uvren.services.squad.notice_settings import NewSetting
from uvren.services.squad.squads import create_user
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Availability, Club, Entry, Scope
from uvren.store.types import new_ulid
from uvren.store.versions import known_at, purge_history, written_at

YESTERDAY = TODAY - timedelta(days=1)


@pytest.fixture
def call(db, squad):
    def go(i=0, kind=CallKind.ADAPT, day=TODAY, today=None, **more):
        given = {"reason": "flat", "minutes": 30.0 if kind is CallKind.ADAPT else None} | more
        new = NewCall(new_ulid(), squad.athletes[i], day, kind, sure=True, **given)
        return make_call(db, squad.squad, new, stamp=Stamp(squad.staff.id, NOW), today=today or day)

    return go


def lines(sheet):
    return {line.name: (line.group, line.how) for line in sheet.lines}


def test_the_sheet_says_who_does_what_without_saying_why(db, squad, call):
    call(0, content="no sprints", effort_cap=5.0, reason="tired and low")
    call(1, CallKind.REST, reason="family matter")
    gate = NewRestriction(squad.athletes[2], Availability.LIMITED, "No throws", "Shoulder", TODAY, None)
    clinical.restrict(db, squad.squad, gate, stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    sheet = read_sheet(db, squad.squad, TODAY, TODAY)
    assert lines(sheet) == {
        "A": ("adapt", "30 of 60 min, effort at most 5, no sprints"),
        "B": ("out", ""),
        "C": ("return", "No throws"),
        "D": ("full", ""),
    }
    text = as_text(squad.squad, sheet)
    assert "- A: 30 of 60 min" in text
    for secret in ("tired", "family", "Shoulder"):
        assert secret not in text


def test_a_call_stands_beside_the_name_in_the_session_without_its_reason(db, squad, call):
    call(0, content="no sprints", reason="tired and low")
    call(1, CallKind.REST)
    rows = read_grid(db, squad.squad, squad.on(TODAY).id, TODAY).rows
    assert [row.called for row in rows] == ["30 of 60 min, no sprints", "does not train", "", ""]


def test_a_sheet_that_changes_after_it_was_given_out_is_a_new_version(db, squad, call):
    def given():
        return make_sheet(db, squad.squad, TODAY, stamp=Stamp(squad.staff.id, NOW), today=TODAY)

    assert given().made.version == 1
    assert given().made.version == 1
    call(3, CallKind.RECOVER)
    assert read_sheet(db, squad.squad, TODAY, TODAY).changes == ["D: recovery, was full"]
    second = given()
    assert (second.made.version, second.changes) == (2, [])


def test_a_call_is_held_against_what_was_done(db, squad, call):
    call(0, day=YESTERDAY)
    call(1, CallKind.REST, day=YESTERDAY)
    found = {one.name: one for one in outcomes(db, squad.squad, YESTERDAY, YESTERDAY, TODAY)}
    assert (found["A"].called, found["A"].done, found["A"].kept) == (150, 300, "more")
    assert (found["B"].called, found["B"].kept) == (0, "more")
    today = call(2)
    open_one = outcomes(db, squad.squad, TODAY, TODAY, TODAY)[0]
    assert (open_one.call.id, open_one.done, open_one.kept, open_one.after) == (today.id, None, "", "")


def tune(db, squad, **more):
    given = {"code": "days_running", "scope": Scope.SQUAD, "position": None, "athlete_id": None, "off": False,
             "values": {"row": 5}, "reason": ""}  # fmt: skip
    new = NewSetting(**(given | more))
    return notice_settings.save_setting(db, squad.squad, new, stamp=Stamp(squad.staff.id, NOW), today=TODAY)


def codes(db, squad, i=0, as_of=TODAY):
    lane = read_morning(db, squad.squad, as_of, TODAY, only=squad.athletes[i], audiences=ALL)[0].lanes[0]
    return {said.code for said in lane.notices}


def test_the_narrowest_setting_wins_and_the_past_stays(db, squad):
    assert "days_running" not in codes(db, squad)
    first = tune(db, squad, values={"row": 3})
    assert "days_running" in codes(db, squad)
    assert "days_running" not in codes(db, squad, as_of=YESTERDAY)
    tune(db, squad, scope=Scope.ATHLETE, athlete_id=squad.athletes[0], off=True)
    assert "days_running" not in codes(db, squad, 0)
    assert "days_running" in codes(db, squad, 1)
    notice_settings.take_back(db, squad.squad, first.id, stamp=Stamp(squad.staff.id, NOW))
    assert "days_running" not in codes(db, squad, 1)


def test_what_was_set_before_is_told_with_its_end(db, squad):
    def told(as_of=TODAY):
        found = notice_settings.earlier_settings(db, squad.squad, as_of)
        return [(notice_settings.said_of(one.row), one.until, one.taken_back) for one in found]

    def on(day, **more):
        row = tune(db, squad, **more)
        row.from_day = day
        db.flush()
        return row

    week, older = TODAY - timedelta(days=7), TODAY - timedelta(days=20)
    on(older, values={"row": 3})
    on(week, values={"row": 4})
    assert told() == [("days in a row 3 days", week, False)]
    # Of somebody else is no successor.
    on(week, values={"row": 6}, scope=Scope.ATHLETE, athlete_id=squad.athletes[0])
    assert len(told()) == 1
    last = on(TODAY, off=True)
    assert told() == [("days in a row 4 days", TODAY, False), ("days in a row 3 days", week, False)]
    assert told(week) == [("days in a row 3 days", week, False)]
    # What is taken back is as if it had never been, and is told all the same.
    notice_settings.take_back(db, squad.squad, last.id, stamp=Stamp(squad.staff.id, NOW))
    assert told() == [("off", TODAY, True), ("days in a row 3 days", week, False)]


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"code": "nonsense"}, "code"),
        ({"values": {"row": 1}}, "values.row"),
        ({"values": {"what": 1}}, "values.what"),
        ({"scope": Scope.ATHLETE}, "athlete_id"),
        ({"scope": Scope.POSITION, "position": " "}, "position"),
        ({"code": "limit_broken", "values": {}, "off": True}, "reason"),
    ],
)
def test_a_setting_that_makes_no_sense_is_refused_at_its_field(db, squad, more, field):
    with pytest.raises(Invalid) as refused:
        tune(db, squad, **more)
    assert refused.value.field == field


def test_while_a_rest_trial_lasts_no_work_is_proposed_and_it_is_judged_after(db, squad):
    who = {"stamp": Stamp(squad.staff.id, NOW)}
    rest_trials.start(db, squad.squad, squad.athletes[0], TODAY, 7, **who, today=TODAY)
    lane = read_morning(db, squad.squad, TODAY, TODAY, only=squad.athletes[0], audiences=ALL)[0].lanes[0]
    assert (lane.room.load, lane.room.closed) == (None, True)
    assert lane.room.words == "rest trial until Wed 18 March"
    with pytest.raises(Invalid, match="already"):
        rest_trials.start(db, squad.squad, squad.athletes[0], TODAY, 14, **who, today=TODAY)
    with pytest.raises(Invalid, match="judged after"):
        rest_trials.judge(db, squad.squad, squad.athletes[0], better=True, **who, today=TODAY)
    rest_trials.judge(db, squad.squad, squad.athletes[0], better=True, **who, today=TODAY + timedelta(days=7))
    with pytest.raises(NotFound):
        rest_trials.judge(db, squad.squad, squad.athletes[0], better=True, **who, today=TODAY + timedelta(days=8))
    for bad in ({"days": 9}, {"first": YESTERDAY}):
        given = {"first": TODAY, "days": 7} | bad
        with pytest.raises(Invalid):
            rest_trials.start(db, squad.squad, squad.athletes[1], **given, **who, today=TODAY)


def test_a_view_is_ones_own_and_the_same_name_replaces_it(db, squad):
    other = create_user(db, db.get_one(Club, squad.squad.club_id), "other", "O. Ther", PASSWORD, {}).id
    for query in ("order=room", "order=name"):
        views.save_view(db, squad.squad, squad.staff.id, "Mine", query, now=NOW)
    (mine,) = queries.morning.views_of(db, squad.squad.id, squad.staff.id)
    assert (mine.name, mine.query) == ("Mine", "order=name")
    assert queries.morning.views_of(db, squad.squad.id, other) == []
    with pytest.raises(NotFound):
        views.remove_view(db, squad.squad, other, mine.id)
    for name, query in ((" ", "order=name"), ("x", "")):
        with pytest.raises(Invalid):
            views.save_view(db, squad.squad, squad.staff.id, name, query, now=NOW)


def at(day, hour):
    return datetime.combine(day, time(hour), UTC)


def test_a_morning_as_it_was_known_leaves_out_what_came_in_later(db, squad):
    athlete, day = squad.athletes[0], TODAY - timedelta(days=3)
    entry = squad.entry(db, athlete, day)
    written_at(db, at(YESTERDAY, 20))
    change = EntryChange(entry.session_id, athlete, 60.0, 10.0, version=entry.version)
    record_entries(db, squad.squad.id, [change], stamp=Stamp(squad.staff.id, at(YESTERDAY, 20)), today=TODAY)
    told = Told(new_ulid(), athlete, ReportKind.DAILY, YESTERDAY, {"energy": 2.0}, at(YESTERDAY, 20))
    give(db, squad.squad, told, stamp=Stamp(squad.staff.id, at(YESTERDAY, 20)), today=YESTERDAY)
    db.flush()

    def seen():
        lane = read_morning(db, squad.squad, YESTERDAY, TODAY, only=athlete, audiences=ALL)[0].lanes[0]
        return lane.strip.load[lane.strip.state.index("planned") - 2], bool(lane.felt)

    now = seen()
    known_at(db, at(YESTERDAY, 7))
    then = seen()
    known_at(db, None)
    assert now == (600, True)
    assert then[1] is False
    assert then[0] != 600


def test_what_was_forgotten_is_not_in_the_history_either(db, squad):
    entry = squad.entry(db, squad.athletes[0], YESTERDAY)
    entry.words = "private"
    db.flush()
    entry.words = None
    db.flush()
    held = "SELECT COUNT(*) FROM entry FOR SYSTEM_TIME ALL WHERE words = 'private'"
    assert db.connection().exec_driver_sql(held).scalar() == 1
    purge_history(db, Entry, "athlete_id = :athlete", athlete=squad.athletes[0])
    assert db.connection().exec_driver_sql(held).scalar() == 0


def test_one_athletes_timeline_is_as_long_as_their_history_and_the_plan(db, squad):
    line = read_timeline(db, squad.squad, squad.athletes[0], TODAY, TODAY, audiences=ALL)
    assert line.days[-1] == TODAY + timedelta(days=7)
    assert len(line.channels[0].strip.week) == len(line.days) == len(line.schools[0].ratio) + 7
    assert sum(line.minutes["court"]) % 60 == 0
    with pytest.raises(NotFound):
        read_timeline(db, squad.squad, 10**6, TODAY, TODAY, audiences=ALL)
    week = position_week_load(db, squad.squad, squad.athletes[0], TODAY, TODAY)
    assert week[len(line.days) - 8] == line.channels[0].strip.week[len(line.days) - 8]


def test_a_figure_opens_and_one_that_is_none_is_refused(db, squad):
    opened = open_figure(db, squad.squad, squad.athletes[0], TODAY, TODAY, "week_load")
    assert opened.value == sum(day.load or 0 for day in opened.days)
    with pytest.raises(Invalid):
        open_figure(db, squad.squad, squad.athletes[0], TODAY, TODAY, "readiness")


def test_an_athlete_reads_their_own_day_in_plain_words(db, squad, call):
    call(0, content="no sprints")
    today = own_today(db, squad.squad, squad.athletes[0], TODAY)
    assert today.called == "Adapted today: 30 of 60 min and no sprints."
    assert today.room == ""
    assert [(one.minutes, one.stands) for one in today.plan] == [(60, 30)]
    assert len(today.weeks) > 4
    call(1, CallKind.REFER, reason="low for weeks")
    other = own_today(db, squad.squad, squad.athletes[1], TODAY)
    assert other.called == "Talk to a clinician before you train."
    assert other.plan == []


def test_a_day_is_closed_for_everybody_who_looks_and_only_the_reason_is_for_clinicians(db, squad):
    told = Told(new_ulid(), squad.athletes[0], ReportKind.DAILY, TODAY, {"energy": 2.0}, NOW, ill=True)
    give(db, squad.squad, told, stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    db.flush()
    said = {}
    for audiences in (ALL, frozenset({Audience.DESK, Audience.REPORTS}), LEAST):
        lane = read_morning(db, squad.squad, TODAY, TODAY, squad.athletes[0], None, audiences)[0].lanes[0]
        assert (lane.group, lane.room.closed, lane.room.load, lane.room.plan) == ("call", True, None, 0)
        assert lane.room.plan_words == "the plan, 300, does not stand"
        # Eight weeks as always are noted beside it.
        said[len(audiences)] = (lane.room.words, {one.code for one in lane.notices} - {"lighter_due"})
    assert said[3] == ("until a clinician has seen it", {"complaint"})
    assert said[2] == ("until a clinician has seen it", {"unseen"})
    assert said[1] == ("ask staff first", {"unseen"})


def test_a_note_is_read_by_whom_it_is_for_and_taken_back_by_who_wrote_it(db, squad):
    everyone, desk = frozenset(Audience), frozenset({Audience.DESK})
    who = {"stamp": Stamp(squad.staff.id, NOW), "today": TODAY}

    def write(audience=Audience.REPORTS, may=everyone, **more):
        given = {"id": new_ulid(), "athlete_id": squad.athletes[0], "day": TODAY, "audience": audience, "words": "Flat"}
        return notes.write_note(db, squad.squad, notes.NewNote(**(given | more)), may, **who)

    kept = write()
    assert write(id=kept.id).id == kept.id
    assert [one.id for one in queries.morning.notes_of(db, squad.squad.id, squad.athletes[0], TODAY, everyone)] == [
        kept.id
    ]
    assert queries.morning.notes_of(db, squad.squad.id, squad.athletes[0], TODAY, desk) == []
    for field, more in (
        ("words", {"words": " "}),
        ("day", {"day": TODAY + timedelta(days=1)}),
        ("audience", {"audience": Audience.CLINICAL, "may": desk}),
        ("athlete_id", {"athlete_id": 10**6}),
    ):
        with pytest.raises((Invalid, NotFound)) as refused:
            write(**more)
        assert refused.value.field == field
    other = create_user(db, db.get_one(Club, squad.squad.club_id), "writer", "W. Riter", PASSWORD, {}).id
    with pytest.raises(NotAllowed):
        notes.withdraw_note(db, squad.squad, kept.id, stamp=Stamp(other, NOW))
    notes.withdraw_note(db, squad.squad, kept.id, stamp=Stamp(squad.staff.id, NOW))
    assert queries.morning.notes_of(db, squad.squad.id, squad.athletes[0], TODAY, everyone) == []

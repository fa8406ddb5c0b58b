import io
from dataclasses import replace
from datetime import timedelta

import numpy as np
import pytest

from tests.conftest import NOW, TODAY
from tests.squad import limit
from uvren.core.audience import ALL
from uvren.core.day import CallKind
from uvren.core.series import tabulate
from uvren.core.workload import Workload
from uvren.files.loads_csv import read_loads, write_loads
from uvren.services.day.desk import AHEAD_DAYS, SHOWN_DAYS
from uvren.services.errors import NotFound
from uvren.services.morning import read_evidence, read_morning
from uvren.services.morning.calls import NewCall, make_call
from uvren.services.return_ import clinical
from uvren.services.return_.clinical import NewRestriction
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.session.sessions import last_session_before, read_grid, read_spine
from uvren.services.squad import anchors, squads
from uvren.services.squad.anchors import NewAnchor
from uvren.services.squad.export import daily_loads
from uvren.services.squad.limits import set_limit
from uvren.services.squad.members import join
from uvren.services.stamp import Stamp
from uvren.store.models import AnchorKind, Availability, Scope
from uvren.store.types import new_ulid

YESTERDAY = TODAY - timedelta(days=1)


def record(db, squad, athlete, minutes, effort, day=YESTERDAY, version=1):
    change = EntryChange(squad.on(day).id, squad.athletes[athlete], minutes, effort, version=version)
    record_entries(db, squad.squad.id, [change], stamp=Stamp(squad.staff.id, NOW), today=TODAY)


def lane(db, squad, athlete=0, day=TODAY):
    morning, _ = read_morning(db, squad.squad, day, TODAY)
    return next(one for one in morning.lanes if one.member.athlete_id == squad.athletes[athlete])


def test_a_rating_of_last_night_changes_this_mornings_room(db, squad):
    before = lane(db, squad)
    record(db, squad, 0, 120.0, 9.0)
    after = lane(db, squad)
    assert after.room.load < before.room.load
    assert (before.group, after.group) == ("plan", "change")


def test_the_strip_holds_four_weeks_back_and_seven_days_ahead(db, squad):
    morning, _ = read_morning(db, squad.squad, TODAY, TODAY)
    assert (morning.days[0], morning.days[-1]) == (TODAY - timedelta(days=28), TODAY + timedelta(days=7))
    strip = morning.lanes[0].strip
    assert {len(values) for values in vars(strip).values() if isinstance(values, list)} == {36}
    assert set(strip.state[:28]) == {"measured", "rest"}
    assert strip.state[28] == "planned"


def test_a_past_morning_shows_that_days_work_as_planned_whatever_was_done_since(db, squad):
    before = lane(db, squad, day=YESTERDAY)
    record(db, squad, 0, 200.0, 10.0)
    after = lane(db, squad, day=YESTERDAY)
    assert after.room == before.room
    assert after.room.plan == 300
    assert after.strip == before.strip


def test_what_is_recorded_today_takes_from_todays_room_and_from_todays_plan(db, squad):
    before = lane(db, squad).room
    record(db, squad, 0, 40.0, 5.0, day=TODAY, version=None)
    after = lane(db, squad).room
    assert after.load == pytest.approx(before.load - 200)
    assert (before.plan, after.plan) == (300, 0)


def test_a_missing_and_an_estimated_day_are_told_apart_from_rest(db, squad):
    record(db, squad, 0, 60.0, None)
    record(db, squad, 1, None, None)
    assert lane(db, squad, 0).strip.state[27] == "estimated"
    unknown = lane(db, squad, 1)
    assert unknown.strip.state[27] == "missing"
    assert unknown.strip.week[27] is None
    assert unknown.strip.load[27] is None


def test_the_exported_file_gives_the_figures_on_screen(db, squad):
    record(db, squad, 0, 80.0, 7.5)
    record(db, squad, 1, 60.0, None)
    text = "".join(write_loads(daily_loads(db, squad.squad, TODAY, TODAY)))
    table = tabulate(read_loads(io.StringIO(text)))
    # Balance begins from the mean of the first 14 days there; on the command line --start says so.
    first = np.array(
        [np.nanmean(row[start : start + 14]) for row, start in zip(table.loads.load, table.loads.start, strict=True)]
    )
    work = Workload(replace(table.loads, before=first))
    assert table.loads.date_of(table.loads.days - 1) == YESTERDAY
    for athlete, name in ((0, "A"), (1, "B")):
        figures = {
            figure.code: figure.value
            for figure in read_evidence(db, squad.squad, squad.athletes[athlete], TODAY, TODAY).figures
        }
        row = table.keys.index((name, "session_rpe"))
        columns = work.columns()
        columns["balance"] = work.exp_chronic - work.exp_acute
        for code, value in figures.items():
            there = float(columns[code][row, -1])
            assert (np.isnan(there) and value is None) or there == pytest.approx(value, rel=1e-9), code


def test_the_spine_counts_to_the_match_and_lists_missing_ratings(db, squad):
    record(db, squad, 0, 60.0, None)
    days = read_spine(db, squad.squad, TODAY)
    assert len(days) == 21
    yesterday = next(day for day in days if day.day == YESTERDAY)
    assert yesterday.unrated == {squad.on(YESTERDAY).id: 1}
    assert yesterday.offset is None


def test_the_grid_says_how_an_estimate_was_made(db, squad):
    record(db, squad, 0, 50.0, None)
    row = next(
        row for row in read_grid(db, squad.squad, squad.on(YESTERDAY).id, TODAY).rows
        if row.member.athlete_id == squad.athletes[0]
    )  # fmt: skip
    assert row.load is None
    assert row.estimate.load == 250
    assert row.how == "Estimated: own median of 36 court ratings is 5, × 50 min."


def test_the_grid_opens_on_the_last_session_begun(db, squad):
    assert last_session_before(db, squad.squad, TODAY, NOW, TODAY).day == YESTERDAY
    past = TODAY - timedelta(days=10)
    assert last_session_before(db, squad.squad, past, NOW, TODAY).day < past
    with pytest.raises(NotFound):
        last_session_before(db, squad.squad, TODAY - timedelta(days=400), NOW, TODAY)


def test_on_the_first_day_with_no_data_at_all_nothing_is_claimed(db, squad):
    new = squads.add_members(db, squad.squad, [squads.NewMember("New", 9, "back", TODAY)])[0]
    evidence = read_evidence(db, squad.squad, new, TODAY, TODAY, None, ALL)
    lane = evidence.lane
    assert (lane.room.load, lane.room.words) == (None, "no figure: say the usual week first")
    assert set(lane.strip.state[:-AHEAD_DAYS]) == {"before"}
    assert len(lane.strip.state) == SHOWN_DAYS + 1 + AHEAD_DAYS
    assert set(lane.strip.ceiling) == set(lane.strip.floor) == {None}
    assert {figure.withheld for figure in evidence.figures if figure.code == "week_load"} == {"not enough history"}
    assert all(figure.value is None for figure in evidence.figures)


def test_before_anyone_belonged_there_is_an_empty_morning(db, squad):
    morning, parts = read_morning(db, squad.squad, TODAY - timedelta(days=400), TODAY)
    assert morning.lanes == []
    assert parts == {}


def test_with_limits_at_rest_room_is_said_to_be_an_upper_bound(db, squad):
    record(db, squad, 1, None, None)
    assert lane(db, squad, 0).room.resting == ""
    room = lane(db, squad, 1).room
    assert room.resting.count("rests (ratings are missing)") == 2
    assert "1 of 23 ratings missing, counted high" in room.resting
    # What is not known counts as the upper quartile of their own: room is that of a usual evening, and no more.
    assert room.load <= lane(db, squad, 0).room.load
    assert room.load <= 300


def test_who_never_rates_is_offered_less_than_who_does(db, squad):
    for back in range(1, 29):
        day = TODAY - timedelta(days=back)
        if day.weekday() != 6:
            record(db, squad, 1, 60.0, None, day=day)
    rated, silent = lane(db, squad, 0).room, lane(db, squad, 1).room
    assert silent.load <= rated.load
    assert "23 of 23 ratings missing" in silent.resting


def test_a_newcomer_is_offered_what_the_declared_week_allows_and_nothing_without_one(db, squad):
    who = {"stamp": Stamp(squad.staff.id, NOW)}
    new = join(db, squad.squad, "E. Newcomer", 9, "wing", TODAY - timedelta(days=3), **who).athlete_id
    db.flush()

    def room():
        morning, _ = read_morning(db, squad.squad, TODAY, TODAY, new)
        return morning.lanes[0].room

    assert (room().load, room().words) == (None, "no figure: say the usual week first")
    anchors.set_anchor(
        db, squad.squad, NewAnchor(new, AnchorKind.USUAL_WEEK_LOAD, 1400.0, None, TODAY), **who, today=TODAY
    )
    assert (room().load, room().bound_by) == (700, "ramp after a layoff")
    assert "50 % of 1 400 a week, as declared" in room().resting.replace("\u2009", " ").replace("\u00a0", " ")


def test_the_evidence_of_one_athlete_is_their_lane_of_the_morning(db, squad):
    record(db, squad, 0, 120.0, 9.0)
    record(db, squad, 1, 60.0, None)
    for athlete in (0, 1):
        assert read_evidence(db, squad.squad, squad.athletes[athlete], TODAY, TODAY).lane == lane(db, squad, athlete)
    with pytest.raises(NotFound, match="not in the squad"):
        read_evidence(db, squad.squad, 10**6, TODAY, TODAY)


def test_a_morning_still_to_come_takes_the_plan_before_it_as_done(db, squad):
    saturday = TODAY + timedelta(days=2)
    strip = lane(db, squad, day=saturday).strip
    assert strip.state[25:29] == ["measured", "planned", "planned", "planned"]
    assert strip.load[26:28] == [300, 300]
    # Monday to Saturday is six sessions of 300; on Saturday morning the five before it stand.
    assert lane(db, squad, day=saturday).room.plan == 300
    assert strip.week[27] == 1800
    record(db, squad, 0, 60.0, 9.0, day=TODAY, version=None)
    changed = lane(db, squad, day=saturday).strip
    assert (changed.load[26], changed.state[26]) == (540, "measured")


def stories(db, squad, day=TODAY):
    return read_morning(db, squad.squad, day, TODAY)[0].stories


def test_a_session_too_long_for_several_is_told_once_as_it_stands_for_each(db, squad):
    assert stories(db, squad) == []
    how = {"stamp": Stamp(squad.staff.id, NOW), "today": TODAY}
    # The plan is 60 min at 5 for everybody.
    set_limit(db, squad.squad, limit("day_cap", 250, TODAY), **how)
    (story,) = stories(db, squad)
    assert (story.minutes, sorted(story.athletes)) == (10, sorted(squad.athletes))
    assert story.sentence == "Today's court session is over what the limits leave for 4; 10 min less clears them all."
    # Who has minutes of their own by a call gains nothing by a shorter session; of half the minutes half is gained.
    own = NewCall(new_ulid(), squad.athletes[0], TODAY, CallKind.ADAPT, "as agreed", minutes=55.0, sure=True)
    make_call(db, squad.squad, own, **how)
    set_limit(db, squad.squad, limit("day_cap", 130, TODAY, scope=Scope.ATHLETE, athlete_id=squad.athletes[1]), **how)
    half = NewRestriction(squad.athletes[1], Availability.LIMITED, "", "", TODAY, None, minutes_share=0.5)
    clinical.restrict(db, squad.squad, half, **how)
    (story,) = stories(db, squad)
    # 20 too much at 2.5 a minute; the others need their 10.
    assert story.minutes == 10
    assert story.sentence.endswith("10 min less clears all but A.")


def test_a_morning_gone_by_tells_what_it_told_then_whatever_was_done_since(db, squad):
    how = {"stamp": Stamp(squad.staff.id, NOW), "today": YESTERDAY}
    set_limit(db, squad.squad, limit("day_cap", 250, YESTERDAY), **how)
    (story,) = stories(db, squad, YESTERDAY)
    assert story.minutes == 10

"""Whom the week ahead leaves short of what keeps them, and who has work on too many days."""

from datetime import timedelta

import pytest

from tests.squad import limit, noon
from uvren.services.return_ import clinical
from uvren.services.return_.clinical import NewRestriction
from uvren.services.squad.limits import set_limit
from uvren.services.stamp import Stamp
from uvren.services.week.saving import plan_own
from uvren.services.week.upkeep import read_upkeep
from uvren.store.models import Availability, SessionKind


@pytest.fixture
def stamp(squad):
    return Stamp(squad.staff.id, noon(squad.today))


def read(db, squad):
    return read_upkeep(db, squad.squad, squad.today, squad.today)


def coming(squad):
    return [one for one in squad.sessions if squad.today <= one.day < squad.today + timedelta(days=7) and not one.done]


def test_a_week_as_ever_leaves_nobody_short_and_without_a_rule_says_nothing_of_days(db, squad):
    found = read(db, squad)
    assert (found.short, found.days_said, found.often) == ([], "", [])


def test_who_is_hardly_planned_is_short_of_a_third_of_the_usual_week(db, squad, stamp):
    a, b = squad.athletes[:2]
    plan_own(db, squad.squad, {(a, one.id): 0.0 for one in coming(squad)}, stamp=stamp)
    plan_own(db, squad.squad, {(b, one.id): 0.0 for one in coming(squad)[2:]}, stamp=stamp)
    (one,) = read(db, squad).short
    # Six times an hour at five is usual; a third of it is two of them, which the other one has.
    assert (one.athlete_id, one.said) == (a, "Load 0 planned, 600 keep it")


def test_nobody_is_short_who_is_out(db, squad, stamp):
    a = squad.athletes[0]
    plan_own(db, squad.squad, {(a, one.id): 0.0 for one in coming(squad)}, stamp=stamp)
    new = NewRestriction(a, Availability.OUT, "", "", squad.today, squad.today + timedelta(days=9), None)
    clinical.restrict(db, squad.squad, new, stamp=stamp, today=squad.today)
    assert read(db, squad).short == []


def test_nobody_is_short_of_what_a_clinician_leaves_them_and_a_little_is_not_worth_a_word(db, squad, stamp):
    a, b = squad.athletes[:2]
    new = NewRestriction(a, Availability.LIMITED, "", "", squad.today, squad.today + timedelta(days=9), 0.2)
    clinical.restrict(db, squad.squad, new, stamp=stamp, today=squad.today)
    # Two hours at five keep them, of six a week; a quarter of an hour less is short, and is said.
    own = {(b, one.id): 0.0 for one in coming(squad)[2:]} | {(b, coming(squad)[0].id): 45.0}
    plan_own(db, squad.squad, own, stamp=stamp)
    assert [(one.athlete_id, one.said) for one in read(db, squad).short] == [(b, "Load 525 planned, 600 keep it")]
    plan_own(db, squad.squad, own | {(b, coming(squad)[0].id): 59.9}, stamp=stamp)
    assert read(db, squad).short == []


def test_more_days_than_a_rule_has_room_for_are_named_and_a_match_is_none_of_them(db, squad, stamp):
    set_limit(db, squad.squad, limit("days_in_seven", 5, squad.today, settings={"over": 0}),
              stamp=stamp, today=squad.today)  # fmt: skip
    before = read(db, squad)
    # Six days a week behind everybody: four are left of ten in two weeks.
    assert before.days_said == "Room for 4 days with work for 4."
    assert [one.athlete_id for one in before.often] == squad.athletes
    assert before.often[0].said.startswith("6 days planned, room for 4: leave out ")
    assert len(before.often[0].leave_out) == 2
    dropped = {one for one in coming(squad) if one.day in before.often[0].leave_out}
    for one in dropped:
        one.kind = SessionKind.MATCH
    db.flush()
    assert not {one.day for one in dropped} & set(read(db, squad).often[0].leave_out)
    # Left out as it says, the rule holds.
    for one in dropped:
        one.kind = SessionKind.COURT
    plan_own(db, squad.squad, {(squad.athletes[0], one.id): 0.0 for one in dropped}, stamp=stamp)
    assert squad.athletes[0] not in [one.athlete_id for one in read(db, squad).often]


def test_days_in_a_row_say_how_many_there_may_be(db, squad, stamp):
    set_limit(db, squad.squad, limit("days_in_row", 3, squad.today, hard=False), stamp=stamp, today=squad.today)
    found = read(db, squad)
    assert found.days_said == ""
    assert "one after another at most 3: leave out" in found.often[0].said

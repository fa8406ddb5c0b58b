"""What the worn notice rests on for a week, on a squad that has a history."""

from datetime import date, timedelta

import numpy as np
import pytest
from sqlalchemy import select, update

from tests.simulate.test_club import squad_of
from uvren.core.notices import Severity
from uvren.core.worn import USUAL_LEVEL
from uvren.services.day.day import read_day
from uvren.services.day.facts import DAILY
from uvren.services.day.worn_basis import basis_on, keep_in, rates_on
from uvren.services.squad.notice_settings import NewSetting, save_setting
from uvren.services.stamp import Stamp
from uvren.simulate.seasons import NOW, TODAY
from uvren.store.models import Entry, Report, Scope, Session, User
from uvren.store.versions import written_at

MONDAY = TODAY - timedelta(days=TODAY.weekday())


@pytest.fixture
def squad(demo):
    return squad_of(demo, "tarnholm-handball")


def test_it_is_what_was_known_on_monday_whatever_comes_in_later(demo, squad):
    before = basis_on(demo, squad, TODAY, DAILY)
    written_at(demo, NOW)
    demo.execute(update(Report).where(Report.squad_id == squad.id).values(answers={}))
    sessions = select(Session.id).where(Session.squad_id == squad.id)
    demo.execute(update(Entry).where(Entry.session_id.in_(sessions)).values(effort=None))
    after = basis_on(demo, squad, TODAY, DAILY)
    assert after.level == before.level
    np.testing.assert_array_equal(after.variance, before.variance)
    demo.rollback()


def test_it_holds_from_monday_to_sunday(demo, squad):
    week = {basis_on(demo, squad, MONDAY + timedelta(days=i), DAILY).level for i in range(4)}
    assert len(week) == 1
    # Of the first weeks there is too little to go by.
    assert basis_on(demo, squad, date(2024, 9, 2), DAILY).level == USUAL_LEVEL


def test_the_rate_that_the_squad_chose_sets_the_level_from_the_next_monday_on(demo, squad):
    staff = demo.scalars(select(User).where(User.login == "performance")).one()
    now = basis_on(demo, squad, TODAY, DAILY).level
    new = NewSetting("worn", Scope.SQUAD, None, None, False, {"rate": 1.5}, "more of them")
    save_setting(demo, squad, new, stamp=Stamp(staff.id, NOW), today=MONDAY)
    assert basis_on(demo, squad, TODAY, DAILY).level < now
    assert basis_on(demo, squad, MONDAY - timedelta(days=1), DAILY).level != basis_on(demo, squad, MONDAY, DAILY).level
    demo.rollback()


def test_more_often_is_more_days_and_lower_levels(demo, squad):
    tried = rates_on(demo, squad, TODAY, DAILY)
    assert [one.level for one in tried] == sorted((one.level for one in tried), reverse=True)
    assert tried[0].days < tried[-1].days
    assert all(one.people <= 22 for one in tried)


def test_what_was_worked_out_once_is_kept_where_there_is_a_place_for_it(demo, squad):
    kept = {}
    keep_in(demo, kept)
    try:
        first = basis_on(demo, squad, TODAY, DAILY)
        assert basis_on(demo, squad, MONDAY, DAILY) is first
        assert basis_on(demo, squad, MONDAY - timedelta(days=1), DAILY) is not first
        assert len(kept) == 2
    finally:
        demo.info.pop("worn_basis")


def test_the_one_who_is_losing_ground_is_found_and_most_are_not(demo, squad):
    day = read_day(demo, squad, TODAY, TODAY)
    found = {
        member.name: {notice.code: notice for notice in notices}
        for member, notices in zip(day.members, day.found[0], strict=True)
    }
    worn = found["M. Zanotis"]
    assert worn["worn"].severity is Severity.ACT
    assert {"harder_for_weeks", "low_mood"} <= worn.keys()
    speaking = [
        name for name, codes in found.items() if "worn" in codes and codes["worn"].severity is not Severity.NOTE
    ]
    assert len(speaking) <= 7
    newcomer = found["D. Rosidrin"]["worn"]
    assert (newcomer.severity, newcomer.about) == (Severity.NOTE, "early")

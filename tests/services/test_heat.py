"""Squad by figure: the last session and the week, against a match and oneself."""

from datetime import timedelta

import numpy as np
import pytest

from tests.squad import noon
from uvren.services.session import planning
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.session.heat import read_heat
from uvren.services.stamp import Stamp
from uvren.store.models import SessionKind


@pytest.fixture
def put(db, squad):
    """Puts sessions of a kind on days back from today, and gives everybody the same minutes and ratings."""
    stamp = Stamp(squad.staff.id, noon(squad.today))

    def go(days, ratings, kind=SessionKind.COURT, athletes=squad.athletes):
        wanted = [planning.NewSession(noon(squad.today - timedelta(days=one)), kind, "More", 60, 5) for one in days]
        made = planning.plan_sessions(db, squad.squad, wanted)
        changes = [
            EntryChange(one.id, who, 60.0, effort)
            for one, effort in zip(made, ratings, strict=True)
            for who in athletes
        ]
        record_entries(db, squad.squad.id, changes, stamp=stamp, today=squad.today)
        return made

    return go


def row_of(heat, athlete):
    return next(row for row in heat.rows if row.athlete_id == athlete)


def test_a_session_is_held_against_a_match_and_the_own_ones_of_its_kind(db, squad, put):
    a, b = squad.athletes[:2]
    put(range(20, 26), [8.0] * 6, SessionKind.MATCH)
    put(range(30, 36), [2.0, 4, 2, 4, 2, 4], SessionKind.GYM, [a])
    (last,) = put([0], [6.0], SessionKind.GYM, [a])
    heat = read_heat(db, squad.squad, squad.today)
    assert heat.session.id == last.id
    cell = row_of(heat, a).session[0]
    assert (cell.amount, cell.percent, cell.estimated) == (360, pytest.approx(75), False)
    assert cell.z == pytest.approx((360 - 180) / np.std([120, 240] * 3, ddof=1))
    assert row_of(heat, b).session is None


def test_a_week_is_held_against_the_own_weeks_before_it(db, squad, put):
    a = squad.athletes[0]
    # Six sessions of 300 a week; every other week has one more, of 600.
    put([8, 22, 36, 50], [10.0] * 4)
    week = row_of(read_heat(db, squad.squad, squad.today), a).week[0]
    # Sixty days are eight whole weeks: this one and seven before it.
    usual = np.array([2400, 1800, 2400, 1800, 2400, 1800, 2400], dtype=float)
    assert week.z == pytest.approx((week.amount - usual.mean()) / usual.std(ddof=1))
    put([2], [10.0])
    more = row_of(read_heat(db, squad.squad, squad.today), a).week[0]
    assert more.amount == week.amount + 600
    assert more.z > week.z + 1


def test_a_rating_that_is_missing_is_an_estimate(db, squad, put):
    a = squad.athletes[0]
    put([0], [None], athletes=[a])
    row = row_of(read_heat(db, squad.squad, squad.today), a)
    assert row.session[0].estimated
    assert row.week[0].estimated


def test_before_the_first_session_there_is_nothing(db, squad):
    heat = read_heat(db, squad.squad, squad.today - timedelta(days=3000))
    assert heat.session is None
    assert all(row.session is None for row in heat.rows)

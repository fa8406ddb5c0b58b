"""What was planned against what was done: as written for each, and unknown where a rating lacks."""

from datetime import timedelta

import numpy as np
import pytest

from tests.conftest import NOW, TODAY
from uvren.services.day.loads import refresh_daily_loads
from uvren.services.stamp import Stamp
from uvren.services.week import saving
from uvren.services.week.compared import read_compared
from uvren.store.models import Squad
from uvren.store.types import new_ulid


def read(db, squad, day=TODAY):
    return read_compared(db, squad.squad, day, TODAY)


def rated(db, squad, i, day, minutes, effort):
    entry = squad.entry(db, squad.athletes[i], day)
    entry.minutes, entry.effort = minutes, effort
    db.flush()
    refresh_daily_loads(db, squad.squad.id, {(squad.athletes[i], day)})


def test_done_as_planned_is_all_of_it(db, squad):
    found = read(db, squad)
    assert found.said == "In the last seven days 100\xa0% of the planned load was done, a person."
    assert [(week.planned, week.done) for week in found.weeks] == [(1800, 1800)] * 4
    assert found.weeks[-1].last == TODAY - timedelta(days=1)
    assert found.weeks[0].first == TODAY - timedelta(days=28)


def test_who_is_furthest_from_plan_stands_first(db, squad):
    rated(db, squad, 1, TODAY - timedelta(days=2), 60.0, 8.0)
    rated(db, squad, 2, TODAY - timedelta(days=2), 30.0, 3.0)
    found = read(db, squad)
    assert [one.name for one in found.people] == ["C", "B", "A", "D"]
    worst, loads = found.people[0].week, [300, 300, 300, 0, 300, 90, 300]
    assert (worst.planned, worst.done, worst.minutes_planned, worst.minutes_done) == (1800, 1590, 360, 330)
    assert worst.spread == pytest.approx(np.mean(loads) / np.std(loads, ddof=1))
    assert worst.strain == pytest.approx(worst.spread * 1590)


def test_who_was_planned_for_less_is_held_against_that(db, squad):
    coming = squad.on(TODAY)
    saving.plan_own(db, squad.squad, {(squad.athletes[0], coming.id): 20.0}, stamp=Stamp(None, NOW))
    found = read_compared(db, squad.squad, TODAY + timedelta(days=1), TODAY)
    assert next(one for one in found.people if one.name == "A").week.planned == 1600


def test_without_a_rating_what_was_done_is_not_known(db, squad):
    rated(db, squad, 0, TODAY - timedelta(days=1), 60.0, None)
    rated(db, squad, 0, TODAY - timedelta(days=2), None, None)
    week = next(one for one in read(db, squad).people if one.name == "A").week
    assert (week.planned, week.done, week.spread, week.strain) == (1800, None, None, None)
    # Of the squad it is the mean of those of whom it is known.
    assert read(db, squad).weeks[-1].done == 1800


def test_before_anybody_was_there_is_nothing_to_compare(db, squad):
    empty = Squad(club_id=squad.squad.club_id, slug=f"none-{new_ulid()[-8:].lower()}", name="None", time_zone="UTC")
    db.add(empty)
    db.flush()
    assert read_compared(db, empty, TODAY, TODAY) is None

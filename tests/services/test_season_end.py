"""A season's end is everybody's break: told until the way back from it is planned."""

from datetime import timedelta

import pytest

from tests.conftest import NOW, TODAY
from tests.returning import begun, hurt, read
from tests.squad import noon
from uvren.core.audience import LEAST
from uvren.core.season import Phase, PhaseKind
from uvren.services.return_ import plans
from uvren.services.return_.plans import SquadBreak
from uvren.services.season.phases import save as save_season
from uvren.services.session.planning import NewSession, plan_sessions
from uvren.services.stamp import Stamp
from uvren.services.versions import WHATEVER
from uvren.store.models import SessionKind


def transition(db, squad, first, last, kind=PhaseKind.TRANSITION):
    phases = [Phase(kind, "Summer", first, last)]
    save_season(db, squad.squad, phases, edition=WHATEVER, stamp=Stamp(squad.staff.id, NOW))


def test_the_end_of_a_season_is_told_until_the_way_back_from_it_is_planned(db, squad, by):
    first, last = TODAY + timedelta(days=5), TODAY + timedelta(days=32)
    match_day = last + timedelta(days=20)
    plan_sessions(db, squad.squad, [NewSession(noon(match_day), SessionKind.MATCH, "Quellby", 60, 8)])
    transition(db, squad, first, last)
    back = last + timedelta(days=1)
    told = read(db, squad, audiences=LEAST).season_break
    assert (told.name, told.first_off, told.first_day, told.target) == ("Summer", first, back, match_day)
    assert told.said == "Summer: 28 days from Tue 17 March, back on Tue 14 April. First match Sun 3 May."
    made, _ = plans.begin_for_all(db, squad.squad, SquadBreak(told.first_off, told.first_day, told.target), by)
    assert len(made) == len(squad.athletes)
    assert read(db, squad).season_break is None
    for plan in made:
        plans.take_back(db, squad.squad, plan.id, by)
    assert read(db, squad).season_break == told


@pytest.mark.parametrize(
    ("first", "last", "there"),
    [(28, 40, True), (29, 40, False), (-10, 0, True), (-10, -1, False), (1, 7, True), (1, 6, False)],
)
def test_only_days_off_that_are_near_and_long_enough_are_told(db, squad, by, first, last, there):
    transition(db, squad, TODAY + timedelta(days=first), TODAY + timedelta(days=last))
    found = read(db, squad).season_break
    assert (found is not None) is there
    assert found is None or found.target is None
    transition(db, squad, TODAY + timedelta(days=first), TODAY + timedelta(days=last), PhaseKind.COMPETITION)
    assert read(db, squad).season_break is None


def test_who_is_hurt_while_the_season_ends_hides_its_end_from_nobody(db, squad, by):
    transition(db, squad, TODAY - timedelta(days=3), TODAY + timedelta(days=20))
    hurt(db, squad, by, first_off=TODAY - timedelta(days=1), first_day=TODAY)
    assert read(db, squad).season_break is not None
    # A layoff in it is what is planned for.
    begun(db, squad, by, i=1, first_off=TODAY - timedelta(days=2), first_day=TODAY + timedelta(days=21))
    assert read(db, squad).season_break is None

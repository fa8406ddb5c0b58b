"""A squad's phases: written as a whole, never over what somebody else said meanwhile."""

from datetime import timedelta

import pytest

from tests.conftest import NOW, TODAY
from uvren.core.season import Phase, PhaseKind
from uvren.services.errors import Invalid, Stale
from uvren.services.season import phases
from uvren.services.stamp import Stamp

BY = Stamp(None, NOW)
SUMMER = Phase(PhaseKind.PREPARATION, "", TODAY - timedelta(days=8), TODAY + timedelta(days=5))
LEAGUE = Phase(PhaseKind.COMPETITION, " League ", TODAY + timedelta(days=6), TODAY + timedelta(days=200))


def test_a_squad_begins_without_phases(db, squad):
    assert phases.read(db, squad.squad, TODAY) == phases.Season([], None, None, None)


def test_phases_stand_by_their_days_and_are_called_by_their_kind_where_nobody_named_them(db, squad):
    edition = phases.save(db, squad.squad, [LEAGUE, SUMMER], edition=None, stamp=BY)
    season = phases.read(db, squad.squad, TODAY)
    assert [phase.name for phase in season.phases] == ["Preparation", "League"]
    assert (season.edition, season.standing.week, season.next.name) == (edition, 2, "League")


def test_what_was_said_meanwhile_is_not_written_over(db, squad):
    first = phases.save(db, squad.squad, [SUMMER], edition=None, stamp=BY)
    second = phases.save(db, squad.squad, [SUMMER, LEAGUE], edition=first, stamp=BY)
    for seen in (None, first):
        with pytest.raises(Stale) as stale:
            phases.save(db, squad.squad, [], edition=seen, stamp=BY)
        assert stale.value.extra["theirs"]["version"] == second
    assert phases.save(db, squad.squad, [], edition=second, stamp=BY) is None
    assert phases.read(db, squad.squad, TODAY).phases == []


@pytest.mark.parametrize(
    ("wanted", "field"),
    [
        ([SUMMER, SUMMER], "phases.1.first"),
        ([SUMMER, Phase(PhaseKind.TRANSITION, "x" * 61, LEAGUE.first, LEAGUE.last)], "phases.1.name"),
        ([LEAGUE, Phase(PhaseKind.TRANSITION, "", SUMMER.last, SUMMER.first)], "phases.1.last"),
        ([SUMMER] * 61, "phases"),
    ],
)
def test_what_cannot_be_leaves_the_season_as_it_is(db, squad, wanted, field):
    edition = phases.save(db, squad.squad, [SUMMER], edition=None, stamp=BY)
    with pytest.raises(Invalid) as raised:
        phases.save(db, squad.squad, wanted, edition=edition, stamp=BY)
    assert raised.value.field == field
    assert phases.read(db, squad.squad, TODAY).edition == edition

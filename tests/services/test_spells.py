"""Counts of the week ahead in spells."""

from datetime import timedelta

import pytest

from tests.squad import limit, noon
from uvren.services.field import noting
from uvren.services.return_ import clinical
from uvren.services.return_.clinical import NewRestriction
from uvren.services.session.work import WorkChange, record_work
from uvren.services.squad.channels import Draft, save_channel
from uvren.services.squad.limits import set_limit
from uvren.services.stamp import Stamp
from uvren.services.week.spells import read_spells
from uvren.store.models import Availability, SessionKind, Source


@pytest.fixture
def stamp(squad):
    return Stamp(squad.staff.id, noon(squad.today))


@pytest.fixture
def throws(db, squad, stamp):
    """A unit of throws with a limit; the first two have had thirty in each court hour of four weeks."""
    first = squad.today - timedelta(days=56)
    draft = Draft("Throws", "throws", "counted", {"classes": [{"code": "full", "name": "Full throw", "weight": 1.0}]},
                  [SessionKind.COURT], ["shoulder"], "wedge", first, "agreed")  # fmt: skip
    made = save_channel(db, squad.squad, draft, code=None, recompute=True, stamp=stamp, today=squad.today)
    counted = {"items": [{"class": "full", "surface": None, "posture": None, "count": 30.0}]}
    days = [one for one in squad.sessions if squad.today - timedelta(days=28) <= one.day < squad.today]
    changes = [
        WorkChange(one.id, athlete, "counted", counted, source=Source.STAFF)
        for one in days
        for athlete in squad.athletes[:2]
    ]
    record_work(db, squad.squad.id, changes, stamp=stamp, today=squad.today)
    wanted = limit("week_change_cap", 0.3, squad.today, channel=made.code)
    set_limit(db, squad.squad, wanted, stamp=stamp, today=squad.today)


def spell(db, squad, stamp, athlete, most, minutes):
    noting.set_spell(db, squad.squad, noting.NewSpell(athlete, "full", most, minutes), squad.today, stamp=stamp)


def test_a_count_over_a_spell_is_told_in_spells_with_its_breaks(db, squad, throws, stamp):
    a = squad.athletes[0]
    spell(db, squad, stamp, a, 12, 10)
    found = read_spells(db, squad.squad, squad.today, squad.today)
    assert {one.athlete_id for one in found} == {a}
    assert [one.day for one in found] == sorted(one.day for one in found)
    first = found[0]
    assert (first.count, first.fits) == (30, True)
    assert first.said == "Full throw, up to 30: 3 spells of 10, 10 min between"
    # One for everybody holds for who has none of their own.
    spell(db, squad, stamp, None, 20, 5)
    found = read_spells(db, squad.squad, squad.today, squad.today)
    said = {one.athlete_id: one.said.split(": ")[1] for one in found}
    assert said[a] == "3 spells of 10, 10 min between"
    # Of whom nothing was counted yet, the others tell what is usual.
    assert {said[one] for one in squad.athletes[1:]} == {"2 spells of 15, 5 min between"}


def test_what_a_session_has_no_room_for_is_said_with_what_it_has(db, squad, throws, stamp):
    a = squad.athletes[0]
    spell(db, squad, stamp, a, 6, 10)
    first = read_spells(db, squad.squad, squad.today, squad.today)[0]
    # Five spells have 40 min of breaks: more than half of the hour.
    assert not first.fits
    assert first.said.endswith("5 spells of 6, 10 min between; 60 min have room for 24")


def test_what_is_under_a_spell_or_not_counted_is_nothing_to_say(db, squad, throws, stamp):
    spell(db, squad, stamp, squad.athletes[0], 30, 10)
    # Of something that no unit counts there is nothing to tell.
    noting.set_spell(db, squad.squad, noting.NewSpell(None, "jump", 1, 10), squad.today, stamp=stamp)
    assert read_spells(db, squad.squad, squad.today, squad.today) == []


def test_whoever_is_restricted_is_offered_no_count(db, squad, throws, stamp):
    a = squad.athletes[0]
    spell(db, squad, stamp, a, 12, 10)
    assert read_spells(db, squad.squad, squad.today, squad.today)
    wanted = NewRestriction(a, Availability.LIMITED, "no full throws", "", squad.today, None)
    clinical.restrict(db, squad.squad, wanted, stamp=stamp, today=squad.today)
    assert read_spells(db, squad.squad, squad.today, squad.today) == []


def test_without_a_spell_there_is_nothing(db, squad):
    assert read_spells(db, squad.squad, squad.today, squad.today) == []

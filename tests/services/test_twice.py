"""Twice is once, and nobody overwrites what they have not seen."""

from datetime import timedelta

import pytest
from sqlalchemy import func, select

from tests.conftest import NOW, TODAY
from uvren.core.body import Pain, Side, Site
from uvren.services.errors import Invalid, Stale
from uvren.services.return_ import clinical, rest_trials
from uvren.services.return_.clinical import NewRestriction
from uvren.services.squad.fitness_tests import Draft, save_test
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Availability, Complaint, Restriction, RestTrial


@pytest.fixture
def who(squad):
    return {"stamp": Stamp(squad.staff.id, NOW), "today": TODAY}


def count(db, model, squad):
    return db.scalar(select(func.count()).select_from(model).where(model.squad_id == squad.squad.id))


def test_an_injury_a_trial_and_a_restriction_sent_twice_are_one(db, squad, who):
    pain = Pain(Site.KNEE, Side.LEFT, 7)
    first, second = (clinical.record_injury(db, squad.squad, squad.athletes[0], pain, "fell", **who) for _ in range(2))
    assert (first.id, count(db, Complaint, squad)) == (second.id, 1)
    other = Pain(Site.KNEE, Side.RIGHT, 7)
    clinical.record_injury(db, squad.squad, squad.athletes[0], other, "fell", **who)
    assert count(db, Complaint, squad) == 2
    for _ in range(2):
        rest_trials.start(db, squad.squad, squad.athletes[1], TODAY, 7, **who)
    assert count(db, RestTrial, squad) == 1
    with pytest.raises(Invalid, match="already"):
        rest_trials.start(db, squad.squad, squad.athletes[1], TODAY, 14, **who)
    new = NewRestriction(squad.athletes[2], Availability.LIMITED, "no jumps", "", TODAY, None)
    assert clinical.restrict(db, squad.squad, new, **who).id == clinical.restrict(db, squad.squad, new, **who).id
    assert count(db, Restriction, squad) == 1


def test_two_clinicians_who_say_different_things_are_both_heard(db, squad, who):
    first = clinical.restrict(
        db, squad.squad, NewRestriction(squad.athletes[0], Availability.OUT, "", "", TODAY, None), **who
    )
    second = NewRestriction(squad.athletes[0], Availability.LIMITED, "no jumps", "", TODAY, None, 0.5)
    with pytest.raises(Stale, match="has said something else") as refused:
        clinical.restrict(db, squad.squad, second, **who)
    assert refused.value.extra["theirs"]["id"] == first.id
    assert refused.value.extra["yours"]["change"] == "no jumps"
    seen = NewRestriction(squad.athletes[0], Availability.LIMITED, "no jumps", "", TODAY, None, 0.5, replaces=first.id)
    made = clinical.restrict(db, squad.squad, seen, **who)
    (standing,) = queries.return_.restrictions_on(db, squad.squad.id, TODAY)
    assert standing.id == made.id


def test_an_answer_is_not_overwritten_by_who_has_not_seen_it(db, squad, who):
    told = clinical.record_injury(db, squad.squad, squad.athletes[0], Pain(Site.KNEE, Side.LEFT, 7), None, **who)
    clinical.answer(db, squad.squad, told.id, "ice", False, version=1, **who)
    # The same answer sent again is the same answer.
    clinical.answer(db, squad.squad, told.id, "ice", False, version=1, **who)
    assert told.version == 2
    with pytest.raises(Stale, match="ice") as refused:
        clinical.answer(db, squad.squad, told.id, "", True, version=1, **who)
    assert refused.value.extra["theirs"] == {"answer": "ice", "again_on": None, "closed_on": None, "version": 2}
    assert refused.value.extra["yours"]["closed_on"] == str(TODAY)
    assert (told.answer, told.closed_on) == ("ice", None)
    again = TODAY + timedelta(days=2)
    clinical.answer(db, squad.squad, told.id, "warmth", False, again, version=2, **who)
    assert (told.answer, told.again_on, told.version) == ("warmth", again, 3)


def test_a_test_is_not_overwritten_by_who_has_not_seen_it(db, squad):
    stamp = Stamp(squad.staff.id, NOW)
    made = save_test(db, squad.squad, Draft("Sprint", "s"), code=None, stamp=stamp)
    save_test(db, squad.squad, Draft("Sprint", "s", trials=2), code=made.code, version=1, stamp=stamp)
    with pytest.raises(Stale) as refused:
        save_test(db, squad.squad, Draft("Sprint", "s", trials=5), code=made.code, version=1, stamp=stamp)
    assert (refused.value.extra["theirs"]["trials"], refused.value.extra["yours"]["trials"]) == (2, 5)
    last = save_test(db, squad.squad, Draft("Sprint", "s", trials=5), code=made.code, version=2, stamp=stamp)
    assert last.trials == 5

"""Sides over the wire: who reads them, that no look is stale, and what stands at its field."""

from datetime import timedelta

import pytest

from tests.conftest import NOW, TODAY
from uvren.core.trials import Combine
from uvren.services.squad import fitness_results
from uvren.services.squad import fitness_tests as testing
from uvren.services.squad.fitness_results import NewResult
from uvren.services.squad.fitness_tests import Draft
from uvren.services.stamp import Stamp
from uvren.store.models import Role

PAIR = {"name": "Hip", "left": 100.0, "right": 97.0}


@pytest.fixture
def uneven(db, squad):
    """Three tests in which the first athlete's right side is the weaker one."""
    stamp = Stamp(squad.staff.id, NOW)
    draft = Draft("Squat", "N", trials=1, sides=True, combine=Combine.MEAN, typical_error=20, worthwhile=20)
    test = testing.save_test(db, squad.squad, draft, code=None, stamp=stamp)
    for back in (60, 30, 5):
        for side, value in (("left", 1000.0), ("right", 800.0)):
            new = NewResult(squad.athletes[0], (value,), side=side, sure=True)
            day = TODAY - timedelta(days=back)
            fitness_results.record(db, squad.squad, test, day, [new], stamp=stamp, today=TODAY)
    db.commit()
    return test


def test_every_step_is_there_at_the_next_look(staff, base, squad, uneven):
    look = f"{base}/sides?day={TODAY}"
    (row,) = staff.get(look).json["rows"]
    assert (row["check"], row["asks"]) == (None, "range")
    begun = staff.write("POST", f"{base}/sides", {"athlete_id": squad.athletes[0], "test": uneven.code}).json["id"]
    assert staff.get(look).json["rows"][0]["check"] == begun
    body = {"ranges": [PAIR], "strengths": [], "version": 1}
    assert staff.write("PUT", f"{base}/sides/{begun}", body).status_code == 200
    assert staff.get(look).json["rows"][0]["asks"] == "strength"
    late = staff.write("PUT", f"{base}/sides/{begun}", body)
    assert late.status_code == 409
    wrong = staff.write("PUT", f"{base}/sides/{begun}", body | {"ranges": [PAIR | {"left": 0}], "version": 2})
    assert (wrong.status_code, wrong.json["errors"][0]["field"]) == (422, "ranges.0.left")
    assert staff.write("POST", f"{base}/sides/{begun}/end", {"ended": True}).status_code == 200
    # The tests still differ: it can be begun anew.
    assert staff.get(look).json["rows"][0]["check"] is None


def test_a_coach_reads_nothing_of_it(sign_in_as, base, uneven):
    coach = sign_in_as(Role.COACH)
    assert coach.get(f"{base}/sides?day={TODAY}").status_code == 403
    assert coach.write("POST", f"{base}/sides", {"athlete_id": 1, "test": uneven.code}).status_code == 403

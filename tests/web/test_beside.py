"""Without load, over the wire: who plans it, that no look is stale, and that nothing of why is in it."""

from datetime import timedelta

import pytest

from tests.conftest import NOW, TODAY
from uvren.services.session.planning import NewSession, plan_sessions
from uvren.store.models import Role, SessionKind
from uvren.store.types import new_ulid


@pytest.fixture
def evening(db, squad):
    wanted = NewSession(NOW + timedelta(hours=6), SessionKind.COURT, "Evening", 60, 5)
    (made,) = plan_sessions(db, squad.squad, [wanted])
    db.commit()
    return made


@pytest.fixture
def clinician(sign_in_as):
    return sign_in_as(Role.CLINICIAN, "Dr. P. Ellune")


@pytest.fixture
def plan(clinician, base, squad):
    body = {
        "athlete_id": squad.athletes[0], "kind": "injury", "template": "shoulder", "site": "shoulder", "side": "right",
        "first_off": str(TODAY - timedelta(days=14)), "first_day": str(TODAY),
    }  # fmt: skip
    return clinician.write("POST", f"{base}/return", body).json["id"]


def how_of(client, base, plan, session):
    rows = client.get(f"{base}/return/{plan}?day={TODAY}").json["beside"]
    return next(one["how"] for one in rows if one["session_id"] == session.id)


@pytest.mark.parametrize("role", [Role.COACH, Role.PERFORMANCE, Role.CLINICIAN])
def test_whoever_plans_says_how_and_every_look_follows(sign_in_as, clinician, base, squad, evening, plan, role):
    who = clinician if role is Role.CLINICIAN else sign_in_as(role, "Who Plans")
    path = f"{base}/return/{plan}/beside"
    assert how_of(who, base, plan, evening) is None
    assert who.write("PUT", path, {"session_id": evening.id, "how": "tactics"}).status_code == 200
    assert how_of(who, base, plan, evening) == "tactics"
    lines = [line for group in who.get(f"{base}/sheet?day={TODAY}").json["groups"] for line in group["lines"]]
    assert next(one["how"] for one in lines if one["athlete_id"] == squad.athletes[0]).endswith(
        "joins the tactics (Evening)"
    )
    rows = who.get(f"{base}/sessions/{evening.id}").json["rows"]
    assert {one["name"]: one["beside"] for one in rows}["A"] == "joins the tactics"
    assert who.write("PUT", path, {"session_id": evening.id, "how": None}).status_code == 200
    assert how_of(who, base, plan, evening) is None


def test_what_makes_no_sense_is_refused(sign_in_as, base, evening, plan):
    coach = sign_in_as(Role.COACH)
    path = f"{base}/return/{plan}/beside"
    assert coach.write("PUT", path, {"session_id": evening.id, "how": "sleep"}).status_code == 422
    assert coach.write("PUT", path, {"session_id": new_ulid(), "how": "watch"}).status_code == 404
    assert (
        coach.write("PUT", f"{base}/return/{new_ulid()}/beside", {"session_id": evening.id, "how": "watch"}).status_code
        == 404
    )
    assert how_of(coach, base, plan, evening) is None

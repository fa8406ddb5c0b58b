"""Return over the wire: who does what, what is noted, and what stands at its field."""

import io
from datetime import timedelta

import pytest
from pypdf import PdfReader

from tests.conftest import TODAY
from tests.returning import plain
from tests.squad import noon
from uvren.core.returns import TEMPLATES
from uvren.services.session.planning import NewSession, plan_sessions
from uvren.store.models import Audit, Role, SessionKind
from uvren.store.types import new_ulid

SOON = TODAY + timedelta(days=9)


@pytest.fixture
def base(squad):
    return f"/api/squads/{squad.squad.slug}/return"


@pytest.fixture
def clinician(sign_in_as):
    return sign_in_as(Role.CLINICIAN, "Dr. P. Ellune")


@pytest.fixture
def body(squad):
    return {
        "athlete_id": squad.athletes[0], "kind": "injury", "template": "shoulder", "site": "shoulder", "side": "right",
        "first_off": str(TODAY - timedelta(days=14)), "first_day": str(TODAY), "target_day": str(SOON),
    }  # fmt: skip


@pytest.fixture
def plan(clinician, base, body):
    return clinician.write("POST", base, body).json["id"]


def whole(client, base, plan):
    return client.get(f"{base}/{plan}?day={TODAY}").json


def test_a_clinician_measures_gives_the_word_and_moves_the_stage(clinician, base, plan):
    at = f"{base}/{plan}"
    assert (
        clinician.write("POST", f"{at}/measured", {"criterion": "range", "value": 165, "other": 170}).status_code == 200
    )
    assert clinician.write("POST", f"{at}/word", {}).status_code == 200
    found = whole(clinician, base, plan)
    refused = clinician.write("POST", f"{at}/stage", {"to": 2, "version": found["version"]})
    assert (refused.status_code, refused.json["errors"][0]["field"]) == (422, "words")
    moved = clinician.write("POST", f"{at}/stage", {"to": 2, "version": found["version"], "words": "seen"})
    assert moved.status_code == 200
    late = clinician.write("POST", f"{at}/stage", {"to": 3, "version": found["version"], "words": "seen"})
    assert late.status_code == 409
    assert whole(clinician, base, plan)["stage"]["number"] == 2
    assert clinician.write("POST", f"{at}/take-back").status_code == 200
    assert whole(clinician, base, plan)["stage"]["number"] == 1


def test_a_coach_steps_back_picks_minutes_and_moves_nothing_on(db, squad, sign_in_as, clinician, base, plan):
    match = NewSession(noon(SOON), SessionKind.MATCH, "Quellby", 60, 8)
    (session,) = plan_sessions(db, squad.squad, [match])
    coach = sign_in_as(Role.COACH)
    part = whole(coach, base, plan)["ways"][2]
    assert part["matches"] == [
        {"session_id": session.id, "name": "Quellby", "day": str(SOON), "minutes": 30.0, "whole": 60.0}
    ]
    wanted = {"matches": [{"session_id": session.id, "minutes": 30.0}]}
    assert coach.write("PUT", f"{base}/{plan}/minutes", wanted).json == {
        "matches": [{"session_id": session.id, "minutes": None}]
    }
    # The week has them.
    week = coach.get(f"/api/squads/{squad.squad.slug}/week?day={SOON}").json
    row = next(one for one in week["rows"] if one["athlete_id"] == squad.athletes[0])
    assert row["cells"][0]["plan"] == pytest.approx(30 * 7)
    assert coach.write("POST", f"{base}/{plan}/stage", {"to": 2, "version": 1, "words": "fine"}).status_code == 403
    assert coach.write("PUT", f"{base}/{plan}", {"version": 1, "target_day": None}).status_code == 403


def test_a_second_plan_names_the_one_that_runs(clinician, base, plan, body):
    refused = clinician.write("POST", base, body | {"template": "knee", "site": "knee"})
    assert refused.status_code == 422
    assert refused.json["running"] == plan
    assert (
        clinician.write("POST", base, body | {"template": "knee", "site": "knee", "replaces": plan}).status_code == 200
    )


def test_whoever_looks_at_clinical_detail_is_noted_and_nobody_else(db, squad, sign_in_as, clinician, base, plan):
    sign_in_as(Role.COACH).get(f"{base}/{plan}?day={TODAY}")
    seen = db.query(Audit).filter_by(action="clinical_seen", squad_id=squad.squad.id)
    assert seen.count() == 0
    clinician.get(f"{base}/{plan}?day={TODAY}")
    assert [one.athlete_id for one in seen] == [squad.athletes[0]]
    noted = {one.action for one in db.query(Audit).filter_by(squad_id=squad.squad.id)}
    assert "return_begun" in noted


def test_a_whole_squads_break_and_the_sign_off(squad, clinician, base, plan):
    wanted = {"first_off": str(TODAY + timedelta(days=20)), "first_day": str(TODAY + timedelta(days=48))}
    answer = clinician.write("POST", f"{base}/squad-break", wanted).json
    assert (len(answer["made"]), answer["left"]) == (3, ["A"])
    assert clinician.write("PUT", f"{base}/sign-off", {"allowed": True}).status_code == 200
    found = clinician.get(f"{base}?day={TODAY}").json
    assert (found["sign_off"], len(found["rows"])) == (True, 4)
    templates = clinician.get(f"{base}/templates").json["templates"]
    assert [one["code"] for one in templates] == list(TEMPLATES)


def test_a_change_and_an_end_are_kept_with_their_words(clinician, base, plan):
    found = whole(clinician, base, plan)
    change = {"version": found["version"], "target_day": str(SOON + timedelta(days=14)), "words": "later match"}
    assert clinician.write("PUT", f"{base}/{plan}", change).status_code == 200
    found = whole(clinician, base, plan)
    assert (found["row"]["days_short"], found["events"][0]["said"]) == (
        0,
        "other date: back by Sat 4 April; later match",
    )
    assert clinician.write("POST", f"{base}/{plan}/keep", {"words": "fine"}).status_code == 200
    assert clinician.write("POST", f"{base}/{plan}/end", {"words": "moved away"}).status_code == 200
    assert clinician.get(f"{base}/{plan}?day={TODAY}").status_code == 404


@pytest.mark.parametrize("field", ["first_off", "first_day", "target_day"])
def test_a_day_too_far_away_is_said_at_its_field(clinician, base, body, field):
    refused = clinician.write("POST", base, body | {field: "2190-01-01"})
    assert refused.status_code == 422
    assert refused.json["errors"][0]["field"] == field


def test_another_squads_plan_is_not_there(neighbour, clinician, base, plan):
    assert clinician.get(f"{base}/{new_ulid()}?day={TODAY}").status_code == 404
    other = f"/api/squads/{neighbour.squad.slug}/return/{plan}?day={TODAY}"
    assert clinician.get(other).status_code == 404


def test_plans_are_taken_out_as_files_with_as_much_as_one_may_know(db, squad, sign_in_as, clinician, base, plan):
    weeks = clinician.get(f"{base}/weeks.csv?day={TODAY}").text.splitlines()
    # Two weeks off: three steps of the main channel.
    assert len(weeks) == 1 + 3
    assert weeks[1].split(",")[:4] == [plan, "A", "wing", "right shoulder"]
    assert weeks[1].endswith(f",{TODAY},no,50.0,900.0")
    criteria = clinician.get(f"{base}/criteria.csv?day={TODAY}").text
    assert "Range, arm raised" in criteria
    assert "plan begun" in clinician.get(f"{base}/log.jsonl?day={TODAY}").text
    (one,) = clinician.get(f"{base}/plans.json?day={TODAY}").json
    assert (one["row"]["plan_id"], one["stage"]["number"]) == (plan, 1)
    staff = sign_in_as(Role.PERFORMANCE)
    assert "shoulder" not in staff.get(f"{base}/weeks.csv?day={TODAY}").text
    assert len(staff.get(f"{base}/criteria.csv?day={TODAY}").text.splitlines()) == 1
    assert sign_in_as(Role.COACH).get(f"{base}/weeks.csv?day={TODAY}").status_code == 403
    assert staff.get(f"{base}/weeks.doc?day={TODAY}").status_code == 404
    assert staff.get(f"{base}/reasons.csv?day={TODAY}").status_code == 404
    noted = [one.details for one in db.query(Audit).filter_by(action="returns_taken_out", squad_id=squad.squad.id)]
    assert {"clinical": True} in noted
    assert {"clinical": False} in noted


def test_cases_are_counted_by_exposure_for_clinicians_alone(db, squad, sign_in_as, clinician, base, plan, body):
    found = clinician.get(f"{base}/cases?day={TODAY}").json
    # Sixty days of an hour for four people, Sundays off; two weeks away, and back today.
    hours = sum(session.day < TODAY for session in squad.sessions) * 4.0
    assert (found["training_hours"], found["match_hours"]) == (hours, 0.0)
    (row,) = found["rows"]
    assert (row["what"], row["out"], row["part"], row["again"], row["lasts"]) == ("right shoulder", 14, 0, False, True)
    assert found["injuries"]["rate"] == pytest.approx(1000 / hours)
    assert found["injuries"]["days_rate"] == pytest.approx(14000 / hours)
    assert found["injuries"]["low"] < found["injuries"]["rate"] < found["injuries"]["high"]
    assert (found["illnesses"]["n"], found["illnesses"]["rate"]) == (0, 0.0)
    again = body | {"first_off": str(TODAY), "first_day": str(TODAY + timedelta(days=5)), "onset": "sudden",
                    "mechanism": "throw", "replaces": plan}  # fmt: skip
    assert clinician.write("POST", base, again).status_code == 200
    first, second = clinician.get(f"{base}/cases?day={TODAY}").json["rows"]
    assert (first["again"], first["onset"], first["mechanism"], first["out"]) == (True, "sudden", "throw", 0)
    assert (second["again"], second["lasts"]) == (False, False)
    for role in (Role.COACH, Role.PERFORMANCE):
        assert sign_in_as(role).get(f"{base}/cases?day={TODAY}").status_code == 403
    # Days on which nothing began, and nobody was in anything.
    nothing = clinician.get(f"{base}/cases?day={TODAY - timedelta(days=100)}&days=28").json
    assert (nothing["rows"], nothing["injuries"]["rate"]) == ([], None)


@pytest.fixture
def summary():
    return {"day": str(TODAY), "to": "Clinic at Harn, Dr. Q. Velt", "consent": "on paper, 11 March"}


def test_a_summary_for_another_clinic_says_where_it_stands_and_by_whose_leave(db, clinician, base, plan, summary):
    clinician.write("POST", f"{base}/{plan}/measured", {"criterion": "range", "value": 165, "other": 170})
    answer = clinician.write("POST", f"{base}/{plan}/summary", summary)
    assert (answer.status_code, answer.mimetype) == (200, "application/pdf")
    text = plain(" ".join(page.extract_text() for page in PdfReader(io.BytesIO(answer.data)).pages))
    for said in ("right shoulder", "for Clinic at Harn", "on paper, 11 March (noted by Dr. P. Ellune", "Stage 1 of 5",
                 "Range", "165 against 170", "usual week"):  # fmt: skip
        assert said in " ".join(text.split()), said
    assert [one.details["step"] for one in db.query(Audit).filter_by(action="return_changed").order_by(Audit.id)][
        -1
    ] == "given"


@pytest.mark.parametrize("field", ["to", "consent"])
def test_without_a_name_or_the_athletes_leave_nothing_is_given_out(clinician, base, plan, summary, field):
    refused = clinician.write("POST", f"{base}/{plan}/summary", summary | {field: "  "})
    assert (refused.status_code, refused.json["errors"][0]["field"]) == (422, field)
    assert len(whole(clinician, base, plan)["events"]) == 1


def test_that_a_summary_was_given_is_for_clinicians_and_stays(sign_in_as, clinician, base, plan, summary):
    clinician.write("POST", f"{base}/{plan}/word", {})
    assert clinician.write("POST", f"{base}/{plan}/summary", summary).status_code == 200
    events = [one["said"] for one in whole(clinician, base, plan)["events"]]
    assert events[:2] == [
        "summary given: to Clinic at Harn, Dr. Q. Velt; consent: on paper, 11 March", "a clinician’s word"
    ]  # fmt: skip
    coach = sign_in_as(Role.COACH)
    assert [one["said"] for one in whole(coach, base, plan)["events"]] == ["plan begun"]
    assert coach.write("POST", f"{base}/{plan}/summary", summary).status_code == 403
    # What is taken back is the word before it.
    assert clinician.write("POST", f"{base}/{plan}/take-back").status_code == 200
    assert [one["said"][:13] for one in whole(clinician, base, plan)["events"]] == ["summary given", "plan begun"]

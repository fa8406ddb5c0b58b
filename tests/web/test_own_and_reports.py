"""Reports and tests over HTTP: the athlete on the phone, and the staff who see, enter, settle and test."""

from datetime import timedelta

import pytest
from sqlalchemy import select

from tests.conftest import NOW, TODAY
from uvren.store.models import FitnessResult
from uvren.store.types import new_ulid

YESTERDAY = TODAY - timedelta(days=1)


@pytest.fixture
def own(base):
    return f"{base}/own"


def daily(**more):
    given = {"kind": "daily", "day": str(TODAY), "answers": {"energy": 6, "mood": 7}, "made_at": NOW.isoformat()}
    return given | more


def give(client, own, key=None, **more):
    return client.write("PUT", f"{own}/reports/{key or new_ulid()}", daily(**more))


def due(client, own, kind="daily"):
    return next(one for one in client.get(own).json["dues"] if one["kind"] == kind)


def row(client, base, name="A"):
    return next(one for one in client.get(f"{base}/reports?day={TODAY}").json["rows"] if one["name"] == name)


def test_a_report_from_the_phone_is_on_the_staffs_list_and_sent_again_it_is_the_same(athlete, staff, own, base):
    assert due(athlete, own)["given"] is None
    assert row(staff, base)["state"] == "missing"
    key = new_ulid()
    first = give(athlete, own, key)
    again = give(athlete, own, key, answers={"mood": 1})
    assert (first.status_code, again.status_code) == (200, 200)
    assert due(athlete, own)["given"]["answers"] == {"energy": 6, "mood": 7}
    found = row(staff, base)
    assert (found["state"], found["daily"]["answers"]["mood"]) == ("in", 7)


def test_of_two_reports_from_two_devices_the_athlete_says_which_counts(athlete, own):
    give(athlete, own)
    other = give(athlete, own, answers={"energy": 2, "mood": 3}).json
    seen = due(athlete, own)
    assert seen["given"]["answers"]["mood"] == 7
    (rival,) = seen["rivals"]
    assert rival["answers"]["mood"] == 3
    chosen = athlete.write("POST", f"{own}/reports/{rival['id']}/choose")
    assert chosen.status_code == 200, other
    after = due(athlete, own)
    assert (after["given"]["answers"]["mood"], after["rivals"]) == (3, [])
    assert athlete.write("POST", f"{own}/reports/{new_ulid()}/choose").status_code == 404


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"answers": {"mood": 11}}, "answers.mood"),
        ({"answers": {"horoscope": 5}}, "answers.horoscope"),
        ({"answers": {"mood": "good"}}, "answers.mood"),
        ({"day": str(TODAY + timedelta(days=1))}, "day"),
        ({"pains": [{"site": "tail", "severity": 3}]}, "pains.0.site"),
        ({"pains": [{"site": "knee", "side": "left", "severity": 11}]}, "pains.0.severity"),
        ({"words": "x" * 5000}, "words"),
    ],
)
def test_an_answer_that_cannot_be_comes_back_with_its_place_and_leaves_nothing(athlete, own, change, field):
    refused = give(athlete, own, **change)
    assert refused.status_code == 422
    assert refused.json["errors"][0]["field"] == field
    assert due(athlete, own)["given"] is None


def test_a_session_that_is_not_said_or_not_theirs_is_not_rated(athlete, own):
    rated = {"kind": "session", "answers": {"effort": 5}}
    assert give(athlete, own, **rated).status_code == 404
    assert give(athlete, own, **rated, session_id=new_ulid()).status_code == 404
    assert give(athlete, own, **rated, session_id="last night's").status_code == 422


def test_staff_enter_what_they_were_told_and_say_how_they_know(staff, coach, squad, base):
    path, body = f"{base}/reports/{new_ulid()}", daily(athlete_id=squad.athletes[1], told_by="on the phone")
    assert coach.write("PUT", path, body).status_code == 403
    assert staff.write("PUT", path, body | {"told_by": ""}).json["errors"][0]["field"] == "told_by"
    assert staff.write("PUT", path, body).status_code == 200
    assert row(staff, base, "B")["daily"]["told_by"] == "on the phone"


def test_whose_rating_stands_is_settled_by_staff(athlete, staff, coach, squad, own, base):
    session = squad.on(YESTERDAY)
    said = {"kind": "session", "day": str(YESTERDAY), "session_id": session.id, "answers": {"effort": 8, "minutes": 60}}
    assert give(athlete, own, **said).status_code == 200
    (open_one,) = staff.get(f"{base}/reports?day={TODAY}").json["disagreements"]
    assert (open_one["athlete_effort"], open_one["staff_effort"]) == (8, 5)
    path = f"{base}/reports/{open_one['report_id']}/settle"
    assert coach.write("POST", path, {"athletes_own": True}).status_code == 403
    assert staff.write("POST", path, {"athletes_own": True}).status_code == 200
    assert staff.get(f"{base}/reports?day={TODAY}").json["disagreements"] == []
    grid = staff.get(f"{base}/sessions/{session.id}").json
    assert next(one for one in grid["rows"] if one["name"] == "A")["effort"] == 8


def test_a_form_asks_something_else_from_its_day_on(athlete, staff, coach, own, base):
    standing = next(form for form in staff.get(f"{base}/forms?day={TODAY}").json["forms"] if form["kind"] == "daily")
    new = {"kind": "daily", "items": ["mood", "drive"], "days": list(range(7)), "from_day": str(TODAY),
           "words": {"mood": {"question": "How is life?"}}}  # fmt: skip
    assert coach.write("POST", f"{base}/forms", new).status_code == 403
    assert staff.write("POST", f"{base}/forms", new).status_code == 200
    asked = due(athlete, own)["form"]["asked"]
    assert [one["code"] for one in asked] == ["mood", "drive"]
    assert asked[0]["question"] == "How is life?"
    before = staff.get(f"{base}/forms?day={YESTERDAY}").json["forms"]
    assert next(form for form in before if form["kind"] == "daily")["asked"] == standing["asked"]
    refused = staff.write("POST", f"{base}/forms", new | {"items": ["mood", "mood"]})
    assert (refused.status_code, refused.json["errors"][0]["field"].split(".")[0]) == (422, "items")


def test_consent_is_given_and_taken_back_on_the_phone(athlete, club_admin, own):
    club = club_admin.get("/api/club").json
    body = {key: club[key] for key in ("performance_reads_clinical", "retention_days")}
    club_admin.write("PUT", "/api/club", body | {"consent_text": "The club keeps what I report."})
    asked = athlete.get(own).json
    assert (asked["consent_text"], asked["consent_given"]) == ("The club keeps what I report.", None)
    for given in (True, False):
        answer = {"given": given, "text": "The club keeps what I report."}
        assert athlete.write("PUT", f"{own}/consent", answer).status_code == 200
        assert (athlete.get(own).json["consent_given"] is not None) is given


def test_the_athletes_day_has_plan_room_and_climb_in_plain_words_and_nobody_else(athlete, own):
    today = athlete.get(f"{own}/today").json
    assert today["plan"]
    assert today["room"]
    assert len(today["weeks"]) > 4
    text = str(today)
    assert not any(f"'{name}'" in text for name in "BCD")


# Tests -------------------------------------------------------------------------------------------------------

JUMP = {"name": "Jump", "unit": "cm", "better": "higher", "trials": 3, "sides": False, "combine": "best",
        "typical_error": 1.0, "worthwhile": 0.8}  # fmt: skip


@pytest.fixture
def jump(staff, base):
    return staff.write("POST", f"{base}/tests", JUMP).json["code"]


def results(squad, *trials, i=0, **more):
    return {"day": str(TODAY), "results": [{"athlete_id": squad.athletes[i], "trials": list(trials)} | more]}


def test_a_test_is_made_changed_and_left_out_and_its_results_stay(staff, coach, db, squad, base, jump):
    codes = lambda: [one["code"] for one in staff.get(f"{base}/tests").json["tests"]]  # noqa: E731
    assert codes() == [jump]
    assert coach.write("PUT", f"{base}/tests/{jump}", JUMP).status_code == 403
    wanted = JUMP | {"name": "Countermovement jump", "worthwhile": 1.2}
    # Who does not say what they saw has seen nothing.
    assert staff.write("PUT", f"{base}/tests/{jump}", wanted).status_code == 409
    changed = staff.write("PUT", f"{base}/tests/{jump}", wanted | {"version": 1})
    assert (changed.json["code"], changed.json["name"], changed.json["worthwhile"]) == (
        jump,
        "Countermovement jump",
        1.2,
    )
    staff.write("PUT", f"{base}/tests/{jump}/results", results(squad, 40, 41.5, 41))
    assert staff.write("DELETE", f"{base}/tests/{jump}").status_code == 200
    assert codes() == []
    assert staff.get(f"{base}/tests/{jump}/athletes/{squad.athletes[0]}").status_code == 404
    assert [result.value for result in db.scalars(select(FitnessResult))] == [41.5]
    # Put back as it was, it is on the list again with them.
    assert staff.write("PUT", f"{base}/tests/{jump}", JUMP | {"version": 2}).status_code == 200
    assert codes() == [jump]
    series = staff.get(f"{base}/tests/{jump}/athletes/{squad.athletes[0]}").json
    assert [one["value"] for one in series["points"]] == [41.5]
    assert staff.write("PUT", f"{base}/tests/no-such", JUMP | {"name": "Other"}).status_code == 404


def test_trials_of_a_day_come_to_one_result_each_and_are_all_or_none(staff, squad, base, jump):
    path = f"{base}/tests/{jump}/results"
    day = staff.write("PUT", path, results(squad, 40, None, 42.25)).json
    assert (day["typical_error"], day["worthwhile"]) == (1.0, 0.8)
    series = staff.get(f"{base}/tests/{jump}/athletes/{squad.athletes[0]}").json
    assert [(one["value"], one["trials"][:3]) for one in series["points"]] == [(42.25, [40, None, 42.25])]
    both = results(squad, 41, i=1)
    both["results"] += results(squad, 40, 41, 42, 43, i=2)["results"]
    refused = staff.write("PUT", path, both)
    assert refused.status_code == 422
    assert refused.json["errors"][0]["field"].startswith("results.1")


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"name": " "}, "name"),
        ({"unit": ""}, "unit"),
        ({"trials": 0}, "trials"),
        ({"better": "sideways"}, "better"),
        ({"typical_error": -1}, "typical_error"),
        ({"worthwhile": "a bit"}, "worthwhile"),
    ],
)
def test_a_test_that_cannot_be_is_refused_at_its_field(staff, base, change, field):
    refused = staff.write("POST", f"{base}/tests", JUMP | change)
    assert (refused.status_code, refused.json["errors"][0]["field"]) == (422, field)
    assert staff.get(f"{base}/tests").json["tests"] == []


def test_results_of_a_day_to_come_or_of_a_stranger_are_refused(staff, squad, base, jump):
    path = f"{base}/tests/{jump}/results"
    tomorrow = results(squad, 40) | {"day": str(TODAY + timedelta(days=1))}
    assert staff.write("PUT", path, tomorrow).json["errors"][0]["field"] == "day"
    stranger = {"day": str(TODAY), "results": [{"athlete_id": 999_999, "trials": [40]}]}
    assert staff.write("PUT", path, stranger).status_code in (404, 422)
    assert staff.write("PUT", f"{base}/tests/no-such/results", results(squad, 40)).status_code == 404

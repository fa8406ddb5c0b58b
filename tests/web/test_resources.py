from datetime import timedelta

import pytest

from tests.conftest import NOW, TODAY
from uvren.store.types import new_ulid

YESTERDAY = TODAY - timedelta(days=1)


def call(squad, **more):
    given = {
        "id": new_ulid(), "athlete_id": squad.athletes[0], "day": str(TODAY), "kind": "adapt",
        "reason": "first half only", "review_on": str(TODAY + timedelta(days=1)),
    }  # fmt: skip
    return given | more


def test_last_nights_rating_changes_this_mornings_lane(staff, squad, base):
    path = f"{base}/sessions/{squad.on(YESTERDAY).id}"
    row = staff.get(path).json["rows"][0]
    assert (row["minutes"], row["effort"], row["state"]) == (60, 5, "measured")
    before = staff.get(f"{base}/morning?day={TODAY}").json["lanes"][0]["room"]["load"]
    change = {"athlete_id": row["athlete_id"], "minutes": 90, "effort": 8.5, "version": row["version"]}
    saved = staff.write("PATCH", f"{path}/entries", {"changes": [change]})
    assert saved.status_code == 200
    assert saved.json["rows"][0]["load"] == 765
    after = staff.get(f"{base}/morning?day={TODAY}").json["lanes"][0]["room"]["load"]
    assert after < before


@pytest.mark.parametrize("effort", [11, -1, 5.2, "x"])
def test_a_value_that_cannot_be_comes_back_with_the_path_of_its_cell(staff, squad, base, effort):
    change = {"athlete_id": squad.athletes[0], "minutes": 60, "effort": effort, "version": 1}
    answer = staff.write("PATCH", f"{base}/sessions/{squad.on(YESTERDAY).id}/entries", {"changes": [change]})
    assert answer.status_code == 422
    assert answer.mimetype == "application/problem+json"
    assert answer.json["errors"][0]["field"] == "changes.0.effort"
    assert answer.json["request_id"] == answer.headers["X-Request-ID"]


def test_a_stale_write_gets_409_and_both_versions(staff, squad, base):
    path = f"{base}/sessions/{squad.on(YESTERDAY).id}/entries"
    change = {"athlete_id": squad.athletes[0], "minutes": 60, "effort": 6, "version": 1}
    staff.write("PATCH", path, {"changes": [change]})
    answer = staff.write("PATCH", path, {"changes": [change | {"effort": 7}]})
    assert answer.status_code == 409
    assert (answer.json["yours"]["effort"], answer.json["theirs"]["effort"]) == (7, 6)


def test_a_call_is_made_shown_and_taken_back(staff, squad, base):
    made = staff.write("POST", f"{base}/calls", call(squad)).json
    lane = staff.get(f"{base}/morning?day={TODAY}").json["lanes"][0]
    assert (lane["call"]["kind"], lane["call"]["reason"]) == ("adapt", "first half only")
    staff.write("DELETE", f"{base}/calls/{made['id']}")
    assert staff.get(f"{base}/morning?day={TODAY}").json["lanes"][0]["call"] is None


def test_coaches_see_that_someone_is_out_and_not_why(staff, coach, squad, base):
    staff.write("POST", f"{base}/calls", call(squad, kind="refer", reason="knee, see the doctor"))
    staff.write("POST", f"{base}/calls", call(squad, athlete_id=squad.athletes[1], reason="sore shoulder"))
    first, second = coach.get(f"{base}/morning?day={TODAY}").json["lanes"][:2]
    assert (first["call"]["kind"], first["call"]["reason"]) == ("unavailable", "")
    assert (second["call"]["kind"], second["call"]["reason"]) == ("adapt", "")
    assert "knee" not in coach.get(f"{base}/athletes/{squad.athletes[0]}/evidence?day={TODAY}").text


def test_coaches_see_no_words_and_no_reasons_of_limits(staff, coach, squad, base):
    path = f"{base}/sessions/{squad.on(YESTERDAY).id}"
    change = {"athlete_id": squad.athletes[0], "minutes": 60, "effort": 6, "words": "slept badly", "version": 1}
    staff.write("PATCH", f"{path}/entries", {"changes": [change]})
    assert "slept badly" in staff.get(path).text
    assert "slept badly" not in coach.get(path).text
    assert {one["reason"] for one in coach.get(f"{base}/limits?day={TODAY}").json["limits"]} == {""}


def writes(squad, base):
    session = squad.on(YESTERDAY).id
    change = {"athlete_id": squad.athletes[0], "minutes": 60, "effort": 6, "version": 1}
    limit = {
        "id": new_ulid(), "rule": "day_cap", "value": 500, "hard": True, "scope": "squad", "from_day": str(TODAY),
        "reason": "why not",
    }  # fmt: skip
    return [
        ("PATCH", f"{base}/sessions/{session}/entries", {"changes": [change]}),
        ("POST", f"{base}/calls", call(squad)),
        ("DELETE", f"{base}/calls/{new_ulid()}", None),
        ("POST", f"{base}/limits", limit),
        ("DELETE", f"{base}/limits/{new_ulid()}", None),
    ]


def test_coaches_can_write_nothing_and_take_nothing_out(coach, squad, base):
    for method, path, body in writes(squad, base):
        assert coach.write(method, path, body).status_code == 403, path
    assert coach.get(f"{base}/daily-loads.csv?day={TODAY}").status_code == 403


def test_without_signing_in_nothing_is_answered(client, squad, base):
    client.renew()
    for method, path, body in writes(squad, base):
        assert client.write(method, path, body).status_code == 401, path
    for path in ("morning", "spine", "limits", "sessions/latest", "daily-loads.csv"):
        assert client.get(f"{base}/{path}?day={TODAY}").status_code == 401, path


def test_without_the_csrf_token_nothing_is_written(staff, squad, base):
    for method, path, body in writes(squad, base):
        assert staff.open(path, method=method, json=body).status_code == 403, path
    lanes = staff.get(f"{base}/morning?day={TODAY}").json["lanes"]
    assert all(lane["call"] is None for lane in lanes)


def test_a_limit_for_one_athlete_is_set_and_said(staff, squad, base):
    body = {
        "id": new_ulid(), "rule": "week_change_cap", "value": 0.1, "hard": True, "scope": "athlete",
        "athlete_id": squad.athletes[0], "from_day": str(TODAY), "reason": "back from a cold",
    }  # fmt: skip
    made = staff.write("POST", f"{base}/limits", body)
    assert (made.json["said"], made.json["whom"], made.json["set_by"]) == ("10\u00a0%", "A", "S. Taff")
    assert staff.write("POST", f"{base}/limits", body | {"id": new_ulid(), "value": 80}).json["errors"] == [
        {"field": "value", "detail": "Week-on-week cap: the value must be between 0 and 5"}
    ]
    assert staff.write("DELETE", f"{base}/limits/{body['id']}").json == {"done": True}


@pytest.mark.parametrize("day", ["2026-02-30", "soon", "0001-01-01", ""])
def test_a_day_that_cannot_be_is_refused_with_a_sentence(staff, base, day):
    answer = staff.get(f"{base}/morning?day={day}")
    assert answer.status_code == 422
    assert answer.json["errors"][0]["field"] == "day"


def test_another_squad_does_not_exist_for_one_who_is_not_in_it(staff, db, squad):
    from uvren.services.squad.squads import create_squad
    from uvren.store.models import Club

    club = db.get_one(Club, squad.squad.club_id)
    create_squad(db, club, "the-others", "The Others", "Europe/Oslo", NOW)
    assert staff.get(f"/api/squads/the-others/morning?day={TODAY}").status_code == 404
    session = squad.on(YESTERDAY).id
    assert staff.get(f"/api/squads/the-others/sessions/{session}").status_code == 404


def test_the_csv_carries_the_squads_loads_and_its_name(staff, squad, base):
    answer = staff.get(f"{base}/daily-loads.csv?day={TODAY}")
    assert answer.mimetype == "text/csv"
    assert f"{squad.squad.slug}-daily-loads-{TODAY}.csv" in answer.headers["Content-Disposition"]
    lines = answer.text.splitlines()
    assert lines[0] == "athlete,date,channel,load,status"
    assert lines[-1] == f"D,{YESTERDAY},session_rpe,300.0,measured"


def test_answers_carry_strict_headers(staff, base):
    headers = staff.get(f"{base}/morning?day={TODAY}").headers
    policy = headers["Content-Security-Policy"]
    script = next(part for part in policy.split(";") if part.strip().startswith("script-src"))
    assert script.strip() == "script-src 'self'"
    assert "default-src 'none'" in policy
    assert headers["X-Content-Type-Options"] == "nosniff"
    assert headers["Cache-Control"] == "no-store"
    cookie = staff.get_cookie("uvren")
    assert cookie.http_only
    assert cookie.same_site == "Strict"


def test_a_cookie_from_before_signing_in_is_not_carried_over(client, squad):
    client.renew()
    before = client.get_cookie("uvren").value
    client.sign_in(squad.staff.login)
    assert client.get_cookie("uvren").value != before
    client.write("POST", "/api/sign-out")
    assert client.get("/api/me").json["signed_in"] is False


def test_an_unknown_resource_and_an_oversized_body_are_problems_not_pages(staff, base):
    assert staff.get("/api/no-such-thing").mimetype == "application/problem+json"
    answer = staff.write("POST", f"{base}/calls", {"reason": "x" * (2 * 1024 * 1024)})
    assert answer.status_code == 413
    assert answer.mimetype == "application/problem+json"


def test_what_goes_wrong_inside_is_answered_without_its_inside(app, staff, base, monkeypatch):
    monkeypatch.setattr("uvren.services.morning.read_morning", lambda *_: 1 / 0)
    app.config["PROPAGATE_EXCEPTIONS"] = False
    answer = staff.get(f"{base}/morning?day={TODAY}")
    assert answer.status_code == 500
    assert "division" not in answer.text
    assert answer.json["request_id"]


def test_the_health_page_answers(client):
    assert client.get("/healthz").json == {"status": "ok"}


def test_the_document_names_every_resource_once(app):
    ids = [operation["operationId"] for path in app.spec["paths"].values() for operation in path.values()]
    assert len(ids) == len(set(ids))
    assert {"morning", "evidence", "recordEntries", "makeCall", "setLimit"} <= set(ids)


def test_an_answer_with_a_nan_is_an_error_and_never_goes_out(app):
    for bad in (float("nan"), float("inf")):
        with pytest.raises(ValueError, match="JSON"):
            app.json.dumps({"figure": bad})


def test_rounds_are_graded_planned_and_read_back(staff, squad, base):
    asked = {"grades": [3, 4, 2, 3, 5, 1]}
    mix = staff.write("POST", f"{base}/sessions/mix", asked).json
    assert (mix["share"], mix["aim"], mix["nearest"]) == (0.6, 0.7, [5, 5, 2, 3, 5, 1])
    assert staff.write("POST", f"{base}/sessions/mix", {"grades": []}).json is None
    for wrong in ({"grades": [6]}, {"grades": [3], "aim": 0.1}, {"grades": [3], "aim": 1.5}):
        assert staff.write("POST", f"{base}/sessions/mix", wrong).status_code == 422
    session = f"{base}/sessions/{squad.on(TODAY + timedelta(days=1)).id}"
    parts = [{"name": "Talk", "minutes": 2, "weight": 1}, {"name": "Round", "minutes": 6, "weight": 3, "grade": 4}]
    before = staff.get(session).json
    version = before["version"]
    # Without one of its own it has the usual aim.
    assert before["mix_aim"] == mix["aim"]
    assert staff.write("PUT", f"{session}/parts", {"parts": parts, "aim": 0.8, "version": version}).status_code == 200
    grid = staff.get(session).json
    assert ([one["grade"] for one in grid["segments"]], grid["mix_aim"]) == ([None, 4], 0.8)
    wrong = {"parts": [parts[1] | {"grade": 0}], "version": grid["version"]}
    assert staff.write("PUT", f"{session}/parts", wrong).status_code == 422

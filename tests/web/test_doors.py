"""Doors that stay shut: another squad's people, the club's choices, links, cookies and what answers give away."""

from datetime import UTC, datetime, timedelta
from email.utils import parsedate_to_datetime

import pytest

from tests.conftest import TODAY
from tests.squad import PASSWORD
from tests.web.conftest import _Open
from uvren.services.squad import squads
from uvren.store import queries
from uvren.store.models import Club, Membership, Role, RoleGrant, User
from uvren.web.app import create_app


def share(db, squad, neighbour, i=0):
    """Let one athlete of the squad belong to the neighbour too."""
    db.add(Membership(squad_id=neighbour.squad.id, athlete_id=squad.athletes[i], position="wing", from_day=TODAY))
    db.flush()


def new_member(name):
    return {"name": name, "number": 9, "position": "wing", "from_day": str(TODAY)}


@pytest.mark.parametrize("name", ["E. Xample", "É. Xámple", "e. xample"])
def test_nobody_is_joined_by_an_equal_name(db, squad, neighbour, staff, base, name):
    theirs = squads.add_members(db, neighbour.squad, [squads.NewMember("E. Xample", 8, "wing", TODAY)])[0]
    made = staff.write("POST", f"{base}/members", new_member(name)).json["athlete_id"]
    assert made != theirs
    assert staff.get(f"{base}/athletes/{theirs}/timeline?day={TODAY}").status_code == 404
    assert staff.write("POST", f"{base}/members/known", {**new_member(name), "athlete_id": theirs}).status_code == 422


def test_somebody_of_another_squad_is_chosen_by_who_acts_for_the_club(neighbour, staff, admin, club_admin, base):
    theirs = neighbour.athletes[0]
    chosen = {"athlete_id": theirs, "number": 9, "position": "wing", "from_day": str(TODAY)}
    for client in (staff, admin):
        assert theirs not in {one["athlete_id"] for one in client.get(f"{base}/members/known").json["people"]}
        assert client.write("POST", f"{base}/members/known", chosen).status_code == 404
    known = {one["athlete_id"]: one for one in club_admin.get(f"{base}/members/known").json["people"]}
    assert known[theirs]["squads"] == [neighbour.squad.name]
    assert club_admin.write("POST", f"{base}/members/known", chosen).json["athlete_id"] == theirs
    assert staff.get(f"{base}/athletes/{theirs}/timeline?day={TODAY}").status_code == 200


def test_namesakes_in_one_squad_are_two_people_where_somebody_says_so(staff, base):
    refused = staff.write("POST", f"{base}/members", new_member("a"))
    assert (refused.status_code, refused.json["errors"][0]["field"], refused.json["namesake"]) == (422, "name", True)
    made = staff.write("POST", f"{base}/members", new_member("A") | {"namesake": True}).json["athlete_id"]
    names = [one["name"] for one in staff.get(f"{base}/people?day={TODAY}").json["athletes"]]
    assert names.count("A") == 2
    assert made


@pytest.mark.parametrize("what", ["copy", "forget", "anchor"])
def test_what_is_the_whole_persons_needs_the_right_in_every_squad_of_theirs(
    db, squad, neighbour, staff, admin, club_admin, base, what
):
    athlete = squad.athletes[0]
    anchor = {"athlete_id": athlete, "kind": "hr_max", "value": 190, "from_day": str(TODAY), "source": "test"}
    act = {
        "copy": lambda who: who.get(f"{base}/members/{athlete}/copy.zip"),
        "forget": lambda who: who.write("POST", f"{base}/members/{athlete}/forget", {"everything": False, "name": "A"}),
        "anchor": lambda who: who.write("POST", f"{base}/anchors", anchor),
    }[what]
    mine = staff if what == "anchor" else admin
    share(db, squad, neighbour)
    refused = act(mine)
    assert refused.status_code == 403
    assert "another squad" in refused.json["detail"]
    # With the right in both it is done.
    user = db.query(User).filter_by(login=squad.staff.login if mine is staff else "the-admin").one()
    role = Role.PERFORMANCE if what == "anchor" else Role.ADMIN
    db.add(RoleGrant(user_id=user.id, squad_id=neighbour.squad.id, role=role))
    db.flush()
    assert act(mine).status_code == 200


CLUB = {"performance_reads_clinical": False, "retention_days": None, "consent_text": None}


def test_what_is_the_clubs_is_decided_by_who_acts_for_it(admin, staff, club_admin):
    for client in (admin, staff):
        assert client.get("/api/club").status_code == 403
        assert client.get("/api/club/audit").status_code == 403
        assert client.write("PUT", "/api/club", CLUB | {"performance_reads_clinical": True}).status_code == 403
    assert club_admin.write("PUT", "/api/club", CLUB | {"performance_reads_clinical": True}).status_code == 200
    assert club_admin.get("/api/club").json["performance_reads_clinical"] is True


def test_retention_that_removes_something_says_what_and_wants_the_clubs_name(db, squad, club_admin, athlete, base):
    body = {"kind": "daily", "day": str(TODAY), "answers": {"mood": 5}, "made_at": f"{TODAY}T06:00:00Z"}
    assert athlete.write("PUT", f"{base}/own/reports/01M8G7CY2K6SGD9DWZ793XS2FC", body).status_code == 200
    report = queries.reports.reports_since(db, squad.squad.id, squad.athletes[0], TODAY)[0]
    report.day = TODAY - timedelta(days=100)
    db.flush()
    short = CLUB | {"retention_days": 60}
    refused = club_admin.write("PUT", "/api/club", short)
    assert (refused.status_code, refused.json["errors"][0]["field"]) == (422, "name")
    assert (refused.json["removes"], refused.json["before"]) == (1, str(TODAY - timedelta(days=60)))
    assert club_admin.write("PUT", "/api/club", short | {"name": "another club"}).status_code == 422
    assert club_admin.get("/api/club").json["retention_days"] is None
    # What removes nothing asks for nothing.
    assert club_admin.write("PUT", "/api/club", CLUB | {"retention_days": 300}).status_code == 200
    name = db.get_one(Club, squad.squad.club_id).name
    assert club_admin.write("PUT", "/api/club", short | {"name": f" {name} "}).status_code == 200
    assert queries.reports.reports_since(db, squad.squad.id, squad.athletes[0], TODAY - timedelta(days=200)) == []


def test_the_audit_says_who_and_what_kind_and_no_load_and_no_value(staff, admin, squad, base):
    change = {"session_id": squad.on(TODAY - timedelta(days=1)).id, "athlete_id": squad.athletes[0]}
    path = f"{base}/sessions/{change['session_id']}/entries"
    entry = {"athlete_id": squad.athletes[0], "minutes": 47, "effort": 9.5, "words": "ghastly", "version": 1}
    assert staff.write("PATCH", path, {"changes": [entry]}).status_code == 200
    anchor = {"athlete_id": squad.athletes[0], "kind": "hr_max", "value": 191, "from_day": str(TODAY), "source": "lab"}
    assert staff.write("POST", f"{base}/anchors", anchor).status_code == 200
    rows = admin.get(f"{base}/audit").json["rows"]
    assert {"entries", "anchor_set"} <= {row["action"] for row in rows}
    text = str([row["details"] for row in rows])
    assert not any(value in text for value in ("47", "9.5", "ghastly", "191", "lab"))
    assert {row["who"] for row in rows if row["action"] == "anchor_set"} == {"S. Taff"}


def test_the_clubs_audit_holds_who_came_in_and_what_was_decided(staff, admin, club_admin, squad, base):
    staff.write("PUT", "/api/account/password", {"old": PASSWORD, "new": "another-long-one"})
    club_admin.write("PUT", "/api/club", CLUB)
    admin.write("PUT", f"{base}/accounts/{squad.staff.id}/active", {"active": False})
    rows = club_admin.get("/api/club/audit").json["rows"]
    found = {row["action"] for row in rows}
    assert {"sign_in", "password_changed", "club_set", "account_off"} <= found
    assert not {action for action in found if action.startswith(("entries", "clinical", "limit", "report"))}
    only = club_admin.get("/api/club/audit?action=password").json["rows"]
    assert [row["action"] for row in only] == ["password_changed"]


def test_coaches_write_no_notes(coach, staff, squad, base):
    path = f"{base}/athletes/{squad.athletes[0]}/notes"
    note = {"id": "01M8G7CY2K6SGD9DWZ793XS2FD", "day": str(TODAY), "audience": "desk", "words": "limps"}
    assert coach.write("POST", path, note).status_code == 403
    assert coach.get(f"{path}?day={TODAY}").json["audiences"] == []
    assert staff.write("POST", path, note).status_code == 200
    assert [one["words"] for one in coach.get(f"{path}?day={TODAY}").json["notes"]] == ["limps"]


# Getting in -----------------------------------------------------------------------------------------------


def test_links_are_built_from_the_configured_address_and_not_from_what_the_request_says(app, staff, squad, base):
    app.config["UVREN_ADDRESS"] = "https://uvren.example"
    carried = staff.get_cookie("uvren").value
    staff.set_cookie("uvren", carried, domain="evil.example")
    evil = {"base_url": "http://evil.example", "headers": {"X-CSRF-Token": staff.token}}
    made = staff.post(f"{base}/invitations/athletes", json={"athletes": squad.athletes[:1]}, **evil).json
    assert made["invited"][0]["address"].startswith("https://uvren.example/join#")
    assert staff.get(f"{base}/code", **evil).json["address"].startswith("https://uvren.example/?squad=")


def test_cookies_say_how_long_they_hold(app, squad, athlete):
    client = app.test_client()
    client.renew()
    answer = client.write("POST", "/api/sign-in", {"login": squad.staff.login, "password": PASSWORD})
    cookies = {line.split("=")[0]: line for line in answer.headers.getlist("Set-Cookie")}
    expires = parsedate_to_datetime(cookies["uvren"].split("Expires=")[1].split(";")[0])
    assert 13 < (expires - datetime.now(UTC)).total_seconds() / 3600 < 15
    for name in ("uvren", "uvren_device"):
        assert "HttpOnly" in cookies[name]
        assert "SameSite=Strict" in cookies[name]
    assert "Max-Age=" in cookies["uvren_device"]


def test_an_address_is_taken_from_a_proxy_only_where_one_is_said_to_stand_in_front(small_url, db, squad, monkeypatch):
    for proxies, seen in (("", "127.0.0.1"), ("1", "203.0.113.9")):
        monkeypatch.setenv("UVREN_PROXIES", proxies)
        made = create_app(small_url, "secret of the tests")
        made.extensions["uvren_sessions"] = lambda: _Open(db)
        made.extensions["uvren_days"] = made.extensions["uvren_answers"] = None
        client = made.test_client()
        token = client.get("/api/me").json["csrf_token"]
        headers = {"X-CSRF-Token": token, "X-Forwarded-For": "198.51.100.1, 203.0.113.9"}
        name = f"nobody-{seen}"
        client.post("/api/sign-in", json={"login": name, "password": "x"}, headers=headers)
        (noted,) = queries.accounts.tries_of(db, name)
        assert noted.address == seen


@pytest.mark.parametrize(
    "path",
    ["/api/squads/%00/tests", "/api/squads/é/tests", "/api/squads/%ff%fe/tests", "/%00", "/é%0d%0a", "/%2e/x"],
)
def test_a_path_of_other_letters_leads_nowhere(staff, path):
    assert staff.get(path).status_code in (200, 400, 404)

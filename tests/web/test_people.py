"""Accounts over HTTP, from the invitation to the last sign-in: what a person does, and what is refused on the way."""

import io
import json
import zipfile
from datetime import UTC, timedelta

import pyotp
import pytest
from sqlalchemy import select

from tests.conftest import NOW, TODAY
from tests.squad import PASSWORD
from tests.web.conftest import StillClock
from uvren.store.models import Audit

NEW = "another-long-password"


def visitor(app):
    client = app.test_client()
    client.renew()
    return client


def token_of(invited):
    return invited["address"].partition("#")[2]


def invited_athlete(staff, squad, base, i=0):
    answer = staff.write("POST", f"{base}/invitations/athletes", {"athletes": [squad.athletes[i]]})
    (invited,) = answer.json["invited"]
    return invited


def accept(client, invited, login="the-athlete", password=NEW):
    body = {"token": token_of(invited), "login": login, "password": password}
    answer = client.write("POST", "/api/invitations/accept", body)
    client.renew()
    return answer


def accounts(client, base):
    return client.get(f"{base}/accounts").json


def test_an_athlete_follows_a_link_looks_at_it_and_is_signed_in(app, staff, squad, base):
    invited = invited_athlete(staff, squad, base)
    assert invited["picture"].startswith("<svg")
    # The secret stands after the #, which no browser sends to a server.
    assert token_of(invited) not in invited["address"].partition("#")[0]
    phone = visitor(app)
    look = phone.write("POST", "/api/invitations/look", {"token": token_of(invited)}).json
    assert look == {"squad": squad.squad.name, "name": "A", "role": "athlete", "login": None}
    assert accept(phone, invited).status_code == 200
    me = phone.get("/api/me").json
    assert (me["signed_in"], me["name"], me["squads"][0]["may"]) == (True, "A", ["own_page"])
    assert accept(visitor(app), invited, "somebody-else").status_code == 404
    (user,) = [one for one in accounts(staff, base)["users"] if one["login"] == "the-athlete"]
    assert (user["athlete_id"], user["role"]) == (squad.athletes[0], "athlete")
    (member,) = [one for one in accounts(staff, base)["members"] if one["athlete_id"] == squad.athletes[0]]
    assert member["account"] is True


def test_a_link_that_is_withdrawn_leads_nowhere(app, staff, squad, base):
    invited = invited_athlete(staff, squad, base)
    assert [one["id"] for one in accounts(staff, base)["invitations"]] == [invited["id"]]
    assert staff.write("DELETE", f"{base}/invitations/{invited['id']}").status_code == 200
    assert accounts(staff, base)["invitations"] == []
    refused = visitor(app).write("POST", "/api/invitations/look", {"token": token_of(invited)})
    assert refused.status_code == 404


@pytest.mark.parametrize("token", ["", "x", "0" * 200, "é"])
def test_a_link_that_never_was_is_a_sentence(app, token):
    refused = visitor(app).write("POST", "/api/invitations/look", {"token": token})
    assert refused.status_code in (404, 422)
    assert refused.json["detail"]


def test_staff_are_invited_by_the_administrator_alone(app, staff, admin, base):
    body = {"role": "coach", "name": "N. Ew"}
    assert staff.write("POST", f"{base}/invitations/staff", body).status_code == 403
    invited = admin.write("POST", f"{base}/invitations/staff", body).json
    coach = visitor(app)
    assert accept(coach, invited, "the-new-coach").status_code == 200
    assert "make_calls" not in coach.get("/api/me").json["squads"][0]["may"]
    # Performance staff see the accounts of athletes and nobody else's.
    assert accounts(staff, base)["users"] == []
    assert {one["login"] for one in accounts(admin, base)["users"]} >= {"the-new-coach", "the-admin"}


def test_a_password_is_changed_by_who_knows_the_old_one(app, staff, squad):
    refused = staff.write("PUT", "/api/account/password", {"old": "not-it-at-all", "new": NEW})
    assert (refused.status_code, refused.json["errors"][0]["field"]) == (422, "old")
    short = staff.write("PUT", "/api/account/password", {"old": PASSWORD, "new": "short"})
    assert (short.status_code, short.json["errors"][0]["field"]) == (422, "new")
    assert staff.write("PUT", "/api/account/password", {"old": PASSWORD, "new": NEW}).status_code == 200
    assert staff.get("/api/me").json["signed_in"] is True
    assert visitor(app).sign_in(squad.staff.login).status_code == 422
    assert visitor(app).sign_in(squad.staff.login, NEW).status_code == 200


def test_another_device_is_signed_out_from_here(app, staff, squad):
    other = visitor(app)
    other.sign_in(squad.staff.login)
    here, there = sorted(staff.get("/api/account").json["sign_ins"], key=lambda one: not one["this"])
    assert (here["this"], there["this"]) == (True, False)
    assert staff.write("DELETE", f"/api/account/sign-ins/{there['id']}").status_code == 200
    assert other.get("/api/me").json["signed_in"] is False
    assert staff.get("/api/me").json["signed_in"] is True
    assert staff.write("DELETE", f"/api/account/sign-ins/{there['id']}").status_code == 404


def with_codes(client):
    """Switch one-time codes on; the secret."""
    secret = client.write("POST", "/api/account/second-factor/new").json["secret"]
    answer = client.write("PUT", "/api/account/second-factor", {"secret": secret, "code": pyotp.TOTP(secret).at(NOW)})
    assert answer.status_code == 200, answer.json
    return secret


def test_one_time_codes_are_asked_for_once_they_are_switched_on_and_no_more_when_dropped(
    app, staff, squad, monkeypatch
):
    new = staff.write("POST", "/api/account/second-factor/new").json
    assert new["picture"].startswith("<svg")
    wrong = staff.write("PUT", "/api/account/second-factor", {"secret": new["secret"], "code": "000000"})
    assert (wrong.status_code, wrong.json["errors"][0]["field"]) == (422, "code")
    assert staff.get("/api/account").json["second_factor"] is False
    secret = with_codes(staff)
    assert staff.get("/api/account").json["second_factor"] is True
    asked = visitor(app).sign_in(squad.staff.login)
    assert (asked.status_code, asked.json["errors"][0]["field"]) == (422, "code")
    # A code opens one door: the one of now has been seen when the staff signed in.
    later = NOW + timedelta(minutes=3)
    monkeypatch.setattr(StillClock, "now", lambda clock: later.astimezone(UTC))
    body = {"login": squad.staff.login, "password": PASSWORD, "code": pyotp.TOTP(secret).at(later)}
    assert visitor(app).write("POST", "/api/sign-in", body).status_code == 200
    drop = {"password": PASSWORD, "code": pyotp.TOTP(secret).at(later)}
    assert staff.write("POST", "/api/account/second-factor/drop", drop).status_code == 422
    much_later = later + timedelta(minutes=3)
    monkeypatch.setattr(StillClock, "now", lambda clock: much_later.astimezone(UTC))
    drop["code"] = pyotp.TOTP(secret).at(much_later)
    wrong = staff.write("POST", "/api/account/second-factor/drop", drop | {"password": "not-it-at-all"})
    assert (wrong.status_code, wrong.json["errors"][0]["field"]) == (422, "password")
    assert staff.write("POST", "/api/account/second-factor/drop", drop).status_code == 200
    assert visitor(app).sign_in(squad.staff.login).status_code == 200


def test_who_lost_the_authenticator_is_let_in_by_the_administrator(app, staff, admin, coach, squad, base):
    with_codes(staff)
    path = f"{base}/accounts/{squad.staff.id}/second-factor"
    assert coach.write("DELETE", path).status_code == 403
    assert staff.write("DELETE", path).status_code == 403
    assert admin.write("DELETE", path).status_code == 200
    assert visitor(app).sign_in(squad.staff.login).status_code == 200
    assert admin.write("DELETE", f"{base}/accounts/999999/second-factor").status_code == 404


def test_who_has_one_time_codes_is_not_signed_in_by_a_link_to_a_new_password(app, staff, admin, squad, base):
    with_codes(staff)
    invited = admin.write("POST", f"{base}/accounts/{squad.staff.id}/new-password").json
    assert invited["new_password"] is True
    phone = visitor(app)
    assert phone.write("POST", "/api/invitations/look", {"token": token_of(invited)}).json["login"] == squad.staff.login
    assert accept(phone, invited).status_code == 200
    assert phone.get("/api/me").json["signed_in"] is False
    assert phone.sign_in(squad.staff.login, NEW).json["errors"][0]["field"] == "code"


def test_who_may_sign_in_no_more_is_out_at_once_and_can_be_let_in_again(app, staff, admin, squad, base):
    path = f"{base}/accounts/{squad.staff.id}/active"
    assert staff.write("PUT", path, {"active": False}).status_code == 403
    assert admin.write("PUT", path, {"active": False}).status_code == 200
    assert staff.get("/api/me").json["signed_in"] is False
    assert visitor(app).sign_in(squad.staff.login).status_code == 422
    assert admin.write("PUT", path, {"active": True}).status_code == 200
    assert visitor(app).sign_in(squad.staff.login).status_code == 200


def test_an_athlete_joins_moves_and_leaves_from_days_on(staff, base):
    new = {"name": "N. Ewcomer", "number": 44, "position": "wing", "from_day": str(TODAY)}
    athlete = staff.write("POST", f"{base}/members", new).json["athlete_id"]
    there = staff.get(f"{base}/morning?day={TODAY}").json["lanes"]
    assert ("N. Ewcomer", 44, "wing") in [(one["name"], one["number"], one["position"]) for one in there]
    tomorrow = str(TODAY + timedelta(days=1))
    moved = {"number": 45, "position": "back", "from_day": tomorrow}
    assert staff.write("PUT", f"{base}/members/{athlete}", moved).status_code == 200
    lanes = staff.get(f"{base}/morning?day={tomorrow}").json["lanes"]
    assert ("N. Ewcomer", 45, "back") in [(one["name"], one["number"], one["position"]) for one in lanes]
    assert staff.write("PUT", f"{base}/members/{athlete}/last-day", {"to_day": tomorrow}).status_code == 200
    after = staff.get(f"{base}/morning?day={TODAY + timedelta(days=2)}").json["lanes"]
    assert athlete not in {one["athlete_id"] for one in after}


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"name": "  "}, "name"),
        ({"position": ""}, "position"),
        ({"number": 1000}, "number"),
        ({"number": "seven"}, "number"),
        ({"from_day": "1000-01-01"}, None),
        ({"from_day": "soon"}, "from_day"),
    ],
)
def test_an_athlete_who_cannot_be_is_refused_at_the_field(staff, base, change, field):
    new = {"name": "N. Ewcomer", "number": 44, "position": "wing", "from_day": str(TODAY)}
    refused = staff.write("POST", f"{base}/members", new | change)
    assert refused.status_code == 422
    assert field is None or refused.json["errors"][0]["field"] == field
    assert len(staff.get(f"{base}/morning?day={TODAY}").json["lanes"]) == 4


def test_a_copy_of_an_athlete_is_taken_out_by_the_administrator_and_noted(staff, admin, squad, base):
    path = f"{base}/members/{squad.athletes[0]}/copy.zip"
    assert staff.get(path).status_code == 403
    answer = admin.get(path)
    assert answer.mimetype == "application/zip"
    with zipfile.ZipFile(io.BytesIO(answer.data)) as archive:
        names = archive.namelist()
        whole = json.loads(archive.read(next(name for name in names if name.endswith(".json"))))
    assert any(name.endswith(".csv") for name in names)
    assert whole["athlete"] == "A"
    actions = [row["action"] for row in admin.get(f"{base}/audit").json["rows"]]
    assert "athlete_copied" in actions


def test_an_athlete_is_forgotten_only_under_the_right_name(admin, squad, base):
    path = f"{base}/members/{squad.athletes[0]}/forget"
    refused = admin.write("POST", path, {"everything": False, "name": "B"})
    assert (refused.status_code, refused.json["errors"][0]["field"]) == (422, "name")
    assert admin.write("POST", path, {"everything": False, "name": " A "}).status_code == 200
    names = {one["name"] for one in accounts(admin, base)["members"]}
    assert "A" not in names
    assert {"B", "C", "D"} <= names


def test_the_squads_code_leads_to_its_page_and_carries_no_secret(app, staff, squad, base):
    code = staff.get(f"{base}/code").json
    assert code["address"].endswith(f"?squad={squad.squad.slug}")
    assert code["picture"].startswith("<svg")
    assert visitor(app).get(f"{base}/code").status_code == 401


def test_names_of_a_squad_are_read_without_a_look_at_anybodys_limits(staff, db, squad):
    path = f"/api/squads/{squad.squad.slug}/people?day={TODAY}"
    found = staff.get(path).json
    assert [one["name"] for one in found["athletes"]] == list("ABCD")
    assert {"name": "S. Taff", "roles": ["performance"]} in found["staff"]
    assert set(found["athletes"][0]) == {"athlete_id", "name", "number", "position"}
    assert db.scalar(select(Audit.id).where(Audit.squad_id == squad.squad.id, Audit.action == "limits_seen")) is None

"""The week over HTTP: who plans, undo as what comes back, and two who plan at once."""

from datetime import timedelta

import pytest

from tests.conftest import TODAY
from tests.squad import limit, noon
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.session.planning import NewSession, plan_sessions
from uvren.services.squad.limits import set_limit
from uvren.services.stamp import Stamp
from uvren.store.models import Role, SessionKind

FRIDAY = TODAY + timedelta(days=1)


@pytest.fixture
def week(squad):
    return f"/api/squads/{squad.squad.slug}/week"


def edition(client, week):
    return client.get(f"{week}?day={TODAY}").json["edition"]


def plans(client, week):
    days = client.get(f"{week}?day={TODAY}").json
    return [row["cells"][1]["plan"] for row in days["rows"]], days["days"][1]["sessions"][0]["minutes"]


def body(client, week, squad, minutes=90, own=()):
    sessions = [] if minutes is None else [{"session_id": squad.on(FRIDAY).id, "minutes": minutes}]
    own = [{"athlete_id": squad.athletes[i], "session_id": squad.on(FRIDAY).id, "minutes": each} for i, each in own]
    return {"day": str(TODAY), "edition": edition(client, week), "sessions": sessions, "own": own}


@pytest.mark.parametrize("role", [Role.PERFORMANCE, Role.COACH])
def test_a_week_is_planned_and_put_back_with_what_comes_back(sign_in_as, squad, week, role):
    client = sign_in_as(role)
    assert plans(client, week) == ([300] * 4, 60)
    saved = client.write("PUT", week, body(client, week, squad, own=[(0, 40), (1, 50)]))
    assert saved.status_code == 200, saved.json
    assert plans(client, week) == ([200, 250, 450, 450], 90)
    assert saved.json["edition"] == edition(client, week)
    back = {"day": str(TODAY), **saved.json}
    assert client.write("PUT", week, back).status_code == 200
    assert plans(client, week) == ([300] * 4, 60)


def test_undo_brings_back_the_minutes_that_somebody_had_of_their_own(staff, squad, week):
    staff.write("PUT", week, body(staff, week, squad, None, own=[(0, 40)]))
    saved = staff.write("PUT", week, body(staff, week, squad, 30, own=[(1, 20)])).json
    assert plans(staff, week) == ([150, 100, 150, 150], 30)
    staff.write("PUT", week, {"day": str(TODAY), **saved})
    assert plans(staff, week) == ([200, 300, 300, 300], 60)


def test_of_two_who_plan_at_once_the_second_is_told_and_nothing_is_lost(staff, squad, week):
    mine = body(staff, week, squad, 45)
    assert staff.write("PUT", week, body(staff, week, squad, 75)).status_code == 200
    refused = staff.write("PUT", week, mine)
    assert refused.status_code == 409
    assert "planned this week meanwhile" in refused.json["detail"]
    assert plans(staff, week)[1] == 75


def test_a_session_moves_with_everybodys_own_minutes_and_comes_back(staff, squad, week):
    saturday = str(FRIDAY + timedelta(days=1))
    planned = body(staff, week, squad, 50, own=[(0, 30)])
    planned["sessions"][0]["day"] = saturday
    saved = staff.write("PUT", week, planned)
    assert saved.status_code == 200, saved.json
    days = staff.get(f"{week}?day={TODAY}").json
    assert [len(day["sessions"]) for day in days["days"][1:3]] == [0, 2]
    assert [row["cells"][2]["plan"] for row in days["rows"]] == [450, 550, 550, 550]
    assert staff.write("PUT", week, {"day": str(TODAY), **saved.json}).status_code == 200
    assert plans(staff, week) == ([300] * 4, 60)


def test_trying_out_saves_nothing(staff, squad, week):
    before = edition(staff, week)
    tried = staff.write("POST", f"{week}/tried", {
        "day": str(TODAY), "sessions": [{"session_id": squad.on(FRIDAY).id, "minutes": 90}]})  # fmt: skip
    assert [row["cells"][1]["plan"] for row in tried.json["rows"]] == [450] * 4
    assert edition(staff, week) == before
    wrong = staff.write("POST", f"{week}/tried", {
        "day": str(TODAY), "sessions": [{"session_id": squad.on(FRIDAY).id, "minutes": 700}]})  # fmt: skip
    assert wrong.status_code == 422
    assert wrong.json["detail"] == "Minutes are 0 to 600."


def test_a_proposal_that_is_saved_holds(staff, squad, week):
    staff.write("PUT", week, body(staff, week, squad, 200))
    assert staff.get(f"{week}?day={TODAY}").json["over_people"] == 4
    found = staff.write("POST", f"{week}/proposals", {"day": str(TODAY)}).json["proposals"]
    assert all(one["holds"] for one in found)
    first = found[0]
    own = [{key: one[key] for key in ("athlete_id", "session_id")} | {"minutes": one["after"]} for one in first["own"]]
    sessions = [{"session_id": one["session_id"], "minutes": one["after"]} for one in first["sessions"]]
    planned = {"day": str(TODAY), "edition": edition(staff, week), "sessions": sessions, "own": own}
    assert staff.write("PUT", week, planned).status_code == 200
    assert staff.get(f"{week}?day={TODAY}").json["said"] == "The plan holds every limit for all 4."


def after(client, week):
    return client.get(f"{week}/after-match?day={TODAY}").json


def test_recovery_and_top_ups_are_planned_at_once_and_taken_back(db, coach, squad, week):
    assert after(coach, week) is None
    for rule, value in (("ratio_ceiling", 3.0), ("week_change_cap", 3.0), ("day_cap", 3000)):
        long_ago = TODAY - timedelta(days=3)
        set_limit(db, squad.squad, limit(rule, value, long_ago), stamp=Stamp(squad.staff.id, noon(long_ago)),
                  today=long_ago)  # fmt: skip
    yesterday = noon(TODAY - timedelta(days=1)) + timedelta(hours=6)
    (match,) = plan_sessions(db, squad.squad, [NewSession(yesterday, SessionKind.MATCH, "Match", 60, 9)])
    changes = [EntryChange(match.id, one, on, 9.0) for one, on in zip(squad.athletes, (60, 60, 0, 0), strict=True)]
    record_entries(db, squad.squad.id, changes, stamp=Stamp(squad.staff.id, noon(TODAY)), today=TODAY)
    found = after(coach, week)
    assert [row["does"] for row in found["rows"]] == ["recover", "recover", "top_up", "top_up"]
    body = {"day": str(TODAY), "at": "19:30", "athletes": squad.athletes}
    made = coach.write("POST", f"{week}/after-match", body)
    assert made.status_code == 200, made.json
    heads = coach.get(f"{week}?day={TODAY}").json["days"][0]["sessions"]
    assert [(one["title"], one["at"]) for one in heads[-2:]] == [("Recovery", "19:30"), ("Top-up", "19:30")]
    assert after(coach, week)["planned"]
    assert "planned already" in coach.write("POST", f"{week}/after-match", body).json["detail"]
    court = {"sessions": [squad.on(TODAY).id]}
    assert coach.write("POST", f"{week}/after-match/take-back", court).status_code == 422
    back = coach.write("POST", f"{week}/after-match/take-back", {"sessions": made.json["sessions"]})
    assert back.status_code == 200, back.json
    assert not after(coach, week)["planned"]
    assert len(coach.get(f"{week}?day={TODAY}").json["days"][0]["sessions"]) == 1
    # A position that works in place does so for everybody in it, and only where positions may.
    assert coach.write("PUT", f"{week}/after-match/form", {"position": "back", "form": "in_place"}).status_code == 200
    assert [row["form"] for row in after(coach, week)["rows"]] == ["runs", "in_place", "runs", "in_place"]
    nobody = coach.write("POST", f"{week}/after-match", {**body, "athletes": []})
    assert nobody.json["errors"][0]["field"] == "athletes"


def test_what_is_proposed_is_looked_for_once_until_the_plan_changes(coach, squad, week, monkeypatch):
    looked = []

    def propose(*given):
        looked.append(given)
        return []

    monkeypatch.setattr("uvren.web.week.week.propose", propose)
    asked = {"day": str(TODAY), "sessions": [], "own": []}
    tried = asked | {"sessions": [{"session_id": squad.on(FRIDAY).id, "minutes": 20}]}
    for body_, times in ((asked, 1), (tried, 2)):
        assert coach.write("POST", f"{week}/proposals", body_).status_code == 200
        assert len(looked) == times


def test_the_week_tells_a_coach_whom_it_leaves_short_and_who_works_too_often(coach, squad, week, db):
    own = [(0, 0)]
    assert coach.write("PUT", week, body(coach, week, squad, None, own=own)).status_code == 200
    set_limit(db, squad.squad, limit("days_in_seven", 4, TODAY), stamp=Stamp(squad.staff.id, noon(TODAY)), today=TODAY)
    found = coach.get(f"{week}/upkeep?day={TODAY}").json
    assert found["short"] == []
    assert found["days_said"].startswith("Room for ")
    # Who has Friday off has a day less to leave out.
    left = {one["athlete_id"]: len(one["leave_out"]) for one in found["often"]}
    assert left[squad.athletes[0]] == left[squad.athletes[1]] - 1
    assert coach.get(f"{week}/upkeep?day=1999-01-01").status_code == 422


def test_a_lighter_week_in_fewer_days_is_shown_and_accepted_so(staff, squad, week):
    lines = staff.get(f"{week}/lighter?day={TODAY}&fewer=true").json["due"][0]["lines"]
    assert sum("a day without work" in one["said"] for one in lines) == 1
    wanted = {"day": str(TODAY), "athlete_id": squad.athletes[0], "fewer": True}
    accepted = staff.write("POST", f"{week}/lighter", wanted)
    assert accepted.status_code == 200, accepted.json
    stands = staff.get(f"{week}/lighter?day={TODAY}").json["standing"][0]["lines"]
    assert [one["said"] for one in stands] == [one["said"] for one in lines]

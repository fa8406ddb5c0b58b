"""The resources beside the lanes: sheet, settings, views, rest trials, several calls, the athlete."""

import io
from datetime import timedelta

import pytest
from pypdf import PdfReader

from tests.conftest import NOW, TODAY
from uvren.core.notices import KINDS
from uvren.store.models import Complaint, ComplaintKind, Role
from uvren.store.types import new_ulid


def body(squad, i=0, **more):
    given = {"id": new_ulid(), "athlete_id": squad.athletes[i], "day": str(TODAY), "kind": "rest", "reason": "ill"}
    return given | more


def test_the_sheet_is_given_out_in_versions_that_say_what_changed(staff, coach, squad, base):
    path = f"{base}/sheet?day={TODAY}"
    assert staff.get(path).json["version"] == 0
    made = staff.write("POST", f"{base}/sheet", {"day": str(TODAY)}).json
    assert (made["version"], made["made_by"], made["changes"]) == (1, "S. Taff", [])
    staff.write("POST", f"{base}/calls", body(squad))
    read = coach.get(path).json
    assert read["changes"] == ["A: not available, was full"]
    assert "ill" not in read["text"].split()
    groups = {group["code"]: [line["name"] for line in group["lines"]] for group in read["groups"]}
    assert (groups["out"], groups["full"]) == (["A"], ["B", "C", "D"])


def test_the_sheet_on_paper_says_what_the_screen_says_and_no_reason(staff, coach, squad, base):
    staff.write("POST", f"{base}/sheet", {"day": str(TODAY)})
    staff.write("POST", f"{base}/calls", body(squad))
    answer = coach.get(f"{base}/sheet.pdf?day={TODAY}")
    assert (answer.status_code, answer.mimetype) == (200, "application/pdf")
    text = " ".join(" ".join(page.extract_text() for page in PdfReader(io.BytesIO(answer.data)).pages).split())
    for said in ("Sheet for the coach", "Version 1, S. Taff.", "Changed since version 1", "A: not available, was full",
                 "Full (3)", "Not available (1)"):  # fmt: skip
        assert said in text, said
    assert "ill" not in text.split()


def test_calls_for_several_are_all_or_none(staff, db, squad, base):
    good, bad = body(squad), body(squad, 1, review_on=str(TODAY - timedelta(days=1)))
    refused = staff.write("POST", f"{base}/calls/several", {"calls": [good, bad]})
    assert refused.status_code == 422
    assert refused.json["errors"][0]["field"].endswith("review_on")
    # Outside of tests the session of a request that was refused is closed, which does the same.
    db.rollback()
    lanes = staff.get(f"{base}/morning?day={TODAY}").json["lanes"]
    assert [lane["call"] for lane in lanes] == [None] * 4
    both = staff.write("POST", f"{base}/calls/several", {"calls": [good, body(squad, 1)]})
    assert len(both.json["calls"]) == 2
    # Sent again they are the same calls.
    again = staff.write("POST", f"{base}/calls/several", {"calls": [good]})
    assert again.json["calls"][0]["id"] == good["id"]


def test_an_adapted_day_beyond_room_asks_and_is_marked(staff, squad, base):
    far = body(squad, kind="adapt", minutes=400, reason="needs it")
    asked = staff.write("POST", f"{base}/calls", far)
    assert (asked.status_code, asked.json["above_room"]) == (422, True)
    assert staff.write("POST", f"{base}/calls", far | {"sure": True}).json["above_room"] is True


def test_the_months_calls_are_for_staff_and_not_for_coaches(staff, coach, squad, base):
    staff.write("POST", f"{base}/calls", body(squad))
    review = staff.get(f"{base}/calls-review?day={TODAY}").json
    assert (review["first"], review["last"]) == ("2026-03-01", "2026-03-31")
    assert [one["name"] for one in review["calls"]] == ["A"]
    assert coach.get(f"{base}/calls-review?day={TODAY}").status_code == 403


def test_a_kind_of_notice_is_tuned_said_and_taken_back(staff, squad, base):
    tune = {"code": "report_changed", "scope": "athlete", "position": None, "athlete_id": squad.athletes[0],
            "off": False, "values": {"size": 2}, "reason": "reports low by habit"}  # fmt: skip
    assert staff.write("POST", f"{base}/notices", tune).status_code == 200
    read = staff.get(f"{base}/notices?day={TODAY}").json
    assert {kind["code"] for kind in read["kinds"]} == set(KINDS)
    (tuned,) = read["tuned"]
    assert (tuned["whom"], tuned["said"], tuned["set_by"]) == ("A", "change from 2 SD", "S. Taff")
    assert staff.write("DELETE", f"{base}/notices/{tuned['id']}").status_code == 200
    assert staff.get(f"{base}/notices?day={TODAY}").json["tuned"] == []


@pytest.mark.parametrize(
    ("more", "field"),
    [({"values": {"size": 99}}, "values.size"), ({"values": {"nothing": 1}}, "values.nothing"),
     ({"code": "readiness"}, "code"), ({"scope": "athlete", "athlete_id": 10**6}, "athlete_id"),
     ({"scope": "position"}, "position"), ({"off": True, "reason": ""}, "reason")],
)  # fmt: skip
def test_a_setting_that_makes_no_sense_comes_back_with_its_field(staff, base, more, field):
    tune = {"code": "report_changed", "scope": "squad", "position": None, "athlete_id": None, "off": False,
            "values": {}, "reason": "x"}  # fmt: skip
    refused = staff.write("POST", f"{base}/notices", tune | more)
    assert refused.status_code == 422
    assert refused.json["errors"][0]["field"] == field


def test_a_view_is_kept_for_its_maker_and_taken_away(staff, coach, base):
    kept = staff.write("POST", f"{base}/views", {"name": "Keepers", "query": "show=keeper"}).json["views"]
    assert [view["name"] for view in kept] == ["Keepers"]
    assert coach.get(f"{base}/views").json["views"] == []
    assert coach.write("DELETE", f"{base}/views/{kept[0]['id']}").status_code == 404
    assert staff.write("DELETE", f"{base}/views/{kept[0]['id']}").status_code == 200
    assert staff.write("POST", f"{base}/views", {"name": " ", "query": "x=1"}).status_code == 422


def test_a_rest_trial_is_begun_once_and_judged_when_it_is_over(staff, squad, base):
    path = f"{base}/rest-trials"
    begin = {"athlete_id": squad.athletes[0], "from_day": str(TODAY), "days": 7}
    assert staff.write("POST", path, begin | {"days": 8}).json["errors"][0]["field"] == "days"
    assert staff.write("POST", path, begin).status_code == 200
    assert staff.write("POST", path, begin).status_code == 200
    assert staff.write("POST", path, begin | {"days": 14}).status_code == 422
    lane = staff.get(f"{base}/athletes/{squad.athletes[0]}/evidence?day={TODAY}").json["lane"]
    assert (lane["room"]["load"], lane["room"]["words"]) == (
        None,
        "rest trial until Wed 18 March",
    )
    early = staff.write("POST", f"{path}/judge", {"athlete_id": squad.athletes[0], "better": True})
    assert early.json["errors"][0]["field"] == "better"


def test_the_timeline_and_what_was_noticed_are_answered_for_a_past_day_too(staff, squad, base):
    athlete = f"{base}/athletes/{squad.athletes[0]}"
    for back in (0, 10):
        day = TODAY - timedelta(days=back)
        line = staff.get(f"{athlete}/timeline?day={day}").json
        assert (line["as_of"], len(line["days"])) == (str(day), len(line["base"]) + 7)
        assert staff.get(f"{athlete}/noticed?day={day}").status_code == 200
    assert staff.get(f"{base}/athletes/999999/timeline?day={TODAY}").status_code == 404


@pytest.mark.parametrize(
    ("figure", "status"),
    [("week_load", 200), ("room", 200), ("change:energy", 200), ("change:nothing", 422), ("readiness", 422)],
)
def test_a_figure_is_opened_or_said_not_to_exist(staff, squad, base, figure, status):
    path = f"{base}/athletes/{squad.athletes[0]}/arithmetic?day={TODAY}&figure={figure}"
    assert staff.get(path).status_code == status


def test_a_reported_item_is_opened_for_nobody_who_may_not_read_reports(coach, squad, base):
    path = f"{base}/athletes/{squad.athletes[0]}/arithmetic?day={TODAY}"
    assert coach.get(f"{path}&figure=room").status_code == 200
    assert coach.get(f"{path}&figure=change:energy").status_code == 403


def test_a_note_is_read_by_whom_it_is_for(staff, coach, squad, base):
    path = f"{base}/athletes/{squad.athletes[0]}/notes"
    for audience, words in (("desk", "Plays Saturday"), ("reports", "Sleeps badly before exams")):
        note = {"id": new_ulid(), "day": str(TODAY), "audience": audience, "words": words}
        assert staff.write("POST", path, note).status_code == 200
    assert len(staff.get(f"{path}?day={TODAY}").json["notes"]) == 2
    assert [one["words"] for one in coach.get(f"{path}?day={TODAY}").json["notes"]] == ["Plays Saturday"]
    clinical = {"id": new_ulid(), "day": str(TODAY), "audience": "clinical", "words": "x"}
    assert staff.write("POST", path, clinical).status_code == 422


def test_the_method_names_every_figure_limit_and_notice(coach, base):
    page = coach.get(f"{base}/method").json
    assert {kind["code"] for kind in page["notices"]} == set(KINDS)
    assert {section["code"] for section in page["sections"]} == {
        "cautions",
        "figures",
        "limits",
        "day",
        "recovery",
        "reports",
        "return",
        "demands",
        "live",
    }


def test_one_week_may_go_over_by_as_many_days_as_the_screen_says(staff, base, squad):
    limit = {
        "id": new_ulid(), "rule": "days_in_seven", "value": 5, "over": 0, "hard": True, "scope": "squad",
        "from_day": str(TODAY), "reason": "agreed",
    }  # fmt: skip
    assert staff.write("POST", f"{base}/limits", limit).json["over"] == 0
    refused = staff.write("POST", f"{base}/limits", limit | {"id": new_ulid(), "over": 9})
    assert refused.json["errors"][0]["field"] == "over"
    lane = staff.get(f"{base}/athletes/{squad.athletes[0]}/evidence?day={TODAY}").json
    said = next(one["sentence"] for one in lane["limits"] if one["key"] == "days_in_seven")
    assert said == "6 days with work in the last 7; the limit is 5 on average."


def test_a_clinicians_answer_says_in_one_go_how_much_may_be_trained(sign_in_as, base, squad, db):
    told = Complaint(
        squad_id=squad.squad.id, athlete_id=squad.athletes[0], kind=ComplaintKind.ILLNESS, day=TODAY, told_at=NOW
    )
    db.add(told)
    db.flush()
    clinician = sign_in_as(Role.CLINICIAN)
    path = f"{base}/complaints/{told.id}"
    bad = clinician.write("PUT", path, {"answer": "rest", "again_on": str(TODAY), "version": 1})
    assert bad.json["errors"][0]["field"] == "again_on"
    half = {"availability": "limited", "minutes_share": 0.5, "change": "no duels"}
    for share in (0, 1.5):
        refused = clinician.write(
            "PUT", path, {"answer": "rest", "version": 1, "allowed": half | {"minutes_share": share}}
        )
        assert refused.json["errors"][0]["field"].endswith("minutes_share")
        db.rollback()
    again = str(TODAY + timedelta(days=2))
    said = {"answer": "half", "version": 1, "allowed": half, "again_on": again}
    made = clinician.write("PUT", path, said)
    assert (made.json["unseen"], made.json["again_on"]) == (False, str(TODAY + timedelta(days=2)))
    lane = clinician.get(f"{base}/athletes/{squad.athletes[0]}/evidence?day={TODAY}").json["lane"]
    assert (lane["stands"], lane["room"]["plan"], lane["room"]["load"]) == ("part", 150, 150)


def test_availability_is_the_days_and_not_only_what_clinicians_wrote(sign_in_as, base, squad, db):
    db.add(
        Complaint(
            squad_id=squad.squad.id, athlete_id=squad.athletes[0], kind=ComplaintKind.ILLNESS, day=TODAY, told_at=NOW
        )
    )
    db.flush()
    for role, stands, said in (
        (Role.COACH, "wait", "ask staff first"),
        (Role.CLINICIAN, "wait", "waits for a clinician"),
    ):
        row = sign_in_as(role).get(f"{base}/reports?day={TODAY}").json["rows"][0]
        assert (row["availability"], row["stands"], row["said"]) == (None, stands, said)


def test_each_rate_of_the_worn_notice_says_what_it_would_have_said(staff, coach, base):
    rates = staff.get(f"{base}/notices/worn-rates?day={TODAY}").json["rates"]
    assert [one["rate"] for one in rates] == [0.25, 0.5, 1.0, 2.0]
    assert [one["days"] for one in rates] == sorted(one["days"] for one in rates)
    assert all(one["people"] <= 4 and 0.78 <= one["level"] <= 2.6 for one in rates)
    assert coach.get(f"{base}/notices/worn-rates?day={TODAY}").status_code == 403


def test_how_often_worn_speaks_is_one_for_the_whole_squad(staff, squad, base):
    body = {"code": "worn", "scope": "athlete", "athlete_id": squad.athletes[0], "values": {"rate": 1}, "reason": "try"}
    refused = staff.write("POST", f"{base}/notices", body)
    assert (refused.status_code, refused.json["errors"][0]["field"]) == (422, "values.rate")
    # Off is for anybody.
    assert staff.write("POST", f"{base}/notices", body | {"values": {}, "off": True}).status_code == 200


@pytest.mark.parametrize("rate", [0, 7])
def test_a_rate_that_makes_no_sense_is_refused_at_its_place(staff, base, rate):
    body = {"code": "worn", "scope": "squad", "values": {"rate": rate}, "reason": "try"}
    refused = staff.write("POST", f"{base}/notices", body)
    assert (refused.status_code, refused.json["errors"][0]["field"]) == (422, "values.rate")
    assert "0.1 to 3.5 days an athlete-week" in refused.json["detail"]

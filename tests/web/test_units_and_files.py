"""Units, anchors, work, files and recordings through the web; and what must not get in, or out."""

import io
from datetime import UTC, datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np
import pytest

from tests.conftest import NOW, TODAY
from uvren.files.layout import look_at
from uvren.services import files as imports
from uvren.services.stamp import Stamp
from uvren.simulate import devices, plate
from uvren.store.models import ImportState

YESTERDAY = TODAY - timedelta(days=1)


DRAFT = {
    "name": "Throws", "unit": "throws", "form": "counted", "kinds": ["court"], "regions": ["shoulder"],
    "mark": "wedge", "from_day": str(TODAY - timedelta(days=55)), "reason": "agreed",
    "settings": {"classes": [{"code": "full", "name": "Full", "weight": 1},
                             {"code": "half", "name": "Half", "weight": 0.5}]},
}  # fmt: skip


def throws(staff, base):
    made = staff.write("POST", f"{base}/channels", DRAFT | {"recompute": True})
    assert made.status_code == 200, made.json
    return made.json


def count(staff, base, session, athlete, full, **more):
    items = [{"class": "full", "count": full}, {"class": "half", "count": 10}]
    change = {"athlete_id": athlete, "what": "counted", "data": {"items": items}, **more}
    return staff.write("PUT", f"{base}/sessions/{session.id}/work", {"changes": [change]})


def test_a_unit_is_made_counted_limited_and_gives_room_of_its_own(staff, squad, base):
    assert throws(staff, base)["definition"]["sentence"].startswith("Repetitions × class weight (Full 1, Half 0.5)")
    for back in range(1, 40):
        day = TODAY - timedelta(days=back)
        if day.weekday() != 6:
            assert count(staff, base, squad.on(day), squad.athletes[0], 40).status_code == 200
    limit = {
        "id": "01" + "A" * 24, "rule": "day_cap", "value": 30, "hard": True, "scope": "squad", "reason": "shoulders",
        "from_day": str(TODAY), "channel": "throws",
    }  # fmt: skip
    assert staff.write("POST", f"{base}/limits", limit).status_code == 200
    morning = staff.get(f"{base}/morning?day={TODAY}").json
    assert [channel["code"] for channel in morning["channels"]] == ["session_rpe", "throws"]
    lane = morning["lanes"][0]
    assert lane["others"][0]["room"]["load"] == pytest.approx(30)
    assert lane["others"][0]["room"]["words"].startswith("30 fulls, about 40 min")
    assert lane["binding"] == "throws"
    shown = staff.get(f"{base}/morning?day={TODAY}&channel=throws").json
    assert shown["channel"]["code"] == "throws"
    assert shown["lanes"][0]["strip"]["week"][-9] == pytest.approx(45 * 6)


def test_a_preview_says_what_a_weight_would_move_and_changes_nothing(staff, squad, base):
    throws(staff, base)
    count(staff, base, squad.on(YESTERDAY), squad.athletes[0], 40)
    settings = {"classes": [DRAFT["settings"]["classes"][0], {"code": "half", "name": "Half", "weight": 1}]}
    body = {"draft": DRAFT | {"settings": settings}, "channel": "throws"}
    seen = staff.write("POST", f"{base}/channels/preview", body).json
    assert (seen["rows"][0]["before"], seen["rows"][0]["after"]) == (45, 50)
    assert seen["days_moved"] == 1
    work = staff.get(f"{base}/sessions/{squad.on(YESTERDAY).id}/work").json
    assert work["rows"][0]["loads"][1] == {"code": "throws", "load": 45, "state": "measured"}


def test_a_definition_in_the_past_needs_a_yes_to_move_past_loads(staff, squad, base):
    throws(staff, base)
    count(staff, base, squad.on(YESTERDAY), squad.athletes[0], 40)
    settings = {"classes": [DRAFT["settings"]["classes"][0], {"code": "half", "name": "Half", "weight": 1}]}
    changed = DRAFT | {"settings": settings, "from_day": str(YESTERDAY), "recompute": False, "version": 1}
    refused = staff.write("PUT", f"{base}/channels/throws", changed)
    assert refused.status_code == 422
    assert refused.json["errors"][0]["field"] == "from_day"
    saved = staff.write("PUT", f"{base}/channels/throws", changed | {"recompute": True, "version": 1}).json
    session = squad.on(YESTERDAY)
    assert load_of(staff, base, session, "throws") == 50
    path = f"{base}/channels/throws/definitions/{saved['definition']['id']}"
    assert staff.write("DELETE", path).status_code == 200
    assert load_of(staff, base, session, "throws") == 45
    # The one that is left cannot be taken back, and the other only once.
    only = saved["history"][0]["id"]
    assert staff.write("DELETE", f"{base}/channels/throws/definitions/{only}").status_code == 409
    assert staff.write("DELETE", path).status_code == 404


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"settings": {"classes": []}}, "settings.classes"),
        ({"settings": {"classes": [{"name": "Full", "weight": "x"}]}}, "settings.classes.0.weight"),
        ({"settings": {"classes": [{"name": "", "weight": 1}]}}, "settings.classes.0.name"),
        ({"form": "karma"}, "settings.form"),
        ({"kinds": []}, "kinds"),
        ({"name": " "}, "name"),
        ({"mark": "smile"}, "mark"),
    ],
)
def test_a_unit_that_makes_no_sense_is_refused_at_its_field(staff, base, change, field):
    answer = staff.write("POST", f"{base}/channels", DRAFT | {"recompute": True} | change)
    assert answer.status_code == 422
    assert answer.json["errors"][0]["field"] in (field, field.removeprefix("settings."))


@pytest.mark.parametrize(
    ("items", "field"),
    [
        ([{"class": "full", "count": -1}], "changes.0.data.items.0.count"),
        ([{"class": "full", "count": 1.5}], "changes.0.data.items.0.count"),
        ([{"class": "", "count": 1}], "changes.0.data.items.0.class"),
        ([], "changes.0.data.items"),
        (["x"], "changes.0.data.items.0"),
    ],
)
def test_counts_that_cannot_be_are_refused_at_their_place(staff, squad, base, items, field):
    throws(staff, base)
    change = {"athlete_id": squad.athletes[0], "what": "counted", "data": {"items": items}}
    answer = staff.write("PUT", f"{base}/sessions/{squad.on(YESTERDAY).id}/work", {"changes": [change]})
    assert answer.status_code == 422
    assert answer.json["errors"][0]["field"] == field


def test_a_stale_count_gets_both_versions(staff, squad, base):
    throws(staff, base)
    session = squad.on(YESTERDAY)
    count(staff, base, session, squad.athletes[0], 40)
    assert count(staff, base, session, squad.athletes[0], 40).status_code == 200
    answer = count(staff, base, session, squad.athletes[0], 44, version=7)
    assert answer.status_code == 409
    assert answer.json["theirs"]["items"][0]["count"] == 40


def test_anchors_hold_from_their_day_and_can_be_taken_back(staff, squad, base):
    def value():
        found = staff.get(f"{base}/anchors?day={TODAY}").json["anchors"]
        return {one["kind"]: one["value"] for one in found if one["athlete_id"] == squad.athletes[0]}.get("hr_max")

    made = {"athlete_id": squad.athletes[0], "kind": "hr_max", "value": 191, "from_day": str(YESTERDAY)}
    staff.write("POST", f"{base}/anchors", made)
    newer = staff.write("POST", f"{base}/anchors", made | {"value": 195, "from_day": str(TODAY)}).json
    assert value() == 195
    staff.write("DELETE", f"{base}/anchors/{newer['id']}")
    assert value() == 191


@pytest.mark.parametrize(
    "change", [{"value": 20}, {"value": None}, {"word": "fast", "value": None}, {"kind": "sex", "value": 3}]
)
def test_anchors_that_cannot_be_are_refused(staff, squad, base, change):
    anchor = {"athlete_id": squad.athletes[0], "kind": "hr_max", "value": 191, "from_day": str(TODAY)}
    assert staff.write("POST", f"{base}/anchors", anchor | change).status_code == 422


def send(client, base, content, name="form.csv"):
    data = content if isinstance(content, bytes) else content.encode()
    headers = {"X-CSRF-Token": client.token}
    return client.post(f"{base}/files?name={name}", data=data, content_type="application/octet-stream", headers=headers)


FORM = f"Name;Date;Minutes;RPE\nA;{YESTERDAY:%d.%m.%Y};50;8\nZed;{YESTERDAY:%d.%m.%Y};50;8\n"


def test_a_file_is_sent_looked_at_matched_brought_in_and_taken_back(staff, squad, base, db, uploads, monkeypatch):
    handed = []
    monkeypatch.setattr(staff.application.extensions["uvren_background"], "import_file", handed.append)
    put = send(staff, base, FORM).json
    assert not put["again"]
    path = f"{base}/files/{put['file']['id']}"
    seen = staff.write("POST", f"{path}/preview", {}).json
    assert {use["name"]: use["role"] for use in seen["spec"]["columns"]} == {
        "Name": "athlete", "Date": "date", "Minutes": "minutes", "RPE": "effort",
    }  # fmt: skip
    assert [(person["said"], person["known"]) for person in seen["people"]] == [("A", True), ("Zed", False)]
    people = [{"said": "Zed", "athlete_id": squad.athletes[1]}]
    seen = staff.write("POST", f"{path}/preview", {"spec": seen["spec"], "people": people}).json
    assert all(person["known"] for person in seen["people"])
    queued = staff.write("POST", f"{path}/bring-in", {"spec": seen["spec"], "save_as": "Ratings form"}).json
    assert (queued["state"], handed) == ("waiting", [put["file"]["id"]])
    imports.run(db, handed[0], uploads, now=NOW, today=TODAY)
    assert staff.get(path).json["state"] == ImportState.DONE
    assert squad.entry(db, squad.athletes[1], YESTERDAY).effort == 8
    again = send(staff, base, FORM).json
    assert (again["again"], again["file"]["id"]) == (True, put["file"]["id"])
    # The file itself is not kept once it is in; what is asked of it then gets a sentence.
    gone = staff.write("POST", f"{path}/preview", {})
    assert (gone.status_code, gone.json["detail"]) == (422, "This file is not here any more. Send it again.")
    assert staff.write("POST", f"{path}/bring-in", {"spec": seen["spec"]}).status_code == 409
    assert [kept["name"] for kept in staff.get(f"{base}/files").json["mappings"]] == ["Ratings form"]
    assert staff.write("POST", f"{path}/undo").json["state"] == "undone"
    db.expire_all()
    assert squad.entry(db, squad.athletes[1], YESTERDAY).effort == 5


def test_an_upload_of_three_gigabytes_is_refused_before_it_is_read(staff, base):
    answer = staff.post(
        f"{base}/files?name=large.csv",
        headers={"X-CSRF-Token": staff.token},
        content_type="application/octet-stream",
        environ_overrides={"CONTENT_LENGTH": str(3 * 1024**3)},
    )
    assert answer.status_code == 413
    assert "400 MB is the most" in answer.json["detail"]


@pytest.mark.parametrize("content", [b"", b"\x00\x01\x02" * 100, b"<html><body>no</body></html>", b"a,b\n1"])
def test_a_file_that_is_no_table_gets_a_sentence_and_no_stack_trace(staff, base, content):
    put = send(staff, base, content)
    answer = put
    if put.status_code == 200:
        answer = staff.write("POST", f"{base}/files/{put.json['file']['id']}/preview", {})
    if answer.status_code == 200:
        assert answer.json["wrong"]
    else:
        assert answer.status_code == 422
        assert answer.json["detail"].endswith(".")


def test_a_preview_says_what_the_mapping_still_lacks(staff, base):
    put = send(staff, base, "who,ms,bpm\nA,0,100\nA,1000,101\n").json
    seen = staff.write("POST", f"{base}/files/{put['file']['id']}/preview", {}).json
    assert seen["wrong"] == "The times count from the start: say on which day and when it began."


def test_coaches_see_units_but_neither_anchors_nor_files_nor_traces(coach, squad, base):
    assert coach.get(f"{base}/channels?day={TODAY}").status_code == 200
    session = squad.on(YESTERDAY).id
    for path in (f"anchors?day={TODAY}", "files", f"sessions/{session}/recordings",
                 f"sessions/{session}/traces/{squad.athletes[0]}"):  # fmt: skip
        assert coach.get(f"{base}/{path}").status_code == 403
    assert coach.write("POST", f"{base}/channels", DRAFT).status_code == 403
    assert send(coach, base, FORM).status_code == 403


def recorded(squad, db, uploads):
    """Heart rate, speed and impacts of athlete A in yesterday's session."""
    starts = datetime.combine(YESTERDAY, time(11), UTC)
    true = devices.move(starts, 30, 6, np.random.default_rng(4), uneven=0.3)
    random = np.random.default_rng(5)
    local = starts.astimezone(ZoneInfo("Europe/Oslo"))
    contents = {
        "A strap.csv": (devices.strap_file(true, "Europe/Oslo", random), {}),
        "A pods.csv": (devices.pod_file({"A": true}, random), {}),
        "A shoes.tsv": (devices.shoe_file(true, random), {"day": local.date(), "begins": local.time()}),
    }
    from dataclasses import replace

    for name, (content, more) in contents.items():
        put = imports.put_down(db, squad.squad, uploads, name, io.BytesIO(content.encode()), stamp=Stamp(None, NOW))
        spec = imports.preview(db, squad.squad, uploads / put.id, name, today=TODAY).spec
        imports.queue(db, squad.squad, put.id, replace(spec, **more))
        done = imports.run(db, put.id, uploads, now=NOW, today=TODAY)
        assert done.state is ImportState.DONE, done.report
    return true


def test_traces_and_segments_of_a_session_recover_the_truth(staff, squad, base, db, uploads):
    true = recorded(squad, db, uploads)
    path = f"{base}/sessions/{squad.on(YESTERDAY).id}"
    parts = [{"name": "First", "begins": 0, "minutes": 10, "weight": 1},
             {"name": "Second", "begins": 10, "minutes": 20, "weight": 3}]  # fmt: skip
    found = staff.write("PUT", f"{path}/segments", {"segments": parts, "version": 1}).json
    metrics = {one["kind"]: one["metrics"][one["kind"]] for one in found["recordings"]}
    assert metrics["position"]["distance"] == pytest.approx(true.distance, rel=0.01)
    assert metrics["position"]["distance_fast"] == pytest.approx(true.distance_above(5.0), rel=0.05)
    assert metrics["heart_rate"]["mean_hr"] == pytest.approx(true.heart_rate.mean(), abs=1)
    assert metrics["impacts"]["right"]["count"] == pytest.approx(true.impact_right.sum(), abs=6)
    assert metrics["impacts"]["stronger"] == "right"
    traces = staff.get(f"{path}/traces/{squad.athletes[0]}").json
    assert len(traces["speed"]["t"]) <= 1501
    assert len(traces["impacts"]["t"]) == pytest.approx(true.impact_g.size, abs=2)
    by_segment = [part["metrics"]["position"]["distance"] for part in traces["segments"]]
    assert by_segment[0] == pytest.approx(true.speed[:6000].sum() / 10, rel=0.02)
    assert sum(by_segment) == pytest.approx(true.distance, rel=0.01)
    assert staff.get(f"{path}/traces/{squad.athletes[2]}").status_code == 404


def test_a_file_larger_than_any_other_body_comes_through_but_other_bodies_stay_small(staff, base):
    content = "who,time,hr\n" + "A,2026-03-11T11:00:00Z,100\n" * 60_000
    assert send(staff, base, content).status_code == 200
    assert staff.write("POST", f"{base}/places", {"name": "x" * 1_500_000}).status_code == 413


def make(staff, base, **more):
    draft = DRAFT | {"recompute": True, "settings": {}} | more
    made = staff.write("POST", f"{base}/channels", draft)
    assert made.status_code == 200, made.json
    return made.json["code"]


def load_of(staff, base, session, code, row=0):
    work = staff.get(f"{base}/sessions/{session.id}/work").json
    return {load["code"]: load["load"] for load in work["rows"][row]["loads"]}[code]


def test_effort_by_segment_is_weighted_by_the_coach_and_unknown_while_a_part_lacks_a_rating(staff, squad, base):
    code = make(staff, base, name="Parts", form="segment_effort", unit="weighted")
    session = squad.on(YESTERDAY)
    parts = [{"name": "Drill", "begins": 0, "minutes": 20, "weight": 1},
             {"name": "Game", "begins": 20, "minutes": 40, "weight": 4}]  # fmt: skip
    staff.write("PUT", f"{base}/sessions/{session.id}/segments", {"segments": parts, "version": 1})

    def rate(second, version=None):
        items = [{"minutes": 20, "effort": 4}, {"minutes": 40, "effort": second}]
        change = {"athlete_id": squad.athletes[0], "what": "segments", "data": {"items": items}, "version": version}
        staff.write("PUT", f"{base}/sessions/{session.id}/work", {"changes": [change]})

    rate(None)
    assert load_of(staff, base, session, code) is None
    rate(7, version=1)
    assert load_of(staff, base, session, code) == 20 * 4 * 1 + 40 * 7 * 4
    # A changed weight moves what rests on it.
    parts[1]["weight"] = 2
    staff.write("PUT", f"{base}/sessions/{session.id}/segments", {"segments": parts, "version": 2})
    assert load_of(staff, base, session, code) == 20 * 4 * 1 + 40 * 7 * 2


def test_minutes_in_zones_count_where_nothing_was_recorded(staff, squad, base):
    code = make(staff, base, name="Zones", form="heart_rate", unit="zone min", settings={"method": "three_zones"})
    session = squad.on(YESTERDAY)
    for minutes, status in (([30, 20, 10], 200), ([30, 20], 422), ([30, 20, -1], 422)):
        change = {"athlete_id": squad.athletes[0], "what": "zones", "data": {"minutes": minutes}}
        assert staff.write("PUT", f"{base}/sessions/{session.id}/work", {"changes": [change]}).status_code == status
    assert load_of(staff, base, session, code) == 30 + 40 + 30
    assert staff.get(f"{base}/sessions/{session.id}/work").json["zones"] == 3


def test_another_place_makes_another_load_of_the_same_work(staff, squad, base):
    staff.write("POST", f"{base}/places", {"name": "Sand"})
    settings = DRAFT["settings"] | {"places": {"Sand": 0.5}}
    code = make(staff, base, settings=settings)
    session = squad.on(YESTERDAY)
    count(staff, base, session, squad.athletes[0], 40)
    assert load_of(staff, base, session, code) == 45
    assert staff.write("PUT", f"{base}/sessions/{session.id}/place", {"place": "Sand"}).status_code == 200
    assert load_of(staff, base, session, code) == 22.5
    refused = staff.write("PUT", f"{base}/sessions/{session.id}/place", {"place": "Moon"})
    assert (refused.status_code, refused.json["errors"][0]["field"]) == (422, "place")


def test_a_place_moves_the_load_of_a_rated_session_in_the_grid_too(staff, squad, base):
    channels = staff.get(f"{base}/channels?day={TODAY}").json["channels"]
    main = next(channel for channel in channels if channel["is_main"])
    staff.write("POST", f"{base}/places", {"name": "Sand"})
    draft = {key: main[key] for key in ("name", "unit", "regions", "mark")}
    draft |= {key: main["definition"][key] for key in ("form", "kinds")}
    draft |= {"settings": {"places": {"Sand": 1.5}}, "from_day": str(YESTERDAY), "reason": "dunes"}
    draft |= {"recompute": True, "version": main["version"]}
    saved = staff.write("PUT", f"{base}/channels/{main['code']}", draft)
    assert saved.status_code == 200, saved.json
    session = squad.on(YESTERDAY)
    before = staff.get(f"{base}/sessions/{session.id}").json
    assert before["factor"] == 1
    staff.write("PUT", f"{base}/sessions/{session.id}/place", {"place": "Sand"})
    after = staff.get(f"{base}/sessions/{session.id}").json
    assert after["factor"] == 1.5
    # And it is known to whoever plans there, from the day on that it holds.
    for day, factor in ((YESTERDAY, 1.5), (YESTERDAY - timedelta(days=1), 1.0)):
        planned = staff.get(f"{base}/sessions?day={day}&days=1").json
        assert (planned["places"], planned["place_factors"]) == (["Sand"], {"Sand": factor})
    rated = [(old["load"], new["load"]) for old, new in zip(before["rows"], after["rows"], strict=True) if old["load"]]
    assert rated
    assert all(new == old * 1.5 for old, new in rated)


@pytest.mark.parametrize("ending", ["tsv", "xlsx", "parquet", "jsonl"])
def test_daily_loads_are_taken_out_in_the_format_that_is_asked_for(staff, coach, base, tmp_path, ending):
    path = tmp_path / f"loads.{ending}"
    answer = staff.get(f"{base}/daily-loads.{ending}?day={TODAY}")
    path.write_bytes(answer.data)
    assert look_at(path).columns == ["athlete", "date", "channel", "load", "status"]
    assert coach.get(f"{base}/daily-loads.{ending}?day={TODAY}").status_code == 403
    assert staff.get(f"{base}/daily-loads.exe?day={TODAY}").status_code == 404


def test_sessions_are_taken_out_as_a_calendar(staff, base):
    calendar = staff.get(f"{base}/sessions.ics")
    assert calendar.mimetype == "text/calendar"
    assert calendar.data.count(b"BEGIN:VEVENT") > 40


def test_a_lifting_sheet_is_estimated_by_both_formulas_within_their_range(staff, base):
    items = [{"exercise": "Squat", "sets": 3, "reps": 5, "kg": 100, "reserve": 2},
             {"exercise": "Squat", "sets": 1, "reps": 15, "kg": 60},
             {"exercise": "Squat", "sets": 1, "reps": 1, "kg": 120}]  # fmt: skip
    found = staff.write("POST", f"{base}/lifting/estimate", {"items": items}).json["items"]
    assert found[0]["tonnage"] == 1500
    assert found[0]["epley"] == pytest.approx(100 * (1 + 7 / 30))
    assert found[0]["brzycki"] == pytest.approx(100 * 36 / 30)
    assert found[1] == {"tonnage": 900, "epley": None, "brzycki": None}
    assert (found[2]["epley"], found[2]["brzycki"]) == (120, 120)
    assert staff.write("POST", f"{base}/lifting/estimate", {"items": [items[0] | {"reps": 0}]}).status_code == 422


def test_a_plates_file_comes_to_the_jump_it_was(staff, base):
    true = plate.TrueJump(82, 0.41, 0.47)
    content = plate.plate_file(*plate.countermovement(true, np.random.default_rng(2)))
    found = staff.write("POST", f"{base}/tests/trace", {"content": content}).json["metrics"]
    metrics = {one["name"]: one["value"] for one in found}
    assert metrics["Height by impulse"] == pytest.approx(41, abs=1)
    assert metrics["Height by flight time"] == pytest.approx(41, abs=0.5)
    assert metrics["Left share"] == pytest.approx(47, abs=0.2)
    contact = plate.plate_file(*plate.drop(true, 0.21, np.random.default_rng(2)))
    found = staff.write("POST", f"{base}/tests/trace", {"content": contact, "drop": True}).json["metrics"]
    assert found[1] == {"name": "Contact time", "value": pytest.approx(0.21, abs=0.005), "unit": "s"}
    refused = staff.write("POST", f"{base}/tests/trace", {"content": "nothing"})
    assert refused.status_code == 422

"""The session as it runs, over the wire: who reads what of it, and what is kept once it is over."""

from datetime import timedelta

import pytest

from tests.conftest import NOW, TODAY
from uvren.services.session import planning
from uvren.store.models import Entry, SessionKind
from uvren.store.types import new_ulid


@pytest.fixture
def evening(db, squad):
    """A session that begins now, in two parts."""
    parts = (planning.NewSegment("Warm-up", 12, 1.0), planning.NewSegment("Open play", 30, 3.0))
    wanted = planning.NewSession(NOW - timedelta(hours=1), SessionKind.COURT, "Evening", 45, 5, segments=parts)
    made = planning.plan_sessions(db, squad.squad, [wanted])[0]
    db.commit()
    return made


def noted(kind, minutes, **more):
    at = NOW - timedelta(hours=1) + timedelta(minutes=minutes)
    return {"id": new_ulid(), "kind": kind, "at": at.isoformat(), **more}


def test_a_session_is_run_noted_and_kept(coach, base, evening, squad, db):
    path = f"{base}/sessions/{evening.id}/field"
    field = coach.get(f"{base}/field?day={TODAY}&session={evening.id}").json
    assert [part["name"] for part in field["parts"]] == ["Warm-up", "Open play"]
    assert {row["athlete_id"] for row in field["rows"]} == set(squad.athletes)
    assert all(row["plan_minutes"] > 0 for row in field["rows"])
    a, b = squad.athletes[:2]
    events = [noted("begin", 0, part=0), noted("begin", 15, part=1), noted("leave", 30, athlete_id=b)]
    assert coach.write("POST", path, {"events": events}).status_code == 200
    refused = coach.write("POST", f"{path}/finish")
    assert (refused.status_code, refused.json["detail"]) == (422, "A part is still running. Stop it first.")
    answer = coach.write("POST", path, {"events": [noted("stop", 45), noted("note", 46, words="wind", athlete_id=a)]})
    assert [one["kind"] for one in answer.json["events"]] == ["begin", "begin", "leave", "stop", "note"]
    assert answer.json["events"][-1]["by"]
    kept = coach.write("POST", f"{path}/finish").json
    assert (kept["kept"], kept["left"]) == (["2 parts", "minutes of 1 athlete"], [])
    # Once more: what stands there already is not touched.
    assert coach.write("POST", f"{path}/finish").json["left"] == ["minutes of 1 athlete that were there already"]
    db.expire_all()
    entry = db.query(Entry).filter_by(session_id=evening.id, athlete_id=b).one()
    assert (entry.minutes, entry.effort) == (30.0, None)


def test_a_place_noted_late_in_the_match_before_is_there_at_the_next_look(coach, base, squad, db):
    """The answer is kept until something is noted: of the match before, too."""
    days = (NOW - timedelta(hours=12), NOW - timedelta(hours=1))
    before, match = planning.plan_sessions(
        db, squad.squad, [planning.NewSession(at, SessionKind.MATCH, "Match", 60, 8) for at in days]
    )
    db.commit()
    look = f"{base}/field?day={TODAY}&session={match.id}"
    assert coach.get(look).json["places"] == {"names": [], "most": None}
    event = noted("on", -600, athlete_id=squad.athletes[0], words="keeper")
    assert coach.write("POST", f"{base}/sessions/{before.id}/field", {"events": [event]}).status_code == 200
    assert coach.get(look).json["places"] == {"names": ["keeper"], "most": 1}


def test_a_coach_is_told_what_is_to_change_and_no_reason(coach, staff, base, evening):
    told = coach.get(f"{base}/field?day={TODAY}").json["rows"]
    assert not any("reason" in row for row in told)
    assert [row["athlete_id"] for row in staff.get(f"{base}/field?day={TODAY}").json["rows"]] == [
        row["athlete_id"] for row in told
    ]


def test_an_event_of_another_squads_session_is_not_noted(coach, base, evening):
    answer = coach.write("POST", f"{base}/sessions/{new_ulid()}/field", {"events": [noted("stop", 0)]})
    assert answer.status_code == 404
    wrong = coach.write("POST", f"{base}/sessions/{evening.id}/field", {"events": [noted("begin", 0, part=9)]})
    assert (wrong.status_code, wrong.json["detail"]) == (422, "There is no such part in this session.")
    empty = coach.write("POST", f"{base}/sessions/{evening.id}/field", {"events": []})
    assert empty.status_code == 422


def test_a_day_without_a_session_says_so(coach, base):
    answer = coach.get(f"{base}/field?day=2026-03-01")
    assert (answer.status_code, answer.json["detail"]) == (404, "There is no session on this day.")


def test_a_spell_is_set_for_one_and_withdrawn(coach, base, evening, squad):
    body = {"athlete_id": squad.athletes[0], "what": "full throw", "most": 8, "break_minutes": 5}
    made = coach.write("PUT", f"{base}/field/spells?day={TODAY}", body).json
    assert [one["id"] for one in coach.get(f"{base}/field?day={TODAY}").json["spells"]] == [made["id"]]
    rows = coach.get(f"{base}/field?day={TODAY}").json["rows"]
    mine = {row["athlete_id"]: row["spells"] for row in rows}
    assert mine.pop(squad.athletes[0]) == [{"what": "full throw", "most": 8, "seconds": 300.0}]
    assert not any(mine.values())
    assert all(0 < row["minimum_minutes"] < row["plan_minutes"] for row in rows)
    assert coach.write("DELETE", f"{base}/field/spells/{made['id']}").status_code == 200
    assert coach.get(f"{base}/field?day={TODAY}").json["spells"] == []
    assert coach.write("PUT", f"{base}/field/spells?day={TODAY}", {**body, "most": 0}).status_code == 422


def test_match_terms_say_that_there_is_no_match_yet_and_a_pattern_goes_into_a_session_to_come(coach, base, squad):
    before, after = squad.on(TODAY - timedelta(days=1)), squad.on(TODAY + timedelta(days=1))
    terms = coach.get(f"{base}/sessions/{before.id}/match-terms").json
    assert (terms["matches"], terms["game"]) == (0, None)
    body = {"part": "Open play", "on": 6, "off": 15}
    assert coach.write("PUT", f"{base}/sessions/{after.id}/pattern", body).status_code == 404
    assert coach.write("PUT", f"{base}/sessions/{before.id}/pattern", body).status_code == 422

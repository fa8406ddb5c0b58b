"""Hubs over the wire: JSON lines with a secret, what is told of a wrong one, and what everybody sees of it."""

import itertools
import json
import threading
from datetime import timedelta

import pytest

from tests.conftest import NOW
from uvren.services.session import planning
from uvren.store.models import LiveChunk, Recording, SessionKind
from uvren.store.types import new_ulid
from uvren.web.field import broadcast, live


@pytest.fixture
def evening(db, squad):
    parts = (planning.NewSegment("Warm-up", 12, 1.0), planning.NewSegment("Open play", 30, 3.0))
    wanted = planning.NewSession(NOW - timedelta(minutes=10), SessionKind.COURT, "Evening", 45, 5, segments=parts)
    made = planning.plan_sessions(db, squad.squad, [wanted])[0]
    db.commit()
    return made


@pytest.fixture
def hub(staff, base):
    return staff.write("POST", f"{base}/hubs", {"name": "Pitch"}).json


def line(device="A", number=0, at=NOW, values=(120.0, 121.0), **more):
    t = [float(i) for i in range(len(values))]
    return {"device": device, "kind": "heart_rate", "number": number, "at": at.isoformat(), "t": t,
            "value": list(values)} | more  # fmt: skip


@pytest.fixture
def send(app, hub):
    """Posts lines as a hub does: without a cookie, with its secret."""

    def go(*lines, token=None):
        body = "\n".join(one if isinstance(one, str) else json.dumps(one) for one in lines)
        headers = {"Authorization": f"Bearer {hub['token'] if token is None else token}"}
        return app.test_client().post("/api/live/samples", data=body, headers=headers)

    return go


def test_lines_are_kept_and_what_is_not_says_why(send, evening, staff, base, db):
    answer = send(line(), "", line("B", 1), line("nobody", 2))
    assert answer.status_code == 200
    assert (answer.json["session_id"], answer.json["kept"]) == (evening.id, [0, 2])
    assert [(one["line"], one["said"][:18]) for one in answer.json["refused"]] == [(3, "Nobody is known as")]
    assert db.query(LiveChunk).count() == 2
    assert staff.get(f"{base}/hubs").json["hubs"][0]["seen_at"]


@pytest.mark.parametrize(
    ("lines", "said"),
    [
        (["{"], "Line 1 cannot be read: the line"),
        ([line(kind="sweat")], "Line 1 cannot be read: kind"),
        ([line(), line(number=-1)], "Line 2 cannot be read: number"),
        ([line(values=())], "Line 1 cannot be read: t"),
        ([line() | {"at": "2026-03-12T08:00:00"}], "no time zone"),
        ([line() | {"value": [float("nan"), 1.0]}], "Line 1 cannot be read: value.0"),
        ([line(at=NOW + timedelta(days=1))], "The clock of this hub is 24 h off"),
        ([], "There is no line"),
    ],
)
def test_what_cannot_be_read_names_its_line(send, evening, lines, said):
    answer = send(*lines)
    assert answer.status_code == 422
    assert said in answer.json["detail"]


def test_a_wrong_secret_sends_nothing_and_a_withdrawn_hub_neither(send, evening, staff, base, hub, db):
    assert send(line(), token="guessed").status_code == 403
    assert send(line(), token="").status_code == 403
    assert staff.write("DELETE", f"{base}/hubs/{hub['id']}").status_code == 200
    assert send(line()).status_code == 403
    assert staff.write("DELETE", f"{base}/hubs/{hub['id']}").status_code == 404
    assert db.query(LiveChunk).count() == 0


def test_a_coach_watches_and_makes_no_hub(coach, staff, base, evening, send):
    send(line(values=(130.0,) * 30, at=NOW - timedelta(seconds=30)))
    assert coach.write("POST", f"{base}/hubs", {"name": "Mine"}).status_code == 403
    live = coach.get(f"{base}/sessions/{evening.id}/live").json
    assert [part["name"] for part in live["parts"]] == ["Warm-up", "Open play"]
    assert live["parts"][0]["high"] < live["parts"][1]["low"] + 12
    assert len(live["lanes"]) == 4
    first = next(lane for lane in live["lanes"] if lane["devices"])
    # Without a maximum nobody's heart rate is held against anything.
    assert (first["bpm"], first["share"]) == (130.0, None)
    assert live["said"].endswith("1 as they should be.") or live["said"].startswith("Nobody")
    assert coach.get(f"{base}/sessions/{new_ulid()}/live").status_code == 404


def test_whoever_does_not_run_sessions_watches_none(athlete, admin, base, evening):
    for who in (athlete, admin):
        assert who.get(f"{base}/sessions/{evening.id}/live/stream").status_code == 403


def test_what_came_in_pieces_is_one_recording_once_the_session_is_kept(send, coach, base, evening, db, squad):
    path = f"{base}/sessions/{evening.id}/field"
    at = NOW - timedelta(minutes=8)
    coach.write("POST", path, {"events": [{"id": new_ulid(), "kind": "begin", "part": 1, "at": at.isoformat()}]})
    for i in range(4):
        begins = at + timedelta(seconds=60 * i)
        assert send(line("A", i, begins, (140.0 + i,) * 60)).json["kept"] == [0]
    # A second strap, called by the shirt, and a pod.
    send(line("1", 0, at, (150.0,) * 60), line("A", 0, at, (3.0,) * 60, kind="position"))
    stop = {"id": new_ulid(), "kind": "stop", "at": (NOW - timedelta(minutes=1)).isoformat()}
    coach.write("POST", path, {"events": [stop]})
    kept = coach.write("POST", f"{path}/finish").json["kept"]
    assert "recordings of 1 athlete" in kept
    made = {(one.device, one.kind.value): one for one in db.query(Recording).filter_by(session_id=evening.id)}
    assert {one.athlete_id for one in made.values()} == {squad.athletes[0]}
    # Of two straps at one time one counts; a pod beside them counts too.
    assert {key: (one.samples, one.counts) for key, one in made.items()} == {
        ("A", "heart_rate"): (240, True),
        ("1", "heart_rate"): (60, False),
        ("A", "position"): (60, True),
    }
    assert db.query(LiveChunk).count() == 0


def strap(squad, **more):
    body = {"athlete_id": squad.athletes[1], "device": "here 1", "number": 0, "at": NOW.isoformat()}
    return body | {"t": [0.0, 1.0], "value": [121.0, 122.0]} | more


def test_a_strap_that_a_browser_reads_is_kept_for_whom_it_was_put_on(coach, base, evening, squad, db):
    path = f"{base}/sessions/{evening.id}/live/strap"
    for _ in range(2):
        assert coach.write("POST", path, strap(squad)).status_code == 200
    assert coach.write("POST", path, strap(squad, number=1, device="here 2")).status_code == 200
    assert [(one.athlete_id, one.device) for one in db.query(LiveChunk).order_by(LiveChunk.id)] == [
        (squad.athletes[1], "here 1"),
        (squad.athletes[1], "here 2"),
    ]
    lane = next(one for one in coach.get(f"{base}/sessions/{evening.id}/live").json["lanes"] if one["devices"])
    assert lane["athlete_id"] == squad.athletes[1]


@pytest.mark.parametrize(
    ("more", "said"),
    [
        ({"athlete_id": 10**6}, "not in the squad on this day"),
        ({"t": [0.0]}, "two rows of one length"),
        ({"at": (NOW - timedelta(days=1)).isoformat()}, "24 h off"),
    ],
)
def test_what_a_browser_cannot_have_read_is_refused(coach, base, evening, squad, db, more, said):
    answer = coach.write("POST", f"{base}/sessions/{evening.id}/live/strap", strap(squad, **more))
    assert (answer.status_code, said in answer.json["detail"]) == (422, True)
    for days in (-1, 2):
        other = squad.on(squad.today + timedelta(days=days))
        assert coach.write("POST", f"{base}/sessions/{other.id}/live/strap", strap(squad)).status_code == 422
    assert db.query(LiveChunk).count() == 0


def test_a_broadcast_is_worked_out_once_for_all_who_watch_and_ends_when_nobody_does(monkeypatch):
    monkeypatch.setattr(broadcast, "IDLE_SECONDS", 0.05)
    monkeypatch.setattr(broadcast, "LOOK_SECONDS", 0.005)
    monkeypatch.setattr(broadcast, "SAY_SECONDS", 0.01)
    made, numbers = [], itertools.count()

    def make():
        made.append(1)
        return lambda due: f'{{"n": {next(numbers)}}}'

    running = broadcast.Broadcasts(2)
    first, second = running.join("s", make), running.join("s", make)
    assert running.join("s", make) is None
    for seat in (first, second):
        assert next(seat.events).startswith("retry")
        assert "data: {" in next(seat.events)
    assert len(made) == 1
    first.leave()
    third = running.join("s", make)
    assert next(third.events)
    # Whoever was cut off is told what is so now, whatever was missed.
    assert "data: {" in next(third.events)
    for seat in (first, second, third):
        seat.leave()
    assert running.viewers == 0
    until = threading.Event()
    for _ in range(200):
        if all(one.ended for one in running._running.values()):
            break
        until.wait(0.02)
    fourth = running.join("s", make)
    assert len(made) == 2
    fourth.leave()


def test_a_seat_that_was_never_sat_on_is_given_back_with_the_answer(coach, base, evening, app, monkeypatch):
    monkeypatch.setattr(live, "_work", lambda *_: lambda due: None)
    watched = app.extensions["uvren_live"]
    answer = coach.open(f"{base}/sessions/{evening.id}/live/stream")
    assert (answer.status_code, watched.viewers) == (200, 1)
    answer.close()
    assert watched.viewers == 0
    monkeypatch.setattr(watched, "most", 0)
    assert coach.get(f"{base}/sessions/{evening.id}/live/stream").status_code == 429


def test_whoever_watches_is_asked_who_they_are_again_after_some_minutes(monkeypatch):
    monkeypatch.setattr(broadcast, "LASTS_SECONDS", 0.05)
    monkeypatch.setattr(broadcast, "ALIVE_SECONDS", 0.01)
    seat = broadcast.Broadcasts(1).join("s", lambda: lambda due: None)
    heard = list(seat.events)
    seat.leave()
    assert heard[0].startswith("retry")
    assert set(heard[1:]) == {": still here\n\n"}


def test_trouble_with_the_database_ends_no_broadcast(monkeypatch):
    monkeypatch.setattr(broadcast, "SAY_SECONDS", 0.01)
    tries = itertools.count()

    def work(due):
        if next(tries) < 2:
            raise RuntimeError("MariaDB is on its way back")
        return "{}"

    seat = broadcast.Broadcasts(1).join("s", lambda: work)
    next(seat.events)
    assert "data: {}" in next(seat.events)
    seat.leave()

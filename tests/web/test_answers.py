"""Answers that are given again while nothing has changed: to whom, and until when."""

import gzip
import json
import time
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta
from threading import Barrier
from unittest.mock import patch

import pytest

from tests.conftest import NOW, TODAY, make_database
from tests.squad import PASSWORD, make_small_squad
from tests.web.conftest import Client, StillClock
from uvren.services.day import kept
from uvren.services.day.kept import Days
from uvren.services.squad import squads
from uvren.store.database import connect, sessions, snapshots
from uvren.store.models import Audit, Call, Club, Role, RoleGrant, User
from uvren.web.answers import Answer, Answers
from uvren.web.app import create_app
from uvren.web.morning import calls, morning
from uvren.web.workers import work_out_today


class House:
    """The small squad, committed, with somebody of each role signed in."""

    def __init__(self, url: str) -> None:
        self.engine = connect(url)
        self.open = sessions(self.engine)
        self.clients = {}
        self.last = 0.5
        with self.open() as db:
            self.small = make_small_squad(db, TODAY)
            club, squad = db.get_one(Club, self.small.squad.club_id), self.small.squad
            for role in (Role.PERFORMANCE, Role.COACH, Role.CLINICIAN, Role.ATHLETE):
                user = squads.create_user(db, club, role.value, role.value, PASSWORD, {squad.id: role})
                if role is Role.ATHLETE:
                    user.athlete_id = self.small.athletes[0]
            db.commit()
        self.app = create_app(url, "secret of the tests", StillClock())
        self.app.test_client_class = Client
        for role in (Role.PERFORMANCE, Role.COACH, Role.CLINICIAN, Role.ATHLETE):
            self.clients[role] = self.app.test_client()
            assert self.clients[role].sign_in(role.value).status_code == 200

    def another(self):
        """A rating that was not given before."""
        self.last = self.last % 9 + 0.5
        return self.last

    def get(self, role, path, tag=None, **headers):
        given = headers | ({"If-None-Match": tag} if tag else {})
        return self.clients[role].get(f"/api/squads/{self.small.squad.slug}/{path}", headers=given)

    def rate(self, effort, who=1):
        with self.open() as db:
            session = self.small.on(TODAY - timedelta(days=1))
            version = self.small.entry(db, self.small.athletes[who], session.day).version
        change = {"athlete_id": self.small.athletes[who], "minutes": 60, "effort": effort, "version": version}
        path = f"/api/squads/{self.small.squad.slug}/sessions/{session.id}/entries"
        assert self.clients[Role.PERFORMANCE].write("PATCH", path, {"changes": [change]}).status_code == 200


@pytest.fixture(scope="module")
def house(server):
    made = House(make_database(server, "answers"))
    yield made
    made.engine.dispose()


MORNING = f"morning?day={TODAY}"
READ = [MORNING, f"sheet?day={TODAY}", f"spine?day={TODAY}", f"athletes/1/evidence?day={TODAY}",
        f"athletes/1/timeline?day={TODAY}", f"week?day={TODAY}"]  # fmt: skip


@pytest.mark.parametrize("path", READ)
def test_what_has_not_changed_is_not_sent_again_and_what_has_is(house, path):
    first = house.get(Role.PERFORMANCE, path)
    tag = first.headers["ETag"]
    again = house.get(Role.PERFORMANCE, path, tag)
    assert (again.status_code, again.data, again.headers["ETag"]) == (304, b"", tag)
    assert house.get(Role.PERFORMANCE, path).json == first.json
    house.rate(house.another())
    changed = house.get(Role.PERFORMANCE, path, tag)
    assert changed.status_code == 200
    assert changed.headers["ETag"] != tag


def test_a_changed_rating_is_in_the_very_next_answer(house):
    for effort in (2.0, 9.0, 4.5):
        house.rate(effort)
        lane = house.get(Role.PERFORMANCE, MORNING).json["lanes"][1]
        assert lane["strip"]["load"][-9] == effort * 60


def test_nobody_is_given_what_somebody_of_another_role_may_read(house):
    house.rate(9.5)
    answers = {role: house.get(role, MORNING) for role in (Role.PERFORMANCE, Role.COACH, Role.CLINICIAN)}
    tags = {answer.headers["ETag"] for answer in answers.values()}
    assert len(tags) == 3
    # A tag of somebody else's answer says nothing of one's own.
    other = house.get(Role.COACH, MORNING, answers[Role.CLINICIAN].headers["ETag"])
    assert other.status_code == 200
    assert other.json == answers[Role.COACH].json
    assert house.get(Role.ATHLETE, MORNING).status_code == 403


def test_an_athletes_own_page_is_theirs_and_changes_with_their_ratings(house):
    own = house.get(Role.ATHLETE, "own/today")
    assert house.get(Role.ATHLETE, "own/today", own.headers["ETag"]).status_code == 304
    house.rate(1.5, who=0)
    assert house.get(Role.ATHLETE, "own/today", own.headers["ETag"]).status_code == 200
    assert house.get(Role.COACH, "own/today").status_code == 403


def test_who_has_lost_a_right_is_given_nothing_that_was_kept(house):
    tag = house.get(Role.COACH, MORNING).headers["ETag"]

    def grants(db):
        user = db.query(User).filter_by(login="coach").one()
        return db.query(RoleGrant).filter_by(user_id=user.id)

    with house.open() as db:
        grants(db).delete()
        db.commit()
    assert house.get(Role.COACH, MORNING, tag).status_code == 404
    with house.open() as db:
        user = db.query(User).filter_by(login="coach").one()
        db.add(RoleGrant(user_id=user.id, squad_id=house.small.squad.id, role=Role.COACH))
        db.commit()
    assert house.get(Role.COACH, MORNING).status_code == 200


def test_a_look_at_what_is_kept_is_noted_like_every_look(house):
    report = {
        "kind": "daily", "day": str(TODAY), "answers": {"energy": 5}, "made_at": NOW.isoformat(),
        "pains": [{"site": "knee", "side": "left", "severity": 6}],
    }  # fmt: skip
    path = f"/api/squads/{house.small.squad.slug}/own/reports/01JNYB7QZX4T8M1VSG2C9HKD3E"
    assert house.clients[Role.ATHLETE].write("PUT", path, report).status_code == 200
    first = house.get(Role.CLINICIAN, MORNING)

    def looks():
        with house.open() as db:
            clinician = db.query(User).filter_by(login="clinician").one()
            return db.query(Audit).filter_by(user_id=clinician.id, action="clinical_seen").count()

    noted = looks()
    assert noted > 0
    with house.open() as db:
        # So long ago that the next look is another one.
        db.connection().exec_driver_sql("SET @@session.sql_mode = ''")
        db.connection().exec_driver_sql("TRUNCATE TABLE audit")
        db.commit()
    assert house.get(Role.CLINICIAN, MORNING, first.headers["ETag"]).status_code == 304
    assert looks() == noted


def test_a_large_answer_goes_out_packed_to_who_can_unpack_it(house):
    plain = house.get(Role.PERFORMANCE, MORNING)
    packed = house.get(Role.PERFORMANCE, MORNING, **{"Accept-Encoding": "gzip"})
    assert packed.headers["Content-Encoding"] == "gzip"
    assert json.loads(gzip.decompress(packed.data)) == plain.json
    assert len(packed.data) < len(plain.data) / 3
    assert "Accept-Encoding" in packed.headers["Vary"]


def test_a_question_that_makes_no_sense_is_refused_and_not_kept(house):
    assert house.get(Role.PERFORMANCE, "morning?day=yesterday").status_code == 422
    assert house.get(Role.PERFORMANCE, f"morning?day={TODAY}&channel=nothing").status_code == 404
    assert "ETag" not in house.get(Role.PERFORMANCE, "morning?day=yesterday").headers


def test_of_many_who_ask_at_once_one_makes_the_answer(house):
    house.rate(house.another())
    made, together = [], Barrier(6)
    read_morning = morning.morning.read_morning

    def watched(*given):
        made.append(given)
        time.sleep(0.2)
        return read_morning(*given)

    def ask():
        together.wait()
        return house.get(Role.COACH, MORNING).data

    with patch.object(morning.morning, "read_morning", watched), ThreadPoolExecutor(6) as pool:
        given = {one.result() for one in [pool.submit(ask) for _ in range(6)]}
    assert (len(made), len(given)) == (1, 1)


def test_who_waits_for_an_answer_holds_no_connection(house):
    """The one who makes it may need another, as a past morning does, which is read as it was known."""
    house.rate(house.another())
    engine = house.app.extensions["uvren_sessions"].kw["bind"]
    held, together = [], Barrier(5)
    read_morning = morning.morning.read_morning

    def watched(*given):
        time.sleep(0.3)
        held.append(engine.pool.checkedout())
        return read_morning(*given)

    def ask():
        together.wait()
        return house.get(Role.COACH, MORNING).status_code

    with patch.object(morning.morning, "read_morning", watched), ThreadPoolExecutor(5) as pool:
        assert {one.result() for one in [pool.submit(ask) for _ in range(5)]} == {200}
    assert held == [1]


def test_what_a_request_does_stands_as_a_whole_or_not_at_all(house):
    body = {
        "id": "01JNYB7QZX4T8M1VSG2C9HKD4F", "athlete_id": house.small.athletes[3], "day": str(TODAY), "kind": "rest",
        "reason": "tired",
    }  # fmt: skip
    path = f"/api/squads/{house.small.squad.slug}/calls"

    def there():
        with house.open() as db:
            return db.get(Call, body["id"]) is not None

    def breaks(*_):
        raise RuntimeError("after it was written, before it was answered")

    house.app.config["PROPAGATE_EXCEPTIONS"] = False
    with patch.object(calls, "call_said", breaks):
        assert house.clients[Role.PERFORMANCE].write("POST", path, body).status_code == 500
    assert not there()
    assert house.clients[Role.PERFORMANCE].write("POST", path, body).status_code == 200
    assert there()


def test_only_so_many_bytes_are_kept_the_last_that_were_asked_for():
    kept = Answers(most_bytes=30)
    for name in "abc":
        kept.put(name, Answer(b"x" * 10, b"", frozenset()))
    assert kept.get("a") is not None
    kept.put("d", Answer(b"x" * 10, b"", frozenset()))
    assert [name for name in "abcd" if kept.get(name)] == ["a", "c", "d"]
    kept.put("a", Answer(b"x" * 25, b"", frozenset()))
    assert [name for name in "abcd" if kept.get(name)] == ["a"]
    # What is larger than all of it together is not kept.
    kept.put("e", Answer(b"x" * 31, b"", frozenset()))
    assert kept.get("e") is None


def test_a_process_that_starts_has_worked_out_today_before_anybody_asks(house):
    house.app.extensions["uvren_days"] = Days(snapshots(house.engine))
    assert work_out_today(house.app)
    with patch.object(kept, "read_day", side_effect=AssertionError("worked out once more")):
        assert house.get(Role.PERFORMANCE, f"morning?day={TODAY}").status_code == 200

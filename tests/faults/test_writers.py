"""Many who write at once: nothing fails, nothing is lost, and nothing is there twice."""

import os
import random
import threading
import time
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta

import pytest
from sqlalchemy import func, select, text
from sqlalchemy.exc import DBAPIError, OperationalError

from tests.conftest import NOW, TODAY
from tests.squad import PASSWORD, make_small_squad
from tests.web.conftest import Client, StillClock
from uvren.services.club import privacy
from uvren.services.squad import squads
from uvren.services.squad.fitness_tests import Draft, save_test
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.database import sessions
from uvren.store.models import Club, Complaint, Entry, Report, Role, Session, Squad
from uvren.store.types import new_ulid
from uvren.web.app import Uvren, create_app
from uvren.web.turns import TURNS

# Longer by hand: UVREN_SECONDS=30.
WRITERS, SECONDS = 20, float(os.environ.get("UVREN_SECONDS", "6"))


class House:
    """An application on a database of its own, with a squad of whom everybody can sign in."""

    def __init__(self, url, engine):
        self.app = create_app(url, "secret of the tests", StillClock())
        self.app.test_client_class = Client
        self.open = sessions(engine)
        with self.open() as db:
            small = make_small_squad(db, TODAY)
            club = db.get_one(Club, small.squad.club_id)
            self.names = [small.staff.login]
            for athlete in small.athletes:
                user = squads.create_user(db, club, new_ulid().lower(), "A", PASSWORD, {small.squad.id: Role.ATHLETE})
                user.athlete_id = athlete
                self.names.append(user.login)
            clinician = squads.create_user(
                db, club, new_ulid().lower(), "C", PASSWORD, {small.squad.id: Role.CLINICIAN}
            )
            self.names.append(clinician.login)
            save_test(db, small.squad, Draft("Jump", "cm"), code=None, stamp=Stamp(small.staff.id, NOW))
            db.commit()
            self.base, self.athletes = f"/api/squads/{small.squad.slug}", small.athletes
            self.squad_id = small.squad.id
            self.sessions = [one.id for one in small.sessions if TODAY - timedelta(days=6) <= one.day < TODAY]

    def client(self, i):
        client = self.app.test_client()
        assert client.sign_in(self.names[i]).status_code == 200
        return client


@pytest.fixture
def house(small_url, engine):
    return House(small_url, engine)


def daily(pain=0):
    pains = [{"site": "knee", "side": "left", "severity": pain}] if pain else []
    return {"kind": "daily", "day": str(TODAY), "answers": {"mood": 5}, "made_at": f"{TODAY}T06:00:00Z",
            "pains": pains}  # fmt: skip


def test_twenty_who_write_at_once_all_have_written(house):
    """Reports and ratings on phones, the grid, work, tests, calls and clinicians' words, as fast as they can."""
    staff, *phones = (house.client(i) for i in range(5))
    clinician = house.client(5)
    told, refused, injured = Counter(), Counter(), set()
    until = time.monotonic() + SECONDS
    lock = threading.Lock()

    def said(what, answer):
        with lock:
            (told if answer.status_code == 200 else refused)[what, answer.status_code] += 1

    def write(i):
        chance = random.Random(i)
        mine = house.app.test_client()
        source = [staff, clinician, *phones][i % 6]
        mine.set_cookie("uvren", source.get_cookie("uvren").value)
        mine.token = source.token
        while time.monotonic() < until:
            athlete = chance.randrange(4)
            if i % 6 == 0:
                session, who = chance.choice(house.sessions), house.athletes[athlete]
                kind = chance.choice(["grid", "test", "work"])
                if kind == "grid":
                    with house.open() as db:
                        entry = queries.session.entry_of(db, session, who)
                        version = entry.version if entry else None
                    change = {
                        "athlete_id": who,
                        "minutes": 60,
                        "effort": chance.randrange(2, 18) / 2,
                        "version": version,
                    }
                    answer = mine.write("PATCH", f"{house.base}/sessions/{session}/entries", {"changes": [change]})
                    # Somebody else was quicker: that is said, and lost is nothing.
                    if answer.status_code == 409:
                        continue
                elif kind == "test":
                    result = {"athlete_id": who, "side": "", "trials": [30 + chance.random(), None, None],
                              "version": None, "sure": True}  # fmt: skip
                    body = {"day": str(TODAY - timedelta(days=chance.randrange(300))), "results": [result]}
                    answer = mine.write("PUT", f"{house.base}/tests/jump/results", body)
                    if answer.status_code == 409:
                        continue
                else:
                    data = {"minutes": [30, 20, chance.randrange(20)]}
                    body = {"changes": [{"athlete_id": who, "what": "zones", "data": data, "version": None}]}
                    answer = mine.write("PUT", f"{house.base}/sessions/{session}/work", body)
                    if answer.status_code == 409:
                        continue
                said(kind, answer)
            elif i % 6 == 1:
                body = {"athlete_id": house.athletes[athlete], "pain": {"site": "knee", "side": "left", "severity": 3}}
                injured.add(athlete)
                said("injury", mine.write("POST", f"{house.base}/complaints", body))
            elif chance.random() < 0.5:
                said("report", mine.write("PUT", f"{house.base}/own/reports/{new_ulid()}", daily(chance.randrange(9))))
            else:
                body = {"kind": "session", "session_id": chance.choice(house.sessions), "answers": {"effort": 5},
                        "made_at": f"{TODAY}T06:00:00Z"}  # fmt: skip
                with house.open() as db:
                    body["day"] = str(
                        queries.session.sessions_of(db, house.squad_id, [body["session_id"]]).popitem()[1].day
                    )
                said("rating", mine.write("PUT", f"{house.base}/own/reports/{new_ulid()}", body))

    with ThreadPoolExecutor(WRITERS) as pool:
        list(pool.map(write, range(WRITERS)))
    assert refused == Counter()
    assert {what for what, _ in told} == {"grid", "test", "work", "injury", "report", "rating"}
    with house.open() as db:
        kept = db.scalar(select(func.count()).select_from(Report).where(Report.squad_id == house.squad_id))
        assert kept == told["report", 200] + told["rating", 200]
        injuries = db.scalar(
            select(func.count()).select_from(Complaint).where(
                Complaint.squad_id == house.squad_id, Complaint.report_id.is_(None)
            )
        )  # fmt: skip
        # The same injury of the same day is one, however often it is told and by how many at once.
        assert injuries == len(injured)
        assert told["injury", 200] > injuries
        counting = db.execute(
            select(Report.athlete_id, Report.kind, Report.day, Report.session_id, func.count())
            .where(Report.squad_id == house.squad_id, Report.counts)
            .group_by(Report.athlete_id, Report.kind, Report.day, Report.session_id)
        ).all()
        assert {count for *_, count in counting} == {1}


def test_six_who_rate_one_session_in_the_same_second_are_all_in(house):
    phones = [house.client(1 + i % 4) for i in range(6)]
    session = house.sessions[0]
    with house.open() as db:
        day = str(db.get_one(Session, session).day)
        for entry in queries.session.entries_of(db, [session]):
            entry.effort = None
        db.commit()
    gate = threading.Barrier(6)

    def rate(phone):
        gate.wait()
        body = {"kind": "session", "session_id": session, "answers": {"effort": 7.0}, "day": day,
                "made_at": f"{TODAY}T06:00:00Z"}  # fmt: skip
        return phone.write("PUT", f"{house.base}/own/reports/{new_ulid()}", body).status_code

    with ThreadPoolExecutor(6) as pool:
        assert set(pool.map(rate, phones)) == {200}
    with house.open() as db:
        assert [one.effort for one in queries.session.entries_of(db, [session])] == [7.0] * 4
        assert db.scalars(select(Entry.version).where(Entry.session_id == session)).all()


def test_who_waits_for_one_who_waits_for_them_begins_again_and_is_answered(house, monkeypatch):
    """A deadlock that still comes is begun again; one that does not end is answered as busy."""
    staff = house.client(0)
    fails = [3]
    real = queries.squad.hold

    def hold(db, *squads):
        real(db, *squads)
        if fails[0]:
            fails[0] -= 1
            raise OperationalError("SELECT", {}, _Deadlock(1213, "Deadlock found"))

    monkeypatch.setattr(queries.squad, "hold", hold)
    new = {"name": "E. Xample", "number": 9, "position": "wing", "from_day": str(TODAY)}
    assert staff.write("POST", f"{house.base}/members", new).status_code == 200
    fails[0] = 99
    answer = staff.write("POST", f"{house.base}/members", new | {"name": "F. Xample"})
    assert (answer.status_code, answer.headers["Retry-After"]) == (503, "2")
    fails[0] = 0
    names = [one["name"] for one in staff.get(f"{house.base}/people?day={TODAY}").json["athletes"]]
    assert (names.count("E. Xample"), names.count("F. Xample")) == (1, 0)


class _Deadlock(Exception):
    pass


def test_of_many_guesses_at_once_five_are_looked_at_at_the_most(house, monkeypatch):
    from uvren.services.club import accounts

    looked = []
    real = accounts._hasher

    class Slow:
        def verify(self, *given):
            looked.append(given)
            time.sleep(0.05)
            return real.verify(*given)

        def hash(self, password):
            return real.hash(password)

    monkeypatch.setattr(accounts, "_hasher", Slow())
    # No more than the address itself may try.
    many = accounts.TRIES_FOR_ADDRESS - 5
    gate = threading.Barrier(many)

    def guess(i):
        client = house.app.test_client()
        client.renew()
        gate.wait()
        return client.write(
            "POST", "/api/sign-in", {"login": house.names[0], "password": f"guess number {i}"}
        ).status_code

    with ThreadPoolExecutor(many) as pool:
        answers = Counter(pool.map(guess, range(many)))
    assert len(looked) <= accounts.TRIES_FOR_LOGIN
    assert (answers[422], answers[429]) == (len(looked), many - len(looked))


def test_who_only_looks_waits_for_nobody_who_writes(house):
    staff = house.client(0)
    with house.open() as db:
        queries.squad.hold(db, house.squad_id)
        db.execute(text("SET innodb_lock_wait_timeout = 1"))
        assert staff.get(f"{house.base}/morning?day={TODAY}").status_code == 200
        clinician = house.client(5)
        # Noting the look adds a row that names the squad.
        assert clinician.get(f"{house.base}/reports?day={TODAY}").status_code == 200


def test_who_is_forgotten_takes_nothing_of_what_others_held(house, engine):
    """Rows of a history are rewritten while others add to it: none of theirs goes."""
    with house.open() as db:
        other = make_small_squad(db, TODAY)
        db.commit()
        others, session = list(other.athletes), other.sessions[0].id
        stamp = Stamp(other.staff.id, NOW)
    done, stop = [], threading.Event()

    def rate():
        effort = 0
        while not stop.is_set():
            effort += 1
            with house.open() as db:
                queries.squad.hold(db, house.squad_id)
                entry = queries.session.entry_of(db, house.sessions[1], house.athletes[1])
                entry.effort, entry.version = effort % 10, entry.version + 1
                db.commit()
            done.append(effort)

    writer = threading.Thread(target=rate)
    writer.start()
    for athlete in others[:3]:
        with house.open() as db:
            privacy.forget(db, db.get_one(Squad, other.squad.id), athlete, everything=True, stamp=stamp)
            db.commit()
        time.sleep(0.4)
    stop.set()
    writer.join()
    assert len(done) > 20
    with engine.connect() as connection:
        held = "SELECT COUNT(*) FROM entry FOR SYSTEM_TIME ALL WHERE session_id = :one AND athlete_id = :two"
        mine = {"one": house.sessions[1], "two": house.athletes[1]}
        assert connection.execute(text(held), mine).scalar() == len(done) + 1
        assert connection.execute(text(held), {"one": session, "two": others[0]}).scalar() == 0


def test_who_asks_for_much_at_once_waits_for_themselves(house, monkeypatch):
    """Sixteen of one person, by two sign-ins, of which no more than two are worked on at once."""
    phones, running, most = [house.client(1), house.client(1)], [], []
    phone = phones[0]
    real = Uvren._dispatch

    def slowly(app):
        running.append(1)
        most.append(len(running))
        time.sleep(0.03)
        try:
            return real(app)
        finally:
            running.pop()

    monkeypatch.setattr(Uvren, "_dispatch", slowly)
    with ThreadPoolExecutor(16) as pool:
        answers = list(pool.map(lambda i: phones[i % 2].get(f"{house.base}/own").status_code, range(32)))
    assert set(answers) == {200}
    assert max(most) == TURNS
    monkeypatch.setattr("uvren.web.turns.TURN_SECONDS", 0.0)
    with ThreadPoolExecutor(16) as pool:
        answers = Counter(pool.map(lambda _: phone.get(f"{house.base}/own").status_code, range(32)))
    assert answers[429] > 0


def test_what_people_said_stands_in_no_error_of_the_database(house):
    with house.open() as db, pytest.raises(DBAPIError) as error:
        db.execute(text("INSERT INTO no_such_table VALUES (:words)"), {"words": "torn meniscus"})
    assert "meniscus" not in str(error.value)


@pytest.mark.parametrize(
    ("day", "status"), [("2100-01-01", 422), ("2027-06-01", 422), ("2027-01-01", 200), ("1999-01-01", 422)]
)
def test_a_look_beyond_what_can_be_planned_is_refused_at_once(house, day, status):
    staff = house.client(0)
    assert staff.get(f"{house.base}/morning?day={day}").status_code == status

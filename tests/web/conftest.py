from datetime import UTC, datetime

import pytest
from flask.testing import FlaskClient

from tests.conftest import NOW, TODAY
from tests.squad import PASSWORD, make_small_squad
from uvren.services.squad import squads
from uvren.store import queries
from uvren.store.models import Club, Membership, Role
from uvren.web.app import create_app


class StillClock:
    def demo(self) -> None:
        return None

    def now(self) -> datetime:
        return NOW.astimezone(UTC)


class Client(FlaskClient):
    """A browser without a screen: keeps cookies, and sends the CSRF token it was told."""

    token = ""

    def write(self, method, path, body=None):
        return self.open(path, method=method, json=body, headers={"X-CSRF-Token": self.token})

    def renew(self):
        me = self.get("/api/me").json
        self.token = me["csrf_token"]
        return me

    def sign_in(self, login, password=PASSWORD):
        self.renew()
        answer = self.write("POST", "/api/sign-in", {"login": login, "password": password})
        self.renew()
        return answer


@pytest.fixture
def app(small_url, db):
    """The application on the connection of the test, so that what it commits is undone too."""
    made = create_app(small_url, "secret of the tests", StillClock())
    made.config["TESTING"] = True
    made.test_client_class = Client
    # One session for the test and the requests; closing it between them would drop what the test holds.
    made.extensions["uvren_sessions"] = lambda: _Open(db)
    # What is never committed marks nothing as changed: nothing may be kept of it.
    made.extensions["uvren_days"] = made.extensions["uvren_answers"] = None
    return made


class _Open:
    def __init__(self, db):
        self._db = db

    def __getattr__(self, name):
        return getattr(self._db, name)

    def close(self):
        self._db.expire_all()


@pytest.fixture
def client(app):
    return app.test_client()


@pytest.fixture
def staff(client, squad):
    assert client.sign_in(squad.staff.login).status_code == 200
    return client


@pytest.fixture
def sign_in_as(app, db, squad):
    """A client signed in as somebody of a role in the squad; an athlete is the first one."""
    club = db.get_one(Club, squad.squad.club_id)

    def go(role, name=None, club_admin=False):
        login, roles = f"the-{role}{'-of-the-club' if club_admin else ''}", {squad.squad.id: role}
        user = squads.create_user(db, club, login, name or role.value, PASSWORD, roles, club_admin=club_admin)
        if role is Role.ATHLETE:
            user.athlete_id = squad.athletes[0]
            db.flush()
        client = app.test_client()
        assert client.sign_in(user.login).status_code == 200
        return client

    return go


@pytest.fixture
def base(squad):
    """Where the resources of the squad are."""
    return f"/api/squads/{squad.squad.slug}"


@pytest.fixture
def coach(sign_in_as):
    return sign_in_as(Role.COACH, "C. Oach")


@pytest.fixture
def admin(sign_in_as):
    return sign_in_as(Role.ADMIN, "A. Dmin")


@pytest.fixture
def athlete(sign_in_as):
    return sign_in_as(Role.ATHLETE)


@pytest.fixture
def club_admin(sign_in_as):
    """An administrator of the club, with no role in the squad but that."""
    return sign_in_as(Role.ADMIN, "C. Lub", club_admin=True)


@pytest.fixture
def neighbour(db, squad):
    """Another squad of the same club, with four people of the same names."""
    other = make_small_squad(db, TODAY)
    for user in (other.staff,):
        user.club_id = squad.squad.club_id
    other.squad.club_id = squad.squad.club_id
    for athlete in other.athletes:
        queries.squad.members_ever(db, other.squad.id)
        db.get_one(
            Membership, db.query(Membership.id).filter_by(athlete_id=athlete).scalar()
        ).athlete.club_id = squad.squad.club_id
    db.flush()
    return other


@pytest.fixture
def uploads(tmp_path, monkeypatch):
    monkeypatch.setenv("UVREN_UPLOADS", str(tmp_path))
    return tmp_path

"""One private MariaDB for the whole run, in a temporary folder that goes away with it."""

import fcntl
import os
import shutil
import subprocess
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, date, datetime, time, timedelta
from getpass import getuser
from pathlib import Path

import pytest
from argon2 import PasswordHasher
from hypothesis import settings
from sqlalchemy import Engine
from sqlalchemy.orm import Session as DbSession

from tests.served import Served, prepare
from tests.squad import DAYS, SmallSquad, load_small_squad, make_small_squad
from uvren.services.club import accounts
from uvren.store.database import connect, migrate, sessions
from uvren.store.private_server import PrivateServer
from uvren.store.versions import telling_the_past, written_at

# How long an example takes says something of the machine, nothing of the code.
settings.register_profile("uvren", deadline=None)
settings.load_profile("uvren")

TODAY = date(2026, 3, 12)
NOW = datetime.combine(TODAY, time(7, 10), UTC)


# Files that take long come first of their kind, so that no process is left with one at the end.
FIRST = ("test_desk.py", "test_phone.py", "test_never_stale.py")


def pytest_collection_modifyitems(items):
    """Quick tests first, then those with a browser, then those that break things."""
    order = {"browser": 1, "faults": 2}

    def place(item):
        name = item.path.name
        return order.get(item.path.parent.name, 0), FIRST.index(name) if name in FIRST else len(FIRST)

    items.sort(key=place)


@pytest.fixture(scope="session")
def server() -> Iterator[PrivateServer]:
    folder = Path(tempfile.mkdtemp(prefix="uvren-"))
    private = PrivateServer(folder / "db")
    private.start()
    yield private
    private.stop()
    shutil.rmtree(folder)


def make_database(server: PrivateServer, name: str) -> str:
    """Another database on the same server; returns its address."""
    statements = (
        f"CREATE DATABASE {name} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci;"
        f"GRANT ALL ON {name}.* TO uvren@localhost;"
    )
    subprocess.run(
        ["mariadb", "--no-defaults", f"--socket={server.socket_path}", f"--user={getuser()}"],
        input=statements,
        text=True,
        check=True,
    )
    url = server.url.replace("/uvren?", f"/{name}?")
    migrate(url)
    return url


@pytest.fixture(scope="session")
def small_url(server) -> str:
    return make_database(server, "small")


@pytest.fixture(scope="session")
def engine(small_url) -> Iterator[Engine]:
    made = connect(small_url)
    yield made
    made.dispose()


@pytest.fixture(scope="session")
def small(engine) -> tuple[int, int]:
    """The small squad and its staff, made once; tests change it in transactions that are undone."""
    with sessions(engine)() as session:
        with telling_the_past(session):
            written_at(session, NOW - timedelta(days=DAYS))
            made = make_small_squad(session, TODAY)
        session.commit()
        return made.squad.id, made.staff.id


@pytest.fixture
def db(engine, small) -> Iterator[DbSession]:
    """A session whose work, commits and all, is undone after the test."""
    with engine.connect() as connection:
        outer = connection.begin()
        with DbSession(connection, expire_on_commit=False, join_transaction_mode="create_savepoint") as session:
            yield session
        outer.rollback()


@pytest.fixture
def squad(db, small) -> SmallSquad:
    return load_small_squad(db, *small, TODAY)


@pytest.fixture(scope="session", autouse=True)
def own_hasher() -> PasswordHasher:
    """Passwords that tests make are hashed in a moment. Gives the product's own way, which has a test."""
    own = accounts._hasher
    accounts._hasher = PasswordHasher(time_cost=1, memory_cost=8, parallelism=1)
    return own


@pytest.fixture(scope="session")
def demo_folder(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A folder of the application with the demo club loaded, made once for all processes that run tests."""
    base = tmp_path_factory.getbasetemp()
    base = base.parent if os.environ.get("PYTEST_XDIST_WORKER") else base
    made = base / "demo"
    with (base / "demo.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not made.exists():
            # A socket's path has to be short, which that of the folder for temporary files is not.
            with tempfile.TemporaryDirectory(prefix="uvren-") as short:
                prepare(Path(short) / "var")
                shutil.copytree(Path(short) / "var", made)
    return made


@contextmanager
def serving(var: Path) -> Iterator[Served]:
    """The application on a copy of a folder of it, which goes away with it."""
    folder = Path(tempfile.mkdtemp(prefix="uvren-"))
    shutil.copytree(var, folder / "var")
    running = Served(folder / "var")
    running.start()
    yield running
    if running.process and running.process.poll() is None:
        running.stop()
    shutil.rmtree(folder)


@pytest.fixture(scope="module")
def served(demo_folder) -> Iterator[Served]:
    """The application with the demo club as it opens, shared by the tests of one file: which files ran before it in
    the same process is left to chance, and changes nothing."""
    with serving(demo_folder) as running:
        yield running

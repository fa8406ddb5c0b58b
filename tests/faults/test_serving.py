import json
import os
import shutil
import signal
import subprocess
import time
import urllib.error
import urllib.request
from pathlib import Path

import pytest
from sqlalchemy import select

from tests.served import Served
from tests.visitor import Visitor
from uvren.core.day import CallKind
from uvren.services.club.accounts import TRIES_FOR_LOGIN
from uvren.store.database import connect, sessions
from uvren.store.models import Call, Squad
from uvren.store.private_server import PrivateServer, free_port
from uvren.store.types import new_ulid


def gone(pids, wait=60):
    """Whether processes have ended, or end within a while; one that only waits to be counted out has ended."""
    until = time.monotonic() + wait
    while True:
        left = [pid for pid in pids if state_of(pid) not in ("", "Z", "X")]
        if not left or time.monotonic() > until:
            return not left
        time.sleep(0.1)


def state_of(pid):
    """The state of a process as the kernel names it, empty for none."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[0]
    except OSError:
        return ""


def count_sessions(served):
    engine = connect(served.database_url)
    with engine.connect() as connection:
        found = connection.exec_driver_sql("SELECT COUNT(*) FROM entry").scalar()
    engine.dispose()
    return found


def test_after_a_kill_of_everything_the_next_start_has_all_that_was_committed(served):
    before = count_sessions(served)
    engine = connect(served.database_url)
    with sessions(engine)() as db:
        squad = db.scalars(select(Squad).order_by(Squad.id).limit(1)).one()
        from tests.conftest import NOW, TODAY

        call = Call(
            id=new_ulid(), squad_id=squad.id, athlete_id=1, day=TODAY, kind=CallKind.REST, reason="kept",
            made_by=1, made_at=NOW,
        )  # fmt: skip
        db.add(call)
        db.commit()
        served.kill()
    engine.dispose()
    assert not served.answers()
    served.start()
    assert count_sessions(served) == before
    engine = connect(served.database_url)
    with sessions(engine)() as db:
        assert db.get(Call, call.id).reason == "kept"
    engine.dispose()


def test_when_the_command_alone_is_killed_what_it_ran_goes_with_it(served):
    children = served.children()[1:]
    assert len(children) >= 3
    served.process.kill()
    served.process.wait()
    ended = gone(children)
    served.start()
    assert ended


def test_ctrl_c_stops_the_application_and_the_database(served):
    children = served.children()
    code, ended = served.stop(), gone(children, wait=5)
    said = (served.folder / "db" / "err.log").read_text()
    # Whatever came of it, the tests after this one find it running.
    served.start()
    assert (code, ended) == (0, True)
    assert "Shutdown complete" in said


def test_a_port_that_is_taken_is_said_in_one_sentence(served):
    result = subprocess.run(served.command(), capture_output=True, text=True, check=False, timeout=180)
    assert result.returncode == 2
    assert f"Port {served.port} cannot be used" in result.stderr
    assert "--port" in result.stderr
    assert "Traceback" not in result.stderr


@pytest.mark.parametrize("more", [(), ("--fresh",)])
def test_a_folder_that_is_in_use_is_left_alone_whatever_the_port_and_said_in_one_sentence(served, more):
    before = count_sessions(served)
    command = served.command(*more)
    command[command.index("--port") + 1] = str(free_port())
    result = subprocess.run(command, capture_output=True, text=True, check=False, timeout=180)
    assert result.returncode == 2
    assert "Another Uvren runs on" in result.stderr
    assert count_sessions(served) == before


def test_a_full_disk_is_said_before_anything_is_written(tmp_path, monkeypatch):
    import shutil

    import pytest

    from uvren.store.private_server import ServerError

    usage = shutil.disk_usage(tmp_path)
    monkeypatch.setattr(shutil, "disk_usage", lambda _: usage._replace(free=1024))
    with pytest.raises(ServerError, match="0 MB free; the database needs 300 MB"):
        PrivateServer(tmp_path / "db").start()
    assert list((tmp_path / "db").iterdir()) == []


def test_without_the_demo_a_fresh_start_is_an_empty_house(tmp_path):
    empty = Served(tmp_path / "var")
    empty.start("--no-demo")
    try:
        assert count_sessions(empty) == 0
    finally:
        empty.stop()


def test_failed_tries_are_counted_across_workers(served):
    import http.cookiejar
    import json
    import urllib.error
    import urllib.request

    jar = urllib.request.HTTPCookieProcessor(http.cookiejar.CookieJar())
    opener = urllib.request.build_opener(jar)
    statuses = []
    for _ in range(TRIES_FOR_LOGIN + 2):
        token = json.load(opener.open(f"{served.address}/api/me"))["csrf_token"]
        request = urllib.request.Request(
            f"{served.address}/api/sign-in",
            json.dumps({"login": "someone-else", "password": "wrong"}).encode(),
            {"Content-Type": "application/json", "X-CSRF-Token": token, "Connection": "close"},
        )
        try:
            opener.open(request)
        except urllib.error.HTTPError as error:
            statuses.append(error.code)
    assert statuses == [422] * TRIES_FOR_LOGIN + [429] * 2


def test_while_mariadb_cannot_start_the_web_says_why_and_goes_on_by_itself_after(served):
    staff = Visitor(served.address)
    data, away = served.folder / "db/data", served.folder / "db/away"
    data.rename(away)
    os.kill(served.pids_of("mariadbd")[0], signal.SIGKILL)
    until = time.monotonic() + 60
    while "Trying again in" not in served.log.read_text():
        assert time.monotonic() < until, served.log.read_text()
        time.sleep(0.2)
    with pytest.raises(urllib.error.HTTPError) as refused:
        staff.ask("GET", "/api/squads/tarnholm-handball/limits?day=2026-03-12")
    assert refused.value.code == 503
    assert refused.value.headers["Retry-After"]
    assert "database" in json.loads(refused.value.read())["detail"]
    # What it began in place of the folder goes, and the folder comes back.
    shutil.rmtree(data, ignore_errors=True)
    away.rename(data)
    until = time.monotonic() + 90
    while not served.answers():
        assert time.monotonic() < until, served.log.read_text()
        time.sleep(0.5)
    assert count_sessions(served) > 0

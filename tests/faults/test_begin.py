"""A club that is begun while the machine fails, by two at once, and on the command line."""

import re
import shutil
import subprocess
import sys
import tempfile
import urllib.error
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest

from tests.served import Served
from tests.visitor import Visitor
from uvren.store.private_server import PrivateServer

PASSWORD = "nobody guesses this"
CLUB = {"club": "Nordel", "time_zone": "Europe/Vienna", "name": "V. Tarn", "password": PASSWORD, "roles": ["coach"]}
SQUAD = {"name": "First team", "time_zone": "Europe/Vienna", "work": "field", "roles": ["performance"]}


@pytest.fixture
def empty():
    folder = Path(tempfile.mkdtemp(prefix="uvren-"))
    running = Served(folder / "var")
    running.start("--no-demo")
    yield running
    if running.process and running.process.poll() is None:
        running.stop()
    PrivateServer(running.folder / "db").stop()
    shutil.rmtree(folder)


def token_of(served):
    found = re.search(r"begin#(\S+)", served.log.read_text())
    return found and found[1]


def user(served, *arguments, password=PASSWORD):
    command = [sys.executable, "-m", "uvren.cli", "user", *arguments, "--var", str(served.folder)]
    more = [] if password is None else ["--password", password]
    return subprocess.run([*command, *more], capture_output=True, text=True, check=False, timeout=120)


def test_whoever_is_in_the_middle_goes_on_after_a_kill_and_nothing_begun_is_lost(empty):
    first = Visitor(empty.address, None)
    token = token_of(empty)
    first.ask("POST", "/api/begin/look", {"token": token})
    empty.kill()
    empty.start("--no-demo")
    assert token_of(empty) not in (None, token)
    first.address = empty.address
    first.renew()
    first.ask("POST", "/api/begin", {"token": token, "login": "tarn", **CLUB})
    empty.kill()
    empty.start("--no-demo")
    assert token_of(empty) is None
    tarn = Visitor(empty.address, "tarn", PASSWORD)
    slug = tarn.ask("POST", "/api/squads", SQUAD)["slug"]
    empty.kill()
    empty.start("--no-demo")
    tarn = Visitor(empty.address, "tarn", PASSWORD)
    (squad,) = tarn.ask("GET", "/api/me")["squads"]
    assert squad["slug"] == slug
    with pytest.raises(urllib.error.HTTPError) as refused:
        tarn.ask("POST", "/api/squads", SQUAD)
    assert refused.value.code == 422


def test_of_many_who_begin_at_once_by_any_link_one_does(empty):
    tokens = [token_of(empty)]
    empty.stop()
    empty.start("--no-demo")
    tokens.append(token_of(empty))
    visitors = [Visitor(empty.address, None) for _ in range(8)]

    def go(i):
        try:
            visitors[i].ask(
                "POST", "/api/begin", {"token": tokens[i % 2], "login": f"tarn-{i}", **CLUB, "club": f"Nordel {i}"}
            )
        except urllib.error.HTTPError as refused:
            return refused.code
        return 200

    with ThreadPoolExecutor(8) as pool:
        said = sorted(pool.map(go, range(8)))
    assert said == [200] + [404] * 7


def test_the_command_line_begins_a_club_and_sees_to_its_people(empty):
    assert "there is no club yet" in user(empty, "add", "tarn", "--name", "V. Tarn").stderr
    begun = user(empty, "add", "tarn", "--name", "V. Tarn", "--club", "Nordel", "--time-zone", "Europe/Vienna")
    assert begun.stdout == "V. Tarn signs in as tarn.\n"
    tarn = Visitor(empty.address, "tarn", PASSWORD)
    slug = tarn.ask("POST", "/api/squads", SQUAD)["slug"]

    both = ("--role", f"{slug}:coach", "--role", f"{slug}:clinician")
    assert user(empty, "add", "Ostrel", "--name", "B. Ostrel", *both).returncode == 0
    assert user(empty, "role", "ostrel", f"{slug}:performance", password=None).returncode == 0
    assert user(empty, "role", "ostrel", f"{slug}:coach", "--take-away", password=None).returncode == 0
    ostrel = Visitor(empty.address, "ostrel", PASSWORD)
    (squad,) = ostrel.ask("GET", "/api/me")["squads"]
    assert {"edit_limits", "read_clinical"} <= set(squad["may"])
    assert "run_club" not in squad["may"]

    # Another password signs out who had the old one.
    assert user(empty, "password", "ostrel", password="quite another one").returncode == 0
    assert ostrel.ask("GET", "/api/me")["signed_in"] is False
    assert Visitor(empty.address, "ostrel", "quite another one").ask("GET", "/api/me")["signed_in"] is True

    refusals = [
        (("add", "ostrel", "--name", "X"), "taken"),
        (("add", "x y", "--name", "X"), "no spaces"),
        (("add", "someone", "--name", "X", "--role", "coach"), "squad:role"),
        (("add", "someone", "--name", "X", "--role", "nowhere:coach"), "there is no squad 'nowhere'"),
        (("add", "someone", "--name", "X", "--role", f"{slug}:athlete"), "An athlete comes into a squad"),
        (("password", "nobody"), "Nobody signs in as 'nobody'"),
    ]
    for arguments, said in refusals:
        refused = user(empty, *arguments)
        assert (refused.returncode, said in refused.stderr) == (2, True), refused.stderr
        assert "Traceback" not in refused.stderr
    # What was refused is not there in part.
    assert "Nobody signs in" in user(empty, "password", "someone").stderr

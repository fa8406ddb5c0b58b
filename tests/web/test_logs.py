"""What somebody said of their health stands in no log, whatever goes wrong with it."""

from __future__ import annotations

import logging
from unittest.mock import patch

import pytest
from sqlalchemy import text

from tests.served import health_in
from tests.squad import PASSWORD
from uvren.logs import log_as_json, places_of
from uvren.services.squad import squads
from uvren.store.models import Club, Role

SAID = {"pain": {"site": "knee", "side": "left", "severity": 3}, "words": "knee gave way on landing"}


def test_a_line_about_health_is_found_in_a_log(tmp_path):
    log = tmp_path / "serve.log"
    log.write_text('{"path": "/api/me", "status": 200}\nKeyError: \'left Knee\'\n')
    assert health_in(log) == ["KeyError: 'left Knee'"]
    log.write_text("/api/squads/x/own/reports/01M8G\n")
    assert health_in(log) == []


@pytest.fixture
def clinician(capfd, app, db, squad):
    app.config |= {"TESTING": False, "PROPAGATE_EXCEPTIONS": False}
    club = db.get_one(Club, squad.squad.club_id)
    squads.create_user(db, club, "clinician", "Clinician", PASSWORD, {squad.squad.id: Role.CLINICIAN})
    client = app.test_client()
    assert client.sign_in("clinician").status_code == 200
    return client


def database_fails(db, *_args, **_more):
    db.execute(text("INSERT INTO nowhere (words) VALUES (:words)"), {"words": SAID["words"]})


def value_fails(*_args, **_more):
    raise ValueError(f"cannot read {SAID['words']!r}")


@pytest.mark.parametrize("fails", [database_fails, value_fails])
def test_an_error_is_logged_without_what_was_said(clinician, squad, capfd, fails):
    body = SAID | {"athlete_id": squad.athletes[0]}
    with patch("uvren.web.return_.clinical.clinical.record_injury", fails):
        answer = clinician.write("POST", f"/api/squads/{squad.squad.slug}/complaints", body)
    assert answer.status_code == 500
    logged = "".join(capfd.readouterr())
    # What went wrong and where can be found, or the log is of no use.
    assert fails.__name__ in logged
    assert "knee" not in logged
    assert "knee" not in answer.text


def caused():
    try:
        value_fails()
    except ValueError as error:
        raise KeyError("left knee") from error


def test_of_an_error_the_kinds_and_places_are_said_with_what_led_to_it():
    with pytest.raises(KeyError) as raised:
        caused()
    last, first = places_of(raised.value)
    assert (last["error"], first["error"]) == ("KeyError", "ValueError")
    assert last["at"][-1].startswith("test_logs.py:")
    assert first["at"][-1].endswith(" value_fails")
    assert places_of(None) == []


def test_what_packages_log_of_an_error_says_no_more(capfd):
    root, before = logging.getLogger(), logging.getLogger().handlers
    root.handlers = []
    try:
        log_as_json()
        try:
            caused()
        except KeyError:
            logging.getLogger("huey").exception("Unhandled exception in task %s.", "one")
        logged = capfd.readouterr().err
    finally:
        root.handlers = before
    assert "Unhandled exception in task one." in logged
    assert "value_fails" in logged
    assert "knee" not in logged

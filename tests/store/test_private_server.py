"""How MariaDB's files are set up where it gives up."""

import subprocess
from types import SimpleNamespace

import pytest

from uvren.store import private_server
from uvren.store.private_server import INSTALLS, PrivateServer, ServerError


@pytest.fixture
def tried(monkeypatch, tmp_path):
    """Sets up with answers of our own, one after the other; gives how often it was tried."""

    def go(*answers):
        given = list(answers)
        monkeypatch.setattr(private_server, "subprocess", SimpleNamespace(
            run=lambda *_, **__: subprocess.CompletedProcess([], *given.pop(0))))  # fmt: skip
        PrivateServer(tmp_path / "db")._install()
        return len(answers) - len(given)

    return go


FINE = (0, "", "")
ABORTED = (1, "", "2026-03-12 7:10:00 0 [ERROR] Aborting\nInstallation of system tables failed!")
CRASHED = (1, "", "2026-03-12 7:10:00 0 [ERROR] /usr/sbin/mariadbd got signal 11 ;\nSorry")
FULL = (1, "", "2026-03-12 7:10:00 0 [ERROR] InnoDB: No space left on device")


def test_what_gives_up_without_a_reason_or_by_a_signal_is_tried_again(tried):
    assert tried(FINE, FINE) == 1
    assert tried(ABORTED, FINE) == 2
    assert tried(CRASHED, FINE) == 2


def test_it_is_not_tried_for_ever_and_a_reason_is_said_at_once(tried):
    with pytest.raises(ServerError, match="got signal 11"):
        tried(*[CRASHED] * INSTALLS)
    with pytest.raises(ServerError, match="No space left"):
        tried(FULL, FINE)

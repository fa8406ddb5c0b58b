"""The stand-in for a hub: it goes wrong as real straps do, and drops nothing that was not acknowledged."""

import io
import json
import urllib.error
from datetime import UTC, datetime, timedelta

import numpy as np
import pytest

from uvren.simulate import hub
from uvren.simulate.hub import Sender, Strap, catch_up, lines, straps, stream

BEGIN = datetime(2026, 3, 12, 17, tzinfo=UTC)


def strap(**more):
    return Strap("A", np.arange(600.0), **more)


def sent(wearing, seconds):
    return [line for second in range(seconds) for line in lines(wearing, second, BEGIN)]


def test_every_second_is_sent_once_with_its_moment():
    found = sent([strap(clock_off=0.5)], 10)
    assert [one["number"] for one in found] == list(range(10))
    assert [one["value"] for one in found] == [[float(i)] for i in range(10)]
    assert datetime.fromisoformat(found[3]["at"]) == BEGIN + timedelta(seconds=3.5)


def test_a_drop_out_is_silent_and_what_was_not_measured_never_comes():
    assert [one["number"] for one in sent([strap(drops=(3, 4))], 10)] == [0, 1, 2, 7, 8, 9]


def test_a_late_strap_sends_what_it_measured_then():
    wearing = [strap(late=4)]
    assert sent(wearing, 4) == []
    now = list(lines(wearing, 4, BEGIN))
    assert [(one["number"], one["value"]) for one in now] == [(0, [0.0])]
    assert datetime.fromisoformat(now[0]["at"]) == BEGIN


def test_a_faulty_one_stands_still():
    assert [one["value"][0] for one in sent([strap(stuck_from=2)], 5)] == [0, 1, 2, 2, 2]


def test_those_who_work_hard_are_above_the_others_and_everybody_is_alive():
    made = straps(list("abcdefghijkl"), 1200, np.random.default_rng(1), hard=["c"])
    rates = {one.device: one.heart_rate[600:].mean() for one in made}
    assert rates["c"] > max(rate for name, rate in rates.items() if name != "c") + 15
    assert all(one.heart_rate.min() > 60 and one.heart_rate.max() < 220 for one in made)
    assert any(one.drops for one in made)
    assert any(one.late for one in made)
    assert any(one.stuck_from for one in made)


@pytest.fixture
def server(monkeypatch):
    """Answers in the place of Uvren: what was posted, and what is answered next."""
    posted, answers = [], []

    def open_(request, timeout):
        if isinstance(request, str):
            return io.BytesIO(json.dumps({"now": BEGIN.isoformat()}).encode())
        posted.append([json.loads(line) for line in request.data.splitlines()])
        answer = answers.pop(0) if answers else None
        if isinstance(answer, Exception):
            raise answer
        found = answer or {"kept": list(range(len(posted[-1]))), "refused": []}
        return io.BytesIO(json.dumps(found).encode())

    monkeypatch.setattr(hub.urllib.request, "urlopen", open_)
    return posted, answers


def line(number, device="A"):
    return {"device": device, "number": number}


def test_what_was_not_acknowledged_is_sent_again_in_its_order(server):
    posted, answers = server
    sender = Sender("http://x", "secret")
    answers += [urllib.error.URLError("gone"), TimeoutError()]
    assert "does not answer" in sender.send([line(1)])
    assert "does not answer" in sender.send([line(2)])
    assert sender.send([line(3)]) == ""
    assert posted[-1] == [line(1), line(2), line(3)]
    assert (sender.kept, sender.unsent) == (3, [])
    assert sender.send([]) == ""
    assert len(posted) == 3


def test_a_refusal_is_told_and_kept_for_later_and_one_line_that_is_refused_is_not_sent_again(server):
    _posted, answers = server
    sender = Sender("http://x", "secret")
    body = io.BytesIO(json.dumps({"detail": "No session of this squad runs now."}).encode())
    answers.append(urllib.error.HTTPError("http://x", 422, "no", {}, body))
    assert sender.send([line(1)]) == "No session of this squad runs now."
    assert sender.unsent == [line(1)]
    answers.append({"kept": [0], "refused": [{"line": 1, "said": "Nobody is known as “S-7”."}]})
    assert sender.send([line(2, "S-7")]) == ""
    assert (sender.kept, sender.unsent, sender.refused) == (1, [], {"S-7": "Nobody is known as “S-7”."})


def test_a_stream_goes_by_the_clock_of_the_server_and_says_what_became_of_it(server):
    posted, _ = server
    said = []
    stream(Sender("http://x", "secret"), [strap()], 5, said.append, speed=1000)
    moments = [datetime.fromisoformat(one["at"]) for batch in posted for one in batch]
    assert moments == [BEGIN + timedelta(seconds=i) for i in range(5)]
    assert said == ["5 pieces were kept, 0 wait."]


def test_catching_up_sends_all_there_was_and_stops_when_it_is_told(server, monkeypatch):
    posted, _ = server
    monkeypatch.setattr(hub.time, "sleep", lambda seconds: None)
    calls = iter([False, True])
    catch_up(Sender("http://x", "secret"), [strap()], BEGIN - timedelta(seconds=9), lambda: next(calls))
    assert [one["number"] for one in posted[0]] == list(range(10))

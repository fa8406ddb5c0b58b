"""Whoever asks for much at once waits for themselves."""

import time

import pytest

from uvren.services.errors import TooMany
from uvren.web.turns import FREE, LATELY, LONGEST, SHARE, TURNS, Turns


class Still:
    """A clock that moves when told to, or when somebody waits."""

    def __init__(self):
        self.now, self.waited = 100.0, []

    def wait(self, seconds):
        self.waited.append(seconds)
        self.now += seconds


@pytest.fixture
def clock():
    return Still()


@pytest.fixture
def turns(clock):
    return Turns(lambda: clock.now, clock.wait)


def work(seconds):
    until = time.thread_time() + seconds
    while time.thread_time() < until:
        pass


def uses(turns, name, seconds):
    """So much was used by somebody who asks for more than the turns at once."""
    turns._people[name].uses(seconds, turns._clock())
    turns._people[name].asking = max(turns._people[name].asking, TURNS)


def test_nobody_waits_who_is_alone_however_much_it_is(turns, clock):
    uses(turns, "one", 50 * FREE)
    with turns.one("one"):
        pass
    assert clock.waited == []


def test_who_used_much_waits_while_others_ask_and_they_do_not(turns, clock):
    uses(turns, "one", FREE + SHARE / 2)
    with turns.one("other"):
        pass
    with turns.one("one"):
        pass
    assert clock.waited == [pytest.approx(0.5)]
    with turns.one("other"):
        pass
    assert len(clock.waited) == 1


def test_who_waits_for_an_answer_before_asking_again_is_not_held_back(turns, clock):
    uses(turns, "one", 50 * FREE)
    turns._people["one"].asking = TURNS - 1
    with turns.one("other"):
        pass
    with turns.one("one"):
        pass
    assert clock.waited == []
    # With one more at the same time they are.
    turns._people["one"].asking = TURNS
    with turns.one("one"):
        pass
    assert clock.waited == [LONGEST]


def test_those_who_ask_are_counted_also_when_they_fail(turns):
    with turns.one("one"), turns.one("one"):
        assert turns._people["one"].asking == TURNS
    with pytest.raises(ZeroDivisionError), turns.one("one"):
        raise ZeroDivisionError
    assert turns._people["one"].asking == 0


def test_a_wait_is_never_longer_than_said_and_ends_when_the_others_left(turns, clock):
    uses(turns, "one", 50 * FREE)
    with turns.one("other"):
        pass
    with turns.one("one"):
        pass
    assert clock.waited == [LONGEST]
    clock.now += LATELY
    with turns.one("one"):
        pass
    assert clock.waited == [LONGEST]


def test_what_was_used_is_made_good_with_time(turns, clock):
    uses(turns, "one", 2 * FREE)
    clock.now += FREE / SHARE
    with turns.one("other"):
        pass
    assert turns.held("one") == pytest.approx(0)
    # Twelve a second for long come to the share, and no more.
    done = 0
    began = clock.now
    turns._people["one"].asking = TURNS + 1
    while clock.now < began + 60:
        turns.held("other")
        clock.now += turns.held("one") or 0.001
        uses(turns, "one", 0.02)
        done += 0.02
    assert done == pytest.approx(FREE + SHARE * 60, rel=0.05)


def test_the_work_of_a_turn_is_what_counts_also_when_it_fails(turns):
    def fails():
        work(0.05)
        raise ZeroDivisionError

    with pytest.raises(ZeroDivisionError), turns.one("one"):
        fails()
    assert 0.05 <= turns._people["one"].used < 1


def test_no_turn_within_the_time_is_said_and_turns_come_back(turns, monkeypatch):
    monkeypatch.setattr("uvren.web.turns.TURN_SECONDS", 0.0)
    held = [turns.one("one") for _ in range(TURNS)]
    for one in held:
        one.__enter__()
    with pytest.raises(TooMany), turns.one("one"):
        pass
    with turns.one("other"):
        pass
    for one in held:
        one.__exit__(None, None, None)
    with turns.one("one"):
        pass


def test_few_people_are_remembered(turns, monkeypatch):
    monkeypatch.setattr("uvren.web.turns.MOST_PEOPLE", 3)
    for name in "abcd":
        with turns.one(name):
            pass
    assert len(turns._people) == 0

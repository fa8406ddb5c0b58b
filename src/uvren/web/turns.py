"""Turns: whoever asks for much at once waits for themselves, and not everybody for them."""

import time
from collections import defaultdict
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from threading import BoundedSemaphore, Lock

from uvren.services.errors import TooMany

# How many requests of one person a process works on at once, and how long the next one waits for its turn.
TURNS, TURN_SECONDS, MOST_PEOPLE = 2, 20.0, 10_000
# What one person who asks for more than that at once may use of a process for long while others ask too, what is free
# before it (seconds of work), and the longest that a request is held back for it. Who waits for one answer before
# asking for the next is never held back.
SHARE, FREE, LONGEST = 0.2, 0.3, 1.0
# Others ask too when one of them did within this many seconds.
LATELY = 3.0


@dataclass(slots=True)
class _Person:
    turns: BoundedSemaphore = field(default_factory=lambda: BoundedSemaphore(TURNS))
    asking: int = 0
    used: float = 0.0
    at: float = 0.0

    def left_of_use(self, now: float) -> float:
        """Seconds of work not yet made good by the share of the time since."""
        return max(0.0, self.used - SHARE * (now - self.at))

    def uses(self, seconds: float, now: float) -> None:
        self.used, self.at = self.left_of_use(now) + seconds, now


class Turns:
    """The turns of a process. By person, not by sign-in: whoever signs in once more gets no more of them."""

    def __init__(self, clock: Callable[[], float] = time.monotonic, wait: Callable[[float], None] = time.sleep) -> None:
        self._clock, self._wait, self._counting = clock, wait, Lock()
        self._people: dict[str, _Person] = defaultdict(_Person)
        # The last two who asked, and when: enough to know whether anybody else did.
        self._last: tuple[str, float] = ("", -LATELY)
        self._other: tuple[str, float] = ("", -LATELY)

    @contextmanager
    def one(self, name: str) -> Iterator[None]:
        """A turn of a person; raises TooMany when none comes."""
        person = self._people[name]
        with self._counting:
            person.asking += 1
        try:
            if not person.turns.acquire(timeout=TURN_SECONDS):
                raise TooMany("You are asking for too much at once. Wait a moment and try again.")
            try:
                if held := self.held(name):
                    self._wait(held)
                began = time.thread_time()
                try:
                    yield
                finally:
                    person.uses(time.thread_time() - began, self._clock())
            finally:
                person.turns.release()
        finally:
            with self._counting:
                person.asking -= 1
            if len(self._people) > MOST_PEOPLE:
                self._people.clear()

    def held(self, name: str) -> float:
        """Seconds for which a request is held back, none while nobody else asks."""
        now, person = self._clock(), self._people[name]
        if self._last[0] != name:
            self._other = self._last
        self._last = (name, now)
        if now - self._other[1] > LATELY or person.asking <= TURNS:
            return 0.0
        over = person.left_of_use(now) - FREE
        return min(LONGEST, over / SHARE) if over > 0 else 0.0

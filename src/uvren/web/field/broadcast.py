"""What is worked out once for everybody who watches a session in this process.

All state is in the database: any process serves any viewer, and one that ends takes nothing with it.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from threading import Condition, Lock, Thread

import structlog

log = structlog.get_logger()

# How often it is looked whether something came in, how often something is said all the same, and how long nobody need
# watch before it ends.
LOOK_SECONDS, SAY_SECONDS, IDLE_SECONDS = 0.15, 1.0, 10.0
# How long a viewer waits for something new before a sign of life is sent, and watches before coming back.
ALIVE_SECONDS, LASTS_SECONDS = 5.0, 300.0

# Works out what is to be said; ``None`` where nothing has changed. True asks for it all the same.
Work = Callable[[bool], str | None]


class Broadcast:
    """One session's: a thread that works it out, and the viewers who wait for it."""

    def __init__(self, work: Work) -> None:
        self._work, self._new = work, Condition()
        self._said, self._number, self._left_at = "", 0, time.monotonic()
        self.viewers, self.ended = 0, False
        Thread(target=self._run, daemon=True).start()

    def _run(self) -> None:
        said_at = 0.0
        while not self._over():
            try:
                said = self._work(time.monotonic() - said_at >= SAY_SECONDS)
            except Exception:
                # The database may be on its way back: viewers keep what they have.
                log.warning("live", exc_info=True)
                said = None
                time.sleep(SAY_SECONDS)
            if said is not None:
                said_at = time.monotonic()
                with self._new:
                    self._said, self._number = said, self._number + 1
                    self._new.notify_all()
            time.sleep(LOOK_SECONDS)

    def _over(self) -> bool:
        with self._new:
            self.ended = not self.viewers and time.monotonic() - self._left_at >= IDLE_SECONDS
            return self.ended

    def enter(self) -> bool:
        """Take a seat; False where it has ended meanwhile."""
        with self._new:
            self.viewers += not self.ended
            return not self.ended

    def leave(self) -> None:
        with self._new:
            self.viewers -= 1
            self._left_at = time.monotonic()

    def events(self) -> Iterator[str]:
        """What is said from now on, each time as a server-sent event.

        It ends after some minutes: the browser comes back by itself, and is asked again who it is.
        """
        seen, until = 0, time.monotonic() + LASTS_SECONDS
        yield "retry: 1000\n\n"
        while time.monotonic() < until:
            with self._new:
                self._new.wait_for(lambda: self._number > seen, timeout=ALIVE_SECONDS)  # noqa: B023
                said, number = self._said, self._number
            yield f"id: {number}\ndata: {said}\n\n" if number > seen else ": still here\n\n"
            seen = number


class Seat:
    """A viewer's place; whoever has it gives it back, once, however the watching ended."""

    def __init__(self, broadcast: Broadcast) -> None:
        self._broadcast, self._taken = broadcast, True
        self.events = broadcast.events()

    def leave(self) -> None:
        if self._taken:
            self._taken = False
            self._broadcast.leave()


class Broadcasts:
    """Those of a process, at most ``most`` viewers in all: the other threads answer everybody else."""

    def __init__(self, most: int) -> None:
        self.most, self._lock = most, Lock()
        self._running: dict[str, Broadcast] = {}

    def join(self, key: str, make: Callable[[], Work]) -> Seat | None:
        """Watch a session; None where too many watch already."""
        with self._lock:
            self._running = {one: found for one, found in self._running.items() if not found.ended}
            if self.viewers >= self.most:
                return None
            found = self._running.get(key)
            if found is None or not found.enter():
                found = self._running[key] = Broadcast(make())
                found.enter()
            return Seat(found)

    @property
    def viewers(self) -> int:
        return sum(one.viewers for one in list(self._running.values()))

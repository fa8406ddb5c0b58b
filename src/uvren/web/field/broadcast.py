"""What is worked out once for everybody who watches a session in this process.

All state is in the database: any process serves any viewer, and one that ends takes nothing with it.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from threading import Condition, Lock, Thread

import structlog

log = structlog.get_logger()

# How often it is looked whether something came in, how often something is said all the same, and how long nobody need
# watch before it ends.
LOOK_SECONDS, SAY_SECONDS, IDLE_SECONDS = 0.15, 1.0, 10.0
# How long a viewer waits for something new before a sign of life is sent.
ALIVE_SECONDS = 5.0

# Works out what is to be said; ``None`` where nothing has changed. True asks for it all the same.
Work = Callable[[bool], str | None]


class Broadcast:
    """One session's: a thread that works it out, and the viewers who wait for it."""

    def __init__(self, work: Work) -> None:
        self._work, self._new = work, Condition()
        self._said, self._number, self.viewers, self._left_at = "", 0, 0, time.monotonic()
        self.ended = False
        Thread(target=self._run, daemon=True).start()

    def _run(self) -> None:
        said_at = 0.0
        while self.viewers or time.monotonic() - self._left_at < IDLE_SECONDS:
            due = time.monotonic() - said_at >= SAY_SECONDS
            try:
                said = self._work(due)
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
        self.ended = True

    def watch(self) -> Iterator[str]:
        """What is said from now on, each time as a server-sent event; ends never by itself."""
        seen = 0
        try:
            yield "retry: 1000\n\n"
            while True:
                with self._new:
                    self._new.wait_for(lambda: self._number > seen, timeout=ALIVE_SECONDS)  # noqa: B023
                    said, number = self._said, self._number
                if number > seen:
                    seen = number
                    yield f"id: {number}\ndata: {said}\n\n"
                else:
                    yield ": still here\n\n"
        finally:
            self.viewers -= 1
            self._left_at = time.monotonic()


class Broadcasts:
    """Those of a process, at most ``most`` viewers in all: the other threads answer everybody else."""

    def __init__(self, most: int) -> None:
        self.most, self._lock = most, Lock()
        self._running: dict[str, Broadcast] = {}

    @contextmanager
    def _held(self) -> Iterator[None]:
        with self._lock:
            for key in [key for key, one in self._running.items() if one.ended]:
                del self._running[key]
            yield

    def join(self, key: str, make: Callable[[], Work]) -> Iterator[str] | None:
        """Watch a session; None where too many watch already."""
        with self._held():
            if sum(one.viewers for one in self._running.values()) >= self.most:
                return None
            found = self._running.get(key)
            if found is None:
                found = self._running[key] = Broadcast(make())
            found.viewers += 1
            return found.watch()

    @property
    def viewers(self) -> int:
        with suppress(RuntimeError):
            return sum(one.viewers for one in self._running.values())
        return self.most

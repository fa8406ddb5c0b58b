"""What time it is. The one place of the web that reads a clock."""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from datetime import UTC, datetime

from uvren.store.database import DbSession, demo_now


class Clock:
    """The machine's clock; in a demo club one that stood at the club's own moment when the application started.

    ``open_session`` gives a database session; it is asked for the club's moment until there is a club.
    """

    def __init__(self, open_session: Callable[[], DbSession]) -> None:
        self._open_session = open_session
        # All workers are told the same start, so they agree.
        self._started = float(os.environ.get("UVREN_STARTED") or time.time())
        self._known = False
        self._demo: datetime | None = None

    def demo(self) -> datetime | None:
        """Where the clock of the demo club starts, None for a real club."""
        if not self._known:
            with self._open_session() as db:
                self._known, self._demo = demo_now(db)
        return self._demo

    def now(self) -> datetime:
        real = datetime.fromtimestamp(time.time(), UTC)
        start = self.demo()
        return real if start is None else start + (real - datetime.fromtimestamp(self._started, UTC))

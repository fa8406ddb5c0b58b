"""What time it is. The one place of the web that reads a clock."""

from __future__ import annotations

import time
from datetime import UTC, datetime, timedelta


class Clock:
    """The machine's clock, or one that was set to begin somewhere else.

    ``setting`` is ``2026-03-12T08:10:00+01:00@1770000000``: the moment it showed when the machine's clock stood at the
    given seconds. All workers are given the same setting, so they agree.
    """

    def __init__(self, setting: str | None) -> None:
        self._ahead = timedelta(0)
        if setting:
            moment, _, real = setting.partition("@")
            self._ahead = datetime.fromisoformat(moment) - datetime.fromtimestamp(float(real), UTC)

    def now(self) -> datetime:
        return datetime.fromtimestamp(time.time(), UTC) + self._ahead

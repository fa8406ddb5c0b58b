"""Days and how far they are from a match."""

from __future__ import annotations

from collections.abc import Collection
from datetime import date

AFTER = 2
FAR = 8


def match_offset(day: date, matches: Collection[date]) -> int | None:
    """Days to or from a match: 0 on the day, 1 and 2 after the last one, else -n to the next.

    The day after a match belongs to it, unless the next match is nearer. None when no match is within 8 days.
    """
    if day in matches:
        return 0
    since = min(((day - match).days for match in matches if match < day), default=None)
    until = min(((match - day).days for match in matches if match > day), default=None)
    if since is not None and since <= AFTER and (until is None or since <= until):
        return since
    if until is not None and until < FAR:
        return -until
    return None

"""Who may read what is said of a person."""

from __future__ import annotations

from enum import StrEnum


class Audience(StrEnum):
    """Everyone at the desk, who may read reports, words and reasons, or who may read clinical detail."""

    DESK = "desk"
    REPORTS = "reports"
    CLINICAL = "clinical"


# What is shown where nobody says who reads.
LEAST = frozenset({Audience.DESK})
ALL = frozenset(Audience)

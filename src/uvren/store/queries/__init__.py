"""Reads that return plain rows or objects, and writes to many rows at once, by the stage that they are of."""

from uvren.store.queries import (
    accounts,
    athlete,
    audit,
    club,
    day,
    field,
    files,
    morning,
    package,
    reports,
    return_,
    season,
    session,
    squad,
    week,
)

__all__ = [
    "accounts",
    "athlete",
    "audit",
    "club",
    "day",
    "field",
    "files",
    "morning",
    "package",
    "reports",
    "return_",
    "season",
    "session",
    "squad",
    "week",
]

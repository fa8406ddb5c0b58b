"""Reads that return plain rows or objects, and writes to many rows at once, by the stage that they are of."""

from uvren.store.queries import athlete, club, day, morning, reports, return_, session, squad

__all__ = ["athlete", "club", "day", "morning", "reports", "return_", "session", "squad"]

"""What is wrong with a file, as a whole or in a row."""

from __future__ import annotations

from dataclasses import dataclass


class BadFile(ValueError):
    """The file cannot be used at all; the message says why, and what would do."""


@dataclass(frozen=True, slots=True)
class Problem:
    """Why a row, or a value of it, did not come in. ``row`` counts from 1 as a spreadsheet does, None for the file."""

    row: int | None
    column: str
    said: str
    why: str

"""Who does something, and when."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime


@dataclass(frozen=True)
class Stamp:
    """What stands beside everything that is written: the user, None for the program itself, and the moment."""

    by: int | None
    now: datetime

"""What every kind of table has: what is wrong with it, what it would bring in, writing it, and taking it back."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from typing import Any, Protocol

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.services.files.mappings import Spec
from uvren.services.files.matching import Matched
from uvren.services.stamp import Stamp
from uvren.store.models import Squad

Undo = dict[str, Any]
Report = dict[str, Any]


class Write(Protocol):
    """Brings rows in, notes in ``undo`` what that takes back, and returns what the report says of it."""

    def __call__(
        self, db: DbSession, squad: Squad, matched: Matched, spec: Spec, undo: Undo, *, stamp: Stamp, today: date
    ) -> Report: ...


class TakeAway(Protocol):
    """Takes back what was brought in; what was used since stays, and is said so in ``kept``."""

    def __call__(
        self, db: DbSession, squad: Squad, undo: Undo, kept: list[str], *, stamp: Stamp, today: date
    ) -> None: ...


@dataclass(frozen=True)
class Table:
    """A kind of table. ``check`` adds to what was matched what is wrong or open; ``found`` says what would come in."""

    check: Callable[[DbSession, Squad, Matched, Spec, date], None]
    found: Callable[[Squad, Matched, Spec, date], list[str]]
    write: Write
    take_away: TakeAway


def stood(count: int, noun: str) -> list[str]:
    """What is said of rows that brought nothing."""
    return [f"{say.count(count, noun)} stood there already; what was there stays."] if count else []

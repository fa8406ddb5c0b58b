"""What a squad asks on a day, in its words."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from sqlalchemy.orm import Session as DbSession

from uvren.core import reports as rules
from uvren.core.reports import ITEMS, Item, ReportKind
from uvren.store import queries
from uvren.store.models import (
    ReportForm,
)


@dataclass(frozen=True)
class Asked:
    """An item as a squad asks it, in its words."""

    item: Item
    question: str
    low: str
    high: str


@dataclass(frozen=True)
class Form:
    """What a squad asks on a day; ``days`` are weekdays, 0 is Monday."""

    kind: ReportKind
    asked: tuple[Asked, ...]
    days: frozenset[int]
    from_day: date | None = None
    #: What it is called by, None for the usual one, which nobody has set.
    id: str | None = None

    def is_asked(self, day: date) -> bool:
        return day.weekday() in self.days


def form_of(kind: ReportKind, row: ReportForm | None) -> Form:
    codes = rules.usual_form(kind) if row is None else row.items
    words: Mapping[str, Mapping[str, str]] = {} if row is None else row.words
    asked = []
    for code in codes:
        item = ITEMS[code]
        own = words.get(code, {})
        question, low, high = (own.get(name) or getattr(item, name) for name in ("question", "low", "high"))
        asked.append(Asked(item, question, low, high))
    days = rules.USUAL_DAYS[kind] if row is None else row.days
    return Form(kind, tuple(asked), frozenset(days), row.from_day if row else None, row.id if row else None)


class Forms:
    """The forms of a squad through time."""

    def __init__(self, db: DbSession, squad_id: int) -> None:
        self._rows = queries.squad.report_forms(db, squad_id)
        self._forms: dict[tuple[ReportKind, object], Form] = {}

    def on(self, kind: ReportKind, day: date) -> Form:
        """The form in force on a day: of one day the one set last."""
        rows = [row for row in self._rows if row.kind is kind and row.from_day <= day]
        key = (kind, rows[-1].id if rows else None)
        if key not in self._forms:
            self._forms[key] = form_of(kind, rows[-1] if rows else None)
        return self._forms[key]

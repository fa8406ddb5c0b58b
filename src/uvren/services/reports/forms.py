"""What a squad asks, in its words, from a day on."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime

from sqlalchemy import select
from sqlalchemy.orm import Session as DbSession

from uvren.core import reports as rules
from uvren.core import words as say
from uvren.core.errors import BadReport
from uvren.core.reports import ITEMS, Item, ReportKind
from uvren.services import audit
from uvren.services.errors import Invalid
from uvren.store.models import (
    ReportForm,
    Squad,
)
from uvren.store.types import new_ulid


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

    def is_asked(self, day: date) -> bool:
        return day.weekday() in self.days


def _form(kind: ReportKind, row: ReportForm | None) -> Form:
    codes = rules.usual_form(kind) if row is None else row.items
    words: Mapping[str, Mapping[str, str]] = {} if row is None else row.words
    asked = []
    for code in codes:
        item = ITEMS[code]
        own = words.get(code, {})
        question, low, high = (own.get(name) or getattr(item, name) for name in ("question", "low", "high"))
        asked.append(Asked(item, question, low, high))
    days = rules.USUAL_DAYS[kind] if row is None else row.days
    return Form(kind, tuple(asked), frozenset(days), None if row is None else row.from_day)


class Forms:
    """The forms of a squad through time."""

    def __init__(self, db: DbSession, squad_id: int) -> None:
        query = select(ReportForm).where(ReportForm.squad_id == squad_id)
        self._rows = list(db.scalars(query.order_by(ReportForm.from_day, ReportForm.id)))

    def on(self, kind: ReportKind, day: date) -> Form:
        """The form in force on a day: of one day the one set last."""
        rows = [row for row in self._rows if row.kind is kind and row.from_day <= day]
        return _form(kind, rows[-1] if rows else None)


@dataclass(frozen=True)
class NewForm:
    kind: ReportKind
    items: Sequence[str]
    days: Sequence[int]
    words: Mapping[str, Mapping[str, str]]
    from_day: date


def save_form(db: DbSession, squad: Squad, new: NewForm, *, by: int, now: datetime, today: date) -> Form:
    """Ask something else from a day on. Does not commit. Raises Invalid with the field at fault."""
    try:
        rules.check_form(new.kind, new.items, new.days)
    except BadReport as error:
        raise Invalid(str(error), field=error.field) from error
    if new.from_day < today:
        raise Invalid(f"A form changes from {say.day(today)} on, or later.", field="from_day")
    for code, own in new.words.items():
        if any(len(text) > 120 for text in own.values()):
            raise Invalid("A question or the words at an end are 120 characters at most.", field=f"words.{code}")
    row = ReportForm(
        id=new_ulid(),
        squad_id=squad.id,
        kind=new.kind,
        items=list(new.items),
        days=sorted(set(new.days)),
        words={code: dict(own) for code, own in new.words.items() if code in new.items and any(own.values())},
        from_day=new.from_day,
        set_by=by,
        set_at=now,
    )
    db.add(row)
    audit.note(db, "form_set", f"form:{new.kind}", by=by, now=now, squad_id=squad.id, items=list(new.items))
    db.flush()
    return _form(new.kind, row)

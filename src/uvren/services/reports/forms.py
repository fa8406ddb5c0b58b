"""What a squad asks, in its words, from a day on."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from sqlalchemy.orm import Session as DbSession

from uvren.core import reports as rules
from uvren.core import words as say
from uvren.core.errors import BadReport
from uvren.core.reports import ReportKind
from uvren.services.club import audit
from uvren.services.day.forms import Form, Forms, form_of
from uvren.services.errors import Invalid
from uvren.services.stamp import Stamp
from uvren.services.versions import WHATEVER, Whatever, check_seen
from uvren.store import queries
from uvren.store.models import (
    ReportForm,
    Squad,
)
from uvren.store.types import new_ulid


@dataclass(frozen=True)
class NewForm:
    kind: ReportKind
    items: Sequence[str]
    days: Sequence[int]
    words: Mapping[str, Mapping[str, str]]
    from_day: date
    #: The form that stood when this was typed, None for the usual one.
    replaces: str | Whatever | None = WHATEVER


def save_form(db: DbSession, squad: Squad, new: NewForm, *, stamp: Stamp, today: date) -> Form:
    """Ask something else from a day on. Does not commit. Raises Invalid with the field at fault.

    Raises Stale, with both, where another form stands on its first day than it ``replaces``.
    """
    queries.squad.hold(db, squad.id)
    try:
        rules.check_form(new.kind, new.items, new.days)
    except BadReport as error:
        raise Invalid(str(error), field=error.field) from error
    if new.from_day < today:
        raise Invalid(f"A form changes from {say.day(today)} on, or later.", field="from_day")
    for code, own in new.words.items():
        if any(len(text) > 120 for text in own.values()):
            raise Invalid("A question or the words at an end are 120 characters at most.", field=f"words.{code}")
    stands = Forms(db, squad.id).on(new.kind, new.from_day)
    check_seen(
        new.replaces,
        stands.id,
        f"What is asked from {say.day(new.from_day)} on was changed meanwhile.",
        yours={"items": list(new.items), "days": sorted(new.days)},
        theirs={"items": [one.item.code for one in stands.asked], "days": sorted(stands.days)},
    )
    row = ReportForm(
        id=new_ulid(),
        squad_id=squad.id,
        kind=new.kind,
        items=list(new.items),
        days=sorted(set(new.days)),
        words={code: dict(own) for code, own in new.words.items() if code in new.items and any(own.values())},
        from_day=new.from_day,
        set_by=stamp.by,
        set_at=stamp.now,
    )
    db.add(row)
    audit.note(db, "form_set", f"form:{new.kind}", stamp=stamp, squad_id=squad.id, items=list(new.items))
    db.flush()
    return form_of(new.kind, row)

"""Calls and complaints as they go out, the same on every screen, and the note that somebody looked."""

from __future__ import annotations

from typing import Any
from zoneinfo import ZoneInfo

from uvren.core.body import Pain
from uvren.core.errors import BadReport
from uvren.services.day import facts
from uvren.services.day.standing import gate_of, is_unseen
from uvren.services.errors import Invalid
from uvren.store.models import Complaint, Restriction, Squad
from uvren.web import context
from uvren.web.schemas import PainIn


def own_complaint_out(complaint: Complaint) -> dict[str, Any]:
    fields = ("id", "kind", "day", "site", "side", "severity")
    return {name: getattr(complaint, name) for name in fields} | {"said": facts.said_of(complaint)}


def pain_of(given: PainIn, field: str) -> Pain:
    try:
        return Pain(given.site, given.side, given.severity)
    except BadReport as error:
        raise Invalid(str(error), field=f"{field}.{error.field}") from error


def availability_out(one: Restriction, names: dict[int, str], may_clinical: bool) -> dict[str, Any]:
    fields = ("id", "availability", "change", "minutes_share", "effort_cap", "from_day", "to_day")
    out = {name: getattr(one, name) for name in fields} | {"said": ", ".join(gate_of(one).changes())}
    return out | {"set_by": names.get(one.set_by, ""), "reason": one.reason if may_clinical else None}


def complaint_out(one: Complaint, squad: Squad, names: dict[int, str]) -> dict[str, Any]:
    fields = ("athlete_id", "words", "told_at", "seen_at", "answer", "again_on", "closed_on", "version")
    out = own_complaint_out(one) | {name: getattr(one, name) for name in fields}
    unseen = one.closed_on is None and is_unseen(one, context.today(squad), ZoneInfo(squad.time_zone))
    return out | {"seen_by": names.get(one.seen_by or 0), "unseen": unseen}

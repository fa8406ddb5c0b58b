"""Calls and complaints as they go out, the same on every screen, and the note that somebody looked."""

from __future__ import annotations

from typing import Any
from zoneinfo import ZoneInfo

from uvren.core.body import Pain
from uvren.core.day import CallKind
from uvren.core.errors import BadReport
from uvren.services import morning
from uvren.services.club.permissions import Action
from uvren.services.day import facts, outcomes
from uvren.services.day.standing import gate_of, is_unseen
from uvren.services.errors import Invalid
from uvren.store.models import Complaint, Restriction, Squad
from uvren.web import context
from uvren.web.schemas import PainIn


def call_out(said: morning.CallSaid | None, squad: Squad) -> dict[str, Any] | None:
    """A call as the person may see it: without the reason, coaches learn that someone is out, not why."""
    if said is None:
        return None
    reasons = context.person().may(Action.READ_REASONS, squad.id)
    hidden = said.call.kind is CallKind.REFER and not reasons
    return {
        "id": said.call.id,
        "kind": "unavailable" if hidden else said.call.kind,
        "reason": said.call.reason if reasons else "",
        "review_on": said.call.review_on,
        "minutes": said.call.minutes,
        "effort_cap": said.call.effort_cap,
        "content": said.call.content,
        "above_room": said.call.above_room,
        "reply": said.call.reply if context.person().may(Action.READ_CLINICAL, squad.id) else None,
        "made_by": said.made_by,
        "made_at": said.call.made_at,
    }


def turned_out(one: outcomes.Outcome, squad: Squad) -> dict[str, Any]:
    # How reports stood afterwards is for who may read them.
    may = context.person().may(Action.READ_REPORTS, squad.id)
    return {
        "athlete_id": one.call.athlete_id,
        "name": one.name,
        "day": one.call.day,
        "call": call_out(morning.CallSaid(one.call, one.made_by), squad),
        "called": one.called,
        "done": one.done,
        "kept": one.kept,
        "after": one.after if may else "",
    }


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
    fields = ("athlete_id", "words", "told_at", "seen_at", "answer", "again_on", "closed_on")
    out = own_complaint_out(one) | {name: getattr(one, name) for name in fields}
    unseen = one.closed_on is None and is_unseen(one, context.today(squad), ZoneInfo(squad.time_zone))
    return out | {"seen_by": names.get(one.seen_by or 0), "unseen": unseen}

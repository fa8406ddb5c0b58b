"""What calls and clinicians leave of the plan of a day."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

import numpy as np
from sqlalchemy import or_, select
from sqlalchemy.orm import Session as DbSession

from uvren.store import queries
from uvren.store.models import Availability, Call, CallKind, Restriction

# What a call leaves of the day's plan, as a share; adapt says its own minutes.
SHARE_OF_PLAN = {
    CallKind.FULL: 1.0, CallKind.MINIMUM: 0.3, CallKind.RECOVER: 0.1, CallKind.REST: 0.0, CallKind.REFER: 0.0,
}  # fmt: skip


@dataclass(frozen=True)
class Decided:
    """What stands for an athlete on a day. ``closed`` is a clinician's word, which outranks every call."""

    call: Call | None = None
    closed: bool = False

    def share(self, planned_minutes: float) -> float:
        """The share of the planned minutes that is left."""
        if self.closed:
            return 0.0
        if self.call is None:
            return 1.0
        if self.call.kind is not CallKind.ADAPT:
            return SHARE_OF_PLAN[self.call.kind]
        if self.call.minutes is None or planned_minutes <= 0:
            return 1.0
        return min(self.call.minutes / planned_minutes, 1.0)

    @property
    def cap(self) -> float:
        """The most effort of a session."""
        cap = self.call.effort_cap if self.call else None
        return np.inf if cap is None else cap


def adapted(call: Call, planned_minutes: float) -> list[str]:
    """How a call adapts a day: minutes of those planned, the most effort, content."""
    parts = []
    if call.minutes is not None and planned_minutes > 0:
        parts.append(f"{call.minutes:g} of {planned_minutes:g} min")
    if call.effort_cap is not None:
        parts.append(f"effort at most {call.effort_cap:g}")
    if call.content:
        parts.append(call.content)
    return parts


def said(decided: Decided, planned_minutes: float) -> str:
    """What stands for an athlete on a day, without why; empty for the plan as it is."""
    if decided.closed:
        return "does not train"
    call = decided.call
    if call is None or call.kind is CallKind.FULL:
        return ""
    if call.kind is CallKind.ADAPT:
        return ", ".join(adapted(call, planned_minutes)) or "adapted"
    words = {CallKind.MINIMUM: "minimum dose", CallKind.RECOVER: "recovery only"}.get(call.kind, "does not train")
    return ", ".join(filter(None, (words, call.content)))


def decisions(db: DbSession, squad_id: int, first: date, last: date) -> dict[tuple[int, date], Decided]:
    """What stands for each (athlete, day) for which something was decided."""
    out = {key: Decided(call) for key, call in queries.calls_between(db, squad_id, first, last).items()}
    closed = db.scalars(
        select(Restriction).where(
            Restriction.squad_id == squad_id,
            Restriction.availability == Availability.OUT,
            Restriction.from_day <= last,
            or_(Restriction.to_day.is_(None), Restriction.to_day >= first),
            Restriction.withdrawn_at.is_(None),
        )
    )
    for one in closed:
        begin, end = max(one.from_day, first), min(one.to_day or last, last)
        for ordinal in range(begin.toordinal(), end.toordinal() + 1):
            key = (one.athlete_id, date.fromordinal(ordinal))
            out[key] = Decided(out[key].call if key in out else None, closed=True)
    return out

"""Room that ends with what a clinician, or a plan to come back, leaves of the day's plan; the same on every look."""

from __future__ import annotations

from uvren.core.day import Standing, Why
from uvren.core.limits import Room

# What binds where somebody leaves part of the plan.
CLINICIAN, RETURN = "clinician", "return"


def bounded(room: Room, left: float, standing: Standing) -> Room:
    """Room that ends with what a clinician leaves of the plan, ``left``, where that is less."""
    if not standing.bounded or (room.load is not None and room.load <= left):
        return room
    by = RETURN if standing.why is Why.RETURN else CLINICIAN
    return Room(left, (by,), room.load, room.binding)

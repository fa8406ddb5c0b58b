"""Room in words: what binds, what rests, and how it stands to the plan."""

from __future__ import annotations

from collections.abc import Sequence, Set
from dataclasses import dataclass

import numpy as np

from uvren.core import words as say
from uvren.core.audience import Audience
from uvren.core.day import TITLES, Desk, Standing, Stands, Why, fitted
from uvren.core.limits import Room, title_of
from uvren.services.day.bounds import CLINICIAN, RETURN, bounded
from uvren.services.day.desk import SquadDesk
from uvren.services.day.strips import REASONS


@dataclass(frozen=True)
class RoomSaid:
    """Room with its words: what binds, what binds next, and how it stands to today's plan.

    ``closed`` says that nothing may be added whatever limits leave; ``words`` say why, and ``load`` is None then.
    ``resting`` says why some hard limits do not speak today; where it is not empty, room is at most what is said.
    ``plan`` is what stands of today's plan, ``written`` the plan as it was written.
    """

    load: float | None
    words: str
    closed: bool
    binding: list[str]
    bound_by: str
    next_load: float | None
    next_by: str
    plan: float
    written: float
    plan_words: str
    resting: str


def rooms_said(opened: SquadDesk, standing: Sequence[Standing], audiences: Set[Audience]) -> list[RoomSaid]:
    resting = resting_of(opened.desk)
    return [
        room_said(found.room, "; ".join(filter(None, (found.why, resting[row]))), opened, row, standing[row], audiences)
        for row, found in enumerate(opened.desk.day_rooms)
    ]


def least(kept: Room, today: Room) -> Room:
    """Room with the plan kept is never more than room today, whatever limits are silent then."""
    if today.load is None or (kept.load is not None and kept.load <= today.load):
        return kept if today.load is not None else today
    return today


def room_said(
    room: Room, resting: str, opened: SquadDesk, row: int, standing: Standing, audiences: Set[Audience]
) -> RoomSaid:
    """Room in words, as these audiences may know them."""
    desk = opened.desk
    plan, written = float(desk.plan_today[row]), float(opened.written[row])
    closed = standing.why_closed(audiences)
    room = Room(None, (), None, ()) if closed else bounded(room, plan, standing)
    if closed:
        words = closed
    elif room.load is None:
        words = f"no figure: {desk.day_rooms[row].unknown or 'no limit binds'}"
    elif plan < min(written, room.load) - 0.5:
        # Minutes that the call does not leave would be read as minutes that somebody has.
        words = "by limits; the call leaves less"
    else:
        words = desk.terms.phrase(room.load, row)
    return RoomSaid(
        load=room.load,
        words=words,
        closed=bool(closed),
        binding=list(room.binding),
        bound_by=_titles(room.binding),
        next_load=room.next_load,
        next_by=_titles(room.next_binding),
        plan=plan,
        written=written,
        plan_words=_plan_words(plan, written, room.load, standing),
        resting="" if closed else resting,
    )


_BY = {Why.CLINICIAN: "clinician:", Why.RETURN: "plan to come back:"}


def _plan_words(plan: float, written: float, room: float | None, standing: Standing) -> str:
    """How what stands of today's plan stands to room."""
    if standing.closed:
        return f"the plan, {say.number(written)}, does not stand" if written > 0 else "nothing planned today"
    if written <= 0:
        return "nothing planned today"
    over = 0.0 if room is None or plan <= room + 0.5 else plan - room
    too_much = f", {say.number(over)} too much" if over else ""
    if standing.stands is Stands.ASK:
        return f"plan {say.number(plan)}, ask first{too_much}"
    if plan < written - 0.5:
        by = _BY.get(standing.why, "after the call")
        return f"{by} {say.number(plan)} (was {say.number(written)}){too_much}"
    if room is None:
        return f"plan {say.number(plan)}"
    return f"plan is {say.number(over)} too much" if over else f"plan fits, {say.number(room - plan)} to spare"


def resting_of(desk: Desk) -> list[str]:
    """For each row, why hard limits that are in force do not speak today, each with its reason."""
    said: list[list[str]] = [[] for _ in desk.rooms]
    for full in desk.hard:
        rule = fitted(full, desk.done)
        reasons = rule.reasons(desk.now)[:, desk.today]
        in_force = ~np.isnan(full.value[:, desk.today])
        for row in np.flatnonzero((reasons != "") & in_force):
            if not rule.floor:
                said[row].append(f"the {rule.title.lower()} rests ({REASONS[str(reasons[row])]})")
    return [" and ".join(lines) for lines in said]


def _titles(keys: tuple[str, ...]) -> str:
    if keys == (RETURN,):
        return "plan to come back"
    if keys == (CLINICIAN,):
        return "clinician’s word"
    return " and ".join(TITLES.get(key) or title_of(key).lower() for key in keys)

"""Room in words: what binds, what rests, and how it stands to the plan."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from uvren.core import words as say
from uvren.core.day import Desk, fitted
from uvren.core.limits import CATALOGUE, Room
from uvren.services.day.desk import SquadDesk


@dataclass(frozen=True)
class RoomSaid:
    """Room with its words: what binds, what binds next, and how it stands to today's plan.

    ``resting`` says why some hard limits do not speak today; where it is not empty, room is at most what is said.
    ``plan`` is what calls leave of today's plan, ``written`` the plan before them.
    """

    load: float | None
    words: str
    binding: list[str]
    bound_by: str
    next_load: float | None
    next_by: str
    plan: float
    written: float
    plan_words: str
    resting: str


REASONS = {
    "history": "not enough history",
    "missing": "a rating is missing in the last 7 days",
    "estimated": "too much of it is estimated",
    "rebuild": "base load is too low to compare with",
}


def rooms_said(opened: SquadDesk, blocked: dict[int, str]) -> list[RoomSaid]:
    resting = resting_of(opened.desk)
    return [room_said(room, resting[row], opened, row, blocked.get(row)) for row, room in enumerate(opened.desk.rooms)]


def room_said(room: Room, resting: str, opened: SquadDesk, row: int, blocked: str | None) -> RoomSaid:
    """Room in words; ``blocked`` says why no work is proposed although limits would leave some."""
    desk = opened.desk
    plan, written = float(desk.plan_today[row]), float(opened.written[row])
    if blocked is not None:
        return RoomSaid(0.0, blocked, [], blocked, None, "", plan, written, "nothing is proposed", "")
    if room.load is None:
        quiet = "not enough history" if desk.now.history_short[row, desk.today] else "no limit binds"
        words = f"no figure: {quiet}"
    else:
        words = desk.terms.phrase(room.load, row)
    if plan <= 0:
        plan_words = "nothing planned today"
    elif room.load is None:
        plan_words = f"plan {say.number(plan)}"
    elif plan > room.load + 0.5:
        plan_words = f"plan is {say.number(plan - room.load)} too much"
    else:
        plan_words = f"plan fits, {say.number(room.load - plan)} to spare"
    if plan < written - 0.5:
        plan_words = f"after the call {say.number(plan)} (was {say.number(written)})"
        if room.load is not None and plan > room.load + 0.5:
            plan_words += f", {say.number(plan - room.load)} too much"
    return RoomSaid(
        load=room.load,
        words=words,
        binding=list(room.binding),
        bound_by=_titles(room.binding),
        next_load=room.next_load,
        next_by=_titles(room.next_binding),
        plan=plan,
        written=written,
        plan_words=plan_words,
        resting=resting,
    )


def resting_of(desk: Desk) -> list[str]:
    """For each row, why hard limits that are in force do not speak today, each with its reason."""
    said: list[list[str]] = [[] for _ in desk.rooms]
    for full in desk.hard:
        rule = fitted(full, desk.done)
        reasons = rule.silent(desk.now)[:, desk.today]
        in_force = ~np.isnan(full.value[:, desk.today])
        for row in np.flatnonzero((reasons != "") & in_force):
            if not rule.floor:
                said[row].append(f"the {rule.title.lower()} ({REASONS[str(reasons[row])]})")
    return [" and ".join(lines) for lines in said]


def _titles(keys: tuple[str, ...]) -> str:
    return " and ".join(CATALOGUE[key.partition(":")[0]].title.lower() for key in keys)

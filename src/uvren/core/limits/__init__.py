"""Limits: one class for each rule, holding its check, its room and its sentence side by side."""

from uvren.core.limits.base import Rule, Unit
from uvren.core.limits.catalogue import CATALOGUE, make_rule, title_of
from uvren.core.limits.corridor import Corridor, corridor
from uvren.core.limits.room import Room, room_on, room_with_plan

__all__ = [
    "CATALOGUE",
    "Corridor",
    "Room",
    "Rule",
    "Unit",
    "corridor",
    "make_rule",
    "room_on",
    "room_with_plan",
    "title_of",
]

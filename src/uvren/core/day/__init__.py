"""What a squad is on a day: loads, facts, limits in force, and the plan after calls, gates and rest trials."""

from uvren.core.day.band import band
from uvren.core.day.desk import REST_DAYS, Desk, Tuning
from uvren.core.day.facts import Coming, Complaint, Doubt, Facts, Gate, Review, SessionsDone, TestSeries, together
from uvren.core.day.room import TITLES, DayRoom, Unrated, fitted
from uvren.core.day.standing import (
    ASKS_FROM,
    CLOSES_FROM,
    OFF_KINDS,
    SHARE_OF_PLAN,
    Called,
    CallKind,
    Given,
    Standing,
    Stands,
    Told,
    Why,
    weigh,
    weighed,
)

__all__ = [
    "ASKS_FROM",
    "CLOSES_FROM",
    "OFF_KINDS",
    "REST_DAYS",
    "SHARE_OF_PLAN",
    "TITLES",
    "CallKind",
    "Called",
    "Coming",
    "Complaint",
    "DayRoom",
    "Desk",
    "Doubt",
    "Facts",
    "Gate",
    "Given",
    "Review",
    "SessionsDone",
    "Standing",
    "Stands",
    "TestSeries",
    "Told",
    "Tuning",
    "Unrated",
    "Why",
    "band",
    "fitted",
    "together",
    "weigh",
    "weighed",
]

"""What a squad is on a day: loads, facts, limits in force, and the plan after calls, gates and rest trials."""

from uvren.core.day.desk import REST_DAYS, Desk, Tuning, fitted
from uvren.core.day.facts import Complaint, Doubt, Facts, Gate, Review, SessionsDone, TestSeries

__all__ = [
    "REST_DAYS",
    "Complaint",
    "Desk",
    "Doubt",
    "Facts",
    "Gate",
    "Review",
    "SessionsDone",
    "TestSeries",
    "Tuning",
    "fitted",
]

"""Notices: what the rules found, each with its evidence, its words and what would clear it.

One class for each kind, in modules by what they look at. A notice is evidence for a qualified person, never a
prediction.
"""

from uvren.core.notices.base import Audience, Cause, Desk, Notice, NoticeKind, Setting, Severity, Shape, Tuning, fitted
from uvren.core.notices.catalogue import KINDS, Story, is_quiet, needs, notices_for, stories
from uvren.core.notices.facts import Complaint, Doubt, Facts, Gate, Review, SessionsDone, TestSeries

__all__ = [
    "KINDS",
    "Audience",
    "Cause",
    "Complaint",
    "Desk",
    "Doubt",
    "Facts",
    "Gate",
    "Notice",
    "NoticeKind",
    "Review",
    "SessionsDone",
    "Setting",
    "Severity",
    "Shape",
    "Story",
    "TestSeries",
    "Tuning",
    "fitted",
    "is_quiet",
    "needs",
    "notices_for",
    "stories",
]

"""Notices: what the rules found, each with its evidence, its words and what would clear it.

One class for each kind, in modules by what they look at. A notice is evidence for a qualified person, never a
prediction.
"""

from uvren.core.notices.base import Cause, Notice, NoticeKind, Setting, Severity, Shape, Strand
from uvren.core.notices.catalogue import KINDS, Needs, is_quiet, needs, notices_for

__all__ = [
    "KINDS",
    "Cause",
    "Needs",
    "Notice",
    "NoticeKind",
    "Setting",
    "Severity",
    "Shape",
    "Strand",
    "is_quiet",
    "needs",
    "notices_for",
]

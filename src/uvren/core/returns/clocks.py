"""How long tissue takes to change, as ranges and no more: drawn beside a climb, never measured here."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

WEEK = timedelta(weeks=1)
EVIDENCE = "from small studies; not measured here"


@dataclass(frozen=True)
class Clock:
    """Weeks of training after which a tissue has adapted again, from the earliest to the latest that is reported."""

    tissue: str
    early: int
    late: int
    source: str

    def span(self, first: date) -> tuple[date, date]:
        """The days between which it may be there, from the first day of training on."""
        return first + WEEK * self.early, first + WEEK * self.late


CLOCKS = (
    Clock("muscle", 4, 8, "Muscle strength and size (reviewed by Magnusson and Kjaer 2019, small studies)"),
    Clock("tendon", 8, 14, "Tendon stiffness (meta-analysis of Bohm et al. 2015, small studies)"),
)

"""Where on the body something is: the places of the body map, and their sides."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from uvren.core.errors import BadReport


class Side(StrEnum):
    """The athlete's own side."""

    LEFT = "left"
    RIGHT = "right"


class Site(StrEnum):
    """A place of the body. Those of ``PAIRED`` have two sides."""

    HEAD = "head"
    NECK = "neck"
    CHEST = "chest"
    BELLY = "belly"
    UPPER_BACK = "upper back"
    LOWER_BACK = "lower back"
    SHOULDER = "shoulder"
    UPPER_ARM = "upper arm"
    ELBOW = "elbow"
    FOREARM = "forearm"
    HAND = "wrist or hand"
    HIP = "hip or groin"
    BUTTOCK = "buttock"
    FRONT_THIGH = "front of the thigh"
    BACK_THIGH = "back of the thigh"
    KNEE = "knee"
    SHIN = "shin"
    CALF = "calf"
    ANKLE = "ankle"
    FOOT = "foot"


PAIRED = frozenset(Site) - {Site.HEAD, Site.NECK, Site.CHEST, Site.BELLY, Site.UPPER_BACK, Site.LOWER_BACK}

WORST = 10.0


@dataclass(frozen=True)
class Pain:
    """A pain as it is told: where, how bad from 1 to 10 (the worst)."""

    site: Site
    side: Side | None
    severity: float

    def __post_init__(self) -> None:
        if self.site in PAIRED and self.side is None:
            raise BadReport(f"Say which {self.site}: left or right.", field="side")
        if self.site not in PAIRED and self.side is not None:
            raise BadReport(f"The {self.site} has no sides.", field="side")
        if not 1 <= self.severity <= WORST:
            raise BadReport("How bad it is goes from 1 to 10.", field="severity")

    def said(self) -> str:
        """Such as "left knee, 4 of 10"."""
        place = f"{self.side} {self.site}" if self.side else str(self.site)
        return f"{place}, {self.severity:g} of 10"

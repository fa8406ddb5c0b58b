"""What comes in and goes out: clinical."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from uvren.store.models import Availability
from uvren.web.schemas import In, Number, PainIn, Ulid, Words


class AllowedIn(In):
    """What a clinician allows; the share of the planned minutes goes from 0 to 1."""

    availability: Availability
    change: Annotated[str, Field(max_length=400)] = ""
    reason: Annotated[str, Field(max_length=400)] = ""
    minutes_share: Number | None = None
    effort_cap: Number | None = None
    to_day: date | None = None
    replaces: Ulid | None = None


class ComplaintAnswerIn(In):
    """What a clinician says of a complaint; ``allowed`` is how much may be trained from today on."""

    answer: Words | None = None
    closed: bool = False
    again_on: date | None = None
    version: int
    allowed: AllowedIn | None = None


class InjuryIn(In):
    athlete_id: int
    pain: PainIn
    words: Words | None = None


class RestrictionIn(AllowedIn):
    athlete_id: int
    from_day: date

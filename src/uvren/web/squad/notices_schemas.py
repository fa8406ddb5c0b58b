"""What comes in and goes out: notices."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from uvren.core.audience import Audience
from uvren.core.method import Section
from uvren.core.notices import Cause, Severity, Strand
from uvren.core.notices.base import Setting
from uvren.services.day.worn_basis import RateTried
from uvren.store.models import Scope
from uvren.web.schemas import In, Number, Out


class KindOut(Out):
    """A kind of notice as the settings and the method page show it."""

    code: str
    name: str
    rule: str
    cleared: str
    source: str
    cause: Cause
    strand: Strand
    severities: list[Severity]
    audience: Audience
    settings: list[Setting]


class TunedOut(Out):
    id: str
    code: str
    scope: Scope
    whom: str
    off: bool
    values: dict[str, float]
    said: str
    reason: str
    from_day: date
    set_by: str


class EarlierOut(TunedOut):
    until: date
    taken_back: bool


class WornRatesOut(Out):
    rates: list[RateTried]


class NoticesOut(Out):
    kinds: list[KindOut]
    tuned: list[TunedOut]
    earlier: list[EarlierOut]


class TuneIn(In):
    code: Annotated[str, Field(max_length=40)]
    scope: Scope
    position: Annotated[str, Field(max_length=40)] | None = None
    athlete_id: int | None = None
    off: bool = False
    values: dict[str, Number] = Field(default_factory=dict, max_length=8)
    reason: Annotated[str, Field(max_length=400)] = ""


class MethodOut(Out):
    sections: list[Section]
    notices: list[KindOut]

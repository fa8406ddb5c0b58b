"""What comes in and goes out: anchors."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from uvren.store.models import AnchorKind
from uvren.web.schemas import In, Number, Out
from uvren.web.squad.members_schemas import PersonOut


class AnchorMeaningOut(Out):
    kind: AnchorKind
    name: str
    unit: str
    low: float
    high: float
    words: list[str]


class AnchorOut(Out):
    id: str
    athlete_id: int
    kind: AnchorKind
    value: float | None
    word: str | None
    from_day: date
    source: str
    set_by: str


class AnchorsOut(Out):
    day: date
    kinds: list[AnchorMeaningOut]
    athletes: list[PersonOut]
    anchors: list[AnchorOut]


class AnchorIn(In):
    athlete_id: int
    kind: AnchorKind
    value: Number | None = None
    word: Annotated[str, Field(max_length=24)] | None = None
    from_day: date
    source: Annotated[str, Field(max_length=200)] = ""

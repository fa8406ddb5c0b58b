"""What comes in and goes out: channels."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated

from pydantic import Field

from uvren.core.units import Level, Region
from uvren.services.squad.unit_preview import Preview
from uvren.store.models import SessionKind
from uvren.web.schemas import Answer, In, Out, Settings


class DefinitionOut(Out):
    id: str
    form: str
    settings: Settings
    kinds: list[SessionKind]
    from_day: date
    reason: str
    set_by: str
    set_at: datetime
    sentence: str


class ChannelOut(Out):
    code: str
    name: str
    mark: str
    unit: str
    is_main: bool
    level: Level
    regions: list[Region]
    version: int
    published: str
    definition: DefinitionOut
    history: list[DefinitionOut]


class FormOut(Out):
    code: str
    title: str
    unit: str
    level: Level
    published: str


class PlaceOut(Out):
    id: int
    name: str


class ChannelsOut(Out):
    day: date
    channels: list[ChannelOut]
    forms: list[FormOut]
    marks: list[str]
    regions: list[Region]
    kinds: list[SessionKind]
    places: list[PlaceOut]


class DraftIn(In):
    name: Annotated[str, Field(max_length=60)]
    unit: Annotated[str, Field(max_length=24)]
    form: Annotated[str, Field(max_length=24)]
    settings: Annotated[Settings, Field(default_factory=dict)]
    kinds: list[SessionKind]
    regions: Annotated[list[str], Field(max_length=12, default_factory=list)]
    mark: Annotated[str, Field(max_length=16)]
    from_day: date
    reason: Annotated[str, Field(max_length=400)] = ""


class ChannelIn(DraftIn):
    recompute: bool = False
    version: int | None = None


class PreviewIn(In):
    draft: DraftIn
    channel: Annotated[str, Field(max_length=40)] | None = None
    session_id: Annotated[str, Field(max_length=26)] | None = None


class PreviewOut(Answer[Preview]):
    pass


class SessionPlaceIn(In):
    place: Annotated[str, Field(max_length=60)] | None


class PlaceIn(In):
    name: Annotated[str, Field(max_length=60)]

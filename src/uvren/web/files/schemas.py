"""What comes in and goes out: files."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated

from pydantic import ConfigDict, Field

from uvren.files.errors import Problem
from uvren.files.layout import Format
from uvren.files.moments import Writing
from uvren.files.shape import Across
from uvren.services.files.asked import Question
from uvren.services.files.mappings import FileKind
from uvren.store.models import ImportState, SessionKind
from uvren.web.schemas import In, Number, Out, Settings


class ColumnUseIn(In):
    name: Annotated[str, Field(max_length=400)]
    role: Annotated[str, Field(max_length=60)]
    unit: Annotated[str, Field(max_length=12)] = ""


class LayoutIn(In):
    format: Format
    encoding: Annotated[str, Field(max_length=20)] = "utf-8"
    separator: Annotated[str, Field(max_length=1)] = ","
    decimal: Annotated[str, Field(max_length=1)] = "."
    head_row: Annotated[int, Field(ge=0, le=100)] = 0
    head_rows: Annotated[int, Field(ge=1, le=4)] = 1
    sheet: Annotated[str, Field(max_length=80)] = ""
    sheets: Annotated[list[Annotated[str, Field(max_length=80)]], Field(max_length=400, default_factory=list)]
    across: Across = Across.NOTHING
    left: Annotated[int, Field(ge=0, le=60)] = 0
    thousands: Annotated[str, Field(max_length=2)] = ""


class SpecIn(In):
    """How a file is read; times and dates as text."""

    kind: FileKind
    columns: Annotated[list[ColumnUseIn], Field(max_length=401)]
    writing: Writing | None = None
    zone: Annotated[str, Field(max_length=60)] = "UTC"
    day: date | None = None
    begins: Annotated[str, Field(pattern=r"^\d{2}:\d{2}(:\d{2}(\.\d+)?)?$")] | None = None
    athlete: int | None = None
    device: Annotated[str, Field(max_length=120)] = ""
    offset_seconds: Number = 0.0
    layout: LayoutIn | None = None
    make_sessions: bool = False
    good_rows: bool = False
    answers: Annotated[dict[str, str], Field(max_length=20, default_factory=dict)]
    made_kind: SessionKind | None = None
    made_title: Annotated[str, Field(max_length=120)] = ""
    made_effort: Annotated[float, Field(ge=0, le=10)] | None = None


class SpecOut(SpecIn):
    model_config = ConfigDict(from_attributes=True, extra="ignore")


class FilePersonOut(Out):
    said: str
    athlete_id: int | None
    known: bool


class MadeOut(Out):
    """A session that is not there, as it would be made."""

    starts_at: datetime
    kind: SessionKind
    title: str
    planned_minutes: float
    planned_effort: float


class FilePreviewOut(Out):
    id: str
    file_name: str
    size: int
    columns: list[str]
    rows: list[list[str]]
    sheets: list[str]
    hidden: list[str]
    spec: SpecOut
    mapping: str
    people: list[FilePersonOut]
    sessions: list[str]
    unplaced: list[str]
    wrong: str
    problems: list[Problem]
    rows_read: int
    dropped: int
    notes: list[str]
    questions: list[Question]
    making: list[MadeOut]
    found: list[str]
    roles: dict[FileKind, list[str]]
    tests: dict[str, str]
    units: dict[str, list[str]]
    writings: list[Writing]


class ImportOut(Out):
    id: str
    file_name: str
    size: int
    state: ImportState
    step: str
    share: float
    report: Settings
    created_by: str
    created_at: datetime
    finished_at: datetime | None
    undone_at: datetime | None


class FileQuery(In):
    name: Annotated[str, Field(min_length=1, max_length=255)]


class PutDownOut(Out):
    file: ImportOut
    again: bool


class MappingOut(Out):
    id: int
    name: str
    spec: Settings
    set_by: str
    set_at: datetime


class FilesOut(Out):
    imports: list[ImportOut]
    mappings: list[MappingOut]


class AliasIn(In):
    said: Annotated[str, Field(max_length=200)]
    athlete_id: int | None


class PreviewFileIn(In):
    spec: SpecIn | None = None
    people: Annotated[list[AliasIn], Field(max_length=200, default_factory=list)]


class BringIn(In):
    spec: SpecIn
    save_as: Annotated[str, Field(max_length=120)] = ""

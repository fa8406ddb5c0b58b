"""What comes in and goes out: fitness."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import Field

from uvren.core.trials import Asymmetry, Better, Change, Combine
from uvren.store.models import AnchorKind
from uvren.web.schemas import In, Number, Out

Side = Literal["", "left", "right"]


class TestIn(In):
    name: Annotated[str, Field(max_length=120)]
    unit: Annotated[str, Field(max_length=24)]
    better: Better
    trials: Annotated[int, Field(ge=1, le=10)]
    sides: bool
    combine: Combine
    typical_error: Number | None = None
    worthwhile: Number | None = None
    protocol: Annotated[str, Field(max_length=2000)] | None = None
    anchor: AnchorKind | None = None
    jump: bool = False
    version: int | None = None


class TestOut(Out):
    code: str
    name: str
    unit: str
    better: Better
    trials: int
    sides: bool
    combine: Combine
    typical_error: float | None
    worthwhile: float | None
    protocol: str | None
    anchor: AnchorKind | None
    jump: bool
    version: int


class TestsOut(Out):
    tests: list[TestOut]


class SideOut(Out):
    side: Side
    trials: list[float | None]
    value: float | None
    version: int | None
    last: float | None
    last_day: date | None
    change: Change


class TestRowOut(Out):
    athlete_id: int
    name: str
    position: str
    sides: list[SideOut]
    rank: int | None
    asymmetry: Asymmetry | None
    matters: bool


class TestingDayOut(Out):
    test: TestOut
    day: date
    typical_error: float | None
    error_basis: str
    worthwhile: float | None
    days: list[date]
    rows: list[TestRowOut]


class ResultIn(In):
    athlete_id: int
    side: Side = ""
    trials: Annotated[list[Number | None], Field(max_length=10)]
    version: int | None = None
    sure: bool = False


class ResultsIn(In):
    day: date
    results: Annotated[list[ResultIn], Field(min_length=1, max_length=200)]


class PointOut(Out):
    day: date
    side: Side
    value: float
    trials: list[float | None]


class SeriesOut(Out):
    typical_error: float | None
    points: list[PointOut]


class TraceIn(In):
    """A jump plate's file as text; ``drop`` for a jump after a drop."""

    content: Annotated[str, Field(max_length=900_000)]
    drop: bool = False


class MetricOut(Out):
    name: str
    value: float
    unit: str


class JumpOut(Out):
    metrics: list[MetricOut]

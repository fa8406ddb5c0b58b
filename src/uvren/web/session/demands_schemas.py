"""What goes out: a session in match terms."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from uvren.core.demands import Change, Shape
from uvren.core.plan.mix import OPEN_CONTACT, Mix
from uvren.services.session.drills import Drill, Running
from uvren.services.session.heat import HeatRow
from uvren.services.session.pattern import NextTime
from uvren.services.session.terms import Figure, MatchIs, TermsGroup, TermsPart, TermsRow
from uvren.web.schemas import Answer, In, Number, Out


class BinOut(Out):
    """A range of speed (m/s, from ``begins`` on) with its share of the time in training and in a match."""

    name: str
    begins: float
    training: float
    match: float


class LengthOut(Out):
    """Bouts by length: where each bin begins (s), and the share of training's and of the match's."""

    begins: list[float]
    training: list[float]
    match: list[float]


class ToChangeOut(Out):
    part: str
    minutes: float
    change: Change
    next: NextTime | None


class GameLikeOut(Out):
    people: int
    games: int
    overlap: float | None
    distance: float | None
    training: Shape
    match: Shape
    bins: list[BinOut]
    runs: LengthOut
    rests: LengthOut
    changes: list[ToChangeOut]
    after: float | None
    drills: list[Drill]
    said: str


class MatchTermsOut(Out):
    session_id: str
    planned: bool
    figures: list[Figure]
    squad: list[float | None]
    squad_peaks: list[float | None]
    groups: list[TermsGroup]
    rows: list[TermsRow]
    parts: list[TermsPart]
    match: list[MatchIs]
    matches: int
    said: str
    sentences: list[str]
    game: GameLikeOut | None


class PatternIn(In):
    """How a part is done, in seconds; both null takes it back."""

    part: Annotated[str, Field(min_length=1, max_length=120)]
    on: Annotated[Number, Field(ge=1, le=600)] | None = None
    off: Annotated[Number, Field(ge=1, le=600)] | None = None


class DrillsOut(Out):
    drills: list[Drill]
    match: Running | None


class HeatSessionOut(Out):
    id: str
    day: date
    title: str
    opponent: str | None


class HeatOut(Out):
    session: HeatSessionOut | None
    figures: list[Figure]
    rows: list[HeatRow]


Aim = Annotated[Number, Field(ge=0.2, le=1)]
Grade = Annotated[int, Field(ge=1, le=5)]


class MixIn(In):
    """Rounds by how hard they are to be, and the share of full intensity they are to come to."""

    grades: Annotated[list[Grade], Field(max_length=30)]
    aim: Aim = OPEN_CONTACT


class MixOut(Answer[Mix | None]):
    """How hard the rounds are in all; null where none is graded."""


class PartIn(In):
    name: Annotated[str, Field(min_length=1, max_length=120)]
    minutes: Annotated[Number, Field(gt=0, le=600)]
    weight: Annotated[Number, Field(ge=1, le=4)]
    grade: Grade | None = None


class PartsIn(In):
    """The parts of a session one after the other, in place of those of ``version``; ``aim`` is that of its rounds."""

    parts: Annotated[list[PartIn], Field(max_length=30)]
    aim: Aim | None = None
    version: int | None


class PartsOut(Out):
    version: int

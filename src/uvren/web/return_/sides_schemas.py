"""What comes in and goes out: sides that differ."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from uvren.core.returns.sides import How
from uvren.services.return_.sides import SideRow
from uvren.web.schemas import In, Number, Out, Ulid


class SidesOut(Out):
    rows: list[SideRow]


class SideBegunIn(In):
    athlete_id: int
    test: Annotated[str, Field(max_length=40)]


class SideBegunOut(Out):
    id: Ulid


class PairIn(In):
    """A joint, and what was measured of it on both sides."""

    name: Annotated[str, Field(max_length=60)]
    left: Number
    right: Number


class SideIn(In):
    """What is known of a check as it is to stand; see :class:`uvren.services.return_.sides.Looked`."""

    ranges: Annotated[list[PairIn], Field(max_length=20)]
    strengths: Annotated[list[PairIn], Field(max_length=20)]
    how: How | None = None
    sets: int | None = None
    retest_on: date | None = None
    words: Annotated[str, Field(max_length=400)] = ""
    version: int


class SideEndIn(In):
    ended: bool

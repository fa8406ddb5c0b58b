"""What comes in and goes out: the season."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from uvren.core.season import PhaseKind
from uvren.services.season.phases import Season
from uvren.web.schemas import Answer, In, Out, Ulid


class SeasonOut(Answer[Season]):
    """Phases by their days, and where the day asked for is among them."""


class PhaseIn(In):
    kind: PhaseKind
    name: Annotated[str, Field(max_length=200)] = ""
    first: date
    last: date


class SeasonIn(In):
    """All phases of the season; those that are not in it are gone."""

    phases: Annotated[list[PhaseIn], Field(max_length=200)]
    edition: Ulid | None = None


class EditionOut(Out):
    edition: str | None

"""What comes in and goes out: templates of weeks."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from uvren.core.plan.template import WrittenFor
from uvren.services.week.templates import Fit, NewTemplate, Templates
from uvren.store.models import SessionKind
from uvren.web.schemas import Answer, In, Number, Out, Ulid

Words = Annotated[str, Field(max_length=200)]


class TemplatesOut(Answer[Templates]):
    """The club's templates, and what sport the squad does."""


class WrittenForIn(In):
    """Whom it was made for; null or empty where nothing is said."""

    years_least: Number | None = None
    years_most: Number | None = None
    sport: Words = ""
    sport_days: Number | None = None
    longest: Number | None = None


class NewTemplateIn(WrittenForIn):
    """Sessions of so many weeks from the Monday of ``of`` on, of these kinds."""

    name: Words
    of: date
    weeks: int
    kinds: Annotated[list[SessionKind], Field(max_length=20)]

    @property
    def new(self) -> NewTemplate:
        written = WrittenFor(self.years_least, self.years_most, self.sport, self.sport_days, self.longest)
        return NewTemplate(self.name, self.of, self.weeks, frozenset(self.kinds), written)


class FitIn(In):
    """From the Monday of ``first`` on, for one athlete or (null) the squad, which does this ``sport``."""

    first: date
    athlete_id: int | None = None
    sport: Annotated[str, Field(max_length=40)] = ""


class FitOut(Answer[Fit]):
    """What differs, and the sessions it comes to."""


class UseIn(FitIn):
    """``differs`` is what was shown to differ."""

    differs: Annotated[list[Words], Field(max_length=20)]


class UsedOut(Out):
    """The sessions that were planned; what to send to take them back."""

    made: list[str]


class TakeUsedIn(In):
    made: Annotated[list[Ulid], Field(max_length=1000)]

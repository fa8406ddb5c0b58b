"""What comes in and goes out: plans to come back."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from uvren.core.body import Side, Site
from uvren.core.returns import Looks, School
from uvren.services.return_.cases import Cases
from uvren.services.return_.reading import Returns
from uvren.services.return_.whole import ReturnWhole
from uvren.store.models import Besides, Mechanism, Onset, ReturnKind
from uvren.web.schemas import Answer, DayQuery, In, Number, Out, Ulid

Said = Annotated[str, Field(max_length=400)]


class TemplateOut(Out):
    code: str
    name: str
    stages: int
    refers: bool


class ReturnsOut(Answer[Returns]):
    """Everybody who comes back."""


class ReturnWholeOut(Answer[ReturnWhole]):
    """One plan to come back."""


class CasesOut(Answer[Cases]):
    """Injuries and illnesses of a squad, and how often they come."""


class CasesQuery(DayQuery):
    """Of the days up to ``day``, so many of them."""

    days: Annotated[int, Field(ge=28, le=1100)] = 365


class ReturnTemplatesOut(Out):
    """Templates of stages to begin from."""

    templates: list[TemplateOut]


class NewReturnIn(In):
    """A plan to come back; ``usual`` is the load of a usual week where it is not measured."""

    athlete_id: int
    kind: ReturnKind
    first_off: date | None = None
    first_day: date
    template: Annotated[str, Field(max_length=24)] = "blank"
    site: Site | None = None
    side: Side | None = None
    note: Said = ""
    onset: Onset | None = None
    mechanism: Mechanism | None = None
    target_day: date | None = None
    needed: Number = 100.0
    school: School = School.STANDARD
    usual: Number | None = None
    stage: int = 1
    replaces: Ulid | None = None


class BegunOut(Out):
    id: str


class SquadBreakIn(In):
    first_off: date
    first_day: date
    target_day: date | None = None
    school: School = School.STANDARD


class SquadBreakOut(Out):
    """The plans that were made, and who had one already."""

    made: list[str]
    left: list[str]


class TakePlansBackIn(In):
    """Plans that were begun today, to be as if they never had been."""

    plans: Annotated[list[Ulid], Field(max_length=200)]


class SaidIn(In):
    words: Said = ""


class StageIn(SaidIn):
    to: int
    version: int


class MeasuredIn(In):
    """What was measured: the hurt side and the other one, or a test and the own best."""

    criterion: Annotated[str, Field(max_length=24)]
    value: Number
    other: Number


class SummaryIn(In):
    """A summary for another clinic: for whom, and how and when the athlete agreed to it."""

    day: date
    to: Annotated[str, Field(max_length=160)]
    consent: Annotated[str, Field(max_length=240)]


class CriterionIn(In):
    """What has to hold; see :class:`uvren.core.returns.Criterion`."""

    key: Annotated[str, Field(pattern=r"^[a-z0-9_]{1,24}$")]
    looks: Looks
    name: Annotated[str, Field(max_length=80)]
    during: Number = 0.0
    after: Number = 0.0
    many: int = 0
    percent: Number = 0.0


class StageOfPlanIn(In):
    """A stage as it is to be; see :class:`uvren.core.returns.Stage`."""

    content: Annotated[str, Field(max_length=400)]
    criteria: Annotated[list[CriterionIn], Field(max_length=12)]
    entry: Annotated[list[CriterionIn], Field(max_length=12)]
    effort_cap: Number | None = None
    minutes_share: Number | None = None
    closed: bool = False


class StagesIn(SaidIn):
    """All stages of a plan, the one that holds among them."""

    stages: Annotated[list[StageOfPlanIn], Field(min_length=1, max_length=20)]
    version: int


class ReturnChangeIn(SaidIn):
    """Another date, or other steps, in per cent; without ``shares`` those of the school."""

    target_day: date | None = None
    needed: Number = 100.0
    school: School = School.STANDARD
    shares: Annotated[list[Number], Field(max_length=52)] | None = None
    usual: Number | None = None
    held: dict[Annotated[str, Field(max_length=40)], int] | None = None
    version: int


class MatchMinutesIn(In):
    session_id: Ulid
    minutes: Number | None


class PartOfMatchesIn(In):
    """Minutes of matches for one athlete; None is as many as everybody."""

    matches: Annotated[list[MatchMinutesIn], Field(max_length=20)]


class BesideIn(In):
    """How somebody takes part in a session without load; None is not at all."""

    session_id: Ulid
    how: Besides | None


class SignOffIn(In):
    allowed: bool

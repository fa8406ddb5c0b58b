"""What comes in and goes out: the week ahead."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from pydantic import Field

from uvren.services.week.compared import Compared
from uvren.services.week.reading import Changes, Week
from uvren.services.week.recovering import Recovering
from uvren.services.week.solving import Proposal
from uvren.services.week.spells import Spelled
from uvren.services.week.upkeep import Upkeep
from uvren.web.schemas import Answer, In, Number, Out, Ulid


class WeekOut(Answer[Week | None]):
    """Load against room for each person and day; null where nobody is in the squad."""


class SpellsOut(Out):
    spells: list[Spelled]


class RecoveringOut(Answer[Recovering]):
    """Heavy days that are too close to each other, and what holds of cold water."""


class UpkeepOut(Answer[Upkeep]):
    """People whose planned week is under what keeps them, and with more days with work than a rule holds."""


class ComparedOut(Answer[Compared | None]):
    """Weeks of the squad and people of the last one; null where nobody is in the squad."""


class SessionMinutesIn(In):
    """A session's minutes, and its day where that is another."""

    session_id: Ulid
    minutes: Number
    day: date | None = None


class OwnMinutesIn(In):
    """An athlete's minutes in a session; null for as many as it has."""

    athlete_id: int
    session_id: Ulid
    minutes: Number | None


class ChangesIn(In):
    sessions: Annotated[list[SessionMinutesIn], Field(max_length=100, default_factory=list)]
    own: Annotated[list[OwnMinutesIn], Field(max_length=5000, default_factory=list)]

    @property
    def tried(self) -> Changes:
        """As they are tried out: minutes that are as the session's are no change."""
        return Changes(
            {one.session_id: one.minutes for one in self.sessions},
            {(one.athlete_id, one.session_id): one.minutes for one in self.own if one.minutes is not None},
            {one.session_id: one.day for one in self.sessions if one.day is not None},
        )


class TriedIn(ChangesIn):
    day: date
    channel: Annotated[str, Field(max_length=40)] | None = None


class ProposalsOut(Out):
    proposals: list[Proposal]


class WeekPlanIn(ChangesIn):
    day: date
    edition: Annotated[str, Field(max_length=64)]


class SessionMinutesOut(Out):
    session_id: str
    minutes: float
    day: date


class OwnMinutesOut(Out):
    athlete_id: int
    session_id: str
    minutes: float | None


class PlannedWeekOut(Out):
    """The plan's new edition, and what to send to have it as it was."""

    edition: str
    sessions: list[SessionMinutesOut]
    own: list[OwnMinutesOut]

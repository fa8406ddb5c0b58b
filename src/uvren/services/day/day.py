"""The one day of a squad: its desks, what the rules found, how everyone stands, and the room that leaves them.

Lanes, evidence, the coach's sheet, an athlete's own page, the session's grid and the exports all read this.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from functools import cached_property
from typing import Any

from sqlalchemy.orm import Session as DbSession

from uvren.core.day import Facts, Standing, weighed
from uvren.core.notices import Notice, notices_for
from uvren.services.day.desk import SquadDesk, open_desks
from uvren.services.errors import NotFound
from uvren.store import queries
from uvren.store.models import Call, Squad
from uvren.store.queries.squad import Member

# What the overtraining screen has to be about for no more work to be proposed.
NO_MORE = ("suspect", "rest", "trial")
# How far back a call can answer what is found today.
ANSWER_DAYS = 14


@dataclass(frozen=True)
class Day:
    """A squad, or some of it, as of a morning. ``desks`` has the main channel first; ``found`` by desk and row.

    ``standing`` is how each row stands today, with everything counted. ``calls`` are those of the day, with who made
    them, and ``answered`` what the last call of each athlete has answered: severity by key, by channel. ``kept`` is
    for whoever works something out from it and wants to find it again.
    """

    as_of: date
    desks: list[SquadDesk]
    found: list[list[list[Notice]]]
    standing: list[Standing]
    calls: Mapping[int, tuple[Call, str]]
    answered: Mapping[int, Mapping[str, Mapping[str, str]]]
    kept: dict[Any, Any] = field(default_factory=dict, compare=False, repr=False)

    @property
    def members(self) -> list[Member]:
        return self.desks[0].members

    @property
    def main(self) -> SquadDesk:
        return self.desks[0]

    @property
    def facts(self) -> Facts:
        facts = self.main.desk.facts
        assert facts is not None
        return facts

    @cached_property
    def before(self) -> list[list[set[str]]]:
        """The keys of what stood on the morning before, by desk and row; empty on the first day."""
        return [
            [{notice.key for notice in notices} for notices in notices_for(opened.desk.before(), lasting=True)]
            if opened.desk.today > 0
            else []
            for opened in self.desks
        ]

    def shown_first(self, channel: str | None) -> list[int]:
        """The places of the desks with the one of a channel first; raises NotFound where it cannot be shown."""
        order = list(range(len(self.desks)))
        if channel is None:
            return order
        at = next((i for i in order if self.desks[i].channel.code == channel), None)
        if at is None:
            raise NotFound("This channel has no limits on that day, so there is no room to show.", field="channel")
        return [at, *(i for i in order if i != at)]


@dataclass(frozen=True)
class Part:
    """Where somebody stands in a day."""

    day: Day
    row: int

    @property
    def standing(self) -> Standing:
        return self.day.standing[self.row]

    @property
    def leans(self) -> bool:
        """Whether something of it rests on what the others did."""
        return any(bool(opened.leans[self.row]) for opened in self.day.desks)


def read_day(db: DbSession, squad: Squad, as_of: date, today: date, only: Collection[int] | None = None) -> Day | None:
    """The squad, or ``only`` some of it, on the morning of a day; None where there is nobody."""
    desks = open_desks(db, squad, as_of, today, only, with_facts=True)
    if not desks:
        return None
    found = [notices_for(opened.desk) for opened in desks]
    return Day(
        as_of,
        desks,
        found,
        _screened(desks[0].standing, found[0]),
        queries.morning.calls_on(db, squad.id, as_of),
        _answered(db, squad, as_of),
    )


def _screened(standing: Sequence[Standing], found: Sequence[Sequence[Notice]]) -> list[Standing]:
    return [
        weighed(replace(one.given, screen=True)) if stops(notices) else one
        for one, notices in zip(standing, found, strict=True)
    ]


def stops(notices: Sequence[Notice]) -> bool:
    """Whether the overtraining screen lets no more work be proposed."""
    return any(notice.code == "overtraining" and notice.about in NO_MORE for notice in notices)


def _answered(db: DbSession, squad: Squad, as_of: date) -> dict[int, dict[str, dict[str, str]]]:
    """What the last call of each athlete has answered. A due review answers no more."""
    out: dict[int, dict[str, dict[str, str]]] = {}
    calls = queries.morning.calls_between(db, squad.id, as_of - timedelta(days=ANSWER_DAYS), as_of)
    for (athlete, day), call in sorted(calls.items(), key=lambda item: item[0][1]):
        due = call.review_on is not None and call.review_on <= as_of and day < as_of
        out[athlete] = {} if due else call.about
    return out


def parts_of(day: Day | None) -> dict[int, Part]:
    """Where each stands in it, by athlete, in the order of its rows."""
    return {} if day is None else {member.athlete_id: Part(day, row) for row, member in enumerate(day.members)}

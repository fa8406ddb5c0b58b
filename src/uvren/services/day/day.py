"""The one day of a squad: its desks, what the rules found, how everyone stands, and the room that leaves them.

Lanes, evidence, the coach's sheet, an athlete's own page, the session's grid and the exports all read this.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date

from sqlalchemy.orm import Session as DbSession

from uvren.core.day import Facts, Standing, weighed
from uvren.core.notices import Notice, notices_for
from uvren.services.day.desk import SquadDesk, open_desks
from uvren.services.day.standing import standings
from uvren.services.day.tuning import tuning
from uvren.services.errors import NotFound
from uvren.store import queries
from uvren.store.models import Squad

# What the overtraining screen has to be about for no more work to be proposed.
NO_MORE = ("suspect", "rest", "trial")


@dataclass(frozen=True)
class Day:
    """A squad as of a morning. ``desks`` has the channel shown first; ``found`` its notices, by desk and row.

    ``standing`` is how each row stands today, with everything counted.
    """

    as_of: date
    desks: list[SquadDesk]
    found: list[list[list[Notice]]]
    standing: list[Standing]

    @property
    def main(self) -> SquadDesk:
        return next(opened for opened in self.desks if opened.desk.main)

    @property
    def facts(self) -> Facts:
        facts = self.main.desk.facts
        assert facts is not None
        return facts


def read_day(
    db: DbSession, squad: Squad, as_of: date, today: date, only: int | None = None, channel: str | None = None
) -> Day | None:
    """The squad, or ``only`` one of it, on the morning of a day; None where there is nobody.

    The main channel is shown unless ``channel`` names another. Raises NotFound for one that cannot be shown.
    """
    desks = open_desks(db, squad, as_of, today, only, with_facts=True)
    if not desks:
        return None
    if channel is not None:
        if channel not in {opened.channel.code for opened in desks}:
            raise NotFound("This channel has no limits on that day, so there is no room to show.", field="channel")
        desks = sorted(desks, key=lambda opened: opened.channel.code != channel)
    found = [notices_for(opened.desk) for opened in desks]
    at_main = next(i for i, opened in enumerate(desks) if opened.desk.main)
    return Day(as_of, desks, found, _screened(desks[at_main].standing, found[at_main]))


def _screened(standing: Sequence[Standing], found: Sequence[Sequence[Notice]]) -> list[Standing]:
    return [
        weighed(replace(one.given, screen=True)) if stops(notices) else one
        for one, notices in zip(standing, found, strict=True)
    ]


def stops(notices: Sequence[Notice]) -> bool:
    """Whether the overtraining screen lets no more work be proposed."""
    return any(notice.code == "overtraining" and notice.about in NO_MORE for notice in notices)


def standing_on(db: DbSession, squad: Squad, day: date, today: date) -> dict[int, Standing]:
    """How each athlete stands on a day. Of a day gone by, without what the rules would have found then."""
    if day >= today:
        found = read_day(db, squad, day, today)
        if found is None:
            return {}
        athletes = [member.athlete_id for member in found.main.members]
        return dict(zip(athletes, found.standing, strict=True))
    members = queries.members(db, squad.id, day)
    said = standings(db, squad, members, day, day, day, tuning(db, squad, members, day))
    return {athlete: one for (athlete, _), one in said.items()}

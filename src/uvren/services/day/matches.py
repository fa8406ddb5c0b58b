"""What matches asked of each position and of each person, read from those that were played."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.demands import Reference, own_references, references
from uvren.core.windows import Floats
from uvren.services.day.loads import Done, channel_loads, definitions_of
from uvren.store import queries
from uvren.store.models import Channel, SessionKind, Squad

# So far back matches say what one is.
SEASON_DAYS = 120
# With fewer parts in matches a position is measured by everybody's.
ENOUGH = 3


@dataclass(frozen=True)
class Played:
    """Parts in matches, a row each: whose, in which, the share of the match that was played, and its loads.

    ``load`` has a column for each channel, nan where it is not known; ``minutes`` were played.
    """

    session_id: list[str]
    athlete: list[int]
    position: list[str]
    share: Floats
    load: Floats
    minutes: Floats

    def of_position(self) -> dict[str, Reference]:
        """What a match is, by position, and under ``""`` for everybody."""
        return references(self.position, self.share, self.load, self.minutes)

    def own(self) -> dict[int, Reference]:
        """What a match is for those who have played enough of them."""
        return own_references(self.athlete, self.share, self.load, self.minutes)

    def measure(self) -> Measure:
        return Measure(self.own(), self.of_position(), len(set(self.session_id)))


@dataclass(frozen=True)
class Measure:
    """What a match is to each: their own, else that of the position, else everybody's. ``matches`` tell it."""

    own: Mapping[int, Reference]
    of_position: Mapping[str, Reference]
    matches: int

    def known(self, position: str) -> Reference | None:
        """A position's, where enough parts in matches tell it."""
        found = self.of_position.get(position)
        return found if found is not None and found.n >= ENOUGH else None

    def of(self, athlete: int, position: str) -> tuple[Reference | None, str]:
        """What somebody is measured by, and whose it is."""
        if athlete in self.own:
            return self.own[athlete], "own"
        known = self.known(position)
        return (known, "position") if known is not None else (self.of_position.get(""), "everybody")


def season_until(db: DbSession, squad: Squad, last: date) -> Done:
    """What was done in the days in which matches say what one is."""
    return Done(db, squad.id, last - timedelta(days=SEASON_DAYS), last)


def read_played(
    db: DbSession, squad: Squad, channels: Sequence[Channel], position: Mapping[int, str], done: Done, last: date
) -> Played:
    """Of the people with a ``position``, what they had of the matches in ``done`` up to ``last``."""
    sessions = queries.session.sessions_between(db, squad.id, done.first, last)
    whole = {one.id: max(one.planned_minutes, 1.0) for one in sessions if one.kind is SessionKind.MATCH}
    entries = done.entries
    mine = [
        i
        for i in np.flatnonzero(np.nan_to_num(entries.minutes) > 0)
        if entries.session_id[i] in whole and int(entries.athlete[i]) in position
    ]
    load = np.full((len(mine), len(channels)), np.nan)
    for i, channel in enumerate(channels):
        found = channel_loads(done, channel.code, definitions_of(channel))
        load[:, i] = np.where(found.expected, found.filled.load, np.nan)[mine]
    session = [entries.session_id[i] for i in mine]
    athlete = [int(entries.athlete[i]) for i in mine]
    share = entries.minutes[mine] / np.array([whole[one] for one in session])
    return Played(session, athlete, [position[one] for one in athlete], share, load, entries.minutes[mine])


def main_measure(db: DbSession, squad: Squad, position: Mapping[int, str], day: date) -> Measure:
    """What a match is on the main channel, by the matches before a day."""
    main = [one for one in queries.squad.channels(db, squad.id) if one.is_main]
    return read_played(db, squad, main, position, season_until(db, squad, day), day - timedelta(days=1)).measure()

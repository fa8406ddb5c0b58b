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


@dataclass(frozen=True)
class Played:
    """Parts in matches, a row each: whose, in which, the share of the match that was played, and its loads.

    ``load`` has a column for each channel, nan where it is not known.
    """

    session_id: list[str]
    athlete: list[int]
    position: list[str]
    share: Floats
    load: Floats

    def of_position(self) -> dict[str, Reference]:
        """What a match is, by position, and under ``""`` for everybody."""
        return references(self.position, self.share, self.load)

    def own(self) -> dict[int, Reference]:
        """What a match is for those who have played enough of them."""
        return own_references(self.athlete, self.share, self.load)


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
    return Played(session, athlete, [position[one] for one in athlete], share, load)

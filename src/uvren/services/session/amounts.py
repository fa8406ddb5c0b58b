"""What each had of a session by channel, or is to have of one to come."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.services.day.desk import open_desks
from uvren.services.day.loads import KNOWN, Done, channel_loads, definitions_of
from uvren.store.models import Channel, Session, Squad


@dataclass(frozen=True)
class Had:
    """One athlete's minutes and load by channel; a channel that is not known is not there.

    ``estimated`` are the channels of which the load was not said or measured.
    """

    minutes: float
    load: Mapping[str, float] = field(default_factory=dict)
    estimated: frozenset[str] = frozenset()


def had_of(done: Done, session: Session, channels: Sequence[Channel]) -> dict[int, Had]:
    """What each had of a session that was done, by athlete; of no minutes, nothing."""
    mine = [i for i, key in enumerate(done.entries.session_id) if key == session.id]
    each = [(one.code, channel_loads(done, one.code, definitions_of(one))) for one in channels]
    out = {}
    for i in mine:
        minutes = float(np.nan_to_num(done.entries.minutes[i]))
        known = {code: found.filled for code, found in each if found.expected[i] and not np.isnan(found.filled.load[i])}
        if minutes > 0:
            out[int(done.entries.athlete[i])] = Had(
                minutes,
                {code: float(filled.load[i]) for code, filled in known.items()},
                frozenset(code for code, filled in known.items() if filled.origin[i] not in KNOWN),
            )
    return out


def planned_of(db: DbSession, squad: Squad, session: Session, today: date) -> dict[int, Had]:
    """What each is to have of a session to come, by what stands of the plan and by the usual rate of such work."""
    desks = open_desks(db, squad, session.day, today)
    load: dict[int, dict[str, float]] = {}
    minutes: dict[int, float] = {}
    for one in desks:
        mine = [i for i, key in enumerate(one.plan.session) if key == session.id]
        items = one.plan.items(one.channel.code, one.definition, one.rate)
        for i in mine:
            athlete = one.members[int(one.plan.row[i])].athlete_id
            minutes[athlete] = float(one.plan.minutes[i] * one.plan.share[i])
            load.setdefault(athlete, {})[one.channel.code] = float(items[i])
    return {
        athlete: Had(minutes[athlete], found, frozenset(found)) for athlete, found in load.items() if minutes[athlete]
    }

"""Drill by drill: what somebody who comes back does of each part of training, against their own weeks before."""

from __future__ import annotations

import re
from collections import defaultdict
from dataclasses import dataclass
from datetime import date, timedelta

from sqlalchemy.orm import Session as DbSession

from uvren.core.returns.ramp import REFERENCE_DAYS
from uvren.services.day.people import folded
from uvren.store import queries
from uvren.store.models import Segment, Squad

WEEK_DAYS = 7
_PATTERN = re.compile(r", \d+ s on, \d+ s off$")


def plain_name(name: str) -> str:
    """The name of a part without how it is to be done."""
    return _PATTERN.sub("", name)


def code_of(part: Segment) -> str:
    """What a part's name comes to, however it is written and whatever its pattern."""
    return folded(plain_name(part.name))


@dataclass(frozen=True)
class OwnDrill:
    """Minutes of a drill in the last seven days, and in a usual week before the break."""

    name: str
    done: float
    usual: float


def own_drills(db: DbSession, squad: Squad, athlete_id: int, first_off: date, today: date) -> list[OwnDrill]:
    """Every drill of the four weeks before the break and of the last seven days, those that were usual first.

    Somebody who did part of a session did that much of each of its parts: which of them is not known.
    """
    usual = _minutes(db, squad, athlete_id, first_off - timedelta(days=REFERENCE_DAYS), first_off - timedelta(days=1))
    done = _minutes(db, squad, athlete_id, today - timedelta(days=WEEK_DAYS), today - timedelta(days=1))
    weeks = REFERENCE_DAYS / WEEK_DAYS
    names = {code: name for code, (name, _) in (usual | done).items()}
    found = [
        OwnDrill(name, round(done.get(code, ("", 0.0))[1], 1), round(usual.get(code, ("", 0.0))[1] / weeks, 1))
        for code, name in names.items()
    ]
    return sorted(found, key=lambda one: (-one.usual, -one.done, one.name))


def _minutes(db: DbSession, squad: Squad, athlete_id: int, first: date, last: date) -> dict[str, tuple[str, float]]:
    """(name as written last, minutes) of each drill that somebody did on these days."""
    sessions = [one for one in queries.session.sessions_between(db, squad.id, first, last) if one.done and one.segments]
    own = queries.session.minutes_of(db, athlete_id, [one.id for one in sessions])
    names: dict[str, str] = {}
    minutes: dict[str, float] = defaultdict(float)
    for session in sessions:
        whole = sum(part.minutes for part in session.segments)
        share = min(own.get(session.id, 0.0) / whole, 1.0) if whole > 0 else 0.0
        for part in session.segments:
            if share > 0:
                names[code_of(part)] = plain_name(part.name)
                minutes[code_of(part)] += part.minutes * share
    return {code: (name, minutes[code]) for code, name in names.items()}

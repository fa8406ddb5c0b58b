"""Taking part without load: what somebody who is out can do with the squad, and what is said of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime

from sqlalchemy.orm import Session as DbSession

from uvren.store import queries
from uvren.store.models import Besides, Squad

SAID: Mapping[Besides, str] = {
    Besides.WATCH: "watches",
    Besides.TACTICS: "joins the tactics",
    Besides.WALK: "walks through it",
}
YOURS: Mapping[Besides, str] = {
    Besides.WATCH: "you watch",
    Besides.TACTICS: "you join the tactics",
    Besides.WALK: "you walk through it",
}


@dataclass(frozen=True)
class BesideSession:
    """A session that somebody may take part in without load; ``how`` None where they do not. ``done`` is past."""

    session_id: str
    name: str
    day: date
    starts_at: datetime
    how: Besides | None
    done: bool


def beside_between(db: DbSession, squad: Squad, athlete_id: int, first: date, last: date) -> list[BesideSession]:
    """The squad's sessions of these days: those to come, and those that somebody took part in so."""
    sessions = queries.session.sessions_between(db, squad.id, first, last)
    how = queries.session.beside_of(db, [one.id for one in sessions])
    found = [
        BesideSession(one.id, one.name, one.day, one.starts_at, how.get((one.id, athlete_id)), one.done)
        for one in sessions
        if one.called_off is None
    ]
    return [one for one in found if one.how is not None or not one.done]


def beside_on(db: DbSession, squad: Squad, day: date) -> dict[int, list[str]]:
    """What is said of each athlete who takes part in a session of a day without load, such as ``watches``."""
    sessions = queries.session.sessions_between(db, squad.id, day, day)
    out: dict[int, list[str]] = {}
    for (session, athlete), how in queries.session.beside_of(db, [one.id for one in sessions]).items():
        name = next(one.name for one in sessions if one.id == session)
        said = SAID[how] if len(sessions) == 1 else f"{SAID[how]} ({name})"
        out.setdefault(athlete, []).append(said)
    return out

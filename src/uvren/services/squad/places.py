"""Places where sessions are held."""

from __future__ import annotations

from datetime import date

from sqlalchemy.orm import Session as DbSession

from uvren.services.day.loads import definition_on, definitions_of, refresh_daily_loads
from uvren.services.day.people import folded
from uvren.services.errors import Invalid, NotFound
from uvren.store import queries
from uvren.store.models import Place, Session, Squad


def add_place(db: DbSession, squad: Squad, name: str) -> Place:
    """Raises Invalid for a name that is empty or taken."""
    name = name.strip()
    if not name:
        raise Invalid("A place has a name.", field="name")
    queries.squad.hold(db, squad.id)
    if any(folded(place.name) == folded(name) for place in queries.squad.places(db, squad.id)):
        raise Invalid("This place is there already.", field="name")
    place = Place(squad_id=squad.id, name=name)
    db.add(place)
    db.flush()
    return place


def place_factors(db: DbSession, squad: Squad, day: date) -> dict[str, float]:
    """What the same minutes come to on the main channel in each place on a day, 1 being the usual one."""
    definition = definition_on(definitions_of(queries.squad.main_channel(db, squad.id)), day)
    names = [place.name for place in queries.squad.places(db, squad.id)]
    factors = [1.0] * len(names) if definition is None else definition.form.factor(names).tolist()
    return dict(zip(names, factors, strict=True))


def remove_place(db: DbSession, squad: Squad, place_id: int) -> None:
    """Take a place off the list; sessions that were there keep its name, and factors keep theirs."""
    place = db.get(Place, place_id)
    if place is None or place.squad_id != squad.id:
        raise NotFound("There is no such place.")
    db.delete(place)
    db.flush()


def set_place(db: DbSession, squad: Squad, session: Session, name: str | None) -> None:
    """Say where a session was; the loads of channels with place factors follow. Does not commit. Raises Invalid."""
    if name is not None and name not in {place.name for place in queries.squad.places(db, squad.id)}:
        raise Invalid("This place is not on the squad's list.", field="place")
    session.place = name
    db.flush()
    if session.done:
        people = queries.session.people_in(db, session.id)
        refresh_daily_loads(db, squad.id, {(athlete, session.day) for athlete in people})

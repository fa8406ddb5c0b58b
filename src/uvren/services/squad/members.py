"""The athletes of a squad: joining, changing position or number from a day on, and leaving."""

from __future__ import annotations

from datetime import date, timedelta

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.services.club import audit
from uvren.services.errors import Invalid, NotFound
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Athlete, Membership, Squad


def join(
    db: DbSession, squad: Squad, name: str, number: int | None, position: str, from_day: date, *, stamp: Stamp
) -> Membership:
    """A new athlete, in the squad from a day on. Does not commit. Raises Invalid."""
    name, position = name.strip(), position.strip()
    if not name:
        raise Invalid("An athlete has a name.", field="name")
    if not position:
        raise Invalid("Say the position; limits can hold for one.", field="position")
    athlete = queries.squad.athlete_named(db, squad.club_id, name)
    if athlete is None:
        athlete = Athlete(club_id=squad.club_id, name=name)
        db.add(athlete)
        db.flush()
    elif queries.squad.standing_membership(db, squad.id, athlete.id):
        raise Invalid("Someone of this name is in the squad already.", field="name")
    made = Membership(squad_id=squad.id, athlete_id=athlete.id, number=number, position=position, from_day=from_day,
                      to_day=None)  # fmt: skip
    db.add(made)
    audit.note(db, "member_joined", f"athlete:{athlete.id}", stamp=stamp, squad_id=squad.id, athlete_id=athlete.id)
    db.flush()
    return made


def change(
    db: DbSession,
    squad: Squad,
    athlete_id: int,
    number: int | None,
    position: str,
    from_day: date,
    *,
    stamp: Stamp,
) -> Membership:
    """Another position or number from a day on; days before keep theirs. Does not commit. Raises Invalid, NotFound."""
    standing = queries.squad.standing_membership(db, squad.id, athlete_id)
    if standing is None:
        raise NotFound("This athlete is not in the squad.")
    if not position.strip():
        raise Invalid("Say the position; limits can hold for one.", field="position")
    if from_day < standing.from_day:
        raise Invalid(f"What stands now holds from {say.day(standing.from_day)}; choose that day or a later one.",
                      field="from_day")  # fmt: skip
    audit.note(db, "member_changed", f"athlete:{athlete_id}", stamp=stamp, squad_id=squad.id, athlete_id=athlete_id,
               before=standing.position, after=position.strip(), from_day=str(from_day))  # fmt: skip
    if from_day > standing.from_day:
        standing.to_day = from_day - timedelta(days=1)
        standing = Membership(squad_id=squad.id, athlete_id=athlete_id, from_day=from_day, to_day=None)
        db.add(standing)
    standing.number, standing.position = number, position.strip()
    db.flush()
    return standing


def leave(db: DbSession, squad: Squad, athlete_id: int, to_day: date, *, stamp: Stamp) -> None:
    """Let a day be the athlete's last one in the squad. Does not commit. Raises Invalid, NotFound."""
    standing = queries.squad.standing_membership(db, squad.id, athlete_id)
    if standing is None:
        raise NotFound("This athlete is not in the squad.")
    if to_day < standing.from_day:
        raise Invalid(f"They joined on {say.day(standing.from_day)}.", field="to_day")
    standing.to_day = to_day
    audit.note(db, "member_left", f"athlete:{athlete_id}", stamp=stamp, squad_id=squad.id, athlete_id=athlete_id,
               to_day=str(to_day))  # fmt: skip
    db.flush()

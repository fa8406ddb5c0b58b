"""The athletes of a squad: joining, changing position or number from a day on, and leaving."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from itertools import groupby

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.services.club import audit
from uvren.services.club.permissions import Action, Person
from uvren.services.errors import Invalid, NotFound
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import Athlete, Membership, Squad


def join(
    db: DbSession,
    squad: Squad,
    name: str,
    number: int | None,
    position: str,
    from_day: date,
    *,
    namesake: bool = False,
    birth_year: int | None = None,
    stamp: Stamp,
) -> Membership:
    """A new person, in the squad from a day on. Does not commit. Raises Invalid.

    Nobody is taken for somebody of the same name; who stands in the squad under it already asks whether it is another
    person (``namesake``).
    """
    name, position = name.strip(), position.strip()
    if not name:
        raise Invalid("An athlete has a name.", field="name")
    queries.squad.hold(db, squad.id)
    there = {one.athlete.name.casefold() for one in queries.squad.memberships(db, squad.id, from_day)}
    if name.casefold() in there and not namesake:
        raise Invalid("Someone of this name is in the squad already. Say so if this is another person.", field="name",
                      extra={"namesake": True})  # fmt: skip
    athlete = Athlete(club_id=squad.club_id, name=name, birth_year=birth_year)
    db.add(athlete)
    db.flush()
    return _joined(db, squad, athlete.id, number, position, from_day, stamp)


def join_known(
    db: DbSession,
    squad: Squad,
    athlete_id: int,
    number: int | None,
    position: str,
    from_day: date,
    *,
    person: Person,
    now: datetime,
) -> Membership:
    """Somebody of the club, in this squad from a day on; their whole record is read in it then. Does not commit.

    Who was in the squad before can be taken back by who may change its people; anybody else is chosen by an
    administrator of the club. Raises Invalid, NotFound, NotAllowed.
    """
    athlete = db.get(Athlete, athlete_id)
    if athlete is None or athlete.club_id != squad.club_id:
        raise NotFound("There is no such athlete in this club.")
    if not person.club_admin and athlete_id not in queries.squad.members_ever(db, squad.id):
        # Whether there is such a person is the club's to know.
        raise NotFound("There is no such athlete in this club.")
    queries.squad.hold(db, squad.id)
    last = queries.squad.last_membership(db, squad.id, athlete_id)
    if last is not None and (last.to_day is None or last.to_day >= from_day):
        raise Invalid(f"{athlete.name} is in the squad on that day already.", field="from_day")
    return _joined(db, squad, athlete_id, number, position.strip(), from_day, Stamp(person.user_id, now))


def _joined(
    db: DbSession, squad: Squad, athlete_id: int, number: int | None, position: str, from_day: date, stamp: Stamp
) -> Membership:
    if not position:
        raise Invalid("Say the position; limits can hold for one.", field="position")
    made = Membership(squad_id=squad.id, athlete_id=athlete_id, number=number, position=position, from_day=from_day,
                      to_day=None)  # fmt: skip
    db.add(made)
    audit.note(db, "member_joined", f"athlete:{athlete_id}", stamp=stamp, squad_id=squad.id, athlete_id=athlete_id)
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


def correct(
    db: DbSession, squad: Squad, athlete_id: int, name: str, from_day: date, *, person: Person, now: datetime
) -> None:
    """Another name, and another first day of the span in the squad that holds now. Does not commit.

    The name is the person's in every squad of theirs. The first day can go back, up to the end of a span before, and
    forward as far as nothing was entered. Raises NotFound, NotAllowed, and Invalid with the field.
    """
    queries.squad.hold(db, squad.id)
    spans = queries.squad.memberships_of(db, squad.id, athlete_id)
    if not spans or spans[-1].to_day is not None:
        raise NotFound("This athlete is not in the squad.")
    athlete, name = db.get_one(Athlete, athlete_id), name.strip()
    if not name:
        raise Invalid("An athlete has a name.", field="name")
    if name != athlete.name:
        must_everywhere(db, squad, athlete_id, person, Action.INVITE)
    first = _begins(spans)
    span = spans[first]
    if first and from_day <= (spans[first - 1].to_day or from_day):
        raise Invalid(f"They were in the squad until {say.day(spans[first - 1].to_day or from_day)} before; choose a "
                      "later day.", field="from_day")  # fmt: skip
    if span.to_day is not None and from_day > span.to_day:
        raise Invalid(f"Their position changed after {say.day(span.to_day)}; choose that day or an earlier one.",
                      field="from_day")  # fmt: skip
    entered = queries.session.first_day_of(db, squad.id, athlete_id, span.from_day)
    if entered is not None and from_day > entered:
        raise Invalid(f"Something was entered for them on {say.day(entered)}.", field="from_day")
    stamp = Stamp(person.user_id, now)
    audit.note(db, "member_corrected", f"athlete:{athlete_id}", stamp=stamp, squad_id=squad.id, athlete_id=athlete_id,
               renamed=name != athlete.name, from_day=str(from_day), before=str(span.from_day))  # fmt: skip
    athlete.name, span.from_day = name, from_day
    db.flush()


def _begins(spans: Sequence[Membership]) -> int:
    """Where the last span without a gap begins: a changed position is a row of its own, from the day after."""
    first = len(spans) - 1
    while first and spans[first - 1].to_day == spans[first].from_day - timedelta(days=1):
        first -= 1
    return first


def since(db: DbSession, squad: Squad) -> dict[int, date]:
    """The day from which on everybody is in the squad without a gap, or was last."""
    rows = queries.squad.memberships_of(db, squad.id, None)
    return {
        athlete: (own := list(spans))[_begins(own)].from_day
        for athlete, spans in groupby(sorted(rows, key=lambda one: one.athlete_id), key=lambda one: one.athlete_id)
    }


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


@dataclass(frozen=True)
class KnownPerson:
    """Somebody who can be taken into a squad, with the squads that tell namesakes apart."""

    athlete_id: int
    name: str
    squads: list[str]


def known(db: DbSession, squad: Squad, person: Person, today: date) -> list[KnownPerson]:
    """Who left the squad; for an administrator of the club everybody of it who is not in the squad."""
    if not person.club_admin:
        return [KnownPerson(one.id, one.name, [squad.name]) for one in queries.squad.left(db, squad.id, today)]
    inside = {one.athlete_id for one in queries.squad.memberships(db, squad.id, today)}
    found: dict[int, KnownPerson] = {}
    for athlete, name, of in queries.club.athletes_of(db, squad.club_id):
        if athlete not in inside:
            found.setdefault(athlete, KnownPerson(athlete, name, [])).squads.append(of)
    return list(found.values())


def must_everywhere(
    db: DbSession, squad: Squad, athlete_id: int, person: Person, action: Action, day: date | None = None
) -> None:
    """For what is the whole person's: one may do it in every squad of theirs, on a day and later, or ever.

    Raises NotFound for who was never in this squad, NotAllowed.
    """
    if athlete_id not in queries.squad.members_ever(db, squad.id):
        raise NotFound("There is no such athlete in this squad.")
    person.must_everywhere(action, queries.club.squads_of_athlete(db, athlete_id, day) | {squad.id})

"""Many people at once: looked at before they come in, and told apart where a name is repeated."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from sqlalchemy.orm import Session as DbSession

from uvren.files.errors import BadFile
from uvren.files.roster import MOST_PEOPLE, Pasted, read_people
from uvren.services.day.people import folded
from uvren.services.errors import Invalid
from uvren.services.squad import anchors, members
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import AnchorKind, Membership, Squad


@dataclass(frozen=True)
class Looked:
    """A pasted line, and whether its name stands in the squad already or more than once in what was pasted."""

    pasted: Pasted
    there: bool
    repeated: bool


@dataclass(frozen=True)
class Comer:
    """Somebody who comes in. ``namesake`` says that it is another person than who has the name already."""

    name: str
    number: int | None
    position: str
    from_day: date
    side: str | None = None
    namesake: bool = False
    birth_year: int | None = None


def look(db: DbSession, squad: Squad, text: str, today: date) -> list[Looked]:
    """What would come in. Raises Invalid."""
    try:
        found = read_people(text)
    except BadFile as error:
        raise Invalid(str(error), field="text") from error
    there = {folded(one.athlete.name) for one in queries.squad.memberships(db, squad.id, today)}
    count = Counter(folded(one.name) for one in found)
    return [Looked(one, folded(one.name) in there, count[folded(one.name)] > 1) for one in found]


def bring_in(
    db: DbSession, squad: Squad, comers: Sequence[Comer], *, sides: bool, stamp: Stamp, today: date
) -> list[Membership]:
    """All of them, or nobody. Does not commit. Raises Invalid with the field at fault, as ``people.3.name``.

    ``sides`` says that the dominant side is set too, by who may.
    """
    if not 1 <= len(comers) <= MOST_PEOPLE:
        raise Invalid(f"1 to {MOST_PEOPLE} people at once.", field="people")
    made = []
    for i, one in enumerate(comers):
        try:
            member = members.join(
                db, squad, one.name, one.number, one.position, one.from_day, namesake=one.namesake,
                birth_year=one.birth_year, stamp=stamp,
            )  # fmt: skip
        except Invalid as error:
            raise Invalid(str(error), field=f"people.{i}.{error.field}", extra=error.extra) from error
        if sides and one.side is not None and one.from_day <= today:
            side = anchors.NewAnchor(member.athlete_id, AnchorKind.DOMINANT_SIDE, None, one.side, one.from_day)
            anchors.set_anchor(db, squad, side, stamp=stamp, today=today)
        made.append(member)
    return made

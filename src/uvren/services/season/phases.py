"""The phases of a squad's season: read, and written as a whole."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date

from sqlalchemy.orm import Session as DbSession

from uvren.core import season
from uvren.core.errors import BadSeason
from uvren.core.season import Phase
from uvren.services.club import audit
from uvren.services.errors import Invalid
from uvren.services.stamp import Stamp
from uvren.services.versions import Whatever, check_seen
from uvren.store import queries
from uvren.store.models import SeasonPhase, Squad
from uvren.store.types import new_ulid

MOST, LONGEST_NAME = 60, 60


@dataclass(frozen=True)
class Season:
    """Phases by their days; ``edition`` is the version to send with a change, None where nothing was said yet."""

    phases: list[Phase]
    edition: str | None
    standing: season.Standing | None
    next: Phase | None


def read(db: DbSession, squad: Squad, day: date) -> Season:
    """The squad's season, and where a day is in it."""
    rows = queries.season.phases(db, squad.id)
    phases = [Phase(row.kind, row.name, row.first_day, row.last_day) for row in rows]
    edition = rows[0].edition if rows else None
    return Season(phases, edition, season.standing_on(phases, day), season.next_after(phases, day))


def save(
    db: DbSession, squad: Squad, phases: Sequence[Phase], *, edition: str | Whatever | None, stamp: Stamp
) -> str | None:
    """Let these be the squad's phases instead of those there are; returns their edition. Does not commit.

    Raises Invalid, Stale.

    A phase without a name is called by its kind. ``field`` of what is raised is such as ``phases.2.last``.
    """
    there = queries.season.phases(db, squad.id)
    check_seen(
        edition,
        there[0].edition if there else None,
        "The season was changed meanwhile.",
        yours={"phases": len(phases)},
        theirs={"phases": len(there)},
    )
    if len(phases) > MOST:
        raise Invalid(f"A squad has up to {MOST} phases.", field="phases")
    called = [replace(phase, name=phase.name.strip() or phase.kind.capitalize()) for phase in phases]
    for i, phase in enumerate(called):
        if len(phase.name) > LONGEST_NAME:
            raise Invalid(f"A name has up to {LONGEST_NAME} characters.", field=f"phases.{i}.name")
    try:
        order = season.in_order(called)
    except BadSeason as error:
        raise Invalid(str(error), field=f"phases.{error.field}") from error
    queries.season.clear(db, squad.id)
    new = new_ulid()
    db.add_all(
        SeasonPhase(
            squad_id=squad.id, edition=new, kind=phase.kind, name=phase.name, first_day=phase.first,
            last_day=phase.last, set_by=stamp.by, set_at=stamp.now,
        )
        for phase in order
    )  # fmt: skip
    audit.note(db, "season_set", f"squad:{squad.id}", stamp=stamp, squad_id=squad.id, phases=len(order))
    db.flush()
    return new if order else None

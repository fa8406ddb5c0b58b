"""One session's grid: who did what in it."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from uvren.core.plan.mix import OPEN_CONTACT
from uvren.core.ratings import Origin
from uvren.services.club.permissions import Action
from uvren.services.day.beside import SAID
from uvren.services.session import entries, sessions
from uvren.store.models import Squad
from uvren.web import context
from uvren.web.schemas import DayQuery
from uvren.web.session import sessions_schemas as schemas

blueprint = APIBlueprint("session", __name__, url_prefix="/api/squads/<slug>/sessions")


def grid_out(grid: sessions.Grid, squad: Squad) -> dict[str, Any]:
    session = grid.session
    words = context.person().may(Action.READ_WORDS, squad.id)
    return {
        "id": session.id,
        "day": session.day,
        "starts_at": session.starts_at,
        "kind": session.kind,
        "title": session.title,
        "opponent": session.opponent,
        "venue": session.venue,
        "place": session.place,
        "planned_minutes": session.planned_minutes,
        "planned_effort": session.planned_effort,
        "done": session.done,
        "segments": session.segments,
        "mix_aim": session.mix_aim or OPEN_CONTACT,
        "factor": grid.factor,
        "version": session.version,
        "rows": [_row(row, words) for row in grid.rows],
    }


def _read(squad: Squad, session_id: str) -> sessions.Grid:
    return sessions.read_grid(context.db(), squad, session_id, context.today(squad), context.audiences(squad))


def _row(row: sessions.GridRow, words: bool) -> dict[str, Any]:
    entry, member = row.entry, row.member
    if row.origin is None:
        state = "open"
    elif row.origin in (Origin.MEASURED, Origin.GIVEN):
        state = "measured" if row.origin is Origin.MEASURED else "given"
    else:
        state = "estimated" if row.estimate else "missing"
    return {
        "athlete_id": member.athlete_id,
        "name": member.name,
        "number": member.number,
        "position": member.position,
        "planned_minutes": entry.planned_minutes if entry else None,
        "planned_effort": entry.planned_effort if entry else None,
        "minutes": entry.minutes if entry else None,
        "effort": entry.effort if entry else None,
        "words": entry.words if entry and words else None,
        "version": entry.version if entry else None,
        "source": entry.source if entry else None,
        "load": row.load,
        "state": state,
        "estimate": row.estimate,
        "how": row.how,
        "called": row.called,
        "beside": SAID[entry.beside] if entry and entry.beside else "",
    }


@blueprint.get("/latest")
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.GridOut)
@blueprint.doc(operation_id="latestSession", summary="The last session that had begun by a day")
def latest(slug: str, query_data: DayQuery) -> dict[str, Any]:
    squad = context.squad(slug)
    day = context.sane(query_data.day)
    found = sessions.last_session_before(context.db(), squad, day, context.now(), context.today(squad))
    return grid_out(_read(squad, found.id), squad)


@blueprint.get("/<session_id>")
@blueprint.output(schemas.GridOut)
@blueprint.doc(operation_id="session", summary="Everyone in a session, with what they did")
def read(slug: str, session_id: str) -> dict[str, Any]:
    squad = context.squad(slug)
    return grid_out(_read(squad, session_id), squad)


@blueprint.patch("/<session_id>/entries")
@blueprint.input(schemas.EntriesIn)
@blueprint.output(schemas.GridOut)
@blueprint.doc(operation_id="recordEntries", summary="Write minutes, effort and words, all or nothing")
def record(slug: str, session_id: str, json_data: schemas.EntriesIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.EDIT_ENTRIES)
    changes = [
        entries.EntryChange(
            session_id=session_id,
            athlete_id=change.athlete_id,
            minutes=change.minutes,
            effort=change.effort,
            words=change.words,
            version=change.version,
        )
        for change in json_data.changes
    ]
    db = context.db()
    entries.record_entries(db, squad.id, changes, stamp=context.stamp(), today=context.today(squad))
    return grid_out(_read(squad, session_id), squad)

"""One athlete: the time axis, the position to compare with, and figures opened up."""

from __future__ import annotations

from datetime import date
from typing import Any

from apiflask import APIBlueprint

from uvren.core.audience import Audience
from uvren.services.athlete import timeline
from uvren.services.club.permissions import Action
from uvren.services.morning import notes, noticed
from uvren.store.models import Squad
from uvren.web import context
from uvren.web.answers import looked_at, until_changed
from uvren.web.athlete import athlete_schemas as schemas
from uvren.web.schemas import DayQuery, DoneOut

blueprint = APIBlueprint("athlete", __name__, url_prefix="/api/squads/<slug>/athletes/<int:athlete_id>")


@blueprint.get("/timeline")
@until_changed()
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.TimelineOut)
@blueprint.doc(operation_id="timeline", summary="Everything of one athlete on one time axis, as of a day")
def read_timeline(slug: str, athlete_id: int, query_data: DayQuery) -> timeline.Timeline:
    squad = context.squad(slug)
    day, today = context.sane(query_data.day), context.today(squad)
    return timeline.read_timeline(context.db(), squad, athlete_id, day, today, context.audiences(squad))


@blueprint.get("/noticed")
@until_changed()
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.NoticedOut)
@blueprint.doc(operation_id="noticed", summary="What was noticed of an athlete, morning by morning")
def read_noticed(slug: str, athlete_id: int, query_data: DayQuery) -> dict[str, Any]:
    squad = context.squad(slug)
    day, today = context.sane(query_data.day), context.today(squad)
    runs = noticed.notice_runs(context.db(), squad, athlete_id, day, today, context.audiences(squad))
    looked_at(squad, {athlete_id} if any(run.clinical for run in runs) else set())
    return {"runs": runs}


@blueprint.get("/position")
@until_changed()
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.PositionOut)
@blueprint.doc(operation_id="positionWeekLoad", summary="Mean week load of the others of an athlete's position")
def read_position(slug: str, athlete_id: int, query_data: DayQuery) -> dict[str, Any]:
    squad = context.squad(slug)
    day, today = context.sane(query_data.day), context.today(squad)
    return {"week": timeline.position_week_load(context.db(), squad, athlete_id, day, today)}


@blueprint.get("/arithmetic")
@blueprint.input(schemas.FigureQuery, location="query")
@blueprint.output(schemas.ArithmeticOut)
@blueprint.doc(operation_id="arithmetic", summary="A figure opened up: the days that went in, formula and source")
def open_figure(slug: str, athlete_id: int, query_data: schemas.FigureQuery) -> Any:
    # A reported item is for who may read reports.
    squad = context.squad(slug, Action.READ_REPORTS if ":" in query_data.figure else Action.READ_SQUAD)
    day, today = context.sane(query_data.day), context.today(squad)
    return timeline.open_figure(context.db(), squad, athlete_id, day, today, query_data.figure, query_data.channel)


def notes_out(squad: Squad, athlete_id: int, day: date) -> dict[str, Any]:
    may, user = context.audiences(squad), context.person().user_id
    found = notes.read_notes(context.db(), squad, athlete_id, day, may)
    looked_at(squad, {athlete_id} if any(one.audience is Audience.CLINICAL for one in found) else set())
    fields = ("id", "day", "audience", "words")
    return {
        "notes": [
            {name: getattr(one, name) for name in fields} | {"made_by": one.maker.name, "own": one.made_by == user}
            for one in found
        ],
        "audiences": sorted(may) if context.person().may(Action.WRITE_NOTES, squad.id) else [],
    }


@blueprint.get("/notes")
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.NotesOut)
@blueprint.doc(operation_id="notes", summary="Notes about an athlete that one may read")
def read_notes(slug: str, athlete_id: int, query_data: DayQuery) -> dict[str, Any]:
    return notes_out(context.squad(slug), athlete_id, context.sane(query_data.day))


@blueprint.post("/notes")
@blueprint.input(schemas.NoteIn)
@blueprint.output(schemas.NotesOut)
@blueprint.doc(operation_id="writeNote", summary="Write a note about an athlete, for who may read it")
def write_note(slug: str, athlete_id: int, json_data: schemas.NoteIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.WRITE_NOTES)
    new = notes.NewNote(athlete_id=athlete_id, **json_data.model_dump())
    today = context.today(squad)
    notes.write_note(context.db(), squad, new, context.audiences(squad), stamp=context.stamp(), today=today)
    return notes_out(squad, athlete_id, today)


@blueprint.delete("/notes/<note_id>")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="withdrawNote", summary="Take one's own note back")
def withdraw_note(slug: str, athlete_id: int, note_id: str) -> dict[str, bool]:
    squad = context.squad(slug, Action.WRITE_NOTES)
    notes.withdraw_note(context.db(), squad, note_id, stamp=context.stamp())
    return {"done": True}

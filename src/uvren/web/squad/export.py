"""What a squad takes out: daily loads as a table of its choice, sessions as a calendar."""

from __future__ import annotations

from itertools import chain

from apiflask import APIBlueprint
from flask import Response, stream_with_context

from uvren.files.writing import MEDIA_TYPES, TableFormat
from uvren.services.club.permissions import Action
from uvren.services.errors import NotFound
from uvren.services.squad import export
from uvren.web import context
from uvren.web.schemas import DayQuery

blueprint = APIBlueprint("export", __name__, url_prefix="/api/squads/<slug>")


@blueprint.get("/daily-loads.<ending>")
@blueprint.input(DayQuery, location="query")
@blueprint.doc(operation_id="dailyLoads", summary="Every athlete's daily loads as csv, tsv, xlsx, parquet or jsonl")
def daily_loads(slug: str, ending: str, query_data: DayQuery) -> Response:
    squad = context.squad(slug, Action.EXPORT)
    day, today = context.sane(query_data.day), context.today(squad)
    if ending not in list(TableFormat):
        raise NotFound(f"Daily loads are given as {', '.join(TableFormat)}.")
    name = f"{squad.slug}-daily-loads-{day}.{ending}"
    format = TableFormat(ending)
    pieces = export.loads_table(export.daily_loads(context.db(), squad, day, today), format)
    # What goes wrong at the beginning is answered as a problem, not as a file that ends there.
    first = next(pieces, b"")
    return _download(stream_with_context(chain([first], pieces)), MEDIA_TYPES[format], name)


@blueprint.get("/sessions.ics")
@blueprint.doc(operation_id="sessionsCalendar", summary="The squad's sessions of a year around today as iCalendar")
def sessions_calendar(slug: str) -> Response:
    squad = context.squad(slug, Action.EXPORT)
    content, _ = export.sessions_calendar(context.db(), squad, context.today(squad), context.now())
    return _download(content, "text/calendar", f"{squad.slug}-sessions.ics")


def _download(content: object, media_type: str, name: str) -> Response:
    response = Response(content, mimetype=media_type)  # type: ignore[arg-type]
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response

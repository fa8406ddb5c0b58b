"""The days around a day, with their sessions."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from uvren.services.session import sessions
from uvren.web import context
from uvren.web.answers import until_changed
from uvren.web.schemas import DayQuery
from uvren.web.session import spine_schemas as schemas

blueprint = APIBlueprint("spine", __name__, url_prefix="/api/squads/<slug>")


@blueprint.get("/spine")
@until_changed()
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.SpineOut)
@blueprint.doc(operation_id="spine", summary="Three weeks of days around a day, with their sessions")
def read_spine(slug: str, query_data: DayQuery) -> dict[str, Any]:
    squad = context.squad(slug)
    days = sessions.read_spine(context.db(), squad, context.sane(query_data.day))
    return {
        "days": [
            {
                "day": day.day,
                "offset": day.offset,
                "sessions": [
                    {
                        "id": session.id,
                        "kind": session.kind,
                        "title": session.title,
                        "starts_at": session.starts_at,
                        "minutes": session.planned_minutes,
                        "effort": session.planned_effort,
                        "opponent": session.opponent,
                        "venue": session.venue,
                        "done": session.done,
                        "unrated": day.unrated.get(session.id, 0),
                    }
                    for session in day.sessions
                ],
            }
            for day in days
        ]
    }

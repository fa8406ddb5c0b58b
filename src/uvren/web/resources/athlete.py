"""One athlete: the time axis, the position to compare with, and figures opened up."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from uvren.core.arithmetic import SCHOOLS
from uvren.services import timeline
from uvren.services.permissions import Action
from uvren.web import context
from uvren.web.resources.morning import turned_out
from uvren.web.schemas import DayQuery
from uvren.web.schemas import athlete as schemas

blueprint = APIBlueprint("athlete", __name__, url_prefix="/api/squads/<slug>/athletes/<int:athlete_id>")


@blueprint.get("/timeline")
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.TimelineOut)
@blueprint.doc(operation_id="timeline", summary="Everything of one athlete on one time axis, as of a day")
def read_timeline(slug: str, athlete_id: int, query_data: DayQuery) -> dict[str, Any]:
    squad = context.squad(slug)
    may = context.person().may(Action.READ_REPORTS, squad.id)
    day = context.sane(query_data.day)
    found = timeline.read_timeline(context.db(), squad, athlete_id, day, context.today(squad), with_reports=may)
    member = found.member
    return {
        "athlete_id": member.athlete_id,
        "name": member.name,
        "number": member.number,
        "position": member.position,
        "as_of": found.as_of,
        "days": found.days,
        "channels": found.channels,
        "minutes": found.minutes,
        "items": found.items,
        "tests": found.tests,
        "schools": [
            {"code": school.value, "words": said, "ratio": found.ratios[school.value]}
            for school, said in SCHOOLS.items()
        ],
        "calls": [turned_out(one, squad) for one in found.calls],
        "breaks": found.breaks,
    }


@blueprint.get("/position")
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
    squad = context.squad(slug)
    day, today = context.sane(query_data.day), context.today(squad)
    return timeline.open_figure(context.db(), squad, athlete_id, day, today, query_data.figure, query_data.channel)

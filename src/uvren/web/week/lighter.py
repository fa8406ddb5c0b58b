"""Lighter weeks: proposed with their signs, accepted, taken back, looked back on."""

from __future__ import annotations

from apiflask import APIBlueprint

from uvren.services.club.permissions import Action
from uvren.services.errors import NotAllowed
from uvren.services.week import lighter
from uvren.services.week.lighter import LighterWeeks
from uvren.web import context
from uvren.web.answers import until_changed
from uvren.web.schemas import DoneOut
from uvren.web.week import lighter_schemas as schemas

blueprint = APIBlueprint("lighter", __name__, url_prefix="/api/squads/<slug>/week/lighter")


@blueprint.get("")
@until_changed()
@blueprint.input(schemas.LighterQuery, location="query")
@blueprint.output(schemas.LighterWeeksOut)
@blueprint.doc(
    operation_id="lighterWeeks", summary="Who is due a lighter week, whose stands, and what came of the last"
)
def read(slug: str, query_data: schemas.LighterQuery) -> LighterWeeks:
    squad = context.squad(slug)
    day = context.sane(query_data.day)
    audiences = context.audiences(squad)
    return lighter.read_lighter(context.db(), squad, day, context.today(squad), audiences, query_data.school,
                                fewer=query_data.fewer)  # fmt: skip


@blueprint.post("")
@blueprint.input(schemas.AcceptLighterIn)
@blueprint.output(schemas.AcceptedOut)
@blueprint.doc(operation_id="acceptLighterWeek", summary="Plan a lighter week that is proposed")
def accept(slug: str, json_data: schemas.AcceptLighterIn) -> dict[str, str]:
    squad = context.squad(slug, Action.PLAN)
    # A proposal rests on what was reported: who may not read that may not answer it.
    if not context.person().may(Action.READ_REPORTS, squad.id):
        raise NotAllowed("Lighter weeks are answered by performance staff.")
    day = context.sane(json_data.day)
    week = lighter.accept(
        context.db(), squad, day, json_data.athlete_id, json_data.school, context.audiences(squad),
        stamp=context.stamp(), today=context.today(squad), fewer=json_data.fewer,
    )  # fmt: skip
    return {"id": week.id}


@blueprint.post("/<week_id>/take-back")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="takeBackLighterWeek", summary="Take a lighter week back; what was planned stands again")
def take_back(slug: str, week_id: str) -> dict[str, bool]:
    squad = context.squad(slug, Action.PLAN)
    lighter.take_back(context.db(), squad, week_id, stamp=context.stamp())
    return {"done": True}

"""Sides that differ."""

from __future__ import annotations

from apiflask import APIBlueprint

from uvren.services.club.permissions import Action
from uvren.services.return_ import sides
from uvren.services.return_.sides import Looked, SideRow
from uvren.web import context
from uvren.web.answers import until_changed
from uvren.web.return_ import sides_schemas as schemas
from uvren.web.schemas import DayQuery, DoneOut

blueprint = APIBlueprint("sides", __name__, url_prefix="/api/squads/<slug>/sides")


@blueprint.get("")
@until_changed(Action.READ_REPORTS)
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.SidesOut)
@blueprint.doc(operation_id="sides", summary="Whose sides differ, and how far it has been looked into")
def read(slug: str, query_data: DayQuery) -> dict[str, list[SideRow]]:
    squad = context.squad(slug, Action.READ_REPORTS)
    return {"rows": sides.read_sides(context.db(), squad, context.sane(query_data.day))}


@blueprint.post("")
@blueprint.input(schemas.SideBegunIn)
@blueprint.output(schemas.SideBegunOut)
@blueprint.doc(operation_id="beginSides", summary="Begin to look into sides that differ")
def begin(slug: str, json_data: schemas.SideBegunIn) -> dict[str, str]:
    squad = context.squad(slug, Action.ENTER_REPORTS)
    made = sides.begin(context.db(), squad, json_data.athlete_id, json_data.test, stamp=context.stamp(),
                       today=context.today(squad))  # fmt: skip
    return {"id": made.id}


@blueprint.put("/<check_id>")
@blueprint.input(schemas.SideIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="saveSides", summary="Keep what was measured by joint, and what is done about it")
def save(slug: str, check_id: str, json_data: schemas.SideIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.ENTER_REPORTS)
    given = json_data.model_dump()
    version = given.pop("version")
    sides.save(context.db(), squad, check_id, Looked(**given), version=version, stamp=context.stamp(),
               today=context.today(squad))  # fmt: skip
    return {"done": True}


@blueprint.post("/<check_id>/end")
@blueprint.input(schemas.SideEndIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="endSides", summary="Say that a check of sides is over, or that it is not")
def end(slug: str, check_id: str, json_data: schemas.SideEndIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.ENTER_REPORTS)
    today = context.today(squad)
    sides.end(context.db(), squad, check_id, json_data.ended, stamp=context.stamp(), today=today)
    return {"done": True}

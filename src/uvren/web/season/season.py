"""The season as a resource."""

from __future__ import annotations

from apiflask import APIBlueprint

from uvren.core.season import Phase
from uvren.services.club.permissions import Action
from uvren.services.season import phases
from uvren.services.season.phases import Season
from uvren.web import context
from uvren.web.schemas import DayQuery
from uvren.web.season import season_schemas as schemas

blueprint = APIBlueprint("season", __name__, url_prefix="/api/squads/<slug>/season")


@blueprint.get("")
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.SeasonOut)
@blueprint.doc(operation_id="season", summary="The phases of the season, and where a day is among them")
def read(slug: str, query_data: DayQuery) -> Season:
    squad = context.squad(slug)
    return phases.read(context.db(), squad, context.sane(query_data.day))


@blueprint.put("")
@blueprint.input(schemas.SeasonIn)
@blueprint.output(schemas.EditionOut)
@blueprint.doc(operation_id="setSeason", summary="Say in which phases the season goes")
def save(slug: str, json_data: schemas.SeasonIn) -> dict[str, str | None]:
    squad = context.squad(slug, Action.EDIT_ENTRIES)
    wanted = [
        Phase(one.kind, one.name, context.sane(one.first, f"phases.{i}.first"),
              context.sane(one.last, f"phases.{i}.last"))
        for i, one in enumerate(json_data.phases)
    ]  # fmt: skip
    stamp = context.stamp()
    return {"edition": phases.save(context.db(), squad, wanted, edition=json_data.edition, stamp=stamp)}

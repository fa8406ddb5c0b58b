"""Saved views of the desk."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from uvren.services.morning import views
from uvren.store import queries
from uvren.web import context
from uvren.web.morning import views_schemas as schemas
from uvren.web.schemas import DoneOut

blueprint = APIBlueprint("views", __name__, url_prefix="/api/squads/<slug>")


@blueprint.get("/views")
@blueprint.output(schemas.ViewsOut)
@blueprint.doc(operation_id="views", summary="One's own saved views of the desk")
def read_views(slug: str) -> dict[str, Any]:
    squad = context.squad(slug)
    return {"views": queries.morning.views_of(context.db(), squad.id, context.person().user_id)}


@blueprint.post("/views")
@blueprint.input(schemas.ViewIn)
@blueprint.output(schemas.ViewsOut)
@blueprint.doc(operation_id="saveView", summary="Save a view of the desk under a name")
def save_view(slug: str, json_data: schemas.ViewIn) -> dict[str, Any]:
    squad = context.squad(slug)
    user = context.person().user_id
    views.save_view(context.db(), squad, user, json_data.name, json_data.query, now=context.now())
    return {"views": queries.morning.views_of(context.db(), squad.id, user)}


@blueprint.delete("/views/<view_id>")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="removeView", summary="Take a saved view away")
def remove_view(slug: str, view_id: str) -> dict[str, bool]:
    squad = context.squad(slug)
    views.remove_view(context.db(), squad, context.person().user_id, view_id)
    return {"done": True}

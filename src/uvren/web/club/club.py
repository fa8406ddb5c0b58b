"""The club’s choices, and who saw or did what."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from uvren.services.club import audit, privacy, squad_end
from uvren.services.club.permissions import Action
from uvren.store import queries
from uvren.store.models import Club
from uvren.web import context
from uvren.web.club import club_schemas as schemas
from uvren.web.schemas import DoneOut

blueprint = APIBlueprint("club", __name__, url_prefix="/api")


def _club() -> Club:
    """The club of the signed-in person, who acts for it. Raises NotAllowed."""
    person = context.person()
    person.must_for_club()
    return context.db().get_one(Club, person.club_id)


@blueprint.get("/club")
@blueprint.output(schemas.ClubOut)
@blueprint.doc(operation_id="club", summary="What the club has decided about health data")
def read_club() -> Club:
    return _club()


@blueprint.put("/club")
@blueprint.input(schemas.ClubIn)
@blueprint.output(schemas.ClubOut)
@blueprint.doc(operation_id="setClub", summary="Decide about health data")
def set_club(json_data: schemas.ClubIn) -> Club:
    choices = privacy.Choices(**json_data.model_dump(exclude={"name"}))
    return privacy.decide(context.db(), _club(), choices, typed=json_data.name, stamp=context.stamp())


@blueprint.get("/club/audit")
@blueprint.input(schemas.AuditQuery, location="query")
@blueprint.output(schemas.AuditOut)
@blueprint.doc(operation_id="clubAudit", summary="Sign-ins, passwords, second factors, links and the club's choices")
def read_club_audit(query_data: schemas.AuditQuery) -> dict[str, Any]:
    return {"rows": audit.shown(queries.audit.audited_of_club(context.db(), _club().id, **query_data.model_dump()))}


@blueprint.delete("/squads/<slug>")
@blueprint.input(schemas.SquadNameIn)
@blueprint.output(DoneOut)
@blueprint.doc(
    operation_id="deleteSquad", summary="Delete a squad with everything that is kept of it; its name is typed"
)
def delete_squad(slug: str, json_data: schemas.SquadNameIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.RUN_CLUB)
    squad_end.delete_squad(context.db(), squad, json_data.name, stamp=context.stamp())
    return {"done": True}


@blueprint.get("/squads/<slug>/audit")
@blueprint.input(schemas.AuditQuery, location="query")
@blueprint.output(schemas.AuditOut)
@blueprint.doc(operation_id="audit", summary="Who saw or changed what, newest first")
def read_audit(slug: str, query_data: schemas.AuditQuery) -> dict[str, Any]:
    squad = context.squad(slug, Action.READ_AUDIT)
    return {"rows": audit.shown(queries.audit.audited(context.db(), squad.id, **query_data.model_dump()))}

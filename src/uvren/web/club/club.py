"""The club’s choices, and who saw or did what."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from uvren.services.club import audit, privacy
from uvren.services.club.permissions import Action
from uvren.store import queries
from uvren.store.models import Club, Squad
from uvren.web import context
from uvren.web.club import club_schemas as schemas

blueprint = APIBlueprint("club", __name__, url_prefix="/api/squads/<slug>")


def _club(squad: Squad) -> Club:
    return context.db().get_one(Club, squad.club_id)


@blueprint.get("/club")
@blueprint.output(schemas.ClubOut)
@blueprint.doc(operation_id="club", summary="What the club has decided about health data")
def read_club(slug: str) -> Club:
    return _club(context.squad(slug, Action.MANAGE_PEOPLE))


@blueprint.put("/club")
@blueprint.input(schemas.ClubIn)
@blueprint.output(schemas.ClubOut)
@blueprint.doc(operation_id="setClub", summary="Decide about health data")
def set_club(slug: str, json_data: schemas.ClubIn) -> Club:
    squad = context.squad(slug, Action.MANAGE_PEOPLE)
    club, db = _club(squad), context.db()
    changes = json_data.model_dump()
    now = context.now()
    audit.note(db, "club_set", f"club:{club.id}", stamp=context.stamp(), squad_id=squad.id, **changes)
    for name, value in changes.items():
        setattr(club, name, value)
    db.flush()
    privacy.keep_to_retention(db, club, now=now)
    return club


@blueprint.get("/audit")
@blueprint.input(schemas.AuditQuery, location="query")
@blueprint.output(schemas.AuditOut)
@blueprint.doc(operation_id="audit", summary="Who saw or changed what, newest first")
def read_audit(slug: str, query_data: schemas.AuditQuery) -> dict[str, Any]:
    squad = context.squad(slug, Action.READ_AUDIT)
    return {"rows": queries.club.audited(context.db(), squad.id, **query_data.model_dump())}

"""The beginning of a squad."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from uvren.core.limits import Unit, make_rule
from uvren.services.squad import begin
from uvren.services.squad.kinds import WORK_KINDS, StartLimit, WorkKind
from uvren.store import queries
from uvren.store.models import Club, User
from uvren.web import context
from uvren.web.squad import new_squad_schemas as schemas

blueprint = APIBlueprint("new_squad", __name__, url_prefix="/api/squads")


@blueprint.get("/begin")
@blueprint.output(schemas.BeginSquadOut)
@blueprint.doc(operation_id="beginSquad", summary="What a squad can begin with")
def read() -> dict[str, Any]:
    person, db = context.person(), context.db()
    person.must_for_club()
    return {
        "kinds": [_kind_out(kind) for kind in WORK_KINDS],
        "squads": [squad.slug for squad in queries.club.squads(db, club_id=person.club_id)],
        "time_zone": db.get_one(Club, person.club_id).time_zone,
        "roles": db.get_one(User, person.user_id).begins_as or [],
    }


def _kind_out(kind: WorkKind) -> dict[str, Any]:
    return {
        "code": kind.code,
        "name": kind.name,
        "such_as": kind.such_as,
        "sessions": list(kind.sessions),
        "units": [unit.name for unit in kind.units],
        "limits": [{"said": _said(limit), "hard": limit.hard, "source": limit.source} for limit in kind.limits],
        "places": list(kind.places),
    }


def _said(limit: StartLimit) -> str:
    """Such as "Throws: ceiling on the weighted ratio 1.5"."""
    rule = make_rule(limit.rule, limit.value, limit.settings)
    value = f"{limit.value:.0%}".replace("%", " %") if rule.unit is Unit.SHARE else f"{limit.value:g}"
    words = f"{rule.title} {value}"
    return f"{limit.channel}: {words}" if limit.channel else words


@blueprint.post("")
@blueprint.input(schemas.NewSquadIn)
@blueprint.output(schemas.NewSquadOut)
@blueprint.doc(operation_id="makeSquad", summary="Make a squad of the club")
def make(json_data: schemas.NewSquadIn) -> dict[str, str]:
    new = begin.NewSquad(**json_data.model_dump())
    return {"slug": begin.make_squad(context.db(), context.person(), new, context.now()).slug}

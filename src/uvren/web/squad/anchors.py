"""Athletes' anchors: those in force on a day, a new one, one taken back."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from uvren.services.club.permissions import Action
from uvren.services.squad import anchors, members
from uvren.store import queries
from uvren.store.models import Anchor
from uvren.web import context
from uvren.web.schemas import DayQuery, DoneOut
from uvren.web.squad import anchors_schemas as schemas

blueprint = APIBlueprint("anchors", __name__, url_prefix="/api/squads/<slug>/anchors")

MEANINGS = [{"kind": kind, **vars(meaning)} for kind, meaning in anchors.MEANINGS.items()]


def anchor_out(anchor: Anchor, set_by: str) -> dict[str, Any]:
    names = ("id", "athlete_id", "kind", "value", "word", "from_day", "source")
    return {name: getattr(anchor, name) for name in names} | {"set_by": set_by}


@blueprint.get("")
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.AnchorsOut)
@blueprint.doc(operation_id="anchors", summary="The anchors in force on a day, and what each kind means")
def read(slug: str, query_data: DayQuery) -> dict[str, Any]:
    squad = context.squad(slug, Action.READ_ANCHORS)
    db, day = context.db(), context.sane(query_data.day)
    return {
        "day": day,
        "kinds": MEANINGS,
        "athletes": queries.squad.members(db, squad.id, day),
        "anchors": [anchor_out(anchor, by) for anchor, by in anchors.anchors_on(db, squad, day)],
    }


@blueprint.post("")
@blueprint.input(schemas.AnchorIn)
@blueprint.output(schemas.AnchorOut)
@blueprint.doc(operation_id="setAnchor", summary="Put an anchor in force from a day")
def create(slug: str, json_data: schemas.AnchorIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.EDIT_ANCHORS)
    person = context.person()
    wanted = anchors.NewAnchor(
        athlete_id=json_data.athlete_id,
        kind=json_data.kind,
        value=json_data.value,
        word=json_data.word,
        from_day=context.sane(json_data.from_day),
        source=json_data.source,
    )
    db, today = context.db(), context.today(squad)
    members.must_everywhere(db, squad, json_data.athlete_id, person, Action.EDIT_ANCHORS, today)
    made = anchors.set_anchor(db, squad, wanted, stamp=context.stamp(), today=today)
    return anchor_out(made, person.name)


@blueprint.delete("/<anchor_id>")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="withdrawAnchor", summary="Take an anchor back, as if it had never been set")
def withdraw(slug: str, anchor_id: str) -> dict[str, bool]:
    squad = context.squad(slug, Action.EDIT_ANCHORS)
    db, today = context.db(), context.today(squad)
    found = anchors.find_anchor(db, squad, anchor_id)
    members.must_everywhere(db, squad, found.athlete_id, context.person(), Action.EDIT_ANCHORS, today)
    anchors.withdraw_anchor(db, squad, anchor_id, stamp=context.stamp(), today=today)
    return {"done": True}

"""Blocks of weeks: projected, planned, taken back."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from apiflask import APIBlueprint

from uvren.services.club.permissions import Action
from uvren.services.session import making
from uvren.services.versions import WHATEVER
from uvren.services.week import block
from uvren.services.week.block import Block
from uvren.store.models import Squad
from uvren.web import context
from uvren.web.schemas import DoneOut
from uvren.web.week import block_schemas as schemas

blueprint = APIBlueprint("block", __name__, url_prefix="/api/squads/<slug>/week/block")


@blueprint.post("/projected")
@blueprint.input(schemas.ProjectIn)
@blueprint.output(schemas.BlockOut)
@blueprint.doc(operation_id="projectBlock", summary="Where weeks made from one week take everybody, or one person")
def project(slug: str, json_data: schemas.ProjectIn) -> Block | None:
    squad = context.squad(slug, Action.PLAN, writes=False)
    first, of = context.sane(json_data.first), context.sane(json_data.of)
    return block.read_block(context.db(), squad, first, of, json_data.wanted, json_data.athlete_id,
                            context.today(squad))  # fmt: skip


@blueprint.put("")
@blueprint.input(schemas.PlanBlockIn)
@blueprint.output(schemas.PlannedBlockOut)
@blueprint.doc(operation_id="planBlock", summary="Plan a block: the sessions of its weeks, and what each week is for")
def plan(slug: str, json_data: schemas.PlanBlockIn) -> dict[str, Any]:
    squad, db, stamp = context.squad(slug, Action.PLAN), context.db(), context.stamp()
    first, of = block.monday(context.sane(json_data.first)), block.monday(context.sane(json_data.of))
    wanted = json_data.wanted
    before = block.kept_weeks(db, squad, first, len(wanted))
    weeks = [{"first": one.first_day, "share": one.share, "lighter": one.lighter, "goal": one.goal} for one in before]
    # What makes no sense is said before anything is changed.
    block.read_block(db, squad, first, of, wanted, None, context.today(squad))
    block.check_edition(db, squad, first, of, len(wanted), json_data.edition)
    made, changed = [], []
    for one in block.sessions_of(db, squad, first, of, wanted, context.today(squad)):
        if one.there is not None:
            stood = {"id": one.there.id, "minutes": one.there.planned_minutes, "effort": one.there.planned_effort}
            if (one.minutes, one.effort) != (stood["minutes"], stood["effort"]):
                changed.append(stood)
                _lasts(squad, one.there.id, one.minutes, one.effort)
            continue
        new = replace(making.as_wanted(squad, one.of), day=one.day, minutes=one.minutes, effort=one.effort)
        made += making.make_sessions(db, squad, new, until=None, stamp=stamp)
    block.keep_weeks(db, squad, first, wanted, stamp=stamp)
    return {"first": first, "made": [one.id for one in made], "changed": changed, "weeks": weeks, "many": len(wanted)}


@blueprint.post("/take-back")
@blueprint.input(schemas.TakeBlockIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="takeBackBlock", summary="Let the sessions and weeks of a block be as they were before it")
def take_back(slug: str, json_data: schemas.TakeBlockIn) -> dict[str, bool]:
    squad, db, stamp = context.squad(slug, Action.PLAN), context.db(), context.stamp()
    for name in json_data.made:
        making.delete_session(db, squad, name, version=WHATEVER, stamp=stamp)
    for one in json_data.changed:
        _lasts(squad, one.id, one.minutes, one.effort)
    block.put_back_weeks(db, squad, context.sane(json_data.first), json_data.many, json_data.stood, stamp=stamp)
    return {"done": True}


def _lasts(squad: Squad, name: str, minutes: float, effort: float) -> None:
    db = context.db()
    wanted = replace(making.as_wanted(squad, making.find(db, squad, name)), minutes=minutes, effort=effort)
    making.change_session(db, squad, name, wanted, version=WHATEVER, stamp=context.stamp())

"""The week ahead: read, tried out, solved, saved."""

from __future__ import annotations

import time
from dataclasses import replace
from typing import Any

from apiflask import APIBlueprint

from uvren.services.club.permissions import Action
from uvren.services.session import making
from uvren.services.versions import WHATEVER
from uvren.services.week import saving
from uvren.services.week.compared import Compared, read_compared
from uvren.services.week.reading import Week, edition_of, open_week, read_week
from uvren.services.week.recovering import Recovering, read_recovering
from uvren.services.week.solving import Proposal, propose
from uvren.services.week.spells import Spelled, read_spells
from uvren.services.week.upkeep import Upkeep, read_upkeep
from uvren.store import queries
from uvren.web import context
from uvren.web.answers import until_changed
from uvren.web.schemas import ChannelQuery, DayQuery
from uvren.web.week import week_schemas as schemas

blueprint = APIBlueprint("week", __name__, url_prefix="/api/squads/<slug>/week")

# So long a plan is looked for at most while somebody waits.
SECONDS = 8.0


@blueprint.get("")
@until_changed()
@blueprint.input(ChannelQuery, location="query")
@blueprint.output(schemas.WeekOut)
@blueprint.doc(operation_id="week", summary="Seven days: load that is planned against the room for it")
def read(slug: str, query_data: ChannelQuery) -> Week | None:
    squad = context.squad(slug)
    day = context.sane(query_data.day)
    return read_week(context.db(), squad, day, context.today(squad), channel=query_data.channel,
                     audiences=context.audiences(squad))  # fmt: skip


@blueprint.get("/recovery")
@until_changed()
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.RecoveringOut)
@blueprint.doc(operation_id="weekRecovery", summary="Heavy days of the week that are too close to recover between")
def recovery(slug: str, query_data: DayQuery) -> Recovering:
    squad = context.squad(slug)
    return read_recovering(context.db(), squad, context.sane(query_data.day), context.today(squad))


@blueprint.get("/spells")
@until_changed()
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.SpellsOut)
@blueprint.doc(operation_id="weekSpells", summary="Counts of seven days that are to be done in spells, with breaks")
def spells(slug: str, query_data: DayQuery) -> dict[str, list[Spelled]]:
    squad = context.squad(slug)
    return {"spells": read_spells(context.db(), squad, context.sane(query_data.day), context.today(squad))}


@blueprint.get("/upkeep")
@until_changed()
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.UpkeepOut)
@blueprint.doc(operation_id="weekUpkeep", summary="Whom the week leaves short, or gives work too often")
def upkeep(slug: str, query_data: DayQuery) -> Upkeep:
    squad = context.squad(slug)
    return read_upkeep(context.db(), squad, context.sane(query_data.day), context.today(squad))


@blueprint.get("/compared")
@until_changed()
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.ComparedOut)
@blueprint.doc(operation_id="weekCompared", summary="What was planned against what was done, the last four weeks")
def compared(slug: str, query_data: DayQuery) -> Compared | None:
    squad = context.squad(slug)
    return read_compared(context.db(), squad, context.sane(query_data.day), context.today(squad))


@blueprint.post("/tried")
@blueprint.input(schemas.TriedIn)
@blueprint.output(schemas.WeekOut)
@blueprint.doc(operation_id="tryWeek", summary="The week with other minutes, which nobody has saved")
def try_out(slug: str, json_data: schemas.TriedIn) -> Week | None:
    squad = context.squad(slug, Action.PLAN, writes=False)
    day = context.sane(json_data.day)
    return read_week(context.db(), squad, day, context.today(squad), channel=json_data.channel,
                     changes=json_data.tried, audiences=context.audiences(squad))  # fmt: skip


@blueprint.post("/proposals")
@blueprint.input(schemas.TriedIn)
@blueprint.output(schemas.ProposalsOut)
@blueprint.doc(operation_id="proposeWeek", summary="The smallest changes with which every limit holds")
def solve(slug: str, json_data: schemas.TriedIn) -> dict[str, list[Proposal]]:
    squad = context.squad(slug, Action.PLAN, writes=False)
    day = context.sane(json_data.day)
    opened = open_week(context.db(), squad, day, context.today(squad), json_data.tried)
    until = time.monotonic() + SECONDS
    found = opened.once(
        "proposals",
        lambda: propose(squad, day, context.today(squad), opened, lambda: until - time.monotonic()),
        # Where time was up, whoever asks next has the chance of a better one.
        lambda proposals: all(one.proven for one in proposals),
    )
    return {"proposals": found}


@blueprint.put("")
@blueprint.input(schemas.WeekPlanIn)
@blueprint.output(schemas.PlannedWeekOut)
@blueprint.doc(
    operation_id="planWeek", summary="Let these be the minutes of the week's sessions and of athletes in them"
)
def save(slug: str, json_data: schemas.WeekPlanIn) -> dict[str, Any]:
    squad, db, stamp = context.squad(slug, Action.PLAN), context.db(), context.stamp()
    day = context.sane(json_data.day)
    sessions = {one.id: one for one in saving.check_edition(db, squad, day, json_data.edition)}
    wanted = {one.session_id: one for one in json_data.sessions}
    own = {(one.athlete_id, one.session_id): one.minutes for one in json_data.own}
    touched = list({*wanted, *(session for _, session in own)})
    before = saving.own_plans(db, touched)
    stood = [
        {"session_id": one.id, "minutes": one.planned_minutes, "day": one.day}
        for one in sessions.values()
        if one.id in wanted
    ]
    for name, one in wanted.items():
        as_it_is = making.as_wanted(squad, making.find(db, squad, name))
        changed = replace(as_it_is, minutes=one.minutes, day=one.day or as_it_is.day)
        making.change_session(db, squad, name, changed, version=WHATEVER, stamp=stamp)
    saving.plan_own(db, squad, own, stamp=stamp)
    found = queries.session.sessions_between(db, squad.id, day, day + saving.WEEK)
    return {
        "edition": edition_of(db, found),
        "sessions": stood,
        "own": [
            {"athlete_id": athlete, "session_id": session, "minutes": before.get((athlete, session))}
            for athlete, session in {*before, *own}
        ],
    }

"""The morning, and an athlete’s evidence."""

from __future__ import annotations

from datetime import date, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from apiflask import APIBlueprint

from uvren.services import morning
from uvren.services.club.permissions import Action
from uvren.services.day import outcomes
from uvren.store.database import DbSession
from uvren.store.models import Squad
from uvren.web import context
from uvren.web.answers import looked_at, until_changed
from uvren.web.morning import morning_schemas as schemas
from uvren.web.schemas import ChannelQuery, DayQuery

blueprint = APIBlueprint("morning", __name__, url_prefix="/api/squads/<slug>")


# When the desk is sat at: a past morning as it was known is shown as of then.
MORNING = time(8)


def _session(squad: Squad, day: date, known: bool) -> DbSession:
    """The session to read a morning with: of now, or of what was known on that morning."""
    if not known or day >= context.today(squad):
        return context.db()
    return context.db_as_known(datetime.combine(day, MORNING, ZoneInfo(squad.time_zone)))


@blueprint.get("/calls-review")
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.ReviewOut)
@blueprint.doc(operation_id="callsReview", summary="The calls of a month and what came of them")
def calls_review(slug: str, query_data: DayQuery) -> dict[str, Any]:
    squad = context.squad(slug, Action.READ_REASONS)
    first = context.sane(query_data.day).replace(day=1)
    last = (first + timedelta(days=31)).replace(day=1) - timedelta(days=1)
    may = context.audiences(squad)
    calls = outcomes.outcomes(context.db(), squad, first, last, context.today(squad), audiences=may)
    return {"first": first, "last": last, "calls": calls}


@blueprint.get("/morning")
@until_changed()
@blueprint.input(ChannelQuery, location="query")
@blueprint.output(schemas.MorningOut)
@blueprint.doc(operation_id="morning", summary="Every athlete's corridor, room, notices and call on a day")
def read_morning(slug: str, query_data: ChannelQuery) -> morning.Morning:
    squad = context.squad(slug)
    day = context.sane(query_data.day)
    db, today = _session(squad, day, query_data.known), context.today(squad)
    found, _ = morning.read_morning(db, squad, day, today, None, query_data.channel, context.audiences(squad))
    looked_at(squad, {lane.member.athlete_id for lane in found.lanes if lane.clinical})
    return found


@blueprint.get("/athletes/<int:athlete_id>/evidence")
@until_changed()
@blueprint.input(ChannelQuery, location="query")
@blueprint.output(schemas.EvidenceOut)
@blueprint.doc(operation_id="evidence", summary="One athlete's notices, figures, limits and what each call comes to")
def read_evidence(slug: str, athlete_id: int, query_data: ChannelQuery) -> morning.Evidence:
    squad = context.squad(slug)
    day = context.sane(query_data.day)
    db, today = _session(squad, day, query_data.known), context.today(squad)
    found = morning.read_evidence(db, squad, athlete_id, day, today, query_data.channel, context.audiences(squad))
    looked_at(squad, {athlete_id} if found.lane.clinical else set())
    return found

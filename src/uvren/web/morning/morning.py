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
from uvren.web.day import call_out, turned_out
from uvren.web.morning import morning_schemas as schemas
from uvren.web.schemas import ChannelQuery, DayQuery

blueprint = APIBlueprint("morning", __name__, url_prefix="/api/squads/<slug>")


def lane_out(lane: morning.Lane, squad: Squad) -> dict[str, Any]:
    member = lane.member
    return {
        "athlete_id": member.athlete_id,
        "name": member.name,
        "number": member.number,
        "position": member.position,
        "group": lane.group,
        "effort": lane.effort,
        "minutes": lane.minutes,
        "stands": lane.standing.stands,
        "said": lane.standing.said(context.audiences(squad), lane.minutes),
        "leaves": lane.leaves,
        "room": lane.room,
        "others": lane.others,
        "binding": lane.binding,
        "strip": lane.strip,
        "notices": [
            {
                "code": said.notice.code,
                "shape": said.notice.shape,
                "severity": said.notice.severity,
                "title": said.notice.title,
                "sentence": said.notice.sentence,
                "clears": said.notice.clears,
                "provenance": said.provenance,
                "channel": said.channel,
                "regions": said.regions,
                "about": said.notice.about,
                "figure": said.notice.figure,
                "value": said.notice.value,
                "unit": said.unit,
                "cause": said.cause,
                "quiet": said.quiet,
                "new": said.new,
            }
            for said in lane.notices
        ],
        "felt": lane.felt,
        "gate": lane.gate,
        "call": call_out(lane.call, squad),
    }


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
    found = outcomes.outcomes(context.db(), squad, first, last, context.today(squad))
    return {"first": first, "last": last, "calls": [turned_out(one, squad) for one in found]}


@blueprint.get("/morning")
@until_changed()
@blueprint.input(ChannelQuery, location="query")
@blueprint.output(schemas.MorningOut)
@blueprint.doc(operation_id="morning", summary="Every athlete's corridor, room, notices and call on a day")
def read_morning(slug: str, query_data: ChannelQuery) -> dict[str, Any]:
    squad = context.squad(slug)
    day = context.sane(query_data.day)
    db, today = _session(squad, day, query_data.known), context.today(squad)
    found, _ = morning.read_morning(db, squad, day, today, None, query_data.channel, context.audiences(squad))
    looked_at(squad, {lane.member.athlete_id for lane in found.lanes if lane.clinical})
    return {
        "as_of": found.as_of,
        "channel": found.channel,
        "channels": found.channels,
        "days": found.days,
        "lanes": [lane_out(lane, squad) for lane in found.lanes],
    }


@blueprint.get("/athletes/<int:athlete_id>/evidence")
@until_changed()
@blueprint.input(ChannelQuery, location="query")
@blueprint.output(schemas.EvidenceOut)
@blueprint.doc(operation_id="evidence", summary="One athlete's notices, figures, limits and what each call comes to")
def read_evidence(slug: str, athlete_id: int, query_data: ChannelQuery) -> dict[str, Any]:
    squad = context.squad(slug)
    day = context.sane(query_data.day)
    db, today = _session(squad, day, query_data.known), context.today(squad)
    found = morning.read_evidence(db, squad, athlete_id, day, today, query_data.channel, context.audiences(squad))
    looked_at(squad, {athlete_id} if found.lane.clinical else set())
    return {
        "lane": lane_out(found.lane, squad),
        "with_plan": found.with_plan,
        "figures": found.figures,
        "limits": found.limits,
        "outcomes": found.outcomes,
        "plan": found.plan,
        "said": found.said if context.person().may(Action.READ_WORDS, squad.id) else [],
        "last": turned_out(found.last, squad) if found.last else None,
        "tests": found.tests,
    }

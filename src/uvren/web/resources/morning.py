"""The morning, an athlete's evidence, and the days around."""

from __future__ import annotations

from collections.abc import Collection
from datetime import date, datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from apiflask import APIBlueprint

from uvren.core.day import CallKind
from uvren.services import audit, morning, outcomes, sessions
from uvren.services.permissions import Action
from uvren.store.database import DbSession
from uvren.store.models import Squad
from uvren.web import context, schemas

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


def looked_at(squad: Squad, athletes: Collection[int]) -> None:
    """Note that clinical detail of these athletes was shown."""
    if athletes:
        audit.saw(context.db(), "clinical_seen", athletes, by=context.person().user_id, squad_id=squad.id,
                  now=context.now())  # fmt: skip
        context.db().commit()


def call_out(said: morning.CallSaid | None, squad: Squad) -> dict[str, Any] | None:
    """A call as the person may see it: without the reason, coaches learn that someone is out, not why."""
    if said is None:
        return None
    reasons = context.person().may(Action.READ_REASONS, squad.id)
    hidden = said.call.kind is CallKind.REFER and not reasons
    return {
        "id": said.call.id,
        "kind": "unavailable" if hidden else said.call.kind,
        "reason": said.call.reason if reasons else "",
        "review_on": said.call.review_on,
        "minutes": said.call.minutes,
        "effort_cap": said.call.effort_cap,
        "content": said.call.content,
        "above_room": said.call.above_room,
        "reply": said.call.reply if context.person().may(Action.READ_CLINICAL, squad.id) else None,
        "made_by": said.made_by,
        "made_at": said.call.made_at,
    }


# When the desk is sat at: a past morning as it was known is shown as of then.
MORNING = time(8)


def _session(squad: Squad, day: date, known: bool) -> DbSession:
    """The session to read a morning with: of now, or of what was known on that morning."""
    if not known or day >= context.today(squad):
        return context.db()
    return context.db_as_known(datetime.combine(day, MORNING, ZoneInfo(squad.time_zone)))


def turned_out(one: outcomes.Outcome, squad: Squad) -> dict[str, Any]:
    # How reports stood afterwards is for who may read them.
    may = context.person().may(Action.READ_REPORTS, squad.id)
    return {
        "athlete_id": one.call.athlete_id,
        "name": one.name,
        "day": one.call.day,
        "call": call_out(morning.CallSaid(one.call, one.made_by), squad),
        "called": one.called,
        "done": one.done,
        "kept": one.kept,
        "after": one.after if may else "",
    }


@blueprint.get("/calls-review")
@blueprint.input(schemas.DayQuery, location="query")
@blueprint.output(schemas.ReviewOut)
@blueprint.doc(operation_id="callsReview", summary="The calls of a month and what came of them")
def calls_review(slug: str, query_data: schemas.DayQuery) -> dict[str, Any]:
    squad = context.squad(slug, Action.READ_REASONS)
    first = context.sane(query_data.day).replace(day=1)
    last = (first + timedelta(days=31)).replace(day=1) - timedelta(days=1)
    found = outcomes.outcomes(context.db(), squad, first, last, context.today(squad))
    return {"first": first, "last": last, "calls": [turned_out(one, squad) for one in found]}


@blueprint.get("/morning")
@blueprint.input(schemas.ChannelQuery, location="query")
@blueprint.output(schemas.MorningOut)
@blueprint.doc(operation_id="morning", summary="Every athlete's corridor, room, notices and call on a day")
def read_morning(slug: str, query_data: schemas.ChannelQuery) -> dict[str, Any]:
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
@blueprint.input(schemas.ChannelQuery, location="query")
@blueprint.output(schemas.EvidenceOut)
@blueprint.doc(operation_id="evidence", summary="One athlete's notices, figures, limits and what each call comes to")
def read_evidence(slug: str, athlete_id: int, query_data: schemas.ChannelQuery) -> dict[str, Any]:
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


@blueprint.get("/spine")
@blueprint.input(schemas.DayQuery, location="query")
@blueprint.output(schemas.SpineOut)
@blueprint.doc(operation_id="spine", summary="Three weeks of days around a day, with their sessions")
def read_spine(slug: str, query_data: schemas.DayQuery) -> dict[str, Any]:
    squad = context.squad(slug)
    days = sessions.read_spine(context.db(), squad, context.sane(query_data.day))
    return {
        "days": [
            {
                "day": day.day,
                "offset": day.offset,
                "sessions": [
                    {
                        "id": session.id,
                        "kind": session.kind,
                        "title": session.title,
                        "starts_at": session.starts_at,
                        "minutes": session.planned_minutes,
                        "effort": session.planned_effort,
                        "opponent": session.opponent,
                        "venue": session.venue,
                        "done": session.done,
                        "unrated": day.unrated.get(session.id, 0),
                    }
                    for session in day.sessions
                ],
            }
            for day in days
        ]
    }

"""Calendars by a secret link."""

from __future__ import annotations

from apiflask import APIBlueprint
from flask import Response

from uvren.services.club.permissions import Action
from uvren.services.errors import NotAllowed
from uvren.services.week import feeds
from uvren.services.week.feeds import Feed
from uvren.web import context
from uvren.web.schemas import DoneOut
from uvren.web.week import feeds_schemas as schemas

blueprint = APIBlueprint("feeds", __name__, url_prefix="/api")


@blueprint.get("/squads/<slug>/week/feeds")
@blueprint.output(schemas.FeedsOut)
@blueprint.doc(operation_id="feeds", summary="Links to calendars that hold")
def read(slug: str) -> dict[str, list[Feed]]:
    squad = context.squad(slug, Action.PLAN)
    return {"feeds": feeds.read_feeds(context.db(), squad, context.today(squad))}


@blueprint.post("/squads/<slug>/week/feeds")
@blueprint.input(schemas.FeedIn)
@blueprint.output(schemas.FeedLinkOut)
@blueprint.doc(operation_id="makeFeed", summary="A link to the squad's calendar, or to an athlete's own")
def make(slug: str, json_data: schemas.FeedIn) -> dict[str, str]:
    squad = context.squad(slug, Action.PLAN)
    return _link(feeds.make_feed(context.db(), squad, json_data.athlete_id, stamp=context.stamp()))


@blueprint.post("/squads/<slug>/own/feed")
@blueprint.output(schemas.FeedLinkOut)
@blueprint.doc(operation_id="makeOwnFeed", summary="A link to the own calendar of the athlete who is signed in")
def make_own(slug: str) -> dict[str, str]:
    squad = context.squad(slug, Action.OWN_PAGE)
    athlete_id = context.person().athlete_id
    if athlete_id is None:
        raise NotAllowed("This sign-in is not tied to an athlete. Ask who invited you.")
    return _link(feeds.make_feed(context.db(), squad, athlete_id, stamp=context.stamp()))


def _link(token: str) -> dict[str, str]:
    return {"link": context.address_of(f"api/calendars/{token}.ics")}


@blueprint.post("/squads/<slug>/week/feeds/<feed_id>/withdraw")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="withdrawFeed", summary="Let a link to a calendar hold no longer")
def withdraw(slug: str, feed_id: str) -> dict[str, bool]:
    squad = context.squad(slug, Action.PLAN)
    feeds.withdraw_feed(context.db(), squad, feed_id, stamp=context.stamp())
    return {"done": True}


@blueprint.get("/calendars/<token>.ics")
@blueprint.doc(operation_id="calendarByLink", summary="The calendar of a link, without signing in")
def calendar(token: str) -> Response:
    content = feeds.calendar_of(context.db(), token, context.now())
    response = Response(content, mimetype="text/calendar")
    # Whoever has the link has the calendar: it stands in no shared store on the way.
    response.headers["Cache-Control"] = "private, no-store"
    return response

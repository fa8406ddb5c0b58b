"""After a match: who recovers and who tops up, planned as sessions of some."""

from __future__ import annotations

from datetime import date, time
from typing import Any

from apiflask import APIBlueprint

from uvren.services.club.permissions import Action
from uvren.services.errors import Invalid
from uvren.services.session import making
from uvren.services.versions import WHATEVER
from uvren.services.week import saving, topups
from uvren.services.week.topups import AfterMatch, AfterRow, Does
from uvren.store import queries
from uvren.store.models import Session, SessionKind, Squad
from uvren.web import context
from uvren.web.answers import until_changed
from uvren.web.schemas import DayQuery, DoneOut
from uvren.web.week import after_schemas as schemas

blueprint = APIBlueprint("after_match", __name__, url_prefix="/api/squads/<slug>/week/after-match")


def _read(squad: Squad, day: date) -> AfterMatch | None:
    return topups.after_match(context.db(), squad, day, context.today(squad), context.audiences(squad))


@blueprint.get("")
@until_changed()
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.AfterMatchOut)
@blueprint.doc(operation_id="afterMatch", summary="Who recovers from the last match, and who tops up with what")
def read(slug: str, query_data: DayQuery) -> AfterMatch | None:
    squad = context.squad(slug)
    return _read(squad, context.sane(query_data.day))


@blueprint.post("")
@blueprint.input(schemas.PlanAfterIn)
@blueprint.output(schemas.PlannedAfterOut)
@blueprint.doc(operation_id="planAfterMatch", summary="Plan a recovery and a top-up for these people")
def plan(slug: str, json_data: schemas.PlanAfterIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.PLAN)
    found = _read(squad, context.sane(json_data.day))
    if found is None or not found.may:
        raise Invalid("There is no match to recover from on a day that is still to come.", field="day")
    if found.planned:
        raise Invalid("The day after this match is planned already.", field="day")
    chosen = [row for row in found.rows if row.athlete_id in json_data.athletes and row.minutes > 0]
    if not chosen:
        raise Invalid("Choose who recovers and who tops up.", field="athletes")
    at, made = time.fromisoformat(json_data.at), []
    for title, does, kind, effort in (
        (topups.RECOVERY, Does.RECOVER, SessionKind.RECOVERY, topups.RECOVERY_EFFORT),
        (topups.TOP_UP, Does.TOP_UP, SessionKind.RUN, topups.TOP_UP_EFFORT),
    ):
        rows = [row for row in chosen if row.does is does]
        if rows:
            wanted = making.Wanted(kind, title, found.on, at, max(row.minutes for row in rows), effort)
            made.append(_for_some(squad, wanted, rows))
    return {"sessions": [one.id for one in made], "on": found.on}


def _for_some(squad: Squad, wanted: making.Wanted, rows: list[AfterRow]) -> Session:
    """A session that some have minutes in, and nobody else."""
    db, stamp = context.db(), context.stamp()
    (session,) = making.make_sessions(db, squad, wanted, until=None, stamp=stamp)
    mine = {row.athlete_id: row for row in rows}
    people = [one.athlete_id for one in queries.squad.members(db, squad.id, wanted.day)]
    own = {(one, session.id): mine[one].minutes if one in mine else 0.0 for one in people}
    loads = {(row.athlete_id, session.id): row.loads for row in rows if row.loads}
    saving.plan_own(db, squad, own, stamp=stamp, loads=loads)
    return session


@blueprint.post("/take-back")
@blueprint.input(schemas.TakeAfterIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="takeBackAfterMatch", summary="Take the sessions after a match away again")
def take_back(slug: str, json_data: schemas.TakeAfterIn) -> dict[str, bool]:
    squad, db = context.squad(slug, Action.PLAN), context.db()
    for name in json_data.sessions:
        session = making.find(db, squad, name)
        if not topups.is_for_some(db, session):
            raise Invalid("Only what was planned after a match is taken back so.", field="sessions")
        making.delete_session(db, squad, name, version=WHATEVER, stamp=context.stamp())
    return {"done": True}


@blueprint.put("/form")
@blueprint.input(schemas.TopUpFormIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="topUpForm", summary="What a position tops up with")
def form(slug: str, json_data: schemas.TopUpFormIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.PLAN)
    topups.chosen_form(squad, json_data.position, json_data.form)
    return {"done": True}

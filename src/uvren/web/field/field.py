"""The session as it runs, at the pitch: parts, counts, breaks, who left, notes, and what it was in the end."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, date, datetime, timedelta
from typing import Any

from apiflask import APIBlueprint
from flask import request

from uvren.core import words as say
from uvren.core.calendar import match_offset
from uvren.core.day import CallKind
from uvren.core.day.standing import SHARE_OF_PLAN
from uvren.services.club.permissions import Action
from uvren.services.day.dates import local_day
from uvren.services.day.loads import refresh_daily_loads
from uvren.services.day.spells import spells_of
from uvren.services.errors import NotFound
from uvren.services.field import ending, noting
from uvren.services.field.live import all_sent
from uvren.services.field.owing import read_owed
from uvren.services.field.places import match_before, read_places
from uvren.services.morning import Lane, read_morning
from uvren.services.morning.sheet import GROUPS, Line, read_sheet
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.session.recordings import keep_recording
from uvren.services.session.traces import Span, set_segments
from uvren.services.session.work import WorkChange, record_work
from uvren.services.session.work_grid import countables_on
from uvren.store import queries
from uvren.store.models import FieldEvent, RecordingKind, Session, SessionKind, SpellLimit, Squad
from uvren.web import context
from uvren.web.answers import until_changed
from uvren.web.field import field_schemas as schemas
from uvren.web.schemas import DayQuery, DoneOut

# So far from a day a match is near it.
NEAR = timedelta(days=10)

blueprint = APIBlueprint("field", __name__, url_prefix="/api/squads/<slug>")


def _noted(squad: Squad) -> object:
    """What was noted of the sessions of the day that is asked for, and of the match whose places they go by."""
    try:
        day = date.fromisoformat(request.args.get("day", ""))
    except ValueError:
        return None
    found = queries.session.sessions_between(context.db(), squad.id, day, day)
    before = [name for one in found if (name := match_before(context.db(), squad, one)) is not None]
    return queries.field.last_noted(context.db(), [*(one.id for one in found), *before])


@blueprint.get("/field")
@until_changed(Action.RUN_SESSIONS, also=_noted)
@blueprint.input(schemas.FieldQuery, location="query")
@blueprint.output(schemas.FieldOut)
@blueprint.doc(operation_id="field", summary="A session as it is run: parts, groups, room in minutes, what was noted")
def read(slug: str, query_data: schemas.FieldQuery) -> dict[str, Any]:
    squad = context.squad(slug, Action.RUN_SESSIONS)
    day = context.sane(query_data.day)
    sessions = queries.session.sessions_between(context.db(), squad.id, day, day)
    session = _chosen(sessions, query_data.session)
    limits = queries.field.spell_limits(context.db(), squad.id, day)
    near = queries.session.sessions_between(context.db(), squad.id, day - NEAR, day + NEAR)
    matches = {one.day for one in near if one.kind is SessionKind.MATCH}
    return {
        "day": day,
        "session": session,
        "planned_minutes": session.planned_minutes,
        "planned_effort": session.planned_effort,
        "offset": match_offset(day, matches),
        "sessions": sessions,
        "parts": session.segments,
        "events": _events(session.id),
        "spells": limits,
        "countables": countables_on(context.db(), squad, day),
        "places": read_places(context.db(), squad, session),
        "groups": [{"code": code, "name": name} for code, name in GROUPS.items()],
        "rows": _rows(squad, session, limits),
    }


def _chosen(sessions: Sequence[Session], wanted: str | None) -> Session:
    """The session that is asked for, else the one that runs, else the last of the day with parts."""
    if wanted is not None:
        found = next((one for one in sessions if one.id == wanted), None)
        if found is None:
            raise NotFound("There is no such session on this day.")
        return found
    if not sessions:
        raise NotFound("There is no session on this day.")
    noted = [one for one in sessions if queries.field.field_events(context.db(), one.id)]
    with_parts = [one for one in sessions if one.segments]
    return (noted or with_parts or list(sessions))[-1]


def _rows(squad: Squad, session: Session, limits: Sequence[SpellLimit]) -> list[dict[str, Any]]:
    today = context.today(squad)
    sheet = read_sheet(context.db(), squad, session.day, today)
    morning = read_morning(context.db(), squad, session.day, today, audiences=context.audiences(squad))[0]
    lanes = {one.athlete_id: one for one in morning.lanes}
    planned = {one.athlete_id: one.planned_minutes for one in queries.session.entries_of(context.db(), [session.id])}
    reasons = context.person().may(Action.READ_REASONS, squad.id)
    to_call = [line.athlete_id for line in sheet.lines if line.open and lanes[line.athlete_id].standing.owes]
    owed = read_owed(context.db(), squad, session.day, today, to_call)
    out = []
    for line in sheet.lines:
        lane = lanes[line.athlete_id]
        mine = planned.get(line.athlete_id)
        whole = session.planned_minutes if mine is None else mine
        plan = lane.standing.share(lane.minutes) * whole
        out.append(
            {name: getattr(line, name) for name in ("athlete_id", "name", "number", "position", "group", "how")}
            | {
                "room_minutes": None if lane.room.load is None else lane.room.load / max(lane.effort, 0.5),
                "plan_minutes": plan,
                "minimum_minutes": min(SHARE_OF_PLAN[CallKind.MINIMUM] * whole, plan),
                "spells": [
                    {"what": what, "most": rule.most, "seconds": rule.seconds}
                    for what, rule in spells_of(limits, line.athlete_id).items()
                ],
                "to_call": _why(line, lane, reasons) if line.open else "",
                "owed": owed.get(line.athlete_id, ""),
                "called": lane.call.kind if lane.call else None,
            }
        )
    return out


def _why(line: Line, lane: Lane, reasons: bool) -> str:
    """Why somebody is called: what was noticed, for who may read reasons; for others what is to change."""
    said = [notice.sentence for notice in lane.notices if not notice.quiet] if reasons else []
    return next((one for one in (*said[:1], lane.said, line.how) if one), "somebody has to say first").rstrip(".")


def _events(session_id: str) -> list[dict[str, Any]]:
    return [_event(one) for one in queries.field.field_events(context.db(), session_id)]


def _event(one: FieldEvent) -> dict[str, Any]:
    names = ("id", "kind", "at", "athlete_id", "part", "amount", "what", "words")
    return {name: getattr(one, name) for name in names} | {"by": one.maker.name if one.maker else ""}


@blueprint.post("/sessions/<session_id>/field")
@blueprint.input(schemas.EventsIn)
@blueprint.output(schemas.NotedOut)
@blueprint.doc(operation_id="noteOnField", summary="Note what happens in a session; what is sent twice counts once")
def note(slug: str, session_id: str, json_data: schemas.EventsIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.RUN_SESSIONS)
    events = [noting.NewEvent(**one.model_dump()) for one in json_data.events]
    noting.note(context.db(), squad, session_id, events, stamp=context.stamp())
    return {"events": _events(session_id)}


@blueprint.delete("/sessions/<session_id>/field/<event_id>")
@blueprint.output(schemas.NotedOut)
@blueprint.doc(operation_id="takeBackOnField", summary="Let something noted not count any more")
def take_back(slug: str, session_id: str, event_id: str) -> dict[str, Any]:
    squad = context.squad(slug, Action.RUN_SESSIONS)
    noting.take_back(context.db(), squad, session_id, event_id, stamp=context.stamp())
    return {"events": _events(session_id)}


@blueprint.put("/field/spells")
@blueprint.input(DayQuery, location="query")
@blueprint.input(schemas.SpellIn)
@blueprint.output(schemas.SpellOut)
@blueprint.doc(operation_id="setSpell", summary="At most so many of something in a spell, then a break")
def set_spell(slug: str, query_data: DayQuery, json_data: schemas.SpellIn) -> Any:
    squad = context.squad(slug, Action.RUN_SESSIONS)
    new = noting.NewSpell(**json_data.model_dump())
    return noting.set_spell(context.db(), squad, new, context.sane(query_data.day), stamp=context.stamp())


@blueprint.delete("/field/spells/<spell_id>")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="withdrawSpell", summary="Let a spell hold no longer")
def withdraw_spell(slug: str, spell_id: str) -> dict[str, bool]:
    squad = context.squad(slug, Action.RUN_SESSIONS)
    noting.withdraw_spell(context.db(), squad, spell_id, stamp=context.stamp())
    return {"done": True}


@blueprint.post("/sessions/<session_id>/field/finish")
@blueprint.output(schemas.FinishedOut)
@blueprint.doc(operation_id="finishSession", summary="Keep what a session was: its parts, counts and minutes")
def finish(slug: str, session_id: str) -> dict[str, Any]:
    squad = context.squad(slug, Action.RUN_SESSIONS)
    db, today = context.db(), context.today(squad)
    found = ending.ran(db, squad, session_id)
    ending.begin_at(found.session, found.began_at, local_day(squad, found.began_at))
    shift = (found.began_at - found.session.starts_at).total_seconds() / 60
    spans = [Span(**one._replace(begins=one.begins + shift)._asdict()) for one in found.parts]
    set_segments(db, squad, session_id, spans, stamp=context.stamp())
    kept = [say.count(len(spans), "part")]
    left = _keep_counts(squad, found, today, kept) + _keep_minutes(squad, found, today, kept)
    _keep_recordings(squad, found.session, kept)
    return {"session_id": session_id, "kept": kept, "left": left}


def _keep_counts(squad: Squad, found: ending.Ran, today: date, kept: list[str]) -> list[str]:
    """Counts go where counts are kept; what somebody typed there already stays."""
    db, session = context.db(), found.session
    typed = {one.athlete_id for one in queries.session.works_of(db, [session.id]) if one.what == "counted"}
    changes = [
        WorkChange(session.id, who, "counted", {"items": [
            {"class": what, "surface": None, "posture": None, "count": float(n)} for what, n in counts.items()
        ]})
        for who, counts in found.counts.items() if who not in typed and counts
    ]  # fmt: skip
    if changes:
        record_work(db, squad.id, changes, stamp=context.stamp(), today=today)
        kept.append(f"counts of {say.count(len(changes), 'athlete')}")
    n = len(typed & set(found.counts))
    return [f"counts of {say.count(n, 'athlete')} that were there already"] if n else []


def _keep_minutes(squad: Squad, found: ending.Ran, today: date, kept: list[str]) -> list[str]:
    """Minutes of a match, or of who left early; what somebody has said already stays."""
    db, session = context.db(), found.session
    entries = {one.athlete_id: one for one in queries.session.entries_of(db, [session.id])}
    said = {who for who, one in entries.items() if one.minutes is not None}
    changes = [
        EntryChange(session.id, who, minutes, None, words=entries[who].words if who in entries else None,
                    version=entries[who].version if who in entries else None)
        for who, minutes in found.minutes.items() if who not in said
    ]  # fmt: skip
    if changes:
        record_entries(db, squad.id, changes, stamp=context.stamp(), today=today)
        kept.append(f"minutes of {say.count(len(changes), 'athlete')}")
    n = len(said & set(found.minutes))
    return [f"minutes of {say.count(n, 'athlete')} that were there already"] if n else []


_COLUMN = {RecordingKind.HEART_RATE: "hr", RecordingKind.POSITION: "speed"}


def _keep_recordings(squad: Squad, session: Session, kept: list[str]) -> None:
    """What came in pieces while it ran is one recording from now on, as if a file had brought it."""
    db = context.db()
    made = set()
    for one in all_sent(db, session):
        began = datetime.fromtimestamp(float(one.t[0]), UTC)
        columns = {"t": one.t - one.t[0], _COLUMN[one.kind]: one.value}
        if keep_recording(db, squad, session, one.athlete_id, one.kind, one.device, began, columns):
            made.add(one.athlete_id)
    if made:
        queries.field.drop_chunks(db, session.id)
        refresh_daily_loads(db, squad.id, {(who, session.day) for who in made})
        kept.append(f"recordings of {say.count(len(made), 'athlete')}")

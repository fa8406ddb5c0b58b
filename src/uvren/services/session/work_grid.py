"""One session's work: what was counted and lifted by whom, and what it comes to on each channel."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any, Literal

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.ratings import OWN_DAYS, Origin
from uvren.core.units import (
    CountedWork,
    HeartRateLoad,
    Lifting,
    MaximumFormula,
    SegmentEffort,
    estimated_maximum,
)
from uvren.services.day.desk import ChannelName, name_of
from uvren.services.day.loads import Done, channel_loads, definition_on, definitions_of, lifts_of
from uvren.services.session.sessions import find_session
from uvren.services.session.work import checked
from uvren.store import queries
from uvren.store.models import Channel, Session, Squad, Work
from uvren.store.queries.squad import Member

MAXIMUM_DAYS = 90


@dataclass(frozen=True)
class ChannelLoad:
    """What a session comes to for an athlete on a channel; ``load`` None is unknown."""

    code: str
    load: float | None
    state: Literal["measured", "estimated", "missing"]


@dataclass(frozen=True)
class WorkRow:
    member: Member
    minutes: float | None
    works: dict[str, Work]
    loads: list[ChannelLoad]
    maxima: dict[str, float]


@dataclass(frozen=True)
class Countable:
    """What can be counted in a session: classes, surfaces and postures of all counted channels, each once."""

    code: str
    name: str
    weight: float
    channel: str


@dataclass(frozen=True)
class SessionWork:
    """A session's work. ``by_segment`` and ``zones`` (how many) say what else a channel of the squad asks for."""

    session: Session
    channels: list[ChannelName]
    classes: list[Countable]
    surfaces: list[Countable]
    postures: list[Countable]
    exercises: list[str]
    lifting: bool
    by_segment: bool
    zones: int
    rows: list[WorkRow]


def countables_on(db: DbSession, squad: Squad, day: date) -> list[Countable]:
    """What the squad counts on a day, the hardest of each kind first."""
    found: dict[str, Countable] = {}
    for channel in queries.squad.channels(db, squad.id):
        definition = definition_on(definitions_of(channel), day)
        if definition is not None and isinstance(definition.form, CountedWork):
            for each in definition.form.classes:
                found.setdefault(each.code, Countable(each.code, each.name, each.weight, channel.code))
    return list(found.values())


def read_session_work(db: DbSession, squad: Squad, session_id: str) -> SessionWork:
    """Everyone's work in a session. Raises NotFound."""
    session = find_session(db, squad, session_id)
    day = session.day
    done = Done(db, squad.id, day - timedelta(days=OWN_DAYS), day)
    works: dict[int, dict[str, Work]] = defaultdict(dict)
    for work in queries.session.works_of(db, [session.id]):
        works[work.athlete_id][work.what] = work
    kind = queries.session.KIND_CODES[session.kind]
    shown: list[ChannelName] = []
    loads: dict[int, list[ChannelLoad]] = defaultdict(list)
    classes: dict[str, Countable] = {}
    surfaces: dict[str, Countable] = {}
    postures: dict[str, Countable] = {}
    lifting = by_segment = False
    zones = 0
    for channel in queries.squad.channels(db, squad.id):
        definition = definition_on(definitions_of(channel), day)
        if definition is None or kind not in definition.kinds:
            continue
        shown.append(name_of(channel))
        form = definition.form
        lifting |= isinstance(form, Lifting)
        by_segment |= isinstance(form, SegmentEffort)
        if isinstance(form, HeartRateLoad):
            zones = max(zones, form.zones)
        if isinstance(form, CountedWork):
            for kept, given in ((classes, form.classes), (surfaces, form.surfaces), (postures, form.postures)):
                for each in given:
                    kept.setdefault(each.code, Countable(each.code, each.name, each.weight, channel.code))
        if session.done:
            for athlete, load in _loads(done, channel, session.id):
                loads[athlete].append(load)
    maxima, exercises = _maxima(db, squad, day)
    minutes = {athlete: done.entries.minutes[i] for (key, athlete), i in done.index.items() if key == session.id}
    rows = [
        WorkRow(
            member=member,
            minutes=_number(minutes.get(member.athlete_id, np.nan)),
            works=works[member.athlete_id],
            loads=loads[member.athlete_id],
            maxima=maxima[member.athlete_id],
        )
        for member in queries.squad.members(db, squad.id, day)
    ]
    return SessionWork(
        session,
        shown,
        list(classes.values()),
        list(surfaces.values()),
        list(postures.values()),
        exercises,
        lifting,
        by_segment,
        zones,
        rows,
    )


def _number(value: float) -> float | None:
    return None if np.isnan(value) else float(value)


_STATES: dict[Origin, Literal["measured", "estimated", "missing"]] = {
    Origin.MEASURED: "measured",
    Origin.OWN_MEDIAN: "estimated",
    Origin.TEAM_MEDIAN: "estimated",
    Origin.MISSING: "missing",
    Origin.GIVEN: "measured",
}


def _loads(done: Done, channel: Channel, session_id: str) -> list[tuple[int, ChannelLoad]]:
    found = channel_loads(done, channel.code, definitions_of(channel))
    out = []
    for (key, athlete), i in done.index.items():
        if key == session_id and found.expected[i]:
            state = _STATES[Origin(int(found.filled.origin[i]))]
            out.append((athlete, ChannelLoad(channel.code, _number(found.filled.load[i]), state)))
    return out


def _maxima(db: DbSession, squad: Squad, day: date) -> tuple[dict[int, dict[str, float]], list[str]]:
    """Best estimated maximum (Epley) by athlete and exercise over the last 90 days, and the exercises by how usual."""
    rows = queries.session.works_between(
        db, squad.id, ["lifting"], day - timedelta(days=MAXIMUM_DAYS), day - timedelta(days=1)
    )
    maxima: dict[int, dict[str, float]] = defaultdict(dict)
    usual: dict[str, int] = defaultdict(int)
    items: list[tuple[int, dict[str, Any]]] = [(row[1], item) for row in rows for item in row[3]["items"]]
    if not items:
        return maxima, []
    lifts = lifts_of(items)
    best = estimated_maximum(lifts.kg, lifts.reps, lifts.reserve, MaximumFormula.EPLEY)
    for athlete, exercise, value in zip(lifts.owner.tolist(), lifts.exercise, best.tolist(), strict=True):
        usual[exercise] += 1
        if value == value and value > maxima[athlete].get(exercise, 0.0):
            maxima[athlete][exercise] = value
    return maxima, sorted(usual, key=lambda exercise: -usual[exercise])


@dataclass(frozen=True)
class SetEstimate:
    """What a line of a lifting sheet comes to, in kg; maxima are None outside 1 to 12 repetitions."""

    tonnage: float
    epley: float | None
    brzycki: float | None


def estimate_sets(items: list[dict[str, Any]]) -> list[SetEstimate]:
    """Tonnage and estimated maxima of each line. Raises Invalid with the path of the value at fault."""
    if not items:
        return []
    good = checked("lifting", {"items": items}, "lifting")["items"]
    lifts = lifts_of(list(enumerate(good)))
    tonnage = lifts.sets * lifts.reps * lifts.kg
    epley, brzycki = (estimated_maximum(lifts.kg, lifts.reps, lifts.reserve, formula) for formula in MaximumFormula)
    return [
        SetEstimate(float(total), _number(one), _number(other))
        for total, one, other in zip(tonnage, epley, brzycki, strict=True)
    ]

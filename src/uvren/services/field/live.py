"""A session live: what devices sent so far, and each person's lane."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.field import Field
from uvren.core.live import Aim, Height, Relation, aim, efforts, judge, pulse, relation, smooth, used
from uvren.core.recordings import HeartAnchors, Samples, clean_heart_rate, impulse
from uvren.core.units import EffortMinutes, HeartRateLoad
from uvren.core.units.sensors import HeartMethod
from uvren.core.windows import Floats
from uvren.services.day.loads import KNOWN, Done, anchor_book, channel_loads, definition_on, definitions_of
from uvren.store import queries
from uvren.store.models import RecordingKind, Session, Squad

# Days of sessions from which the own relation of rating to heart rate is told.
RELATION_DAYS = 60
# The ribbon: ten minutes, a point every ten seconds.
RIBBON_SECONDS, STEP = 600.0, 10.0


@dataclass(frozen=True)
class Person:
    """Who is in the session: how hard at most, room today before it, and how long it is planned for them."""

    athlete_id: int
    name: str
    number: int | None
    position: str
    group: str
    cap: float
    room: float | None
    minutes: float


@dataclass(frozen=True)
class Setting:
    """What lanes are held against: people with their anchors and relations, and the effort of each part."""

    session: Session
    people: list[Person]
    anchors: Mapping[int, HeartAnchors]
    relations: Mapping[int, Relation]
    efforts: Mapping[int, float]
    before_match: bool

    def aim_of(self, person: Person, part: int | None) -> Aim | None:
        if part is None or part not in self.efforts:
            return None
        return aim(self.efforts[part], before_match=self.before_match, cap=person.cap)


def setting(db: DbSession, squad: Squad, session: Session, people: Sequence[Person], before_match: bool) -> Setting:
    ids = [one.athlete_id for one in people]
    book = anchor_book(db, ids, session.day)
    parts = session.segments
    each = efforts(session.planned_effort, [one.minutes for one in parts], [one.weight for one in parts])
    return Setting(
        session,
        list(people),
        {one: book.heart(one, session.day) for one in ids},
        _relations(db, squad, ids, session.day),
        {part.place: effort for part, effort in zip(parts, each, strict=True)},
        before_match,
    )


def _relations(db: DbSession, squad: Squad, athletes: Sequence[int], day: date) -> dict[int, Relation]:
    """Of everybody the usual relation of session load to impulse; empty without a channel of impulse."""
    main = impulses = None
    for channel in queries.squad.channels(db, squad.id):
        definition = definition_on(definitions_of(channel), day)
        form = None if definition is None else definition.form
        if isinstance(form, EffortMinutes) and channel.is_main:
            main = channel
        elif isinstance(form, HeartRateLoad) and form.method is HeartMethod.BANISTER:
            impulses = channel
    if main is None or impulses is None:
        return {}
    done = Done(db, squad.id, day - timedelta(days=RELATION_DAYS), day - timedelta(days=1))
    # Only what was rated and measured: an estimate of one by the other would prove itself.
    load = np.where(np.isnan(done.entries.effort), np.nan, done.entries.effort * done.entries.minutes)
    measured = channel_loads(done, impulses.code, definitions_of(impulses))
    heart = np.where(np.isin(measured.filled.origin, KNOWN) & measured.expected, measured.filled.load, np.nan)
    found = {one: relation(load[done.entries.athlete == one], heart[done.entries.athlete == one]) for one in athletes}
    return {one: rel for one, rel in found.items() if rel is not None}


class Stream:
    """What devices sent of a session so far, read on from where it was left."""

    def __init__(self, session: Session) -> None:
        self.session_id = session.id
        self.last = 0
        self._parts: dict[tuple[int, str], list[tuple[Floats, Floats, Floats]]] = {}
        self._read: dict[int, tuple[Samples, Floats]] = {}

    def advance(self, db: DbSession) -> bool:
        """Read what came since; whether there was anything."""
        rows = queries.field.chunks_after(db, self.session_id, self.last)
        for key, athlete, device, kind, begins_at, received_at, data in rows:
            self.last = key
            if kind is not RecordingKind.HEART_RATE:
                continue
            t, value = np.frombuffer(data, dtype="<f8").reshape(2, -1)
            received = np.full(t.size, received_at.timestamp())
            self._parts.setdefault((athlete, device), []).append((t + begins_at.timestamp(), value, received))
            self._read.pop(athlete, None)
        return bool(rows)

    def devices(self, athlete: int) -> list[str]:
        return [device for who, device in self._parts if who == athlete]

    def heart(self, athlete: int) -> tuple[Samples, Floats]:
        """Cleaned heart rate of the strap that sent most, and when each sample came in."""
        if athlete not in self._read:
            self._read[athlete] = self._heart(athlete)
        return self._read[athlete]

    def _heart(self, athlete: int) -> tuple[Samples, Floats]:
        mine = [key for key in self._parts if key[0] == athlete]
        if not mine:
            return clean_heart_rate(np.zeros(0), np.zeros(0)), np.zeros(0)
        for key in mine:
            # As one piece: an hour of pieces of a second each is a heap of small arrays.
            whole = tuple(np.concatenate(column) for column in zip(*self._parts[key], strict=True))
            self._parts[key] = [(whole[0], whole[1], whole[2])]
        t, value, received = max((self._parts[key][0] for key in mine), key=lambda each: each[0].size)
        samples = clean_heart_rate(t, value)
        order = np.argsort(t, kind="stable")
        came = received[order][np.clip(np.searchsorted(t[order], samples.t), 0, t.size - 1)]
        return samples, came


@dataclass(frozen=True)
class Sent:
    """All that one device sent of somebody in a session: seconds of the common era, rising, and values."""

    athlete_id: int
    device: str
    kind: RecordingKind
    t: Floats
    value: Floats


def all_sent(db: DbSession, session: Session) -> list[Sent]:
    """What came of a session, put together device by device."""
    pieces: dict[tuple[int, str, RecordingKind], list[Floats]] = {}
    for _, athlete, device, kind, begins_at, _, data in queries.field.chunks_after(db, session.id, 0):
        t, value = np.frombuffer(data, dtype="<f8").reshape(2, -1)
        pieces.setdefault((athlete, device, kind), []).append(np.stack([t + begins_at.timestamp(), value]))
    out = []
    for (athlete, device, kind), each in pieces.items():
        t, value = np.concatenate(each, axis=1)
        order = np.argsort(t, kind="stable")
        out.append(Sent(athlete, device, kind, t[order], value[order]))
    return out


@dataclass(frozen=True)
class LiveLane:
    """One athlete now. ``ribbon`` has a share of the maximum for every ten seconds of the last ten minutes.

    ``load`` is of this session so far by the own relation, ``error`` its SD; ``left`` what room leaves after it.
    """

    athlete_id: int
    name: str
    number: int | None
    position: str
    group: str
    height: int
    sentence: str
    mark: str
    share: float | None
    bpm: float | None
    seen_at: float | None
    fault: str | None
    low: float | None
    high: float | None
    ribbon: list[float | None]
    load: float | None
    error: float | None
    left: float | None
    minutes: float | None
    devices: list[str]
    gone: bool


def lanes(found: Setting, stream: Stream, state: Field, now: float) -> list[LiveLane]:
    """Everybody's lane; who has left stays in their place and asks for nothing."""
    begun = state.runs[0].begin if state.runs else None
    return [_lane(found, person, stream, state, begun, now) for person in found.people]


def _lane(found: Setting, person: Person, stream: Stream, state: Field, begun: float | None, now: float) -> LiveLane:
    who = person.athlete_id
    samples, received = stream.heart(who)
    anchors = found.anchors[who]
    running = state.running
    target = found.aim_of(person, running.part if running else None)
    maximum = anchors.hr_max
    seen = pulse(samples, received, _aims(samples.t, found, person, state), maximum or np.inf, now)
    if maximum is None:
        seen = replace(seen, share=None)
    of_session = samples.between(begun, now + 1) if begun is not None else samples
    impulses, own = impulse(of_session, anchors), found.relations.get(who)
    so_far = None if impulses is None or own is None else used(impulses, of_session.t, own, person.room, now)
    gone = who in state.left
    left_minutes = max(person.minutes - ((now - begun) / 60 if begun is not None else 0.0), 0.0)
    lane = judge(seen, so_far, target, left_minutes)
    return LiveLane(
        athlete_id=who, name=person.name, number=person.number, position=person.position, group=person.group,
        height=int(Height.REST if gone or not stream.devices(who) else lane.height),
        sentence="has left" if gone else lane.sentence if stream.devices(who) else "no sensor",
        mark="" if gone else lane.mark, share=seen.share, bpm=seen.bpm, seen_at=seen.at,
        fault=seen.fault.value if seen.fault and stream.devices(who) else None,
        low=target.low if target else None, high=target.high if target else None,
        ribbon=_ribbon(samples, maximum, now),
        load=so_far.load if so_far else None, error=so_far.error if so_far else None,
        left=so_far.left if so_far else None,
        minutes=so_far.minutes if so_far and so_far.minutes is not None and np.isfinite(so_far.minutes) else None,
        devices=stream.devices(who), gone=gone,
    )  # fmt: skip


def _aims(t: Floats, found: Setting, person: Person, state: Field) -> tuple[Floats, Floats]:
    """The aim at each moment: that of the part that ran; none between parts."""
    low, high = np.full(t.shape, -np.inf), np.full(t.shape, np.inf)
    for run in state.runs:
        target = found.aim_of(person, run.part)
        if target is not None:
            inside = (t >= run.begin) & (t < (np.inf if run.end is None else run.end))
            low[inside], high[inside] = target.low, target.high
    return low, high


def _ribbon(samples: Samples, maximum: float | None, now: float) -> list[float | None]:
    if maximum is None or samples.t.size == 0:
        return []
    recent = samples.between(now - RIBBON_SECONDS - 15, now + 1)
    if recent.t.size == 0:
        return []
    share = smooth(recent) / maximum * 100
    at = now - RIBBON_SECONDS + STEP * (np.arange(int(RIBBON_SECONDS / STEP)) + 1)
    last = np.searchsorted(recent.t, at, side="right") - 1
    fresh = (last >= 0) & (at - recent.t[np.maximum(last, 0)] <= STEP)
    return [round(float(share[i]), 1) if ok else None for i, ok in zip(last, fresh, strict=True)]

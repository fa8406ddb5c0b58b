"""The demo squads' units of work: their channels, the athletes' anchors, and what was counted, lifted and measured."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.services.session.entries import EntryChange
from uvren.services.session.work import WorkChange, record_work
from uvren.services.squad.anchors import NewAnchor, set_anchor
from uvren.services.squad.channels import Draft, save_channel
from uvren.services.squad.limits import NewLimit, set_limit
from uvren.services.stamp import Stamp
from uvren.simulate.athletes import Truth
from uvren.simulate.seasons import FIRST, NOW, TODAY
from uvren.store.models import AnchorKind, Scope, Session, SessionKind, Source, Squad, User
from uvren.store.versions import written_at

# Straps and pods came into use in the second autumn.
SENSORS_FROM = date(2025, 11, 3)
THROWS = ("Full throw", "Placed throw", "Pass")
LANDINGS = ("Jump shot landing", "Block landing", "Step landing")
EXERCISES = (("Back squat", 1.5), ("Bench press", 1.0), ("Pull-up, weighted", 0.35), ("Romanian deadlift", 1.3))


def _classes(names: Sequence[str], weights: Sequence[float]) -> list[dict[str, object]]:
    return [{"code": name.lower(), "name": name, "weight": weight} for name, weight in zip(names, weights, strict=True)]


_BALL = [SessionKind.COURT, SessionKind.MATCH]
_RUNNING = [*_BALL, SessionKind.RUN]
_COURT_SURFACES = _classes(("Sports floor", "Concrete", "Sand"), (1.0, 1.2, 0.6))

HANDBALL = (
    Draft("Throws", "throws", "counted", {"classes": _classes(THROWS, (1.0, 0.55, 0.15))}, _BALL,
          ["shoulder", "elbow and wrist"], "wedge", FIRST, "Agreed with the coach"),
    Draft("Landings", "landings", "counted",
          {"classes": _classes(LANDINGS, (1.0, 0.7, 0.25)), "surfaces": _COURT_SURFACES}, _BALL,
          ["knee", "shin and calf"], "square", FIRST, "Agreed with the coach"),
    Draft("Lifting", "kg", "lifting", {"measure": "tonnage"}, [SessionKind.GYM], ["whole body"], "bar", FIRST,
          "Agreed with the coach"),
    Draft("Heart-rate impulse", "impulse", "heart_rate", {"method": "banister"}, _RUNNING, ["whole body"], "wave",
          SENSORS_FROM, "Straps for everyone"),
    Draft("Fast running", "m", "position", {"measure": "distance_above", "speed": 5.0}, _BALL,
          ["thigh", "hip and groin"], "fork", SENSORS_FROM, "Pods for everyone"),
)  # fmt: skip
SKI = (
    Draft("Zone minutes", "zone min", "heart_rate",
          {"method": "three_zones", "places": {"Roller skis": 0.95, "Trail": 1.1}},
          [SessionKind.SKI, SessionKind.RUN, SessionKind.MATCH], ["whole body"], "wave", FIRST, "Straps for everyone"),
)  # fmt: skip

# (channel, rule, value, hard, source)
HANDBALL_LIMITS = (
    ("throws", "ratio_ceiling", 1.5, True, "Squad agreement, August 2024"),
    ("throws", "week_change_cap", 0.5, True, "Squad agreement, August 2024"),
    ("landings", "ratio_ceiling", 1.5, True, "Squad agreement, August 2024"),
    ("lifting", "week_change_cap", 0.6, False, "Squad agreement, August 2024"),
)


@dataclass(frozen=True)
class Physique:
    """What is true of an athlete's body beside their answer to work. Rates are a minute of full work."""

    hr_max: float
    hr_rest: float
    speed_max: float
    mass: float
    strength: float
    throws: float
    landings: float
    fast: float


_BY_POSITION = {
    # throws, landings and fast metres a minute
    "keeper": (0.5, 0.25, 0.6),
    "wing": (1.0, 0.75, 7.5),
    "back": (1.6, 1.0, 4.5),
    "pivot": (0.8, 0.8, 3.5),
    "skier": (0.0, 0.0, 0.0),
}


def physiques(truths: Sequence[Truth], random: np.random.Generator) -> list[Physique]:
    out = []
    for truth in truths:
        throws, landings, fast = (rate * float(random.uniform(0.85, 1.15)) for rate in _BY_POSITION[truth.position])
        out.append(
            Physique(
                hr_max=float(round(random.normal(193, 6))),
                hr_rest=float(round(random.normal(52, 4))),
                speed_max=float(np.round(random.normal(7.6, 0.35), 2)),
                mass=float(np.round(random.normal(84, 8), 1)),
                strength=float(random.normal(1.0, 0.1)),
                throws=throws,
                landings=landings,
                fast=fast,
            )
        )
    return out


def set_up_units(
    db: DbSession, squad: Squad, drafts: Sequence[Draft], limits: Sequence[tuple[str, str, float, bool, str]],
    staff: User, agreed: datetime
) -> None:  # fmt: skip
    for draft in drafts:
        save_channel(db, squad, draft, code=None, recompute=True, stamp=Stamp(staff.id, agreed), today=draft.from_day)
    for channel, rule, value, hard, source in limits:
        wanted = NewLimit(
            rule=rule, value=value, settings={"school": "ewma"} if rule.startswith("ratio") else {}, hard=hard,
            scope=Scope.SQUAD, position=None, athlete_id=None, from_day=FIRST, source=source,
            reason="Agreed for the season", channel=channel,
        )  # fmt: skip
        written_at(db, agreed)
        set_limit(db, squad, wanted, stamp=Stamp(staff.id, agreed), today=FIRST)
        written_at(db, NOW)


def set_anchors(
    db: DbSession, squad: Squad, ids: Sequence[int], truths: Sequence[Truth], bodies: Sequence[Physique], staff: User,
    agreed: datetime
) -> None:  # fmt: skip
    for athlete, truth, body in zip(ids, truths, bodies, strict=True):
        values: list[tuple[AnchorKind, float | None, str | None, str]] = [
            (AnchorKind.HR_MAX, body.hr_max, None, "Running test"),
            (AnchorKind.HR_REST, body.hr_rest, None, "Morning strap"),
            (AnchorKind.SEX, None, "male", ""),
            (AnchorKind.BODY_MASS, body.mass, None, "Scales"),
        ]
        if truth.position == "skier":
            values += [
                (AnchorKind.THRESHOLD_1, float(round(body.hr_max * 0.78)), None, "Lactate profile"),
                (AnchorKind.THRESHOLD_2, float(round(body.hr_max * 0.9)), None, "Lactate profile"),
            ]
        else:
            values.append((AnchorKind.SPEED_MAX, body.speed_max, None, "30 m sprint"))
            years = 0.2 if truth.joined > FIRST else 3.0 + athlete % 9
            values.append((AnchorKind.EXPERIENCE_YEARS, years, None, "Asked"))
            values.append((AnchorKind.DOMINANT_SIDE, None, "left" if athlete % 6 == 0 else "right", ""))
        for kind, value, word, source in values:
            wanted = NewAnchor(athlete, kind, value, word, truth.joined, source)
            set_anchor(db, squad, wanted, stamp=Stamp(staff.id, agreed), today=truth.joined)


def record_units(
    db: DbSession, squad: Squad, ids: Sequence[int], truths: Sequence[Truth], bodies: Sequence[Physique],
    sessions: Sequence[Session], done: Sequence[EntryChange], random: np.random.Generator, staff: User
) -> None:  # fmt: skip
    """What was counted, lifted and measured in every session that is over."""
    by_id = {session.id: session for session in sessions}
    people = {athlete: (truth, body) for athlete, truth, body in zip(ids, truths, bodies, strict=True)}
    # Now and then nobody counts.
    uncounted = {session.id for session in sessions if random.random() < 0.03}
    changes: list[WorkChange] = []
    for change in done:
        session = by_id[change.session_id]
        if change.minutes:
            truth, body = people[change.athlete_id]
            effort = session.planned_effort if change.effort is None else change.effort
            for what, data in _work(session, truth, body, change.minutes, effort, random):
                if what == "counted" and session.id in uncounted:
                    continue
                changes.append(WorkChange(session.id, change.athlete_id, what, data, source=Source.IMPORT))
    record_work(db, squad.id, changes, stamp=Stamp(staff.id, NOW), today=TODAY)


def _work(
    session: Session, truth: Truth, body: Physique, minutes: float, effort: float, random: np.random.Generator
) -> Iterator[tuple[str, dict[str, object]]]:
    ball = session.kind in _BALL
    if ball:
        counted = list(_counts(truth, body, session.day, minutes, effort, random))
        if counted:
            yield "counted", {"items": counted}
    if session.kind is SessionKind.GYM and truth.position != "skier":
        yield "lifting", {"items": _lifts(body, minutes, random)}
    if session.day < SENSORS_FROM and truth.position != "skier":
        return
    if truth.position == "skier":
        if session.kind is not SessionKind.GYM:
            yield "zones", {"minutes": _three_zones(minutes, effort, random)}
        return
    if ball or session.kind is SessionKind.RUN:
        reserve = float(np.clip(0.34 + 0.055 * effort + random.normal(0, 0.03), 0.2, 0.95))
        impulse = minutes * reserve * 0.64 * np.exp(1.92 * reserve)
        yield "given:heart_rate_impulse", {"value": float(np.round(impulse, 1))}
    if ball:
        metres = minutes * body.fast * (1.3 if session.kind is SessionKind.MATCH else 0.8) * random.lognormal(0, 0.2)
        yield "given:fast_running", {"value": float(np.round(metres))}


def _counts(
    truth: Truth, body: Physique, day: date, minutes: float, effort: float, random: np.random.Generator
) -> Iterator[dict[str, object]]:
    hard = 0.55 + 0.075 * effort
    throws, landings = minutes * body.throws * hard, minutes * body.landings * hard * 0.6
    throws *= truth.throwing_on(day)
    for names, total, shares in ((THROWS, throws, (0.35, 0.4, 1.6)), (LANDINGS, landings, (0.4, 0.3, 0.6))):
        for name, share in zip(names, shares, strict=True):
            count = int(random.poisson(total * share * float(random.lognormal(0, 0.12))))
            if count:
                yield {"class": name.lower(), "surface": None, "posture": None, "count": float(count)}


def _lifts(body: Physique, minutes: float, random: np.random.Generator) -> list[dict[str, object]]:
    sets = float(max(round(minutes / 15), 1))
    out: list[dict[str, object]] = []
    for exercise, share in EXERCISES:
        maximum = body.mass * share * body.strength
        reps, reserve = float(random.integers(4, 9)), float(random.integers(1, 4))
        kg = maximum / (1 + (reps + reserve) / 30) * float(random.normal(1, 0.02))
        out.append(
            {
                "exercise": exercise,
                "sets": sets,
                "reps": reps,
                "kg": float(np.round(kg / 2.5) * 2.5),
                "reserve": reserve,
            }
        )
    return out


def _three_zones(minutes: float, effort: float, random: np.random.Generator) -> list[float]:
    high = float(np.clip((effort - 4) * 0.09 + random.normal(0, 0.02), 0, 0.6))
    middle = float(np.clip(0.08 + (effort - 3) * 0.04 + random.normal(0, 0.03), 0.01, 1 - high))
    parts = np.array([1 - high - middle, middle, high])
    return [float(value) for value in np.round(parts * minutes, 1)]

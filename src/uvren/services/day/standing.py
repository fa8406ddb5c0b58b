"""How people stand on days: what calls, clinicians, rest trials and reports say of each, read together and weighed."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date, timedelta
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session as DbSession

from uvren.core.day import ASKS_FROM, CLOSES_FROM, Called, Gate, Given, Standing, Told, Tuning, together, weigh, weighed
from uvren.core.fatigue import RestTrial as Trial
from uvren.services.day.returns import Returning, read_returning
from uvren.store import queries
from uvren.store.models import Availability, Call, Complaint, Restriction, RestTrial, Squad
from uvren.store.queries.squad import Member

PLANNED = weighed(Given())

Standings = Mapping[tuple[int, date], Standing]


def called_of(call: Call) -> Called:
    """A call as far as it changes the day."""
    return Called(call.kind, call.minutes, call.effort_cap, call.content or "")


def gate_of(one: Restriction, row: int = 0) -> Gate:
    """What a clinician's word leaves, for who may not know why."""
    return Gate(
        row=row,
        closed=one.availability is Availability.OUT,
        change=one.change,
        since=one.from_day,
        until=one.to_day,
        set_by=one.setter.name,
        share=one.minutes_share,
        cap=one.effort_cap,
    )


def is_unseen(one: Complaint, as_of: date, zone: ZoneInfo) -> bool:
    """Whether no clinician had looked at a complaint by the end of a day, or it is to be looked at again since."""
    if one.seen_at is None or one.seen_at.astimezone(zone).date() > as_of:
        return True
    return one.again_on is not None and one.again_on <= as_of


def trials_on(trials: Sequence[RestTrial], restrictions: Sequence[Restriction], as_of: date) -> dict[int, Trial]:
    """The last rest trial of each athlete as it stood on a day.

    One that did not help keeps someone off until a clinician has said since how much they may train.
    """
    said_since: dict[int, date] = {}
    for one in restrictions:
        if one.from_day <= as_of:
            said_since[one.athlete_id] = max(said_since.get(one.athlete_id, date.min), one.from_day)
    out: dict[int, Trial] = {}
    for trial in trials:
        judged = trial.judged_on is not None and trial.judged_on <= as_of
        better = trial.better if judged else None
        over = better is False and said_since.get(trial.athlete_id, date.min) >= (trial.judged_on or date.max)
        if over:
            out.pop(trial.athlete_id, None)
        else:
            out[trial.athlete_id] = Trial(trial.from_day, trial.days, better)
    return out


def standings(
    db: DbSession, squad: Squad, members: Sequence[Member], first: date, last: date, as_of: date,
    tuned: Tuning | None = None, returning: Mapping[int, Returning] | None = None,
) -> Standings:  # fmt: skip
    """How each of these people stands on each day from ``first`` through ``last``, as it is seen on ``as_of``.

    Only where something was said; everyone else stands as planned. Plans to come back are read unless they are given.
    What was told and not yet seen is about the day it is looked at from: how the days after it will be nobody knows.
    """
    given: dict[tuple[int, date], Given] = defaultdict(Given)
    athletes = {member.athlete_id for member in members}
    calls = {
        key: call
        for key, call in queries.morning.calls_between(db, squad.id, first, last).items()
        if key[0] in athletes
    }
    for key, call in calls.items():
        given[key] = Given(call=called_of(call))
    restrictions = queries.return_.restrictions_until(db, squad.id, last)

    def put(athlete: int, begin: date, end: date, **what: object) -> None:
        for ordinal in range(max(begin, first).toordinal(), min(end, last).toordinal() + 1):
            key = (athlete, date.fromordinal(ordinal))
            given[key] = Given(**(vars(given[key]) | what))

    for one in restrictions:
        if one.athlete_id in athletes:
            gate = None if one.availability is Availability.FULL else gate_of(one)
            put(one.athlete_id, one.from_day, one.to_day or last, gate=gate)
    plans = read_returning(db, squad, members, first, last, as_of) if returning is None else returning
    for athlete, plan in plans.items():
        if athlete not in athletes:
            continue
        for ordinal in range(first.toordinal(), last.toordinal() + 1):
            key = (athlete, date.fromordinal(ordinal))
            if (allowed := plan.gate_on(key[1])) is not None:
                given[key] = replace(given[key], gate=together(given[key].gate, allowed))
    for athlete, trial in trials_on(queries.return_.rest_trials_until(db, squad.id, last), restrictions, as_of).items():
        if athlete in athletes:
            days = (first + timedelta(days=i) for i in range((last - first).days + 1))
            for day in days:
                if trial.rests(day, as_of):
                    put(athlete, day, day, trial=trial)
    if first <= as_of <= last:
        for athlete, (told, answered) in _told(db, squad, members, as_of, tuned or Tuning(), calls).items():
            put(athlete, as_of, as_of, told=told, answered=answered)
    return {key: weighed(one) for key, one in given.items()}


_GRAVER = {Told.NOTE: 0, Told.ASKS: 1, Told.CLOSES: 2}


def _told(
    db: DbSession, squad: Squad, members: Sequence[Member], as_of: date, tuned: Tuning,
    calls: Mapping[tuple[int, date], Call],
) -> dict[int, tuple[Told, bool]]:  # fmt: skip
    """The gravest thing that each has told and nobody has seen, and whether the day's call was made after all of it."""
    row_of = {member.athlete_id: row for row, member in enumerate(members)}
    closes, asks = (tuned.values.get(("complaint", key)) for key in ("closes", "asks"))
    zone = ZoneInfo(squad.time_zone)
    out: dict[int, tuple[Told, bool]] = {}
    for one in queries.return_.open_complaints(db, squad.id, as_of):
        row = row_of.get(one.athlete_id)
        if row is None or not is_unseen(one, as_of, zone):
            continue
        told = weigh(
            one.severity,
            closes=CLOSES_FROM if closes is None else float(closes[row]),
            asks=ASKS_FROM if asks is None else float(asks[row]),
        )
        if told is Told.NOTE:
            continue
        call = calls.get((one.athlete_id, as_of))
        answered = call is not None and call.made_at >= one.told_at
        before, all_answered = out.get(one.athlete_id, (Told.NOTE, True))
        out[one.athlete_id] = (max(told, before, key=_GRAVER.__getitem__), all_answered and answered)
    return out

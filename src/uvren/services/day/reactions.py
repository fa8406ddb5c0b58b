"""What is known of people on their way back since their stage began: work, what hurt in it and the morning after."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from datetime import date, timedelta

from sqlalchemy.orm import Session as DbSession

from uvren.core.reports import ReportKind
from uvren.core.returns import Done, Evidence, Measured, why_back
from uvren.services.day.returns import Returning
from uvren.store import queries
from uvren.store.models import Channel, ReturnPlan, ReturnStep, Squad

# Nothing older than this moves anybody on.
LONGEST = timedelta(days=120)


def evidence_of(
    db: DbSession, squad: Squad, returning: Mapping[int, Returning], as_of: date, channels: Mapping[str, Channel]
) -> dict[int, Evidence]:
    """What the stage of each is judged by on the morning of a day."""
    staged = {athlete: one for athlete, one in returning.items() if one.stages}
    if not staged:
        return {}
    since = {athlete: max(entered(one, as_of), as_of - LONGEST) for athlete, one in staged.items()}
    first, athletes = min(since.values()), list(staged)
    pains: dict[tuple[int, ReportKind, date], float] = defaultdict(float)
    for athlete, kind, day, site, side, severity in queries.return_.pains_between(db, squad.id, athletes, first, as_of):
        if kind is not None and _concerns(staged[athlete].plan, site, side):
            key = (athlete, kind, day)
            pains[key] = max(pains[key], severity or 0.0)
    kinds = (ReportKind.DAILY, ReportKind.SESSION)
    asked = {
        (athlete, kind, day)
        for athlete, kind, day, _ in queries.day.reports_between(db, squad.id, kinds, first, as_of, athletes)
    }
    rated = queries.return_.rated_by_themselves(db, squad.id, athletes, first, as_of)
    asked |= {(athlete, ReportKind.SESSION, day) for athlete, day in rated}

    def told(athlete: int, kind: ReportKind, day: date) -> float | None:
        key = (athlete, kind, day)
        return pains.get(key, 0.0) if key in asked else pains.get(key)

    loads = _loads(db, staged, channels, first, as_of)
    out = {}
    for athlete, one in staged.items():
        days = sorted(day for day in loads[athlete] if since[athlete] <= day <= as_of)
        done = [
            Done(
                day,
                loads[athlete][day],
                told(athlete, ReportKind.SESSION, day),
                told(athlete, ReportKind.DAILY, day + timedelta(days=1)),
            )
            for day in days
        ]
        out[athlete] = Evidence(since[athlete], as_of, done, _measured(one, as_of), _word(one, as_of))
    return out


def entered(one: Returning, as_of: date) -> date:
    """The day on which the stage that holds on a day was entered."""
    said = [event for event in one.events if event.step in (ReturnStep.BEGUN, ReturnStep.STAGE) and event.day <= as_of]
    return said[-1].day if said else one.plan.first_day


def backs(returning: Mapping[int, Returning], evidence: Mapping[int, Evidence]) -> dict[int, str]:
    """Why one stage back is proposed, by athlete, where something speaks for it and nobody has answered it."""
    out = {}
    for athlete, found in evidence.items():
        one = returning[athlete]
        kept = [event.day for event in one.events if event.step is ReturnStep.KEPT]
        said = why_back(found, one.template, kept[-1] if kept else None)
        if said and one.stage_on(found.as_of) > 1:
            out[athlete] = said
    return out


def _concerns(plan: ReturnPlan, site: str | None, side: str | None) -> bool:
    """Whether a pain is of the place that somebody comes back with; of no place, whatever it is."""
    return plan.site is None or (plan.site == site and plan.side in (None, side))


def _measured(one: Returning, as_of: date) -> dict[str, list[Measured]]:
    out: dict[str, list[Measured]] = defaultdict(list)
    for event in one.events:
        measured = event.step is ReturnStep.MEASURED and event.value is not None and event.other
        if measured and event.criterion and event.day <= as_of:
            out[event.criterion].append(Measured(event.day, float(event.value or 0), float(event.other or 0)))
    return out


def _word(one: Returning, as_of: date) -> date | None:
    """When a clinician gave their word in the stage that holds, None before."""
    stage, said = one.stage_on(as_of), None
    for event in one.events:
        if event.day > as_of:
            continue
        if event.step in (ReturnStep.BEGUN, ReturnStep.STAGE):
            said = None
        elif event.step is ReturnStep.WORD and event.stage == stage:
            said = event.day
    return said


def _loads(
    db: DbSession, staged: Mapping[int, Returning], channels: Mapping[str, Channel], first: date, as_of: date
) -> dict[int, dict[date, float]]:
    """Load of each day on the channels of the region that was hurt, in parts of what is usual; else on the main one."""
    out: dict[int, dict[date, float]] = {athlete: {} for athlete in staged}
    codes = {athlete: watched(one) for athlete, one in staged.items()}
    ids = {channels[code].id: code for mine in codes.values() for code in mine if code in channels}
    for channel, athlete, day, load, _ in queries.day.daily_loads(db, list(ids), list(staged), as_of, first):
        code, who, when = ids[int(channel)], int(athlete), date.fromordinal(int(day))
        # A rating that is missing is work that was done.
        if code in codes[who] and not load <= 0:
            out[who][when] = out[who].get(when, 0.0) + (float(load) if load == load else 1.0)
    return out


def watched(one: Returning) -> set[str]:
    """Channels of the region that was hurt that the plan has; the main one where there is none."""
    if one.climb is None:
        return set(one.plan.parts)
    parts = one.plan.parts
    own = {code for code, part in parts.items() if part.get("region")}
    return own or {one.climb.terms.main}

"""What simulated athletes report in the morning and on Mondays: the truth of their fatigue, through their habits."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.body import Pain, Side, Site
from uvren.core.reports import FAMILIES, ReportKind
from uvren.services import reports
from uvren.services.reports import Told
from uvren.services.return_ import clinical
from uvren.services.return_.clinical import NewRestriction
from uvren.services.stamp import Stamp
from uvren.simulate.athletes import Body, Truth
from uvren.simulate.seasons import NOW, TIME_ZONE, TODAY
from uvren.store.models import Availability, Squad, User
from uvren.store.types import new_ulid

# Reports were asked for from this season on.
REPORTS_FROM = date(2025, 8, 4)

# How far each answer falls when fatigue is one capacity above what is usual, and where it stands else.
_SCALES = {
    "sleep_quality": (7.0, 1.6),
    "energy": (7.2, 2.6),
    "soreness": (7.4, 3.0),
    "mood": (7.6, 1.3),
    "stress": (7.1, 1.0),
    "drive": (7.8, 1.8),
}


def strain_by_day(body: Body, first: date, last: date) -> dict[date, float]:
    """Fatigue on each morning in capacities, against what is usual; 0 is an ordinary week."""
    out, at, trace = {}, 0, body.trace
    for i in range((last - first).days + 1):
        day = first + timedelta(days=i)
        while at < len(trace) and trace[at][0] < day:
            at += 1
        before, fatigue = trace[at - 1] if at else (day, 0.0)
        full = body.truth.capacity_on(day) / 7 * body.fading
        out[day] = fatigue * float(np.exp(-(day - before).days / body.fading)) / full - 0.8
    return out


def tell(squad: Squad, ids: Sequence[int], bodies: Sequence[Body], random: np.random.Generator) -> Iterator[Told]:
    """Every report of the season that has come in by now, in no order."""
    for athlete, body in zip(ids, bodies, strict=True):
        truth = body.truth
        base = {code: at + random.normal(0, 0.7) for code, (at, _) in _SCALES.items()}
        first = max(REPORTS_FROM, truth.joined)
        for day, strain in strain_by_day(body, first, TODAY).items():
            answered = random.random() < truth.answers * 0.98
            wake = datetime.combine(day, time(6, 20), ZoneInfo(TIME_ZONE))
            made = wake + timedelta(hours=float(random.exponential(0.15 + truth.delay_hours / 5)))
            daily = _daily(athlete, truth, day, made, strain, base, random)
            weekly = _weekly(athlete, day, made, strain, random)
            if answered and made <= NOW and made.date() == day:
                yield daily
                if day.weekday() == 0:
                    yield weekly


def _daily(
    athlete: int, truth: Truth, day: date, made: datetime, strain: float, base: dict[str, float],
    random: np.random.Generator,
) -> Told:  # fmt: skip
    ill = any(absence.first <= day < absence.first + timedelta(days=3) for absence in truth.absences if absence.ill)
    answers = {
        code: float(np.clip(round(base[code] - fall * strain - 3.0 * ill + random.normal(0, 0.8)), 0, 10))
        for code, (_, fall) in _SCALES.items()
    }
    answers["sleep_hours"] = float(np.clip(round((7.8 - 0.3 * strain + random.normal(0, 0.6)) * 2) / 2, 3, 11))
    pains = []
    # Shoulders ache from more throws than they are used to, and once in a while something aches for no reason.
    extra = (day - truth.throwing_from).days if truth.throwing_from and day > truth.throwing_from else 0
    if extra:
        pains.append(Pain(Site.SHOULDER, Side.RIGHT, float(min(1 + extra, 7))))
    if random.random() < 0.004:
        site = random.choice([Site.KNEE, Site.CALF, Site.ANKLE, Site.LOWER_BACK, Site.BACK_THIGH])
        side = None if site == Site.LOWER_BACK else Side(str(random.choice(["left", "right"])))
        pains.append(Pain(Site(str(site)), side, float(random.integers(1, 5))))
    return Told(
        id=new_ulid(), athlete_id=athlete, kind=ReportKind.DAILY, day=day, answers=answers, made_at=made,
        pains=pains, ill=ill,
    )  # fmt: skip


def _weekly(athlete: int, day: date, made: datetime, strain: float, random: np.random.Generator) -> Told:
    """Signs come up with lasting strain; life outside training is its own chance."""
    likely = float(np.clip(0.06 + 0.35 * strain, 0.02, 0.7))
    answers = {code: float(random.binomial(2, likely)) for code in (*FAMILIES, "clumsy")}
    for code in ("life_mind", "life_feelings", "life_body", "life_surroundings", "life_illness"):
        answers[code] = float(random.binomial(2, 0.15))
    return Told(
        id=new_ulid(), athlete_id=athlete, kind=ReportKind.WEEKLY, day=day, answers=answers,
        made_at=made + timedelta(minutes=1),
    )  # fmt: skip


def report(
    db: DbSession, squad: Squad, ids: Sequence[int], bodies: Sequence[Body], random: np.random.Generator
) -> None:
    """Bring the season's reports in."""
    reports.give_many(db, squad, list(tell(squad, ids, bodies, random)))


def see_to(db: DbSession, squad: Squad, ids: Sequence[int], bodies: Sequence[Body], clinician: User) -> None:
    """What the clinician made of it: old complaints are over, and who comes back has limits to keep."""
    for complaint in clinical.complaints(db, squad, TODAY, stamp=Stamp(clinician.id, NOW)):
        if complaint.day < TODAY - timedelta(days=2):
            clinical.answer(db, squad, complaint.id, None, True, stamp=Stamp(clinician.id, NOW),
                            today=complaint.day + timedelta(days=3))  # fmt: skip
    for athlete, body in zip(ids, bodies, strict=True):
        for absence in body.truth.absences:
            back = absence.last + timedelta(days=1)
            until = back + timedelta(weeks=len(absence.shares)) - timedelta(days=1)
            change = "no maximal running" if absence.ill else "no full throws, no duels"
            reason = "Back from illness" if absence.ill else "Shoulder, third of five stages"
            share = 0.5 if absence.ill else None
            new = NewRestriction(athlete, Availability.LIMITED, change, reason, back, until, share)
            moment = datetime.combine(back, time(8), ZoneInfo(TIME_ZONE))
            clinical.restrict(db, squad, new, stamp=Stamp(clinician.id, moment), today=back)

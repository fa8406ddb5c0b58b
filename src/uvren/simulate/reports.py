"""What simulated athletes report in the morning and on Mondays: the truth of their strain, through their habits."""

from __future__ import annotations

from collections.abc import Iterator, Sequence, Set
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.body import Pain, Side, Site
from uvren.core.reports import FAMILIES, ReportKind
from uvren.services.reports import Told
from uvren.services.return_ import clinical
from uvren.services.stamp import Stamp
from uvren.simulate.athletes import Body, Truth
from uvren.simulate.seasons import NOW, TIME_ZONE, TODAY
from uvren.simulate.strain import SCALES, Answers
from uvren.store.models import Squad, User
from uvren.store.types import new_ulid

# Reports were asked for from this season on.
REPORTS_FROM = date(2025, 8, 4)


def tell(
    squad: Squad, ids: Sequence[int], bodies: Sequence[Body], matches: Set[date], random: np.random.Generator
) -> Iterator[Told]:
    """Every report of the season that has come in by now, in no order."""
    after_match = np.array([day - timedelta(days=1) in matches for day in _days(REPORTS_FROM)])
    for athlete, body in zip(ids, bodies, strict=True):
        truth, life = body.truth, body.life
        strains = np.array(list(body.strains(REPORTS_FROM, TODAY).values()))
        nights = life.night[(REPORTS_FROM - body.first).days :][: strains.size]
        base = np.array([usual + random.normal(0, 0.7) for usual, _, _ in SCALES.values()])
        daily = Answers(life.truth, truth.habit, base, after_match).given(strains, nights, random)
        for i, day in enumerate(_days(REPORTS_FROM)):
            there = day >= truth.joined and day not in truth.silent and not np.isnan(daily[0, i])
            answered = random.random() < truth.answers * 0.98 and there
            wake = datetime.combine(day, time(6, 20), ZoneInfo(TIME_ZONE))
            made = wake + timedelta(hours=float(random.exponential(0.15 + truth.delay_hours / 5)))
            answers = dict(zip(SCALES, map(float, daily[:, i]), strict=True)) if answered else {}
            this = _daily(athlete, truth, day, made, answers, float(strains[i]), float(nights[i]), random)
            weekly = _weekly(athlete, day, made, float(strains[i]), random)
            if answered and made <= NOW and made.date() == day:
                yield this
                if day.weekday() == 0:
                    yield weekly


def _days(first: date) -> list[date]:
    return [first + timedelta(days=i) for i in range((TODAY - first).days + 1)]


def _daily(
    athlete: int, truth: Truth, day: date, made: datetime, answers: dict[str, float], strain: float, night: float,
    random: np.random.Generator,
) -> Told:  # fmt: skip
    ill = any(absence.first <= day < absence.first + timedelta(days=3) for absence in truth.absences if absence.ill)
    if ill:
        answers = {code: max(value - 3.0, 0.0) for code, value in answers.items()}
    hours = 7.8 - 0.3 * strain - 0.4 * night + random.normal(0, 0.5)
    answers["sleep_hours"] = float(np.clip(round(hours * 2) / 2, 3, 11))
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


def see_to(db: DbSession, squad: Squad, clinician: User) -> None:
    """What the clinician made of it: old complaints are over."""
    for complaint in clinical.complaints(db, squad, TODAY, stamp=Stamp(clinician.id, NOW)):
        if complaint.day < TODAY - timedelta(days=2):
            clinical.answer(db, squad, complaint.id, None, True, stamp=Stamp(clinician.id, NOW),
                            today=complaint.day + timedelta(days=3))  # fmt: skip

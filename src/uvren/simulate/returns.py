"""Plans to come back of the demo's athletes: what a clinician laid out, measured and decided on the way."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session as DbSession

from uvren.core.body import Side, Site
from uvren.services.return_ import plans
from uvren.services.return_.plans import By, NewPlan
from uvren.services.stamp import Stamp
from uvren.services.versions import WHATEVER
from uvren.simulate.athletes import Absence, Body
from uvren.simulate.seasons import TIME_ZONE, TODAY
from uvren.store.models import ReturnKind, ReturnPlan, Squad, User
from uvren.store.versions import written_at

# Strength outward in kg, hurt side and other, and the seated throw in m against the own best.
STRENGTH = ((date(2026, 2, 23), 15.4, 19.6), (date(2026, 3, 2), 16.3, 19.8), (date(2026, 3, 9), 17.1, 19.9))
THROW = ((date(2026, 2, 23), 6.4, 8.2), (date(2026, 3, 9), 7.1, 8.2))
# A newcomer's usual week, as their last club told it.
DECLARED = 2600.0


def come_back(
    db: DbSession, squad: Squad, ids: Sequence[int], bodies: Sequence[Body], clinician: User, staff: User
) -> None:
    """A shoulder in its third stage, an illness whose date does not fit, and somebody new."""
    for athlete, body in zip(ids, bodies, strict=True):
        for absence in body.truth.absences:
            (_ill if absence.ill else _shoulder)(db, squad, athlete, absence, clinician)
        if body.truth.joined > date(2026, 1, 1):
            new = NewPlan(athlete, ReturnKind.NEW, body.truth.joined, usual=DECLARED)
            plans.begin(db, squad, new, _by(db, staff, body.truth.joined, clinician=False))


def _by(db: DbSession, user: User, day: date, *, clinician: bool = True) -> By:
    moment = datetime.combine(day, time(8), ZoneInfo(TIME_ZONE))
    written_at(db, moment)
    return By(clinician=clinician, plans=True, stamp=Stamp(user.id, moment), today=day)


def _shoulder(db: DbSession, squad: Squad, athlete: int, absence: Absence, clinician: User) -> None:
    begun = absence.first + timedelta(weeks=3)
    new = NewPlan(
        athlete, ReturnKind.INJURY, absence.last + timedelta(days=1), absence.first, "shoulder", Site.SHOULDER,
        Side.RIGHT, target_day=date(2026, 3, 28),
    )  # fmt: skip
    plan = plans.begin(db, squad, new, _by(db, clinician, begun))
    _move(db, squad, plan, 2, begun + timedelta(weeks=3), clinician)
    _move(db, squad, plan, 3, plan.first_day, clinician)
    for key, measured in (("strength", STRENGTH), ("throw", THROW)):
        for day, value, other in measured:
            plans.measure(db, squad, plan.id, key, value, other, _by(db, clinician, day))


def _ill(db: DbSession, squad: Squad, athlete: int, absence: Absence, clinician: User) -> None:
    back = absence.last + timedelta(days=1)
    new = NewPlan(athlete, ReturnKind.ILLNESS, back, absence.first, "fever", target_day=date(2026, 3, 14))
    plan = plans.begin(db, squad, new, _by(db, clinician, back - timedelta(days=3)))
    _move(db, squad, plan, 2, back, clinician)


def _move(db: DbSession, squad: Squad, plan: ReturnPlan, to: int, day: date, clinician: User) -> None:
    by = _by(db, clinician, min(day, TODAY))
    plans.give_word(db, squad, plan.id, "", by)
    plans.move(db, squad, plan.id, to, "seen, and as it should be", by, version=WHATEVER)

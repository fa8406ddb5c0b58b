"""Testing days of the demo: true abilities, the noise of each trial, and what fatigue takes away."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import date, datetime, time
from zoneinfo import ZoneInfo

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.services.day import fitness
from uvren.services.squad import fitness_results, fitness_tests
from uvren.services.squad.fitness_results import NewResult
from uvren.services.stamp import Stamp
from uvren.simulate.athletes import Body
from uvren.simulate.seasons import TIME_ZONE, TODAY
from uvren.store.models import Squad, User

DAYS = (date(2025, 8, 7), date(2025, 10, 9), date(2025, 12, 4), date(2026, 1, 15), date(2026, 2, 12), date(2026, 3, 5))

# Mean and SD between athletes, SD of a trial, and by what share of it a capacity of extra fatigue moves it.
_ABILITIES = {
    "countermovement_jump_height": (41.0, 4.0, 1.1, -0.08),
    "isometric_squat": (1150.0, 120.0, 28.0, -0.05),
    "sprint_30_m": (4.25, 0.12, 0.03, 0.03),
    "throw_speed": (92.0, 6.0, 1.4, -0.05),
    "ankle_to_the_wall": (11.0, 2.2, 0.4, 0.0),
}
_DECIMALS = {"sprint_30_m": 2, "isometric_squat": 0}


def record_tests(
    db: DbSession, squad: Squad, ids: Sequence[int], bodies: Sequence[Body], random: np.random.Generator, staff: User
) -> None:
    """Everyone's results on the testing days of the season."""
    begun = datetime.combine(DAYS[0], time(9), ZoneInfo(TIME_ZONE))
    made = {test.code: test for test in fitness_tests.set_up(db, squad, stamp=Stamp(staff.id, begun))}
    able = {code: random.normal(mean, spread, len(ids)) for code, (mean, spread, _, _) in _ABILITIES.items()}
    strains = [body.strains(DAYS[0], TODAY) for body in bodies]
    for day in DAYS:
        moment = datetime.combine(day, time(11), ZoneInfo(TIME_ZONE))
        for code, (_, _, noise, tired) in _ABILITIES.items():
            test = made[code]
            results = []
            for i, (athlete, body) in enumerate(zip(ids, bodies, strict=True)):
                if day < body.truth.joined or body.truth.share(day) < 0.5:
                    continue
                true = able[code][i] * (1 + tired * strains[i][day])
                for side in fitness.SIDES if test.sides else ("",):
                    truth = body.truth
                    behind = truth.weaker_from is not None and day >= truth.weaker_from and side == "left"
                    weaker = truth.weaker_left if behind and code == "isometric_squat" else 0.0
                    values = _trials(true * (1 - weaker), noise, test.trials, random)
                    decimals = _DECIMALS.get(code, 1)
                    rounded = [float(np.round(value, decimals)) for value in values]
                    results.append(NewResult(athlete, rounded, side, sure=True))
            fitness_results.record(db, squad, test, day, results, stamp=Stamp(staff.id, moment), today=day)


def _trials(true: float, noise: float, count: int, random: np.random.Generator) -> Iterator[float]:
    for _ in range(count):
        yield float(true + random.normal(0, noise))

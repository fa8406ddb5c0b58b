"""A week's plan solved: building, solving, judging; against every athlete by themselves with the sessions fixed.

Made-up squads of 22 (7 days, 4 channels) and 60 (14 days, 3 channels) with limits on ratio, change, day, week, days in
a row and spacing. Prints one JSON object; asserts nothing.
"""

from __future__ import annotations

import json
import time
from dataclasses import replace
from datetime import date, datetime, timedelta, timezone
from typing import Any

import numpy as np

from uvren.core.plan import Course, Own, PlanAthlete, PlanLimit, PlanSession, Problem, Split, solve_course
from uvren.core.plan.course import set_out
from uvren.core.plan.judge import coaches, over
from uvren.core.plan.rows import rows_of
from uvren.core.series import LoadRow

AS_OF = date(2026, 3, 8)
ZONE = timezone(timedelta(hours=1))


def history(people: int, channels: str, random: np.random.Generator) -> list[LoadRow]:
    rows = []
    for i in range(people):
        usual = random.uniform(0.8, 1.2)
        for back in range(60):
            day = AS_OF - timedelta(days=back)
            if day.weekday() != 6:
                rows += [
                    LoadRow(f"p{i:02}", day, one, round(usual * random.uniform(200, 520) * (1 if one == "a" else 0.2)))
                    for one in channels
                ]
    return rows


def sessions(days: int, channels: str, random: np.random.Generator) -> list[PlanSession]:
    found = []
    for day in range(days):
        kinds = {5: [("match", 60, 9)], 6: []}.get(day % 7, [("court", 90, 6)])
        for kind, minutes, effort in [*kinds, *([("gym", 60, 5)] if day % 7 in (0, 3) else [])]:
            load = {"a": float(effort)} | {one: float(random.uniform(0.5, 1.5)) for one in channels[1:]}
            midnight = datetime.combine(AS_OF + timedelta(days=day + 1), datetime.min.time(), ZONE)
            start = midnight + timedelta(hours=10 if kind == "gym" else 17)
            fixed = kind == "match"
            found.append(
                PlanSession(
                    f"{day:02}{kind}", start, float(minutes), kind=kind,
                    least=float(minutes) if fixed else 40.0, most=float(minutes) if fixed else minutes + 30.0,
                    step=5.0, drop=kind == "gym", split=Split(15.0, 5.0), load=load,
                    heavy=frozenset() if kind == "court" else frozenset({"muscle"}), effort=float(effort), open=0.5,
                )
            )  # fmt: skip
    return found


def limits(channels: str, firm_day: float | None) -> list[PlanLimit]:
    ewma = {"school": "ewma"}
    found = [
        PlanLimit("ratio", "ratio_ceiling", 1.3, "a", settings=ewma),
        PlanLimit("change", "week_change_cap", 0.15, "a"),
        PlanLimit("day", "day_cap", 700.0, "a"),
        PlanLimit("row", "days_in_row", 6, "a"),
        PlanLimit("space", "spacing", 24.0, settings={"system": "muscle"}),
        PlanLimit("floor", "week_floor", 1200.0, "a"),
    ]
    for one in channels[1:]:
        found.append(PlanLimit(f"ratio {one}", "ratio_ceiling", 1.4, one, settings=ewma))
        found.append(PlanLimit(f"change {one}", "week_change_cap", 0.4, one))
    if firm_day is not None:
        found.append(PlanLimit("match", "day_cap", firm_day, "a", frozenset({"p03"}), firm=True))
    return found


def made(people: int, days: int, channels: str, firm_day: float | None = None) -> Course:
    random = np.random.default_rng(1)
    rows = history(people, channels, random)
    athletes = tuple(PlanAthlete(f"p{i:02}") for i in range(people))
    planned = sessions(days, channels, random)
    if firm_day is not None:
        # Who is over in a match may not play less of it: that cannot hold.
        whole = {"p03": Own(split=False)}
        planned = [replace(one, own=whole) if one.kind == "match" else one for one in planned]
    problem = Problem(AS_OF, days, tuple(channels), athletes, tuple(planned), tuple(limits(channels, firm_day)))
    return set_out(problem, rows)


def timed(work: Any) -> tuple[float, Any]:
    began = time.perf_counter()
    found = work()
    return time.perf_counter() - began, found


def solved(course: Course, seconds: float) -> dict[str, Any]:
    until = time.monotonic() + seconds
    took, plan = timed(lambda: solve_course(course, left=lambda: until - time.monotonic()))
    return {
        "seconds": round(took, 3),
        "holds": plan.holds,
        "proven": plan.optimal,
        "levels": [[round(level.value, 2), round(level.gap, 5)] for level in plan.levels],
        "give_way": len(plan.give_way),
    }


def alone(course: Course) -> float:
    """Everybody solved as a squad of one, with the sessions as they are."""
    fixed = tuple(replace(one, least=one.minutes, most=one.minutes, drop=False) for one in course.sessions)
    total = 0.0
    for i, athlete in enumerate(course.athletes):
        row = np.array([i])
        one = replace(
            course,
            problem=replace(course.problem, athletes=(athlete,), sessions=fixed, limits=tuple(
                limit for limit in course.problem.limits if limit.is_for(athlete.id) and limit.athletes is None)),
            athletes=(athlete,),
            sessions=fixed,
            history={name: loads.of_rows(row) for name, loads in course.history.items()},
        )  # fmt: skip
        total += timed(lambda one=one: solve_course(one))[0]
    return total


def measure(people: int, days: int, channels: str) -> dict[str, Any]:
    course = made(people, days, channels)
    built, rows = timed(lambda: rows_of(course))
    plan = coaches(course)
    judged = min(timed(lambda: over(course, rows, plan))[0] for _ in range(5))
    whole = solved(course, 60.0)
    each = alone(course)
    return {
        "people": people, "days": days, "channels": len(channels), "rows": len(rows),
        "rows_seconds": round(built, 3), "judged_seconds": round(judged, 4),
        "solved": whole, "alone_seconds": round(each, 3), "ratio_to_alone": round(whole["seconds"] / each, 2),
        "in_2_s": solved(made(people, days, channels), 2.0),
        "impossible_in_10_s": solved(made(people, days, channels, firm_day=300.0), 10.0),
    }  # fmt: skip


def main() -> None:
    # What is imported on the first solve is not what is measured.
    solve_course(made(2, 7, "a"))
    print(json.dumps([measure(22, 7, "abcd"), measure(60, 14, "abc")], indent=1))


if __name__ == "__main__":
    main()

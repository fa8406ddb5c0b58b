"""A figure opened up: the days that went in, the steps with their numbers, the formula and its source."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from uvren.core import words
from uvren.core.day import DayRoom
from uvren.core.errors import UnknownRule
from uvren.core.limits.base import Rule
from uvren.core.method import FIGURES
from uvren.core.windows import Floats
from uvren.core.workload import School, Withheld, Workload


@dataclass(frozen=True)
class DayIn:
    """A day that went in: its load (None where it is missing), and its weight in the figure."""

    day: date
    load: float | None
    weight: float


@dataclass(frozen=True)
class Arithmetic:
    """How a figure of one day came about. ``steps`` are lines with numbers; ``withheld`` says why there is none."""

    code: str
    name: str
    formula: str
    source: str
    value: float | None
    withheld: str
    steps: tuple[str, ...]
    days: tuple[DayIn, ...]


# Days further back than this weigh next to nothing; they are named as a rest.
MOST_DAYS = 56


def explain(code: str, work: Workload, row: int, column: int) -> Arithmetic:
    """Open up a figure of :data:`uvren.core.method.FIGURES` for one athlete's day. Raises UnknownRule for another.

    Parameters
    ----------
    work : Workload
        Figures of the loads, rows x days.
    row, column : int
        The athlete and the day.
    """
    how = _HOW.get(code)
    if how is None:
        raise UnknownRule(f"There is no figure {code!r} to open.", field="figure")
    value, steps, weights = how(code, work, row, column)
    figure = FIGURES[code]
    reason = str(work.withheld[row, column])
    withheld = reason if code.startswith("ratio") and reason != Withheld.NO else ""
    return Arithmetic(
        code=code,
        name=figure.name,
        formula=figure.formula,
        source=figure.source,
        value=None if np.isnan(value) or withheld else float(value),
        withheld=withheld,
        steps=tuple(steps),
        days=_days(work, row, column, weights),
    )


def explain_room(work: Workload, rules: Sequence[Rule], row: int, column: int, offered: DayRoom) -> Arithmetic:
    """Open up the room of one athlete's day: what each hard limit leaves, and the days behind the one that binds.

    ``rules`` are the hard limits in force, their values laid out over the days of ``work``; ``offered`` is what they
    come to, with what stands in for those that are silent.
    """
    left = np.array([rule.room(work)[row, column] for rule in rules])
    found = offered.room
    steps = []
    for rule, load in sorted(zip(rules, left, strict=True), key=lambda one: one[1]):
        value = float(np.broadcast_to(rule.value, work.loads.load.shape)[row, column])
        if rule.floor or np.isnan(value):
            continue
        reason = str(rule.silent(work)[row, column])
        said = "nothing, it is broken already" if load < 0 else _said(float(load))
        said = f"rests ({reason})" if reason else "does not bind" if np.isinf(load) else said
        steps.append(f"{rule.title} ({rule.said(value)}): {said}")
    how = _BEHIND.get(next(iter(found.binding), ""), "week_load")
    weights = _HOW[how](how, work, row, column)[2]
    value = float("nan") if found.load is None else found.load
    if offered.why:
        steps.append(f"at most: {offered.why}")
    if found.load is not None:
        steps.append(f"the least of them = {_said(value)}")
    else:
        steps.append(f"no figure: {offered.unknown}" if offered.unknown else "no limit binds")
    return Arithmetic("room", FIGURES["room"].name, FIGURES["room"].formula, FIGURES["room"].source, found.load, "",
                      tuple(steps), _days(work, row, column, weights))  # fmt: skip


def explain_change(name: str, as_of: date, days: Floats, norm: tuple[float, float, int]) -> Arithmetic:
    """Open up the change of a reported item: the answers of 28 days before, what is usual of them, and z.

    Parameters
    ----------
    name : str
        The item as the screens call it.
    days : float array, 29
        Answers of the 28 days before and of ``as_of``, nan where there is none.
    norm : middle, spread and number of values
        As :func:`uvren.core.norms.usual` has them for ``as_of``; nan with too few values.
    """
    middle, spread, n = norm
    today = float(days[-1])
    value = (today - middle) / spread
    steps = [f"{n} answers in the 28 days before"]
    if np.isnan(middle):
        steps.append("fewer than 10: nothing is called usual yet")
    else:
        answers = days[:-1]
        sd = float(np.std(answers[~np.isnan(answers)], ddof=1))
        floored = f", taken as half a step = {_said(spread, 2)}" if spread > sd + 1e-9 else ""
        steps += [f"mean = {_said(middle, 2)}", f"SD (n−1) = {_said(sd, 2)}{floored}",
                  f"({_said(today, 1)} − {_said(middle, 2)}) / {_said(spread, 2)} = {_said(value, 2)}"]  # fmt: skip
    told = tuple(
        DayIn(as_of - timedelta(days=back), float(one), 0.0 if back == 0 else 1 / max(n, 1))
        for back, one in enumerate(days[::-1])
        if not np.isnan(one)
    )
    figure = FIGURES["change"]
    return Arithmetic("change", f"{figure.name}: {name}", f"{FIGURES['usual'].formula}; {figure.formula}",
                      figure.source, None if np.isnan(value) else value, "", tuple(steps), told)  # fmt: skip


def _days(work: Workload, row: int, column: int, weights: Sequence[float]) -> tuple[DayIn, ...]:
    first = max(column - len(weights) + 1, int(work.loads.start[row]), 0)
    load = work.loads.load[row]
    return tuple(
        DayIn(work.loads.date_of(i), None if np.isnan(load[i]) else float(load[i]), float(weights[column - i]))
        for i in range(column, first - 1, -1)
    )


Parts = tuple[float, list[str], list[float]]


def _sum(work: Workload, row: int, column: int, days: int) -> float:
    return float(work.loads.values[row, max(column - days + 1, 0) : column + 1].sum())


def _week_load(_code: str, work: Workload, row: int, column: int) -> Parts:
    value = float(work.week_load[row, column])
    return value, [f"sum of 7 days = {_said(value)}"], [1.0] * 7


def _week_change(_code: str, work: Workload, row: int, column: int) -> Parts:
    week, before = float(work.week_load[row, column]), float(work.week_load[row, max(column - 7, 0)])
    value = float(work.week_change[row, column])
    steps = [
        f"last 7 days = {_said(week)}",
        f"7 days before = {_said(before)}",
        f"{_said(week)} / {_said(before)} − 1 = {_share(value)}",
    ]
    return value, steps, [1.0] * 7 + [-1.0] * 7


def _weights(work: Workload, row: int, column: int, span: int) -> tuple[list[float], float]:
    """Weights of the last days, newest first, that add up to 1 over the whole history; and their sum."""
    keep = 1 - 2 / (span + 1)
    _, total = work.ewma_parts(span)
    known = work.loads.known[row, : column + 1][::-1]
    weights = np.where(known, keep ** np.arange(known.size), 0.0) / max(float(total[row, column]), 1e-12)
    return [float(one) for one in weights[:MOST_DAYS]], float(weights[:MOST_DAYS].sum())


def _base(_code: str, work: Workload, row: int, column: int) -> Parts:
    value = float(work.ewma_chronic[row, column])
    weights, share = _weights(work, row, column, work.settings.chronic_days)
    steps = [f"Σ weight × load = {_said(value, 1)} a day"]
    if share < 0.9995:
        steps.append(f"the days shown carry {words.percent(share)} of the weight, those before them the rest")
    return value, steps, weights


def _ratio(code: str, work: Workload, row: int, column: int) -> Parts:
    school = School(code.removeprefix("ratio_"))
    acute, chronic = {
        School.EWMA: (work.ewma_acute, work.ewma_chronic),
        School.COUPLED: (work.acute, work.chronic),
        School.UNCOUPLED: (work.acute, work.chronic_uncoupled),
    }[school]
    value = float(work.ratio(school)[row, column])
    steps = [
        f"week load a day = {_said(float(acute[row, column]), 1)}",
        f"base load a day = {_said(float(chronic[row, column]), 1)}",
        f"{_said(float(acute[row, column]), 1)} / {_said(float(chronic[row, column]), 1)} = {_said(value, 2)}",
    ]
    span, lag = work.settings.chronic_days, work.settings.acute_days
    if school is School.EWMA:
        return value, steps, _weights(work, row, column, span)[0]
    if school is School.COUPLED:
        return value, steps, [1 / span] * span
    return value, steps, [0.0] * lag + [1 / (span - lag)] * (span - lag)


def _balance(_code: str, work: Workload, row: int, column: int) -> Parts:
    chronic, acute = float(work.exp_chronic[row, column]), float(work.exp_acute[row, column])
    steps = [
        f"slow state (τ {work.settings.chronic_tau:g} days) = {_said(chronic, 1)}",
        f"quick state (τ {work.settings.acute_tau:g} days) = {_said(acute, 1)}",
        f"{_said(chronic, 1)} − {_said(acute, 1)} = {_said(chronic - acute, 1)}",
    ]
    ages = np.arange(MOST_DAYS)
    slow, quick = (
        (1 - np.exp(-1 / tau)) * np.exp(-ages / tau) for tau in (work.settings.chronic_tau, work.settings.acute_tau)
    )
    if work.loads.before is not None:
        steps.append(f"both begin at {_said(float(work.loads.before[row]), 1)} a day before the first day")
    if work.loads.age[row, column] > MOST_DAYS:
        steps.append(f"days before the {MOST_DAYS} shown still count a little in both")
    return chronic - acute, steps, [float(one) for one in slow - quick]


def _spread(code: str, work: Workload, row: int, column: int) -> Parts:
    week = work.loads.values[row, max(column - 6, 0) : column + 1]
    mean, sd = float(week.mean()), float(np.std(week, ddof=1)) if week.size > 1 else float("nan")
    monotony = float(work.monotony[row, column])
    floor = work.settings.spread_floor * mean
    least = f", taken as 5 % of the mean = {_said(floor, 1)}" if sd < floor else ""
    steps = [f"mean of 7 days = {_said(mean, 1)}", f"SD (n−1) = {_said(sd, 1)}{least}",
             f"{_said(mean, 1)} / {_said(max(sd, floor), 1)} = {_said(monotony, 2)}"]  # fmt: skip
    if code == "monotony":
        return monotony, steps, [1.0] * 7
    total, strain = _sum(work, row, column, 7), float(work.strain[row, column])
    return strain, [*steps, f"{_said(total)} × {_said(monotony, 2)} = {_said(strain)}"], [1.0] * 7


_HOW: Mapping[str, Callable[[str, Workload, int, int], Parts]] = {
    "week_load": _week_load,
    "week_change": _week_change,
    "ewma_chronic": _base,
    "ratio_ewma": _ratio,
    "ratio_coupled": _ratio,
    "ratio_uncoupled": _ratio,
    "balance": _balance,
    "monotony": _spread,
    "strain": _spread,
}
# The figure that a rule looks at, by the rule's key.
_BEHIND: Mapping[str, str] = {
    **{f"ratio_ceiling:{school}": f"ratio_{school}" for school in School},
    "week_change_cap": "week_change",
    "week_end_change_cap": "week_change",
    "balance_floor": "balance",
    "monotony_cap": "monotony",
    "strain_cap": "strain",
}


def _said(value: float, decimals: int = 0) -> str:
    return "unknown" if np.isnan(value) else words.number(value, decimals)


def _share(value: float) -> str:
    return "unknown" if np.isnan(value) else f"{'+' if value > 0 else ''}{words.percent(value)}"


SCHOOLS = {
    School.EWMA: (
        "Weighted: recent days weigh more, and no day drops out all at once. It answers to a hard day at once and "
        "lets it fade (Williams et al. 2017)."
    ),
    School.COUPLED: (
        "Rolling, coupled: the last 7 days over the last 28, with the 7 inside the 28. Simple to follow by hand; a "
        "hard day falls out of it overnight, and the shared week ties both parts together (Lolli et al. 2019)."
    ),
    School.UNCOUPLED: (
        "Rolling, uncoupled: the last 7 days over the 21 before them. Nothing is counted twice; it swings more widely "
        "after a break."
    ),
}

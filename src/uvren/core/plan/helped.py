"""Whether a lighter week helped: what somebody said and how work felt, the week after it against the week before."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum

import numpy as np

from uvren.core import words
from uvren.core.day import Facts
from uvren.core.reports import ITEM_NAMES
from uvren.core.trials import Better
from uvren.core.windows import Floats

# Fewer answers on either side say nothing; a change counts from this share of the own spread on.
LEAST, COUNTS = 3, 0.5


class Verdict(StrEnum):
    """What came of a lighter week."""

    HELPED = "helped"
    SAME = "same"
    WORSE = "worse"
    UNKNOWN = "unknown"


@dataclass(frozen=True)
class Measure:
    """Figures of one kind from the week before and the week after, with the own spread; ``up`` where more is better.

    Figures are 1-d float arrays, nan where there is none; of each ``least`` are needed.
    """

    name: str
    before: Floats
    after: Floats
    spread: float
    up: bool = True
    least: int = LEAST

    @property
    def known(self) -> bool:
        enough = min(np.sum(~np.isnan(self.before)), np.sum(~np.isnan(self.after))) >= self.least
        return bool(enough and self.spread > 0)

    @property
    def better(self) -> float:
        """By how many of the own spreads it is better after; below 0 where it is worse."""
        moved = float(np.nanmean(self.after) - np.nanmean(self.before)) / self.spread
        return moved if self.up else -moved

    def said(self) -> str:
        before, after = words.numbers(float(np.nanmean(self.before)), float(np.nanmean(self.after)))
        return f"{self.name} {before} → {after}"


@dataclass(frozen=True)
class Looked:
    """What came of it, and the measures by which it is said: those that count, better and worse."""

    verdict: Verdict
    better: tuple[str, ...]
    worse: tuple[str, ...]
    measures: int

    def said(self) -> str:
        """In one sentence."""
        if self.verdict is Verdict.UNKNOWN:
            return "Whether it helped is not known: too few reports and sessions on either side of it."
        parts = [f"better: {words.listed(self.better)}"] if self.better else []
        parts += [f"worse: {words.listed(self.worse)}"] if self.worse else []
        head = {Verdict.HELPED: "It helped", Verdict.SAME: "No change to be seen", Verdict.WORSE: "It did not help"}
        said = f" ({'; '.join(parts)})" if parts else ""
        return f"{head[self.verdict]}{said}, by {words.count(self.measures, 'measure')}."


def look_back(measures: Sequence[Measure]) -> Looked:
    """Hold the week after against the week before, measure by measure. More better than worse is help."""
    known = [one for one in measures if one.known]
    better = tuple(one.said() for one in known if one.better >= COUNTS)
    worse = tuple(one.said() for one in known if one.better <= -COUNTS)
    if not known:
        verdict = Verdict.UNKNOWN
    elif len(better) == len(worse):
        verdict = Verdict.SAME
    else:
        verdict = Verdict.HELPED if len(better) > len(worse) else Verdict.WORSE
    return Looked(verdict, better, worse, len(known))


_ASKED = ("energy", "soreness", "sleep_quality", "mood")
_WEEK, _MONTH = 7, 28


def measures_of(facts: Facts, row: int, first: date) -> list[Measure]:
    """What there is to compare around a lighter week that began on ``first``: reports, effort and tests."""
    return [*_reports(facts, row, first), _effort(facts, row, first), *_tests(facts, row, first)]


def _reports(facts: Facts, row: int, first: date) -> Iterator[Measure]:
    start = facts.daily.shape[2] - 1 - (facts.as_of - first).days
    for code in _ASKED:
        item = facts.item(code)
        if item is None:
            continue
        values = facts.daily[row, item]
        before, after = (values[max(at, 0) : max(at + _WEEK, 0)] for at in (start - _WEEK, start + _WEEK))
        usual = values[max(start - _MONTH, 0) : max(start, 0)]
        up = bool(facts.worse[item] < 0)
        yield Measure(ITEM_NAMES[code], before, after, max(_spread(usual), 0.5), up)


def _effort(facts: Facts, row: int, first: date) -> Measure:
    """How hard sessions felt against what was planned, which is what like sessions are compared by."""
    done, start = facts.sessions, first.toordinal()
    mine = done.row == row
    before, after, usual = (
        facts.effort_beyond[mine & (done.day >= begin) & (done.day < end)]
        for begin, end in ((start - _WEEK, start), (start + _WEEK, start + 2 * _WEEK), (start - 42, start))
    )
    return Measure("effort against plan", before, after, max(_spread(usual), 0.25), up=False)


def _tests(facts: Facts, row: int, first: date) -> Iterator[Measure]:
    start = first.toordinal()
    for series in facts.tests:
        results = series.results.get(row, ())
        before = [value for day, value in results if start - 2 * _WEEK <= day < start]
        after = [value for day, value in results if start + _WEEK <= day < start + 3 * _WEEK]
        if not np.isnan(series.error):
            up = series.better is Better.HIGHER
            yield Measure(series.name, np.array(before[-1:]), np.array(after[:1]), series.error, up, least=1)


def _spread(values: Floats) -> float:
    return float(np.nanstd(values, ddof=1)) if np.sum(~np.isnan(values)) > 1 else 0.0

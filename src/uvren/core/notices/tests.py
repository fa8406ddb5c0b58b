"""Notices of tests: down beyond the error, stalled, and sides that differ."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date

import numpy as np

from uvren.core import words
from uvren.core.audience import Audience
from uvren.core.day import Desk
from uvren.core.norms import Course, course, weeks_to
from uvren.core.notices.base import Cause, Notice, NoticeKind, Setting, Severity, Shape, Strand
from uvren.core.notices.overtraining import drop_of
from uvren.core.trials import COUNTS_FROM


class TestDown(NoticeKind):
    """A test is down beyond its error, dropping, or stalled."""

    code = "test_down"
    name = "Test dropped or stalled"
    rule = (
        "A result of the last {days} days is worse than the middle of the athlete's own four before by more than "
        "1.5 typical errors and the smallest worthwhile change (watched beyond 2 typical errors, or twice running); or "
        "the trend of 28 days is wholly downwards, or stalled."
    )
    cleared = "The next result back within the error."
    source = "Hopkins 2000 (typical error, smallest worthwhile change); Sen 1968 (trend)."
    cause = Cause.TESTS
    strand = Strand.STATE
    severities = (Severity.WATCH, Severity.NOTE)
    audience = Audience.REPORTS
    settings = (Setting("days", "Result within", 10, 1, 60, "days"),)

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        facts = desk.facts
        if facts is None:
            return
        within, today = self.setting(desk, "days"), facts.as_of.toordinal()
        for series in facts.tests:
            for row, results in series.results.items():
                if not results or today - results[-1][0] > within[row]:
                    continue
                days, values = (np.array(column, dtype=np.float64) for column in zip(*results, strict=True))
                found = course(days, values, today, 0.0 if np.isnan(series.worthwhile) else series.worthwhile,
                               series.better)  # fmt: skip
                drop = drop_of(series, row)
                day, value = results[-1]
                when = words.day(date.fromordinal(day))
                if drop is not None:
                    level = float(np.median([one for _, one in results[:-1][-4:]]))
                    bar = np.nanmax([COUNTS_FROM * series.error, series.worthwhile])
                    severity = Severity.WATCH if drop.counts else Severity.NOTE
                    said = (
                        f"{series.name} {value:.4g} {series.unit} on {when}; before it stood at {level:.4g}. That is "
                        f"more than the test can err by ({bar:.2g})."
                    )
                elif found in (Course.DROPPING, Course.STALLED):
                    severity = Severity.NOTE
                    said = f"{series.name}: {found} over the last 28 days, {value:.4g} {series.unit} on {when}"
                    weeks = weeks_to(series.worthwhile, days, values, today, series.better)
                    takes = found is Course.STALLED and np.isfinite(weeks)
                    said += f"; a worthwhile gain takes {weeks:.0f} weeks at best." if takes else "."
                else:
                    continue
                yield (
                    row,
                    Notice(
                        code=self.code,
                        shape=Shape.UNDER,
                        severity=severity,
                        title=series.name,
                        sentence=said,
                        clears="Clears when the next result is back within the error.",
                        about=series.code,
                        figure=value,
                    ),
                )


class SidesDiffer(NoticeKind):
    """A difference of the sides that stays."""

    code = "sides_differ"
    name = "Sides differ"
    rule = "The same side is stronger by more than 10 % and more than the athlete's own norm, three tests running."
    cleared = "A test with the sides within the own norm, or within 10 %."
    source = "Own norm: mean + 1 SD of the size of earlier differences."
    cause = Cause.TESTS
    strand = Strand.STATE
    severities = (Severity.WATCH,)
    audience = Audience.REPORTS

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        for series in desk.facts.tests if desk.facts else ():
            for row, (percent, stronger) in series.sides.items():
                yield (
                    row,
                    Notice(
                        code=self.code,
                        shape=Shape.UNDER,
                        severity=Severity.WATCH,
                        title=series.name,
                        sentence=f"{series.name}: the {stronger} side is stronger by {percent:.0f} %, the third test "
                        "running beyond their own norm.",
                        clears=(
                            "Look in this order: range of motion by joint, strength by joint; where both are even it "
                            "is use, not capacity."
                        ),
                        about=series.code,
                        figure=percent,
                    ),
                )

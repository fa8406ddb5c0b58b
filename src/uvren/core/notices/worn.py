"""Notices of somebody worn: two of three sources agree for days, or things have been harder for weeks."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from uvren.core import words
from uvren.core.audience import Audience
from uvren.core.day import Desk, Facts
from uvren.core.notices.base import Cause, Notice, NoticeKind, Setting, Severity, Shape, Strand
from uvren.core.notices.drift import harder, too_new
from uvren.core.reports import ITEM_NAMES
from uvren.core.windows import Ints, run_length
from uvren.core.worn import (
    DRIFT_LEVEL,
    REPORT_DAYS,
    SILENT_DAYS,
    USUAL_RATE,
    past,
    speaks,
)

# How long two sources have to agree to ask for a call, where three at once do at the level.
ACT_DAYS = 7
LATELY_DAYS = 4


class Worn(NoticeKind):
    """Reports, effort against plan and fading load: two of the three worse, held against the own past."""

    code = "worn"
    name = "Worn: two of three agree"
    rule = (
        "Two of three are worse than the athlete's own usual, and together clearly so: the reports of the last days "
        "(against 56 days), how hard sessions felt for their plan (against 120), load that still fades (against 180). "
        "How clearly is set each Monday so that it speaks on about {rate} days an athlete-week. A call where all three "
        "agree, or two for 7 days. Silent for the first 42 days."
    )
    cleared = "Two of the three near usual again."
    source = (
        "Control charts: Roberts 1959; reports against load: Saw et al. 2016; session effort: Foster et al. 2001. "
        "Measured on simulated seasons only."
    )
    cause = Cause.REPORTS
    strand = Strand.STATE
    severities = (Severity.ACT, Severity.WATCH, Severity.NOTE)
    audience = Audience.REPORTS
    settings = (Setting("rate", "Speaks on", USUAL_RATE, 0.1, 3.5, "days an athlete-week", of_squad=True),)

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        facts = desk.facts
        if facts is None or facts.daily.shape[2] == 0:
            return
        yield from self._withheld(desk)
        found = speaks(desk.sources, facts.in_force.level, too_new(desk, facts))
        stood, worse = run_length(found)[:, -1], desk.sources.worse[:, -1]
        for row in np.flatnonzero(found[:, -1]):
            all_agree = worse[row].all() and desk.sources.total[row, -1] >= facts.in_force.level
            sure = bool(all_agree) or stood[row] >= ACT_DAYS
            sentence = "; ".join(_said(desk, facts, int(row)))
            since = f" It has been so for {words.count(int(stood[row]), 'day')}." if stood[row] > 1 else ""
            yield (
                int(row),
                Notice(
                    code=self.code,
                    shape=Shape.WAVE,
                    severity=Severity.ACT if sure else Severity.WATCH,
                    title="Worn",
                    sentence=f"{sentence[:1].upper()}{sentence[1:]}.{since}",
                    clears="Clears when two of the three are near usual.",
                    figure=float(worse[row].sum()),
                ),
            )

    def _withheld(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        age = desk.done.age[:, desk.today]
        for row in np.flatnonzero((age > 0) & (age <= SILENT_DAYS)):
            yield (
                int(row),
                Notice(
                    code=self.code,
                    shape=Shape.GAP,
                    severity=Severity.NOTE,
                    title="Worn: not said yet",
                    sentence=f"Whether they are worn is not said yet: {age[row]} of {SILENT_DAYS} days are known.",
                    clears=f"Said after {words.count(int(SILENT_DAYS - age[row]) + 1, 'more day')}.",
                    about="early",
                ),
            )


def _said(desk: Desk, facts: Facts, row: int) -> Iterator[str]:
    """What each source that is worse has to say, with its numbers."""
    reports, effort, load = desk.sources.worse[row, -1]
    if reports:
        lately = _worst_item(facts, row)
        yield f"reports of the last days are worse than the own 56 days{f' ({lately})' if lately else ''}"
    if effort:
        points = desk.sources.points[row, -1]
        yield f"sessions felt {points:.1f} points harder for their plan than usual"
    if load:
        fading, usual = desk.sources.fading[row, -1], desk.sources.usual_load[row, -1]
        spread = desk.sources.usual_spread[row, -1]
        yield (
            f"load fading over a week is {words.number(fading)} (usual {words.number(usual)} ± {words.number(spread)})"
        )


def _worst_item(facts: Facts, row: int) -> str:
    """Such as "energy 5.1, usual 7.2 ± 0.9": the item that fell most over the last reports."""
    daily = facts.daily[row]
    known = np.flatnonzero(~np.isnan(daily).all(axis=0))[-LATELY_DAYS:]
    if known.size == 0:
        return ""
    before = past(daily, REPORT_DAYS)
    middle, spread = before.middle[:, known[0]], np.maximum(before.spread[:, known[0]], facts.floors)
    with np.errstate(invalid="ignore"):
        told = ~np.isnan(daily[:, known])
        lately = np.where(told, daily[:, known], 0.0).sum(axis=1) / np.maximum(told.sum(axis=1), 1)
        off = np.where(told.any(axis=1), (lately - middle) / spread * facts.worse, np.nan)
    if np.isnan(off).all() or np.nanmax(off) <= 0:
        return ""
    item = int(np.nanargmax(off))
    return (
        f"{ITEM_NAMES[facts.items[item]]} {lately[item]:.1f}, usual {middle[item]:.1f} ± {words.spread(spread[item])}"
    )


class HarderForWeeks(NoticeKind):
    """Reports and effort a little worse for so long that it adds up."""

    code = "harder_for_weeks"
    name = "Harder for weeks"
    rule = (
        "What reports and efforts are worse than the own 120 days beyond 0.75 SD adds up to more than {level}; what is "
        "better takes off again. Of simulated declines about half are found within five weeks."
    )
    cleared = "Reports and efforts near usual until it has gone down again."
    source = "Cumulative sums: Page 1954. No early detection is promised."
    cause = Cause.REPORTS
    strand = Strand.STATE
    severities = (Severity.WATCH,)
    audience = Audience.REPORTS
    settings = (Setting("level", "Adds up to", DRIFT_LEVEL, 1.0, 10.0, "SD"),)

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        facts = desk.facts
        if facts is None or facts.daily.shape[2] == 0:
            return
        for row in np.flatnonzero(harder(desk, facts, self.setting(desk, "level"))):
            begun = _begun(desk.sources.drift[row])
            since = f" since {words.day(facts.day(begun))}" if begun is not None else ""
            yield (
                int(row),
                Notice(
                    code=self.code,
                    shape=Shape.WAVE,
                    severity=Severity.WATCH,
                    title="Harder for weeks",
                    sentence=(
                        f"Reports and efforts have added up to worse than the own 120 days{since}, a little each time."
                    ),
                    clears="Clears when reports and efforts are near usual for some time.",
                    figure=float(desk.sources.drift[row, -1]),
                ),
            )


def _begun(drift: np.ndarray) -> int | None:
    """The column on which what stands began to add up."""
    zero: Ints = np.flatnonzero(drift <= 0)
    return int(zero[-1]) + 1 if zero.size and zero[-1] + 1 < drift.size else None

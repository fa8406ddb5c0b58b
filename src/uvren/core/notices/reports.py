"""Notices of what athletes report: changes against own norms, soreness, mood, life load, and overtraining."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date

import numpy as np

from uvren.core import words
from uvren.core.audience import Audience
from uvren.core.day import Desk, Facts
from uvren.core.norms import CHANGE, CLEAR_CHANGE
from uvren.core.notices.base import LISTED, Cause, Notice, NoticeKind, Setting, Severity, Shape, Strand
from uvren.core.notices.overtraining import stood_for
from uvren.core.reports import FAMILIES, ITEM_NAMES
from uvren.core.windows import Bools, Floats, Ints


def against_usual(facts: Facts, row: int, item: int) -> str:
    """Such as "energy 4 (usual 7.1 ± 0.9)"."""
    value = facts.daily[row, item, -1]
    middle, spread = facts.norm.middle[row, item, -1], facts.norm.spread[row, item, -1]
    return f"{ITEM_NAMES[facts.items[item]]} {value:g} (usual {middle:.1f} ± {words.spread(spread)})"


class ReportChanged(NoticeKind):
    """What someone reports is clearly worse than their own usual."""

    code = "report_changed"
    name = "Report changed"
    rule = (
        "{least} items of today's report are {size} SD or more on the worse side of the athlete's own 28 days. Watched "
        "where an item was worse in 3 of the last 4 reports, or with {many} items at once; a call where {many} last."
    )
    cleared = "A report within 1 SD of usual."
    source = "Own norms: mean and SD of the previous 28 days, at least 10 reports, SD no finer than half a step."
    cause = Cause.REPORTS
    strand = Strand.BESIDE
    severities = (Severity.ACT, Severity.WATCH, Severity.NOTE)
    audience = Audience.REPORTS
    settings = (
        Setting("size", "Change from", CLEAR_CHANGE, 0.5, 4.0, "SD"),
        Setting("least", "Items to note", 2, 1, 8),
        Setting("many", "Items for more", 3, 2, 8),
        LISTED,
    )

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        facts = desk.facts
        if facts is None or facts.daily.shape[2] == 0:
            return
        size, least, many = (self.setting(desk, key) for key in ("size", "least", "many"))
        today = np.nan_to_num(facts.badness[..., -1])
        worse = today >= size[:, None]
        # What lasts counts from a plain change on: it need not be clear every time.
        lasting = (facts.lasting > 0) & (today >= CHANGE)
        for row in np.flatnonzero((worse.sum(axis=1) >= least) | (worse & lasting).any(axis=1)):
            items = np.flatnonzero(worse[row] | lasting[row])
            items = items[np.argsort(-today[row, items])]
            last = [ITEM_NAMES[facts.items[i]] for i in items if lasting[row, i]]
            if len(last) >= many[row]:
                severity = Severity.ACT
            elif last or len(items) >= many[row]:
                severity = Severity.WATCH
            else:
                severity = Severity.NOTE
            said = words.listed([against_usual(facts, int(row), int(i)) for i in items])
            lasts = f" Lasting, in 3 of the last 4 reports: {words.listed(last)}." if last else ""
            yield (
                int(row),
                Notice(
                    code=self.code,
                    shape=Shape.WAVE,
                    severity=severity,
                    title="Report",
                    sentence=f"{said[:1].upper()}{said[1:]}: worse than usual.{lasts}",
                    clears="Clears with a report near their usual.",
                    figure=float(today[row].max()),
                ),
            )


class SorenessStays(NoticeKind):
    """Soreness is not gone before the next session of the kind."""

    code = "soreness_stays"
    name = "Soreness not gone before the next like session"
    rule = (
        "Muscles are {size} SD or more sorer than usual this morning, today's plan holds a kind of session that was "
        "done within 4 days, and they were not sorer than usual before that one. Watched where it lasts."
    )
    cleared = "Soreness back to usual, or another kind of session."
    source = "Twice is one of the signs that a lighter week is due."
    cause = Cause.REPORTS
    strand = Strand.STATE
    severities = (Severity.WATCH, Severity.NOTE)
    audience = Audience.REPORTS
    settings = (Setting("size", "Sorer by", CLEAR_CHANGE, 0.5, 4.0, "SD"),)

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        facts = desk.facts
        item = facts.item("soreness") if facts else None
        if facts is None or item is None or not facts.kinds_today:
            return
        sore = np.nan_to_num(facts.badness[:, item])
        size, today = self.setting(desk, "size"), facts.as_of.toordinal()
        for row in np.flatnonzero((sore[:, -1] >= size) & (desk.plan_today > 0)):
            mine = facts.sessions.of(int(row))
            like = np.isin(mine.kind, list(facts.kinds_today)) & (today - mine.day <= 4) & (mine.day < today)
            if not like.any():
                continue
            last = int(mine.day[like][-1])
            column = facts.daily.shape[2] - 1 - (today - last)
            if column < 0 or sore[row, column] >= size[row]:
                continue
            yield (
                int(row),
                Notice(
                    code=self.code,
                    shape=Shape.WAVE,
                    severity=Severity.WATCH if facts.lasting[row, item] > 0 else Severity.NOTE,
                    title="Soreness",
                    sentence=(
                        f"{against_usual(facts, int(row), item).capitalize()}: not gone since the like session of "
                        f"{words.day(date.fromordinal(last))}, and today's plan has one again."
                    ),
                    clears="Clears when muscles are back to usual.",
                    figure=float(sore[row, -1]),
                ),
            )


class LowMood(NoticeKind):
    """Mood has been low for some time."""

    code = "low_mood"
    name = "Low mood that lasts"
    rule = (
        "Mood worse by 1 SD or more in 3 of the last 4 reports and at {mood} or less, against the 56 days before the "
        "last 14; or {absolute} or less on 4 of 7 days; or the weekly sign 'low' for {days} days. It stays until mood "
        "was back on 5 of 7 days."
    )
    cleared = "Mood back on 5 of 7 days, held against what was usual before it began."
    source = "Low mood is a cause of its own, not only a sign of training; it is for people, not for plans, to meet."
    cause = Cause.REPORTS
    strand = Strand.STATE
    severities = (Severity.WATCH,)
    audience = Audience.REPORTS
    settings = (
        Setting("mood", "Mood at most", 5, 0, 9),
        Setting("absolute", "Low whatever is usual, from", 3, 0, 9),
        Setting("days", "Sign for", 14, 7, 60, "days"),
    )

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        facts = desk.facts
        if facts is None:
            return
        item, days = facts.item("mood"), self.setting(desk, "days")
        mood, absolute = self.setting(desk, "mood"), self.setting(desk, "absolute")
        stood = stood_for(facts)
        sign = stood[:, FAMILIES.index("low")] if stood.size else np.zeros(facts.rows, dtype=np.int64)
        for row in range(facts.rows):
            said = []
            since = None if item is None else low_since(facts, row, item, float(mood[row]), float(absolute[row]))
            if since is not None and item is not None:
                values = facts.daily[row, item]
                last = values[~np.isnan(values)][-1]
                usual = facts.lasting_norm.middle[row, item, since]
                before = "" if np.isnan(usual) else f" (before that usually {usual:.1f})"
                said.append(f"mood low since {words.day(facts.day(since))}{before}, {last:g} in the last report")
            if sign[row] >= days[row]:
                said.append(f"felt low for {sign[row]} days in the weekly report")
            if not said:
                continue
            sentence = words.listed(said)
            yield (
                row,
                Notice(
                    code=self.code,
                    shape=Shape.WAVE,
                    severity=Severity.WATCH,
                    title="Low mood",
                    sentence=f"{sentence[:1].upper()}{sentence[1:]}.",
                    clears=(
                        "Ask how they are, in private, and listen. The club's clinician or the person's own doctor is "
                        "who to talk to; offer to arrange it."
                    ),
                ),
            )


_LOW_DAYS, _BACK_DAYS, _OF_DAYS, _STANDS_DAYS = 4, 5, 7, 3


def low_since(facts: Facts, row: int, item: int, mood: float, absolute: float) -> int | None:
    """Column of the day on which low mood began that still stands, None where none does.

    It begins with 3 of the last 4 reports worse than usual and at most ``mood``, or with 4 of 7 days at ``absolute``
    or less; it is over once 5 of 7 days are back, held against what was usual when it began. An answer stands 3 days.
    """
    values = facts.daily[row, item]
    middle, spread = facts.lasting_norm.middle[row, item], facts.lasting_norm.spread[row, item]
    with np.errstate(invalid="ignore"):
        worse = (values <= mood) & (values <= middle - CHANGE * spread)
        low = values <= absolute
    begins = _lasts(values, worse) | (_in_week(low) >= _LOW_DAYS)
    column = 0
    while (since := _first(begins, column)) is not None:
        # Without a usual of their own only the absolute cut can say that it is back.
        usual_then = np.nan_to_num(middle[since] - CHANGE * spread[since], nan=-np.inf)
        with np.errstate(invalid="ignore"):
            back = (values > absolute) & (values > usual_then)
        over = _first(_in_week(back) >= _BACK_DAYS, since + 1)
        if over is None:
            return since
        column = over + 1
    return None


def _first(true: Bools, since: int) -> int | None:
    """The first column from one on where it is so."""
    found = np.flatnonzero(true[since:])
    return int(found[0]) + since if found.size else None


def _in_week(true: Bools) -> Ints:
    """On how many of the seven days that end on each it was so."""
    count: Ints = np.cumsum(true, dtype=np.int64)
    count[_OF_DAYS:] -= count[:-_OF_DAYS].copy()
    return count


def _lasts(values: Floats, worse: Bools) -> Bools:
    """Days on which 3 of the last 4 reports are worse, the last of them not older than an answer stands."""
    told = np.flatnonzero(~np.isnan(values))
    if told.size < 3:
        return np.zeros(values.size, dtype=bool)
    count: Ints = np.cumsum(worse[told], dtype=np.int64)
    count[4:] -= count[:-4].copy()
    last = np.searchsorted(told, np.arange(values.size), side="right") - 1
    return (last >= 2) & (np.arange(values.size) - told[last] < _STANDS_DAYS) & (count[last] >= 3)


class LifeLoad(NoticeKind):
    """Much going on outside training while training is hard."""

    code = "life_load"
    name = "Life load high with hard training"
    rule = (
        "{heavy} kinds of life load or more are heavy in the last weekly report, and week load is {above} % or more "
        "above base."
    )
    cleared = "A lighter week here or there."
    source = "Work, study, worries and travel draw on the same person."
    cause = Cause.REPORTS
    strand = Strand.BESIDE
    severities = (Severity.WATCH,)
    audience = Audience.REPORTS
    settings = (Setting("heavy", "Kinds", 2, 1, 5), Setting("above", "Week above base", 10, 0, 100, "%"), LISTED)

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        facts = desk.facts
        if facts is None or facts.weeks.size == 0 or facts.as_of.toordinal() - facts.weeks[-1] > 7:
            return
        kinds = [i for i, code in enumerate(facts.signs) if code.startswith("life_")]
        last = np.nan_to_num(facts.weekly[:, kinds, -1])
        heavy = np.sum(last >= 2, axis=1)
        week, base = desk.at_judged(desk.now.week_load), desk.at_judged(desk.now.chronic) * 7
        with np.errstate(invalid="ignore", divide="ignore"):
            above = week / base - 1
            found = (heavy >= self.setting(desk, "heavy")) & (above >= self.setting(desk, "above") / 100)
        for row in np.flatnonzero(found):
            what = [ITEM_NAMES[facts.signs[i]] for i, value in zip(kinds, last[row], strict=True) if value >= 2]
            yield (
                int(row),
                Notice(
                    code=self.code,
                    shape=Shape.WAVE,
                    severity=Severity.WATCH,
                    title="Life load",
                    sentence=(
                        f"Heavy outside training ({words.listed(what)}) while week load is "
                        f"{words.percent(above[row])} above base."
                    ),
                    clears="Clears with a lighter week, here or there. Ask what would help.",
                    figure=float(heavy[row]),
                ),
            )

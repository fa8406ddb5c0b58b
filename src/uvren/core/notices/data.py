"""Notices of what is missing or to be doubted: ratings, reports, recordings."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date

import numpy as np

from uvren.core import words
from uvren.core.audience import Audience
from uvren.core.day import Desk
from uvren.core.notices.base import LISTED, Cause, Notice, NoticeKind, Setting, Severity, Shape, Strand
from uvren.core.windows import Bools, Floats


def _recent(desk: Desk, days: Floats) -> Bools:
    """The last ``days`` days and what there is of today, rows x days."""
    column, last = np.arange(desk.done.days), desk.today - desk.morning
    return np.asarray((column >= desk.today - days[:, None]) & (column <= last))


def _days(days: list[date]) -> str:
    return words.listed([words.day(day) for day in days])


class RatingMissing(NoticeKind):
    """A session of the last days has no rating and nothing to estimate it from."""

    code = "rating_missing"
    name = "Rating missing"
    rule = "A session of the last {days} days has no rating, and nothing to estimate it from."
    cleared = "Entering the rating."
    source = "A day with a session but no report is unknown, never rest."
    cause = Cause.DATA
    strand = Strand.STATE
    severities = (Severity.WATCH,)
    settings = (Setting("days", "Looks back", 7, 1, 28, "days"),)

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        missing = desk.done.missing & _recent(desk, self.setting(desk, "days"))
        for row in np.flatnonzero(missing.any(axis=1)):
            days = [desk.done.date_of(int(c)) for c in np.flatnonzero(missing[row])]
            yield (
                int(row),
                Notice(
                    code=self.code,
                    shape=Shape.GAP,
                    severity=Severity.WATCH,
                    title="Rating missing",
                    sentence=(
                        f"No rating for {_days(days)}, and nothing to estimate it from. "
                        "It is not counted as rest, so week load cannot be said."
                    ),
                    clears="Clears when the rating is entered.",
                ),
            )


class RatingEstimated(NoticeKind):
    """A session of the last days has no rating; an estimate stands for it."""

    code = "rating_estimated"
    name = "Rating estimated"
    rule = "A session of the last {days} days has no rating; own or teammates' ratings stand in for it."
    cleared = "Entering the rating."
    source = "Own median of 42 days for the kind of session, else the teammates' median; each from at least 3 values."
    cause = Cause.DATA
    strand = Strand.BESIDE
    severities = (Severity.NOTE,)
    settings = (Setting("days", "Looks back", 7, 1, 28, "days"), LISTED)

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        if desk.done.estimated is None:
            return
        guessed = np.where(_recent(desk, self.setting(desk, "days")), desk.done.estimated, 0.0)
        for row in np.flatnonzero((guessed > 0).any(axis=1)):
            columns = np.flatnonzero(guessed[row] > 0)
            days = [desk.done.date_of(int(c)) for c in columns]
            total = float(guessed[row].sum())
            yield (
                int(row),
                Notice(
                    code=self.code,
                    shape=Shape.GAP,
                    severity=Severity.NOTE,
                    title="Rating estimated",
                    sentence=f"No rating for {_days(days)}; {words.number(total)} is an estimate.",
                    clears="Clears when the rating is entered.",
                ),
            )


class ReportMissing(NoticeKind):
    """No daily report for some asked days running."""

    code = "report_missing"
    name = "Reports missing"
    rule = "No daily report for {days} asked days running or more. Nothing is filled in for them."
    cleared = "A report; the Reports tab has a reminder to copy."
    source = "A missing report is a signal too; it is asked for, never made up."
    cause = Cause.DATA
    strand = Strand.STATE
    severities = (Severity.NOTE,)
    audience = Audience.REPORTS
    settings = (Setting("days", "From", 3, 2, 28, "days"),)

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        facts = desk.facts
        if facts is None or facts.daily.shape[2] == 0:
            return
        said = np.asarray(~np.isnan(facts.daily).all(axis=1))
        # Today is not over: it is not missing yet.
        asked = facts.asked.copy()
        asked[:, -1] &= said[:, -1]
        least = self.setting(desk, "days")
        for row in range(facts.rows):
            days = np.flatnonzero(asked[row])
            answered = np.flatnonzero(said[row, days])
            since = days if answered.size == 0 else days[answered[-1] + 1 :]
            if since.size >= least[row]:
                yield (
                    row,
                    Notice(
                        code=self.code,
                        shape=Shape.GAP,
                        severity=Severity.NOTE,
                        title="Reports missing",
                        sentence=f"No report since {words.day(facts.day(int(since[0])))}: {since.size} asked days.",
                        clears="Clears with the next report.",
                        figure=float(since.size),
                    ),
                )


class SensorDoubtful(NoticeKind):
    """A recording with gaps or dropped values."""

    code = "sensor_doubtful"
    name = "Recording to be doubted"
    rule = "A recording of the last 2 days covers too little of its time, or too much of it was dropped as impossible."
    cleared = "Leaving the recording out, or a better one; else after 2 days."
    source = "Values outside what a body can do, and isolated spikes, are dropped and counted."
    cause = Cause.DATA
    strand = Strand.BESIDE
    severities = (Severity.NOTE,)
    settings = (LISTED,)

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        for doubt in desk.facts.doubts if desk.facts else ():
            yield (
                doubt.row,
                Notice(
                    code=self.code,
                    shape=Shape.GAP,
                    severity=Severity.NOTE,
                    title="Recording",
                    sentence=doubt.said,
                    clears="Look at the trace under Session, Recordings; leave out what is not work.",
                    about=doubt.key,
                ),
            )

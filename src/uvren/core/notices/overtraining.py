"""The overtraining screen: families that last, and performance that dropped despite rest."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date

import numpy as np

from uvren.core import words
from uvren.core.audience import Audience
from uvren.core.day import Desk, Facts, TestSeries
from uvren.core.fatigue import (
    SUSPECT_DAYS,
    SUSPECT_FAMILIES,
    WATCH_DAYS,
    Drops,
    Screen,
    Trial,
    screen,
    standing_days,
    trial_length,
)
from uvren.core.notices.base import Cause, Notice, NoticeKind, Setting, Severity, Shape, Strand
from uvren.core.notices.drift import harder
from uvren.core.reports import FAMILIES, ITEM_NAMES
from uvren.core.trials import DROP_FROM, Change, change
from uvren.core.windows import Ints, run_length
from uvren.core.worn import DRIFT_LEVEL

TESTED_DAYS = 14
REFER = "Illness, low energy availability, low mood and other causes are for a licensed clinician to exclude: refer."
# Rest of usual length: two days off; seven are a week off, looked for in the 28 days before the last result.
USUAL_REST, OFF_WEEK, REST_WITHIN = 2, 7, 28
# A weekly answer stands so long.
ANSWER_STANDS_DAYS = 10


def stood_for(facts: Facts) -> Ints:
    """For how many days each family of sign has stood, rows x families; 0 where the last answer no longer stands."""
    if facts.weeks.size == 0 or facts.as_of.toordinal() - facts.weeks[-1] > ANSWER_STANDS_DAYS:
        return np.zeros((facts.rows, len(FAMILIES)), dtype=np.int64)
    places = [facts.signs.index(code) for code in FAMILIES]
    return standing_days(facts.weekly[:, places], facts.weeks.astype(np.float64))


@dataclass(frozen=True)
class Drop:
    """A run of results that are worse than before: ordinals of the first and the last, how many, and how far down.

    ``size`` is how far the last one is below the level before the run, in typical errors (nan where none is known).
    """

    since: int
    last: int
    n: int
    size: float

    @property
    def counts(self) -> bool:
        """A single result beyond twice the error, or two running."""
        return self.n >= 2 or self.size >= DROP_FROM

    @property
    def sure(self) -> bool:
        """Two results 14 days or more apart, or one beyond twice the error that another has confirmed."""
        return self.n >= 2 and (self.last - self.since >= SUSPECT_DAYS or self.size >= DROP_FROM)


def drop_of(series: TestSeries, row: int) -> Drop | None:
    """The run of results, up to the last, that are worse than the athlete's usual level; None where the last is not.

    Worse is beyond 1.5 x the typical error and the smallest worthwhile change.
    """
    results = series.results.get(row, ())
    since: int | None = None
    n, worst = 0, 0.0
    for end in range(len(results) - 1, 0, -1):
        # The usual level: the middle of up to four results before.
        before = [value for _, value in results[max(end - 4, 0) : end]]
        level = float(np.median(before))
        said = change(results[end][1], level, series.error, series.worthwhile, series.better)
        if said is not Change.WORSE:
            break
        since, n = results[end][0], n + 1
        if series.error > 0:
            worst = max(worst, abs(results[end][1] - level) / series.error)
    if since is None:
        return None
    return Drop(since, results[-1][0], n, worst if series.error > 0 else float("nan"))


class Overtraining(NoticeKind):
    """The screen for overtraining: watch, or suspect with a rest trial."""

    code = "overtraining"
    name = "Overtraining screen"
    rule = (
        "Watch: {families} families of sign for 7 days or more, or one where it has been harder for weeks (a test down "
        "beyond its error alone is a note). Rest "
        "first: a measured drop (two results 14 days apart, or one beyond twice the typical error and confirmed) "
        "without two days off since; it refers with 3 families for 14 days. Suspect: the drop stands although there "
        "was such rest, and 3 families have stood for 14 days or more; or it stands after 7 days off. Always refers."
    )
    cleared = "Signs gone from the weekly report and performance back; after a suspicion, a rest trial judged better."
    source = "Meeusen et al. 2013 (joint consensus statement on overtraining syndrome)."
    cause = Cause.REPORTS
    strand = Strand.STATE
    severities = (Severity.ACT, Severity.WATCH, Severity.NOTE)
    audience = Audience.REPORTS
    settings = (Setting("families", "Families to watch", 2, 1, 11),)

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        facts = desk.facts
        if facts is None:
            return
        stood = stood_for(facts)
        drops, tests = _drops(desk, facts)
        state = screen(stood, drops)
        # Watching by families can be set; the suspicion cannot.
        families = np.sum(stood >= WATCH_DAYS, axis=1)
        many = families >= self.setting(desk, "families")
        if facts.daily.shape[2]:
            # What has been harder for weeks is a sign of its own.
            many |= (families > 0) & harder(desk, facts, np.full(desk.rows, DRIFT_LEVEL))
        for row in range(facts.rows):
            trial = facts.trials.get(row)
            if trial is not None and trial.state(facts.as_of) is not Trial.BETTER:
                yield row, self._trial(facts, row)
            elif state[row] == Screen.SUSPECT:
                yield row, self._suspect(stood[row], tests[row], off_week=bool(drops.off_week[row]))
            elif state[row] == Screen.REST_FIRST:
                yield row, self._rest_first(stood[row], tests[row])
            elif many[row] or (state[row] == Screen.WATCH and row in tests):
                severity = Severity.WATCH if many[row] else Severity.NOTE
                said = tests[row][0] if row in tests else ""
                yield row, self._watch(stood[row] if many[row] else stood[row] * 0, said, severity)

    def _watch(self, stood: Ints, test: str, severity: Severity) -> Notice:
        said = filter(None, [test, _families(stood, WATCH_DAYS)])
        sentence = words.listed(list(said))
        return Notice(
            code=self.code,
            shape=Shape.WAVE,
            severity=severity,
            title="Overtraining: watch",
            sentence=f"{sentence[:1].upper()}{sentence[1:]}.",
            clears="Clears when the signs are gone from the weekly report and tests are back. This is no diagnosis.",
            about="watch",
        )

    def _suspect(self, stood: Ints, test: tuple[str, int], *, off_week: bool) -> Notice:
        said, days = test
        rest = trial_length(int(max(stood.max(initial=0), days)))
        families = _families(stood, SUSPECT_DAYS)
        rested = "after 7 days off or more" if off_week else "although there was rest of usual length"
        return Notice(
            code=self.code,
            shape=Shape.WAVE,
            severity=Severity.ACT,
            title="Overtraining: suspect",
            sentence=f"{said}, still down {rested}{f'; {families}' if families else ''}. {REFER}",
            clears=(
                f"Ask about food, schedule, work and home. A rest trial of {rest} days off is offered; no more work is "
                "proposed meanwhile. This is no diagnosis."
            ),
            figure=float(days),
            about="suspect",
        )

    def _rest_first(self, stood: Ints, test: tuple[str, int]) -> Notice:
        families = _families(stood, SUSPECT_DAYS)
        many = int(np.sum(stood >= SUSPECT_DAYS)) >= SUSPECT_FAMILIES
        return Notice(
            code=self.code,
            shape=Shape.WAVE,
            severity=Severity.ACT,
            title="Rest first",
            sentence=(
                f"{test[0]}, and no two days off since: rest first{f'; {families}' if families else ''}."
                f"{f' {REFER}' if many else ''}"
            ),
            clears="Two easy days, then the test again; nothing more is planned until then. This is no diagnosis.",
            figure=float(test[1]),
            about="rest",
        )

    def _trial(self, facts: Facts, row: int) -> Notice:
        trial = facts.trials[row]
        state = trial.state(facts.as_of)
        day = (facts.as_of - trial.first).days + 1
        sentence = {
            Trial.RESTING: f"Rest trial: day {day} of {trial.days}, asked again daily until {words.day(trial.last)}.",
            Trial.TO_JUDGE: f"The rest trial ended on {words.day(trial.last)}: say whether they are better.",
        }.get(state, f"After the rest trial they were not better. Stay off. {REFER}")
        return Notice(
            code=self.code,
            shape=Shape.LINK,
            severity=Severity.WATCH if state is Trial.RESTING else Severity.ACT,
            title="Rest trial",
            sentence=sentence,
            clears="Better: start again light, rising. Not better: stay off and refer. No more work is proposed.",
            about="trial",
        )


def _families(stood: Ints, least: int) -> str:
    names = [ITEM_NAMES[code] for code, days in zip(FAMILIES, stood, strict=True) if days >= least]
    longest = int(stood.max()) if stood.size else 0
    span = f"{least} to {longest}" if longest > least else f"{least}"
    return f"{words.listed(names)} for {span} days" if names else ""


def _drops(desk: Desk, facts: Facts) -> tuple[Drops, dict[int, tuple[str, int]]]:
    """What was measured by row, and the test that says so with the days it has been down."""
    today = facts.as_of.toordinal()
    found = {name: np.zeros(facts.rows, dtype=bool) for name in ("any", "sure", "rested", "off_week")}
    said: dict[int, tuple[str, int]] = {}
    first = desk.done.first_day.toordinal()
    free = (desk.done.values == 0) & ~desk.done.missing & (desk.done.age > 0)
    for series in facts.tests:
        for row in series.results:
            drop = drop_of(series, row)
            # A result that is older than this says nothing of today by itself.
            if drop is None or today - drop.last > TESTED_DAYS:
                continue
            found["any"][row] = True
            # Days between the first result that was down and the last one: was there rest, and did it mend it?
            between = free[row, max(drop.since - first, 0) : max(drop.last - first, 0)]
            # Before a first result that is down nobody knew; a week off just before it counts as well.
            before = free[row, max(drop.last - first - REST_WITHIN, 0) : max(drop.last - first, 0)]
            off_week = bool(before.size and run_length(before[None, :]).max(initial=0) >= OFF_WEEK)
            if drop.sure:
                found["sure"][row] = True
                found["rested"][row] |= int(between.sum()) >= USUAL_REST
                found["off_week"][row] |= off_week
            if row not in said or drop.sure:
                when = words.day(date.fromordinal(drop.since))
                said[row] = (f"{series.name} down since {when}", today - drop.since + 1)
    return Drops(**found), said

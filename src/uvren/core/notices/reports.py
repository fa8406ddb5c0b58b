"""Notices of what athletes report: changes against own norms, soreness, mood, life load, and overtraining."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date

import numpy as np

from uvren.core import words
from uvren.core.audience import Audience
from uvren.core.day import Desk, Facts, TestSeries
from uvren.core.fatigue import WATCH_DAYS, Screen, Trial, screen, standing_days, trial_length
from uvren.core.norms import CHANGE, CLEAR_CHANGE
from uvren.core.notices.base import Cause, Notice, NoticeKind, Setting, Severity, Shape
from uvren.core.reports import FAMILIES, ITEM_NAMES
from uvren.core.trials import Change, change
from uvren.core.windows import Ints, run_length

TESTED_DAYS = 14
REFER = "Illness, low energy availability, low mood and other causes are for a licensed clinician to exclude: refer."


def against_usual(facts: Facts, row: int, item: int) -> str:
    """Such as "energy 4 (usual 7.1 ± 0.9)"."""
    value = facts.daily[row, item, -1]
    middle, spread = facts.norm.middle[row, item, -1], facts.norm.spread[row, item, -1]
    return f"{ITEM_NAMES[facts.items[item]]} {value:g} (usual {middle:.1f} ± {spread:.1f})"


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
    severities = (Severity.ACT, Severity.WATCH, Severity.NOTE)
    audience = Audience.REPORTS
    settings = (
        Setting("size", "Change from", CLEAR_CHANGE, 0.5, 4.0, "SD"),
        Setting("least", "Items to note", 2, 1, 8),
        Setting("many", "Items for more", 3, 2, 8),
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
        "Mood worse by 1 SD or more in 3 of the last 4 reports and at {mood} or less, or the weekly sign 'low' for "
        "{days} days."
    )
    cleared = "Mood back to usual."
    source = "Low mood is a cause of its own, not only a sign of training; it is for people, not for plans, to meet."
    cause = Cause.REPORTS
    severities = (Severity.WATCH,)
    audience = Audience.REPORTS
    settings = (Setting("mood", "Mood at most", 5, 0, 9), Setting("days", "Sign for", 14, 7, 60, "days"))

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        facts = desk.facts
        if facts is None:
            return
        item, mood, days = facts.item("mood"), self.setting(desk, "mood"), self.setting(desk, "days")
        low = np.zeros(facts.rows, dtype=bool)
        if item is not None and facts.daily.shape[2]:
            with np.errstate(invalid="ignore"):
                low = (facts.lasting[:, item] > 0) & (facts.daily[:, item, -1] <= mood)
        stood = _stood(facts)
        sign = stood[:, FAMILIES.index("low")] if stood.size else np.zeros(facts.rows, dtype=np.int64)
        for row in np.flatnonzero(low | (sign >= days)):
            said = []
            if low[row] and item is not None:
                said.append(f"{against_usual(facts, int(row), item)}, in 3 of the last 4 reports")
            if sign[row] >= days[row]:
                said.append(f"felt low for {sign[row]} days in the weekly report")
            sentence = words.listed(said)
            yield (
                int(row),
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
    severities = (Severity.WATCH,)
    audience = Audience.REPORTS
    settings = (Setting("heavy", "Kinds", 2, 1, 5), Setting("above", "Week above base", 10, 0, 100, "%"))

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


def _stood(facts: Facts) -> Ints:
    """For how many days each family of sign has stood, rows x families; 0 where the last report is over a week old."""
    if facts.weeks.size == 0 or facts.as_of.toordinal() - facts.weeks[-1] > 10:
        return np.zeros((facts.rows, len(FAMILIES)), dtype=np.int64)
    places = [facts.signs.index(code) for code in FAMILIES]
    return standing_days(facts.weekly[:, places], facts.weeks.astype(np.float64))


def drop_since(series: TestSeries, row: int) -> int | None:
    """Ordinal of the first of the run of results, up to the last, that are worse than the best before the run.

    Worse is beyond the typical error and the smallest worthwhile change. None where the last one is not.
    """
    results = series.results.get(row, ())
    since: int | None = None
    for end in range(len(results) - 1, 0, -1):
        # The usual level: the middle of up to four results before.
        before = [value for _, value in results[max(end - 4, 0) : end]]
        level = float(np.median(before))
        said = change(results[end][1], level, series.error, series.worthwhile, series.better)
        if said is not Change.WORSE:
            break
        since = results[end][0]
    return since


class Overtraining(NoticeKind):
    """The screen for overtraining: watch, or suspect with a rest trial."""

    code = "overtraining"
    name = "Overtraining screen"
    rule = (
        "Watch: {families} families of sign for 7 days or more (a test down beyond its typical error alone is a note). "
        "Suspect: "
        "performance down for 14 days or more although rest was of usual length, and 3 families for 14 days or more."
    )
    cleared = "Signs gone from the weekly report and performance back; after a suspicion, a rest trial judged better."
    source = "Meeusen et al. 2013 (joint consensus statement on overtraining syndrome)."
    cause = Cause.REPORTS
    severities = (Severity.ACT, Severity.WATCH, Severity.NOTE)
    audience = Audience.REPORTS
    settings = (Setting("families", "Families to watch", 2, 1, 11),)

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        facts = desk.facts
        if facts is None:
            return
        stood = _stood(facts)
        drops, tests = _drops(facts, stood)
        state = screen(stood, drops, _usual_rest(desk))
        # Watching by families can be set; the suspicion cannot.
        many = np.sum(stood >= WATCH_DAYS, axis=1) >= self.setting(desk, "families")
        for row in range(facts.rows):
            trial = facts.trials.get(row)
            if trial is not None and trial.state(facts.as_of) is not Trial.BETTER:
                yield row, self._trial(facts, row)
            elif state[row] == Screen.SUSPECT:
                yield row, self._suspect(stood[row], int(drops[row]), tests.get(row, ""))
            elif state[row] == Screen.WATCH and (many[row] or tests.get(row)):
                severity = Severity.WATCH if many[row] else Severity.NOTE
                yield row, self._watch(stood[row] if many[row] else stood[row] * 0, tests.get(row, ""), severity)

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

    def _suspect(self, stood: Ints, drop: int, test: str) -> Notice:
        rest = trial_length(int(max(stood.max(), drop)))
        return Notice(
            code=self.code,
            shape=Shape.WAVE,
            severity=Severity.ACT,
            title="Overtraining: suspect",
            sentence=(
                f"Performance has been down for {drop} days with rest of usual length"
                f"{f' ({test})' if test else ''}; {_families(stood, 14)}. {REFER}"
            ),
            clears=(
                f"Ask about food, schedule, work and home. A rest trial of {rest} days off is offered; no more work is "
                "proposed meanwhile. This is no diagnosis."
            ),
            figure=float(drop),
            about="suspect",
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


def _drops(facts: Facts, stood: Ints) -> tuple[Ints, dict[int, str]]:
    """For how many days performance has been down by row, and the test that says so."""
    today = facts.as_of.toordinal()
    days = np.zeros(facts.rows, dtype=np.int64)
    said: dict[int, str] = {}
    for series in facts.tests:
        for row in series.results:
            since = drop_since(series, row)
            # A result that is older than this says nothing of today by itself.
            if since is None or today - series.results[row][-1][0] > TESTED_DAYS:
                continue
            days[row] = max(days[row], today - since + 1)
            said[row] = f"{series.name} down since {words.day(date.fromordinal(since))}"
    if stood.size:
        days = np.maximum(days, stood[:, FAMILIES.index("performance_down")])
    return days, said


def _usual_rest(desk: Desk) -> np.ndarray:
    """Whether the last 14 days had at least two days of rest: rest of usual length did not mend it."""
    done = desk.done.values[:, max(desk.today - 14, 0) : desk.today]
    free = (done == 0) & ~desk.done.missing[:, max(desk.today - 14, 0) : desk.today]
    # A break as such is another matter: then there is nothing to rest from.
    return (free.sum(axis=1) >= 2) & (run_length(free).max(axis=1, initial=0) < 7)

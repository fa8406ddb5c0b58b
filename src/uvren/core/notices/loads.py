"""Notices of load itself, whatever limits are set: spread, runs of days, heavy days, the base and breaks."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date

import numpy as np

from uvren.core import words
from uvren.core.day import Desk
from uvren.core.limits.spread import ALIKE
from uvren.core.notices.base import LISTED, Cause, Notice, NoticeKind, Setting, Severity, Shape, Strand
from uvren.core.recovery import HARDEST, HEAVY, WINDOWS, Heavy, System, heaviness, hours_between, last_heavy
from uvren.core.windows import Bools, Floats, rolling_sum, run_length, window_view
from uvren.core.workload import Withheld

USUAL_DAYS = 28
# Heavy days further back than this are outside every window.
_WINDOW_DAYS = 14


class Spread(NoticeKind):
    """The days of the week are too alike, and the week was not a light one."""

    code = "spread_high"
    name = "Little spread, high week strain"
    rule = (
        "The 7 days are so alike that spread (monotony, mean / SD) is at least {monotony}, and week strain is "
        "{strain} SD or more above the athlete's own of the 28 days before."
    )
    cleared = "A hard day and an easy day in place of two middling ones."
    source = "Foster 1998: monotony and strain from session-RPE load."
    cause = Cause.LOAD
    strand = Strand.PLAN
    severities = (Severity.NOTE,)
    settings = (
        Setting("monotony", "Spread from", 1.5, 1.0, 5.0),
        Setting("strain", "Week strain above usual", 1.0, 0.0, 4.0, "SD"),
    )

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        monotony, strain = desk.now.monotony, desk.now.strain
        at = desk.at_judged(monotony)
        span = USUAL_DAYS + 1
        before = desk.at_judged(window_view(strain, span, np.nan))[:, :-1]
        enough = np.sum(~np.isnan(before), axis=1) >= 10
        safe = np.where(enough[:, None], before, 0.0)
        middle, spread = np.nanmean(safe, axis=1), np.nanstd(safe, axis=1, ddof=1)
        now = desk.at_judged(strain)
        with np.errstate(divide="ignore", invalid="ignore"):
            z = np.where(enough & (spread > 0), (now - middle) / spread, np.nan)
            high = (at >= self.setting(desk, "monotony")) & (z >= self.setting(desk, "strain"))
        for row in np.flatnonzero(high):
            yield (
                int(row),
                Notice(
                    code=self.code,
                    shape=Shape.OVER,
                    severity=Severity.NOTE,
                    title="Spread and week strain",
                    sentence=(
                        f"{'All seven days are alike' if at[row] >= ALIKE else 'The days are alike'}: spread is "
                        f"{at[row]:.1f}, and week strain {words.number(now[row])} is "
                        f"{z[row]:.1f} SD above usual ({words.number(middle[row])})."
                    ),
                    clears="Clears when an easy day stands between hard ones.",
                    figure=float(at[row]),
                ),
            )


class DaysRunning(NoticeKind):
    """Too many days with load: in a row, or in seven on average."""

    code = "days_running"
    name = "Days without rest"
    rule = (
        "{row} days in a row with load, or more; or load on more than {seven} days in 7 on average of the last 14 (one "
        "week may go over when the other makes up for it)."
    )
    cleared = "A day without load."
    source = "A day off a week is usual practice; a limit on days in a row or in seven is the stricter form."
    cause = Cause.LOAD
    strand = Strand.PLAN
    severities = (Severity.WATCH,)
    settings = (
        Setting("row", "Days in a row", 8, 3, 21, "days"),
        Setting("seven", "Days in seven", 6, 2, 7, "days"),
    )

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        active = (desk.done.values > 0) | desk.done.missing
        run = desk.at_judged(run_length(active))
        fortnight = desk.at_judged(rolling_sum(active.astype(np.float64), 14))
        in_row = run >= self.setting(desk, "row")
        for row in np.flatnonzero(in_row | (fortnight > 2 * self.setting(desk, "seven"))):
            if in_row[row]:
                free = words.day(desk.done.date_of(int(desk.judged[row] - run[row])))
                said = f"{run[row]} days in a row with load; the last free day was {free}."
            else:
                said = f"Load on {fortnight[row]:.0f} of the last 14 days."
            yield (
                int(row),
                Notice(
                    code=self.code,
                    shape=Shape.OVER,
                    severity=Severity.WATCH,
                    title="Days without rest",
                    sentence=said,
                    clears="Clears with a day without load.",
                    figure=float(run[row] if in_row[row] else fortnight[row]),
                ),
            )


class HeavyClose(NoticeKind):
    """Heavy days too close together for a system that both load."""

    code = "heavy_close"
    name = "Heavy days too close for one system"
    rule = (
        "Two days that load one system (muscle, tendon and bone, nervous system, energy stores), whatever the work, "
        "each {heavy} SD or more above the mean of the athlete's own active days of 28 of that work; the second, "
        "yesterday's or planned for today, begins before {window} % of the recovery window's early end has gone by, "
        "for a beginner of its late end."
    )
    cleared = "More time between them, or a lighter second day."
    source = (
        "Recovery windows as ranges: muscle, tendon and bone 24–72 h, nervous system after maximal work 48 h to "
        "several days, energy stores 12–48 h. A picture for planning, no measurement."
    )
    cause = Cause.LOAD
    strand = Strand.BESIDE
    severities = (Severity.NOTE,)
    settings = (
        Setting("heavy", "Heavy from", 1.5, HEAVY, HARDEST, "SD"),
        Setting("window", "Window", 100, 25, 300, "% of usual"),
        LISTED,
    )
    of_the_day = True

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        begin = max(desk.today - USUAL_DAYS - _WINDOW_DAYS, 0)
        works = [work.part(begin, desk.today + 1) for work in desk.work]
        heavy = [heaviness(work.load) for work in works]
        size, share = self.setting(desk, "heavy"), self.setting(desk, "window") / 100
        last = desk.today - begin
        for row in range(desk.rows):
            beginner = desk.beginner is not None and bool(desk.beginner[row])
            for system, window in WINDOWS.items():
                days = [one for one in last_heavy(works, heavy, system, row, last) if one.z >= size[row]]
                if len(days) < 2 or days[-1].column < last - 1:
                    continue
                one, other = days[-2:]
                wanted = (window.late if beginner else window.early) * share[row]
                between = hours_between(one, other)
                if between < wanted:
                    when = desk.planned.date_of(begin + one.column), desk.planned.date_of(begin + other.column)
                    planned = other.column == last and desk.plan_today[row] > 0
                    yield row, self._notice(system, one, other, when, wanted, between, planned=planned)
                    break

    def _notice(
        self, system: System, one: Heavy, other: Heavy, when: tuple[date, date], wanted: float, between: float,
        *, planned: bool,
    ) -> Notice:  # fmt: skip
        second = "as planned for today" if planned else f"on {words.day(when[1])}"
        return Notice(
            code=self.code,
            shape=Shape.OVER,
            severity=Severity.NOTE,
            title=f"Heavy days, {system}",
            sentence=(
                f"Heavy {one.work.name.lower()} on {words.day(when[0])} ({_far(one)}) and heavy "
                f"{other.work.name.lower()} {second} ({_far(other)}), {between:.0f} h later; "
                f"the recovery window ({system}) is {wanted:.0f} h or more."
            ),
            clears="Clears when a lighter day lies between.",
            about=system.value,
            figure=between,
        )


def _far(one: Heavy) -> str:
    # Of what is seldom done a little more is many SD; a figure would say more than is known.
    return f"{words.number(one.load)}, {f'{one.z:.1f}' if one.z < 5 else 'over 5'} SD above usual"


class BaseRising(NoticeKind):
    """The base has risen week after week."""

    code = "base_rising"
    name = "Base rising for weeks"
    rule = "Base load has risen by at least {rise} % a week for {weeks} weeks running."
    cleared = "A week that holds, or a lighter one."
    source = "One of the signs that a lighter week is due."
    cause = Cause.BASE
    strand = Strand.BESIDE
    severities = (Severity.NOTE,)
    settings = (Setting("rise", "Rise a week", 1, 0.5, 20, "%"), Setting("weeks", "Weeks", 4, 2, 12, "weeks"), LISTED)

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        base, withheld = desk.now.chronic, desk.at_judged(desk.now.is_withheld)
        rise, weeks = self.setting(desk, "rise") / 100, self.setting(desk, "weeks").astype(int)
        for row in np.flatnonzero(~withheld):
            last, back = int(desk.judged[row]), int(weeks[row])
            columns = last - 7 * np.arange(back, -1, -1)
            if columns[0] < 0:
                continue
            values = base[row, columns]
            if np.isnan(values).any() or (values <= 0).any() or (values[1:] < values[:-1] * (1 + rise[row])).any():
                continue
            yield (
                int(row),
                Notice(
                    code=self.code,
                    shape=Shape.OVER,
                    severity=Severity.NOTE,
                    title="Base load",
                    sentence=(
                        f"Base load has risen {back} weeks running, from {words.number(values[0])} to "
                        f"{words.number(values[-1])} a day ({words.percent(values[-1] / values[0] - 1)})."
                    ),
                    clears="Clears with a week that does not rise.",
                    figure=float(values[-1] / values[0] - 1),
                ),
            )


class BreakFound(NoticeKind):
    """A break that calls for the rules of return."""

    code = "break_found"
    name = "Break found"
    rule = (
        "{days} days or more without load, or week load under {share} % of the usual week for 14 days, ended less than "
        "7 days ago or not yet."
    )
    cleared = "A return by steps; the notice goes a week after the first day back."
    source = "Ramps after a layoff: Caterisano et al. 2019."
    cause = Cause.BASE
    strand = Strand.PLAN
    severities = (Severity.WATCH,)
    settings = (
        Setting("days", "Days without load", 7, 4, 28, "days"),
        Setting("share", "Under", 25, 5, 60, "% of usual"),
    )

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        known_rest = (desk.done.values == 0) & ~desk.done.missing & (desk.done.age > 0)
        # Today is not over: without anything recorded yet it is no day of rest.
        known_rest[:, desk.today :] = False
        rest = run_length(known_rest)[:, : desk.today + 1]
        low = run_length(self._low(desk, self.setting(desk, "share") / 100))[:, : desk.today + 1]
        days = self.setting(desk, "days")
        begin = max(desk.today - 7, 0)
        for row in range(desk.rows):
            longest = int(rest[row, begin:].max())
            lowest = int(low[row, begin:].max())
            if longest >= days[row]:
                end = begin + int(np.argmax(rest[row, begin:]))
                said = f"{longest} days without load"
            elif lowest >= 14:
                end = begin + int(np.argmax(low[row, begin:]))
                said = f"week load under {self.setting(desk, 'share')[row]:g} % of the usual for {lowest} days"
            else:
                continue
            over = end < desk.today - 1
            until = f", until {words.day(desk.done.date_of(end))}" if over else " and still going"
            yield (
                row,
                Notice(
                    code=self.code,
                    shape=Shape.LINK,
                    severity=Severity.WATCH,
                    title="Break",
                    sentence=f"A break: {said}{until}. What comes next goes by the rules of return.",
                    clears="Clears a week after the first day back.",
                    figure=float(max(longest, lowest)),
                ),
            )

    @staticmethod
    def _low(desk: Desk, share: Floats) -> Bools:
        """Days with a week load under a share of the usual week, the mean of 4 weeks ending 14 days before."""
        week = desk.now.week_load
        usual = np.full_like(week, np.nan)
        chronic = desk.now.chronic
        usual[:, 14:] = chronic[:, :-14] * 7
        with np.errstate(invalid="ignore"):
            return np.nan_to_num(week, nan=np.inf) < share[:, None] * np.nan_to_num(usual)


class Newcomer(NoticeKind):
    """Hardly any history yet."""

    code = "newcomer"
    name = "Newcomer without history"
    rule = "Under 21 days of history: no ratio is given."
    cleared = "21 days of history; until then the declared usual week, if there is one, is what to go by."
    source = "Treated as a 28-day break until more is known."
    cause = Cause.BASE
    strand = Strand.PLAN
    severities = (Severity.WATCH,)

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        reasons, age = desk.at_judged(desk.now.withheld), desk.at_judged(desk.done.age)
        for row in np.flatnonzero(reasons == Withheld.HISTORY):
            known, wanted = max(int(age[row]), 0), desk.settings.history_days
            yield (
                int(row),
                Notice(
                    code=self.code,
                    shape=Shape.GAP,
                    severity=Severity.WATCH,
                    title="Newcomer",
                    sentence=f"Not enough history: {known} of {wanted} days. Limits on the ratio rest until then.",
                    clears=f"Clears after {words.count(wanted - known, 'more day')}.",
                ),
            )


class RatioWithheld(NoticeKind):
    """The ratio is not given although there is history, and why."""

    code = "ratio_withheld"
    name = "Ratio withheld"
    rule = (
        "The ratio of week load to base load is not given: too much of the load is estimated, or base load is under a "
        "quarter of the athlete's own highest of a year."
    )
    cleared = "The missing ratings, or a base that is rebuilt."
    source = "Small denominators make big ratios; a rebuilt base goes by the rules of return instead."
    cause = Cause.BASE
    strand = Strand.PLAN
    severities = (Severity.WATCH,)

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        work, settings = desk.now, desk.settings
        reasons = desk.at_judged(work.withheld)
        share = desk.at_judged(work.loads.estimated_share(settings.chronic_days))
        for row, reason in enumerate(reasons):
            if reason == Withheld.REBUILD:
                yield (
                    row,
                    self._notice(
                        Shape.LINK,
                        f"Base load is under {words.percent(settings.rebuild_share)} of the highest of the last "
                        "year, too little to compare with. A ratio would mislead; the return to training decides.",
                        "Clears when the base is rebuilt.",
                    ),
                )
            elif reason == Withheld.ESTIMATED:
                yield (
                    row,
                    self._notice(
                        Shape.GAP,
                        f"{words.percent(share[row])} of the load of the last {settings.chronic_days} days is "
                        f"estimated; over {words.percent(settings.estimated_share)} no ratio is given.",
                        "Clears when enough ratings are entered.",
                    ),
                )

    def _notice(self, shape: Shape, sentence: str, clears: str) -> Notice:
        return Notice(self.code, shape, Severity.WATCH, "Ratio withheld", sentence, clears)

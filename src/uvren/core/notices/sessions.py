"""Notices of how sessions felt: effort far from plan, light sessions that are off, and three signals together."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date

import numpy as np

from uvren.core import words
from uvren.core.audience import Audience
from uvren.core.day import Desk, Facts
from uvren.core.fatigue import Signals, three_signals
from uvren.core.notices.base import LISTED, Cause, Notice, NoticeKind, Setting, Severity, Shape, Strand
from uvren.core.trials import Better


class EffortFar(NoticeKind):
    """The last session was felt far from what was planned."""

    code = "effort_far"
    name = "Effort far from plan"
    rule = "The last session of yesterday or today was rated {points} points or more above its planned effort."
    cleared = "The next session near its plan."
    source = "Sessions meant as medium that turn out flat out are the commonest way off a plan."
    cause = Cause.REPORTS
    strand = Strand.BESIDE
    severities = (Severity.NOTE,)
    settings = (Setting("points", "Above plan", 2, 1, 8, "points"), LISTED)

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        facts = desk.facts
        if facts is None:
            return
        points, today = self.setting(desk, "points"), facts.as_of.toordinal()
        done = facts.sessions
        recent = np.flatnonzero((done.day >= today - 1) & ~np.isnan(facts.effort_beyond))
        last = {int(done.row[i]): int(i) for i in recent}
        for row, i in last.items():
            beyond = float(facts.effort_beyond[i])
            if beyond < points[row]:
                continue
            yield (
                row,
                Notice(
                    code=self.code,
                    shape=Shape.OVER,
                    severity=Severity.NOTE,
                    title="Effort",
                    sentence=(
                        f"{words.day(date.fromordinal(int(done.day[i])))}: planned at {done.planned[i]:g}, felt as "
                        f"{done.effort[i]:g}."
                    ),
                    clears="Clears with the next session near its plan.",
                    figure=beyond,
                ),
            )


class IndexOff(NoticeKind):
    """Light, repeated sessions felt hard twice running."""

    code = "index_off"
    name = "Light sessions felt hard"
    rule = (
        "The last two light sessions (planned effort {light} or less, within 14 days) were each felt at least as hard "
        "as planned, and {size} SD or more harder than the athlete's own sessions usually are against their plan."
    )
    cleared = "A light session that feels light again."
    source = "On a light, repeated session energy is expected high and effort low."
    cause = Cause.REPORTS
    strand = Strand.BESIDE
    severities = (Severity.WATCH,)
    settings = (Setting("light", "Light up to", 4, 1, 6), Setting("size", "Harder by", 1.0, 0.5, 4.0, "SD"), LISTED)

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        facts = desk.facts
        if facts is None:
            return
        light, size, today = self.setting(desk, "light"), self.setting(desk, "size"), facts.as_of.toordinal()
        done, beyond = facts.sessions, facts.effort_beyond
        for row in range(facts.rows):
            mine = np.flatnonzero((done.row == row) & ~np.isnan(beyond))
            easy = mine[(done.planned[mine] <= light[row]) & (done.day[mine] >= today - 14)][-2:]
            before = mine[done.day[mine] >= today - 42]
            if easy.size < 2 or before.size < 12:
                continue
            others = np.setdiff1d(before, easy)
            middle, spread = float(beyond[others].mean()), max(float(np.std(beyond[others], ddof=1)), 0.25)
            z = (beyond[easy] - middle) / spread
            if (z < size[row]).any() or (beyond[easy] < 0).any():
                continue
            said = words.listed([f"{words.day(date.fromordinal(int(done.day[i])))} {done.effort[i]:g}" for i in easy])
            yield (
                row,
                Notice(
                    code=self.code,
                    shape=Shape.WAVE,
                    severity=Severity.WATCH,
                    title="Light sessions",
                    sentence=(
                        f"Light sessions felt hard twice running: {said}, planned at {done.planned[easy[-1]]:g}; "
                        f"sessions usually come out {_against_plan(middle)}."
                    ),
                    clears="Clears when a light session feels light again.",
                    figure=float(z.min()),
                ),
            )


_SAID = {
    Signals.NOT_RECOVERING: "the jump is down and energy or effort is worse too: not recovering",
    Signals.NERVE: "the jump is down while energy and effort held: fatigue of muscle and nerve",
    Signals.FEELS_IT: "energy or effort was worse while the jump held: felt, not yet seen in the jump",
    Signals.ROOM: "energy and jump are up and effort is down: there is room",
}


def _against_plan(middle: float) -> str:
    if abs(middle) < 0.05:
        return "as planned"
    return f"{abs(middle):.1f} {'above' if middle > 0 else 'below'} plan"


FRESH_DAYS = 2
_JUMP_WORSE = (Signals.NOT_RECOVERING, Signals.NERVE)


class ThreeSignals(NoticeKind):
    """Energy, effort at like load and the jump, held together."""

    code = "three_signals"
    name = "Three signals together"
    rule = (
        "A jump of the last {days} days, the energy reported that morning and the effort of the last session against "
        "its plan, each against own norms: jump worse and energy or effort worse is not recovering; jump worse with "
        "feelings held is fatigue of muscle and nerve; energy or effort worse with the jump held is felt only; energy "
        "and jump better with less effort is room. Watched where the jump is worse twice running."
    )
    cleared = "The next jump, or reports back to usual."
    source = "One day is a note; two running are watched."
    cause = Cause.REPORTS
    strand = Strand.STATE
    severities = (Severity.WATCH, Severity.NOTE)
    audience = Audience.REPORTS
    settings = (Setting("days", "Jump within", 10, 1, 28, "days"),)

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        facts = desk.facts
        if facts is None:
            return
        within, today = self.setting(desk, "days"), facts.as_of.toordinal()
        energy = facts.item("energy")
        for row in range(facts.rows):
            jumps = _jump_z(facts, row)
            if not jumps or today - jumps[-1][0] > within[row]:
                continue
            states = [_state(facts, row, day, z, energy) for day, z in jumps[-2:]]
            said = _SAID.get(states[-1])
            if states[-1] is Signals.NERVE and _energy_on(facts, row, jumps[-1][0], energy) is None:
                said = "the jump is down while effort held (energy was not asked): fatigue of muscle and nerve"
            lasts = len(states) == 2 and all(one in _JUMP_WORSE for one in states)
            day, z = jumps[-1]
            # What is only felt, or is good, is worth a word for a few days; a jump that is down until the next one.
            if said is None or (states[-1] not in _JUMP_WORSE and today - day > FRESH_DAYS):
                continue
            yield (
                row,
                Notice(
                    code=self.code,
                    shape=Shape.WAVE,
                    severity=Severity.WATCH if lasts else Severity.NOTE,
                    title="Three signals",
                    sentence=f"On {words.day(date.fromordinal(day))} {said} (jump {z:+.1f} SD).".replace("-", "−"),
                    clears="Clears with the next jump at their usual height.",
                    figure=z,
                ),
            )


def _jump_z(facts: Facts, row: int) -> list[tuple[int, float]]:
    """(ordinal, z) of an athlete's jumps: against the mean of up to four before, in typical errors or own SD."""
    out = []
    for series in facts.tests:
        if not series.jump:
            continue
        results = series.results.get(row, ())
        for i in range(2, len(results)):
            before = np.array([value for _, value in results[max(i - 4, 0) : i]])
            spread = max(float(np.std(before, ddof=1)), 0.0 if np.isnan(series.error) else series.error)
            if spread > 0:
                sign = 1 if series.better is Better.HIGHER else -1
                out.append((results[i][0], sign * float((results[i][1] - before.mean()) / spread)))
    # Two jumps of one day are one look at the day.
    days = sorted({day for day, _ in out})
    return [(day, float(np.mean([z for one, z in out if one == day]))) for day in days]


def _energy_on(facts: Facts, row: int, day: int, energy: int | None) -> float | None:
    column = facts.daily.shape[2] - 1 - (facts.as_of.toordinal() - day)
    if energy is None or column < 0 or np.isnan(facts.z[row, energy, column]):
        return None
    return float(facts.z[row, energy, column])


def _state(facts: Facts, row: int, day: int, jump: float, energy: int | None) -> Signals:
    told = _energy_on(facts, row, day, energy)
    felt = np.nan if told is None else told
    effort = facts.effort_z(row, day)
    return Signals(str(three_signals(np.array([felt]), np.array([effort]), np.array([jump]))[0]))

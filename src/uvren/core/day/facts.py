"""What is known of a squad beside its loads, laid out for the rules: reports, sessions, tests, people.

Rows are those of the desk; days end on its ``as_of``. What was not said is nan, and stays so.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from functools import cached_property

import numpy as np

from uvren.core import words
from uvren.core.fatigue import RestTrial
from uvren.core.norms import LAG_DAYS, LASTING_DAYS, Usual, persistent, usual, z_scores
from uvren.core.reports import ITEMS, Good
from uvren.core.trials import Better
from uvren.core.windows import Bools, Floats, Ints
from uvren.core.worn import USUAL_LEVEL, Basis


@dataclass(frozen=True)
class SessionsDone:
    """Rated sessions, one item each in order of time: whose, when (ordinal), kind, planned and felt effort, minutes."""

    row: Ints
    day: Ints
    kind: Ints
    planned: Floats
    effort: Floats
    minutes: Floats

    def of(self, row: int) -> SessionsDone:
        mine = self.row == row
        return SessionsDone(*(column[mine] for column in vars(self).values()))


@dataclass(frozen=True)
class TestSeries:
    """Results of a test or a lift by row, oldest first: (ordinal of the day, value) pairs.

    ``error`` and ``worthwhile`` are the typical error and the smallest worthwhile change, nan where unknown.
    ``sides`` are the rows whose side difference is to be looked into, with its size in per cent and the stronger side.
    """

    code: str
    name: str
    unit: str
    better: Better
    error: float
    worthwhile: float
    results: Mapping[int, Sequence[tuple[int, float]]]
    sides: Mapping[int, tuple[float, str]] = field(default_factory=dict)
    # Whether it is a jump, whose fall with feelings held speaks for muscle and nerve.
    jump: bool = False


@dataclass(frozen=True)
class Complaint:
    """An open complaint: what it is in words, how bad (None for illness), since when, and on how many days told."""

    row: int
    said: str
    severity: float | None
    since: date
    days: int
    # Whether no clinician has looked at it yet, or it is to be looked at again.
    new: bool
    again: bool = False


@dataclass(frozen=True)
class Gate:
    """What a clinician allows: nothing (``closed``), or training with a change. The reason is not part of it.

    ``share`` of the planned minutes (0 to 1) and the most effort are None where only words say what changes. With
    ``of_plan`` it is what a plan to come back allows.
    """

    row: int
    closed: bool
    change: str
    since: date
    until: date | None
    set_by: str
    share: float | None = None
    cap: float | None = None
    of_plan: bool = False

    def changes(self, planned_minutes: float = 0.0) -> list[str]:
        """What is to change in training, such as "half the minutes (40 of 80 min)", "no duels"."""
        if self.closed:
            return []
        parts = []
        if self.share is not None:
            how = _SHARES.get(round(self.share, 2), words.percent(self.share) + " of the minutes")
            minutes = f" ({self.share * planned_minutes:.0f} of {planned_minutes:g} min)" if planned_minutes else ""
            parts.append(how + minutes)
        if self.cap is not None:
            parts.append(f"effort at most {self.cap:g}")
        return parts + ([self.change] if self.change else [])


def together(one: Gate | None, other: Gate | None) -> Gate | None:
    """What two that hold at once leave: of everything the less."""
    if one is None or other is None:
        return one or other
    shares = [gate.share for gate in (one, other) if gate.share is not None]
    caps = [gate.cap for gate in (one, other) if gate.cap is not None]
    closing = next((gate for gate in (one, other) if gate.closed), one)
    said = dict.fromkeys(part.strip() for gate in (one, other) for part in gate.change.split(";") if part.strip())
    return Gate(
        closing.row,
        one.closed or other.closed,
        "; ".join(said),
        min(one.since, other.since),
        closing.until,
        closing.set_by,
        min(shares, default=None),
        min(caps, default=None),
        one.of_plan and other.of_plan,
    )


_SHARES = {0.25: "a quarter of the minutes", 0.5: "half the minutes", 0.75: "three quarters of the minutes"}


@dataclass(frozen=True)
class Coming:
    """Somebody who comes back by a plan: how far it is, in words for everyone, and why a stage back is proposed.

    ``back`` is for clinicians; empty where nothing speaks for it. ``again`` says that a week is held for another one.
    """

    row: int
    since: date
    said: str
    again: bool
    back: str = ""


@dataclass(frozen=True)
class Review:
    """A call whose review date has come."""

    row: int
    kind: str
    made_on: date
    due: date


@dataclass(frozen=True)
class Doubt:
    """A recording to be doubted: of which day, what it is, and why, in words."""

    row: int
    day: date
    key: str
    said: str


@dataclass(frozen=True)
class Facts:
    """Everything beside loads.

    Parameters
    ----------
    as_of : date
        The last day.
    items : tuple of str
        Codes of the daily items.
    daily : float array, rows x items x days
        Daily answers.
    asked : bool array, rows x days
        Where a daily report was asked for.
    signs : tuple of str
        Codes of the weekly items.
    weekly : float array, rows x signs x weeks
        Weekly answers.
    weeks : int array
        Ordinal of the day each weekly report is for, oldest first.
    """

    as_of: date
    items: tuple[str, ...]
    daily: Floats
    asked: Bools
    signs: tuple[str, ...]
    weekly: Floats
    weeks: Ints
    sessions: SessionsDone
    tests: tuple[TestSeries, ...] = ()
    complaints: tuple[Complaint, ...] = ()
    gates: tuple[Gate, ...] = ()
    coming: tuple[Coming, ...] = ()
    reviews: tuple[Review, ...] = ()
    doubts: tuple[Doubt, ...] = ()
    trials: Mapping[int, RestTrial] = field(default_factory=dict)
    # Kinds of session (as in ``sessions``) that today's plan holds.
    kinds_today: frozenset[int] = frozenset()
    # Daily items that the squad asks on the day.
    form: frozenset[str] = frozenset()
    # What holds for the squad's week; without it the usual level, and no spread finer than half a step.
    basis: Basis | None = None

    def before(self) -> Facts:
        """The same as it stood the day before, as far as it can be told from what is known now."""
        # Of the day before, its morning: reports were in, its sessions and tests were still to come.
        day = self.as_of.toordinal()
        done, weeks = self.sessions, self.weeks < day
        earlier = done.day < day - 1
        return replace(
            self,
            as_of=self.as_of - timedelta(days=1),
            daily=self.daily[..., :-1],
            asked=self.asked[:, :-1],
            weekly=self.weekly[..., weeks],
            weeks=self.weeks[weeks],
            sessions=SessionsDone(*(column[earlier] for column in vars(done).values())),
            tests=tuple(
                replace(
                    one,
                    results={row: [r for r in results if r[0] < day - 1] for row, results in one.results.items()},
                )
                for one in self.tests
            ),
            complaints=tuple(one for one in self.complaints if one.since < self.as_of),
            gates=tuple(one for one in self.gates if one.since < self.as_of),
            coming=tuple(one for one in self.coming if one.since < self.as_of),
            reviews=tuple(one for one in self.reviews if one.due < self.as_of),
            doubts=tuple(one for one in self.doubts if one.day < self.as_of - timedelta(days=1)),
            kinds_today=frozenset(),
        )

    @property
    def rows(self) -> int:
        return int(self.daily.shape[0])

    @cached_property
    def floors(self) -> Floats:
        """Half a step of each item's scale: no spread is taken to be finer."""
        return np.array([ITEMS[code].step / 2 for code in self.items])

    @cached_property
    def worse(self) -> Floats:
        """-1 for items on which less is worse, 1 for those on which more is, 0 where both ways are."""
        turned = {Good.LOW: 1.0, Good.HIGH: -1.0, Good.NEITHER: 0.0}
        return np.array([turned[ITEMS[code].good] for code in self.items])

    @property
    def in_force(self) -> Basis:
        return self.basis or Basis(USUAL_LEVEL, self.floors**2)

    @cached_property
    def norm(self) -> Usual:
        return usual(self.daily, self.floors[:, None])

    @cached_property
    def lasting_norm(self) -> Usual:
        """What was usual before anything that lasts now can have begun; the norm of 28 days until that is known."""
        lagged = usual(self.daily, self.floors[:, None], days=LASTING_DAYS, lag=LAG_DAYS + 1)
        known = ~np.isnan(lagged.middle)
        norm = self.norm
        return Usual(
            np.where(known, lagged.middle, norm.middle),
            np.where(known, lagged.spread, norm.spread),
            np.where(known, lagged.n, norm.n),
        )

    @cached_property
    def z(self) -> Floats:
        """z of each answer against the athlete's own norm, rows x items x days."""
        return z_scores(self.daily, self.norm)

    @cached_property
    def badness(self) -> Floats:
        """z turned so that more is worse on every item."""
        return self._turned(self.z)

    def _turned(self, z: Floats) -> Floats:
        worse = self.worse[:, None]
        return np.where(worse == 0, np.abs(z), z * worse)

    @cached_property
    def lasting(self) -> Ints:
        """1 where an item has been worse in 3 of the last 4 reports, -1 better, rows x items, on ``as_of``."""
        if self.daily.shape[2] == 0:
            return np.zeros(self.daily.shape[:2], dtype=np.int64)
        return persistent(self._turned(z_scores(self.daily, self.lasting_norm)))[..., -1]

    def profiled(self, row: int) -> Bools:
        """Items that the squad asks, or that somebody has answered in these days."""
        answered = np.asarray(~np.isnan(self.daily[row]).all(axis=-1))
        return answered | np.array([code in self.form for code in self.items], dtype=bool)

    def item(self, code: str) -> int | None:
        """Place of an item, None where it is not asked."""
        return self.items.index(code) if code in self.items else None

    def day(self, column: int) -> date:
        """Date of a column of :attr:`daily`."""
        return self.as_of - timedelta(days=self.daily.shape[2] - 1 - column)

    @cached_property
    def effort_beyond(self) -> Floats:
        """By how much each session felt harder than planned."""
        return self.sessions.effort - self.sessions.planned

    def effort_z(self, row: int, day: int, within: int = 3) -> float:
        """z of the effort beyond plan of an athlete's last session of the days up to ``day`` (an ordinal).

        Against their own 42 days before, from at least 10 sessions; nan without one.
        """
        mine = (self.sessions.row == row) & ~np.isnan(self.effort_beyond)
        here = np.flatnonzero(mine & (self.sessions.day <= day) & (self.sessions.day >= day - within))
        if here.size == 0:
            return float("nan")
        at = here[-1]
        age = self.sessions.day[at] - self.sessions.day
        values = self.effort_beyond[mine & (age > 0) & (age <= 42)]
        if values.size < 10:
            return float("nan")
        spread = max(float(np.std(values, ddof=1)), 0.25)
        return float((self.effort_beyond[at] - values.mean()) / spread)

"""A session as it runs: what was noted at the pitch, put together into how things stand.

Everything noted is kept as it was said, by whoever said it; how things stand is worked out from all of it, in order of
time. Two tablets that were apart come to the same once each knows what the other noted. A browser without a network
does the same sums; both are held to one set of cases.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import accumulate


class FieldKind(StrEnum):
    """What can be noted. ``BEGIN`` and ``STOP`` are of a part, the others of an athlete, or of nobody for ``NOTE``."""

    BEGIN = "begin"
    STOP = "stop"
    COUNT = "count"
    BREAK = "break"
    LEAVE = "leave"
    NOTE = "note"
    ON = "on"
    OFF = "off"


@dataclass(frozen=True)
class Event:
    """Something noted ``at`` a moment (seconds from any fixed one).

    ``part`` is the place of a part in the session. ``amount`` is how many were counted (below 0 takes some back) of
    ``what``, or how long a break is, in seconds. ``words`` are a note, or the place on the field that is taken.
    """

    id: str
    kind: FieldKind
    at: float
    athlete: int | None = None
    part: int | None = None
    amount: float = 0.0
    words: str = ""
    what: str = ""


@dataclass(frozen=True)
class SpellRule:
    """At most so many in a spell, then a break of so many seconds."""

    most: int
    seconds: float


@dataclass(frozen=True)
class Run:
    """A part as it was run; ``end`` None while it runs."""

    part: int
    begin: float
    end: float | None


@dataclass(frozen=True)
class Spell:
    """Counted in this spell and in all, when the break ends that has begun, and how many were counted during breaks."""

    count: int = 0
    total: int = 0
    break_until: float | None = None
    over: int = 0

    def on_break(self, now: float) -> bool:
        return self.break_until is not None and now < self.break_until


@dataclass(frozen=True)
class Stint:
    """Somebody's time in a place on the field; ``end`` None while they are on."""

    athlete: int
    place: str
    begin: float
    end: float | None


@dataclass(frozen=True)
class Field:
    """How things stand.

    ``runs`` are parts in the order in which they began; ``left`` when somebody went; ``stints`` who was on where.
    """

    runs: tuple[Run, ...]
    spells: Mapping[int, Spell]
    left: Mapping[int, float]
    stints: tuple[Stint, ...]

    @property
    def running(self) -> Run | None:
        return self.runs[-1] if self.runs and self.runs[-1].end is None else None

    def minutes_on(self, athlete: int, now: float) -> float:
        """Minutes that somebody was on the field until ``now``."""
        mine = [one for one in self.stints if one.athlete == athlete]
        return sum((now if one.end is None else one.end) - one.begin for one in mine) / 60

    def most_on(self) -> int:
        """How many were on the field at once, at most. Who comes on the moment another goes off is not beside them."""
        steps = [(one.begin, 1) for one in self.stints] + [(one.end, -1) for one in self.stints if one.end is not None]
        return max(accumulate(by for _, by in sorted(steps)), default=0)


def fold(events: Iterable[Event], rules: Mapping[int, SpellRule] | None = None, what: str | None = None) -> Field:
    """How things stand after these events, whatever the order they came in.

    Spells are of ``what`` is asked for, under ``rules`` by athlete; without it, of everything counted together.
    """
    runs: list[Run] = []
    spells: dict[int, Spell] = {}
    left: dict[int, float] = {}
    stints: list[Stint] = []
    for event in sorted(events, key=lambda one: (one.at, one.id)):
        if event.kind is FieldKind.BEGIN and event.part is not None:
            _begin(runs, event.part, event.at)
        elif event.kind is FieldKind.STOP:
            _stop(runs, event.at)
        elif event.athlete is None or (event.kind is FieldKind.COUNT and what is not None and event.what != what):
            continue
        elif event.kind in (FieldKind.COUNT, FieldKind.BREAK):
            spell = spells.get(event.athlete, Spell())
            spells[event.athlete] = _counted(spell, event, (rules or {}).get(event.athlete))
        elif event.kind is FieldKind.LEAVE:
            left.setdefault(event.athlete, event.at)
            _off(stints, event.at, athlete=event.athlete)
        elif event.kind is FieldKind.ON:
            _off(stints, event.at, athlete=event.athlete)
            _off(stints, event.at, place=event.words)
            stints.append(Stint(event.athlete, event.words, event.at, None))
        elif event.kind is FieldKind.OFF:
            _off(stints, event.at, athlete=event.athlete)
    return Field(tuple(runs), spells, left, tuple(stints))


def _begin(runs: list[Run], part: int, at: float) -> None:
    """A part that runs already goes on: two tablets that both began it began it once, with the first of them."""
    if runs and runs[-1].end is None:
        if runs[-1].part == part:
            return
        _stop(runs, at)
    runs.append(Run(part, at, None))


def _stop(runs: list[Run], at: float) -> None:
    if runs and runs[-1].end is None:
        runs[-1] = replace(runs[-1], end=at)


def _counted(spell: Spell, event: Event, rule: SpellRule | None) -> Spell:
    if spell.break_until is not None and event.at >= spell.break_until:
        spell = replace(spell, count=0, break_until=None)
    if event.kind is FieldKind.BREAK:
        return replace(spell, break_until=event.at + event.amount)
    by = round(event.amount)
    if spell.break_until is not None:
        if by < 0 and spell.over == 0 and rule is not None and spell.count >= rule.most:
            # The one that began the break is taken back, and the break with it.
            return replace(spell, count=spell.count + by, total=max(spell.total + by, 0), break_until=None)
        return replace(spell, total=max(spell.total + by, 0), over=max(spell.over + by, 0))
    count, total = max(spell.count + by, 0), max(spell.total + by, 0)
    full = rule is not None and count >= rule.most and by > 0
    return replace(spell, count=count, total=total, break_until=event.at + rule.seconds if full and rule else None)


def _off(stints: list[Stint], at: float, athlete: int | None = None, place: str | None = None) -> None:
    for i, one in enumerate(stints):
        if one.end is None and (one.athlete == athlete if athlete is not None else one.place == place):
            stints[i] = replace(one, end=at)

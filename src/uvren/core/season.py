"""A season in phases."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from itertools import pairwise

from uvren.core.errors import BadSeason


class PhaseKind(StrEnum):
    """What a phase is for, in the terms of periodisation (after Matveyev 1964)."""

    PREPARATION = "preparation"
    COMPETITION = "competition"
    TRANSITION = "transition"


@dataclass(frozen=True)
class Phase:
    """Days of a squad with one purpose; both ends belong to it."""

    kind: PhaseKind
    name: str
    first: date
    last: date


@dataclass(frozen=True)
class Standing:
    """Where a day is: its phase, the week of it counted from 1, and of how many."""

    phase: Phase
    week: int
    weeks: int


def in_order(phases: Sequence[Phase]) -> list[Phase]:
    """Phases by their days. Raises BadSeason for one that ends before it begins, or two that share a day.

    ``field`` is the place in ``phases``, with the end at fault: ``1.last``.
    """
    for i, phase in enumerate(phases):
        if phase.last < phase.first:
            raise BadSeason(f"{phase.name} ends before it begins.", field=f"{i}.last")
    order = sorted(range(len(phases)), key=lambda i: phases[i].first)
    for one, next_ in pairwise(order):
        if phases[next_].first <= phases[one].last:
            both = f"{phases[one].name} and {phases[next_].name}"
            raise BadSeason(f"{both} share days: a day has one phase.", field=f"{next_}.first")
    return [phases[i] for i in order]


def standing_on(phases: Sequence[Phase], day: date) -> Standing | None:
    """The phase of a day, None between phases. Weeks are of seven days from its first; the last may be shorter."""
    for phase in phases:
        if phase.first <= day <= phase.last:
            weeks = (phase.last - phase.first).days // 7 + 1
            return Standing(phase, (day - phase.first).days // 7 + 1, weeks)
    return None


def next_after(phases: Sequence[Phase], day: date) -> Phase | None:
    """The phase that begins next after a day."""
    return min((phase for phase in phases if phase.first > day), key=lambda phase: phase.first, default=None)

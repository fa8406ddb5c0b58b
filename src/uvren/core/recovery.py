"""Recovery windows: for how long a heavy session keeps what it loaded open, system by system.

Ranges for planning, never a measurement: nothing here says how anybody's tissue stands.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import pairwise
from types import MappingProxyType

import numpy as np

from uvren.core.windows import Bools, Floats, window_view

USUAL_DAYS = 28
LEAST_ACTIVE = 5
# z of a day's load among the athlete's own active days: from the first a day is heavy, at the second its window is as
# long as it gets.
HEAVY, HARDEST = 1.0, 3.0
LEAST_HEAVY = 1.2


class System(StrEnum):
    """What a session loads. Hormones follow the nervous system and sleep, so they have no window of their own."""

    MUSCLE = "muscle"
    TENDON_BONE = "tendon and bone"
    NERVE = "nervous system"
    ENERGY = "energy stores"


@dataclass(frozen=True)
class Window:
    """Hours after a heavy session: ``early`` for one just heavy and a practised athlete, ``late`` the other end."""

    early: float
    late: float


WINDOWS: Mapping[System, Window] = MappingProxyType(
    {
        System.MUSCLE: Window(24, 72),
        System.TENDON_BONE: Window(24, 72),
        System.NERVE: Window(48, 96),
        System.ENERGY: Window(12, 48),
    }
)


@dataclass(frozen=True)
class Work:
    """A channel's days for its systems.

    Parameters
    ----------
    name : str
        What the work is called.
    systems : tuple of System
    load : float array, athletes x days
        nan where unknown. The last day may be one that is only planned.
    begins, ends : float arrays, days
        Hours after midnight at which the day's first such session begins and its last one ends, nan without one.
    """

    name: str
    systems: tuple[System, ...]
    load: Floats
    begins: Floats
    ends: Floats

    def part(self, begin: int, end: int) -> Work:
        """The same for the columns from ``begin`` to before ``end``."""
        here = slice(begin, end)
        return replace(self, load=self.load[:, here], begins=self.begins[here], ends=self.ends[here])


@dataclass(frozen=True)
class Heavy:
    """A heavy day: its column, the work it was heavy by, its load, and z among the own active days of 28 before."""

    column: int
    work: Work
    load: float
    z: float


def heaviness(load: Floats) -> Floats:
    """z of each day among the athlete's own active days of the 28 before it, shape kept.

    nan on days without load and with fewer than 5 active days to compare with. A day that is not at least a fifth above
    the usual one is never heavy, however alike the others were.
    """
    known = np.nan_to_num(load)
    active = np.where(known > 0, known, np.nan)
    before = window_view(active, USUAL_DAYS + 1, np.nan)[..., :-1]
    enough = np.sum(~np.isnan(before), axis=-1) >= LEAST_ACTIVE
    safe = np.where(enough[..., None], before, 0.0)
    middle, spread = np.nanmean(safe, axis=-1), np.nanstd(safe, axis=-1, ddof=1)
    out = np.full(np.shape(load), np.nan)
    # Where every day was alike none is heavy; what is left of a spread then is rounding.
    np.divide(active - middle, spread, out=out, where=enough & (spread > 1e-9 * middle))
    with np.errstate(invalid="ignore"):
        return np.where(active < LEAST_HEAVY * middle, np.minimum(out, np.nextafter(HEAVY, 0)), out)


def open_hours(window: Window, z: float, *, beginner: bool = False) -> float:
    """How long a window is taken to be open, in hours: from its early end for a day just heavy to its late end.

    A beginner's is always at the late end.
    """
    share = 1.0 if beginner else float(np.clip((z - HEAVY) / (HARDEST - HEAVY), 0.0, 1.0))
    return window.early + share * (window.late - window.early)


def last_heavy(works: Sequence[Work], heavy: Sequence[Floats], system: System, row: int, until: int) -> list[Heavy]:
    """An athlete's heavy days for a system up to a column, oldest first; ``heavy`` is :func:`heaviness` of each work.

    A day that was heavy by more than one kind of work counts once, by the heaviest.
    """
    best: dict[int, Heavy] = {}
    for work, z in zip(works, heavy, strict=True):
        if system not in work.systems:
            continue
        mine = z[row, : until + 1]
        with np.errstate(invalid="ignore"):
            days: Bools = mine >= HEAVY
        for column in map(int, np.flatnonzero(days)):
            if column not in best or mine[column] > best[column].z:
                best[column] = Heavy(column, work, float(work.load[row, column]), float(mine[column]))
    return [best[column] for column in sorted(best)]


@dataclass(frozen=True)
class Clash:
    """Two heavy days of an athlete (``row``) for one system, fewer ``hours`` apart than are ``wanted``."""

    row: int
    system: System
    one: Heavy
    other: Heavy
    hours: float
    wanted: float


def clashes(
    works: Sequence[Work], first: int, beginner: Bools | None = None, *, heavy_from: float = 1.5
) -> list[Clash]:
    """Heavy days from a column on that follow another one for the same system before its window's early end.

    For a beginner before its late end. Of systems that two days are too close for alike, the one with most to wait for.

    Parameters
    ----------
    works : sequence of Work
        Loads and hours through the last day that is planned.
    beginner : bool array, shape (athletes,), optional
    """
    heavy = [heaviness(work.load) for work in works]
    rows, last = (works[0].load.shape[0], works[0].load.shape[1] - 1) if works else (0, 0)
    found: dict[tuple[int, int], Clash] = {}
    for row in range(rows):
        late = beginner is not None and bool(beginner[row])
        for system, window in WINDOWS.items():
            days = [one for one in last_heavy(works, heavy, system, row, last) if one.z >= heavy_from]
            wanted = window.late if late else window.early
            for one, other in pairwise(days):
                hours = hours_between(one, other)
                key = (row, other.column)
                if other.column >= first and hours < wanted and (key not in found or wanted > found[key].wanted):
                    found[key] = Clash(row, system, one, other, hours, wanted)
    return [found[key] for key in sorted(found)]


def hours_between(one: Heavy, other: Heavy) -> float:
    """From the end of a heavy day's work to the beginning of another's; whole days where no times are known."""
    begins, ends = other.work.begins[other.column], one.work.ends[one.column]
    if np.isnan(begins) or np.isnan(ends):
        return 24.0 * (other.column - one.column)
    return float(24.0 * (other.column - one.column) + begins - ends)


@dataclass(frozen=True)
class Tier:
    """A step of the guide: what is in it; the next one is worth a thought once this one is steady."""

    name: str
    what: str


GUIDE = (
    Tier("Foundations", "Sleep; food and drink in all; how much is planned."),
    Tier("Extras", "When food is taken; worries, and goals that can be reached; hands-on treatment."),
    Tier("Marginal", "Supplements; hot and cold; gadgets."),
)
COLD = (
    "Cold water divides the schools. One uses it after any hard day: it feels better sooner. The other leaves it out "
    "while something is being built: what makes it sore is part of what makes it stronger. Here it is for days between "
    "matches that are close, and no routine while building."
)
DRUGS = "Anti-inflammatory drugs only through a clinician, and never as a routine."
# Matches so few days apart are close.
CLOSE_DAYS = 4


def cold_water(building: bool, days_between: int | None) -> str:
    """What holds of cold water now: in a phase that builds or not, with matches so many days apart (None: none)."""
    if days_between is not None and days_between <= CLOSE_DAYS:
        return f"Matches are {days_between} days apart: cold water may be used between them."
    if building:
        return "This phase builds: no cold water as a routine."
    return "No matches are close: cold water is not needed as a routine."

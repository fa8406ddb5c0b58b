"""What is told once for the squad: one session that asks too much of several."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from uvren.core import words
from uvren.core.windows import Floats

STEP_MINUTES = 5.0
# More than half of a session is another session, not a change of it.
MOST_SHARE = 0.5
# Alone, a plan over room is told for the person.
LEAST_PEOPLE = 2


@dataclass(frozen=True)
class Cut:
    """A session that several have no room for: ``minutes`` less clears ``cleared``, and not ``left`` (rows).

    ``minutes`` is 0 where nobody is cleared by leaving half of it.
    """

    minutes: float
    cleared: tuple[int, ...]
    left: tuple[int, ...]

    @property
    def rows(self) -> tuple[int, ...]:
        return tuple(sorted((*self.cleared, *self.left)))

    def sentence(self, session: str, names: Sequence[str]) -> str:
        """Such as "Today's court session is over the limits for 5; 15 min less clears all but D. Elsilith."."""
        over = f"Today's {session} is over what the limits leave for {len(self.rows)}"
        if not self.minutes:
            return f"{over}; half of it would still be."
        whom = f"all but {words.listed([names[row] for row in self.left])}" if self.left else "them all"
        return f"{over}; {self.minutes:.0f} min less clears {whom}."


def smallest_cut(over: Floats, effort: Floats, minutes: Floats, session: float = 0.0) -> Cut | None:
    """The smallest change of a session that clears everybody whom leaving at least half of it can clear.

    Parameters
    ----------
    over : float array, rows
        Load planned today beyond room; 0 or less, or nan, for who has room.
    effort : float array, rows
        Load a minute of the session brings each of them.
    minutes : float array, rows
        What each is planned in it.
    session : float
        How long it is; who is planned for less of it has less only once it is shorter than that.

    Returns
    -------
    Cut or None
        None where it is too much for less than two.
    """
    concerned = np.flatnonzero(np.nan_to_num(over) > 0.5)
    if concerned.size < LEAST_PEOPLE:
        return None
    with np.errstate(divide="ignore", invalid="ignore"):
        wanted = np.ceil((over / effort + np.maximum(session - minutes, 0.0)) / STEP_MINUTES - 1e-9) * STEP_MINUTES
    can = np.array([bool(wanted[row] <= max(minutes[row], session) * MOST_SHARE) for row in concerned])
    cleared, left = concerned[can], concerned[~can]
    less = float(wanted[cleared].max()) if cleared.size else 0.0
    return Cut(less, tuple(map(int, cleared)), tuple(map(int, left)))

"""What a match asks of a position, and of one person; and a piece of work in per cent of it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from uvren.core.windows import Bools, Floats

# From this share of a match on somebody has played it: what they did says what a match is.
PLAYED = 0.6
# Own matches from which on somebody is measured by their own.
OWN = 4
# What fewer than this share of the matches had at all is too rare to be a measure.
OFTEN = 0.5


@dataclass(frozen=True)
class Reference:
    """What a match is: mean, spread (SD, nan below two) and how often there was any, by figure; of ``n`` who played it.

    Means are nan where nothing is known. Shapes (figures,). ``minutes`` is how long they played, a mean; ``a_minute``
    what a minute of play came to.
    """

    load: Floats
    n: int
    spread: Floats
    often: Floats
    minutes: float
    a_minute: Floats

    @property
    def rare(self) -> Bools:
        """Figures that most matches do not have: a share of their mean says nothing."""
        return np.asarray((self.often < OFTEN) | (self.load <= 0))


def references(position: Sequence[str], share: Floats, load: Floats, minutes: Floats) -> dict[str, Reference]:
    """What a match was for each position, and under ``""`` for everybody.

    Parameters
    ----------
    position : sequence of str, length n
    share : float array, shape (n,)
        Of the match's minutes that were played.
    load : float array, shape (n, figures)
        nan where it is not known.
    minutes : float array, shape (n,)
        That were played.
    """
    played = share >= PLAYED
    here = np.array(position)
    found = {}
    for name in ("", *dict.fromkeys(position)):
        mine = played & ((here == name) if name else np.ones(share.shape, dtype=bool))
        if mine.any():
            found[name] = _reference(load[mine], minutes[mine])
    return found


def own_references(athlete: Sequence[int], share: Floats, load: Floats, minutes: Floats) -> dict[int, Reference]:
    """What a match is for those who have played four of them and more, by athlete; shapes as in ``references``."""
    played, who = share >= PLAYED, np.array(athlete)
    mine = {key: played & (who == key) for key in dict.fromkeys(athlete)}
    return {key: _reference(load[rows], minutes[rows]) for key, rows in mine.items() if rows.sum() >= OWN}


def _reference(load: Floats, minutes: Floats) -> Reference:
    known = ~np.isnan(load)
    n = known.sum(axis=0)
    total = np.nansum(load, axis=0)
    mean = np.where(n > 0, total / np.maximum(n, 1), np.nan)
    squares = np.nansum((load - mean) ** 2, axis=0)
    return Reference(
        load=mean,
        n=int(load.shape[0]),
        spread=np.where(n > 1, np.sqrt(squares / np.maximum(n - 1, 1)), np.nan),
        often=np.where(n > 0, (np.nan_to_num(load) > 0).sum(axis=0) / np.maximum(n, 1), np.nan),
        minutes=float(minutes.mean()),
        a_minute=np.where(n > 0, total / np.maximum((known * minutes[:, None]).sum(axis=0), 1e-9), np.nan),
    )


def short_of(reference: Reference, own: Floats) -> Floats:
    """What somebody is short of a match, by figure; nan where nobody knows what it is."""
    return np.maximum(reference.load - np.nan_to_num(own), 0.0)


def percent(reference: Reference, own: Floats) -> Floats:
    """``own`` in per cent of a match, by figure; nan where a match is not known, or too rarely has any of it."""
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.asarray(np.where(reference.rare, np.nan, own / reference.load * 100))

"""For whom a plan was written, and in what whoever it is given to is another."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from uvren.core.windows import Floats

# So much of a day, of a session's minutes or of a week's work is taken to be the same.
DAY, SAME = 0.5, 1.1


@dataclass(frozen=True)
class WrittenFor:
    """Whom a plan was made for. None, or an empty word, is where nothing was said.

    ``years_least`` and ``years_most`` are of training behind them, ``sport_days`` the days a week with sport that it
    stands beside, ``longest`` the minutes of a session that they are used to.
    """

    years_least: float | None
    years_most: float | None
    sport: str
    sport_days: float | None
    longest: float | None


NOTHING_SAID = WrittenFor(None, None, "", None, None)


@dataclass(frozen=True)
class Whom:
    """Who a plan is given to.

    Parameters
    ----------
    years : float array, shape (n,)
        Of training behind each; nan where nobody has said it.
    sport : str
    sport_days : float
        Days a week with sport of the last weeks, the median of them all.
    longest : float
        Minutes of the longest session of the plan's kinds in those weeks, the median of them all; nan without one.
    week : float
        Minutes times effort of a usual week in the plan's kinds, the median of them all; nan where there was none.
    """

    years: Floats
    sport: str
    sport_days: float
    longest: float
    week: float


def differs(written: WrittenFor, whom: Whom, longest: float, week: float) -> list[str]:
    """In what those who get a plan are not those it was written for, and what is more in it than they are used to.

    ``longest`` is the longest session of the plan in minutes, ``week`` its heaviest week in minutes times effort.
    """
    return [
        *_years(written, whom.years),
        *_sport(written, whom),
        *_sport_days(written, whom.sport_days),
        *_longest(written, whom.longest, longest),
        *_week(whom.week, week),
    ]


def _years(written: WrittenFor, years: Floats) -> Iterator[str]:
    least, most = written.years_least, written.years_most
    if least is not None:
        yield from _years_apart(f"{_counted(least, 'year')} of training or more", years[years < least], years, "less")
    if most is not None:
        yield from _years_apart(f"at most {_counted(most, 'year')} of training", years[years > most], years, "more")
    unknown = int(np.isnan(years).sum())
    if unknown and (least is not None or most is not None):
        whose = "" if years.size == 1 else f" of {unknown} of {years.size}"
        yield f"Nobody has said the years of training{whose}."


def _years_apart(asked: str, others: Floats, years: Floats, less: str) -> Iterator[str]:
    if others.size:
        have = "has" if others.size == 1 else "have"
        here = f"here it is {others[0]:.1f}" if years.size == 1 else f"{others.size} of {years.size} {have} {less}"
        yield f"Written for {asked}; {here}."


def _counted(many: float, one: str) -> str:
    return f"{many:g} {one}{'' if many == 1 else 's'}"


def _sport(written: WrittenFor, whom: Whom) -> Iterator[str]:
    if written.sport and not whom.sport:
        yield f"Written for {written.sport}; nobody has said what sport this is for."
    elif written.sport.casefold() != whom.sport.casefold() and written.sport:
        yield f"Written for {written.sport}; this is {whom.sport}."


def _sport_days(written: WrittenFor, days: float) -> Iterator[str]:
    if written.sport_days is not None and days - written.sport_days > DAY:
        beside = _counted(written.sport_days, "day")
        yield f"Written beside {beside} of sport a week; here there are {days:.2g}."


def _longest(written: WrittenFor, used_to: float, longest: float) -> Iterator[str]:
    # What somebody does is known better than what those it was written for were said to do.
    if np.isfinite(used_to) and longest > SAME * used_to:
        yield f"Its longest session is {longest:g} min; of the last weeks here the longest was {used_to:g}."
    elif not np.isfinite(used_to) and longest > 0:
        yield f"Its longest session is {longest:g} min; nothing of the kind was done here in the last weeks."
    if written.longest is not None and longest > written.longest:
        yield f"Written for sessions of up to {written.longest:g} min; its own longest is {longest:g}."


def _week(usual: float, week: float) -> Iterator[str]:
    if np.isfinite(usual) and usual > 0 and week > SAME * usual:
        yield f"Its heaviest week is {week / usual:.1f} times what is usual here in work of the kind."

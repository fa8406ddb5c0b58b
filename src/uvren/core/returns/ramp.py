"""The ramp after a layoff: which share of the reference week each week back may hold (after Caterisano et al. 2019)."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from uvren.core import words
from uvren.core.loads import DailyLoads
from uvren.core.windows import run_length

# Days off from which a ramp holds, with the shares of its weeks in per cent.
SHARES = (
    (56, (40, 50, 60, 70, 80, 90, 100)),
    (28, (50, 70, 80, 90, 100)),
    (14, (50, 70, 100)),
    (7, (70, 100)),
)
# A newcomer without history is treated as one who comes back from so many days.
NEWCOMER_DAYS = 28
REFERENCE_DAYS = 28


# One step more than after the longest break.
_SLOWEST = (30, *SHARES[0][1])


class School(StrEnum):
    """How quickly a ramp rises: as for the break itself, or as for one a class longer or shorter."""

    STANDARD = "standard"
    SLOWER = "slower"
    FASTER = "faster"


SOURCES = {
    School.STANDARD: "Steps by the length of the break (after Caterisano et al. 2019)",
    School.SLOWER: "As after a break one class longer; the squad's own choice, for who has been out before",
    School.FASTER: "As after a break one class shorter; the squad's own choice, for who kept something up",
}


def shares_after(days_off: int, school: School = School.STANDARD) -> tuple[int, ...]:
    """Shares of the reference week by week back, in per cent; empty under 7 days off."""
    at = next((i for i, (least, _) in enumerate(SHARES) if days_off >= least), None)
    if at is None:
        return ()
    if school is School.SLOWER:
        return SHARES[at - 1][1] if at > 0 else _SLOWEST
    return SHARES[min(at + (school is School.FASTER), len(SHARES) - 1)][1]


@dataclass(frozen=True)
class Ramp:
    """Where someone stands on the ramp: days off before it, week (from 1), share in per cent, reference week load.

    ``newcomer`` goes by a declared usual week in place of a measured one; ``low`` by the highest month of the last
    year, where the base is low without a break to be seen.
    """

    days_off: int
    week: int
    share: float
    reference: float
    newcomer: bool = False
    low: bool = False

    @property
    def most(self) -> float:
        """The most week load that the ramp allows."""
        return self.share / 100 * self.reference

    def said(self) -> str:
        """Such as "week 2 after 21 days off: 70 % of 2 310 a week"."""
        share = f"{words.percent(self.share / 100)} of {words.number(self.reference)} a week"
        if self.newcomer:
            return f"week {self.week} in the squad: {share}, as declared"
        if self.low:
            return f"base load is low: {share}, the highest month of the last year"
        return f"week {self.week} after {self.days_off} days off: {share}"


def ramp_on(
    loads: DailyLoads, row: int, column: int, declared: float = float("nan"), *, history_days: int = 21
) -> Ramp | None:
    """The ramp of one row on the day of ``column``; None where there is no reference to go by, or the ramp is over.

    The days before count as they stand. ``declared`` is the usual week somebody has said, nan for none: it stands in
    for a reference that was never measured.
    """
    start = int(loads.start[row])
    age = column - start
    if age < history_days:
        shares = shares_after(NEWCOMER_DAYS)
        week = max(age, 0) // 7
        return None if np.isnan(declared) else Ramp(0, week + 1, shares[week], declared, newcomer=True)
    values = loads.values[row, :column]
    off = (values == 0) & loads.known[row, :column]
    run = run_length(off[None, :])[0]
    ends = np.flatnonzero((run >= 7) & np.append(run[1:] == 0, True))
    if ends.size:
        end = int(ends[-1])
        days_off = int(run[end])
        shares, week = shares_after(days_off), (column - end - 1) // 7
        first_off = end - days_off + 1
        reference = float(values[max(first_off - REFERENCE_DAYS, 0) : first_off].sum()) / 4
        if first_off - start < REFERENCE_DAYS:
            reference = declared
        if week < len(shares):
            return None if np.isnan(reference) else Ramp(days_off, week + 1, shares[week], reference)
    # A base that is low without a break: half of what the best month of the year was, as after a short one.
    month = np.convolve(values[max(column - 365, 0) :], np.ones(REFERENCE_DAYS), "valid")
    highest = float(month.max()) / 4 if month.size else 0.0
    return Ramp(0, 1, 50.0, highest, low=True) if highest > 0 else None

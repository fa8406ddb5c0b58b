"""A notice that a lighter week is due: from several signs at once, or because the last one is long ago."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from uvren.core import words
from uvren.core.audience import Audience
from uvren.core.day import Desk
from uvren.core.norms import CHANGE
from uvren.core.notices.base import LISTED, Cause, Notice, NoticeKind, Setting, Severity, Shape, Strand
from uvren.core.notices.loads import BaseRising
from uvren.core.notices.reports import LifeLoad, SorenessStays
from uvren.core.notices.tests import TestDown
from uvren.core.reports import ITEM_NAMES
from uvren.core.windows import Ints, run_length
from uvren.core.workload import Workload

# A week is a lighter one where its load is this share of the mean of the four before it, or less.
LIGHTER = 0.7
_SPIRITS = ("energy", "mood", "drive")


def weeks_since(work: Workload, column: int) -> Ints:
    """Whole weeks up to a day since the last lighter week of each row ended; since the history began where none did.

    A week in which nothing is known of a day is none.
    """
    week = work.week_load
    before = np.full(week.shape, np.nan)
    if week.shape[1] > 28:
        shifted = [week[:, 28 - 7 * i : week.shape[1] - 7 * i] for i in (1, 2, 3, 4)]
        before[:, 28:] = np.mean(shifted, axis=0)
    with np.errstate(invalid="ignore"):
        heavier = ~((week <= LIGHTER * before) & (before > 0)) & (work.loads.age > 0)
    running = run_length(heavier)[:, column]
    return running // 7


class LighterDue(NoticeKind):
    """A lighter week is due."""

    code = "lighter_due"
    name = "Lighter week due"
    rule = (
        "{signs} signs or more stand at once: a test stalled or down; soreness not gone before the next like session; "
        "energy, mood or drive down in 3 of the last 4 reports; the base rising week after week; life load high with "
        "hard training. Or {longest} weeks have passed since a lighter one, or {every} where they come at a fixed "
        "distance (0: they do not). Beginners, under half a year of training, have none."
    )
    cleared = "A week at 70 % of the four before it or less."
    source = "Schools differ: at a fixed distance, on signs, or both; on signs with a longest gap is the usual here."
    cause = Cause.BASE
    strand = Strand.BESIDE
    severities = (Severity.WATCH, Severity.NOTE)
    audience = Audience.REPORTS
    settings = (
        Setting("signs", "Signs", 2, 1, 5),
        Setting("longest", "Longest gap", 8, 3, 26, "weeks"),
        Setting("every", "Every so many weeks, 0 for on signs", 0, 0, 12, "weeks"),
        LISTED,
    )

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        signs = signs_of(desk)
        since = weeks_since(desk.now, desk.today)
        needed, longest, every = (self.setting(desk, key) for key in ("signs", "longest", "every"))
        beginner = np.zeros(desk.rows, dtype=bool) if desk.beginner is None else desk.beginner
        for row in np.flatnonzero(~beginner):
            mine, weeks = signs[row], int(since[row])
            on_signs = len(mine) >= needed[row]
            late = weeks >= longest[row] or 0 < every[row] <= weeks
            if not (on_signs or late):
                continue
            ago = f"{words.count(weeks, 'week')} since a lighter one" if weeks else "a lighter week ended just now"
            said = f"{words.listed(mine)}; {ago}." if mine else f"{ago}."
            yield (
                int(row),
                Notice(
                    code=self.code,
                    shape=Shape.WAVE if on_signs else Shape.OVER,
                    severity=Severity.WATCH if on_signs else Severity.NOTE,
                    title="Lighter week",
                    sentence=f"{said[:1].upper()}{said[1:]}",
                    clears="Clears with a week at 70 % of the four before it, or less.",
                    figure=float(len(mine)),
                ),
            )


def signs_of(desk: Desk) -> list[list[str]]:
    """Signs that stand for each row, in words."""
    found: list[list[str]] = [[] for _ in range(desk.rows)]
    kinds: tuple[tuple[NoticeKind, str], ...] = (
        (TestDown(), "{title} stalled or down"),
        (SorenessStays(), "soreness not gone before the next like session"),
        (BaseRising(), "base load rising for weeks"),
        (LifeLoad(), "life load high with hard training"),
    )
    for kind, said in kinds:
        first: dict[int, Notice] = {}
        for row, notice in kind.find(desk):
            # Several tests that are down are one sign.
            first.setdefault(row, notice)
        for row, notice in first.items():
            found[row].append(said.format(title=notice.title))
    facts = desk.facts
    if facts is not None and facts.daily.shape[2]:
        items = [i for i in map(facts.item, _SPIRITS) if i is not None]
        lasting = (facts.lasting[:, items] > 0) & (np.nan_to_num(facts.badness[:, items, -1]) >= CHANGE)
        for row in map(int, np.flatnonzero(lasting.any(axis=1))):
            down = [ITEM_NAMES[facts.items[i]] for i, one in zip(items, lasting[row], strict=True) if one]
            found[row].append(f"{words.listed(down)} down for days")
    return found

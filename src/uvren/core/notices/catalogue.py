"""Every kind of notice there is, and what a desk comes to."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Literal

from uvren.core.day import Desk
from uvren.core.notices.base import LISTED, Notice, NoticeKind, Severity, Strand
from uvren.core.notices.data import RatingEstimated, RatingMissing, ReportMissing, SensorDoubtful
from uvren.core.notices.lighter import LighterDue
from uvren.core.notices.limits import LimitBroken, LimitNear, PlannedDayBreaks, PlanOverRoom, UnderFloor
from uvren.core.notices.loads import BaseRising, BreakFound, DaysRunning, HeavyClose, Newcomer, RatioWithheld, Spread
from uvren.core.notices.overtraining import Overtraining
from uvren.core.notices.people import ComingBack, GateClosed, PainOrIllness, ReviewDue, StageBack, Unseen
from uvren.core.notices.reports import LifeLoad, LowMood, ReportChanged, SorenessStays
from uvren.core.notices.sessions import EffortFar, IndexOff, ThreeSignals
from uvren.core.notices.tests import SidesDiffer, TestDown
from uvren.core.notices.worn import HarderForWeeks, Worn

KINDS: Mapping[str, NoticeKind] = {
    kind.code: kind
    for kind in (
        LimitBroken(), PlanOverRoom(), UnderFloor(), PlannedDayBreaks(), LimitNear(),
        Spread(), DaysRunning(), HeavyClose(), BaseRising(), LighterDue(), BreakFound(), Newcomer(), RatioWithheld(),
        Worn(), HarderForWeeks(), ReportChanged(), Overtraining(), LowMood(), SorenessStays(), LifeLoad(),
        ThreeSignals(), IndexOff(), EffortFar(),
        TestDown(), SidesDiffer(),
        PainOrIllness(), Unseen(), GateClosed(), ComingBack(), StageBack(), ReviewDue(),
        RatingMissing(), RatingEstimated(), ReportMissing(), SensorDoubtful(),
    )
}  # fmt: skip


def notices_for(desk: Desk, *, lasting: bool = False) -> list[list[Notice]]:
    """Every notice of each row, most pressing first; empty for a row with nothing.

    ``lasting`` leaves out those that are about the day itself.
    """
    found: list[list[Notice]] = [[] for _ in range(desk.rows)]
    for kind in KINDS.values():
        if (lasting and kind.of_the_day) or not (desk.main or kind.every_channel):
            continue
        off = desk.tuning.off.get(kind.code)
        listed = kind.strand is not Strand.BESIDE or kind.setting(desk, LISTED.key) > 0
        for row, notice in kind.find(desk):
            if desk.done.start[row] <= desk.today and (off is None or not off[row]):
                on_list = listed if isinstance(listed, bool) else bool(listed[row])
                found[row].append(notice if on_list else replace(notice, severity=Severity.NOTE))
    return [sorted(notices, key=lambda notice: notice.severity.rank) for notices in found]


Needs = Literal["call", "change", "watch", "plan"]


def needs(notices: Sequence[Notice]) -> Needs:
    """Which part of the morning an athlete belongs to.

    ``call`` where their state asks for one, ``change`` where only their plan does, ``watch``, or ``plan``.
    """
    acts = {KINDS[notice.code].strand for notice in notices if notice.severity is Severity.ACT}
    if acts - {Strand.PLAN}:
        return "call"
    if acts:
        return "change"
    return "watch" if any(notice.severity is Severity.WATCH for notice in notices) else "plan"


def is_quiet(notice: Notice, called: Mapping[str, str]) -> bool:
    """Whether a call has answered a notice: it was there then, at least as pressing. ``called``: severity by key."""
    then = called.get(notice.key)
    return then is not None and Severity(then).rank <= notice.severity.rank

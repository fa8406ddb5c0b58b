"""The usual week before a break: what a climb takes its shares of, channel by channel."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.recovery import System
from uvren.core.returns import Template, days_a_week, held_for
from uvren.core.returns.ramp import REFERENCE_DAYS
from uvren.core.units import PositionLoad
from uvren.services.day.loads import definition_on, definitions_of
from uvren.services.day.unrated import declared_weeks
from uvren.store import queries
from uvren.store.models import Squad
from uvren.store.queries.squad import Member


@dataclass(frozen=True)
class Usual:
    """The usual week of an athlete by channel, as a plan keeps it, and on how many days of it there was work.

    ``missing`` counts days of those weeks without every rating: what is estimated of them counts, and nothing else.
    ``declared`` says that the main channel's is what somebody has said.
    """

    parts: dict[str, dict[str, Any]]
    days_a_week: int
    missing: int
    declared: bool


def usual_week(
    db: DbSession, squad: Squad, member: Member, first_off: date | None, first_day: date, template: Template,
    today: date, stated: float | None = None, before: Mapping[str, Mapping[str, Any]] | None = None,
) -> Usual:  # fmt: skip
    """What the four weeks before a break came to, a week.

    ``stated`` is the usual week load on the main channel where somebody says it; ``before`` are the parts of a plan
    that this one takes the place of: whoever is hurt on the way back had their usual week before the first break.
    """
    # Of a break still to come, the four weeks up to now stand for those before it.
    off = min(first_off or first_day, today)
    channels = queries.squad.channels(db, squad.id)
    begin, last = off - timedelta(days=REFERENCE_DAYS), off - timedelta(days=1)
    rows = queries.day.daily_loads(db, [channel.id for channel in channels], [member.athlete_id], last)
    whole = rows.size > 0 and rows[:, 2].min() <= begin.toordinal()
    days = 0 if first_off is None else (first_day - first_off).days
    own = template.regions
    parts: dict[str, dict[str, Any]] = {}
    week_days, missing, declared = 5, 0, False
    for channel in channels:
        definition = definition_on(definitions_of(channel), off)
        if definition is None:
            continue
        mine = rows[(rows[:, 0] == channel.id) & (rows[:, 2] >= begin.toordinal())]
        load = np.zeros(REFERENCE_DAYS)
        load[mine[:, 2].astype(int) - begin.toordinal()] = np.nan_to_num(mine[:, 3])
        reference = float(load.sum()) / (REFERENCE_DAYS / 7) if whole else 0.0
        if channel.is_main:
            missing = int((np.isnan(mine[:, 3]) | (mine[:, 4] > 0)).sum())
            week_days = days_a_week(load.tolist()) if whole else week_days
            said = stated if stated is not None else None if whole else _declared(db, member, first_day)
            if said is not None:
                reference, declared = said, True
        reference = max(reference, float((before or {}).get(channel.code, {}).get("reference", 0.0)))
        if reference <= 0:
            continue
        region = bool(own & {str(one) for one in channel.regions or ()})
        quick = System.TENDON_BONE in definition.form.systems or isinstance(definition.form, PositionLoad)
        if not (channel.is_main or region or quick):
            # What neither springs, sprints nor loads what was hurt goes with the main channel.
            continue
        held = 0 if channel.is_main else held_for(days, quick=quick, region=region)
        parts[channel.code] = {"reference": round(reference, 2), "held": held, "region": region}
    return Usual(parts, week_days, missing, declared)


def _declared(db: DbSession, member: Member, day: date) -> float | None:
    found = float(declared_weeks(db, [member], day)[0])
    return None if np.isnan(found) else found

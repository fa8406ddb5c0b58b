"""Every rule by its code."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from uvren.core.errors import BadLimit, UnknownRule
from uvren.core.limits.balance import BalanceFloor
from uvren.core.limits.base import Rule
from uvren.core.limits.days import DaysInRow, DaysInSeven
from uvren.core.limits.ratio import RatioCeiling, RatioFloor
from uvren.core.limits.returning import ReturnDay, ReturnWeek
from uvren.core.limits.spread import MonotonyCap, StrainCap
from uvren.core.limits.week import DayCap, WeekCap, WeekChangeCap, WeekEndChangeCap, WeekFloor
from uvren.core.windows import Floats
from uvren.core.workload import School

CATALOGUE: dict[str, type[Rule]] = {
    rule.code: rule
    for rule in (
        RatioCeiling,
        RatioFloor,
        WeekChangeCap,
        WeekEndChangeCap,
        WeekCap,
        WeekFloor,
        DayCap,
        BalanceFloor,
        DaysInRow,
        DaysInSeven,
        MonotonyCap,
        StrainCap,
        ReturnWeek,
        ReturnDay,
    )
}


def title_of(key: str) -> str:
    """The title of a rule by its key, such as ``ratio_ceiling:coupled``."""
    code, _, school = key.partition(":")
    rule = CATALOGUE[code]
    if issubclass(rule, RatioCeiling | RatioFloor):
        return rule(np.array(1.0), school=School(school or School.EWMA)).title
    return rule.title


def make_rule(code: str, value: Floats | float, settings: Mapping[str, Any] | None = None) -> Rule:
    """Build a rule from its code, value(s) and further settings (``school``, ``over``).

    Raises UnknownRule or BadLimit with the field at fault.
    """
    settings = settings or {}
    try:
        rule = CATALOGUE[code]
    except KeyError:
        known = ", ".join(CATALOGUE)
        raise UnknownRule(f"there is no rule {code!r}; rules are {known}", field="rule") from None
    values = np.atleast_1d(np.asarray(value, dtype=np.float64))
    if issubclass(rule, RatioCeiling | RatioFloor):
        try:
            school = School(settings.get("school", School.EWMA))
        except ValueError:
            schools = ", ".join(School)
            raise BadLimit(f"the school must be one of {schools}", field="school") from None
        return rule(values, school=school)
    if issubclass(rule, DaysInSeven):
        return rule(values, over=float(settings.get("over", 1)))
    return rule(values)

"""The plan ahead: sessions, limits and everybody's minutes, solved."""

from uvren.core.plan.problem import (
    LEVELS,
    Heavy,
    Own,
    PlanAthlete,
    PlanLimit,
    PlanSession,
    Problem,
    Split,
    Target,
)
from uvren.core.plan.solve import Binding, LevelFound, Plan, solve

__all__ = [
    "LEVELS",
    "Binding",
    "Heavy",
    "LevelFound",
    "Own",
    "Plan",
    "PlanAthlete",
    "PlanLimit",
    "PlanSession",
    "Problem",
    "Split",
    "Target",
    "solve",
]

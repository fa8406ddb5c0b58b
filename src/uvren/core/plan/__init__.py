"""The plan ahead: sessions, limits and everybody's minutes, solved."""

from uvren.core.plan.course import Course, lay_out
from uvren.core.plan.other_day import Move, best_move, moved
from uvren.core.plan.problem import (
    LEVELS,
    Heavy,
    Level,
    Own,
    PlanAthlete,
    PlanLimit,
    PlanSession,
    Problem,
    Split,
    Target,
)
from uvren.core.plan.solve import Binding, LevelFound, Plan, solve, solve_course

__all__ = [
    "LEVELS",
    "Binding",
    "Course",
    "Heavy",
    "Level",
    "LevelFound",
    "Move",
    "Own",
    "Plan",
    "PlanAthlete",
    "PlanLimit",
    "PlanSession",
    "Problem",
    "Split",
    "Target",
    "best_move",
    "lay_out",
    "moved",
    "solve",
    "solve_course",
]

"""Coming back: how a load rises again after a break, whether a date can be met, and what moves somebody on."""

from uvren.core.returns.breaks import Break, breaks
from uvren.core.returns.climb import Climb, ClimbWeek, Part, Terms, climb, days_a_week, held_for
from uvren.core.returns.evidence import Done, Evidence, Judged, Measured, judge, why_back
from uvren.core.returns.fit import Fit, fit, match_minutes, shortened, steepest, with_shares
from uvren.core.returns.ramp import SOURCES, Ramp, School, ramp_on, shares_after
from uvren.core.returns.stages import TEMPLATES, Criterion, Looks, Stage, Template, asked_in, template_of
from uvren.core.returns.steps import Step, WayBack, WhyNot, way_back

__all__ = [
    "SOURCES",
    "TEMPLATES",
    "Break",
    "Climb",
    "ClimbWeek",
    "Criterion",
    "Done",
    "Evidence",
    "Fit",
    "Judged",
    "Looks",
    "Measured",
    "Part",
    "Ramp",
    "School",
    "Stage",
    "Step",
    "Template",
    "Terms",
    "WayBack",
    "WhyNot",
    "asked_in",
    "breaks",
    "climb",
    "days_a_week",
    "fit",
    "held_for",
    "judge",
    "match_minutes",
    "ramp_on",
    "shares_after",
    "shortened",
    "steepest",
    "template_of",
    "way_back",
    "why_back",
    "with_shares",
]

"""Units of work: how a session becomes load, a class for each form."""

from uvren.core.units.base import Form, Level, Region, Source, WeightedClass
from uvren.core.units.catalogue import FORMS, make_form
from uvren.core.units.counted import CountedWork, Counts
from uvren.core.units.effort import EffortMinutes, SegmentEffort
from uvren.core.units.lifting import Lifting, Lifts, MaximumFormula, estimated_maximum
from uvren.core.units.sensors import HeartMethod, HeartRateLoad, ImpactLoad, PositionLoad

__all__ = [
    "FORMS",
    "CountedWork",
    "Counts",
    "EffortMinutes",
    "Form",
    "HeartMethod",
    "HeartRateLoad",
    "ImpactLoad",
    "Level",
    "Lifting",
    "Lifts",
    "MaximumFormula",
    "PositionLoad",
    "Region",
    "SegmentEffort",
    "Source",
    "WeightedClass",
    "estimated_maximum",
    "make_form",
]

"""Coming back: how a load rises again after a break."""

from uvren.core.returns.ramp import Ramp, ramp_on, shares_after
from uvren.core.returns.steps import Step, WayBack, WhyNot, way_back

__all__ = ["Ramp", "Step", "WayBack", "WhyNot", "ramp_on", "shares_after", "way_back"]

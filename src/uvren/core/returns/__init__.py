"""Coming back: how a load rises again after a break."""

from uvren.core.returns.ramp import Ramp, ramp_on, shares_after

__all__ = ["Ramp", "ramp_on", "shares_after"]

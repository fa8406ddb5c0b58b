"""A figure against the own ones before it."""

from __future__ import annotations

import numpy as np

from uvren.core.windows import Floats

# With fewer of the own before it nothing is said of how unusual a figure is.
LEAST = 6


def own_z(before: Floats, now: float) -> float:
    """How many own standard deviations ``now`` is from the mean of ``before``, shape (n,).

    nan with fewer than six known before, without any spread, or where ``now`` is not known.
    """
    known = before[~np.isnan(before)]
    if known.size < LEAST:
        return float("nan")
    spread = float(known.std(ddof=1))
    # What never changed but for rounding has no spread to measure by.
    if spread <= 1e-9 * max(abs(float(known.mean())), 1.0):
        return float("nan")
    return float((now - known.mean()) / spread)

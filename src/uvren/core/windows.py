"""Rolling windows and recurrences over the last axis of an array."""

from __future__ import annotations

import numpy as np
from numpy.lib.stride_tricks import sliding_window_view
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]
Ints = NDArray[np.int64]

# scipy.signal and scipy.ndimage take seconds to import. They are imported where they are used, so that what needs
# no arithmetic (signing in, serving the screens, most commands) does not wait for them.


def shifted(x: Floats, days: int, fill: float = 0.0) -> Floats:
    """Give each day the value of ``days`` earlier; the first days get ``fill``. Shape kept."""
    if days == 0:
        return x.copy()
    out = np.full_like(x, fill)
    if days < x.shape[-1]:
        out[..., days:] = x[..., :-days]
    return out


def window_view(x: Floats, days: int, fill: float = 0.0) -> Floats:
    """View of the last ``days`` values of each day, shape (..., D, days), oldest first."""
    padding = [(0, 0)] * (x.ndim - 1) + [(days - 1, 0)]
    padded = np.pad(x, padding, constant_values=fill)
    return sliding_window_view(padded, days, axis=-1)


def rolling_sum(x: Floats, days: int) -> Floats:
    """Sum over the last ``days`` values, days before the first counting as 0.

    Summed window by window, not by differences of a running total: a week of zeros is then exactly 0.
    """
    from scipy.ndimage import correlate1d

    # scipy centres the window; the origin moves it so that it ends on the day itself.
    ends = (days - 1) // 2
    return np.asarray(correlate1d(x, np.ones(days), axis=-1, mode="constant", origin=ends), dtype=np.float64)


def rolling_max(x: Floats, days: int) -> Floats:
    """Greatest of the last ``days`` values, nan left out; -inf where there is none."""
    from scipy.ndimage import maximum_filter1d

    filled = np.where(np.isnan(x), -np.inf, x)
    # scipy centres the window; the origin moves it so that it ends on the day itself.
    return np.asarray(maximum_filter1d(filled, days, axis=-1, mode="constant", cval=-np.inf, origin=(days - 1) // 2))


def decayed_sum(x: Floats, keep: float) -> Floats:
    """``y[d] = keep * y[d-1] + x[d]``, from 0. Shape kept."""
    from scipy.signal import lfilter

    return np.asarray(lfilter([1.0], [1.0, -keep], x, axis=-1), dtype=np.float64)


def decayed_sum_over_known(x: Floats, known: Bools, keep: float) -> Floats:
    """As :func:`decayed_sum`, but a day that is not known leaves the sum as it was."""
    if known.all():
        return decayed_sum(x, keep)
    # Known days are moved to the front of their row, run through the filter, and put back.
    order = np.argsort(~known, axis=-1, kind="stable")
    packed = np.take_along_axis(np.where(known, x, 0.0), order, axis=-1)
    run = decayed_sum(packed, keep)
    count = np.cumsum(known, axis=-1)
    held = np.take_along_axis(run, np.maximum(count - 1, 0), axis=-1)
    return np.where(count > 0, held, 0.0)


def run_length(active: Bools) -> Ints:
    """Length of the run of true values that ends on each day; 0 on a day that is false."""
    count = np.cumsum(active, axis=-1)
    at_last_break = np.maximum.accumulate(np.where(active, 0, count), axis=-1)
    return np.asarray(count - at_last_break, dtype=np.int64)

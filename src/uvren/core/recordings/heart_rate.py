"""Heart rate: cleaning, zones and impulse."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from uvren.core.errors import BadRecording
from uvren.core.recordings.samples import Samples, hold, in_order
from uvren.core.windows import Floats

LOWEST, HIGHEST = 25.0, 240.0
SPIKE = 40.0
LONGEST_HOLD = 10.0
EDWARDS_SHARES = np.array([0.5, 0.6, 0.7, 0.8, 0.9])
NEAR_SHARE = 0.03
PEAK_MINUTES = (1, 3, 5, 10)


class Sex(StrEnum):
    """Which of Banister's published pairs of constants is used."""

    FEMALE = "female"
    MALE = "male"


# (a, b) of Banister's training impulse.
BANISTER = {Sex.MALE: (0.64, 1.92), Sex.FEMALE: (0.86, 1.67)}


@dataclass(frozen=True)
class HeartAnchors:
    """What an athlete's heart rate is judged by, in beats a minute; None where it is not known."""

    hr_max: float | None = None
    hr_rest: float | None = None
    sex: Sex | None = None
    threshold_1: float | None = None
    threshold_2: float | None = None

    def __post_init__(self) -> None:
        if self.hr_max is not None and self.hr_rest is not None and self.hr_max <= self.hr_rest:
            raise BadRecording("the maximum heart rate is above the resting one", field="hr_max")
        if self.threshold_1 is not None and self.threshold_2 is not None and self.threshold_2 <= self.threshold_1:
            raise BadRecording("the second threshold is above the first", field="threshold_2")


def clean_heart_rate(t: Floats, hr: Floats) -> Samples:
    """Samples (shape (n,), seconds and beats a minute) in order of time, artefacts dropped and counted.

    Dropped are values outside 25 to 240, then isolated spikes: more than 40 above, or more than 40 below, both
    neighbours that are left. A value is held across gaps of at most 10 s.
    """
    t, hr, _ = in_order(t, hr)
    sane = (hr >= LOWEST) & (hr <= HIGHEST)
    dropped = int((~sane).sum())
    t, hr = t[sane], hr[sane]
    spike = np.zeros(hr.shape, dtype=bool)
    if hr.size > 2:
        step = np.diff(hr)
        before, after = step[:-1], step[1:]
        spike[1:-1] = ((before > SPIKE) & (after < -SPIKE)) | ((before < -SPIKE) & (after > SPIKE))
    dropped += int(spike.sum())
    t, hr = t[~spike], hr[~spike]
    return Samples(t, hr, hold(t, LONGEST_HOLD), dropped)


def impulse(samples: Samples, anchors: HeartAnchors) -> Floats | None:
    """Training impulse of each sample (shape (n,)): minutes x reserve x a·exp(b x reserve) (Banister 1991).

    Reserve is (HR - rest)/(maximum - rest), clipped to 0 to 1. None where an anchor is missing.
    """
    if anchors.hr_max is None or anchors.hr_rest is None or anchors.sex is None:
        return None
    a, b = BANISTER[anchors.sex]
    reserve = np.clip((samples.value - anchors.hr_rest) / (anchors.hr_max - anchors.hr_rest), 0, 1)
    return np.asarray(samples.held / 60 * reserve * a * np.exp(b * reserve))


def banister(samples: Samples, anchors: HeartAnchors) -> float | None:
    """Training impulse of a recording. None where an anchor is missing."""
    found = impulse(samples, anchors)
    return None if found is None else float(found.sum())


def zone_minutes(samples: Samples, edges: Floats, open_below: bool) -> list[float]:
    """Minutes in the zones that begin at ``edges`` (rising): closed below, open above, the last without end.

    With ``open_below`` a zone below the first edge comes first.
    """
    # A share of a maximum is seldom exact; a value on an edge belongs above it.
    zone = np.searchsorted(edges - 1e-9, samples.value, side="right")
    minutes = np.bincount(zone, weights=samples.held, minlength=edges.size + 1) / 60
    return [float(value) for value in (minutes if open_below else minutes[1:])]


def edwards_minutes(samples: Samples, hr_max: float) -> list[float]:
    """Minutes at 50, 60, 70, 80 and 90 % of the maximum and above (Edwards 1993)."""
    return zone_minutes(samples, EDWARDS_SHARES * hr_max, open_below=False)


def three_zone_minutes(samples: Samples, threshold_1: float, threshold_2: float) -> list[float]:
    """Minutes below the first threshold, between the two, and from the second up (Lucia et al. 2003)."""
    return zone_minutes(samples, np.array([threshold_1, threshold_2]), open_below=True)


THREE_ZONES = ("below the first threshold", "between the thresholds", "above the second threshold")
FIVE_ZONES = ("50 to 60 % of maximum", "60 to 70 %", "70 to 80 %", "80 to 90 %", "90 % and above")


def zones_known(samples: Samples, anchors: HeartAnchors) -> list[float] | None:
    """Minutes in three zones where both thresholds are known, else in five of the maximum; None without either."""
    if anchors.threshold_1 is not None and anchors.threshold_2 is not None:
        return three_zone_minutes(samples, anchors.threshold_1, anchors.threshold_2)
    return None if anchors.hr_max is None else edwards_minutes(samples, anchors.hr_max)


def weighted_minutes(minutes: list[float]) -> float:
    """Minutes x 1, 2, 3 … by zone."""
    return float(np.dot(minutes, np.arange(1, len(minutes) + 1)))


def near_thresholds(samples: Samples, thresholds: tuple[float, ...]) -> float:
    """Minutes within 3 % of any of the thresholds."""
    near = np.zeros(samples.value.shape, dtype=bool)
    for threshold in thresholds:
        near |= np.abs(samples.value - threshold) <= NEAR_SHARE * threshold + 1e-9
    return samples.time_where(near) / 60


@dataclass(frozen=True)
class HeartRateMetrics:
    """What a recording of heart rate comes to. None is not known: no anchor, or no samples."""

    minutes: float
    coverage: float | None
    dropped: int
    mean_hr: float | None
    max_hr: float | None
    banister: float | None
    edwards_minutes: list[float] | None
    edwards: float | None
    three_zone_minutes: list[float] | None
    three_zone: float | None
    near_threshold_minutes: float | None
    peak_mean_hr: dict[int, float | None]


def heart_rate_metrics(samples: Samples, anchors: HeartAnchors) -> HeartRateMetrics:
    """All figures of cleaned heart rate at once."""
    edwards = None if anchors.hr_max is None else edwards_minutes(samples, anchors.hr_max)
    three = near = None
    if anchors.threshold_1 is not None and anchors.threshold_2 is not None:
        three = three_zone_minutes(samples, anchors.threshold_1, anchors.threshold_2)
        near = near_thresholds(samples, (anchors.threshold_1, anchors.threshold_2))
    timed = samples.seconds > 0
    return HeartRateMetrics(
        minutes=samples.seconds / 60,
        coverage=samples.coverage if samples.t.size > 1 else None,
        dropped=samples.dropped,
        mean_hr=float(samples.value @ samples.held) / samples.seconds if timed else None,
        max_hr=float(samples.value.max()) if samples.value.size else None,
        banister=banister(samples, anchors),
        edwards_minutes=edwards,
        edwards=None if edwards is None else weighted_minutes(edwards),
        three_zone_minutes=three,
        three_zone=None if three is None else weighted_minutes(three),
        near_threshold_minutes=near,
        peak_mean_hr=_peak_means_of_value(samples),
    )


def _peak_means_of_value(samples: Samples) -> dict[int, float | None]:
    """Greatest rolling mean of the value; windows of which less than half is covered do not count."""
    if samples.t.size == 0:
        return dict.fromkeys(PEAK_MINUTES)
    second = (samples.t - samples.t[0]).astype(np.int64)
    held = np.concatenate([[0.0], np.cumsum(np.bincount(second, weights=samples.held))])
    total = np.concatenate([[0.0], np.cumsum(np.bincount(second, weights=samples.held * samples.value))])
    out: dict[int, float | None] = {}
    for window in PEAK_MINUTES:
        width = 60 * window
        time = held[width:] - held[:-width]
        enough = time >= width / 2
        out[window] = float(((total[width:] - total[:-width])[enough] / time[enough]).max()) if enough.any() else None
    return out

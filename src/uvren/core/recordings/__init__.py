"""Recordings: from raw samples of a device to what they come to."""

from uvren.core.recordings.heart_rate import (
    HeartAnchors,
    HeartRateMetrics,
    Sex,
    clean_heart_rate,
    heart_rate_metrics,
    impulse,
)
from uvren.core.recordings.impacts import DEFAULT_BANDS, Bands, ImpactMetrics, Side, impact_metrics, impacts_in_order
from uvren.core.recordings.position import (
    PositionMetrics,
    clean_speed,
    position_metrics,
    speed_from_degrees,
    speed_from_metres,
)
from uvren.core.recordings.samples import Samples, hold, in_order, peak_means, rows_of, runs

__all__ = [
    "DEFAULT_BANDS",
    "Bands",
    "HeartAnchors",
    "HeartRateMetrics",
    "ImpactMetrics",
    "PositionMetrics",
    "Samples",
    "Sex",
    "Side",
    "clean_heart_rate",
    "clean_speed",
    "heart_rate_metrics",
    "hold",
    "impact_metrics",
    "impacts_in_order",
    "impulse",
    "in_order",
    "peak_means",
    "position_metrics",
    "rows_of",
    "runs",
    "speed_from_degrees",
    "speed_from_metres",
]

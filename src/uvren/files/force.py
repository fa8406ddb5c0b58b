"""Reads force traces of jump plates: a table with a time and the force under each foot."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import numpy as np

from uvren.files.arrow import Floats, Kind, read_columns
from uvren.files.errors import BadFile
from uvren.files.layout import look_at

MOST_SAMPLES = 600_000
_LEFT, _RIGHT = ("left", " l ", "_l", "(l)"), ("right", " r ", "_r", "(r)")
_TIME = ("time", "t (", "zeit", "sec", "ms")


@dataclass(frozen=True)
class ForceTrace:
    """Force in N under the left and the right foot, ``rate`` samples a second."""

    left: Floats
    right: Floats
    rate: float


def read_force(path: Path) -> ForceTrace:
    """The trace of a file. Raises BadFile where columns are lacking or the samples are not evenly spaced."""
    look = look_at(path)
    time, left, right = (_column(look.columns, words) for words in (_TIME, _LEFT, _RIGHT))
    columns = read_columns(path, look.layout, dict.fromkeys((time, left, right), Kind.NUMBER))
    if columns.problems:
        first = columns.problems[0]
        raise BadFile(f"Row {first.row}: {first.why}")
    moments = columns.numbers[time]
    if not 100 <= moments.size <= MOST_SAMPLES or np.isnan(moments).any():
        raise BadFile("A force trace has 100 to 600 000 samples, each with its time.")
    steps = np.diff(moments)
    step = float(np.median(steps))
    if step <= 0 or np.abs(steps - step).max() > step / 2:
        raise BadFile("The samples of this trace are not evenly spaced.")
    seconds = step / 1000 if "ms" in time.lower() or step >= 0.5 else step
    return ForceTrace(columns.numbers[left], columns.numbers[right], 1 / seconds)


def _column(names: list[str], words: tuple[str, ...]) -> str:
    found = [name for name in names if any(word in f" {name.lower()} " for word in words)]
    if not found:
        raise BadFile(f"No column of this file is the {words[0]}: {', '.join(names)}.")
    return found[0]

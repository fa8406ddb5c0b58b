"""What the commands on load files do. Apart from the command line, so that its other commands start at once."""

from __future__ import annotations

import csv
import json
import os
import sys
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import asdict, replace
from datetime import date
from pathlib import Path
from typing import Any

import numpy as np

from uvren.core.errors import CoreError
from uvren.core.limits import make_rule, room_on
from uvren.core.loads import DailyLoads
from uvren.core.returns import WayBack, WhyNot, way_back
from uvren.core.series import LoadTable, tabulate
from uvren.core.workload import Workload
from uvren.files.errors import BadFile
from uvren.files.loads_csv import read_loads
from uvren.files.writing import plain_cell


class Unusable(ValueError):
    """Why a file or a question cannot be used, in one sentence."""


def _table(path: Path) -> LoadTable:
    try:
        with path.open(encoding="utf-8-sig", newline="") as source:
            return tabulate(read_loads(source))
    except OSError as error:
        raise Unusable(f"cannot read {path}: {error.strerror}") from error
    except UnicodeDecodeError as error:
        raise Unusable(f"{path} is not UTF-8 text") from error
    except (BadFile, CoreError) as error:
        raise Unusable(f"{path}: {error}") from error


def _cell(value: object) -> str:
    if isinstance(value, float | np.floating):
        return "" if np.isnan(value) else f"{float(value):.10g}"
    return str(value)


def _begun(loads: DailyLoads, start: float) -> DailyLoads:
    """The loads with ``start`` a day before them, for the model of two time constants."""
    return replace(loads, before=np.full(loads.load.shape[0], start)) if start else loads


def analyse(loads: Path, out: Path | None, start: float = 0.0) -> None:
    """Write every figure of every athlete, channel and day as CSV, to ``out`` or to standard output."""
    table = _table(loads)
    columns = Workload(_begun(table.loads, start)).columns()
    target = out.open("w", encoding="utf-8", newline="") if out else sys.stdout
    try:
        writer = csv.writer(target, lineterminator="\n")
        writer.writerow(["date", "athlete", "channel", *columns])
        for i, (athlete, channel) in enumerate(table.keys):
            for column in range(int(table.loads.start[i]), table.loads.days):
                figures = [_cell(values[i, column]) for values in columns.values()]
                writer.writerow([table.loads.date_of(column), plain_cell(athlete), plain_cell(channel), *figures])
    finally:
        if out:
            target.close()


def room(
    loads: Path, limits: Path, set_name: str, as_of: date, channel: str | None, start: float = 0.0
) -> list[dict[str, Any]]:
    """Room of every athlete with history up to ``as_of``, under the named set of hard limits."""
    table = _table(loads)
    try:
        sets = json.loads(limits.read_text(encoding="utf-8"))
    except OSError as error:
        raise Unusable(f"cannot read {limits}: {error.strerror}") from error
    except ValueError as error:
        raise Unusable(f"{limits} is not JSON: {error}") from error
    if not isinstance(sets, dict) or set_name not in sets:
        raise Unusable(f"{limits} has no set {set_name!r}")
    try:
        rules = [make_rule(limit["rule"], limit["value"], limit) for limit in sets[set_name]]
        name = channel or table.channels[0]
        athletes, rows = table.on_channel(name)
        workload = Workload(_begun(rows.through(as_of), start))
        answers = room_on(workload, rules, as_of)
    except CoreError as error:
        raise Unusable(str(error)) from error
    except (KeyError, TypeError) as error:
        message = f"{limits}: every limit of set {set_name!r} needs a rule and a number as its value"
        raise Unusable(message) from error
    return [
        {
            "athlete": athlete,
            "channel": name,
            "date": as_of.isoformat(),
            "limits": set_name,
            "room": answer.load,
            "binding": list(dict.fromkeys(key.partition(":")[0] for key in answer.binding)),
        }
        for athlete, answer, age in zip(athletes, answers, workload.loads.age[:, -1], strict=True)
        if age > 0
    ]


def ramp(loads: Path, athlete: str, channel: str, first: date, needed: float, target: date | None) -> dict[str, Any]:
    """The way back of an athlete on a channel from a day on, and whether ``needed`` per cent are there by a date."""
    table = _table(loads)
    if channel not in table.channels:
        raise Unusable(f"{loads} has no channel {channel!r}; channels are {', '.join(table.channels)}")
    row = next((i for i, key in enumerate(table.keys) if key == (athlete, channel)), None)
    asked: dict[str, Any] = {"athlete": athlete, "channel": channel, "return": first.isoformat()}
    # Of whom the file says nothing there is nothing to take a share of.
    found = WayBack(first, why_not=WhyNot.HISTORY) if row is None else way_back(table.loads, row, first)
    if found.first_day_off is not None:
        asked |= {"first_day_off": found.first_day_off.isoformat(), "days_off": found.days_off}
    if found.why_not is not None:
        return asked | {"why_not": found.why_not.value, "steps": []}
    steps = [asdict(step) | {"from": step.first.isoformat()} for step in found.steps]
    try:
        answer = asked | {
            "reference": found.reference,
            "steps": [_without(step, "first") for step in steps],
            "weeks_needed": found.weeks_to(needed),
            "earliest": found.earliest(needed).isoformat(),
        }
        if target is not None:
            short = found.days_short(needed, target)
            answer |= {"target": target.isoformat(), "reached_share": found.share_on(target), "days_short": short,
                       "fits": short == 0}  # fmt: skip
    except CoreError as error:
        raise Unusable(str(error)) from error
    return answer


@contextmanager
def _nothing_else_said() -> Iterator[None]:
    """The solver's library may write lines of its own to standard output, where only the answer is to stand."""
    sys.stdout.flush()
    kept, nowhere = os.dup(1), os.open(os.devnull, os.O_WRONLY)
    try:
        os.dup2(nowhere, 1)
        yield
    finally:
        os.dup2(kept, 1)
        os.close(kept)
        os.close(nowhere)


def plan(problem: Path, seconds: float) -> dict[str, Any]:
    """The plan nearest to the coach's with every limit held."""
    from uvren.core.plan import solve
    from uvren.files import plan_json

    try:
        until = time.monotonic() + seconds
        wanted, history = plan_json.read_problem(problem)
        rows = []
        if history is not None:
            with history.open(encoding="utf-8-sig", newline="") as source:
                rows = read_loads(source)
        with _nothing_else_said():
            found = solve(wanted, rows, left=lambda: until - time.monotonic())
        return plan_json.answer(wanted, found)
    except OSError as error:
        raise Unusable(f"cannot read {error.filename}: {error.strerror}") from error
    except UnicodeDecodeError as error:
        raise Unusable(f"{history} is not UTF-8 text") from error
    except (BadFile, CoreError) as error:
        raise Unusable(str(error)) from error


def lighter(plan: Path) -> dict[str, Any]:
    """Planned lines made lighter."""
    from uvren.files.lighter_json import lightened

    try:
        return lightened(plan)
    except OSError as error:
        raise Unusable(f"cannot read {error.filename}: {error.strerror}") from error
    except (BadFile, CoreError) as error:
        raise Unusable(str(error)) from error


def metrics(recording: Path, kind: str, anchors: Path) -> dict[str, Any]:
    """What a recording (CSV with ``t`` in seconds) comes to, under the anchors of one athlete."""
    from uvren.core import recordings as rec

    try:
        known = json.loads(anchors.read_text(encoding="utf-8"))
        if kind == "heart_rate":
            given = {name: known.get(name) for name in ("hr_max", "hr_rest", "threshold_1", "threshold_2")}
            sex = rec.Sex(known["sex"]) if known.get("sex") else None
            heart = rec.heart_rate_metrics(_samples(recording, kind), rec.HeartAnchors(**given, sex=sex))
            return _without(vars(heart), "peak_mean_hr")
        if kind == "speed":
            speed = rec.position_metrics(_samples(recording, kind), known.get("fast"), known.get("sprint"))
            return _without(vars(speed), "accelerations", "decelerations")
        edges, weights = known.get("impact_edges"), known.get("impact_weights")
        bands = rec.Bands(tuple(edges), tuple(weights)) if edges else rec.DEFAULT_BANDS
        t, values, columns = _columns(recording, "g", side=True)
        sides = np.array(columns.texts["side"].to_pylist(), dtype=object)
        _, peak, right = rec.impacts_in_order(t, values, sides == rec.Side.RIGHT)
        return _impacts(rec.impact_metrics(peak, right, bands))
    except Unusable:
        raise
    except OSError as error:
        raise Unusable(f"cannot read {error.filename}: {error.strerror}") from error
    except CoreError as error:
        raise Unusable(f"{recording}: {error}") from error
    except (ValueError, TypeError, AttributeError) as error:
        raise Unusable(f"{anchors} holds no anchors that can be used: {error}") from error


def likeness(
    training: Path, match: Path, metric: str, edges: str, work: float, gap: float, least: float
) -> dict[str, Any]:
    """Whether a recording of training is like one of a match (CSV with ``t`` and ``speed`` or ``hr``)."""
    from uvren.core.demands import Measure
    from uvren.core.demands import likeness as held_against

    try:
        measure = Measure(tuple(float(edge) for edge in edges.split(",")), work, gap, least)
    except CoreError as error:
        raise Unusable(str(error)) from error
    except ValueError as error:
        raise Unusable(f"the edges of the bins are numbers with commas between them, not {edges!r}") from error
    one, other = (_samples(path, metric) for path in (training, match))
    return asdict(held_against([one], [other], measure))


def _samples(recording: Path, kind: str) -> Any:
    """Cleaned samples of heart rate or speed. Raises Unusable."""
    from uvren.core import recordings as rec

    t, values, _ = _columns(recording, {"heart_rate": "hr", "speed": "speed"}[kind])
    return (rec.clean_heart_rate if kind == "heart_rate" else rec.clean_speed)(t, values)


def _columns(recording: Path, value: str, side: bool = False) -> Any:
    """``t``, the values, and all columns of a file. Raises Unusable."""
    from uvren.files.arrow import Kind, read_columns
    from uvren.files.layout import look_at

    try:
        wanted = {"t": Kind.NUMBER, value: Kind.NUMBER} | ({"side": Kind.TEXT} if side else {})
        columns = read_columns(recording, look_at(recording).layout, wanted)
    except OSError as error:
        raise Unusable(f"cannot read {error.filename}: {error.strerror}") from error
    except BadFile as error:
        raise Unusable(f"{recording}: {error}") from error
    return columns.numbers["t"], columns.numbers[value], columns


def _without(values: dict[str, Any], *names: str) -> dict[str, Any]:
    return {name: value for name, value in values.items() if name not in names}


def _impacts(found: Any) -> dict[str, Any]:
    return {
        **{
            side: {"count": part.count, "load": part.load}
            for side, part in (("left", found.left), ("right", found.right))
        },
        "asymmetry_percent": found.asymmetry_percent,
        "stronger": found.stronger,
    }

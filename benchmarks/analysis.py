"""The whole analysis of 60 athletes on 3 channels over 1,095 days, against the plain pandas way of writing it."""

from datetime import date

import numpy as np
import pandas as pd

from benchmarks.timing import best, report
from uvren.core.loads import DailyLoads
from uvren.core.workload import Workload

ATHLETES, CHANNELS, DAYS = 60, 3, 1095


def make_loads() -> DailyLoads:
    random = np.random.default_rng(5)
    shape = (ATHLETES * CHANNELS, DAYS)
    load = random.gamma(4, 90, shape) * (random.random(shape) < 0.8)
    load[random.random(shape) < 0.01] = np.nan
    return DailyLoads(date(2023, 8, 1), load, np.zeros(shape[0], dtype=np.int64))


def with_pandas(loads: DailyLoads) -> pd.DataFrame:
    """Row by row, as one would write it in a notebook: the same columns by the same definitions."""
    frames = []
    for row in range(loads.load.shape[0]):
        s = pd.Series(loads.load[row])
        f = pd.DataFrame({"load": s})
        f["acute"] = s.rolling(7, min_periods=1).mean().where(s.index >= 6)
        f["chronic"] = s.rolling(28, min_periods=1).mean().where(s.index >= 20)
        f["chronic_uncoupled"] = s.shift(7).rolling(21, min_periods=1).mean().where(s.index >= 20)
        f["ewma_acute"] = s.ewm(span=7, adjust=True).mean().where(s.index >= 6)
        f["ewma_chronic"] = s.ewm(span=28, adjust=True).mean().where(s.index >= 20)
        for name, tau in (("exp_acute", 7), ("exp_chronic", 42)):
            padded = pd.concat([pd.Series([0.0]), s.dropna()])
            state = padded.ewm(alpha=1 - np.exp(-1 / tau), adjust=False).mean().iloc[1:]
            f[name] = state.reindex(s.index).ffill().fillna(0)
        f["balance"] = (f["exp_chronic"] - f["exp_acute"]).shift(1, fill_value=0)
        f["week_load"] = s.rolling(7).sum()
        f["week_change"] = f["week_load"] / f["week_load"].shift(7).where(lambda w: w > 0) - 1
        deviation = s.rolling(7).std()
        f["monotony"] = s.rolling(7).mean() / deviation.where(deviation > 0)
        f["strain"] = f["week_load"] * f["monotony"]
        highest = f["chronic"].rolling(365, min_periods=1).max()
        missing = s.isna().rolling(7, min_periods=1).sum() > 0
        f["withheld"] = np.select(
            [s.index < 20, missing, (f["chronic"] <= 0) | (f["chronic"] < 0.25 * highest)],
            ["history", "missing", "rebuild"],
            default="",
        )
        shown = f["withheld"] == ""
        f["ratio_coupled"] = (f["acute"] / f["chronic"]).where(shown)
        f["ratio_uncoupled"] = (f["acute"] / f["chronic_uncoupled"]).where(shown)
        f["ratio_ewma"] = (f["ewma_acute"] / f["ewma_chronic"]).where(shown)
        frames.append(f)
    return pd.concat(frames, keys=range(len(frames)))


def main() -> None:
    loads = make_loads()
    ours, theirs = Workload(loads).columns(), with_pandas(loads)
    differing = [
        name
        for name, values in ours.items()
        if name != "withheld"
        and not np.allclose(values.ravel(), theirs[name].to_numpy(), rtol=1e-6, atol=1e-6, equal_nan=True)
    ]
    quick = best(lambda: Workload(loads).columns())
    plain = best(lambda: with_pandas(loads), runs=3)
    report(
        what=f"analysis of {ATHLETES} athletes x {CHANNELS} channels x {DAYS} days",
        seconds=quick,
        baseline="the same columns in pandas, row by row",
        baseline_seconds=plain,
        times_faster=plain / quick,
        aim="at least 10 times faster",
        columns_that_differ=differing,
    )


if __name__ == "__main__":
    main()

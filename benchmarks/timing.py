"""Best of several runs: what the machine can do, with what else it was doing left out."""

import json
import time
from collections.abc import Callable


def best(work: Callable[[], object], runs: int = 7) -> float:
    """Seconds of the quickest of ``runs`` runs, after one that is not counted."""
    work()
    times = []
    for _ in range(runs):
        began = time.perf_counter()
        work()
        times.append(time.perf_counter() - began)
    return min(times)


def report(**figures: object) -> None:
    print(json.dumps({k: round(v, 4) if isinstance(v, float) else v for k, v in figures.items()}, indent=1))

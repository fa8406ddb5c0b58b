"""Room on a day as the app offers it: the less is known, the less is offered.

Limits alone leave more where they are silent. Here something stands in for each silent one: the ramp after a layoff
where there is no base to compare with, and loads counted high where ratings are missing.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from uvren.core import words
from uvren.core.limits.base import Rule
from uvren.core.limits.room import Room, rooms_of
from uvren.core.loads import DailyLoads
from uvren.core.returns import Ramp, ramp_on
from uvren.core.windows import Bools, Floats, Ints
from uvren.core.workload import Withheld, Workload

# Stand-ins for limits that are silent, as a room names what binds.
RAMP, REACH = "ramp", "reach"
TITLES = {RAMP: "ramp after a layoff", REACH: "hardest day of the last four weeks"}
_REACH_DAYS = 28
# Into how many parts a room is cut, how often, to find where it holds: to a millionth of it.
_PARTS, _ROUNDS = 12, 6


@dataclass(frozen=True)
class Unrated:
    """What is not known of the last weeks.

    ``high`` are the loads with everything unrated at the upper quartile of the athlete's own for that kind of session,
    shape as the loads; ``missing`` and ``sessions`` count the ratings of the last 28 days by row.
    """

    high: DailyLoads
    missing: Ints
    sessions: Ints


@dataclass(frozen=True)
class DayRoom:
    """Room of one row. ``why`` says what makes it an upper bound; ``unknown`` why there is no figure at all.

    ``ramp`` is the most load of seven days that a ramp leaves, where one stands in.
    """

    room: Room
    why: str = ""
    unknown: str = ""
    ramp: float | None = None


def fitted(rule: Rule, loads: DailyLoads) -> Rule:
    """The rule with its dated values cut, or its last ones held on, to the days of ``loads``."""
    if rule.value.ndim < 2 or rule.value.shape[1] == loads.days:
        return rule
    return rule.at(columns=np.minimum(np.arange(loads.days), rule.value.shape[1] - 1))


def day_rooms(
    now: Workload, rules: Sequence[Rule], declared: Floats, unrated: Unrated | None,
    without_reference: str = "say the usual week first", *, used_up: bool | Bools = True,
) -> list[DayRoom]:  # fmt: skip
    """Room of each row on the last day of what is done.

    Parameters
    ----------
    now : Workload
    rules : sequence of Rule
        The hard limits, floors among them, fitted to the loads.
    declared : float array, rows
        Usual week load as somebody has declared it, nan for none.
    unrated : Unrated, optional
        What of the loads is not known.
    without_reference : str
        What is said where a ramp would stand in and there is nothing to begin it from.
    used_up : bool, or bool array of shape (rows,)
        Whether a room has to hold when it is used up, too, where a rule that is silent would then speak.
    """
    rows = now.loads.load.shape[0]
    known, high = now.of_last(), None if unrated is None else Workload(unrated.high, now.settings).of_last()
    rules = [rule.at(columns=np.arange(now.loads.days - known.loads.days, now.loads.days)) for rule in rules]
    left = np.array([rule.room(known)[:, -1] for rule in rules]).reshape(len(rules), rows)
    silent = [_silent(rule, known) for rule in rules]
    without_base = _any(silent, rows, Withheld.HISTORY, Withheld.REBUILD)
    some = np.zeros(rows, dtype=bool) if unrated is None else unrated.missing > 0
    if high is not None and some.any():
        # What is hidden may hide that there is no base either: then the ramp stands in as if it were known and high.
        hides = [_silent(rule, high) for rule in rules]
        without_base |= some & _any(hides, rows, Withheld.HISTORY, Withheld.REBUILD)
    hidden = some & _any(silent, rows, Withheld.MISSING, Withheld.ESTIMATED)
    ramps, by_ramp = _by_ramp(now, unrated, without_base, some, declared)
    names, parts = [rule.key for rule in rules], [left]
    names.append(RAMP)
    parts.append(by_ramp[None, :])
    if high is not None and some.any():
        names += [*(rule.key for rule in rules), REACH]
        parts += [_left_if_high(high, rules, some), _in_reach(high, hidden)[None, :]]
    touched = without_base | _any(silent, rows, Withheld.ESTIMATED) | some
    out = []
    rooms = rooms_of(*_least_of_each(names, np.vstack(parts)))
    works = [(known, np.ones(rows, dtype=bool))] + ([] if high is None else [(high, some)])
    held = _held_after(rooms, works, rules, np.flatnonzero(touched & used_up))
    for row, room in enumerate(rooms):
        ramp = ramps.get(row)
        if row in ramps and ramp is None:
            out.append(DayRoom(Room(None, (), None, ()), unknown=without_reference))
            continue
        room = held.get(row, room)
        said = [] if ramp is None else [ramp.said()]
        as_known = float(np.min(left[:, row], initial=np.inf))
        if unrated is not None and some[row] and (hidden[row] or (room.load or 0.0) < as_known - 0.5):
            n, m = int(unrated.missing[row]), int(unrated.sessions[row])
            said.append(f"{n} of {words.count(m, 'rating')} missing, counted high")
        out.append(DayRoom(room, "; ".join(said), ramp=None if ramp is None else ramp.most))
    return out


def _by_ramp(
    now: Workload, unrated: Unrated | None, wanted: Bools, some: Bools, declared: Floats
) -> tuple[dict[int, Ramp | None], Floats]:
    """The ramp of each row that wants one (None: there is no reference), and what it leaves; inf for the others."""
    ramps: dict[int, Ramp | None] = {}
    left = np.full(wanted.shape, np.inf)
    column = now.loads.days - 1
    for row in map(int, np.flatnonzero(wanted)):
        known = unrated.high if unrated is not None and some[row] else now.loads
        ramp = ramp_on(known, row, column, float(declared[row]), history_days=now.settings.history_days - 1)
        ramps[row] = ramp
        if ramp is not None:
            left[row] = max(ramp.most - float(known.values[row, -7:].sum()), 0.0)
    return ramps, left


def _least_of_each(names: Sequence[str], left: Floats) -> tuple[list[str], Floats]:
    """What each limit leaves where it was asked more than once, as things are known and were they high: the least."""
    each = list(dict.fromkeys(names))
    at = np.array(names)
    return each, np.array([left[at == name].min(axis=0) for name in each])


def _any(silent: Sequence[np.ndarray], rows: int, *reasons: Withheld) -> Bools:
    """Rows for which a rule is silent for one of these reasons."""
    out = np.zeros(rows, dtype=bool)
    for one in silent:
        out |= np.isin(one, reasons)
    return out


def _silent(rule: Rule, now: Workload) -> np.ndarray:
    """Why a rule that is in force does not speak on the last day, by row; empty for floors and rules that do."""
    rows = now.loads.load.shape[0]
    if rule.floor:
        return np.full(rows, "", dtype=object)
    in_force = ~np.isnan(np.broadcast_to(rule.value, now.loads.load.shape)[:, -1])
    return np.where(in_force, rule.reasons(now)[:, -1], "")


def _left_if_high(high: Workload, rules: Sequence[Rule], some: Bools) -> Floats:
    """What each rule leaves were everything unrated high; inf for the other rows."""
    rows = np.flatnonzero(some)
    work = high.of_rows(rows)
    out = np.full((len(rules), some.size), np.inf)
    for i, rule in enumerate(rules):
        out[i, rows] = rule.at(rows).room(work)[:, -1]
    return out


def _in_reach(high: Workload, hidden: Bools) -> Floats:
    """What is left to the hardest day of four weeks where a limit is silent for want of ratings; inf elsewhere."""
    values = high.loads.values
    hardest = values[:, -_REACH_DAYS:].max(axis=1)
    return np.where(hidden, np.maximum(hardest - values[:, -1], 0.0), np.inf)


def _held_after(
    rooms: Sequence[Room], works: Sequence[tuple[Workload, Bools]], rules: Sequence[Rule], rows: Ints
) -> dict[int, Room]:
    """Rooms that hold when they are used up: a rule that is silent on what is there may speak on what is added.

    ``works`` is what is done as it may be, each with the rows of which it may be so. Only of rows whose room has to be
    less.
    """
    asked = [rule for rule in rules if not rule.floor]

    def broken(of: Ints, added: Floats) -> Ints:
        """The first rule that does not hold, by its place; -1 where all do. A row may be asked about more than once."""
        out = np.full(of.shape, -1)
        for work, said_of in works:
            mine = work.of_rows(of)
            used = mine.with_last(mine.loads.values[:, -1] + added)
            for place, rule in enumerate(asked):
                out[rule.at(of).broken(used)[:, -1] & said_of[of] & (out < 0)] = place
        return out

    load = np.array([rooms[row].load or 0.0 for row in rows])
    wanted = (load > 0) & (broken(rows, load) >= 0) & (broken(rows, np.zeros(rows.shape)) < 0)
    rows = rows[wanted]
    if not rows.size:
        return {}
    low, high = np.zeros(rows.shape), load[wanted]
    places = np.arange(1, _PARTS) / _PARTS
    for _ in range(_ROUNDS):
        # Many loads between the two at once: what is asked costs hardly more than once.
        between = low[:, None] + (high - low)[:, None] * places
        over = broken(np.repeat(rows, places.size), between.ravel()).reshape(between.shape) >= 0
        first = np.where(over.any(axis=1), over.argmax(axis=1), places.size)
        steps = np.hstack([low[:, None], between, high[:, None]])
        at = np.arange(rows.size)
        low, high = steps[at, first], steps[at, first + 1]
    by = broken(rows, high)
    return {
        int(row): Room(float(low[i]), (asked[by[i]].key if by[i] >= 0 else rooms[row].binding[0],), rooms[row].load,
                       rooms[row].binding)
        for i, row in enumerate(rows)
    }  # fmt: skip

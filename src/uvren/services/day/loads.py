"""Daily loads: worked out channel by channel, and kept in the transaction of what they come from."""

from __future__ import annotations

from bisect import bisect_right
from collections import defaultdict
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Any

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.ratings import OWN_DAYS, DaySums, Entries, FilledEntries, Origin, fill, fill_loads, sum_days
from uvren.core.recordings import HeartAnchors, Samples, Sex
from uvren.core.units import (
    CountedWork,
    Counts,
    EffortMinutes,
    Form,
    HeartRateLoad,
    ImpactLoad,
    Lifting,
    Lifts,
    PositionLoad,
    SegmentEffort,
    Source,
    make_form,
)
from uvren.store import queries
from uvren.store.database import batches
from uvren.store.models import AnchorKind, Channel, ChannelDefinition, RecordingKind, SessionKind
from uvren.store.versions import known_now

_RECORDED = {
    Source.HEART_RATE: RecordingKind.HEART_RATE,
    Source.POSITION: RecordingKind.POSITION,
    Source.IMPACTS: RecordingKind.IMPACTS,
}


@dataclass(frozen=True)
class Definition:
    """A definition of a channel, ready to compute with."""

    form: Form
    kinds: frozenset[int]
    from_day: date

    @classmethod
    def of(cls, row: ChannelDefinition) -> Definition:
        kinds = frozenset(queries.session.KIND_CODES[SessionKind(kind)] for kind in row.kinds)
        return cls(make_form(row.form, row.settings), kinds, row.from_day)


def definitions_of(channel: Channel) -> list[Definition]:
    """The channel's definitions by their first day; of one day the one set last."""
    by_day = {row.from_day: Definition.of(row) for row in channel.definitions if row.withdrawn_at is None}
    return [by_day[day] for day in sorted(by_day)]


def definition_on(definitions: Sequence[Definition], day: date) -> Definition | None:
    """The definition in force on a day."""
    at = bisect_right([definition.from_day for definition in definitions], day)
    return definitions[at - 1] if at else None


class AnchorBook:
    """The anchors of athletes, by the day from which they hold."""

    def __init__(self, rows: Sequence[Any]) -> None:
        self._days: dict[tuple[int, AnchorKind], list[date]] = defaultdict(list)
        self._values: dict[tuple[int, AnchorKind], list[float | str]] = defaultdict(list)
        for athlete, kind, day, value, word in rows:
            self._days[athlete, kind].append(day)
            self._values[athlete, kind].append(value if word is None else word)

    def on(self, athlete: int, kind: AnchorKind, day: date) -> float | str | None:
        """The value in force on the day."""
        at = bisect_right(self._days.get((athlete, kind), []), day)
        return self._values[athlete, kind][at - 1] if at else None

    def number(self, athlete: int, kind: AnchorKind, day: date) -> float | None:
        value = self.on(athlete, kind, day)
        return float(value) if isinstance(value, int | float) else None

    def heart(self, athlete: int, day: date) -> HeartAnchors:
        sex = self.on(athlete, AnchorKind.SEX, day)
        return HeartAnchors(
            hr_max=self.number(athlete, AnchorKind.HR_MAX, day),
            hr_rest=self.number(athlete, AnchorKind.HR_REST, day),
            sex=Sex(str(sex)) if sex else None,
            threshold_1=self.number(athlete, AnchorKind.THRESHOLD_1, day),
            threshold_2=self.number(athlete, AnchorKind.THRESHOLD_2, day),
        )


def anchor_book(db: DbSession, athletes: Collection[int], last: date) -> AnchorBook:
    return AnchorBook(queries.squad.anchors_until(db, athletes, last))


class Done:
    """What a squad did in a span of days; each kind of source is read when a channel first asks for it."""

    def __init__(self, db: DbSession, squad_id: int, first: date, last: date) -> None:
        self.db, self.squad_id, self.first, self.last = db, squad_id, first, last
        self.entries = queries.session.done_entries(db, squad_id, first, last)
        athletes = self.entries.athlete.tolist()
        self.index = {key: i for i, key in enumerate(zip(self.entries.session_id, athletes, strict=True))}
        self._works: dict[str, list[tuple[int, dict[str, Any]]]] = {}
        self._recordings: dict[RecordingKind, list[tuple[int, str, dict[str, Any]]]] = {}
        self._anchors: AnchorBook | None = None
        self._weights: dict[tuple[str, int], float] | None = None

    def forget_later(self, then: Mapping[tuple[str, int], Any], first: date) -> None:
        """Leave out, from a day on, what was not known ``then``: an entry that came in later has no rating yet."""
        minutes, effort = self.entries.minutes.copy(), self.entries.effort.copy()
        for key, i in list(self.index.items()):
            if self.entries.day[i] < first.toordinal():
                continue
            known = then.get(key)
            if known is None:
                # It was planned, and nobody had said what became of it.
                effort[i] = np.nan
                # What came with it came later too.
                del self.index[key]
            else:
                minutes[i] = np.nan if known.minutes is None else known.minutes
                effort[i] = np.nan if known.effort is None else known.effort
        self.entries = replace(self.entries, minutes=minutes, effort=effort)

    @property
    def count(self) -> int:
        return len(self.entries.session_id)

    def works(self, what: str) -> list[tuple[int, dict[str, Any]]]:
        """(entry, data) of the documents of a kind."""
        if what not in self._works:
            rows = queries.session.works_between(self.db, self.squad_id, [what], self.first, self.last)
            found = ((self.index.get((session, athlete)), data) for session, athlete, _, data in rows)
            self._works[what] = [(i, data) for i, data in found if i is not None]
        return self._works[what]

    def recordings(self, kind: RecordingKind) -> list[tuple[int, str, dict[str, Any]]]:
        """(entry, recording, summary) of the recordings of a kind that count."""
        if kind not in self._recordings:
            rows = queries.session.recordings_between(self.db, self.squad_id, [kind], self.first, self.last)
            found = ((self.index.get((session, athlete)), key, summary) for key, session, athlete, _, summary in rows)
            self._recordings[kind] = [(i, key, summary) for i, key, summary in found if i is not None]
        return self._recordings[kind]

    @property
    def anchors(self) -> AnchorBook:
        if self._anchors is None:
            self._anchors = anchor_book(self.db, set(self.entries.athlete.tolist()), self.last)
        return self._anchors

    @property
    def weights(self) -> dict[tuple[str, int], float]:
        if self._weights is None:
            self._weights = queries.session.segment_weights(self.db, self.squad_id, self.first, self.last)
        return self._weights

    def day(self, i: int) -> date:
        return date.fromordinal(int(self.entries.day[i]))


@dataclass(frozen=True)
class ChannelLoads:
    """Load of each entry of a span on one channel.

    ``expected`` says where the channel is defined and the session is of a kind that has such work, or has it anyway.
    """

    filled: FilledEntries
    expected: np.ndarray


# Loads that do not rest on anybody else's.
KNOWN = (Origin.MEASURED, Origin.GIVEN)


def channel_loads(done: Done, code: str, definitions: Sequence[Definition]) -> ChannelLoads:
    """Work out a channel for every entry of the span, each under the definition of its day."""
    entries = done.entries
    columns = coded(entries)
    load = np.full(done.count, np.nan)
    expected = np.zeros(done.count, dtype=bool)
    factor = np.ones(done.count)
    rated = np.zeros(done.count, dtype=bool)
    starts = np.array([definition.from_day.toordinal() for definition in definitions])
    which = np.searchsorted(starts, entries.day, side="right") - 1
    for i, definition in enumerate(definitions):
        mine = which == i
        if not mine.any():
            continue
        expected |= mine & np.isin(entries.kind, list(definition.kinds))
        if definition.form.places:
            factor = np.where(mine, definition.form.factor(entries.place), factor)
        if isinstance(definition.form, EffortMinutes):
            rated |= mine
        else:
            load = np.where(mine, _raw_loads(done, definition.form), load)
    # What another program worked out stands in only where we have nothing to work it out from.
    given = np.full(done.count, np.nan)
    for i, data in done.works(f"given:{code}"):
        known = ~np.isnan(entries.minutes[i] * entries.effort[i]) if rated[i] else ~np.isnan(load[i])
        if which[i] >= 0 and not known:
            given[i] = float(data["value"]) / factor[i]
    as_given = ~np.isnan(given)
    load = np.where(as_given, given, load)
    expected |= ~np.isnan(load)
    if rated.any():
        filled = fill(columns)
        if not rated.all():
            filled = _merged(filled, fill_loads(columns, load), rated)
    else:
        filled = fill_loads(columns, load)
    loads = np.where(as_given, given, filled.load) * factor
    origin = np.where(as_given, Origin.GIVEN, filled.origin)
    return ChannelLoads(FilledEntries(loads, filled.effort, origin, filled.n), expected)


def _merged(rated: FilledEntries, measured: FilledEntries, where: np.ndarray) -> FilledEntries:
    pairs = zip(vars(rated).values(), vars(measured).values(), strict=True)
    return FilledEntries(*(np.where(where, a, b) for a, b in pairs))


def coded(columns: queries.session.EntryColumns) -> Entries:
    """Entries as the core wants them: sessions as whole-number codes."""
    codes = {session: code for code, session in enumerate(dict.fromkeys(columns.session_id))}
    return Entries(
        athlete=columns.athlete,
        session=np.array([codes[session] for session in columns.session_id], dtype=np.int64),
        kind=columns.kind,
        day=columns.day,
        minutes=columns.minutes,
        effort=columns.effort,
    )


def _raw_loads(done: Done, form: Form) -> np.ndarray:
    """Load of every entry by one form, before place factors; nan where there is nothing to work it out from."""
    work: dict[type[Form], Callable[[Done, Any], np.ndarray]] = {
        SegmentEffort: _segments,
        CountedWork: _counted,
        Lifting: _lifting,
        HeartRateLoad: _heart_rate,
        PositionLoad: _position,
        ImpactLoad: _impacts,
    }
    return work[type(form)](done, form)


def _segments(done: Done, form: SegmentEffort) -> np.ndarray:
    items = [
        (i, segment.get("minutes"), segment.get("effort"), done.weights.get((done.entries.session_id[i], place), 1.0))
        for i, data in done.works("segments")
        for place, segment in enumerate(data["items"])
    ]
    if not items:
        return np.full(done.count, np.nan)
    owner, minutes, effort, weight = (np.array(column, dtype=np.float64) for column in zip(*items, strict=True))
    loads = form.loads(owner.astype(np.int64), minutes, effort, weight, done.count)
    there = np.zeros(done.count, dtype=bool)
    there[owner.astype(np.int64)] = True
    return np.where(there, loads, np.nan)


def _counted(done: Done, form: CountedWork) -> np.ndarray:
    items = [
        (i, item["class"], item.get("surface"), item.get("posture"), item["count"])
        for i, data in done.works("counted")
        for item in data["items"]
    ]
    if not items:
        return np.full(done.count, np.nan)
    owner, of_class, surface, posture, count = zip(*items, strict=True)
    counts = Counts(np.array(owner), of_class, surface, posture, np.array(count, dtype=np.float64))
    return form.loads(counts, done.count)


def _lifting(done: Done, form: Lifting) -> np.ndarray:
    owners = [(i, item) for i, data in done.works("lifting") for item in data["items"]]
    if not owners:
        return np.full(done.count, np.nan)
    return form.loads(lifts_of(owners), done.count)


def lifts_of(items: Sequence[tuple[int, dict[str, Any]]]) -> Lifts:
    """Items of lifting documents as arrays, with the entry each belongs to."""
    columns = [(i, item["exercise"], item["sets"], item["reps"], item["kg"], item.get("reserve")) for i, item in items]
    owner, exercise, sets, reps, kg, reserve = zip(*columns, strict=True)
    numbers = (np.array(column, dtype=np.float64) for column in (sets, reps, kg, reserve))
    return Lifts(np.array(owner), exercise, *numbers)


def _heart_rate(done: Done, form: HeartRateLoad) -> np.ndarray:
    out = np.full(done.count, np.nan)
    for i, data in done.works("zones"):
        load = form.load_of_zones(data["minutes"])
        out[i] = np.nan if load is None else load
    begun: set[int] = set()
    for i, _, summary in done.recordings(RecordingKind.HEART_RATE):
        load = form.load(distribution(summary), done.anchors.heart(int(done.entries.athlete[i]), done.day(i)))
        if load is not None:
            out[i] = load + (out[i] if i in begun else 0.0)
            begun.add(i)
    return out


def distribution(summary: dict[str, Any]) -> Samples:
    """How long each value stood, as samples without their order: enough for zones, impulse and distances."""
    value = np.array(summary["value"], dtype=np.float64)
    return Samples(np.arange(value.size, dtype=np.float64), value, np.array(summary["seconds"], dtype=np.float64))


def _position(done: Done, form: PositionLoad) -> np.ndarray:
    from uvren.services.day.samples import samples_of

    out = np.full(done.count, np.nan)
    rows = done.recordings(RecordingKind.POSITION)
    for batch in batches(rows, 50):
        found = samples_of(done.db, [key for _, key, _ in batch])
        for i, key, _ in batch:
            own = done.anchors.number(int(done.entries.athlete[i]), AnchorKind.SPEED_MAX, done.day(i))
            load = form.load(found[key], own)
            if load is not None:
                out[i] = load + np.nan_to_num(out[i])
    return out


def _impacts(done: Done, form: ImpactLoad) -> np.ndarray:
    out = np.full(done.count, np.nan)
    for i, _, summary in done.recordings(RecordingKind.IMPACTS):
        load = form.load(np.array(summary["g"], dtype=np.float64), np.array(summary["right"], dtype=bool))
        out[i] = load + np.nan_to_num(out[i])
    return out


# How far back a rating can come in late and still change what was known on a morning.
LATE_DAYS = 42


def loads_as_known(
    db: DbSession, squad_id: int, channels: Sequence[Channel], athletes: Collection[int], last: date
) -> list[tuple[int, int, int, float, float]]:
    """Daily loads as they stood at the moment the session reads as of: what came in later is not known yet.

    Rows of channel, athlete, ordinal of the day, load (nan: missing) and estimate, of the last weeks up to ``last``.
    """
    first = last - timedelta(days=LATE_DAYS)
    then = {(row.session_id, row.athlete): row for row in queries.session.entries_between(db, squad_id, first, last)}
    with known_now(db):
        done = Done(db, squad_id, first - timedelta(days=OWN_DAYS), last)
        done.forget_later(then, first)
        out: list[tuple[int, int, int, float, float]] = []
        for channel in channels:
            definitions = definitions_of(channel)
            if not definitions:
                continue
            loads = channel_loads(done, channel.code, definitions)
            mine = loads.expected & np.isin(done.entries.athlete, list(athletes))
            mine &= done.entries.day >= first.toordinal()
            sums = sum_days(_keys(done.entries.athlete, done.entries.day)[mine], loads.filled.load[mine],
                            loads.filled.origin[mine])  # fmt: skip
            for key, load, estimated in zip(sums.key, sums.load, sums.estimated, strict=True):
                out.append((channel.id, int(key) >> 24, int(key) & 0xFFFFFF, float(load), float(estimated)))
    return out


def refresh_daily_loads(
    db: DbSession,
    squad_id: int,
    touched: Collection[tuple[int, date]],
    only: Collection[int] | None = None,
) -> None:
    """Recompute the daily loads of the given (athlete, day) pairs and of every estimate that rests on them.

    With ``only`` those of the channels of these ids, else of every channel.
    """
    if not touched:
        return
    queries.squad.hold(db, squad_id)
    first, last = min(day for _, day in touched), max(day for _, day in touched)
    window = timedelta(days=OWN_DAYS)
    done = Done(db, squad_id, first - window, last + window)
    key = _keys(done.entries.athlete, done.entries.day)
    wanted = np.array([athlete << 24 | day.toordinal() for athlete, day in touched], dtype=np.int64)
    for channel in queries.squad.channels(db, squad_id):
        if only is not None and channel.id not in only:
            continue
        definitions = definitions_of(channel)
        if not definitions:
            continue
        loads = channel_loads(done, channel.code, definitions)
        # A value changes the estimates of teammates that day and of the athlete's own next six weeks.
        guessed = loads.expected & ~np.isin(loads.filled.origin, KNOWN) & (done.entries.day >= first.toordinal())
        pairs = np.union1d(wanted, key[guessed])
        mine = loads.expected & np.isin(key, pairs)
        _write(db, channel.id, sum_days(key[mine], loads.filled.load[mine], loads.filled.origin[mine]))
        _remove(db, channel.id, np.setdiff1d(pairs, key[mine]))


def _keys(athlete: np.ndarray, day: np.ndarray) -> np.ndarray:
    return athlete.astype(np.int64) << 24 | day


def _write(db: DbSession, channel_id: int, sums: DaySums) -> None:
    columns = (sums.key, sums.load, sums.estimated, sums.sessions)
    rows = [
        {
            "athlete_id": key >> 24,
            "channel_id": channel_id,
            "day": date.fromordinal(key & 0xFFFFFF),
            "load": None if load != load else load,
            "estimated": estimated,
            "sessions": sessions,
        }
        for key, load, estimated, sessions in zip(*(column.tolist() for column in columns), strict=True)
    ]
    queries.day.set_daily_loads(db, rows)


def _remove(db: DbSession, channel_id: int, keys: np.ndarray) -> None:
    if keys.size == 0:
        return
    first, last = (date.fromordinal(int(day)) for day in np.sort(keys & 0xFFFFFF)[[0, -1]])
    wanted = set(keys.tolist())
    rows = queries.day.days_with_load(db, channel_id, first, last)
    gone = [(athlete, day) for athlete, day in rows if athlete << 24 | day.toordinal() in wanted]
    queries.day.remove_daily_loads(db, channel_id, gone)

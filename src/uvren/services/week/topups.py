"""After a match: who recovers, and who tops up with what, inside the room that the week leaves."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence, Set
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum
from zoneinfo import ZoneInfo

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.audience import Audience
from uvren.core.day.room import TITLES
from uvren.core.day.week import DayAhead
from uvren.core.demands import PLAYED, short_of
from uvren.core.limits import title_of
from uvren.core.plan.rows import rows_of
from uvren.core.plan.spare import spare
from uvren.core.plan.topup import INTERVALS, Form, Interval, TopUp, fit
from uvren.core.plan.topup import LEAST as FEWEST
from uvren.core.units import EffortMinutes, PositionLoad
from uvren.core.units.sensors import PositionMeasure
from uvren.core.windows import Floats
from uvren.services.day.desk import SquadDesk
from uvren.services.day.loads import Definition, anchor_book, definition_on, definitions_of
from uvren.services.day.matches import SEASON_DAYS, read_played, season_until
from uvren.services.week.reading import DAYS, Changes, Opened, open_week
from uvren.services.week.solving import course_of
from uvren.store import queries
from uvren.store.models import AnchorKind, Channel, Session, SessionKind, Squad
from uvren.store.queries.session import KIND_CODES

# So long after a match somebody is topped up for it.
WITHIN = 3
TOP_UP, RECOVERY = "Top-up", "Recovery"
RECOVERY_MINUTES, RECOVERY_EFFORT = 25.0, 2.0
TOP_UP_EFFORT = INTERVALS[Form.RUNS].effort
# Where nobody has said otherwise, positions that are called so work in place.
_IN_PLACE = ("goal", "keeper")


class Does(StrEnum):
    """What somebody does after a match; ``later`` is who is short of it and has no room on the day."""

    RECOVER = "recover"
    REST = "rest"
    TOP_UP = "top_up"
    LATER = "later"
    NOTHING = "nothing"


@dataclass(frozen=True)
class AfterRow:
    """One person after a match; ``words`` say with what, or why not. ``loads`` are a top-up's, by channel."""

    athlete_id: int
    name: str
    position: str
    played: float | None
    does: Does
    words: str
    minutes: float
    form: Form
    loads: Mapping[str, float]


@dataclass(frozen=True)
class AfterMatch:
    """A match that was played and the day on which it is recovered from, or topped up for.

    ``reference`` says what a match is; ``planned`` that sessions for it stand on the day already, ``may`` that the day
    is still to come; ``at`` is when they would begin.
    """

    match: str
    played_on: date
    on: date
    reference: str
    planned: bool
    may: bool
    at: str
    rows: list[AfterRow]


def chosen_form(squad: Squad, position: str, form: Form) -> None:
    """Let a position top up with something else from now on. Does not commit."""
    squad.top_up_forms = (squad.top_up_forms or {}) | {position: form.value}


def form_of(squad: Squad, position: str) -> Form:
    """What a position tops up with: as the squad has it, else by its name."""
    chosen = (squad.top_up_forms or {}).get(position)
    if chosen is not None:
        return Form(chosen)
    return Form.IN_PLACE if any(word in position.lower() for word in _IN_PLACE) else Form.RUNS


def is_for_some(db: DbSession, session: Session) -> bool:
    """Whether a session was planned after a match: it is called so, and says who is in it. A squad may have its own."""
    if session.title not in (TOP_UP, RECOVERY):
        return False
    return any(row.planned_minutes is not None for row in queries.day.own_plans(db, [session.id]))


def after_match(db: DbSession, squad: Squad, first: date, today: date, audiences: Set[Audience]) -> AfterMatch | None:
    """The last match that was played up to three days before a day of the week; None where there is none."""
    last = first + timedelta(days=DAYS - 1)
    found = queries.session.sessions_between(db, squad.id, first - timedelta(days=WITHIN), last)
    matches = [one for one in found if one.kind is SessionKind.MATCH and one.done]
    if not matches:
        return None
    match = matches[-1]
    on = max(first, match.day + timedelta(days=1))
    opened = open_week(db, squad, first, today, Changes())
    if on > last or not opened.desks:
        return None
    reading = _Reading(db, squad, first, on, match, opened, audiences)
    that_day = [one for one in opened.sessions if one.day == on]
    return AfterMatch(
        match=match.name,
        played_on=match.day,
        on=on,
        reference=reading.said,
        planned=any(is_for_some(db, one) for one in that_day),
        may=on >= today,
        at=_at(squad, that_day),
        rows=[reading.row(i) for i in range(len(opened.desks[0].members))],
    )


def _at(squad: Squad, that_day: Sequence[Session]) -> str:
    """When it would begin: after what is planned on the day, else in the middle of the morning."""
    if not that_day:
        return "10:00"
    end = max(one.starts_at + timedelta(minutes=one.planned_minutes) for one in that_day)
    return f"{end.astimezone(ZoneInfo(squad.time_zone)):%H:%M}"


@dataclass(frozen=True)
class _Channel:
    """A channel with its definition on the day; without a desk where nothing limits it."""

    channel: Channel
    definition: Definition
    desk: SquadDesk | None


def _beside(db: DbSession, squad: Squad, on: date, there: Sequence[_Channel]) -> list[_Channel]:
    """Channels of metres at speed without a limit: what somebody is short of, all the same."""
    known = {one.channel.code for one in there}
    found = []
    for channel in queries.squad.channels(db, squad.id):
        definition = definition_on(definitions_of(channel), on)
        if definition is not None and channel.code not in known and isinstance(definition.form, PositionLoad):
            found.append(_Channel(channel, definition, None))
    return found


class _Reading:
    """What the rows after a match are worked out from."""

    def __init__(
        self, db: DbSession, squad: Squad, first: date, on: date, match: Session, opened: Opened,
        audiences: Set[Audience],
    ) -> None:  # fmt: skip
        self.squad, self.on, self.opened, self.audiences = squad, on, opened, audiences
        self.first, self.match = first, match
        self.desks = opened.desks
        self.members = self.desks[0].members
        self.channels = [_Channel(one.channel, one.definition, one) for one in self.desks]
        self.channels += _beside(db, squad, on, self.channels)
        self.entries = {one.athlete_id: one.minutes for one in queries.session.entries_of(db, [match.id])}
        self._matches(db)
        course, _ = course_of(squad, first, opened)
        left, place = spare(course, rows_of(course)), {one.id: i for i, one in enumerate(course.athletes)}
        order = [place[str(member.athlete_id)] for member in self.members]
        self.left = [left[one.channel.code][order] for one in self.desks]
        self.fast = self._fast(db)

    def _matches(self, db: DbSession) -> None:
        """What matches were, for each position, and what this one was for each."""
        position = {member.athlete_id: member.position for member in self.members}
        done, channels = season_until(db, self.squad, self.match.day), [one.channel for one in self.channels]
        played = read_played(db, self.squad, channels, position, done, self.match.day)
        self.of_position = played.of_position()
        mine = [i for i, key in enumerate(played.session_id) if key == self.match.id]
        self.own = {played.athlete[i]: played.load[i] for i in mine}

    @property
    def said(self) -> str:
        everybody = self.of_position.get("")
        if everybody is None:
            return f"Nobody played {say.percent(PLAYED)} of a match yet: there is nothing to be short of."
        return (
            f"A match is what those of a position who played {say.percent(PLAYED)} of one and more had of it: "
            f"{say.count(everybody.n, 'part')} in {SEASON_DAYS} days."
        )

    def _fast(self, db: DbSession) -> Floats:
        """The speed from which metres count on each channel, for each person, m/s; nan elsewhere."""
        book = anchor_book(db, [one.athlete_id for one in self.members], self.on)
        out = np.full((len(self.channels), len(self.members)), np.nan)
        for i, channel in enumerate(self.channels):
            form = channel.definition.form
            if not isinstance(form, PositionLoad) or form.measure is not PositionMeasure.DISTANCE_ABOVE:
                continue
            for row, member in enumerate(self.members):
                own = book.number(member.athlete_id, AnchorKind.SPEED_MAX, self.on)
                speed = form.speed if form.share is None else None if own is None else form.share * own
                out[i, row] = np.nan if speed is None else speed
        return out

    def row(self, row: int) -> AfterRow:
        member = self.members[row]
        form = form_of(self.squad, member.position)
        whole = max(self.match.planned_minutes, 1.0)
        played = self.entries.get(member.athlete_id, 0.0)

        def answer(does: Does, words: str, top: TopUp | None = None) -> AfterRow:
            loads = {} if top is None else dict(zip(self.codes, map(float, self._loads(row, top)), strict=True))
            minutes = top.minutes if top else RECOVERY_MINUTES if does is Does.RECOVER else 0.0
            return AfterRow(member.athlete_id, member.name, member.position, played, does, words, minutes, form, loads)

        if played is None:
            return answer(Does.NOTHING, "nobody has said how long they played")
        if (why := self._closed(row)) is not None:
            return answer(Does.NOTHING, why)
        if played >= PLAYED * whole:
            return self._recovers(row, answer)
        reference = self.of_position.get(member.position) or self.of_position.get("")
        if reference is None:
            return answer(Does.NOTHING, "there is no match yet to be short of")
        short = short_of(reference, self.own.get(member.athlete_id, np.zeros(len(self.channels))))
        return self._topped(row, INTERVALS[form], short, answer)

    @property
    def codes(self) -> list[str]:
        return [one.channel.code for one in self.channels]

    def _closed(self, row: int) -> str | None:
        """Why nothing is added for somebody, as these audiences may know it."""
        standing = self.desks[0].standing[row]
        if standing.no_more:
            return standing.why_closed(self.audiences)
        if self.desks[0].off[row, self.desks[0].desk.today + (self.on - self.first).days]:
            return "does not train"
        return "as a clinician leaves it" if standing.bounded else None

    def _recovers(self, row: int, answer: Callable[..., AfterRow]) -> AfterRow:
        """Easy movement, where a limit leaves a session at all: one that counts days counts this day too."""
        begin, easy = (self.on - self.first).days, RECOVERY_MINUTES * RECOVERY_EFFORT
        if self._room(0, row, begin) >= easy:
            return answer(Does.RECOVER, f"food, drink and sleep first; {RECOVERY_MINUTES:g} min of easy movement")
        return answer(Does.REST, f"food, drink and sleep; no session: {self._bound(row, begin, np.array([easy]))}")

    def _topped(self, row: int, interval: Interval, short: Floats, answer: Callable[..., AfterRow]) -> AfterRow:
        fewest = self._loads(row, TopUp(interval, FEWEST))
        little = np.flatnonzero(short < fewest)
        if little.size:
            name = self.channels[int(little[0])].channel.name.lower()
            return answer(Does.NOTHING, f"not short of a match by enough ({name})")
        begin = (self.on - self.first).days
        by = ""
        for day in range(begin, min(begin + WITHIN + 1, DAYS)):
            room = np.array([self._room(i, row, day) for i in range(len(self.channels))])
            top = fit(interval, short, room, lambda tried: self._loads(row, tried))
            if top is None:
                by = by or self._bound(row, day, fewest)
                continue
            if day == begin:
                return answer(Does.TOP_UP, self._words(row, top), top)
            at = self.first + timedelta(days=day)
            return answer(Does.LATER, f"not before {say.day(at)}: {by}; then {self._words(row, top)}")
        return answer(Does.LATER, f"no room within {WITHIN} days: {by}")

    def _room(self, channel: int, row: int, day: int) -> float:
        """With the plan kept: on the day itself by every limit, and on those after it by those that are linear."""
        if channel >= len(self.desks):
            # Nothing limits it.
            return np.inf
        ahead = self._day(channel, day)
        room = ahead.rooms[row]
        if room.unknown:
            return 0.0
        here = np.inf if room.room.load is None else max(room.room.load - float(ahead.plan[row]), 0.0)
        return float(min(here, self.left[channel][row, day]))

    def _day(self, channel: int, day: int) -> DayAhead:
        return self.opened.ahead[self.desks[channel].channel.code][day]

    def _bound(self, row: int, day: int, wanted: Floats) -> str:
        """What leaves no room for these loads of the first channels."""
        channel = int(np.argmax(wanted - [self._room(i, row, day) for i in range(len(wanted))]))
        found = self._day(channel, day).rooms[row]
        named = " and ".join(TITLES.get(key) or title_of(key).lower() for key in found.room.binding)
        return f"{found.unknown or named or 'the plan after it'} ({self.channels[channel].channel.name.lower()})"

    def _loads(self, row: int, top: TopUp) -> Floats:
        return np.array([self._load(i, one, row, top) for i, one in enumerate(self.channels)])

    def _load(self, channel: int, of: _Channel, row: int, top: TopUp) -> float:
        definition = of.definition
        if not np.isnan(self.fast[channel, row]):
            return top.metres(float(self.fast[channel, row]))
        if KIND_CODES[SessionKind.RUN] not in definition.kinds:
            return 0.0
        if isinstance(definition.form, EffortMinutes):
            return top.minutes * top.interval.effort
        return 0.0 if of.desk is None else top.minutes * float(np.nan_to_num(of.desk.rate[row]))

    def _words(self, row: int, top: TopUp) -> str:
        interval = top.interval
        said = (
            f"{top.count} × {interval.work:g} s {interval.name}, {interval.rest:g} s rest, "
            f"{top.minutes:.0f} min with the warm-up"
        )
        speeds = [float(speed) for speed in self.fast[:, row] if not np.isnan(speed)]
        if not speeds or not interval.pace:
            return said
        if not top.fast:
            return f"{said}, all below {speeds[0]:g} m/s"
        which = "all" if top.fast == top.count else f"{top.fast} of them"
        return f"{said}; {which} fast, about {say.number(round(top.metres(speeds[0]), -1))} m above {speeds[0]:g} m/s"

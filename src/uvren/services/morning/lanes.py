"""The morning: each athlete's corridor, room, notices and call, as they stood on a day."""

from __future__ import annotations

from collections.abc import Set
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Literal

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.audience import LEAST, Audience
from uvren.core.day import Facts, Standing, Stands, weighed
from uvren.core.limits import CATALOGUE, title_of
from uvren.core.limits.base import Unit
from uvren.core.norms import USUAL_DAYS
from uvren.core.notices import KINDS, Cause, Needs, Notice, Strand, is_quiet, needs
from uvren.core.reports import ITEM_NAMES
from uvren.core.terms import EffortTerms
from uvren.core.units.base import Region
from uvren.services.day.bounds import bounded
from uvren.services.day.day import Day, Part
from uvren.services.day.desk import AHEAD_DAYS, SHOWN_DAYS, ChannelName, SquadDesk, name_of
from uvren.services.day.kept import parts_on
from uvren.services.day.limits import scope_words
from uvren.services.day.strips import Strip, strips
from uvren.services.day.told import CallSaid, call_said
from uvren.services.morning.room import RoomSaid, rooms_said
from uvren.services.morning.squads import SquadStory, squad_stories
from uvren.store import queries
from uvren.store.models import Squad
from uvren.store.queries.squad import Member


@dataclass(frozen=True)
class ChannelRoom:
    """Room on a channel beside the one shown."""

    code: str
    name: str
    mark: str
    unit: str
    room: RoomSaid


@dataclass(frozen=True, kw_only=True)
class NoticeSaid(Notice):
    """A notice as it is shown, with the limit behind it; ``channel`` is empty for the main one.

    ``regions`` are those of the body that the channel stresses, empty for the whole of it. ``quiet`` says that a call
    has answered it, ``new`` that it was not there the morning before.
    """

    provenance: str
    channel: str
    channel_code: str
    regions: list[str]
    quiet: bool
    new: bool

    @property
    def cause(self) -> Cause:
        return KINDS[self.code].cause

    @property
    def strand(self) -> Strand:
        return KINDS[self.code].strand

    @property
    def unit(self) -> Unit | None:
        """How its figure and its value are to be read, where a limit is behind it."""
        if self.limit is None:
            return None
        # What asks about a plan speaks of load, whatever the limit that leaves so much.
        if self.code == "plan_over_room":
            return Unit.LOAD
        return CATALOGUE[self.limit.partition(":")[0]].unit


@dataclass(frozen=True)
class Felt:
    """An item of this morning's report against the athlete's own usual; ``z`` is up where it is better.

    ``sign`` is 1 where more of it is better, -1 where less is.
    """

    item: str
    name: str
    value: float | None
    usual: float | None
    spread: float | None
    z: float | None
    lasting: int
    sign: int
    # The last 28 days with today, oldest first.
    days: list[float | None]


@dataclass(frozen=True)
class Lane:
    """An athlete's line. ``room`` and ``strip`` are of the channel shown, ``others`` of the rest.

    ``binding`` is the code of the channel that leaves the fewest minutes of its usual work, where that is not the
    one shown. ``notices`` stand by story: those of one cause together, the most pressing story first. ``gate`` is
    what a clinician allows, in words, and ``said`` what holds today. ``felt`` is empty for who may not read
    reports, and without a report. ``minutes`` are those planned today before any call. ``leaves`` is the room there
    is aside from the call that stands.
    """

    member: Member
    group: Needs | Literal["called"]
    effort: float
    minutes: float
    standing: Standing
    stands: Stands
    said: str
    leaves: float | None
    room: RoomSaid
    others: list[ChannelRoom]
    binding: str | None
    strip: Strip
    notices: list[NoticeSaid]
    felt: list[Felt]
    gate: str
    call: CallSaid | None

    @property
    def athlete_id(self) -> int:
        return self.member.athlete_id

    @property
    def name(self) -> str:
        return self.member.name

    @property
    def number(self) -> int | None:
        return self.member.number

    @property
    def position(self) -> str:
        return self.member.position

    @property
    def clinical(self) -> bool:
        """Whether a notice on it is for who may read clinical detail."""
        return any(KINDS[said.code].audience is Audience.CLINICAL for said in self.notices)


@dataclass(frozen=True)
class Morning:
    """A squad's morning; ``channels`` are those that can be shown, ``channel`` is the one that is.

    ``stories`` are what is said once for the squad.
    """

    as_of: date
    channel: ChannelName
    channels: list[ChannelName]
    days: list[date]
    lanes: list[Lane]
    stories: list[SquadStory]


def read_morning(
    db: DbSession,
    squad: Squad,
    as_of: date,
    today: date,
    only: int | None = None,
    channel: str | None = None,
    audiences: frozenset[Audience] = LEAST,
) -> tuple[Morning, dict[int, Part]]:
    """Every athlete of the squad, or ``only`` one, on the morning of ``as_of``, with where each stands in the day.

    The main channel is shown unless ``channel`` names another. Only what these audiences may read is said. Raises
    NotFound for a channel that cannot be shown.
    """
    parts = parts_on(db, squad, as_of, today, None if only is None else {only})
    if not parts:
        main = name_of(queries.squad.main_channel(db, squad.id))
        return Morning(as_of, main, [main], [], [], []), {}
    day = next(iter(parts.values())).day
    names = [name_of(opened.channel) for opened in day.desks]
    lanes = [_lanes_of(part.day, channel, audiences)[part.row] for part in parts.values()]
    first = as_of - timedelta(days=SHOWN_DAYS)
    days = [first + timedelta(days=i) for i in range(SHOWN_DAYS + 1 + AHEAD_DAYS)]
    stories = squad_stories(db, squad, day, today, audiences) if only is None else []
    return Morning(as_of, names[day.shown_first(channel)[0]], names, days, lanes, stories), parts


def _lanes_of(day: Day, channel: str | None, audiences: frozenset[Audience]) -> list[Lane]:
    """The lanes of everybody in a day, row by row; written once for each channel and audience."""
    key = ("lanes", channel, audiences)
    if key not in day.kept:
        day.kept[key] = _lanes(day, day.shown_first(channel), audiences)
    lanes: list[Lane] = day.kept[key]
    return lanes


def _lanes(day: Day, order: list[int], audiences: frozenset[Audience]) -> list[Lane]:
    desks = [day.desks[i] for i in order]
    shown = desks[0]
    rooms = [rooms_said(opened, day.standing, audiences) for opened in desks]
    lines = strips(shown.desk, shown.to_come, shown.desk.today - SHOWN_DAYS)
    efforts = _typical_efforts(desks)
    lanes = []
    for row, member in enumerate(day.members):
        notices = _said(day, order, row, audiences)
        call = day.calls.get(member.athlete_id)
        asking = needs([said for said in notices if not said.quiet])
        standing = day.standing[row]
        lanes.append(
            Lane(
                member=member,
                group="call" if standing.needs_call else "called" if call else asking,
                standing=standing,
                stands=standing.told(audiences),
                said=standing.said(audiences, float(shown.minutes[row])),
                leaves=_limits_leave(shown, row, standing),
                effort=float(efforts[row]),
                minutes=float(shown.minutes[row]),
                room=rooms[0][row],
                others=[
                    ChannelRoom(**vars(name_of(opened.channel)), room=of_channel[row])
                    for opened, of_channel in zip(desks[1:], rooms[1:], strict=True)
                ],
                binding=_binding(desks, rooms, row),
                strip=lines[row],
                notices=_by_story(notices),
                felt=_felt(day.facts, row) if Audience.REPORTS in audiences else [],
                gate=_gate(day.facts, row, float(shown.minutes[row])),
                call=call_said(*call, audiences) if call else None,
            )
        )
    return lanes


def _said(day: Day, order: list[int], row: int, audiences: Set[Audience]) -> list[NoticeSaid]:
    """What was found of a row, as far as these audiences may read it, the desk shown first."""
    called = day.answered.get(day.members[row].athlete_id, {})
    said = []
    for opened, found, earlier in ((day.desks[i], day.found[i], day.before[i]) for i in order):
        answered = called.get(opened.channel.code, {})
        said += [
            NoticeSaid(
                **vars(notice),
                provenance=provenance(opened, notice, row),
                channel="" if opened.desk.main else opened.channel.name,
                channel_code=opened.channel.code,
                regions=[region for region in opened.channel.regions if region != Region.WHOLE],
                quiet=is_quiet(notice, answered),
                new=bool(earlier) and not KINDS[notice.code].of_the_day and notice.key not in earlier[row],
            )
            for notice in found[row]
            if _may_read(notice, audiences)
        ]
    return said


def _limits_leave(opened: SquadDesk, row: int, standing: Standing) -> float | None:
    """Room aside from what was called: what another call would be held against; None where no call opens the day."""
    uncalled = weighed(replace(standing.given, call=None))
    if uncalled.closed:
        return None
    return bounded(opened.desk.rooms[row], opened.load_if(row, uncalled), uncalled).load


def _may_read(notice: Notice, audiences: Set[Audience]) -> bool:
    kind = KINDS[notice.code]
    # Who reads what was told needs no word that something was.
    return kind.audience in audiences and not (kind.code == "unseen" and Audience.CLINICAL in audiences)


def _typical_efforts(desks: list[SquadDesk]) -> np.ndarray:
    for opened in desks:
        if isinstance(opened.desk.terms, EffortTerms):
            return opened.desk.terms.effort
    return np.full(len(desks[0].members), 5.0)


def _by_story(notices: list[NoticeSaid]) -> list[NoticeSaid]:
    """Notices of one cause and channel together, most pressing first; stories that a call has answered last."""
    stories: dict[tuple[Cause, str], list[NoticeSaid]] = {}
    for said in sorted(notices, key=lambda one: (one.quiet, one.severity.rank)):
        stories.setdefault((said.cause, said.channel), []).append(said)
    return [said for story in stories.values() for said in story]


def _gate(facts: Facts, row: int, minutes: float) -> str:
    for gate in facts.gates:
        if gate.row == row:
            until = f" until {say.day(gate.until)}" if gate.until else ""
            return f"{'does not train' if gate.closed else ', '.join(gate.changes(minutes))}{until}"
    return ""


def _felt(facts: Facts, row: int) -> list[Felt]:
    """This morning's report, item by item; empty where there is none."""
    if facts.daily.shape[2] == 0 or np.isnan(facts.daily[row, :, -1]).all():
        return []
    norm = facts.norm
    last = _plain(np.stack([facts.daily, norm.middle, norm.spread, -facts.badness])[:, row, :, -1])
    days = _plain(facts.daily[row, :, -USUAL_DAYS - 1 :])
    asked = facts.profiled(row)
    return [
        Felt(
            item=code,
            name=ITEM_NAMES[code],
            value=last[0][i],
            usual=last[1][i],
            spread=last[2][i],
            z=last[3][i],
            lasting=-int(facts.lasting[row, i]),
            sign=-int(facts.worse[i]),
            days=days[i],
        )
        for i, code in enumerate(facts.items)
        if asked[i]
    ]


def _plain(values: np.ndarray) -> list[list[float | None]]:
    """Rows as lists, to the hundredth, nan as None."""
    tidy = np.round(values, 2).astype(object)
    tidy[np.isnan(values)] = None
    rows: list[list[float | None]] = tidy.tolist()
    return rows


def _binding(desks: list[SquadDesk], rooms: list[list[RoomSaid]], row: int) -> str | None:
    """The other channel that leaves fewer minutes of its usual work than the one shown, if any does."""

    def minutes(i: int) -> float:
        load = rooms[i][row].load
        return float("inf") if load is None else desks[i].desk.terms.minutes(load, row)

    least = min(range(len(desks)), key=minutes)
    # A channel without any such work planned stops nobody today.
    others = [i for i in range(1, len(desks)) if rooms[i][row].plan > 0 and minutes(i) < minutes(0)]
    if least == 0 or not others:
        return None
    return desks[min(others, key=minutes)].channel.code


def provenance(opened: SquadDesk, notice: Notice, row: int) -> str:
    if notice.limit is None:
        return ""
    column = opened.desk.today if notice.code == "plan_over_room" else int(opened.desk.judged[row])
    behind = opened.limits.behind(notice.limit, row, column)
    behind = behind or opened.limits.behind(notice.limit, row, opened.desk.today)
    if behind is None:
        return ""
    limit, name = behind
    title = title_of(notice.limit)
    whose = scope_words(limit, {opened.members[row].athlete_id: "own limit"})
    return f"{title} · {whose} · {name}, {limit.from_day.day} {limit.from_day:%b %Y}"

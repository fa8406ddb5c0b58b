"""One plan to come back whole: its climb channel by channel, its stage by the evidence, and three ways to a date."""

from __future__ import annotations

from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.audience import Audience
from uvren.core.returns import Climb, Evidence, Looks, Stage, asked_in, judge
from uvren.core.returns.clocks import CLOCKS, EVIDENCE
from uvren.core.returns.steps import LONG_DAYS
from uvren.services.day.beside import BesideSession, beside_between
from uvren.services.day.bounds import bounded
from uvren.services.day.climbing import measured_on
from uvren.services.day.day import Part
from uvren.services.day.desk import SquadDesk
from uvren.services.day.kept import parts_on
from uvren.services.day.reactions import backs, entered, evidence_of
from uvren.services.day.returns import Returning, days_off, shares_of
from uvren.services.errors import NotFound
from uvren.services.return_.matches import MatchLoad, match_loads
from uvren.services.return_.reading import (
    ReturnRow,
    StepWeek,
    fit_of,
    row_of,
    running,
    steps_of,
)
from uvren.services.return_.ways import Way, ways_of
from uvren.store import queries
from uvren.store.models import ReturnStep, Squad

# Sessions that somebody may take part in without load, and those of before that they did.
BESIDE_BACK, BESIDE_AHEAD = timedelta(days=7), timedelta(days=10)
# Days before the break, and after the climb, that the picture has.
BEFORE_DAYS, AFTER_DAYS = 28, 14


@dataclass(frozen=True)
class Lane:
    """A channel of a climb. ``measured`` is as in :class:`ReturnRow`, with the plan kept after today.

    ``most_today`` is what the plan leaves of today on it, in its unit; ``on_target`` the per cent on the target day.
    """

    code: str
    name: str
    unit: str
    reference: float
    held_until: date | None
    weeks: list[StepWeek]
    measured: list[float | None]
    on_target: float | None
    room: float | None
    room_words: str


@dataclass(frozen=True)
class Mark:
    """What a criterion was judged by: a value, and where it is pain that of the morning after."""

    value: float | None
    after: float | None


@dataclass(frozen=True)
class CriterionSaid:
    """A criterion with its evidence; ``measured`` says that somebody measures it.

    ``most`` is the pain in a session or the per cent that it asks for, ``most_after`` the pain of the morning after.
    ``entry`` says that the next stage asks for it.
    """

    key: str
    name: str
    looks: Looks
    asks: str
    met: bool
    said: str
    missing: str
    marks: list[Mark]
    most: float
    most_after: float
    measured: bool
    entry: bool


@dataclass(frozen=True)
class StageSpan:
    """A stage so far, with its days; the last one goes on."""

    number: int
    first: date
    last: date


@dataclass(frozen=True)
class StageSaid:
    """The stage that holds. Its criteria are for clinicians: empty for everyone else."""

    number: int
    of: int
    content: str
    since: date
    day: int
    criteria: list[CriterionSaid]
    advice: str
    back_if: list[str]
    spans: list[StageSpan]


@dataclass(frozen=True)
class OfMatch:
    """What a day may hold on the target day, in per cent of a match of the position."""

    name: str
    percent: float


@dataclass(frozen=True)
class OpenShare:
    """The most open play of a week, in per cent."""

    first: date
    share: float


@dataclass(frozen=True)
class ClockSaid:
    tissue: str
    early: date
    late: date
    said: str
    source: str


@dataclass(frozen=True)
class EventSaid:
    day: date
    by: str
    said: str


@dataclass(frozen=True)
class ReturnWhole:
    """One plan. ``from_day`` to ``to_day`` is the picture's; ``days`` is each day's load on the main channel.

    ``stages`` are all of it, for clinicians: empty for everyone else. ``beside`` are sessions that may be taken part in
    without load.
    """

    row: ReturnRow
    version: int
    kind: str
    today: date
    school: str
    shares: list[float]
    own_steps: bool
    needed: float
    from_day: date
    to_day: date
    usual: float | None
    usual_said: str
    allowed: list[str]
    lanes: list[Lane]
    days: list[float | None]
    open_play: list[OpenShare]
    effort_until: date | None
    effort_cap: float | None
    stage: StageSaid | None
    stages: list[Stage]
    ways: list[Way]
    of_match: list[OfMatch]
    of_match_said: str
    clocks: list[ClockSaid]
    events: list[EventSaid]
    beside: list[BesideSession]
    note: str


def read_whole(
    db: DbSession, squad: Squad, plan_id: str, as_of: date, today: date, audiences: Set[Audience]
) -> ReturnWhole:
    """A plan as these audiences may know it. Raises NotFound."""
    one = next((each for each in running(db, squad, as_of, today).values() if each.plan.id == plan_id), None)
    part = None if one is None else parts_on(db, squad, as_of, today).get(one.plan.athlete_id)
    if one is None or part is None:
        raise NotFound("There is no such plan to come back on this day.")
    return _Whole(db, squad, one, part, as_of, audiences).whole()


def evidence(db: DbSession, squad: Squad, plan_id: str, as_of: date) -> tuple[Returning, Evidence] | None:
    """A plan with what its stage is judged by; None for one that does not run, or has no stages."""
    plans = {athlete: one for athlete, one in running(db, squad, as_of, as_of).items() if one.plan.id == plan_id}
    channels = {channel.code: channel for channel in queries.squad.channels(db, squad.id)}
    found = evidence_of(db, squad, plans, as_of, channels)
    return next(((plans[athlete], known) for athlete, known in found.items()), None)


def unmet(db: DbSession, squad: Squad, plan_id: str, as_of: date) -> list[str]:
    """The names of criteria that do not hold."""
    found = evidence(db, squad, plan_id, as_of)
    if found is None:
        return []
    one, known = found
    leave, enter = asked_in(one.stages, min(one.stage_on(as_of), len(one.stages)))
    judged = [judge(criterion, known, one.template) for criterion in (*leave, *enter)]
    return [each.criterion.name for each in judged if not each.met]


class _Whole:
    """What a plan is told from."""

    def __init__(
        self, db: DbSession, squad: Squad, one: Returning, part: Part, as_of: date, audiences: Set[Audience]
    ) -> None:
        self.db, self.squad, self.one, self.part, self.as_of = db, squad, one, part, as_of
        self.clinical = Audience.CLINICAL in audiences
        self.plan = one.plan
        self.channels = queries.squad.channels(db, squad.id)
        channels = {channel.code: channel for channel in self.channels}
        mine = {self.plan.athlete_id: one}
        self.evidence = evidence_of(db, squad, mine, as_of, channels)
        back = backs(mine, self.evidence).get(self.plan.athlete_id, "") if self.clinical else ""
        self.row = row_of(one, part, as_of, self.clinical, back)
        self.fit = fit_of(one)
        self.from_day = (self.plan.first_off or self.plan.first_day) - timedelta(days=BEFORE_DAYS)
        last = max(filter(None, (None if one.climb is None else one.climb.last, self.plan.target_day, as_of)))
        self.to_day = last + timedelta(days=AFTER_DAYS)

    def whole(self) -> ReturnWhole:
        plan, climb = self.plan, self.one.climb
        week = None if climb is None else climb.on(self.as_of)
        match = self._match()
        return ReturnWhole(
            row=self.row,
            version=plan.version,
            kind=plan.kind.value if self.clinical else "",
            today=self.as_of,
            school=plan.school,
            shares=list(shares_of(plan)),
            own_steps=plan.shares is not None,
            needed=plan.needed,
            from_day=self.from_day,
            to_day=self.to_day,
            usual=None if climb is None else climb.terms.parts[climb.terms.main].reference,
            usual_said=self._usual_said(),
            allowed=self.row.allowed,
            lanes=[] if climb is None else [self._lane(climb, opened) for opened in self._desks(climb)],
            days=self._days(),
            open_play=[] if climb is None else [OpenShare(one.first, one.open_share) for one in climb.weeks],
            effort_until=None if climb is None else _capped_until(climb),
            effort_cap=None if week is None else week.effort_cap,
            stage=self._stage(),
            stages=list(self.one.stages) if self.clinical else [],
            ways=ways_of(self.db, self.squad, self.one, match, self.as_of),
            of_match=self._of_match(match),
            of_match_said=""
            if match is None
            else f"of a match of a {self.row.position} ({say.count(match.n, 'match', 'matches')} played)",
            clocks=self._clocks(),
            events=self._events(),
            beside=beside_between(
                self.db, self.squad, plan.athlete_id, self.as_of - BESIDE_BACK, self.as_of + BESIDE_AHEAD
            ),
            note=plan.note if self.clinical else "",
        )

    def _usual_said(self) -> str:
        begun = next((one.words for one in self.one.events if one.step is ReturnStep.BEGUN), "")
        what = "as somebody has said" if self.plan.first_off is None else "mean of the four weeks before"
        return "; ".join(filter(None, (what, begun)))

    def _desks(self, climb: Climb) -> list[SquadDesk]:
        return [one for one in self.part.day.desks if one.channel.code in climb.terms.parts]

    def _lane(self, climb: Climb, opened: SquadDesk) -> Lane:
        code = opened.channel.code
        row, standing = self.part.row, self.part.standing
        closed = standing.no_more
        room = bounded(opened.desk.day_rooms[row].room, float(opened.desk.plan_today[row]), standing).load
        return Lane(
            code=code,
            name=opened.channel.name,
            unit=opened.channel.unit,
            reference=climb.terms.parts[code].reference,
            held_until=climb.held_until(code),
            weeks=steps_of(climb, code),
            measured=measured_on(self.part, self.one, self.from_day, self.as_of + timedelta(days=7), code),
            on_target=None if self.fit is None else self.fit.shares[code],
            room=0.0 if closed else room,
            room_words="" if closed or room is None else opened.desk.terms.phrase(room, self.part.row),
        )

    def _days(self) -> list[float | None]:
        loads = self.part.day.main.desk.planned
        begin = (self.from_day - loads.first_day).days
        days = (self.as_of - self.from_day).days + 8
        row = np.where(loads.age[self.part.row] < 1, np.nan, loads.load[self.part.row])
        columns = range(begin, begin + days)
        known = [0 <= column < row.size and not np.isnan(row[column]) for column in columns]
        return [float(row[column]) if there else None for column, there in zip(columns, known, strict=True)]

    def _stage(self) -> StageSaid | None:
        one = self.one
        if not one.stages:
            return None
        number = min(one.stage_on(self.as_of), len(one.stages))
        stage = one.stages[number - 1]
        since = entered(one, self.as_of)
        known = self.evidence.get(self.plan.athlete_id)
        criteria = []
        if self.clinical and known is not None:
            leave, enter = asked_in(one.stages, number)
            for asked, entry in (*((each, False) for each in leave), *((each, True) for each in enter)):
                judged = judge(asked, known, one.template)
                criteria.append(
                    CriterionSaid(asked.key, asked.name, asked.looks, asked.asks(), judged.met, judged.said,
                                  judged.missing, [Mark(*one) for one in judged.marks[-10:]],
                                  asked.during or asked.percent, asked.after, asked.measured, entry)
                )  # fmt: skip
        template = one.template
        return StageSaid(
            number=number,
            of=len(one.stages),
            content=stage.content,
            since=since,
            day=(self.as_of - since).days + 1,
            criteria=criteria,
            advice=template.advice if self.clinical else "",
            back_if=[f"pain over {template.back_during:g}, or over {template.back_after:g} next morning"]
            if self.clinical
            else [],
            spans=_spans(one, self.as_of),
        )

    def _match(self) -> MatchLoad | None:
        if self.plan.target_day is None or self.one.climb is None:
            return None
        found = match_loads(self.db, self.squad, self.part.day.members, self.channels, self.as_of)
        return found.get(self.row.position) or found.get("")

    def _of_match(self, match: MatchLoad | None) -> list[OfMatch]:
        climb, target = self.one.climb, self.plan.target_day
        week = None if climb is None or target is None else climb.on(target)
        if match is None or climb is None or week is None:
            return []
        names = {channel.code: channel.name for channel in self.channels}
        return [
            OfMatch(names.get(code, code), round(min(climb.day_in(week, code) / match.loads[code], 1.0) * 100, 1))
            for code in climb.terms.parts
            if match.loads.get(code)
        ]

    def _clocks(self) -> list[ClockSaid]:
        if self.plan.first_off is None or days_off(self.plan) < LONG_DAYS:
            return []
        out = []
        for clock in CLOCKS:
            early, late = clock.span(self.plan.first_day)
            said = f"{clock.early} to {clock.late} weeks"
            out.append(ClockSaid(clock.tissue, early, late, f"{said}; {EVIDENCE}", clock.source))
        return out

    def _events(self) -> list[EventSaid]:
        names = queries.club.user_names(self.db, self.squad.club_id)
        measured = {one.key: one.name for stage in self.one.stages for one in stage.asks}
        return [
            EventSaid(one.day, names.get(one.said_by or 0, ""), said)
            for one in reversed(self.one.events)
            if one.day <= self.as_of
            for said in [_event_said(one.step, one.stage, measured.get(one.criterion or "", ""), one.value, one.other,
                                     one.words, self.clinical)]
            if said
        ]  # fmt: skip


def _event_said(
    step: ReturnStep, stage: int, measured: str, value: float | None, other: float | None, words: str, clinical: bool
) -> str:
    """What happened; why, and what was measured, is for clinicians."""
    if step in (ReturnStep.WORD, ReturnStep.MEASURED, ReturnStep.KEPT, ReturnStep.GIVEN) and not clinical:
        return ""
    what: Mapping[ReturnStep, str] = {
        ReturnStep.BEGUN: "plan begun", ReturnStep.STAGE: f"stage {stage}", ReturnStep.KEPT: "the stage is kept",
        ReturnStep.WORD: "a clinician’s word", ReturnStep.STEPS: "other steps", ReturnStep.DATE: "other date",
        ReturnStep.ENDED: "plan ended", ReturnStep.GIVEN: "summary given",
        ReturnStep.MEASURED: f"{measured}: {value or 0:g} against {other or 0:g}",
    }  # fmt: skip
    return f"{what[step]}: {words}" if words and clinical else what[step]


def _capped_until(climb: Climb) -> date | None:
    """The last day with a cap on effort."""
    capped = [one.last for one in climb.weeks if one.effort_cap is not None]
    return max(capped, default=None)


def _spans(one: Returning, as_of: date) -> list[StageSpan]:
    """Stages so far: number, first day, last day (today for the one that holds)."""
    said: Sequence[tuple[int, date]] = [
        (event.stage, event.day)
        for event in one.events
        if event.step in (ReturnStep.BEGUN, ReturnStep.STAGE) and event.day <= as_of
    ]
    ends = [day for _, day in said[1:]] + [as_of]
    return [StageSpan(stage, day, end) for (stage, day), end in zip(said, ends, strict=True)]

"""Return: who comes back and how far they are, and one of them whole."""

from __future__ import annotations

from collections.abc import Mapping, Sequence, Set
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum

from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.audience import Audience
from uvren.core.fatigue import RestTrial as TrialRule
from uvren.core.fatigue import Trial
from uvren.core.returns import Break, Climb, Fit, breaks, fit
from uvren.core.returns.breaks import OWN_DAYS
from uvren.core.returns.steps import LEAST_DAYS
from uvren.core.season import Phase, PhaseKind
from uvren.services.day.climbing import measured_on
from uvren.services.day.day import Part
from uvren.services.day.kept import parts_on
from uvren.services.day.reactions import backs, evidence_of
from uvren.services.day.returns import Returning, read_returning, told_on
from uvren.store import queries
from uvren.store.models import ReturnKind, SessionKind, Squad
from uvren.store.queries.squad import Member

# Days around today that the list shows.
BACK_DAYS, AHEAD_DAYS = 42, 63
# Half of these before a season ends its break is told; within all of them after it a match is the first of the next.
SEASON_AHEAD_DAYS = 56


class State(StrEnum):
    """How a plan stands: its date does not fit, on the way, still ahead, or waiting for something to be said."""

    SHORT = "short"
    WAITS = "waits"
    WAY = "way"
    AHEAD = "ahead"


@dataclass(frozen=True)
class StepWeek:
    """A week of a climb: per cent of the usual week, and whether it is held for another one."""

    first: date
    share: float
    again: bool


@dataclass(frozen=True)
class ReturnRow:
    """A plan in the list. ``what`` says from what somebody comes back, as far as one may know it.

    ``measured`` is the load of seven days in per cent of the usual week, from ``from_day`` through today, None where a
    rating is missing. ``reached`` is the per cent of the usual week on the target day; ``back`` proposes one stage back
    (clinical). ``group`` is of those with the same days, ``allowed`` what today holds.
    """

    plan_id: str
    athlete_id: int
    name: str
    number: int | None
    position: str
    what: str
    state: State
    said: str
    short: str
    stage: int
    stages: int
    first_off: date | None
    first_day: date
    full_day: date | None
    target: date | None
    reached: float | None
    days_short: int
    back: str
    from_day: date
    weeks: list[StepWeek]
    measured: list[float | None]
    group: str
    allowed: list[str]


@dataclass(frozen=True)
class TrialRow:
    """A trial of rest that is under way, or is to be judged."""

    athlete_id: int
    name: str
    position: str
    first: date
    last: date
    day: int
    days: int
    judge: bool
    said: str


@dataclass(frozen=True)
class BreakRow:
    """A break without a plan: somebody who had no work, or hardly any; of one ``channel`` alone, or (empty) of all."""

    athlete_id: int
    name: str
    position: str
    first_off: date
    back: date | None
    days: int
    said: str
    channel: str


@dataclass(frozen=True)
class SeasonBreak:
    """The end of a season whose way back nobody has planned; ``target`` is the first match after it, if any."""

    name: str
    first_off: date
    first_day: date
    target: date | None
    said: str


@dataclass(frozen=True)
class Returns:
    """Everybody who comes back, in the order of what is wrong."""

    day: date
    said: str
    rows: list[ReturnRow]
    trials: list[TrialRow]
    breaks: list[BreakRow]
    season_break: SeasonBreak | None
    sign_off: bool
    from_day: date
    to_day: date


def running(db: DbSession, squad: Squad, as_of: date, today: date) -> dict[int, Returning]:
    """The plans that say something of a day, or of one still to come, by athlete."""
    members = queries.squad.members(db, squad.id, as_of)
    last = as_of + timedelta(days=400)
    found = read_returning(db, squad, members, as_of, last, min(as_of, today))
    return {athlete: one for athlete, one in found.items() if one.runs_on(as_of) or one.begins > as_of >= one.made_on}


def read_returns(db: DbSession, squad: Squad, as_of: date, today: date, audiences: Set[Audience]) -> Returns:
    """Who comes back, as these audiences may know it."""
    plans = running(db, squad, as_of, today)
    parts = parts_on(db, squad, as_of, today)
    clinical = Audience.CLINICAL in audiences
    channels = {channel.code: channel for channel in queries.squad.channels(db, squad.id)}
    proposed = backs(plans, evidence_of(db, squad, plans, as_of, channels)) if clinical else {}
    rows = [
        row_of(one, parts[athlete], as_of, clinical, proposed.get(athlete, ""))
        for athlete, one in plans.items()
        if athlete in parts
    ]
    rows.sort(key=lambda one: (list(State).index(one.state), -one.days_short, one.full_day or date.max, one.name))
    trials = _trials(db, squad, as_of, parts) if Audience.REPORTS in audiences else []
    found = _breaks(parts, set(plans), as_of)
    return Returns(
        as_of, _said(rows, trials), rows, trials, found, _season_break(db, squad, plans, as_of),
        squad.stages_by_sign_off, as_of - timedelta(days=BACK_DAYS), as_of + timedelta(days=AHEAD_DAYS),
    )  # fmt: skip


def row_of(one: Returning, part: Part, as_of: date, clinical: bool, back: str) -> ReturnRow:
    plan, member = one.plan, part.day.members[part.row]
    found = fit_of(one)
    from_day = as_of - timedelta(days=BACK_DAYS)
    full = None if one.climb is None else one.climb.reaches(100)
    days = (plan.kind, plan.first_off, plan.first_day, plan.target_day)
    return ReturnRow(
        plan_id=plan.id,
        athlete_id=plan.athlete_id,
        name=member.name,
        number=member.number,
        position=member.position,
        what=what_of(one, clinical),
        state=_state(one, found, as_of),
        said=told_on(one, as_of)[0],
        short=_short(one, found, full, as_of),
        stage=one.stage_on(as_of),
        stages=len(one.stages),
        first_off=plan.first_off,
        first_day=plan.first_day,
        full_day=full,
        target=plan.target_day,
        reached=None if found is None or one.climb is None else found.shares[one.climb.terms.main],
        days_short=0 if found is None else found.days_short,
        back=back,
        from_day=from_day,
        weeks=[] if one.climb is None else steps_of(one.climb, one.climb.terms.main),
        measured=measured_on(part, one, from_day, as_of),
        allowed=allowed_on(one, as_of),
        group="|".join(map(str, days)) if plan.kind is ReturnKind.LAYOFF else plan.id,
    )


def allowed_on(one: Returning, day: date) -> list[str]:
    """What a plan leaves of a day, in words."""
    gate = one.gate_on(day)
    return [] if gate is None else ["does not train"] if gate.closed else gate.changes()


def fit_of(one: Returning) -> Fit | None:
    """How a plan stands to its date; None without a date, or without a climb."""
    if one.climb is None or one.plan.target_day is None:
        return None
    return fit(one.climb, one.plan.target_day, one.plan.needed)


def what_of(one: Returning, clinical: bool) -> str:
    """From what somebody comes back: where it hurts is for clinicians alone, that they come back is for all."""
    plan = one.plan
    if plan.kind is ReturnKind.NEW:
        return "new, no history"
    if plan.kind is ReturnKind.LAYOFF:
        return f"{say.count((plan.first_day - (plan.first_off or plan.first_day)).days, 'day')} off"
    if not clinical:
        return "on the way back"
    where = " ".join(filter(None, (plan.side, plan.site)))
    return where or one.template.name.lower() if plan.template != "blank" or where else plan.kind.value


def _state(one: Returning, found: Fit | None, as_of: date) -> State:
    if one.climb is None and not one.template.refers:
        return State.WAITS
    if found is not None and not found.fits:
        return State.SHORT
    return State.AHEAD if one.begins > as_of else State.WAY


def _short(one: Returning, found: Fit | None, full: date | None, as_of: date) -> str:
    """How it stands, in one line."""
    if one.template.refers:
        return "No climb is laid out: local protocol, and somebody who may decides."
    if one.climb is None or full is None:
        return "Waits for a usual week: say what one is."
    if found is not None and not found.fits:
        share = say.percent(found.shares[one.climb.terms.main] / 100)
        return f"Reaches {share} by {say.day(found.target)}, {say.count(found.days_short, 'day')} short."
    when = f"Full week from {say.day(full)}" if full > as_of else "The week is full again"
    return f"{when}; fits {say.day(found.target)}." if found is not None else f"{when}."


def steps_of(climb: Climb, channel: str) -> list[StepWeek]:
    """The weeks of a climb on a channel."""
    return [StepWeek(week.first, climb.share_in(week, channel), week.again) for week in climb.weeks]


def _trials(db: DbSession, squad: Squad, as_of: date, parts: Mapping[int, Part]) -> list[TrialRow]:
    out = []
    for trial in queries.return_.rest_trials_until(db, squad.id, as_of):
        part = parts.get(trial.athlete_id)
        judged = trial.judged_on is not None and trial.judged_on <= as_of
        if part is None or judged:
            continue
        rule = TrialRule(trial.from_day, trial.days)
        due = rule.state(as_of) is not Trial.RESTING
        day = min((as_of - trial.from_day).days + 1, trial.days)
        member = part.day.members[part.row]
        said = "To be judged: better, or not." if due else f"Judged after {say.day(rule.last)}."
        out.append(TrialRow(trial.athlete_id, member.name, member.position, trial.from_day, rule.last, day, trial.days,
                            due, said))  # fmt: skip
    return out


def _breaks(parts: Mapping[int, Part], planned: Set[int], as_of: date) -> list[BreakRow]:
    """Breaks of those who have no plan, found in what is recorded through yesterday."""
    out: list[BreakRow] = []
    for day in {id(part.day): part.day for part in parts.values()}.values():
        mine = {
            part.row: member
            for member in day.members
            if (part := parts.get(member.athlete_id)) and part.day is day and member.athlete_id not in planned
        }
        off: set[int] = set()
        for opened in day.desks:
            if opened.desk.today == 0:
                continue
            done, main = opened.desk.done.through(as_of - timedelta(days=1)), opened.channel.is_main
            for one in breaks(done, least=LEAST_DAYS if main else OWN_DAYS):
                # Of one kind of work alone a break is told while it lasts, and where all the others went on.
                if one.row in mine and one.row not in off and (main or (one.back is None and not one.little)):
                    out.append(_break_row(mine[one.row], one, "" if main else opened.channel.name))
                    off |= {one.row} if main else set()
    return sorted(out, key=lambda one: (one.name, one.channel))


def _season_break(db: DbSession, squad: Squad, plans: Mapping[int, Returning], as_of: date) -> SeasonBreak | None:
    """The transition that is near, as long as nobody's way back from it is planned."""
    phases = [Phase(row.kind, row.name, row.first_day, row.last_day) for row in queries.season.phases(db, squad.id)]
    phase = next((one for one in phases if _is_break(one, as_of)), None)
    off = [one.begins for one in plans.values() if one.plan.kind is ReturnKind.LAYOFF]
    if phase is None or any(phase.first <= day <= phase.last for day in off):
        return None
    back = phase.last + timedelta(days=1)
    after = queries.session.sessions_between(db, squad.id, back, back + timedelta(days=SEASON_AHEAD_DAYS))
    target = next((one.day for one in after if one.kind is SessionKind.MATCH and one.called_off is None), None)
    days = say.count((back - phase.first).days, "day")
    said = f"{phase.name}: {days} from {say.day(phase.first)}, back on {say.day(back)}."
    if target is not None:
        said = f"{said} First match {say.day(target)}."
    return SeasonBreak(phase.name, phase.first, back, target, said)


def _is_break(phase: Phase, as_of: date) -> bool:
    """Whether a phase is days off long enough to climb back from, near enough to be planned, and not over."""
    if phase.kind is not PhaseKind.TRANSITION or (phase.last - phase.first).days + 1 < LEAST_DAYS:
        return False
    return phase.first - timedelta(days=SEASON_AHEAD_DAYS // 2) <= as_of <= phase.last


def _break_row(member: Member, one: Break, channel: str) -> BreakRow:
    return BreakRow(member.athlete_id, member.name, member.position, one.first, one.back, one.days,
                    _break_said(one, channel.lower()), channel)  # fmt: skip


def _break_said(one: Break, channel: str = "") -> str:
    what = "hardly any work" if one.little else f"no {channel or 'work'}"
    since = f"{what} for {say.count(one.days, 'day')} from {say.day(one.first)}"
    return f"{since}; back since {say.day(one.back)}." if one.back else f"{since}."


def _said(rows: Sequence[ReturnRow], trials: Sequence[TrialRow]) -> str:
    if not rows and not trials:
        return "Nobody is on the way back."
    parts = []
    if rows:
        parts.append(f"{say.count(len(rows), 'plan')} to come back.")
        short = [one for one in rows if one.state is State.SHORT]
        if short:
            parts.append(f"{len(short)} {'does' if len(short) == 1 else 'do'} not reach their date.")
        back = [one for one in rows if one.back]
        if back:
            parts.append(f"{say.count(len(back), 'stage')} back proposed.")
    due = [one for one in trials if one.judge]
    if due:
        parts.append(f"{say.count(len(due), 'rest trial')} to be judged.")
    elif trials:
        parts.append(f"{say.count(len(trials), 'rest trial')} under way.")
    return " ".join(parts)

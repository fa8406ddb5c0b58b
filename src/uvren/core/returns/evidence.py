"""How a criterion stands by what is in the system, and whether something speaks for one stage back."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta

from uvren.core import words
from uvren.core.returns.stages import Criterion, Looks, Template


@dataclass(frozen=True)
class Done:
    """A day with work in a stage: its load on the region's channel (the main one), what hurt in it, and next morning.

    Pain is of 10; None where nobody was asked or has answered.
    """

    day: date
    load: float
    during: float | None
    after: float | None


@dataclass(frozen=True)
class Measured:
    """A value that somebody measured for a criterion. ``other`` is the side that was not hurt, or the own best."""

    day: date
    value: float
    other: float

    @property
    def percent(self) -> float:
        """The value in per cent of the other."""
        return self.value / self.other * 100


@dataclass(frozen=True)
class Evidence:
    """What is known of somebody since a stage began. ``done`` and what is measured stand in order of time.

    ``measured`` is by criterion, from before the stage too; ``word`` is when a clinician gave theirs in this stage.
    """

    since: date
    as_of: date
    done: Sequence[Done] = ()
    measured: Mapping[str, Sequence[Measured]] = field(default_factory=dict)
    word: date | None = None


@dataclass(frozen=True)
class Judged:
    """How a criterion stands: ``said`` is what is there, ``missing`` what is not, empty where it is met.

    ``marks`` are what it was judged by, oldest first, for a picture; a pair is pain in a session and the morning after.
    """

    criterion: Criterion
    met: bool
    said: str
    missing: str
    marks: tuple[tuple[float | None, float | None], ...] = ()


def judge(criterion: Criterion, evidence: Evidence, template: Template) -> Judged:
    """One criterion by the evidence; what cannot be told is not met, and says what is missing."""
    return _JUDGES[criterion.looks](criterion, evidence, template)


def _judge_pain(criterion: Criterion, evidence: Evidence, _template: Template) -> Judged:
    marks = tuple((one.during, one.after) for one in evidence.done)
    # Of the last session the morning after may be still to come.
    whole = [
        one
        for one in evidence.done
        if one.day < evidence.as_of and (one.after is not None or (evidence.as_of - one.day).days > 1)
    ]
    run, unknown = 0, False
    for one in reversed(whole):
        if one.during is None or one.after is None:
            unknown = True
            break
        if one.during > criterion.during or one.after > criterion.after:
            break
        run += 1
    said = f"held in {min(run, criterion.many)} of {criterion.many}"
    if run >= criterion.many:
        return Judged(criterion, True, said, "", marks)
    left = criterion.many - run
    missing = f"{left} more, each with a report the morning after" if unknown else f"{left} more"
    return Judged(criterion, False, said, missing, marks)


def _judge_sides(criterion: Criterion, evidence: Evidence, _template: Template) -> Judged:
    there = evidence.measured.get(criterion.key, ())
    marks = tuple((one.percent, None) for one in there)
    if not there:
        return Judged(criterion, False, "not measured yet", "both sides, measured")
    last = there[-1]
    weaker = 100 - last.percent
    said = f"{abs(weaker):.0f} % {'weaker' if weaker > 0 else 'stronger'}, {words.day(last.day)}"
    if weaker <= criterion.percent:
        return Judged(criterion, True, said, "", marks)
    return Judged(criterion, False, said, f"{weaker - criterion.percent:.0f} % missing", marks)


def _judge_best(criterion: Criterion, evidence: Evidence, _template: Template) -> Judged:
    there = evidence.measured.get(criterion.key, ())
    marks = tuple((one.percent, None) for one in there)
    if not there:
        return Judged(criterion, False, "not measured yet", "the test, and the own best before")
    last = there[-1]
    needed = last.other * criterion.percent / 100
    said = f"{last.value:g} of {last.other:g}, {words.day(last.day)}"
    if last.value >= needed - 1e-9:
        return Judged(criterion, True, said, "", marks)
    return Judged(criterion, False, said, f"{needed - last.value:.2g} missing", marks)


def _judge_sessions(criterion: Criterion, evidence: Evidence, template: Template) -> Judged:
    marks: list[tuple[float | None, float | None]] = []
    run, asked = 0, 0
    for one in evidence.done:
        if one.load <= 0 or one.day >= evidence.as_of:
            continue
        if reacted(one, template):
            run, asked = 0, 0
        elif one.during is None and one.after is None:
            # Nobody said anything: it is no evidence of calm.
            asked += 1
            continue
        else:
            run += 1
        marks.append((float(run > 0), None))
    said = f"{min(run, criterion.many)} of {criterion.many}"
    if run >= criterion.many:
        return Judged(criterion, True, said, "", tuple(marks))
    more = f"; {words.count(asked, 'session')} without a report" if asked else ""
    return Judged(criterion, False, said, f"{criterion.many - run} missing{more}", tuple(marks))


def _judge_days(criterion: Criterion, evidence: Evidence, _template: Template) -> Judged:
    days = (evidence.as_of - evidence.since).days
    met = days >= criterion.many
    missing = "" if met else f"until {words.day(evidence.since + timedelta(days=criterion.many))}"
    return Judged(criterion, met, f"day {days + 1}", missing)


def _judge_word(criterion: Criterion, evidence: Evidence, _template: Template) -> Judged:
    if evidence.word is None:
        return Judged(criterion, False, "not given yet", "a clinician’s word")
    return Judged(criterion, True, f"given on {words.day(evidence.word)}", "")


_JUDGES = {
    Looks.PAIN: _judge_pain, Looks.SIDES: _judge_sides, Looks.BEST: _judge_best, Looks.SESSIONS: _judge_sessions,
    Looks.DAYS: _judge_days, Looks.WORD: _judge_word,
}  # fmt: skip


def reacted(one: Done, template: Template) -> bool:
    """Whether more hurt in a session, or the morning after, than a return of this kind goes on with."""
    return (one.during or 0) > template.back_during or (one.after or 0) > template.back_after


def why_back(evidence: Evidence, template: Template, answered: date | None = None) -> str:
    """Why one stage back is proposed, empty where nothing speaks for it.

    By the last day with work that brought a reaction within three days; none that was before the day on which somebody
    has ``answered``.
    """
    for one in reversed(evidence.done):
        if (evidence.as_of - one.day).days > 3 or (answered is not None and one.day < answered):
            return ""
        if reacted(one, template):
            if (one.after or 0) > template.back_after:
                return f"pain {one.after:g} the morning after {words.day(one.day)}; {template.back_after:g} is the most"
            return f"pain {one.during:g} in the session of {words.day(one.day)}; {template.back_during:g} is the most"
    return ""

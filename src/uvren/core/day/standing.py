"""What stands for a person on a day: the plan, and what calls, clinicians, rest trials and reports leave of it.

Everything that says what someone may do today reads this. What outranks what, strongest first: a clinician, or a plan
to come back, that says that they do not train; something told that a clinician has to see first; a rest trial; a call.
The less is known, the less stands: what nobody has looked at yet closes the day or asks first.
"""

from __future__ import annotations

from collections.abc import Set
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from uvren.core import words
from uvren.core.audience import Audience
from uvren.core.day.facts import Gate
from uvren.core.fatigue import RestTrial


class CallKind(StrEnum):
    """What a person decided about an athlete for a day; the order is that of the keys 1 to 6."""

    FULL = "full"
    ADAPT = "adapt"
    MINIMUM = "minimum"
    RECOVER = "recover"
    REST = "rest"
    REFER = "refer"


# What a call leaves of the day's plan, as a share of its minutes; an adapted day says its own.
SHARE_OF_PLAN = {
    CallKind.FULL: 1.0, CallKind.ADAPT: 1.0, CallKind.MINIMUM: 0.3, CallKind.RECOVER: 0.1, CallKind.REST: 0.0,
    CallKind.REFER: 0.0,
}  # fmt: skip
OFF_KINDS = frozenset({CallKind.REST, CallKind.REFER})
# From which pain (of 10) on a day is closed until it was seen, and from which somebody has to be asked first.
CLOSES_FROM, ASKS_FROM = 7.0, 4.0


class Told(StrEnum):
    """What a pain or an illness that nobody has looked at yet does to the day."""

    NOTE = "note"
    ASKS = "asks"
    CLOSES = "closes"


def weigh(severity: float | None, *, closes: float = CLOSES_FROM, asks: float = ASKS_FROM) -> Told:
    """What a complaint asks for until it is seen; ``severity`` is a pain of 10, None for an illness, which closes."""
    if severity is None or severity >= closes:
        return Told.CLOSES
    return Told.ASKS if severity >= asks else Told.NOTE


class Stands(StrEnum):
    """How someone stands on a day."""

    PLAN = "plan"
    ASK = "ask"
    PART = "part"
    RECOVER = "recover"
    REST = "rest"
    OUT = "out"
    WAIT = "wait"


class Why(StrEnum):
    """What a standing other than the plan rests on."""

    NOTHING = ""
    CALL = "call"
    CLINICIAN = "clinician"
    RETURN = "return"
    TOLD = "told"
    TRIAL = "trial"
    SCREEN = "screen"


@dataclass(frozen=True)
class Called:
    """A call as far as it changes the day: ``minutes`` of all sessions, the most effort, content in words."""

    kind: CallKind
    minutes: float | None = None
    effort_cap: float | None = None
    content: str = ""

    def share(self, planned_minutes: float) -> float:
        """The share of the planned minutes that is left; over 1 where it asks for more than was planned."""
        if self.kind is CallKind.ADAPT and self.minutes is not None and planned_minutes > 0:
            return self.minutes / planned_minutes
        return SHARE_OF_PLAN[self.kind]

    def changes(self, planned_minutes: float) -> list[str]:
        """What it changes, such as "45 of 80 min", "effort at most 5"; empty for the plan as it is."""
        content = [self.content] if self.content else []
        if self.kind is CallKind.ADAPT:
            parts = []
            if self.minutes is not None and planned_minutes > 0:
                parts.append(f"{self.minutes:g} of {planned_minutes:g} min")
            if self.effort_cap is not None:
                parts.append(f"effort at most {self.effort_cap:g}")
            return parts + content
        if self.kind is CallKind.MINIMUM:
            dose = round(planned_minutes * SHARE_OF_PLAN[self.kind] / 5) * 5
            return [f"minimum dose, {dose:g} min of the main part" if dose else "minimum dose", *content]
        return (["recovery only, easy"] if self.kind is CallKind.RECOVER else []) + content


@dataclass(frozen=True)
class Given:
    """What has been said of a person for a day, before it is weighed.

    ``told`` is the gravest thing told that no clinician has seen, ``answered`` whether the call was made after it.
    ``screen`` says that the overtraining screen lets no more work be proposed.
    """

    call: Called | None = None
    gate: Gate | None = None
    trial: RestTrial | None = None
    told: Told = Told.NOTE
    answered: bool = False
    screen: bool = False


@dataclass(frozen=True)
class Standing:
    """What stands for a person on a day, and what may be said of it to whom."""

    stands: Stands
    why: Why
    given: Given

    @property
    def closed(self) -> bool:
        """Whether nothing at all is to be done: no session stands, and there is no room."""
        return self.stands in (Stands.REST, Stands.OUT, Stands.WAIT)

    @property
    def no_more(self) -> bool:
        """Whether nothing beside what stands may be added."""
        return self.closed or self.given.screen

    @property
    def needs_call(self) -> bool:
        """Whether somebody has to say something before the day can go on, whatever else was found."""
        return not self.given.answered and self.stands in (Stands.WAIT, Stands.ASK)

    @property
    def owes(self) -> bool:
        """Whether a week can owe them anything: not who waits to be seen, is out, or comes back by a plan."""
        return self.stands in (Stands.PLAN, Stands.PART) and self.why not in (Why.CLINICIAN, Why.RETURN)

    def share(self, planned_minutes: float) -> float:
        """The share of the day's planned minutes that stands."""
        if self.closed:
            return 0.0
        call, gate = self.given.call, self.given.gate
        of_call = 1.0 if call is None else call.share(planned_minutes)
        return of_call if gate is None or gate.share is None else min(of_call, gate.share)

    @property
    def cap(self) -> float:
        """The most effort of a session, inf without one."""
        call, gate = self.given.call, self.given.gate
        of_call = None if call is None else call.effort_cap
        of_gate = None if gate is None else gate.cap
        return min(np.inf if one is None else one for one in (of_call, of_gate))

    @property
    def bounded(self) -> bool:
        """Whether a clinician leaves only part of the plan, so that room ends with it."""
        gate = self.given.gate
        return not self.closed and gate is not None and gate.share is not None

    def changes(self, planned_minutes: float) -> list[str]:
        """How the plan is changed, for everyone; empty where it stands as it is, or does not stand at all."""
        if self.closed:
            return []
        call, gate = self.given.call, self.given.gate
        of_gate = [] if gate is None else gate.changes(planned_minutes)
        of_call = [] if call is None else call.changes(planned_minutes)
        return list(dict.fromkeys(of_gate + of_call))

    def told(self, audiences: Set[Audience]) -> Stands:
        """How someone stands, as these audiences may know it: not whether a day off is a trial of rest."""
        if audiences & {Audience.REPORTS, Audience.CLINICAL}:
            return self.stands
        return Stands.OUT if self.stands is Stands.REST else self.stands

    def said(self, audiences: Set[Audience], planned_minutes: float = 0.0) -> str:
        """How someone stands in few words, as these audiences may know it; empty for the plan as it is."""
        if self.stands in (Stands.WAIT, Stands.ASK):
            if self.why is Why.TOLD and audiences & {Audience.REPORTS, Audience.CLINICAL}:
                return "waits for a clinician" if self.stands is Stands.WAIT else "ask a clinician first"
            return "ask staff first"
        if self.stands is Stands.REST and audiences & {Audience.REPORTS, Audience.CLINICAL}:
            return "rest trial"
        if self.closed:
            return "does not train"
        return ", ".join(self.changes(planned_minutes))

    def why_closed(self, audiences: Set[Audience]) -> str:
        """Why there is no room although limits might leave some, as these audiences may know it; else empty."""
        if not self.no_more:
            return ""
        may_know = bool(audiences & {Audience.REPORTS, Audience.CLINICAL})
        if self.why is Why.CLINICIAN:
            return "a clinician’s restriction"
        if self.why is Why.RETURN:
            return "not back yet"
        if self.stands is Stands.WAIT:
            return "until a clinician has seen it" if may_know else "ask staff first"
        if self.stands is Stands.REST:
            trial = self.given.trial
            until = f" until {words.day(trial.last)}" if trial is not None and trial.better is None else ""
            return f"rest trial{until}" if may_know else "does not train"
        if self.closed:
            return "day off by call" if may_know else "does not train"
        return "no more work while the overtraining screen is open" if may_know else "ask staff first"


def weighed(given: Given) -> Standing:
    """What stands, from everything that was said."""
    call, gate = given.call, given.gate
    of_gate = Why.RETURN if gate is not None and gate.of_plan else Why.CLINICIAN
    if gate is not None and gate.closed:
        return Standing(Stands.OUT, of_gate, given)
    if given.told is Told.CLOSES:
        return Standing(Stands.WAIT, Why.TOLD, given)
    if given.trial is not None:
        return Standing(Stands.REST, Why.TRIAL, given)
    if call is not None and call.kind in OFF_KINDS:
        return Standing(Stands.OUT, Why.CALL, given)
    if given.told is Told.ASKS and not given.answered:
        return Standing(Stands.ASK, Why.TOLD, given)
    if call is not None and call.kind is CallKind.RECOVER:
        return Standing(Stands.RECOVER, Why.CALL, given)
    if call is None and given.screen:
        return Standing(Stands.ASK, Why.SCREEN, given)
    if gate is not None:
        return Standing(Stands.PART, of_gate, given)
    if call is not None and call.kind in (CallKind.ADAPT, CallKind.MINIMUM):
        return Standing(Stands.PART, Why.CALL, given)
    return Standing(Stands.PLAN, Why.NOTHING, given)

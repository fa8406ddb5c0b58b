"""Stages of a return: what each allows, and what has to hold before the next one, as data."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from enum import StrEnum
from typing import Any

from uvren.core.errors import BadPlan
from uvren.core.units.base import Region


class Looks(StrEnum):
    """What a criterion looks at."""

    PAIN = "pain"
    SIDES = "sides"
    BEST = "best"
    SESSIONS = "sessions"
    DAYS = "days"
    WORD = "word"


@dataclass(frozen=True)
class Criterion:
    """What has to hold before somebody moves on. Numbers that its kind does not use stay 0.

    Parameters
    ----------
    key : str
        Tells it from the others of its stage.
    looks : Looks
        PAIN: at most ``during`` of 10 in a session and ``after`` of 10 the morning after, ``many`` sessions running.
        SIDES: the hurt side at most ``percent`` weaker than the other. BEST: at least ``percent`` of the own best.
        SESSIONS: ``many`` sessions running with work and without a reaction. DAYS: ``many`` days in the stage.
        WORD: a clinician's word.
    name : str
        What is looked at, such as "Strength outward".
    """

    key: str
    looks: Looks
    name: str
    during: float = 0.0
    after: float = 0.0
    many: int = 0
    percent: float = 0.0

    def __post_init__(self) -> None:
        if self.looks in (Looks.PAIN, Looks.SESSIONS, Looks.DAYS) and not 1 <= self.many <= 365:
            raise BadPlan(f"{self.name}: it takes 1 to 365 of them", field="many")
        if self.looks in (Looks.SIDES, Looks.BEST) and not 0 < self.percent <= 100:
            raise BadPlan(f"{self.name}: more than 0 and at most 100 %", field="percent")
        if not (0 <= self.during <= 10 and 0 <= self.after <= 10):
            raise BadPlan(f"{self.name}: pain goes from 0 to 10", field="during")

    @property
    def measured(self) -> bool:
        """Whether somebody has to measure it."""
        return self.looks in (Looks.SIDES, Looks.BEST)

    def asks(self) -> str:
        """What it asks for, such as "at most 10 % weaker than the other side"."""
        if self.looks is Looks.PAIN:
            return f"at most {self.during:g}, then {self.after:g} the morning after; {self.many} sessions running"
        if self.looks is Looks.SIDES:
            return f"at most {self.percent:g} % weaker than the other side"
        if self.looks is Looks.BEST:
            return f"at least {self.percent:g} % of own best"
        if self.looks is Looks.SESSIONS:
            return f"{self.many} running"
        return f"{self.many} days" if self.looks is Looks.DAYS else "given in this stage"


@dataclass(frozen=True)
class Stage:
    """A stage: ``content`` is what the coach reads of it; the most effort and share of minutes are None where free.

    ``criteria`` have to hold before somebody leaves it for the next one, those of ``entry`` before they come into it.
    """

    content: str
    criteria: tuple[Criterion, ...]
    effort_cap: float | None = None
    minutes_share: float | None = None
    closed: bool = False
    entry: tuple[Criterion, ...] = ()

    @property
    def asks(self) -> tuple[Criterion, ...]:
        """All that it asks for, on the way in and on the way out."""
        return (*self.entry, *self.criteria)


@dataclass(frozen=True)
class Template:
    """A kind of return. ``regions`` are those whose channels climb on their own.

    ``advice`` comes first, for clinicians. ``refers`` is what never gets a climb from us: it waits for a clinician and
    the local protocol. More pain than ``back_during`` in a session, or ``back_after`` the morning after, proposes one
    stage back.
    """

    code: str
    name: str
    stages: tuple[Stage, ...]
    regions: frozenset[Region] = frozenset()
    refers: bool = False
    back_during: float = 3.0
    back_after: float = 2.0
    advice: str = ""


def _pain(many: int = 5, during: float = 2, after: float = 1) -> Criterion:
    return Criterion("pain", Looks.PAIN, "Pain, then next morning", during=during, after=after, many=many)


def _calm(many: int) -> Criterion:
    return Criterion("sessions", Looks.SESSIONS, "Sessions without reaction", many=many)


def _days(many: int) -> Criterion:
    return Criterion("days", Looks.DAYS, "Days in this stage", many=many)


def _sides(key: str, name: str, percent: float) -> Criterion:
    return Criterion(key, Looks.SIDES, name, percent=percent)


def _best(key: str, name: str, percent: float) -> Criterion:
    return Criterion(key, Looks.BEST, name, percent=percent)


_WORD = Criterion("word", Looks.WORD, "Clinician’s word")

SHOULDER = Template(
    "shoulder", "Shoulder",
    (
        Stage("no throws, no duels; legs and trunk only", (_pain(3), _sides("range", "Range, arm raised", 15), _WORD),
              7.0),
        Stage("easy passing, no shots; no duels", (_pain(5), _sides("strength", "Strength, outward", 20), _calm(4),
                                                   _WORD), 7.0),
        Stage("passing and standing shots; no full throws, no duels",
              (_pain(5), _sides("strength", "Strength, outward", 10), _best("throw", "Seated throw, 2 kg", 90),
               _calm(8), _WORD)),
        Stage("full throws by count; duels in drills only",
              (_pain(5), _sides("strength", "Strength, outward", 10), _calm(6), _WORD)),
        Stage("everything; matches in part", (_pain(5), _calm(4), _WORD)),
    ),
    frozenset({Region.SHOULDER, Region.ELBOW}),
)  # fmt: skip
ANKLE = Template(
    "ankle", "Ankle",
    (
        Stage("no running, no jumps; upper body and bike", (_pain(3), _sides("range", "Range, knee to wall", 20),
                                                            _WORD), 7.0),
        Stage("straight running; no turns, no jumps", (_pain(4), _sides("range", "Range, knee to wall", 10), _calm(3),
                                                       _WORD), 7.0),
        Stage("turns and landings on two legs; no duels",
              (_pain(4), _sides("hop", "Single-leg hop", 15), _calm(4), _WORD)),
        Stage("everything; matches in part", (_pain(4), _sides("hop", "Single-leg hop", 10), _calm(4), _WORD)),
    ),
    frozenset({Region.ANKLE, Region.SHIN}),
)  # fmt: skip
KNEE = Template(
    "knee", "Knee",
    (
        Stage("no running, no jumps; upper body", (_pain(3), _sides("range", "Range, bent knee", 10), _WORD), 7.0),
        Stage("straight running; no jumps, no turns", (_pain(5), _sides("strength", "Strength, knee straightening", 25),
                                                       _calm(4), _WORD), 7.0),
        Stage("landings by count on two legs; no duels",
              (_pain(5), _sides("strength", "Strength, knee straightening", 15), _sides("hop", "Single-leg hop", 15),
               _calm(6), _WORD)),
        Stage("turns and jumps; duels in drills only",
              (_pain(5), _sides("strength", "Strength, knee straightening", 10), _sides("hop", "Single-leg hop", 10),
               _calm(6), _WORD)),
        Stage("everything; matches in part", (_pain(5), _calm(4), _WORD)),
    ),
    frozenset({Region.KNEE}),
)  # fmt: skip
RUNNING = Template(
    "running", "Running injury, back of the thigh and alike",
    (
        Stage("no running; upper body and bike", (_pain(3, 1, 1), _sides("range", "Range, straight leg raised", 15),
                                                  _WORD), 7.0),
        Stage("easy running; no sprints, no kicks", (_pain(4, 1, 1), _sides("strength", "Strength, knee bending", 15),
                                                     _calm(4), _WORD), 7.0),
        Stage("running up to 80 %; no full sprints", (_pain(4, 1, 1),
                                                      _sides("strength", "Strength, knee bending", 10), _calm(4),
                                                      _WORD)),
        Stage("sprints by count; matches in part", (_pain(4, 1, 1), _best("sprint", "Sprint speed", 95), _calm(3),
                                                    _WORD)),
    ),
    frozenset({Region.THIGH, Region.HIP}),
)  # fmt: skip
FEVER = Template(
    "fever", "Illness with fever",
    (
        Stage("does not train", (_days(2), _WORD), closed=True),
        Stage("easy and alone, up to half an hour", (_calm(2), _days(3), _WORD), 3.0, 0.5),
        Stage("with the squad, no maximal work", (_calm(3), _WORD), 7.0),
    ),
    advice="Nothing before a whole day without fever, and without anything that brings it down.",
)  # fmt: skip
# What comes first here is the local protocol: nothing of it is ours to lay out.
REFER = tuple(
    Template(code, name, (Stage("does not train", (_WORD,), closed=True),),
             refers=True, advice="Refer. The local protocol comes first, and a clinician decides.")
    for code, name in (("head", "Head knock"), ("heat", "Heat illness"), ("chest", "Chest pain"),
                       ("fainting", "Fainting"))
)  # fmt: skip
BLANK = Template("blank", "Other", (Stage("", (_pain(3), _WORD)), Stage("", (_pain(5), _calm(4), _WORD))))

TEMPLATES: Mapping[str, Template] = {
    one.code: one for one in (SHOULDER, ANKLE, KNEE, RUNNING, FEVER, *REFER, BLANK)
}  # fmt: skip


def template_of(code: str) -> Template:
    """The template of a code. Raises BadPlan."""
    try:
        return TEMPLATES[code]
    except KeyError:
        raise BadPlan(f"there is no template {code!r}; there are {', '.join(TEMPLATES)}", field="template") from None


MOST_STAGES, LONGEST_CONTENT = 9, 200


def as_data(stages: Sequence[Stage]) -> list[dict[str, Any]]:
    """Stages as plain lists and dictionaries, as a plan keeps them."""
    return [asdict(stage) for stage in stages]


def read_stages(data: Sequence[Mapping[str, Any]]) -> tuple[Stage, ...]:
    """Stages from what :func:`as_data` gives. Raises BadPlan for what can never be met, or says nothing."""
    if len(data) > MOST_STAGES:
        raise BadPlan(f"a plan has at most {MOST_STAGES} stages", field="stages")
    return tuple(_read_stage(one, f"stages.{i}") for i, one in enumerate(data))


def _read_stage(data: Mapping[str, Any], at: str) -> Stage:
    criteria = _read_criteria(data["criteria"], f"{at}.criteria")
    # Plans that were begun before there were any have none.
    entry = _read_criteria(data.get("entry", ()), f"{at}.entry")
    stage = Stage(data["content"], criteria, data["effort_cap"], data["minutes_share"], data["closed"], entry)
    if stage.closed and any(one.looks in (Looks.PAIN, Looks.SESSIONS) for one in criteria):
        raise BadPlan("nobody trains in this stage: no session of it can ever count", field=f"{at}.criteria")
    if len(stage.content) > LONGEST_CONTENT:
        raise BadPlan(f"say what a stage holds in up to {LONGEST_CONTENT} letters", field=f"{at}.content")
    if stage.effort_cap is not None and not 0 <= stage.effort_cap <= 10:
        raise BadPlan("effort goes from 0 to 10", field=f"{at}.effort_cap")
    if stage.minutes_share is not None and not 0 < stage.minutes_share <= 1:
        raise BadPlan("a share of the minutes is more than 0 and at most all of them", field=f"{at}.minutes_share")
    return stage


def _read_criteria(data: Sequence[Mapping[str, Any]], at: str) -> tuple[Criterion, ...]:
    found = []
    for i, one in enumerate(data):
        try:
            found.append(Criterion(**{**one, "looks": Looks(one["looks"])}))
        except BadPlan as error:
            raise BadPlan(str(error), field=f"{at}.{i}.{error.field}") from error
        if not found[-1].name.strip():
            raise BadPlan("a criterion has a name", field=f"{at}.{i}.name")
    if len({one.key for one in found}) < len(found):
        raise BadPlan("a stage asks for each thing once", field=at)
    return tuple(found)


def asked_in(stages: Sequence[Stage], number: int) -> tuple[tuple[Criterion, ...], tuple[Criterion, ...]]:
    """What has to hold before somebody goes on from a stage, counted from 1: to leave it, and to come into the next."""
    following = stages[number].entry if number < len(stages) else ()
    return stages[number - 1].criteria, following

"""Plans to be solved as JSON, and the answer: see ``uvren plan --help`` for the fields."""

from __future__ import annotations

from datetime import date, datetime
from pathlib import Path
from typing import Annotated, Any, Literal

from pydantic import AliasChoices, ConfigDict, Field

from uvren.core import plan
from uvren.files.json_file import Given, read_as

Who = Literal["all"] | list[str]


class _Athlete(Given):
    id: str
    weight: float = 1.0
    split: bool = True


class _Own(Given):
    load: dict[str, float] = Field(default_factory=dict)
    share: Annotated[float, Field(ge=0)] = 1.0
    split: bool = True


class _Split(Given):
    least: Annotated[float, Field(ge=0)] = 0.0
    step: float | None = None


class _Session(Given):
    id: str
    start: datetime
    minutes: float
    kind: str = ""
    who: Who = "all"
    least: float | None = None
    most: float | None = None
    step: float | None = None
    drop: bool = False
    move: list[datetime] = Field(default_factory=list)
    move_minutes: float = 30.0
    weight: float = 1.0
    load: dict[str, float] = Field(default_factory=dict)
    own: dict[str, _Own] = Field(default_factory=dict)
    split: _Split | None = None
    heavy: list[str] = Field(default_factory=list)
    effort: float | None = None
    open: float | None = None


class _Done(Given):
    end: datetime
    who: Who = "all"
    heavy: list[str] = Field(default_factory=list)


class _Limit(Given):
    model_config = ConfigDict(extra="allow")
    id: str
    rule: str
    value: float | None = None
    channel: str | None = None
    athletes: Who = "all"
    first: Annotated[date | None, Field(validation_alias=AliasChoices("from", "first"))] = None
    to: date | None = None
    hard: bool = True
    firm: bool = False


class _Target(Given):
    channel: str
    athletes: Who = "all"
    first: Annotated[date, Field(validation_alias=AliasChoices("from", "first"))]
    to: date
    load: float
    weight: float = 1.0


class _Problem(Given):
    as_of: date
    days: int
    history: str | None = None
    channels: list[str]
    athletes: list[_Athlete]
    sessions: list[_Session]
    limits: list[_Limit] = Field(default_factory=list)
    targets: list[_Target] = Field(default_factory=list)
    done: list[_Done] = Field(default_factory=list)
    levels: list[dict[str, float]] | None = None


def _who(given: Who) -> frozenset[str] | None:
    return None if given == "all" else frozenset(given)


def read_problem(path: Path) -> tuple[plan.Problem, Path | None]:
    """A problem and the file of its history, beside it. Raises BadFile in one sentence, BadPlan."""
    given = read_as(path, _Problem)
    problem = plan.Problem(
        as_of=given.as_of,
        days=given.days,
        channels=tuple(given.channels),
        athletes=tuple(plan.PlanAthlete(one.id, one.weight, one.split) for one in given.athletes),
        sessions=tuple(map(_session, given.sessions)),
        limits=tuple(map(_limit, given.limits)),
        targets=tuple(
            plan.Target(one.channel, one.first, one.to, one.load, one.weight, _who(one.athletes))
            for one in given.targets
        ),
        done=tuple(plan.Heavy(one.end, frozenset(one.heavy), _who(one.who)) for one in given.done),
        levels=plan.LEVELS if given.levels is None else tuple(given.levels),
    )
    return problem, None if given.history is None else path.parent / given.history


def _session(one: _Session) -> plan.PlanSession:
    kept = one.model_dump(include={"id", "start", "minutes", "kind", "least", "most", "step", "drop", "move_minutes",
                                   "weight", "load", "effort", "open"})  # fmt: skip
    return plan.PlanSession(
        **kept,
        who=_who(one.who),
        moves=tuple(one.move),
        own={athlete: plan.Own(own.load, own.share, own.split) for athlete, own in one.own.items()},
        split=None if one.split is None else plan.Split(one.split.least, one.split.step),
        heavy=frozenset(one.heavy),
    )


def _limit(one: _Limit) -> plan.PlanLimit:
    return plan.PlanLimit(
        one.id, one.rule, one.value, one.channel, _who(one.athletes), one.first, one.to, one.hard, one.firm,
        settings=one.model_extra or {},
    )  # fmt: skip


def answer(problem: plan.Problem, found: plan.Plan) -> dict[str, Any]:
    """The answer as JSON has it."""
    taking = {(athlete.id, one.id) for athlete in problem.athletes for one in problem.sessions if one.for_(athlete.id)}
    return {
        "status": "holds" if found.holds else "cannot",
        "optimal": found.optimal,
        "levels": [
            {"level": dict(one.level), "value": one.value, "bound": one.bound, "gap": one.gap} for one in found.levels
        ],
        "sessions": [_said(one, found) for one in problem.sessions],
        "minutes": {
            athlete.id: {
                one.id: found.own.get((athlete.id, one.id), 0.0)
                for one in problem.sessions
                if one.id in found.start and (athlete.id, one.id) in taking
            }
            for athlete in problem.athletes
        },
        "left_out": [
            {"athlete": athlete.id, "session": one.id}
            for athlete in problem.athletes
            for one in problem.sessions
            if one.id in found.start and (athlete.id, one.id) in taking and (athlete.id, one.id) not in found.own
        ],
        "give_way": [
            {"limit": limit, "athlete": athlete, "amount": amount}
            for (limit, athlete), amount in sorted(found.give_way.items())
        ],
        "binding": [
            {"athlete": one.athlete, "date": str(one.day), "limits": list(one.limits)} for one in found.binding
        ],
        "after": [
            {"limit": one.limit, "athlete": one.athlete, "date": str(one.day), "figure": one.figure}
            for one in found.after
        ],
    }


def _said(one: plan.PlanSession, found: plan.Plan) -> dict[str, Any]:
    start, minutes = found.start.get(one.id), found.minutes.get(one.id, 0.0)
    if start is None:
        change = "none" if one.minutes == 0 else "dropped"
    elif one.minutes == 0:
        change = "added"
    elif start != one.start:
        change = "moved"
    else:
        change = "kept" if minutes == one.minutes else "scaled"
    return {"id": one.id, "start": None if start is None else start.isoformat(timespec="minutes"),
            "minutes": minutes,
            "change": change}  # fmt: skip

"""What a squad begins with, by the kind of work that it does: starting points, each to be changed or left out."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from uvren.core.limits import CATALOGUE
from uvren.core.units import Region
from uvren.services.squad.channels import Draft
from uvren.services.squad.squads import EVER
from uvren.store.models import SessionKind as Kind
from uvren.store.models import Squad

# What stands as the source of what nobody has agreed on yet.
START = "Starting point"


@dataclass(frozen=True)
class StartLimit:
    """A limit to begin with, on the main channel or on one of a name."""

    rule: str
    value: float
    hard: bool
    channel: str | None = None

    @property
    def source(self) -> str:
        """What the rule itself goes back to; the value is nobody's but ours."""
        of_rule = CATALOGUE[self.rule].source.removeprefix("Squad's own choice").lstrip("; ")
        return f"{START}; {of_rule or 'no study behind it'}"

    @property
    def settings(self) -> dict[str, object]:
        return {"school": "ewma"} if self.rule.startswith("ratio") else {}


@dataclass(frozen=True)
class WorkKind:
    """A kind of work: what its sessions are, what is counted beside effort and minutes, where, and what holds."""

    code: str
    name: str
    such_as: str
    sessions: tuple[Kind, ...]
    units: tuple[Draft, ...]
    places: tuple[str, ...]
    week_change: float = 0.25

    @property
    def limits(self) -> tuple[StartLimit, ...]:
        main = (
            StartLimit("ratio_ceiling", 1.3, True),
            StartLimit("week_change_cap", self.week_change, True),
            StartLimit("days_in_row", 6, True),
            StartLimit("ratio_floor", 0.7, False),
            StartLimit("monotony_cap", 2.0, False),
        )
        counted = [
            StartLimit(rule, value, hard, unit.name)
            for unit in self.units
            if unit.form == "counted"
            for rule, value, hard in (("ratio_ceiling", 1.5, True), ("week_change_cap", 0.5, False))
        ]
        return (*main, *counted)


def _counted(
    name: str, unit: str, classes: Sequence[tuple[str, float]], kinds: Sequence[Kind], regions: Sequence[Region],
    mark: str, surfaces: Sequence[tuple[str, float]] = (),
) -> Draft:  # fmt: skip
    settings: dict[str, Any] = {"classes": _weighted(classes)}
    if surfaces:
        settings["surfaces"] = _weighted(surfaces)
    return Draft(name, unit, "counted", settings, kinds, [str(one) for one in regions], mark, EVER, START)


def _weighted(of: Sequence[tuple[str, float]]) -> list[dict[str, object]]:
    return [{"code": name.lower(), "name": name, "weight": weight} for name, weight in of]


_LIFTING = Draft(
    "Lifting", "kg", "lifting", {"measure": "tonnage"}, [Kind.GYM], [str(Region.WHOLE)], "bar", EVER, START
)
_ZONES = Draft(
    "Zone minutes", "zone min", "heart_rate", {"method": "three_zones"},
    [Kind.RUN, Kind.RIDE, Kind.SWIM, Kind.SKI, Kind.MATCH], [str(Region.WHOLE)], "wave", EVER, START,
)  # fmt: skip
_ARM = (Region.SHOULDER, Region.ELBOW)
_LEG = (Region.KNEE, Region.SHIN)

WORK_KINDS: tuple[WorkKind, ...] = (
    WorkKind(
        "court", "Game on court", "indoor team games",
        (Kind.COURT, Kind.GYM, Kind.RUN, Kind.MATCH, Kind.RECOVERY),
        (
            _counted("Throws", "throws", [("Full throw", 1.0), ("Placed throw", 0.55), ("Pass", 0.15)],
                     [Kind.COURT, Kind.MATCH], _ARM, "wedge"),
            _counted("Landings", "landings", [("High landing", 1.0), ("Step landing", 0.25)],
                     [Kind.COURT, Kind.MATCH], _LEG, "square",
                     [("Sports floor", 1.0), ("Concrete", 1.2), ("Sand", 0.6)]),
            _LIFTING,
        ),
        ("Home court", "Weight room"),
    ),
    WorkKind(
        "field", "Game on field", "outdoor team games",
        (Kind.FIELD, Kind.GYM, Kind.RUN, Kind.MATCH, Kind.RECOVERY),
        (
            _counted("Kicks", "kicks", [("Long kick", 1.0), ("Shot", 0.9), ("Short pass", 0.2)],
                     [Kind.FIELD, Kind.MATCH], (Region.HIP, Region.THIGH), "wedge"),
            _counted("Sprints", "sprints", [("Full sprint", 1.0), ("Fast run", 0.5)],
                     [Kind.FIELD, Kind.RUN, Kind.MATCH], (Region.THIGH,), "fork"),
            _LIFTING,
        ),
        ("Home ground", "Training ground", "Weight room"),
    ),
    WorkKind(
        "endurance", "Endurance", "running, riding, swimming, skiing, rowing",
        (Kind.RUN, Kind.RIDE, Kind.SWIM, Kind.SKI, Kind.GYM, Kind.MATCH, Kind.RECOVERY),
        (_ZONES, _LIFTING), ("Road", "Track", "Pool"), week_change=0.3,
    ),
    WorkKind(
        "strength", "Strength", "lifting for itself",
        (Kind.GYM, Kind.MATCH, Kind.RECOVERY),
        (_LIFTING,), ("Weight room",), week_change=0.4,
    ),
    WorkKind(
        "rounds", "Contact rounds", "fighting and grappling in rounds",
        (Kind.ROUNDS, Kind.GYM, Kind.RUN, Kind.MATCH, Kind.RECOVERY),
        (
            _counted("Contact rounds", "rounds", [("Hard round", 1.0), ("Technical round", 0.4), ("Pads", 0.3)],
                     [Kind.ROUNDS, Kind.MATCH], (Region.WHOLE,), "cross"),
            _LIFTING,
        ),
        ("Mat", "Weight room"),
    ),
    WorkKind(
        "skills", "Apparatus and skills", "tumbling, apparatus, jumps into water",
        (Kind.SKILLS, Kind.GYM, Kind.MATCH, Kind.RECOVERY),
        (
            _counted("Landings", "landings", [("Full skill", 1.0), ("Part of it", 0.5), ("Drill", 0.2)],
                     [Kind.SKILLS, Kind.MATCH], _LEG, "square",
                     [("Hard mat", 1.0), ("Soft mat", 0.6), ("Pit", 0.3)]),
            _counted("Arm support", "skills", [("Full skill", 1.0), ("Drill", 0.3)],
                     [Kind.SKILLS, Kind.MATCH], _ARM, "cross"),
        ),
        ("Main room",),
    ),
    WorkKind(
        "throwing", "Throwing or bowling", "athletes whose arm is what is spent",
        (Kind.THROWING, Kind.GYM, Kind.RUN, Kind.MATCH, Kind.RECOVERY),
        (
            _counted("Throws", "throws", [("Full effort", 1.0), ("Three quarters", 0.6), ("Light", 0.25)],
                     [Kind.THROWING, Kind.MATCH], (*_ARM, Region.TRUNK), "wedge"),
            _LIFTING,
        ),
        ("Ground", "Weight room"),
    ),
    WorkKind(
        "swings", "Racket and club swings", "one-handed and two-handed swings",
        (Kind.SWINGS, Kind.GYM, Kind.RUN, Kind.MATCH, Kind.RECOVERY),
        (
            _counted("Swings", "swings", [("Serve or full swing", 1.0), ("Half swing", 0.5), ("Short game", 0.15)],
                     [Kind.SWINGS, Kind.MATCH], (*_ARM, Region.TRUNK), "wedge"),
            _LIFTING,
        ),
        ("Court or course", "Weight room"),
    ),
)  # fmt: skip
BY_CODE = {one.code: one for one in WORK_KINDS}


def kinds_of(squad: Squad) -> list[Kind]:
    """The kinds of session that a squad makes: those of its work first, then all others."""
    work = BY_CODE.get(squad.work or "")
    first = list(work.sessions) if work else []
    return first + [kind for kind in Kind if kind not in first]

"""Planned lines as JSON, and what a lighter week makes of them: see ``docs/plan.md``."""

from __future__ import annotations

from dataclasses import asdict
from pathlib import Path
from typing import Annotated, Any, Literal

from pydantic import ConfigDict, Field

from uvren.core.plan import lighter
from uvren.files.json_file import Given, read_as


class _Settings(Given):
    model_config = ConfigDict(extra="forbid")
    school: lighter.School = lighter.School.CUT
    sets: float = 0.5
    reserve: float = 2
    reps: int = 2
    kg: float = 1 / 3
    kg_step: float = 2.5
    share: float = 0.5
    minutes: float = 0.6
    effort_cap: float = 6


class _Lift(Given):
    kind: Literal["lift"]
    name: str = ""
    sets: int
    reps: int
    kg: float | None = None
    reserve: float | None = None
    compound: bool = False
    max: float | None = None


class _Sport(Given):
    kind: Literal["sport"]
    name: str = ""
    minutes: float
    effort: float


class _Plan(Given):
    settings: _Settings = _Settings()
    lines: list[Annotated[_Lift | _Sport, Field(discriminator="kind")]]


def lightened(path: Path) -> dict[str, Any]:
    """The lines of a plan after the cut, with tonnage and load before and after. Raises BadFile, BadPlan."""
    given = read_as(path, _Plan)
    settings = lighter.Settings(**given.settings.model_dump())
    found = lighter.lighten([_line(one) for one in given.lines], settings)
    return {
        "lines": [{"kind": one.kind, **asdict(line)} for one, line in zip(given.lines, found.lines, strict=True)],
        "tonnage": list(found.tonnage),
        "load": list(found.load),
    }


def _line(one: _Lift | _Sport) -> lighter.Line:
    values = one.model_dump(exclude={"kind"})
    return lighter.Lift(**values) if isinstance(one, _Lift) else lighter.Sport(**values)

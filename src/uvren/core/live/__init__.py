"""What devices send while a session runs, against the day's aim and each person's room."""

from uvren.core.live.aim import Aim, aim, efforts
from uvren.core.live.lane import (
    Fault,
    Height,
    Lane,
    Pulse,
    Relation,
    Used,
    judge,
    pulse,
    relation,
    smooth,
    used,
)

__all__ = [
    "Aim",
    "Fault",
    "Height",
    "Lane",
    "Pulse",
    "Relation",
    "Used",
    "aim",
    "efforts",
    "judge",
    "pulse",
    "relation",
    "smooth",
    "used",
]

"""Reports: what is asked of whom, giving one, and who is missing. Nothing is ever filled in for anybody."""

from uvren.services.day.forms import Asked, Form, Forms
from uvren.services.reports.days import (
    Due,
    OwnDay,
    SquadReport,
    day_of_reports,
    disagreements,
    own_day,
    reminder,
    said_of,
)
from uvren.services.reports.forms import NewForm, save_form
from uvren.services.reports.giving import Given, Told, choose, end_of, give, give_many, plain, settle

__all__ = [
    "Asked",
    "Due",
    "Form",
    "Forms",
    "Given",
    "NewForm",
    "OwnDay",
    "SquadReport",
    "Told",
    "choose",
    "day_of_reports",
    "disagreements",
    "end_of",
    "give",
    "give_many",
    "own_day",
    "plain",
    "reminder",
    "said_of",
    "save_form",
    "settle",
]

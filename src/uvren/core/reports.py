"""What athletes report: the items there are, what an answer may be, and when a report is late.

Reports are never filled in: an item that is not answered is not there.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from enum import StrEnum

from uvren.core.errors import BadReport


class ReportKind(StrEnum):
    DAILY = "daily"
    WEEKLY = "weekly"
    SESSION = "session"


class Good(StrEnum):
    """Which end of a scale is the good one; stored with every answer."""

    HIGH = "high"
    LOW = "low"
    NEITHER = "neither"


@dataclass(frozen=True)
class Item:
    """A question with its scale.

    ``low`` and ``high`` are the words at the ends. ``choices`` names the steps of a scale that has words for each.
    """

    code: str
    kind: ReportKind
    question: str
    low: str = ""
    high: str = ""
    least: float = 0.0
    most: float = 10.0
    step: float = 1.0
    unit: str = ""
    good: Good = Good.HIGH
    choices: tuple[str, ...] = ()
    usual: bool = True

    def check(self, value: float) -> None:
        """Raises BadReport for an answer that is off the scale."""
        off = (value - self.least) / self.step
        if not self.least <= value <= self.most or abs(off - round(off)) > 1e-6:
            unit = f" {self.unit}" if self.unit else ""
            steps = f", in steps of {self.step:g}" if self.step != 1 else ""
            raise BadReport(f"{self.question} The answer is {self.least:g} to {self.most:g}{unit}{steps}.")


def _daily(code: str, question: str, low: str, high: str) -> Item:
    return Item(code, ReportKind.DAILY, question, low, high)


def _sign(code: str, question: str) -> Item:
    choices = ("no", "some days", "most days")
    return Item(code, ReportKind.WEEKLY, question, most=2.0, good=Good.LOW, choices=choices)


def _burden(code: str, question: str) -> Item:
    choices = ("light", "some", "heavy")
    return Item(code, ReportKind.WEEKLY, question, most=2.0, good=Good.LOW, choices=choices)


# On every daily scale 10 is the good end, so that up is always better.
ITEMS: Mapping[str, Item] = {
    item.code: item
    for item in (
        Item(
            "sleep_hours", ReportKind.DAILY, "How long did you sleep?",
            most=14.0, step=0.5, unit="h", good=Good.NEITHER,
        ),
        _daily("sleep_quality", "How well did you sleep?", "hardly at all", "deep and rested"),
        _daily("energy", "How much energy do you have?", "empty", "full"),
        _daily("soreness", "How do your muscles feel?", "very sore", "not sore at all"),
        _daily("mood", "How is your mood?", "very low", "very good"),
        _daily("stress", "How calm do you feel?", "under great strain", "quite calm"),
        _daily("drive", "How much do you want to train?", "not at all", "cannot wait"),
        Item("appetite", ReportKind.DAILY, "How is your appetite?", "none", "good", usual=False),
        Item(
            "resting_heart_rate", ReportKind.DAILY, "What was your resting heart rate?",
            least=25.0, most=120.0, unit="bpm", good=Good.LOW, usual=False,
        ),
        Item(
            "heart_rate_variability", ReportKind.DAILY, "What was your heart-rate variability (ln rMSSD)?",
            least=1.0, most=6.0, step=0.01, good=Good.NEITHER, usual=False,
        ),
        Item(
            "body_mass", ReportKind.DAILY, "What do you weigh?",
            least=30.0, most=200.0, step=0.1, unit="kg", good=Good.NEITHER, usual=False,
        ),
        _sign("performance_down", "Has your performance been down?"),
        _sign("tired", "Were you tired although you slept enough?"),
        _sign("poor_sleep", "Did you have trouble sleeping?"),
        _sign("aches", "Did you have aches that come and go?"),
        _sign("headaches", "Did you have headaches?"),
        _sign("colds", "Did you have colds or a sore throat?"),
        _sign("irritable", "Were you irritable?"),
        _sign("low", "Did you feel low?"),
        _sign("no_drive", "Did you have no wish to train?"),
        _sign("less_appetite", "Did you eat less than usual, or lose weight without meaning to?"),
        _sign("knocks", "Did you have more knocks and injuries than usual?"),
        _sign("clumsy", "Were you clumsy or slow to react?"),
        _burden("life_mind", "How heavy was it for your mind: work, study, exams?"),
        _burden("life_feelings", "How heavy was it for your feelings: people, worries?"),
        _burden("life_body", "How heavy was it for your body outside training?"),
        _burden("life_surroundings", "How heavy were your surroundings: travel, noise, housing?"),
        _burden("life_illness", "How heavy was illness, yours or of those near you?"),
        Item(
            "minutes", ReportKind.SESSION, "How many minutes did you take part?",
            most=600.0, unit="min", good=Good.NEITHER,
        ),
        Item(
            "effort", ReportKind.SESSION, "How hard was it as a whole?",
            "rest", "as hard as it gets", step=0.5, good=Good.NEITHER,
        ),
        Item("session_energy", ReportKind.SESSION, "How much energy did you have in it?", "none", "plenty"),
    )
}  # fmt: skip

# The eleven families of sign behind the weekly form; being clumsy is asked beside them (after Meeusen et al. 2013).
FAMILIES = (
    "performance_down", "tired", "poor_sleep", "aches", "headaches", "colds", "irritable", "low", "no_drive",
    "less_appetite", "knocks",
)  # fmt: skip


# Items as a sentence names them; on the daily scales 10 is the good end.
ITEM_NAMES: Mapping[str, str] = {
    "sleep_hours": "hours of sleep", "sleep_quality": "sleep", "energy": "energy", "soreness": "muscles",
    "mood": "mood", "stress": "calm", "drive": "drive", "appetite": "appetite",
    "resting_heart_rate": "resting heart rate",
    "heart_rate_variability": "heart-rate variability", "body_mass": "body mass",
    "performance_down": "performance down", "tired": "tired after enough sleep", "poor_sleep": "trouble sleeping",
    "aches": "aches", "headaches": "headaches", "colds": "colds", "irritable": "irritable", "low": "low",
    "no_drive": "no drive", "less_appetite": "less appetite", "knocks": "more knocks", "clumsy": "clumsy",
    "life_mind": "mind", "life_feelings": "feelings", "life_body": "body outside training",
    "life_surroundings": "surroundings", "life_illness": "illness",
    "minutes": "minutes", "effort": "effort", "session_energy": "energy in the session",
}  # fmt: skip


def items_of(kind: ReportKind) -> list[Item]:
    """Every item that a form of this kind may ask, in the usual order."""
    return [item for item in ITEMS.values() if item.kind is kind]


def usual_form(kind: ReportKind) -> tuple[str, ...]:
    """The items that a squad asks until it says otherwise."""
    return tuple(item.code for item in items_of(kind) if item.usual)


USUAL_DAYS = {ReportKind.DAILY: tuple(range(7)), ReportKind.WEEKLY: (0,), ReportKind.SESSION: tuple(range(7))}


def check_form(kind: ReportKind, items: Sequence[str], days: Sequence[int]) -> None:
    """Raises BadReport, with the field at fault, for a form that cannot be asked."""
    if not items:
        raise BadReport("A form asks at least one thing.", field="items")
    for i, code in enumerate(items):
        if code not in ITEMS or ITEMS[code].kind is not kind:
            raise BadReport(f"There is no {kind} item {code!r}.", field=f"items.{i}")
        if code in items[:i]:
            raise BadReport(f"“{ITEMS[code].question}” stands twice.", field=f"items.{i}")
    if kind is not ReportKind.SESSION and not days:
        raise BadReport("Choose at least one day of the week.", field="days")
    if any(day not in range(7) for day in days):
        raise BadReport("Days of the week go from 0, Monday, to 6.", field="days")


def check_answers(kind: ReportKind, answers: Mapping[str, float]) -> None:
    """Raises BadReport, with the field at fault, for an answer to nothing, or off its scale."""
    for code, value in answers.items():
        item = ITEMS.get(code)
        if item is None or item.kind is not kind:
            raise BadReport(f"There is no {kind} item {code!r}.", field=f"answers.{code}")
        try:
            item.check(value)
        except BadReport as error:
            raise BadReport(str(error), field=f"answers.{code}") from None


class Timing(StrEnum):
    """Whether a report was made when it was asked for, sooner, later that day, or on another day."""

    EARLY = "early"
    ON_TIME = "on time"
    LATE = "late"
    BACKDATED = "backdated"


NOON = time(12)
# Minutes after a session: not while it is still being felt, and before what comes next is (Foster et al. 2001: 30).
SESSION_FROM, SESSION_UNTIL = 10, 60


def timing(kind: ReportKind, day: date, made: datetime, session_end: datetime | None = None) -> Timing:
    """How a report for ``day`` stands that was ``made`` at a local moment.

    Daily: on time until noon. Weekly: on time on its day and the next. After a session: on time 10 to 60 minutes after
    its planned end, since a rating drifts with what comes after (Foster et al. 2001); before that it is early.
    """
    if kind is ReportKind.WEEKLY:
        days = (made.date() - day).days
        return Timing.ON_TIME if days <= 1 else Timing.LATE if days <= 3 else Timing.BACKDATED
    if kind is ReportKind.SESSION and session_end is not None:
        if made < session_end + timedelta(minutes=SESSION_FROM):
            return Timing.EARLY
        if made <= session_end + timedelta(minutes=SESSION_UNTIL):
            return Timing.ON_TIME
        return Timing.LATE if made.date() <= session_end.date() else Timing.BACKDATED
    if made.date() > day:
        return Timing.BACKDATED
    return Timing.ON_TIME if made.time() <= NOON else Timing.LATE


def missing_since(days_asked: Sequence[date], days_reported: Sequence[date], joined: date) -> date | None:
    """First day of the unbroken run of asked days without a report, up to the last asked day; None if there is none."""
    reported, since = set(days_reported), None
    for day in sorted(days_asked, reverse=True):
        if day < joined or day in reported:
            break
        since = day
    return since

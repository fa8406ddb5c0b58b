"""What is open in a file: asked with both readings shown, never guessed."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from uvren.core import words as say
from uvren.files.days import Order, Readable, how_written, parse, placed
from uvren.files.moments import Writing

_ORDERS = {
    Order.YEAR_FIRST: "the year first",
    Order.SHORT_YEAR_FIRST: "the year first",
    Order.DAY_FIRST: "the day first",
    Order.MONTH_FIRST: "the month first",
    Order.NAMED: "by the month's name",
    Order.COMPACT: "year, month and day together",
    Order.SERIAL: "days counted by a spreadsheet",
}


@dataclass(frozen=True)
class Choice:
    """An answer that can be given, and what follows from it."""

    value: str
    said: str


@dataclass(frozen=True)
class Question:
    """Something that a file leaves open. ``key`` is the name under which the answer is given."""

    key: str
    said: str
    choices: tuple[Choice, ...]


@dataclass(frozen=True)
class DaysRead:
    """How a column of days is read; ``questions`` are open, ``notes`` say what was settled by what."""

    writing: Writing | None
    year: int | None
    questions: tuple[Question, ...] = ()
    notes: tuple[str, ...] = ()


def days_read(
    name: str, cells: Sequence[str], given: Writing | None, order: str, year: str, around: str, today: date, *,
    past: bool,
) -> DaysRead:  # fmt: skip
    """How the days of a column are read: as it is ``given``, as was answered, or as only one reading can be.

    ``around`` is what the file and its sheets are called and what stands above the head: it may name the year.
    """
    filled = list(dict.fromkeys(cell for cell in cells if cell))
    read = how_written(filled, today, past=past)
    if read is None:
        return DaysRead(given, None)
    questions: list[Question] = []
    notes: list[str] = []
    known = [one.value for one in Order]
    if given is not None and given.value in known:
        chosen = Order(given.value)
    elif order in known:
        chosen = Order(order)
    else:
        chosen = read.orders[0]
        if len(read.orders) > 1:
            questions.append(_order_question(name, filled, read))
    if not read.yearless:
        return DaysRead(Writing(chosen.value), None, tuple(questions), tuple(notes))
    found = int(year) if re.fullmatch(r"\d{4}", year) else year_around(around, filled, chosen, read.years)
    if found is None:
        questions.append(_year_question(name, filled, chosen, read.years))
        found = read.years[0] if read.years else today.year
    elif not year:
        notes.append(f"“{name}” names no year; {found} is taken from what the file or the sheet is called.")
    return DaysRead(Writing(chosen.value), found, tuple(questions), tuple(notes))


def _order_question(name: str, filled: Sequence[str], read: Readable) -> Question:
    """Shown on the cell whose readings lie furthest apart."""

    def readings(cell: str) -> dict[Order, date]:
        parsed = parse(cell)
        return {one.order: on for one in (parsed.readings if parsed else ())
                if one.order in read.orders and (on := one.on(None if one.year else 2024)) is not None}  # fmt: skip

    shown = max(filled[:500], key=lambda cell: (len(readings(cell)), len(set(readings(cell).values()))))
    choices = tuple(
        Choice(order.value, f"{_ORDERS[order]}: {shown} is {_long_day(readings(shown)[order], shown)}")
        for order in read.orders
        if order in readings(shown)
    )
    return Question("order", f"How are the days of “{name}” written?", choices)


def _long_day(day: date, cell: str) -> str:
    year = "" if parse(cell) is not None and all(one.year is None for one in parse(cell).readings) else f" {day.year}"  # type: ignore[union-attr]
    return f"{day.day} {day:%B}{year}"


def _year_question(name: str, filled: Sequence[str], order: Order, years: Sequence[int]) -> Question:
    parsed = [one for cell in filled if (read := parse(cell)) for one in read.readings if one.order is order]
    choices = []
    for year in years[:5]:
        days = [day for day in placed(parsed, year) if day is not None]
        choices.append(
            Choice(str(year), f"from {say.day(min(days))} {min(days).year} to {say.day(max(days))} {max(days).year}")
        )
    return Question("year", f"“{name}” names no year. When was that?", tuple(choices))


def year_around(around: str, filled: Sequence[str], order: Order, years: Sequence[int]) -> int | None:
    """The one year that the names around a table give to its first day; a season (2025/26) gives it by its month."""
    first = next((one.month for cell in filled if (read := parse(cell)) for one in read.readings
                  if one.order is order), 1)  # fmt: skip
    found: set[int] = set()
    seasons = list(re.finditer(r"(?<!\d)(20\d{2})[-/_–](20)?(\d{2})(?!\d)", around))
    for season in seasons:
        if int(season[3]) == (int(season[1]) + 1) % 100:
            found.add(int(season[1]) + (1 if first < 7 else 0))
    if not found:
        found = {int(year) for year in re.findall(r"(?<!\d)20\d{2}(?!\d)", around)}
    fitting = found & set(years) if years else found
    return fitting.pop() if len(fitting) == 1 else None


def thousands_question(name: str, sign: str, cell: str) -> Question:
    parts, decimal = cell.replace(sign, ""), cell.replace(sign, ".")
    choices = (Choice("parts", f"{cell} is {int(parts):,}".replace(",", "\u2009")),
               Choice("decimal", f"{cell} is {float(decimal):g}"))  # fmt: skip
    return Question("thousands", f"What does the {'point' if sign == '.' else 'comma'} in “{name}” mean?", choices)


TWICE = Question(
    "twice",
    "",
    (
        Choice("order", "two sessions of the day, in the order of the rows"),
        Choice("sum", "one session: minutes are added, the effort is their mean by minutes, to the half point"),
    ),
)
FILL = Choice("yes", "the rows below a day are of that day"), Choice("no", "rows without a day are left out")
NEAR = Choice("one", "one session, from the first start"), Choice("each", "sessions of their own")
UNIT = Choice("h", "hours"), Choice("min", "minutes")
NUMBERS = Choice("name", "the name"), Choice("number", "the number")
MOVE = (
    Choice("move", "they were in the squad by then: move their first day back"),
    Choice("leave", "leave these rows out"),
)

"""How a table lies: where its head is, and what stands side by side in it.

People keep tables long (a row for each athlete and session) and wide: a row for each athlete and a column, or a pair of
columns, for each day; or a row for each day and columns for each athlete. Heads run over two or three rows with merged
cells, titles of groups and totals stand between the rows, and the head comes again on every printed page.
"""

from __future__ import annotations

import re
from collections.abc import Collection, Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise

from uvren.files.days import MONTHS, is_day, parse

HEAD_WITHIN, MOST_HEAD_ROWS = 30, 4
TOTALS = re.compile(
    r"^(grand |sub-?|squad |team |week(ly)? |month(ly)? )?(total|totals|sum|average|averages|avg|mean|median|minimum|"
    r"maximum|min|max|sd|st\.? ?dev|Ø|∑|σ|count|n)\.?:?( of .*)?$",
    re.IGNORECASE,
)
# Above a column “min” is minutes.
TOTAL_HEAD = re.compile(TOTALS.pattern.replace("|min|max|", "|"), re.IGNORECASE)
MEASURES = re.compile(
    r"\b(min|mins|minutes|dur|duration|time|length|h|hours|rpe|s-?rpe|effort|rating|exertion|intensity|borg|cr10|load|"
    r"loads|tl|au|a\.u|strain|dist|distance|metres|meters|hr|heart|rate|speed|jumps|throws|sprints|accelerations?|kg|"
    r"reps|sets|wellness|sleep|fatigue|soreness|mood|stress|energy|notes?|comments?|remarks?|value)\b",
    re.IGNORECASE,
)
LABEL = re.compile(
    r"^(am|pm|a\.m\.|p\.m\.|morning|midday|noon|afternoon|evening|[sp]?\d{1,2}|session ?\d*|training ?\d*|match|game|"
    r"gym|court|pitch|field|weights|strength|conditioning|technical|tactical|recovery|pool|track|\d{1,2}:\d{2})$",
    re.IGNORECASE,
)
_WEEKDAY = re.compile(r"^(mon|tue|wed|thu|fri|sat|sun)[a-z]*\.?$|^[mtwfs]$|^(mo|tu|we|th|fr|sa|su)$", re.IGNORECASE)
NUMBER = re.compile(r"^[+-]?\d+([.,]\d+)?([eE][+-]?\d+)?%?$")
_NAME_LIKE = re.compile(r"^[^\W\d_]{1,2}\.( ?[^\W\d_]\.)* ?[^\W\d_][\w'’-]+$|^[^\W\d_][\w'’-]+,? +[^\W\d_][\w'’. -]*$")
TIMED = re.compile(r"\b(date|day|time|timestamp|t|seconds|elapsed|clock|ms)\b", re.IGNORECASE)
_MONTH_YEAR = re.compile(r"\b(?P<m>[a-z]{3,9})\.?,? *'?(?P<y>20\d{2}|\d{2})\b", re.IGNORECASE)


class Across(StrEnum):
    """What stands side by side in a table."""

    NOTHING = "nothing"
    DAYS = "days"
    PEOPLE = "people"


@dataclass(frozen=True)
class Shape:
    """Where the head of a table is and what stands side by side; ``left`` columns come before that."""

    head_row: int
    head_rows: int
    across: Across = Across.NOTHING
    left: int = 0


def plain(said: str) -> str:
    return re.sub(r"\s+", " ", said.casefold()).strip(" .:")


def is_word(cell: str) -> bool:
    return bool(cell) and not NUMBER.match(cell) and not re.match(r"^\d{1,4}[-./:]\d", cell)


def find_shape(rows: Sequence[Sequence[str]], people: Collection[str], around: str = "") -> Shape:
    """The shape that a table seems to have.

    ``people`` are names of the squad's people, as ``plain`` writes them; ``around`` is what the sheet or file is
    called.
    """
    for i, row in enumerate(rows[:HEAD_WITHIN]):
        days = day_columns(row, month_of(around, rows[:i]) is not None)
        if not days or days_near(rows, i, days) or not mostly_days(row, days) or not _heads_something(rows, i, days):
            continue
        under = _rows_under(rows, i, days[0])
        # One day alone is a head where its parts stand below it, right of the names.
        if len(days) >= 2 or (under and days[0] > 0):
            return Shape(i, 1 + under, Across.DAYS, days[0])
    for i in range(min(len(rows), HEAD_WITHIN)):
        found = _people_columns(rows, i, people)
        if found:
            return Shape(i, 1 + _rows_under(rows, i, found[0]), Across.PEOPLE, found[0])
    return _long_head(rows)


def month_of(around: str, above: Sequence[Sequence[str]]) -> tuple[int, int] | None:
    """(year, month) that the name of the sheet or what stands above the head gives to days that are bare numbers."""
    for said in [*(cell for row in reversed(above) for cell in row if cell), around]:
        for found in _MONTH_YEAR.finditer(said.replace("_", " ")):
            month = MONTHS.get(found["m"].lower())
            if month is not None:
                year = int(found["y"])
                return (year if year > 99 else 2000 + year), month
    return None


def day_columns(row: Sequence[str], month_known: bool) -> list[int]:
    """Columns under which one day each begins; merged cells stand in their first column only."""
    days = [j for j, cell in enumerate(row) if cell and (is_day(cell) or with_words(cell) is not None)]
    loose = [j for j, cell in enumerate(row) if cell and parse(cell) is not None]
    if len(loose) > len(days) and len(loose) >= 3 and _rising([row[j] for j in loose]):
        days = loose
    if len(days) < 2 and month_known:
        numbers = [(j, int(cell)) for j, cell in enumerate(row) if re.fullmatch(r"\d{1,2}", cell)]
        if len(numbers) >= 5 and [n for _, n in numbers] == list(range(numbers[0][1], numbers[0][1] + len(numbers))):
            days = [j for j, n in numbers if 1 <= n <= 31]
    return days


def _rising(cells: Sequence[str]) -> bool:
    """Whether these rise as the days of a head do: serial numbers, or days without a year."""
    firsts = [parsed.readings[0] for cell in cells if (parsed := parse(cell)) is not None]
    ordered = [(one.year or 0, one.month, one.day) for one in firsts]
    steps = sum(b >= a for a, b in pairwise(ordered))
    return steps >= 0.8 * (len(ordered) - 1)


def mostly_days(row: Sequence[str], days: Sequence[int]) -> bool:
    after = [cell for cell in row[days[0] :] if cell and not TOTAL_HEAD.match(cell)]
    return len(days) >= 0.6 * len(after)


def days_near(rows: Sequence[Sequence[str]], i: int, columns: Sequence[int]) -> bool:
    """Whether days stand in these columns right above or below too: then they are a column's values, not a head."""
    above = next((row for row in reversed(rows[max(i - 3, 0) : i]) if any(row)), ())
    below = next((row for row in rows[i + 1 : i + 4] if any(row)), ())
    with_days = sum(any(j < len(row) and is_day(row[j]) for row in (above, below)) for j in columns)
    return with_days > 0.3 * len(columns)


def _heads_something(rows: Sequence[Sequence[str]], i: int, columns: Sequence[int]) -> bool:
    """Whether days that are all written alike stand over anything at all."""
    orders = [{one.order for one in read.readings} for j in columns if (read := parse(rows[i][j])) is not None]
    alike = not orders or bool(set.intersection(*orders))
    return alike and any(any(row[columns[0] :]) for row in rows[i + 1 : i + 60])


def _rows_under(rows: Sequence[Sequence[str]], i: int, left: int) -> int:
    """How many rows of a head stand below its first: parts, sessions, weekdays, but no values."""
    count = 0
    for row in rows[i + 1 : i + MOST_HEAD_ROWS]:
        cells = [cell for cell in row[left:] if cell]
        words = [cell for cell in cells if is_word(cell) or LABEL.match(cell)]
        named = [cell for cell in cells if MEASURES.search(cell) or LABEL.match(cell) or _WEEKDAY.match(cell)
                 or TOTAL_HEAD.match(cell)]  # fmt: skip
        if not cells or len(words) < len(cells) or len(named) < 0.7 * len(cells):
            break
        # 1, 2, 3 below a date are its sessions; beside a name they are values.
        if any(row[:left]) and any(cell[0].isdigit() for cell in cells):
            break
        count += 1
    return count


def _people_columns(rows: Sequence[Sequence[str]], i: int, people: Collection[str]) -> list[int]:
    """Columns over which people stand in row ``i``, where days stand at the left of the rows below."""
    row = rows[i]
    named = [j for j, cell in enumerate(row) if cell and plain(cell) in people]
    like = [j for j, cell in enumerate(row) if is_name(cell) and not TOTAL_HEAD.match(cell)]
    found = named if len(named) >= 2 else like if len(like) >= 3 else []
    if not found:
        return []
    first = found[0]
    after = [cell for cell in row[first:] if cell and not TOTAL_HEAD.match(cell)]
    left_days = [below[j] for below in rows[i + 1 : i + 25] for j in range(min(first, len(below))) if below[j]]
    dated = sum(is_day(cell) for cell in left_days)
    return found if len(found) >= 0.6 * len(after) and dated >= 2 else []


def is_name(cell: str) -> bool:
    return bool(_NAME_LIKE.match(cell)) and not MEASURES.search(cell) and not is_day(cell)


def _long_head(rows: Sequence[Sequence[str]]) -> Shape:
    """The first row of words that is about as wide as the table; a second row of heads goes with it."""
    filled = [sum(1 for cell in row if cell) for row in rows]
    width = sorted(filled)[int(len(filled) * 0.8)] if filled else 0
    for i, row in enumerate(rows[:HEAD_WITHIN]):
        words = sum(1 for cell in row if is_word(cell))
        if words and words == filled[i] and filled[i] >= 0.6 * width:
            below = rows[i + 1] if i + 1 < len(rows) else []
            second = _is_second_head(row, below, rows[i + 2] if i + 2 < len(rows) else [])
            return Shape(i, 2 if second else 1)
        # A merged upper head has few words, each over several columns whose names stand in the next row.
        if words and words == filled[i] and i + 1 < len(rows) and filled[i] >= 2:
            lower = rows[i + 1]
            lower_words = sum(1 for cell in lower if is_word(cell))
            if lower_words == filled[i + 1] and lower_words >= 0.6 * width and len(set(lower)) < len(lower):
                return Shape(i, 2)
    return Shape(0, 1)


def _is_second_head(upper: Sequence[str], lower: Sequence[str], data: Sequence[str]) -> bool:
    """Whether a row of units or of merged heads' parts stands below the head."""
    if not lower or any(cell and not is_word(cell) for cell in lower):
        return False
    has_blank_above = any(low and not (upper[i] if i < len(upper) else "") for i, low in enumerate(lower))
    return has_blank_above and any(NUMBER.match(cell) for cell in data)


def with_words(cell: str) -> tuple[str, str] | None:
    """A day with something after it in one cell (05.09.2026 min), as (day, rest)."""
    parts = cell.replace("\n", " ").split()
    for n in range(len(parts) - 1, 0, -1):
        day, rest = " ".join(parts[:n]), " ".join(parts[n:]).strip(" -–()/:")
        if is_day(day) and rest and (MEASURES.search(rest) or LABEL.match(rest)):
            return day, rest
    return None

"""Numbers as people type them into cells: with their unit, as hours and minutes, with signs between thousands."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from enum import StrEnum

# What stands in a cell where there was nothing to measure. It is no number, and nothing is wrong with it.
ABSENT = frozenset(
    ("off", "rest", "rest day", "day off", "free", "holiday", "inj", "inj.", "injured", "injury", "ill", "sick",
     "illness", "abs", "abs.", "absent", "away", "dnp", "dns", "did not play", "did not train", "no training", "none",
     "nil", "missed", "out")
)  # fmt: skip

_SPACED = re.compile(r"(?<=\d)[\u00a0\u2009\u202f' ](?=\d{3}(\D|$))")
_UNIT = re.compile(
    r"\s*(a\.?u\.?|arb\.?|units?|pts?|points?|kg|lbs?|bpm|/min|km/h|m/s|m|km|reps?|throws?|jumps?|s|secs?|%)\.?$",
    re.IGNORECASE,
)
_CLOCK = re.compile(r"^(\d{1,3}):(\d{2})(?::(\d{2}))?(?:\s*(h|hrs?|hours?|min|mins?))?$", re.IGNORECASE)
_HOURS = re.compile(r"^(\d+(?:\.\d+)?)\s*(?:h|hrs?|hours?)\.?\s*(?:(\d{1,2})\s*(?:m|mins?|minutes?|['′])?\.?)?$", re.I)
_MINUTES = re.compile(r"^(\d+(?:\.\d+)?)\s*(?:m|mins?|minutes?|['’′])\.?$", re.IGNORECASE)
_SECONDS = re.compile(r"^(\d+(?:\.\d+)?)\s*(?:s|secs?|seconds?)\.?$", re.IGNORECASE)
_OF_TEN = re.compile(r"^(\d+(?:\.\d+)?)\s*(?:/|of|out of)\s*10$", re.IGNORECASE)
_PLAIN = re.compile(r"^[+-]?(\d+(\.\d*)?|\.\d+)$")


class Measure(StrEnum):
    """What kind of number a cell holds."""

    NUMBER = "number"
    MINUTES = "minutes"
    RATING = "rating"


def is_absent(text: str) -> bool:
    return text.casefold().strip() in ABSENT


def quantities(
    texts: Sequence[str], measure: Measure, decimal: str = ".", thousands: str = "", minutes_in: float = 1.0
) -> list[float | None]:
    """Each cell as a number, None for what is none.

    ``minutes_in`` is how many minutes one of the column's unit has: what a cell says with a unit of its own is turned
    into that of its column. Two parts with a colon are minutes and seconds where the first is above 9 anywhere in the
    column, else hours and minutes.
    """
    long = any(found and int(found[1]) > 9 and found[3] is None for found in map(_CLOCK.match, texts))
    out: list[float | None] = []
    for text in texts:
        said = _SPACED.sub("", text.strip())
        if thousands:
            said = re.sub(rf"(?<=\d){re.escape(thousands)}(?=\d{{3}}(\D|$))", "", said)
        if decimal == ",":
            # A point among commas is a slip, not a second sign.
            said = said.replace(".", "?").replace(",", ".")
        if measure is Measure.MINUTES:
            value = _minutes(said, long=long)
            value = None if value is None else value / minutes_in
        elif measure is Measure.RATING and (found := _OF_TEN.match(said)):
            value = float(found[1])
        else:
            value = None
        if value is None and _PLAIN.match(bare := _UNIT.sub("", said) if measure is not Measure.MINUTES else said):
            value = float(bare)
        out.append(value)
    return out


def _minutes(said: str, *, long: bool) -> float | None:
    """What a cell with a unit or a colon says, in minutes."""
    if found := _CLOCK.match(said):
        first, second, third = int(found[1]), int(found[2]), found[3]
        if second > 59 or (third and int(third) > 59):
            return None
        if third:
            return first * 60 + second + int(third) / 60
        return first + second / 60 if long else first * 60.0 + second
    if found := _HOURS.match(said):
        return float(found[1]) * 60 + float(found[2] or 0)
    if found := _MINUTES.match(said):
        return float(found[1])
    if found := _SECONDS.match(said):
        return float(found[1]) / 60
    return None


def sign_of_thousands(cells: Iterable[str], decimal: str) -> tuple[bool, str, str]:
    """Whether it is open if a sign parts thousands or decimals in these cells, which sign, and a cell that shows it.

    1.250 alone can be read both ways; 1.250,5 or 12.5 beside it settle it.
    """
    filled = [cell for cell in cells if cell]
    for sign, other in ((".", ","), (",", ".")):
        mark = re.escape(sign)
        doubtful = next((cell for cell in filled if re.fullmatch(rf"[1-9]\d{{0,2}}{mark}\d{{3}}", cell)), None)
        if doubtful is None:
            continue
        parts = re.compile(rf"\d{{1,3}}({mark}\d{{3}}){{2,}}|\d{{1,3}}({mark}\d{{3}})+{re.escape(other)}\d+")
        decimals = re.compile(rf"\d+{mark}(\d{{1,2}}|\d{{4,}})|0{mark}\d+|\d{{4,}}{mark}\d+")
        elsewhere = re.compile(rf"\d+{re.escape(other)}\d{{1,2}}")
        if any(parts.fullmatch(cell) or elsewhere.fullmatch(cell) for cell in filled):
            return False, sign, doubtful
        if any(decimals.fullmatch(cell) for cell in filled):
            return False, "", doubtful
        return True, sign, doubtful
    return False, "", ""

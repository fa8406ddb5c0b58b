"""A table lying straight: one row for each athlete and day, however it lay before."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import date

from uvren.files.days import is_day, parse
from uvren.files.grid import Grid
from uvren.files.shape import (
    LABEL,
    MEASURES,
    NUMBER,
    TIMED,
    TOTAL_HEAD,
    TOTALS,
    Across,
    Shape,
    day_columns,
    days_near,
    is_name,
    is_word,
    month_of,
    mostly_days,
    plain,
    with_words,
)


@dataclass(frozen=True)
class Table:
    """A table lying straight: rows of as many cells as there are columns; ``lines`` and ``sheets`` say where from.

    ``short`` are lines that have more or fewer cells than the head, with how many. ``notes`` say what was left out.
    """

    columns: list[str]
    rows: list[list[str]]
    lines: list[int]
    sheets: list[str]
    short: list[tuple[int, int, str]] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)


def straighten(grid: Grid, shape: Shape, around: str = "") -> Table:
    """The grid as a table with one row for each athlete and day, or each row of a long table."""
    if shape.across is Across.NOTHING:
        return _long(grid, shape)
    return _Wide(grid, shape, around).table()


def head_of(rows: Sequence[Sequence[str]]) -> list[str]:
    """Names of the columns; merged heads are joined to what stands below them, a name met again gets a number."""
    if not rows:
        return []
    width = max(len(row) for row in rows)
    padded = [[*row, *[""] * (width - len(row))] for row in rows]
    if len(padded) > 1:
        filled = [_spread(row, padded[-1]) for row in padded[:-1]]
        names = [" ".join(dict.fromkeys(part for part in parts if part))
                 for parts in zip(*filled, padded[-1], strict=True)]  # fmt: skip
    else:
        names = padded[0]
    while names and not names[-1]:
        names.pop()
    return distinct([name or f"Column {i + 1}" for i, name in enumerate(names)])


def _spread(upper: Sequence[str], lower: Sequence[str]) -> list[str]:
    out, over = [], ""
    for cell, below in zip(upper, lower, strict=True):
        over = cell or (over if below else "")
        out.append(over)
    return out


def distinct(names: Sequence[str]) -> list[str]:
    """The names, each once: one met again gets a number."""
    out: list[str] = []
    taken: set[str] = set()
    count: dict[str, int] = {}
    for name in names:
        unique = name
        while unique in taken:
            count[name] = count.get(name, 1) + 1
            unique = f"{name} ({count[name]})"
        taken.add(unique)
        out.append(unique)
    return out


def _long(grid: Grid, shape: Shape) -> Table:
    begin = shape.head_row + shape.head_rows
    columns = head_of(grid.rows[shape.head_row : begin])
    width, heads = len(columns), [plain(cell) for cell in grid.rows[begin - 1]] if begin else []
    out = Table(columns, [], [], [])
    titles: list[str] = []
    again = 0
    timed = any(TIMED.search(name) for name in columns)
    over = [cell for row in grid.rows[: shape.head_row] for cell in row if cell and not timed and _day_within(cell)]
    above = over[-1] if over else ""
    days_above: list[str] = []
    for line, row in zip(grid.lines[begin:], grid.rows[begin:], strict=True):
        cells = [*row, *[""] * (width - len(row))]
        filled = [cell for cell in cells if cell]
        if not filled:
            continue
        if [plain(cell) for cell in row[:width]] == heads[:width]:
            again += 1
        elif width > 2 and (len(filled) == 1 or len(set(filled)) == 1) and is_word_or_day(filled[0]):
            titles.append(filled[0])
            above = filled[0] if _day_within(filled[0]) else above
        elif len(row) != width and any(cell for cell in cells[width:]) | (len(row) < width):
            out.short.append((line, len(row), " ".join(filled)[:80]))
        else:
            out.rows.append(cells[:width])
            out.lines.append(line)
            days_above.append(above)
    _note_left_out(out, titles, again)
    if any(_day_within(title) for title in titles) or (above and not any(map(_has_days, zip(*out.rows, strict=True)))):
        return _with_days_above(out, days_above)
    return out


def _has_days(column: Sequence[str]) -> bool:
    filled = [cell for cell in column if cell]
    return sum(is_day(cell) for cell in filled) > 0.5 * len(filled)


def is_word_or_day(cell: str) -> bool:
    return is_word(cell) or is_day(cell)


def _day_within(title: str) -> tuple[str, str] | None:
    """(day, rest) of a title such as “Tue 3 Nov 2026 – Court”."""
    parts = title.split()
    for n in range(len(parts), 0, -1):
        for begin in range(len(parts) - n + 1):
            if is_day(" ".join(parts[begin : begin + n])):
                rest = " ".join([*parts[:begin], *parts[begin + n :]])
                return " ".join(parts[begin : begin + n]), rest.strip(" -–—:,()|")
    return None


def _with_days_above(table: Table, above: Sequence[str]) -> Table:
    """Every row with the day, and what else is said, of the title that it stands below."""
    found = [_day_within(title) or ("", "") for title in above]
    sessions = any(rest for _, rest in found)
    names = distinct([*table.columns, "Date", *(["Session"] if sessions else [])])
    rows = [[*row, day, *([rest] if sessions else [])] for row, (day, rest) in zip(table.rows, found, strict=True)]
    notes = [note for note in table.notes if "title" not in note]
    return Table(names, rows, table.lines, table.sheets, table.short, notes)


def _note_left_out(table: Table, titles: Sequence[str], again: int) -> None:
    if titles:
        shown = ", ".join(dict.fromkeys(titles[:4]))
        table.notes.append(f"Left out as titles between the rows: {shown}{' …' if len(titles) > 4 else ''}.")
    if again:
        table.notes.append(f"The head comes again {'once' if again == 1 else f'{again} times'}; it is no row.")


@dataclass(frozen=True)
class _Column:
    """What a column of values stands for: whose day or which person, which measure, which session of the day."""

    j: int
    key: str
    measure: str
    label: str


class _Wide:
    """A table of days or people side by side."""

    def __init__(self, grid: Grid, shape: Shape, around: str) -> None:
        self.grid, self.shape = grid, shape
        self.days = shape.across is Across.DAYS
        self.month = month_of(around or grid.name, grid.rows[: shape.head_row]) if self.days else None
        self.skipped: dict[str, None] = {}
        self.totals: dict[str, None] = {}

    def table(self) -> Table:
        grid, shape = self.grid, self.shape
        blocks = self._blocks()
        ids = self._ids(shape.head_row)
        columns = [each for block in blocks for each in block[1]]
        measures = list(dict.fromkeys(each.measure or "Value" for each in columns)) or ["Value"]
        labels = any(each.label for each in columns)
        names = distinct([*ids, "Date" if self.days else "Athlete", *(["Session"] if labels else []), *measures])
        out = Table(names, [], [], [])
        place = {measure: n for n, measure in enumerate(measures)}
        for (first, heads), last in zip(blocks, [*(block[0] for block in blocks[1:]), len(grid.rows)], strict=True):
            for i in range(first + shape.head_rows, last):
                self._unfold(i, heads, place, out, labels=labels)
        if self.skipped:
            out.notes.append(
                f"Columns left out, being no {'day' if self.days else 'athlete'}: {', '.join(self.skipped)}."
            )
        if self.totals:
            out.notes.append(f"Rows left out as totals: {', '.join(self.totals)}.")
        return _measures_across(out) if self.days and measures == ["Value"] and len(ids) == 1 else out

    def _ids(self, head: int) -> list[str]:
        """Names of the columns at the left, by the lowest cell of the head that is filled."""
        names = []
        for j in range(self.shape.left):
            said = [self.grid.rows[i][j] for i in range(head, head + self.shape.head_rows)
                    if i < len(self.grid.rows) and j < len(self.grid.rows[i]) and self.grid.rows[i][j]]  # fmt: skip
            fallback = "Name" if self.days and j == 0 else f"Column {j + 1}"
            names.append(said[-1] if said else fallback)
        return names

    def _blocks(self) -> list[tuple[int, list[_Column]]]:
        """(row of the head, its columns) of each block: heads with other days may stand below one another."""
        heads = [self.shape.head_row]
        if self.days:
            for i in range(self.shape.head_row + self.shape.head_rows, len(self.grid.rows)):
                row = self.grid.rows[i]
                begin = [cell for cell in row[self.shape.left : self.shape.left + 24] if cell]
                if sum(bool(NUMBER.match(cell)) for cell in begin) > 0.5 * len(begin):
                    # Most rows hold numbers; looked at cell by cell they would take longer than all else.
                    continue
                days = day_columns(row, month_known=False)
                if len(days) >= 2 and mostly_days(row, days) and not days_near(self.grid.rows, i, days):
                    heads.append(i)
        return [(i, self._columns(i)) for i in heads]

    def _columns(self, head: int) -> list[_Column]:
        rows = [list(self.grid.rows[i]) for i in range(head, head + self.shape.head_rows) if i < len(self.grid.rows)]
        # As wide as what stands below: the last merged head has its name in its first column only.
        width = max([len(row) for row in rows] + [len(row) for row in self.grid.rows[head : head + 12]])
        rows = [[*row, *[""] * (width - len(row))] for row in rows]
        kinds = [_kind_of([cell for cell in row[self.shape.left :] if cell]) for row in rows[1:]]
        parts = [self._spread_labels(row) if kind is _label else row for row, kind in zip(rows[1:], kinds, strict=True)]
        out: list[_Column] = []
        key, rest = "", ""
        for j in range(self.shape.left, width):
            cell = rows[0][j]
            if cell:
                key, rest = self._key(cell)
            elif len(rows) == 1 and not self._filled_below(j, head):
                continue
            measure, label = (rest, "") if rest and MEASURES.search(rest) else ("", rest)
            for row, kind in zip(parts, kinds, strict=True):
                said = row[j]
                if kind is _measure and said:
                    measure = said
                elif kind is _label and said:
                    label = said
            if key and not TOTAL_HEAD.match(measure):
                out.append(_Column(j, key, measure, label))
        return out

    def _spread_labels(self, row: list[str]) -> list[str]:
        """A session's label over its columns, as far as the day reaches."""
        out, over = list(row), ""
        for j in range(self.shape.left, len(row)):
            if self.grid.rows[self.shape.head_row][j : j + 1] not in ([], [""]):
                over = ""
            over = row[j] or over
            out[j] = over
        return out

    def _filled_below(self, j: int, head: int) -> bool:
        return any(j < len(row) and row[j] for row in self.grid.rows[head + 1 : head + 40])

    def _key(self, cell: str) -> tuple[str, str]:
        """(day or person, what else the cell says); nothing for a total and the like."""
        if not self.days:
            if TOTAL_HEAD.match(cell):
                self.skipped.setdefault(cell)
                return "", ""
            return _person_with_words(cell)
        if self.month is not None and re.fullmatch(r"\d{1,2}", cell):
            year, month = self.month
            try:
                return date(year, month, int(cell)).isoformat(), ""
            except ValueError:
                return "", ""
        if parse(cell) is not None:
            return cell, ""
        found = with_words(cell)
        if found is None:
            self.skipped.setdefault(cell)
        return found or ("", "")

    def _unfold(self, i: int, heads: Sequence[_Column], place: dict[str, int], out: Table, *, labels: bool) -> None:
        row = self.grid.rows[i]
        left = [*row[: self.shape.left], *[""] * (self.shape.left - len(row))][: self.shape.left]
        if not any(left) or TOTALS.match(next(cell for cell in left if cell)):
            if any(left):
                self.totals.setdefault(next(cell for cell in left if cell))
            return
        found: dict[tuple[str, str], list[str]] = {}
        nth: dict[tuple[str, str, str], int] = {}
        for column in heads:
            # The same day twice in a head is two sessions of it.
            part = column.key, column.label, column.measure
            again = nth.get(part, 0)
            nth[part] = again + 1
            if column.j >= len(row) or not row[column.j]:
                continue
            label = column.label or (f"{again + 1}" if again else "")
            cells = found.setdefault((column.key, label), [""] * len(place))
            cells[place[column.measure or "Value"]] = row[column.j]
        for (key, label), cells in found.items():
            out.rows.append([*left, key, *([label] if labels else []), *cells])
            out.lines.append(self.grid.lines[i])


def _measures_across(table: Table) -> Table:
    """Where the rows are minutes, effort and the like of one athlete: these as columns."""
    said = list(dict.fromkeys(row[0] for row in table.rows))
    if not 1 <= len(said) <= 12 or not all(MEASURES.search(one) and not is_name(one) for one in said):
        return table
    found: dict[tuple[str, ...], tuple[int, list[str]]] = {}
    for row, line in zip(table.rows, table.lines, strict=True):
        cells = found.setdefault(tuple(row[1:-1]), (line, [""] * len(said)))[1]
        cells[said.index(row[0])] = row[-1]
    rows = [[*key, *cells] for key, (_, cells) in found.items()]
    names = distinct([*table.columns[1:-1], *said])
    return Table(names, rows, [line for line, _ in found.values()], [], table.short, table.notes)


def _person_with_words(cell: str) -> tuple[str, str]:
    """A person with a measure after the name in one cell (A. Berg RPE), as (name, measure)."""
    parts = cell.replace("\n", " ").split()
    for n in range(len(parts) - 1, 0, -1):
        rest = " ".join(parts[n:]).strip("() -–:")
        if rest and all(MEASURES.search(word) for word in rest.split()):
            return " ".join(parts[:n]).strip(" -–:("), rest
    return cell, ""


def _measure(cell: str) -> bool:
    return bool(MEASURES.search(cell)) and not LABEL.match(cell)


def _label(cell: str) -> bool:
    return bool(LABEL.match(cell))


def _kind_of(cells: Sequence[str]) -> Callable[[str], bool] | None:
    """Whether a row below the head names measures or sessions; None for weekdays and the like."""
    for kind in (_measure, _label):
        if cells and sum(map(kind, cells)) >= 0.5 * len(cells):
            return kind
    return None

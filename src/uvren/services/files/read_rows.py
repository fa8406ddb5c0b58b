"""Tables that people keep, read by their mapping: rows of sessions, reports, tests, matches and people."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, time, timedelta
from pathlib import Path

import numpy as np

from uvren.core import words as say
from uvren.core.ratings import EFFORT_MOST, EFFORT_STEP, MINUTES_MOST
from uvren.core.windows import Floats
from uvren.files.arrow import Columns, Kind, Quantity, Wanted, read_columns
from uvren.files.days import life
from uvren.files.errors import Problem
from uvren.files.layout import Layout
from uvren.files.moments import Writing, read_moments
from uvren.files.quantities import Measure
from uvren.files.shape import TOTALS
from uvren.services.files import asked
from uvren.services.files.asked import DaysRead, Question
from uvren.services.files.mappings import MANY, UNITS, FileKind, Role, Spec, is_numeric
from uvren.services.files.read_samples import (
    MOST_LISTED,
    NO_TIME,
    Around,
    Content,
    Row,
    Told,
    groups_of,
    scaled,
    seconds_of,
)

_EPOCH = date(1970, 1, 1).toordinal()
_TEXTS = frozenset({Role.ATHLETE, Role.FIRST_NAME, Role.LAST_NAME, Role.NUMBER, Role.SESSION, Role.OPPONENT, Role.PLACE,
                    Role.VENUE, Role.POSITION, Role.FROM_DAY, Role.BIRTH_YEAR, Role.SIDE, Role.WORDS})  # fmt: skip
# Starts that lie this close are one session that people wrote down as they came.
NEAR = timedelta(minutes=20)
# No session that a club keeps takes longer.
MOST_HOURS = 8.0


def read_rows(path: Path, layout: Layout, spec: Spec, around: Around) -> Content:
    """Every row of the table, as its kind has it. Raises BadFile for what cannot be read at all."""
    answer = spec.answer("thousands")
    if answer == "decimal":
        layout = replace(layout, thousands="no")
    columns = read_columns(path, layout, _wanted(spec, layout), kept=True, people=around.people, around=around.name)
    reading = _Reading(spec, columns, around, " ".join((around.name, layout.sheet, *layout.sheets)))
    for name, (sign, cell) in columns.doubts.items():
        if not answer:
            reading.questions.append(asked.thousands_question(name, sign, cell))
        break
    content = reading.sessions() if spec.kind is FileKind.SESSIONS else reading.told()
    return _in_their_sheets(content, columns)


def _wanted(spec: Spec, layout: Layout) -> Wanted:
    wanted: dict[str, Kind | Quantity] = {}
    for column in spec.columns:
        if column.role in _TEXTS:
            wanted[column.name] = Kind.TEXT
        elif column.role in (Role.TIME, Role.DATE):
            wanted[column.name] = Kind.MOMENT
        elif column.role in (Role.MINUTES, Role.CAME_ON, Role.WENT_OFF):
            wanted[column.name] = Quantity(Measure.MINUTES, UNITS[Role(column.role)].get(column.unit, 1.0))
        elif column.role == Role.EFFORT or column.role.startswith("question:"):
            wanted[column.name] = Quantity(Measure.RATING)
        elif column.role.startswith(MANY):
            wanted[column.name] = Quantity(Measure.NUMBER, doubtful=column.role.startswith("channel:"))
    time_column = spec.of(Role.TIME)
    if time_column and is_numeric(spec.writing) and not spec.of(Role.DATE):
        wanted[time_column.name] = Kind.NUMBER
    return wanted


@dataclass
class _Days:
    """Local day of every row as an ordinal, and UTC seconds of the start of its session; nan where not said."""

    day: Floats
    starts: Floats


class _Reading:
    """A table on its way to rows; what is wrong and what is open is gathered beside it."""

    def __init__(self, spec: Spec, columns: Columns, around: Around, named: str) -> None:
        self.spec, self.columns, self.around, self.named = spec, columns, around, named
        self.count = int(columns.row.size)
        self.problems, self.notes = list(columns.problems), list(columns.notes)
        self.questions: list[Question] = []
        self.bad = columns.bad.copy()
        self.names = self._names()

    def _names(self) -> list[str]:
        """What each row calls its athlete."""
        first, last = self._texts(Role.FIRST_NAME), self._texts(Role.LAST_NAME)
        if self.spec.of(Role.ATHLETE) is None and any(last):
            return [f"{a} {b}".strip() for a, b in zip(first, last, strict=True)]
        names, group = groups_of(self.spec, self.columns)
        return [names[code] for code in group.tolist()]

    def _texts(self, role: Role) -> list[str]:
        use = self.spec.of(role)
        if use is None:
            return [""] * self.count
        return [cell or "" for cell in self.columns.texts[use.name].to_pylist()]

    def _problem(self, i: int, column: str, said: str, why: str) -> None:
        if len(self.problems) < 1000:
            self.problems.append(Problem(int(self.columns.row[i]), column, said, why))
        self.bad[i] = True

    # Days -----------------------------------------------------------------------------------------------------

    def days(self, *, past: bool) -> _Days:
        spec, nothing = self.spec, np.full(self.count, np.nan)
        date_column, time_column = spec.of(Role.DATE), spec.of(Role.TIME)
        column = date_column or (time_column if spec.writing is not Writing.CLOCK else None)
        if column is None or column.name not in self.columns.moments:
            if column is not None:
                return self._of_seconds(spec)
            if spec.day is None:
                return _Days(nothing, nothing)
            return _Days(np.full(self.count, float(spec.day.toordinal())), nothing)
        cells = [str(cell or "") for cell in self._filled_down(column.name)]
        read = asked.days_read(column.name, cells, spec.writing, spec.answer("order"), spec.answer("year"), self.named,
                               self.around.today, past=past)  # fmt: skip
        self.questions.extend(read.questions)
        self.notes.extend(read.notes)
        found = self._days_in(column.name, read, cells, past=past)
        if time_column is None or self._clockless(time_column.name):
            return _Days(found, nothing)
        return _Days(found, self._starts(read, time_column.name, found))

    def _clockless(self, name: str) -> bool:
        """Whether a column of times holds days alone."""
        return self.spec.of(Role.DATE) is None and not any(":" in str(cell or "") for cell in self._filled(name)[:200])

    def _filled(self, name: str) -> list[object]:
        return self.columns.moments[name].to_pylist()

    def _filled_down(self, name: str) -> list[object]:
        """The cells of a column of days; where only the first row of each day has it, it is asked what that means."""
        import pyarrow as pa

        cells = self._filled(name)
        if pa.types.is_timestamp(self.columns.moments[name].type):
            return cells
        gaps = [i for i, cell in enumerate(cells) if not cell and self.names[i] and not TOTALS.match(self.names[i])]
        if not gaps or not cells[0] or len(gaps) < 0.3 * len(cells):
            return cells
        answer = self.spec.answer("fill")
        if not answer:
            said = f"{say.count(len(gaps), 'row')} have no day and stand below one that has. Which day is theirs?"
            self.questions.append(Question("fill", said, asked.FILL))
        if answer != "no":
            above: object = None
            for i, cell in enumerate(cells):
                above = cell or above
                cells[i] = above
            self.columns.moments[name] = pa.array([None if cell is None else str(cell) for cell in cells], pa.string())
        return cells

    def _days_in(self, name: str, read: DaysRead, cells: Sequence[str], *, past: bool) -> Floats:
        writing = read.writing or self.spec.writing or Writing.YEAR_FIRST
        found = read_moments(self.columns.moments[name], writing, read.year)
        if found.zoned:
            local = [np.nan if np.isnan(at) else datetime.fromtimestamp(at, self.spec.tz).date().toordinal()
                     for at in found.seconds.tolist()]  # fmt: skip
            return np.array(local)
        days = np.floor(found.seconds / 86_400) + _EPOCH
        first, last = life(self.around.today)
        today = self.around.today
        for i in range(self.count):
            if not np.isnan(days[i]):
                on = date.fromordinal(int(days[i]))
                if past and on > today:
                    self._problem(i, name, cells[i], f"{say.day(on)} {on.year} is still to come.")
                elif not first <= on <= last:
                    self._problem(i, name, cells[i], f"{on.day} {on:%B} {on.year} is too far off to be meant.")
            elif self._says_something(i, cells[i]):
                why = "It is not written as the other days are." if cells[i] else NO_TIME
                self._problem(i, name, cells[i], why)
            else:
                self.bad[i] = True
        return days

    def _says_something(self, i: int, cell: str) -> bool:
        """Whether a row without a day is a row at all: a total or a title below the table is none."""
        if TOTALS.match(self.names[i]) or TOTALS.match(cell):
            return False
        return bool(cell) or any(not np.isnan(values[i]) for values in self.columns.numbers.values())

    def _of_seconds(self, spec: Spec) -> _Days:
        seconds = seconds_of(spec, self.columns, np.zeros(self.count, dtype=np.int64), self.problems, self.notes)
        return _Days(self._local(seconds), seconds)

    def _local(self, seconds: Floats) -> Floats:
        days = [np.nan if np.isnan(at) else datetime.fromtimestamp(at, self.spec.tz).date().toordinal()
                for at in seconds.tolist()]  # fmt: skip
        return np.array(days, dtype=np.float64)

    def _starts(self, read: DaysRead, name: str, days: Floats) -> Floats:
        """UTC seconds of every start: the clock of its column on its day."""
        import pyarrow as pa

        if self.spec.of(Role.DATE) is not None:
            # A time that cannot be read leaves the day.
            clock = read_moments(self.columns.moments[name], Writing.CLOCK).seconds
            if np.isnan(clock).all():
                clock = read_moments(self.columns.moments[name], Writing.YEAR_FIRST).seconds % 86_400
        else:
            writing = read.writing or Writing.YEAR_FIRST
            found = read_moments(self.columns.moments[name], writing, read.year)
            if found.zoned:
                return found.seconds
            clock = found.seconds % 86_400
        there = ~np.isnan(clock) & ~np.isnan(days)
        local = [None if not good else (datetime.fromordinal(int(day)) + timedelta(seconds=float(at))).isoformat()
                 for good, day, at in zip(there.tolist(), days.tolist(), clock.tolist(), strict=True)]  # fmt: skip
        placed = replace(self.spec, columns=tuple(replace(use, role=Role.IGNORE) if use.role == Role.DATE else use
                         for use in self.spec.columns), writing=Writing.YEAR_FIRST)  # fmt: skip
        moments = {name: pa.array(local, pa.string())}
        quiet: list[Problem] = []
        seconds = seconds_of(placed, replace(self.columns, moments=moments, numbers={}),
                             np.zeros(self.count, dtype=np.int64), quiet, self.notes)  # fmt: skip
        self.problems.extend(problem for problem in quiet if problem.why != NO_TIME)
        return seconds

    # Kinds of table -------------------------------------------------------------------------------------------

    def _number(self, role: Role, low: float, high: float, step: float | None, why: str) -> Floats:
        use = self.spec.of(role)
        if use is None:
            return np.full(self.count, np.nan)
        values = scaled(self.columns.numbers[use.name], role, use.unit)
        wrong = ~np.isnan(values) & ((values < low) | (values > high) | (np.mod(values, step) != 0 if step else False))
        for i in np.flatnonzero(wrong & ~self.bad)[:MOST_LISTED].tolist():
            self._problem(i, use.name, f"{self.columns.numbers[use.name][i]:g}", why)
        self.bad |= wrong
        return values

    def _ask_for_hours(self) -> None:
        """Durations of a few that say no unit are asked about: 1.5 is an hour and a half, or next to nothing."""
        use = self.spec.of(Role.MINUTES)
        if use is None or use.unit or re.search(r"\bmin", use.name, re.IGNORECASE):
            return
        values = self.columns.numbers[use.name]
        known = values[~np.isnan(values) & (values > 0)]
        if not known.size or float(known.max()) > MOST_HOURS:
            return
        answer = self.spec.answer("unit")
        if not answer:
            said = f"“{use.name}” says no unit and goes up to {float(known.max()):g}. What are they?"
            self.questions.append(Question("unit", said, asked.UNIT))
        if answer == "h":
            self.columns.numbers[use.name] = values * 60

    def _totals(self) -> None:
        """Rows of totals are nobody's."""
        totals = [i for i, name in enumerate(self.names) if TOTALS.match(name) and name not in self.around.people]
        self.bad[totals] = True
        rows = {int(self.columns.row[i]) for i in totals}
        self.problems = [problem for problem in self.problems if problem.row not in rows]
        if totals:
            said = ", ".join(dict.fromkeys(self.names[i] for i in totals))
            self.notes.append(f"Left out as totals: {say.count(len(totals), 'row')} ({said}).")

    def sessions(self) -> Content:
        """Rows of sessions: minutes, effort, words and loads of an athlete."""
        spec, columns = self.spec, self.columns
        days = self.days(past=True)
        self._ask_for_hours()
        minutes = self._number(Role.MINUTES, 0, MINUTES_MOST, None, f"Minutes are 0 to {MINUTES_MOST}.")
        minutes = self._stints(minutes, days.day)
        effort = self._number(Role.EFFORT, 0, EFFORT_MOST, EFFORT_STEP, "Effort is 0 to 10, in half points.")
        loads = {code: columns.numbers[use.name] for code, use in spec.others("channel:")}
        for code, use in spec.others("channel:"):
            for i in np.flatnonzero(loads[code] < 0)[:MOST_LISTED].tolist():
                self._problem(i, use.name, f"{loads[code][i]:g}", "A load is 0 or more.")
            self.bad |= loads[code] < 0
        self._totals()
        zones = [columns.numbers[use.name] for _, use in sorted(spec.others("zone:"))]
        words, labels, numbers = (self._texts(role) for role in (Role.WORDS, Role.SESSION, Role.NUMBER))
        self.bad |= np.isnan(days.day)
        rows: list[Row] = []
        empty = 0
        for i in np.flatnonzero(~self.bad).tolist():
            in_zones = [float(zone[i]) for zone in zones]
            row = Row(
                row=int(columns.row[i]),
                said=self.names[i],
                day=date.fromordinal(int(days.day[i])),
                starts=None if np.isnan(days.starts[i]) else datetime.fromtimestamp(float(days.starts[i]), UTC),
                minutes=_known(minutes[i]),
                effort=_known(effort[i]),
                words=words[i] or None,
                loads={code: float(load[i]) for code, load in loads.items() if not np.isnan(load[i])},
                zones=in_zones if in_zones and not np.isnan(in_zones).any() else None,
                label=labels[i][:120],
                number=numbers[i],
            )
            if row.minutes is None and row.effort is None and not row.loads and not row.zones and not row.words:
                empty += 1
                self.bad[i] = True
                continue
            rows.append(row)
        if empty:
            self.notes.append(f"{say.count(empty, 'row')} without anything of a session left out.")
        return self._content(rows=self._told_apart(rows))

    def _rotates(self) -> bool:
        """Whether rows say when somebody came on and went off: several of a day are one match then."""
        return self.spec.of(Role.CAME_ON) is not None and self.spec.of(Role.WENT_OFF) is not None

    def _stints(self, minutes: Floats, day: Floats) -> Floats:
        """Minutes between coming on and going off, where a row does not say its minutes itself.

        Who did not come on was there from the start, and who did not go off until the last moment the file has of it.
        """
        if not self._rotates():
            return minutes
        why = f"A minute is 0 to {MINUTES_MOST}."
        on, off = (self._number(role, 0, MINUTES_MOST, None, why) for role in (Role.CAME_ON, Role.WENT_OFF))
        said = ~(np.isnan(on) & np.isnan(off)) & ~self.bad
        last = {one: float(np.nanmax(np.fmax(on, off)[said & (day == one)])) for one in np.unique(day[said])}
        to_the_end = said & np.isnan(off)
        whole = np.array([last.get(one, np.nan) for one in day.tolist()])
        begin, end = np.where(np.isnan(on), 0.0, on), np.where(np.isnan(off), whole, off)
        for i in np.flatnonzero(said & (end < begin)).tolist():
            self._problem(i, "", self.names[i], f"Off at {end[i]:g} is before on at {begin[i]:g}.")
        if to_the_end.any():
            rows = say.count(int(to_the_end.sum()), "row")
            self.notes.append(f"{rows} without going off count until the last minute the file has of that day.")
        return np.where(np.isnan(minutes) & said, end - begin, minutes)

    def _told_apart(self, rows: list[Row]) -> list[Row]:
        """Two rows of one athlete and day: by their times, by what the sessions are called, else it is asked."""
        by_day: dict[tuple[str, date], list[Row]] = defaultdict(list)
        for row in rows:
            if row.starts is None:
                by_day[row.said, row.day].append(row)
        doubtful = [several for several in by_day.values()
                    if len(several) > 1 and len({row.label.casefold() for row in several}) < len(several)]  # fmt: skip
        if not doubtful:
            return [self._begun_by_label(row) for row in rows]
        answer = "sum" if self._rotates() else self.spec.answer("twice")
        if not answer:
            one = doubtful[0][0]
            said = (f"{say.count(len(doubtful), 'time')} somebody has two rows or more of one day without times, as "
                    f"{one.said or 'the athlete'} on {say.day(one.day)} {one.day.year}. What are they? A column with "
                    "their times would tell it too.")  # fmt: skip
            self.questions.append(replace(asked.TWICE, said=said))
        if answer == "sum":
            merged = {id(several[0]): _summed(several) for several in doubtful}
            gone = {id(row) for several in doubtful for row in several[1:]}
            return [merged.get(id(row), row) for row in rows if id(row) not in gone]
        nth = {id(row): n for several in doubtful for n, row in enumerate(several)}
        return [self._begun_by_label(replace(row, nth=nth.get(id(row), 0))) for row in rows]

    def _begun_by_label(self, row: Row) -> Row:
        """A label that is a time says when the session began."""
        clock = re.fullmatch(r"(\d{1,2}):(\d{2})", row.label.strip())
        if row.starts is not None or clock is None or int(clock[1]) > 23 or int(clock[2]) > 59:
            return row
        begins = time(int(clock[1]), int(clock[2]))
        return replace(row, starts=datetime.combine(row.day, begins, self.spec.tz).astimezone(UTC))

    def told(self) -> Content:
        """Rows of any other kind: what each column says."""
        spec, columns = self.spec, self.columns
        roster, fixtures = spec.kind is FileKind.ROSTER, spec.kind is FileKind.FIXTURES
        days = _Days(*[np.full(self.count, np.nan)] * 2) if roster else self.days(past=not fixtures)
        if not fixtures:
            self._totals()
        if not roster:
            self.bad |= np.isnan(days.day)
        minutes = self._number(Role.MINUTES, 1, MINUTES_MOST, None, f"Minutes are 1 to {MINUTES_MOST}.")
        effort = self._number(Role.EFFORT, 0, EFFORT_MOST, None, "Effort is 0 to 10.")
        values = {
            use.role: columns.numbers[use.name] for use in spec.columns if use.role.startswith(("question:", "test:"))
        }
        values |= {Role.MINUTES: minutes, Role.EFFORT: effort}
        texts = {role: self._texts(role) for role in _TEXTS if spec.of(role) is not None}
        rows = []
        for i in np.flatnonzero(~self.bad).tolist():
            numbers = {role: float(value[i]) for role, value in values.items() if not np.isnan(value[i])}
            words = {str(role): said[i] for role, said in texts.items() if said[i]}
            if not numbers and not words.keys() - {Role.ATHLETE, Role.NUMBER} and not roster:
                continue
            rows.append(Told(
                int(columns.row[i]), self.names[i], words.get(Role.NUMBER, ""),
                None if np.isnan(days.day[i]) else date.fromordinal(int(days.day[i])),
                None if np.isnan(days.starts[i]) else datetime.fromtimestamp(float(days.starts[i]), UTC),
                numbers, words,
            ))  # fmt: skip
        return self._content(told=rows)

    def _content(self, rows: list[Row] | None = None, told: list[Told] | None = None) -> Content:
        # A row that says nothing of a session is no row that was lost.
        lost = {problem.row for problem in self.problems if problem.row is not None}
        return Content([], rows or [], self.problems, self.count, len(lost), self.notes, told or [], self.questions)


def _known(value: float) -> float | None:
    return None if np.isnan(value) else round(float(value), 6)


def _summed(rows: Sequence[Row]) -> Row:
    """Rows of one session as one: minutes and loads are added, effort is their mean by minutes."""
    rated = [row for row in rows if row.minutes is not None and row.effort is not None]
    total = sum(row.minutes or 0.0 for row in rated)
    effort = sum((row.minutes or 0.0) * (row.effort or 0.0) for row in rated) / total if total else rows[0].effort
    minutes = [row.minutes for row in rows if row.minutes is not None]
    loads: dict[str, float] = defaultdict(float)
    for row in rows:
        for code, load in row.loads.items():
            loads[code] += load
    words = "; ".join(row.words for row in rows if row.words) or None
    return replace(rows[0], minutes=sum(minutes) if minutes else None, loads=dict(loads), words=words,
                   effort=None if effort is None else round(effort / EFFORT_STEP) * EFFORT_STEP)  # fmt: skip


def _in_their_sheets(content: Content, columns: Columns) -> Content:
    """With several sheets a problem says in which one it is."""
    if not columns.sheets:
        return content
    sheets: dict[int, set[str]] = defaultdict(set)
    for row, sheet in zip(columns.row.tolist(), columns.sheets, strict=True):
        sheets[row].add(sheet)
    told = [problem if problem.row is None else replace(problem, column=_with_sheet(problem, sheets))
            for problem in content.problems]  # fmt: skip
    return replace(content, problems=told)


def _with_sheet(problem: Problem, sheets: dict[int, set[str]]) -> str:
    where = " or ".join(sorted(sheets.get(problem.row or 0, ())))
    return f"{where}: {problem.column}" if where else problem.column

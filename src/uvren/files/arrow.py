"""Reads tables by columns. What cannot be read is told row by row; what can be read is kept."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from enum import Enum
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
import pyarrow.csv as pacsv
import pyarrow.json as pajson

from uvren.files.errors import BadFile, Problem
from uvren.files.layout import MOST_KEPT_BYTES, Format, Layout, grids, look_at, straight
from uvren.files.parquet import open_parquet
from uvren.files.quantities import Measure, is_absent, quantities, sign_of_thousands
from uvren.files.safety import MOST_ROWS

Floats = np.ndarray[Any, np.dtype[np.float64]]
Ints = np.ndarray[Any, np.dtype[np.int64]]

NOTHING = ["", "-", "–", "NaN", "nan", "NA", "N/A", "n/a", "null", "NULL", "None", "#N/A"]
MOST_PROBLEMS = 1000
_TYPED_COMMA = re.compile(r"(?<=\d),(?=\d{1,2}(\D|$))")
# White space that an exported cell may carry.
_TRIM = " \u00a0\ufeff"


class Kind(Enum):
    """What a column is read as."""

    NUMBER = "number"
    TEXT = "text"
    MOMENT = "moment"


@dataclass(frozen=True)
class Columns:
    """Columns of a table.

    ``numbers`` are floats with nan where a cell is empty; ``texts`` strings, null where empty; ``moments`` either a
    zoned or naive timestamp array, or text where the writing is not ISO 8601. ``row`` is the number of each row in the
    file, from 1. ``problems`` tell what was left out; the rows of bad cells stand with an empty cell, and in ``bad``.
    ``sheets`` names the sheet of each row where several are read; ``notes`` say what was passed over.
    """

    numbers: dict[str, Floats]
    texts: dict[str, pa.Array]
    moments: dict[str, pa.Array]
    row: Ints
    bad: np.ndarray[Any, np.dtype[np.bool_]]
    problems: list[Problem]
    sheets: list[str] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)
    # Columns in which a sign can part thousands or decimals: the sign, and a cell that shows it.
    doubts: dict[str, tuple[str, str]] = field(default_factory=dict)


@dataclass(frozen=True)
class Quantity:
    """A column of numbers of one kind, with as many minutes to one of its unit.

    ``doubtful`` says that 1.250 in it can be a thousand and more.
    """

    measure: Measure
    minutes_in: float = 1.0
    doubtful: bool = False


Wanted = Mapping[str, Kind | Quantity]


def read_columns(
    path: Path, layout: Layout, wanted: Wanted, *, kept: bool = False, people: Collection[str] = (), around: str = ""
) -> Columns:
    """Read the wanted columns. Raises BadFile for a missing column and for a file that is no such table.

    ``kept`` says that this is a table as people keep it: titles and totals may stand between its rows.
    """
    if layout.is_workbook or (layout.format is Format.TEXT and kept and path.stat().st_size <= MOST_KEPT_BYTES):
        return _read_grid(path, layout, wanted, people, around)
    if layout.format is Format.TEXT:
        return _read_text(path, layout, wanted)
    row: Ints | None
    if layout.format is Format.PARQUET:
        table, row = _read_parquet(path, wanted), None
    elif layout.format is Format.JSON_LINES:
        table, row = _read_json_lines(path, wanted), None
    else:
        raise BadFile("This format holds no table.")
    row = np.arange(1, table.num_rows + 1, dtype=np.int64)
    return _columns_of(table, wanted, row, [], decimal=".")


def _lacking(wanted: Collection[str], there: Sequence[str]) -> None:
    lacking = [name for name in wanted if name not in there]
    if lacking:
        names = ", ".join(f"“{name}”" for name in lacking[:3])
        shown = ", ".join(there[:12]) or "none"
        raise BadFile(f"The file has no column {names}. Its columns are: {shown}.")


def _read_grid(path: Path, layout: Layout, wanted: Wanted, people: Collection[str], around: str) -> Columns:
    table = straight(grids(path, layout), layout, people, around)
    _lacking(wanted, table.columns)
    problems = [
        Problem(line, "", said, f"It has {count} of {len(table.columns)} columns.")
        for line, count, said in table.short
    ]  # fmt: skip
    place = {name: table.columns.index(name) for name in wanted}
    cells = {name: [row[at] for row in table.rows] for name, at in place.items()}
    if layout.is_workbook:
        # Numbers of a workbook have no sign of their own; one typed as words has that of who typed it.
        cells = {name: column if wanted[name] in (Kind.TEXT, Kind.MOMENT) else [_TYPED_COMMA.sub(".", cell)
                 for cell in column] for name, column in cells.items()}  # fmt: skip
    arrays = pa.table({name: pa.array(column, pa.string()) for name, column in cells.items()})
    row = np.array(table.lines, dtype=np.int64)
    decimal = layout.decimal if layout.format is Format.TEXT else "."
    read = _columns_of(arrays, wanted, row, problems, decimal, layout.thousands, table.sheets)
    read.notes[:0] = table.notes
    return read


def _read_text(path: Path, layout: Layout, wanted: Wanted) -> Columns:
    names = look_at(path, layout).columns
    _lacking(wanted, names)
    number_type: pa.DataType = pa.float64()
    types = {
        name: pa.string() if kind is Kind.TEXT else None if kind is Kind.MOMENT else number_type
        for name, kind in wanted.items()
    }
    moments = [name for name, kind in wanted.items() if kind is Kind.MOMENT]
    # First as if every cell were good; only a file with a bad one is read again as text, to say which.
    for moment in (pa.timestamp("ms"), pa.timestamp("ms", tz="UTC"), pa.float64()):
        try:
            table, skipped = _read_csv(path, layout, names, {**types, **dict.fromkeys(moments, moment)}, threads=True)
        except pa.ArrowInvalid:
            if not moments:
                break
            continue
        if skipped:
            break
        row = np.arange(table.num_rows, dtype=np.int64) + layout.first_data_row + 1
        columns = _columns_of(table, wanted, row, [], decimal=layout.decimal)
        if not columns.problems:
            return columns
        break
    try:
        table, skipped = _read_csv(path, layout, names, dict.fromkeys(wanted, pa.string()), threads=False)
    except pa.ArrowInvalid as error:
        raise BadFile(f"The text cannot be read as a table: {_short(error)}.") from error
    row = np.arange(table.num_rows + len(skipped), dtype=np.int64) + layout.first_data_row + 1
    gone = np.array([number for number, _, _ in skipped], dtype=np.int64)
    row = row[~np.isin(row, gone)]
    problems = [
        Problem(number, "", said[:80], why) for number, said, why in skipped if why
    ]  # an empty line is no problem
    return _columns_of(table, wanted, row[: table.num_rows], problems, decimal=layout.decimal)


def _short(error: Exception) -> str:
    return str(error).split("\n", maxsplit=1)[0][:160]


def _read_csv(
    path: Path, layout: Layout, names: list[str], types: dict[str, Any], *, threads: bool
) -> tuple[pa.Table, list[tuple[int, str, str]]]:
    """The table, and (row number, text, why) of every line that was skipped; ``why`` is empty for an empty line."""
    skipped: list[tuple[int, str, str]] = []

    def skip(bad: Any) -> str:
        empty = not bad.text.strip(f"{layout.separator} \t\r\n")
        why = "" if empty else f"It has {bad.actual_columns} of {bad.expected_columns} columns."
        skipped.append((int(bad.number or 0), bad.text, why))
        return "skip"

    try:
        table = pacsv.read_csv(
            path,
            read_options=pacsv.ReadOptions(
                encoding=layout.encoding.removesuffix("-sig"),
                column_names=names,
                skip_rows=layout.first_data_row,
                use_threads=threads,
                block_size=1 << 20 if threads else 1 << 23,
            ),
            parse_options=pacsv.ParseOptions(
                delimiter=layout.separator, newlines_in_values=False, ignore_empty_lines=False, invalid_row_handler=skip
            ),
            convert_options=pacsv.ConvertOptions(
                column_types=types,
                include_columns=list(types),
                null_values=NOTHING,
                strings_can_be_null=True,
                decimal_point=layout.decimal,
            ),
        )
    except UnicodeDecodeError as error:
        raise BadFile(
            f"The text is not {layout.encoding}: the file is damaged or written in another encoding."
        ) from error
    if table.num_rows > MOST_ROWS:
        raise BadFile(f"The file has {table.num_rows:,} rows; {MOST_ROWS:,} is the most.")
    return table, skipped


def _read_parquet(path: Path, wanted: Wanted) -> pa.Table:
    parquet = open_parquet(path)
    _lacking(wanted, parquet.schema_arrow.names)
    try:
        return parquet.read(columns=list(wanted))
    except (pa.ArrowException, OSError) as error:
        raise BadFile("The Parquet file is cut off or damaged.") from error


def _read_json_lines(path: Path, wanted: Wanted) -> pa.Table:
    try:
        # A key that only some of the lines have is a column all the same.
        table = pajson.read_json(path, read_options=pajson.ReadOptions(block_size=1 << 24))
    except pa.ArrowInvalid as error:
        raise BadFile(f"Not every line is a JSON object with values of one kind: {_short(error)}.") from error
    if table.num_rows > MOST_ROWS:
        raise BadFile(f"The file has {table.num_rows:,} rows; {MOST_ROWS:,} is the most.")
    _lacking(wanted, table.column_names)
    return table.select(list(wanted))


def _columns_of(
    table: pa.Table, wanted: Wanted, row: Ints, problems: list[Problem], decimal: str, thousands: str = "",
    sheets: Sequence[str] = (),
) -> Columns:  # fmt: skip
    table, row, sheets = _without_empty_rows(table, row, sheets)
    numbers: dict[str, Floats] = {}
    texts: dict[str, pa.Array] = {}
    moments: dict[str, pa.Array] = {}
    notes: list[str] = []
    doubts: dict[str, tuple[str, str]] = {}
    bad = np.zeros(table.num_rows, dtype=bool)
    for name, kind in wanted.items():
        array = table[name]
        if pa.types.is_dictionary(array.type):
            array = pc.cast(array, pa.string())
        if kind is Kind.NUMBER or isinstance(kind, Quantity):
            quantity = kind if isinstance(kind, Quantity) else Quantity(Measure.NUMBER)
            parts = thousands
            if quantity.doubtful:
                parts, doubt = _parting(array, decimal, thousands)
                doubts |= {name: doubt} if doubt else {}
            values, wrong = _numbers(array, name, row, problems, decimal, parts, quantity, notes)
            numbers[name] = values
            bad |= wrong
        elif kind is Kind.TEXT:
            texts[name] = _texts(array)
        else:
            moments[name] = array if pa.types.is_timestamp(array.type) else _moment_text(array)
    return Columns(numbers, texts, moments, row, bad, problems, list(sheets), notes, doubts)


def _parting(array: Any, decimal: str, thousands: str) -> tuple[str, tuple[str, str] | None]:
    """The sign between thousands, and where it is open if there is one: the sign and a cell that shows it."""
    if not pa.types.is_string(array.type):
        return "", None
    open_, sign, cell = sign_of_thousands((one.strip(_TRIM) for one in array.to_pylist() if one), decimal)
    if thousands == "no":
        return "", (sign, cell) if open_ else None
    # Read as thousands until it is answered: that is what people write with a sign in the middle.
    return sign, (sign, cell) if open_ else None


def _without_empty_rows(table: pa.Table, row: Ints, sheets: Sequence[str]) -> tuple[pa.Table, Ints, Sequence[str]]:
    if not table.num_columns or any(column.null_count == 0 for column in table.columns):
        return table, row, sheets
    filled = np.zeros(table.num_rows, dtype=bool)
    for column in table.columns:
        filled |= to_bools(pc.is_valid(column))
    if filled.all():
        return table, row, sheets
    return table.filter(pa.array(filled)), row[filled], [one for one, good in zip(sheets, filled, strict=False) if good]


def _texts(array: Any) -> pa.Array:
    if pa.types.is_floating(array.type):
        whole = pc.all(pc.or_kleene(pc.equal(array, pc.round(array)), pc.is_null(array)), min_count=0).as_py()
        array = pc.cast(array, pa.int64()) if whole else array
    trimmed = pc.utf8_trim(pc.cast(array, pa.string()), _TRIM)
    return pc.if_else(pc.is_in(trimmed, value_set=pa.array(NOTHING)), pa.scalar(None, pa.string()), trimmed)


def _moment_text(array: Any) -> pa.Array:
    return array if pa.types.is_floating(array.type) or pa.types.is_integer(array.type) else _texts(array)


def _numbers(
    array: Any, name: str, row: Ints, problems: list[Problem], decimal: str, thousands: str, kind: Quantity,
    notes: list[str],
) -> tuple[Floats, np.ndarray[Any, np.dtype[np.bool_]]]:  # fmt: skip
    """The column as floats; what is no finite number becomes nan, with a problem each."""
    if pa.types.is_string(array.type) or pa.types.is_large_string(array.type):
        said = _texts(array)
        sign = re_escape(decimal)
        fits = pc.match_substring_regex(said, rf"^[+-]?(\d+({sign}\d*)?|{sign}\d+)([eE][+-]?\d+)?$")
        if thousands and thousands != "no":
            fits = pc.and_(fits, pc.invert(pc.match_substring(said, thousands)))
        plain = pc.if_else(fits, said, pa.scalar(None, pa.string()))
        if decimal == ",":
            plain = pc.replace_substring(plain, ",", ".")
        values = _typed(_to_floats(pc.cast(plain, pa.float64())), said, kind, decimal, thousands)
    else:
        try:
            values = _to_floats(pc.cast(array, pa.float64()))
        except pa.ArrowException as error:
            raise BadFile(f"The column “{name}” holds no numbers.") from error
        said = array
        infinite = np.isinf(values)
        if not infinite.any():
            return values, infinite
        values = np.where(infinite, np.nan, values)
    there = to_bools(pc.is_valid(said)) & ~_is_nan(said)
    wrong = there & np.isnan(values)
    absent: Counter[str] = Counter()
    for i in np.flatnonzero(wrong).tolist():
        text = str(said[i].as_py())
        if is_absent(text):
            absent[text.strip()] += 1
            wrong[i] = False
        elif len(problems) < MOST_PROBLEMS:
            problems.append(Problem(int(row[i]), name, text[:80], _why_no_number(text, decimal)))
    if absent:
        words = ", ".join(f"{word} ({count})" for word, count in absent.most_common(6))
        notes.append(f"“{name}”: no number is made of {words}.")
    return values, wrong


def _typed(values: Floats, said: Any, kind: Quantity, decimal: str, thousands: str) -> Floats:
    """Numbers with what people type beside them: units, hours and minutes, signs between thousands."""
    open_ = np.flatnonzero(np.isnan(values) & to_bools(pc.is_valid(said)))
    if not open_.size:
        return values
    texts = [str(said[i].as_py()) for i in open_.tolist()]
    read = quantities(texts, kind.measure, decimal, thousands.removeprefix("no"), kind.minutes_in)
    values = values.copy()
    values[open_] = [np.nan if value is None else value for value in read]
    return values


def _is_nan(array: Any) -> np.ndarray[Any, np.dtype[np.bool_]]:
    if not pa.types.is_floating(array.type):
        return np.zeros(len(array), dtype=bool)
    return to_bools(pc.is_nan(array))


def re_escape(sign: str) -> str:
    return "\\." if sign == "." else sign


def _why_no_number(text: str, decimal: str) -> str:
    if text.lower().lstrip("+-") in ("inf", "infinity", "∞"):
        return "It is not a finite number."
    other = "," if decimal == "." else "."
    if text.replace(other, "", 1).lstrip("+-").isdigit():
        names = {",": "a comma", ".": "a point"}
        return f"It has {names[other]} where the numbers of this file have {names[decimal]}."
    return "It is not a number."


def _to_floats(array: Any) -> Floats:
    """The column as floats, nan where null."""
    return to_numpy(pc.cast(array, pa.float64()), float("nan"))


def to_numpy(array: Any, null: Any) -> np.ndarray[Any, Any]:
    """A column of fixed-width values as a NumPy array, ``null`` where null.

    Taken from the buffers: the library's own way loads pandas wherever it happens to be installed.
    """
    chunks = array.chunks if isinstance(array, pa.ChunkedArray) else [array]
    dtype = np.dtype(array.type.to_pandas_dtype())
    parts = []
    for chunk in chunks:
        whole = pc.fill_null(chunk, null) if chunk.null_count else chunk
        parts.append(np.frombuffer(whole.buffers()[1], dtype, len(whole), whole.offset * dtype.itemsize))
    if not parts:
        return np.zeros(0, dtype=dtype)
    return parts[0] if len(parts) == 1 else np.concatenate(parts)


def to_bools(array: Any) -> np.ndarray[Any, np.dtype[np.bool_]]:
    """A column of truths as a NumPy array, false where null."""
    return to_numpy(pc.cast(pc.fill_null(array, False), pa.uint8()), 0).astype(bool)

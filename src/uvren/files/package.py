"""Tables in one ZIP, described as a tabular data package: each as CSV for people and as Parquet for programs."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import UTC, date, datetime
from pathlib import Path
from typing import IO, Any

import pyarrow as pa
import pyarrow.parquet as papq

from uvren.files.errors import BadFile
from uvren.files.safety import DESCRIPTION, check_archive
from uvren.files.writing import TableFormat, write_table

# What a cell can be, by the name that the package's description has for it.
TYPES: dict[str, pa.DataType] = {
    "string": pa.string(),
    "integer": pa.int64(),
    "number": pa.float64(),
    "boolean": pa.bool_(),
    "date": pa.date32(),
    "datetime": pa.timestamp("us", tz="UTC"),
    "object": pa.string(),
}


@dataclass(frozen=True)
class Resource:
    """A table of the package: its fields by name, with their types, and which of them point where."""

    name: str
    title: str
    fields: Mapping[str, str]
    key: str = "id"
    points: Mapping[str, str] = field(default_factory=dict)

    def described(self, rows: int) -> dict[str, Any]:
        schema: dict[str, Any] = {"fields": [{"name": name, "type": kind} for name, kind in self.fields.items()]}
        if self.key in self.fields:
            schema["primaryKey"] = self.key
        if self.points:
            schema["foreignKeys"] = [
                {"fields": name, "reference": {"resource": table, "fields": "id"}}
                for name, table in self.points.items()
            ]
        return {
            "name": self.name, "title": self.title, "path": f"{self.name}.csv", "profile": "tabular-data-resource",
            "format": "csv", "mediatype": "text/csv", "encoding": "utf-8", "schema": schema,
            "parquet": f"{self.name}.parquet", "rows": rows,
        }  # fmt: skip


def write_package(
    out: IO[bytes], about: Mapping[str, Any], tables: Iterable[tuple[Resource, Sequence[Sequence[Any]]]],
    more: Iterable[tuple[str, bytes]] = (),
) -> None:  # fmt: skip
    """Write the tables and what else goes with them; objects and lists in cells are written as JSON."""
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        described = []
        for resource, rows in tables:
            cells = [[_cell(value) for value in row] for row in rows]
            archive.writestr(f"{resource.name}.csv", write_table(TableFormat.CSV, list(resource.fields), cells))
            archive.writestr(f"{resource.name}.parquet", _parquet(resource, cells))
            described.append(resource.described(len(cells)))
        for name, content in more:
            archive.writestr(name, content)
        whole = {"profile": "tabular-data-package", **about, "resources": described}
        archive.writestr(DESCRIPTION, json.dumps(whole, ensure_ascii=False, indent=1))


def _cell(value: Any) -> Any:
    if isinstance(value, dict | list):
        return json.dumps(value, ensure_ascii=False)
    return value


def _parquet(resource: Resource, cells: Sequence[Sequence[Any]]) -> bytes:
    schema = pa.schema([pa.field(name, TYPES[kind]) for name, kind in resource.fields.items()])
    columns = list(zip(*cells, strict=True)) if cells else [()] * len(schema)
    arrays = [
        pa.array([_plain(value) for value in column], kind.type) for column, kind in zip(columns, schema, strict=True)
    ]
    out = io.BytesIO()
    papq.write_table(pa.Table.from_arrays(arrays, schema=schema), out)
    return out.getvalue()


def _plain(value: Any) -> Any:
    return str(value) if isinstance(value, str) else value


@dataclass(frozen=True)
class Package:
    """What a package holds: what it says of itself, and the rows of each table by the names of their fields."""

    about: dict[str, Any]
    tables: dict[str, list[dict[str, Any]]]
    more: dict[str, bytes]


def read_package(path: Path, wanted: Mapping[str, Resource], beside: str = "") -> Package:
    """The wanted tables, and the files below ``beside``. Raises BadFile for what is none or lacks a field."""
    names = set(check_archive(path))
    try:
        with zipfile.ZipFile(path) as archive:
            about = json.loads(archive.read(DESCRIPTION))
            listed = {str(one["name"]) for one in about["resources"]}
            tables = {name: _rows(archive, names, resource) for name, resource in wanted.items() if name in listed}
            more = {name: archive.read(name) for name in sorted(names) if beside and name.startswith(beside)}
    except (KeyError, ValueError, TypeError, zipfile.BadZipFile, pa.ArrowException, OSError) as error:
        if isinstance(error, BadFile):
            raise
        raise BadFile("The package is cut off or damaged, or its description does not fit what is in it.") from error
    return Package({name: value for name, value in about.items() if name != "resources"}, tables, more)


def _rows(archive: zipfile.ZipFile, names: set[str], resource: Resource) -> list[dict[str, Any]]:
    name = f"{resource.name}.parquet"
    if name not in names:
        raise BadFile(f"The package has no {name}.")
    table = papq.read_table(io.BytesIO(archive.read(name)))
    lacking = [one for one in resource.fields if one not in table.column_names]
    if lacking:
        raise BadFile(f"{name} has no column {lacking[0]!r}.")
    columns = {one: [_read(cell, kind) for cell in table[one].to_pylist()] for one, kind in resource.fields.items()}
    return [dict(zip(columns, row, strict=True)) for row in zip(*columns.values(), strict=True)]


def _read(cell: Any, kind: str) -> Any:
    if cell is None:
        return None
    if kind == "object":
        return json.loads(cell)
    if kind == "datetime" and isinstance(cell, datetime):
        return cell.astimezone(UTC)
    if kind == "date" and isinstance(cell, datetime):
        return cell.date()
    return cell


def kind_of(value: type) -> str:
    """The name of a Python type in a description."""
    for known, name in ((bool, "boolean"), (int, "integer"), (float, "number"), (datetime, "datetime"), (date, "date"),
                        (dict, "object"), (list, "object")):  # fmt: skip
        if issubclass(value, known):
            return name
    return "string"

"""What every made-up file has, and the words, days and containers that all of them are made of."""

import csv
import io
import zipfile
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import date, timedelta
from random import Random

import openpyxl

from tests.conftest import TODAY

PEOPLE = [
    "Aune Bergli",
    "Bo Carstad",
    "Cille Dovre",
    "Dag Eikemo",
    "Eira Fosse",
    "Frode Grann",
    "Gry Hauso",
    "Hjalmar Ims",
]
NUMBERS = {name: 4 + 3 * i for i, name in enumerate(PEOPLE)}
SHEET_EPOCH = date(1899, 12, 30)

# What is true of somebody on a day: (minutes, effort, load as given) of each session, None where not said.
Session = tuple[float | None, float | None, float | None]
Truth = dict[tuple[str, date], list[Session]]


@dataclass
class Made:
    """A made-up file. ``expect`` is in, asked or refused; ``why`` is what a refusal must say."""

    kind: str
    name: str
    content: bytes
    truth: Truth = field(default_factory=dict)
    expect: str = "in"
    answers: dict[str, str] = field(default_factory=dict)
    people: dict[str, str | None] = field(default_factory=dict)
    sheets: str = ""
    roles: dict[str, str] = field(default_factory=dict)
    good_rows: bool = False
    why: str = ""
    athlete: str = ""
    other: dict[str, object] = field(default_factory=dict)


KINDS: dict[str, Callable[[Random], Made]] = {}


def kind(make: Callable[[Random], Made]) -> Callable[[Random], Made]:
    KINDS[make.__name__] = make
    return make


def made_files(count: int, seed: int) -> list[Made]:
    """``count`` files, of every kind in turn."""
    makers = list(KINDS.values())
    return [makers[i % len(makers)](Random(f"{seed}/{i}")) for i in range(count)]


def days(random: Random, count: int, latest: int = 20) -> list[date]:
    """Days of training, in order."""
    last = TODAY - timedelta(days=random.randint(1, latest))
    return sorted(last - timedelta(days=back) for back in random.sample(range(0, int(count * 1.6) + 2), count))


def rated(random: Random) -> tuple[float, float]:
    return float(random.choice([45, 60, 70, 75, 80, 90, 105])), float(random.choice([3, 4, 5, 5.5, 6, 7, 8, 8.5]))


def plain_truth(random: Random, dates: list[date], people: list[str], miss: float = 0.15) -> Truth:
    return {(name, day): [(*rated(random), None)] for day in dates for name in people if random.random() > miss}


def loads_truth(random: Random, dates: list[date], people: list[str], least: int = 150) -> Truth:
    return {
        (name, day): [(None, None, float(random.randint(least, 900)))]
        for day in dates
        for name in people
        if random.random() > 0.15
    }


def number(value: float | None, decimal: str = ".") -> str:
    return "" if value is None else f"{value:g}".replace(".", decimal)


def text(rows: list[list[object]], separator: str = ",", encoding: str = "utf-8", end: str = "\n") -> bytes:
    out = io.StringIO()
    csv.writer(out, delimiter=separator, lineterminator=end).writerows(rows)
    return out.getvalue().encode(encoding)


def book(
    sheets: dict[str, list[list[object]]], merged: dict[str, list[str]] | None = None, hidden: tuple[str, ...] = ()
) -> bytes:
    made = openpyxl.Workbook()
    made.remove(made.active)
    for name, rows in sheets.items():
        sheet = made.create_sheet(name)
        for row in rows:
            sheet.append([None if cell == "" else cell for cell in row])
        for cells in (merged or {}).get(name, []):
            sheet.merge_cells(cells)
        if name in hidden:
            sheet.sheet_state = "hidden"
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


SPREADSHEET = "application/vnd.oasis.opendocument.spreadsheet"
MANIFEST = (
    '<?xml version="1.0"?><manifest:manifest xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0">'
    f'<manifest:file-entry manifest:full-path="/" manifest:media-type="{SPREADSHEET}"/></manifest:manifest>'
)


def ods(name: str, rows: list[list[object]]) -> bytes:
    """A small OpenDocument spreadsheet."""

    def typed(kind: str, value: object, said: str) -> str:
        inside = f"<text:p>{value}</text:p></table:table-cell>"
        return f'<table:table-cell office:value-type="{kind}" office:{said}="{value}">{inside}'

    def cell(value: object) -> str:
        if isinstance(value, date):
            return typed("date", value.isoformat(), "date-value")
        if isinstance(value, int | float):
            return typed("float", value, "value")
        if value in ("", None):
            return "<table:table-cell/>"
        return f'<table:table-cell office:value-type="string"><text:p>{value}</text:p></table:table-cell>'

    body = "".join(f"<table:table-row>{''.join(map(cell, row))}</table:table-row>" for row in rows)
    names = {one: f"urn:oasis:names:tc:opendocument:xmlns:{one}:1.0" for one in ("office", "table", "text")}
    attributes = " ".join(f'xmlns:{one}="{urn}"' for one, urn in names.items())
    content = (
        f'<?xml version="1.0" encoding="UTF-8"?><office:document-content {attributes} office:version="1.2">'
        f'<office:body><office:spreadsheet><table:table table:name="{name}">{body}</table:table>'
        "</office:spreadsheet></office:body></office:document-content>"
    )
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("mimetype", SPREADSHEET, zipfile.ZIP_STORED)
        archive.writestr("META-INF/manifest.xml", MANIFEST)
        archive.writestr("content.xml", content)
    return out.getvalue()


POINTS, ISO = "%d.%m.%Y", "%Y-%m-%d"


def settled(dates: list[date]) -> bool:
    """Whether days first can be told from months first by these days."""
    return any(day.day > 12 for day in dates)


def heads(random: Random) -> list[str]:
    return [
        random.choice(["Name", "Player", "Athlete", "Full name"]),
        random.choice(["Date", "Day", "Session date"]),
        random.choice(["Minutes", "Duration (min)", "Min", "Session duration"]),
        random.choice(["RPE", "Effort", "sRPE", "Session RPE", "How hard (0-10)"]),
    ]


def long_rows(truth: Truth, form: str, decimal: str = ".") -> list[list[object]]:
    return [
        [name, day.strftime(form), number(minutes, decimal), number(effort, decimal)]
        for (name, day), sessions in sorted(truth.items(), key=lambda item: (item[0][1], item[0][0]))
        for minutes, effort, _ in sessions
    ]


def crowd(random: Random, least: int = 4) -> list[str]:
    return sorted(random.sample(PEOPLE, random.randint(least, len(PEOPLE))))

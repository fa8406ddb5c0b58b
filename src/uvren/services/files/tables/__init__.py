"""Tables other than sessions and recordings: reports, results of tests, matches to come, people."""

from uvren.services.files.mappings import FileKind
from uvren.services.files.tables.fixtures import FIXTURES
from uvren.services.files.tables.people import PEOPLE
from uvren.services.files.tables.reports import REPORTS
from uvren.services.files.tables.results import RESULTS
from uvren.services.files.tables.table import Table

TABLES: dict[FileKind, Table] = {
    FileKind.REPORTS: REPORTS,
    FileKind.TESTS: RESULTS,
    FileKind.FIXTURES: FIXTURES,
    FileKind.ROSTER: PEOPLE,
}

__all__ = ["TABLES", "Table"]

"""How large a file may be, looked at before anything is unpacked."""

from __future__ import annotations

import zipfile
from pathlib import Path

from uvren.files.errors import BadFile

MOST_BYTES = 400 * 1024 * 1024
MOST_ROWS = 10_000_000
MOST_COLUMNS = 400
# A spreadsheet unpacks to about ten times its size; a bomb to thousands.
MOST_UNPACKED = 1024 * 1024 * 1024
MOST_RATIO = 200
SMALL_UNPACKED = 20 * 1024 * 1024
# The file that says what is in a data package.
DESCRIPTION = "datapackage.json"
MOST_XML_BYTES = 64 * 1024 * 1024


def megabytes(size: int) -> str:
    return f"{size / 1024 / 1024:,.0f} MB"


def check_size(path: Path) -> None:
    """Raises BadFile for an empty file and for one that is too large."""
    size = path.stat().st_size
    if size == 0:
        raise BadFile("The file is empty.")
    if size > MOST_BYTES:
        raise BadFile(f"The file has {megabytes(size)}; {megabytes(MOST_BYTES)} is the most. Split it by session.")


def check_archive(path: Path) -> list[str]:
    """Names in a zip archive. Raises BadFile for one that would unpack to far more than a spreadsheet does."""
    try:
        with zipfile.ZipFile(path) as archive:
            members = archive.infolist()
    except (zipfile.BadZipFile, OSError) as error:
        raise BadFile("The file is cut off or damaged: it cannot be unpacked.") from error
    unpacked = sum(member.file_size for member in members)
    packed = max(sum(member.compress_size for member in members), 1)
    if unpacked > MOST_UNPACKED or (unpacked > SMALL_UNPACKED and unpacked / packed > MOST_RATIO):
        raise BadFile(f"The file would unpack to {megabytes(unpacked)}, far more than a table does. It was not opened.")
    if any(member.flag_bits & 1 for member in members):
        raise BadFile("The file is locked with a password. Save it without one.")
    return [member.filename for member in members]

"""Files into the club's records: looked at, brought in whole or not at all, and taken back as a whole."""

from uvren.services.files.bringing import NotAllGood, bring_in
from uvren.services.files.coming import (
    Preview,
    about,
    discard,
    find_import,
    imports_of,
    preview,
    put_down,
    queue,
    run,
    take_by_itself,
)
from uvren.services.files.guessing import roles_of
from uvren.services.files.package import Reader, take_out
from uvren.services.files.undoing import undo

__all__ = [
    "NotAllGood",
    "Preview",
    "Reader",
    "about",
    "bring_in",
    "discard",
    "find_import",
    "imports_of",
    "preview",
    "put_down",
    "queue",
    "roles_of",
    "run",
    "take_by_itself",
    "take_out",
    "undo",
]

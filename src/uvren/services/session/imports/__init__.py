"""Files into the club's records: looked at, brought in whole or not at all, and taken back as a whole."""

from uvren.services.session.imports.bringing import NotAllGood, bring_in
from uvren.services.session.imports.files import (
    Preview,
    discard,
    find_import,
    imports_of,
    preview,
    put_down,
    queue,
    run,
    take_by_itself,
)
from uvren.services.session.imports.undoing import undo

__all__ = [
    "NotAllGood",
    "Preview",
    "bring_in",
    "discard",
    "find_import",
    "imports_of",
    "preview",
    "put_down",
    "queue",
    "run",
    "take_by_itself",
    "undo",
]

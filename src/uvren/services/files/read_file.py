"""A file read by its mapping: samples by athlete, or rows of a table that people keep."""

from __future__ import annotations

from pathlib import Path

from uvren.files.layout import Format, look_at
from uvren.services.files.mappings import FileKind, Spec
from uvren.services.files.read_events import read_events
from uvren.services.files.read_rows import read_rows
from uvren.services.files.read_samples import Around, Content, read_samples, read_track, with_some_length


def read_file(path: Path, spec: Spec, around: Around) -> Content:
    """Read a file by its mapping. Raises BadFile for what cannot be read at all."""
    layout = spec.layout or look_at(path, None, around.people, around.name).layout
    if layout.format is Format.GPX:
        return with_some_length(read_track(path, spec), around)
    if layout.format is Format.ICALENDAR:
        return read_events(path, spec, around)
    if spec.kind is FileKind.SAMPLES:
        return with_some_length(read_samples(path, layout, spec), around)
    return read_rows(path, layout, spec, around)

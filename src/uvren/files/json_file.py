"""JSON files that hold one thing of a known shape."""

from __future__ import annotations

from pathlib import Path
from typing import TypeVar

from pydantic import BaseModel, ConfigDict, ValidationError

from uvren.files.errors import BadFile


class Given(BaseModel):
    """Anything that stands in such a file; a number is a number, never NaN."""

    model_config = ConfigDict(allow_inf_nan=False)


Shape = TypeVar("Shape", bound=Given)


def read_as(path: Path, shape: type[Shape]) -> Shape:
    """What a file holds. Raises BadFile, in one sentence with the place of what is wrong first; OSError."""
    try:
        return shape.model_validate_json(path.read_bytes())
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"])
        raise BadFile(f"{path}: {where + ': ' if where else ''}{first['msg'].lower()}") from None

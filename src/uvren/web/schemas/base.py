"""What every schema builds on."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

ULID = r"^[0-7][0-9A-HJKMNP-TV-Z]{25}$"
Ulid = Annotated[str, Field(pattern=ULID)]
Number = Annotated[float, Field(allow_inf_nan=False)]


class Out(BaseModel):
    model_config = ConfigDict(from_attributes=True)


class In(BaseModel):
    model_config = ConfigDict(extra="forbid")

"""What comes in and goes out: views."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from uvren.web.schemas import In, Out


class ViewOut(Out):
    id: str
    name: str
    query: str


class ViewsOut(Out):
    views: list[ViewOut]


class ViewIn(In):
    name: Annotated[str, Field(max_length=60)]
    query: Annotated[str, Field(max_length=400)]

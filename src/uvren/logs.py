"""What is logged: lines of JSON, and of an error its kinds and places; nothing of what anybody said."""

from __future__ import annotations

import logging
import sys
import traceback
from collections.abc import MutableMapping
from pathlib import Path
from typing import Any

import structlog


def log_as_json() -> None:
    """Have everything logged so, by this program and by the packages it uses."""
    structlog.configure(
        processors=[
            structlog.processors.add_log_level,
            structlog.processors.TimeStamper(fmt="iso", utc=True),
            _where_it_broke,
            structlog.processors.JSONRenderer(),
        ],
        logger_factory=lambda *_: structlog.WriteLogger(sys.stderr),
    )
    handler = logging.StreamHandler(sys.stderr)
    handler.setFormatter(_Places("%(levelname)s %(name)s: %(message)s"))
    logging.basicConfig(handlers=[handler], level=logging.WARNING)


def places_of(error: BaseException | None) -> list[dict[str, Any]]:
    """Kinds of an error and of what led to it, and where. Messages are left out: values stand in them, and health."""
    found: list[dict[str, Any]] = []
    while error is not None:
        frames = traceback.extract_tb(error.__traceback__)
        places = [f"{Path(frame.filename).name}:{frame.lineno} {frame.name}" for frame in frames]
        found.append({"error": type(error).__name__, "at": places})
        error = error.__cause__ or error.__context__
    return found


def _where_it_broke(_logger: Any, _name: str, event: MutableMapping[str, Any]) -> MutableMapping[str, Any]:
    if event.pop("exc_info", None):
        event["broke"] = places_of(sys.exc_info()[1])
    return event


class _Places(logging.Formatter):
    """For what packages log."""

    def formatException(self, ei: Any) -> str:
        return str(places_of(ei[1]))

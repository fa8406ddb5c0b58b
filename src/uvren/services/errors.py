"""What a service answers when it cannot do what was asked. ``field`` is a path such as ``changes.3.effort``."""

from __future__ import annotations

from typing import Any


class ServiceError(Exception):
    """Base of the family; ``status`` is what the web answers with."""

    status = 400
    title = "This cannot be done"

    def __init__(self, detail: str, *, field: str | None = None, extra: dict[str, Any] | None = None) -> None:
        super().__init__(detail)
        self.detail = detail
        self.field = field
        self.extra = extra or {}


class NotFound(ServiceError):
    status = 404
    title = "Not found"


class NotAllowed(ServiceError):
    status = 403
    title = "Not allowed"


class NotSignedIn(ServiceError):
    status = 401
    title = "Not signed in"


class Invalid(ServiceError):
    status = 422
    title = "Not accepted"


class TooLarge(ServiceError):
    status = 413
    title = "Too large"


class Stale(ServiceError):
    """Someone changed it in the meantime; ``extra`` holds both versions."""

    status = 409
    title = "Changed by someone else"


class TooMany(ServiceError):
    status = 429
    title = "Too many tries"

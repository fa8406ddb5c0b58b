"""Errors as RFC 9457 problem details, each with the request's id and the path of the field at fault."""

from __future__ import annotations

from typing import Any

import structlog
from apiflask import APIFlask, HTTPError
from flask import Response, g, json, session
from flask_wtf.csrf import CSRFError
from werkzeug.exceptions import HTTPException

from uvren.core.errors import CoreError
from uvren.services.errors import NotSignedIn, ServiceError, TooMany
from uvren.store.database import why_away
from uvren.web.context import SIGN_IN_FIRST, TOKEN

log = structlog.get_logger()

RETRY_AFTER, SIGN_IN_AFTER = "2", "900"


def problem(status: int, title: str, detail: str, **more: Any) -> Response:
    body = {"type": "about:blank", "title": title, "status": status, "detail": detail}
    body |= {"request_id": g.get("request_id", ""), **more}
    return Response(json.dumps(body), status, mimetype="application/problem+json")


def install(app: APIFlask) -> None:
    """Register a handler for every kind of error there is."""

    @app.error_processor
    def http_error(error: HTTPError) -> Response:
        errors = []
        if isinstance(error.detail, dict):
            for fields in error.detail.values():
                if isinstance(fields, dict):
                    errors += [{"field": name, "detail": _plain(texts)} for name, texts in fields.items()]
        detail = errors[0]["detail"] if errors else error.message or ""
        return problem(error.status_code, error.message or "Error", detail, errors=errors)

    @app.errorhandler(ServiceError)
    def service_error(error: ServiceError) -> Response:
        errors = [{"field": error.field, "detail": error.detail}] if error.field else []
        answer = problem(error.status, error.title, error.detail, errors=errors, **error.extra)
        if isinstance(error, TooMany):
            answer.headers["Retry-After"] = RETRY_AFTER if error.field is None else SIGN_IN_AFTER
        return answer

    @app.errorhandler(CoreError)
    def core_error(error: CoreError) -> Response:
        errors = [{"field": error.field, "detail": str(error)}] if error.field else []
        return problem(422, "Not accepted", str(error), errors=errors)

    @app.errorhandler(CSRFError)
    def csrf_error(_error: CSRFError) -> Response:
        # A browser without a sign-in has no token either; signing in is what helps it.
        if not session.get(TOKEN):
            return problem(401, NotSignedIn.title, SIGN_IN_FIRST)
        return problem(403, "Not allowed", "This page is out of date. Load it again; what you typed is kept.")

    @app.errorhandler(RecursionError)
    def too_deep(_error: RecursionError) -> Response:
        return problem(422, "Not accepted", "What was sent is nested too deeply.")

    @app.errorhandler(HTTPException)
    def werkzeug_error(error: HTTPException) -> Response:
        return problem(error.code or 500, error.name, error.description or error.name)

    @app.errorhandler(Exception)
    def unexpected(error: Exception) -> Response:
        away = why_away(error)
        if away is not None:
            log.warning("unavailable", request_id=g.get("request_id"), why=away)
            said = f"The database cannot be asked just now: {away}. Try again in a moment; what you typed is kept here."
            answer = problem(503, "Not just now", said)
            answer.headers["Retry-After"] = RETRY_AFTER
            return answer
        log.exception("unexpected", request_id=g.get("request_id"), error=type(error).__name__)
        return problem(
            500,
            "Something went wrong on our side",
            f"It was written to the log under {g.get('request_id', '')}. What was saved before is kept.",
        )


def _plain(texts: list[str]) -> str:
    return "; ".join(text.removeprefix("Value error, ") for text in texts)

"""Puts the application together."""

from __future__ import annotations

import os
import random
import time
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import structlog
from apiflask import APIFlask
from flask import Flask, Response, g, request, send_from_directory, session
from flask.json.provider import DefaultJSONProvider
from flask.sessions import SecureCookieSessionInterface, SessionMixin
from flask_compress import Compress
from flask_talisman import Talisman
from flask_wtf.csrf import CSRFProtect
from ulid import ULID
from werkzeug.middleware.proxy_fix import ProxyFix

from uvren import __version__
from uvren.background import Background
from uvren.logs import log_as_json
from uvren.services.club import accounts as accounts_service
from uvren.services.day.kept import Days
from uvren.store import database
from uvren.web import context, problems
from uvren.web.answers import Answers
from uvren.web.athlete import athlete
from uvren.web.clock import Clock
from uvren.web.club import account, accounts, begin, club, invitations, own_account
from uvren.web.field import field, live
from uvren.web.field.broadcast import Broadcasts
from uvren.web.files import files
from uvren.web.morning import calls, morning, sheet, views
from uvren.web.reports import own, reports
from uvren.web.return_ import clinical, rest_trials, returns, sides
from uvren.web.season import season
from uvren.web.session import demands, making, recordings, sessions, spine, work
from uvren.web.squad import anchors, channels, export, fitness, limits, members, new_squad, notices
from uvren.web.turns import Turns
from uvren.web.week import after, block, feeds, lighter, templates, week

DIST = Path(__file__).parents[3] / "frontend" / "dist"
LARGEST_BODY = 1024 * 1024
# How often a request is tried that fails only because another was at the same.
BEGINS = 4

# The style library writes its rules into the page as it runs, which needs inline styles; scripts never are.
POLICY = {
    "default-src": "'none'",
    "script-src": "'self'",
    "style-src": ["'self'", "'unsafe-inline'"],
    "img-src": ["'self'", "data:"],
    "font-src": "'self'",
    "connect-src": "'self'",
    "manifest-src": "'self'",
    "frame-ancestors": "'none'",
    "base-uri": "'none'",
    "form-action": "'self'",
}

# Who watches a session live holds a thread of the process; the others answer everybody else.
MOST_VIEWERS = 40

log = structlog.get_logger()


class Uvren(APIFlask):
    """What a request does stands as a whole when its answer is made, and not at all where that is a problem.

    What has to stand all the same, such as a failed try to sign in, commits where it is written. Where two wait for
    each other one of them begins again, which nobody notices but by the time it takes.
    """

    def __init__(self, *names: Any, **given: Any) -> None:
        super().__init__(*names, **given)
        self._turns = Turns()

    def dispatch_request(self) -> Response:
        token = session.get(context.TOKEN)
        if not token:
            return self._dispatch()
        with self._turns.one(str(session.get(context.USER, token))):
            return self._dispatch()

    def _dispatch(self) -> Response:
        for left in reversed(range(BEGINS)):
            try:
                answer = self.make_response(super().dispatch_request())
                db = g.get("db")
                if db is not None and answer.status_code < 400:
                    db.commit()
                return answer
            except Exception as error:
                if not left or not database.contended(error) or request.content_type == "application/octet-stream":
                    raise
                log.info("begun again", request_id=g.get("request_id"), left=left)
                g.db.rollback()
                g.pop("person", None)
                time.sleep(random.uniform(0.02, 0.1))
        raise AssertionError


class AgedCookies(SecureCookieSessionInterface):
    """A cookie says itself how long it holds: as long as the sign-in that it carries."""

    def get_expiration_time(self, app: Flask, session: SessionMixin) -> datetime | None:
        until = session.get(context.UNTIL)
        return None if until is None else datetime.fromtimestamp(until, UTC)


class StrictJson(DefaultJSONProvider):
    """Answers are JSON that any reader takes: a NaN or an infinity in one is an error of ours, not an answer."""

    sort_keys = False

    def dumps(self, obj: Any, **kwargs: Any) -> str:
        return super().dumps(obj, allow_nan=False, **kwargs)


def create_app(database_url: str | None = None, secret_key: str | None = None, clock: Clock | None = None) -> APIFlask:
    """The application; what is not given comes from the environment (see docs/operate.md)."""
    app = Uvren(__name__, title="Uvren", version=__version__, spec_path="/api/openapi.json", docs_path=None)
    app.config.update(
        SECRET_KEY=secret_key or os.environ["UVREN_SECRET_KEY"],
        OPENAPI_VERSION="3.1.0",
        MAX_CONTENT_LENGTH=LARGEST_BODY,
        SESSION_COOKIE_NAME="uvren",
        SESSION_COOKIE_HTTPONLY=True,
        SESSION_COOKIE_SAMESITE="Strict",
        SESSION_COOKIE_SECURE=os.environ.get("UVREN_HTTPS") == "1",
        SESSION_REFRESH_EACH_REQUEST=False,
        PERMANENT_SESSION_LIFETIME=accounts_service.ATHLETE_STAYS,
        SCREENS=DIST,
        UVREN_ADDRESS=os.environ.get("UVREN_ADDRESS") or "http://127.0.0.1/",
        WTF_CSRF_HEADERS=["X-CSRF-Token"],
        WTF_CSRF_TIME_LIMIT=None,
        COMPRESS_MIMETYPES=["text/html", "text/css", "text/javascript", "application/json", "image/svg+xml"],
        AUTO_404_RESPONSE=False,
    )
    log_as_json()
    app.json = StrictJson(app)
    app.session_interface = AgedCookies()
    # How many servers stand in front, each of which says whom it speaks for; without any, nobody's word is taken.
    proxies = int(os.environ.get("UVREN_PROXIES") or 0)
    if proxies:
        app.wsgi_app = ProxyFix(app.wsgi_app, x_for=proxies, x_proto=proxies)  # type: ignore[method-assign]
    engine = database.connect(database_url or os.environ["UVREN_DATABASE_URL"])
    app.extensions["uvren_sessions"] = database.sessions(engine)
    app.extensions["uvren_answers"] = Answers()
    app.extensions["uvren_days"] = Days(database.snapshots(engine))
    app.extensions["uvren_background"] = Background(database_url or os.environ["UVREN_DATABASE_URL"])
    app.extensions["uvren_live"] = Broadcasts(MOST_VIEWERS)
    app.extensions["uvren_clock"] = clock or Clock(app.extensions["uvren_sessions"])
    # Before the protection against forged requests, which reads the body.
    app.before_request(files.make_way_for_files)
    protection = CSRFProtect(app)
    # A hub is no browser: it carries a secret of its own, and no sign-in that somebody could misuse.
    protection.exempt(live.samples)
    Compress(app)
    _protect(app)
    problems.install(app)
    _log_requests(app)
    stages = (
        *(account, own_account, accounts, invitations, begin, club),
        *(morning, calls, sheet, views),
        *(spine, sessions, making, work, files, recordings, demands, field, live),
        *(own, reports),
        *(week, after, block, lighter, feeds, templates, season),
        *(clinical, rest_trials, returns, sides),
        *(athlete,),
        *(new_squad, members, limits, channels, anchors, fitness, notices, export),
    )
    for module in stages:
        app.register_blueprint(module.blueprint)
    _serve_screens(app)
    return app


def _protect(app: APIFlask) -> None:
    Talisman(
        app,
        force_https=False,
        strict_transport_security=app.config["SESSION_COOKIE_SECURE"],
        session_cookie_secure=app.config["SESSION_COOKIE_SECURE"],
        session_cookie_samesite="Strict",
        content_security_policy=POLICY,
        referrer_policy="same-origin",
        permissions_policy={"geolocation": "()", "camera": "()", "microphone": "()"},
    )


def _without_secrets(path: str) -> str:
    """A path as it may be logged: whoever has a calendar's link has the calendar."""
    return "/api/calendars/…" if path.startswith("/api/calendars/") else path


def _log_requests(app: APIFlask) -> None:
    @app.before_request
    def begin() -> None:
        g.request_id = str(ULID())
        g.began = time.perf_counter()

    @app.after_request
    def end(response: Response) -> Response:
        response.headers["X-Request-ID"] = g.get("request_id", "")
        if request.path.startswith("/api/"):
            response.headers.setdefault("Cache-Control", "no-store")
            log.info(
                "request",
                request_id=g.get("request_id"),
                method=request.method,
                path=_without_secrets(request.path),
                status=response.status_code,
                ms=round((time.perf_counter() - g.get("began", time.perf_counter())) * 1000, 1),
                user=g.person.user_id if "person" in g else None,
            )
        return response

    @app.teardown_appcontext
    def close(_error: BaseException | None) -> None:
        for name in ("db", "db_as_known"):
            db = g.pop(name, None)
            if db is not None:
                db.close()


def _serve_screens(app: APIFlask) -> None:
    @app.get("/", defaults={"path": ""})
    @app.get("/<path:path>")
    @app.doc(hide=True)
    def screen(path: str) -> Response:
        if path.startswith("api/"):
            return problems.problem(404, "Not found", "There is no such resource.")
        if path.startswith("assets/"):
            response = send_from_directory(DIST, path, max_age=365 * 24 * 3600)
            response.cache_control.immutable = True
            return response
        if path and (DIST / path).is_file():
            return send_from_directory(DIST, path)
        # Every screen has an address of its own; the page behind all of them is the same.
        return send_from_directory(DIST, "index.html", max_age=0)

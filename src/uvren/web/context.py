"""What a request stands in: its database session, its moment, its person."""

from __future__ import annotations

import secrets
import time
from datetime import date, datetime, timedelta

from flask import Response, after_this_request, current_app, g, request, session

from uvren.core.audience import Audience
from uvren.services.club.accounts import Whence, person_of
from uvren.services.club.permissions import Action, Person
from uvren.services.day.dates import local_day
from uvren.services.errors import Invalid, NotSignedIn
from uvren.services.squad.squads import squad_for
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.changes import about
from uvren.store.database import DbSession
from uvren.store.models import Squad
from uvren.store.versions import known_at, written_at

TOKEN, UNTIL, USER = "token", "until", "user"
DEVICE, DEVICE_STAYS = "uvren_device", timedelta(days=400)
SIGN_IN_FIRST = "Sign in to go on; what you typed is kept on this screen."
# Days before and after which nothing is kept and nothing is planned.
EARLIEST, HORIZON = date(2000, 1, 1), timedelta(days=400)


def db() -> DbSession:
    if "db" not in g:
        g.db = current_app.extensions["uvren_sessions"]()
        written_at(g.db, now())
        days = current_app.extensions["uvren_days"]
        if days is not None:
            days.lend(g.db)
    return g.db


def db_as_known(moment: datetime) -> DbSession:
    """A session that reads entries, reports, limits and calls as they stood at a moment."""
    if "db_as_known" not in g:
        g.db_as_known = current_app.extensions["uvren_sessions"]()
        known_at(g.db_as_known, moment)
    return g.db_as_known


def now() -> datetime:
    return current_app.extensions["uvren_clock"].now()


def person() -> Person:
    """The signed-in person. Raises NotSignedIn."""
    if "person" not in g:
        token = session.get(TOKEN)
        if not token:
            raise NotSignedIn(SIGN_IN_FIRST)
        g.person = person_of(db(), token, now())
    return g.person


def device() -> str:
    """The browser as it calls itself, in few words."""
    agent = request.user_agent.string
    system = next(
        (name for name in ("iPhone", "iPad", "Android", "Windows", "Macintosh", "Linux") if name in agent), ""
    )
    browser = next((name for name in ("Firefox", "Edg", "Chrome", "Safari") if name in agent), "")
    known = " on ".join(filter(None, (browser.replace("Edg", "Edge"), system.replace("Macintosh", "Mac"))))
    return known or "unknown device"


def whence() -> Whence:
    """From where the request comes; a browser that was never here gets a mark of its own with the answer."""
    return Whence(request.remote_addr or "", device(), request.cookies.get(DEVICE) or _mark())


def _mark() -> str:
    mark = secrets.token_urlsafe(24)

    @after_this_request
    def give(response: Response) -> Response:
        secure = current_app.config["SESSION_COOKIE_SECURE"]
        response.set_cookie(DEVICE, mark, max_age=DEVICE_STAYS, httponly=True, samesite="Strict", secure=secure)
        return response

    return mark


def carry(token: str, user_id: int, stays: timedelta) -> None:
    """Let the browser carry a sign-in, for as long as it holds; nothing of what it carried before is kept."""
    session.clear()
    session[TOKEN], session[USER] = token, user_id
    session[UNTIL] = time.time() + stays.total_seconds()
    session.permanent = True


def address_of(path: str) -> str:
    """The whole address of a path, as the installation is configured: never as the request calls it."""
    return f"{current_app.config['UVREN_ADDRESS'].rstrip('/')}/{path}"


def squad(slug: str, action: Action = Action.READ_SQUAD, *, writes: bool | None = None) -> Squad:
    """The squad of a path, if the person may do this in it. Who writes takes its lock, before any other.

    ``writes`` says so where the method does not: False for what is only tried out.
    """
    found = squad_for(db(), person(), slug, action)
    about(db(), found.id)
    if writes if writes is not None else request.method not in ("GET", "HEAD"):
        queries.squad.hold(db(), found.id)
    return found


def audiences(of: Squad) -> frozenset[Audience]:
    """Whose notices the person may read."""
    may = {Audience.DESK}
    if person().may(Action.READ_REPORTS, of.id):
        may.add(Audience.REPORTS)
    if person().may(Action.READ_CLINICAL, of.id):
        may.add(Audience.CLINICAL)
    return frozenset(may)


def stamp() -> Stamp:
    """The signed-in person, now."""
    return Stamp(person().user_id, now())


def today(of: Squad) -> date:
    return local_day(of, now())


def sane(day: date, field: str = "day") -> date:
    """The day, if anything can be known or planned of it. Raises Invalid."""
    if not EARLIEST <= day <= now().date() + HORIZON:
        raise Invalid("That day is too far away.", field=field)
    return day

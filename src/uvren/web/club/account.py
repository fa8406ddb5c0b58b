"""Signing in and out, who one is, and whether the service is well."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint
from flask import current_app, session
from flask_wtf.csrf import generate_csrf

from uvren.services.club import accounts
from uvren.services.day.dates import known_days, local_day
from uvren.services.errors import NotSignedIn
from uvren.services.squad.squads import squads_of
from uvren.store import queries
from uvren.store.database import answers
from uvren.web import context
from uvren.web.club import account_schemas as schemas
from uvren.web.schemas import DoneOut

blueprint = APIBlueprint("account", __name__)


@blueprint.get("/healthz")
@blueprint.doc(hide=True)
def healthz() -> tuple[dict[str, str], int]:
    if answers(context.db()):
        return {"status": "ok"}, 200
    return {"status": "the database does not answer"}, 503


@blueprint.get("/api/me")
@blueprint.output(schemas.MeOut)
@blueprint.doc(operation_id="me", summary="Who is signed in, and what they may do")
def me() -> dict[str, Any]:
    try:
        person = context.person()
    except NotSignedIn:
        person = None
    squads = squads_of(context.db(), person) if person else []
    out = []
    for squad in squads:
        first, last = known_days(context.db(), squad)
        out.append(
            {
                "slug": squad.slug,
                "name": squad.name,
                "time_zone": squad.time_zone,
                "today": local_day(squad, context.now()),
                "first_day": first,
                "last_day": last,
                "may": person.actions(squad.id) if person else [],
            }
        )
    return {
        "signed_in": person is not None,
        "name": person.name if person else "",
        "user_id": person.user_id if person else None,
        "club_admin": person is not None and person.club_admin,
        "begun": person is not None or queries.club.club_there(context.db()),
        "csrf_token": generate_csrf(),
        "now": context.now(),
        "demo": current_app.extensions["uvren_clock"].demo() is not None,
        "squads": out,
    }


@blueprint.post("/api/sign-in")
@blueprint.input(schemas.SignInIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="signIn", summary="Sign in")
def sign_in(json_data: schemas.SignInIn) -> dict[str, bool]:
    db, now = context.db(), context.now()
    token = accounts.sign_in(db, json_data.login, json_data.password, context.whence(), now, code=json_data.code)
    user_id = accounts.person_of(db, token, now).user_id
    context.carry(token, user_id, accounts.stays(db, user_id))
    return {"done": True}


@blueprint.post("/api/sign-out")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="signOut", summary="Sign out")
def sign_out() -> dict[str, bool]:
    token = session.get(context.TOKEN)
    if token:
        accounts.sign_out(context.db(), token)
    session.clear()
    return {"done": True}

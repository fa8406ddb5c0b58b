"""One’s own account: sign-ins, password, second factor."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint
from flask import session

from uvren.services.club import accounts, second_factor
from uvren.store import queries
from uvren.store.models import User
from uvren.web import context
from uvren.web.club import own_account_schemas as schemas
from uvren.web.club.invitations import picture
from uvren.web.schemas import DoneOut

blueprint = APIBlueprint("own_account", __name__, url_prefix="/api/account")


@blueprint.get("")
@blueprint.output(schemas.AccountOut)
@blueprint.doc(operation_id="account", summary="One's own account and where it is signed in")
def read_account() -> dict[str, Any]:
    db, person = context.db(), context.person()
    user = db.get_one(User, person.user_id)
    here = accounts.digest(session[context.TOKEN])
    return {
        "name": user.name,
        "login": user.login,
        "second_factor": user.totp_secret is not None,
        "sign_ins": [
            {"id": one.id, "device": one.device, "created_at": one.created_at, "seen_at": one.seen_at,
             "this": one.token_digest == here}
            for one in queries.accounts.sign_ins_of(db, user.id, context.now())
        ],
        "links_used": accounts.links_used(db, user.id, context.now()),
    }  # fmt: skip


@blueprint.delete("/sign-ins/<sign_in_id>")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="revokeSignIn", summary="End one of one's own sign-ins")
def revoke(sign_in_id: str) -> dict[str, bool]:
    accounts.revoke(context.db(), context.person().user_id, sign_in_id)
    return {"done": True}


@blueprint.put("/password")
@blueprint.input(schemas.PasswordIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="changePassword", summary="Give oneself another password")
def change_password(json_data: schemas.PasswordIn) -> dict[str, bool]:
    person, token = context.person(), session[context.TOKEN]
    address = context.whence().address
    accounts.change_password(context.db(), person.user_id, json_data.old, json_data.new, token, address, context.now())
    return {"done": True}


@blueprint.post("/second-factor/new")
@blueprint.output(schemas.SecondFactorOut)
@blueprint.doc(operation_id="newSecondFactor", summary="A secret to give to an authenticator app")
def new_second_factor() -> dict[str, str]:
    user = context.db().get_one(User, context.person().user_id)
    secret = second_factor.new_secret()
    return {"secret": secret, "picture": picture(second_factor.address(secret, user.login))}


@blueprint.put("/second-factor")
@blueprint.input(schemas.SecondFactorIn)
@blueprint.output(schemas.RecoveryCodesOut)
@blueprint.doc(operation_id="useSecondFactor", summary="Ask for one-time codes from now on")
def use_second_factor(json_data: schemas.SecondFactorIn) -> dict[str, list[str]]:
    person, now = context.person(), context.now()
    codes = second_factor.switch_on(context.db(), person.user_id, json_data.secret, json_data.code, now)
    return {"recovery_codes": codes}


@blueprint.post("/second-factor/drop")
@blueprint.input(schemas.DropSecondFactorIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="dropSecondFactor", summary="Go back to the password alone")
def drop_second_factor(json_data: schemas.DropSecondFactorIn) -> dict[str, bool]:
    accounts.drop_second_factor(
        context.db(),
        context.person().user_id,
        json_data.password,
        json_data.code,
        context.whence().address,
        context.now(),
    )
    return {"done": True}

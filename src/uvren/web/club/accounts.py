"""Who can sign in: the accounts of a squad."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from uvren.services.club import invitations
from uvren.services.club.permissions import Action
from uvren.services.squad import members
from uvren.store import queries
from uvren.web import context
from uvren.web.club import accounts_schemas as schemas
from uvren.web.club.invitations import invitation_out, invited_out
from uvren.web.club.invitations_schemas import InvitedOut
from uvren.web.schemas import DoneOut

blueprint = APIBlueprint("accounts", __name__, url_prefix="/api/squads/<slug>")


@blueprint.get("/accounts")
@blueprint.output(schemas.AccountsOut)
@blueprint.doc(operation_id="accounts", summary="Who can sign in, who is invited, and who is in the squad")
def read_accounts(slug: str) -> dict[str, Any]:
    squad = context.squad(slug, Action.LINK_ATHLETES)
    db = context.db()
    everyone = invitations.accounts_of(db, squad)
    # Without the right to manage people only athletes' accounts are anybody's business.
    if not context.person().may(Action.MANAGE_PEOPLE, squad.id):
        everyone = [one for one in everyone if one.user.athlete_id is not None]
    has = {one.user.athlete_id for one in everyone}
    there, today = queries.squad.memberships(db, squad.id, context.today(squad)), context.today(squad)
    since = members.since(db, squad)
    linkable = invitations.linkable(db, squad, {one.athlete_id for one in there}, context.person(), today)
    return {
        "users": [
            {
                "id": one.user.id,
                "name": one.user.name,
                "login": one.user.login,
                "role": one.role,
                "active": one.user.active,
                "athlete_id": one.user.athlete_id,
                "second_factor": one.user.totp_secret is not None,
            }
            for one in everyone
        ],
        "invitations": [invitation_out(one) for one in invitations.open_invitations(db, squad, context.now())],
        "members": [
            {
                "athlete_id": one.athlete_id,
                "name": one.athlete.name,
                "number": one.number,
                "position": one.position,
                "from_day": one.from_day,
                "since": since[one.athlete_id],
                "to_day": one.to_day,
                "account": one.athlete_id in has,
                "linkable": one.athlete_id in linkable,
            }
            for one in there
        ],
    }


@blueprint.post("/accounts/<int:user_id>/new-password")
@blueprint.output(InvitedOut)
@blueprint.doc(operation_id="newPasswordLink", summary="A one-time link to a new password")
def new_password(slug: str, user_id: int) -> dict[str, Any]:
    squad = context.squad(slug, Action.LINK_ATHLETES)
    person, now = context.person(), context.now()
    made = invitations.new_password_link(context.db(), squad, user_id, person=person, now=now)
    return invited_out(made)


@blueprint.put("/accounts/<int:user_id>/active")
@blueprint.input(schemas.ActiveIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="setActive", summary="Let someone sign in, or no more")
def set_active(slug: str, user_id: int, json_data: schemas.ActiveIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.MANAGE_PEOPLE)
    person, now = context.person(), context.now()
    invitations.set_active(context.db(), squad, user_id, json_data.active, person=person, now=now)
    return {"done": True}


@blueprint.delete("/accounts/<int:user_id>/second-factor")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="resetSecondFactor", summary="For who has lost their authenticator")
def reset_second_factor(slug: str, user_id: int) -> dict[str, bool]:
    squad = context.squad(slug, Action.MANAGE_PEOPLE)
    person, now = context.person(), context.now()
    invitations.reset_second_factor(context.db(), squad, user_id, person=person, now=now)
    return {"done": True}


# The club and its audit ------------------------------------------------------------------------------------

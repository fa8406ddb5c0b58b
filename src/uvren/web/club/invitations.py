"""Links with which people come in."""

from __future__ import annotations

import io
from typing import Any

import segno
from apiflask import APIBlueprint

from uvren.services.club import accounts, invitations
from uvren.services.club.permissions import Action
from uvren.store.models import Invitation
from uvren.web import context
from uvren.web.club import invitations_schemas as schemas
from uvren.web.schemas import DoneOut

blueprint = APIBlueprint("invitations", __name__)
SQUAD = "/api/squads/<slug>"


def picture(text: str) -> str:
    """A QR code as an SVG element."""
    buffer = io.BytesIO()
    segno.make(text, error="m").save(
        buffer, kind="svg", scale=4, border=2, xmldecl=False, svgclass=None, lineclass=None
    )
    return buffer.getvalue().decode()


@blueprint.post("/api/invitations/look")
@blueprint.input(schemas.LookIn)
@blueprint.output(schemas.LookOut)
@blueprint.doc(operation_id="lookAtInvitation", summary="What a link is for")
def look(json_data: schemas.LookIn) -> dict[str, Any]:
    invitation, squad, user = invitations.look(context.db(), json_data.token, context.now())
    out = {"squad": squad.name, "name": invitation.name, "role": invitation.role, "login": user.login if user else None}
    context.db().rollback()
    return out


@blueprint.post("/api/invitations/accept")
@blueprint.input(schemas.AcceptIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="acceptInvitation", summary="Use a link: make the account or choose a password; signs in")
def accept(json_data: schemas.AcceptIn) -> dict[str, bool]:
    db, now = context.db(), context.now()
    whence = context.whence()
    user = invitations.accept(db, json_data.token, json_data.login, json_data.password, whence, now)
    if user.totp_secret is not None:
        # The link stands for the password alone.
        return {"done": True}
    token = accounts.open_sign_in(db, user, now, whence)
    context.carry(token, user.id, accounts.stays(db, user.id))
    return {"done": True}


def invitation_out(one: Invitation) -> dict[str, Any]:
    fields = ("id", "name", "role", "athlete_id", "made_at", "expires_at")
    return {name: getattr(one, name) for name in fields} | {"new_password": one.user_id is not None}


def invited_out(one: invitations.Invited) -> dict[str, Any]:
    # After the #, so that it is in no log of any server on the way.
    address = context.address_of(f"join#{one.token}")
    return invitation_out(one.invitation) | {"address": address, "picture": picture(address)}


@blueprint.get(f"{SQUAD}/code")
@blueprint.output(schemas.SquadCodeOut)
@blueprint.doc(operation_id="squadCode", summary="The address of the squad's phone page, for everyone to point at")
def squad_code(slug: str) -> dict[str, str]:
    squad = context.squad(slug, Action.READ_REPORTS)
    # No secret: whoever follows it still signs in with an account of their own.
    address = context.address_of(f"?squad={squad.slug}")
    return {"address": address, "picture": picture(address)}


@blueprint.post(f"{SQUAD}/invitations/athletes")
@blueprint.input(schemas.InviteAthletesIn)
@blueprint.output(schemas.InvitedListOut)
@blueprint.doc(operation_id="inviteAthletes", summary="A one-time link for each of these athletes")
def invite_athletes(slug: str, json_data: schemas.InviteAthletesIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.LINK_ATHLETES)
    person, now = context.person(), context.now()
    made = invitations.invite_athletes(context.db(), squad, json_data.athletes, person=person, now=now)
    return {"invited": [invited_out(one) for one in made]}


@blueprint.post(f"{SQUAD}/invitations/staff")
@blueprint.input(schemas.InviteStaffIn)
@blueprint.output(schemas.InvitedOut)
@blueprint.doc(operation_id="inviteStaff", summary="A one-time link for a member of staff")
def invite_staff(slug: str, json_data: schemas.InviteStaffIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.MANAGE_PEOPLE)
    person, now = context.person(), context.now()
    made = invitations.invite_staff(context.db(), squad, json_data.role, json_data.name, person=person, now=now)
    return invited_out(made)


@blueprint.delete(f"{SQUAD}/invitations/<invitation_id>")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="withdrawInvitation", summary="Let a link work no more")
def withdraw_invitation(slug: str, invitation_id: str) -> dict[str, bool]:
    squad = context.squad(slug, Action.LINK_ATHLETES)
    invitations.withdraw(context.db(), squad, invitation_id, stamp=context.stamp())
    return {"done": True}

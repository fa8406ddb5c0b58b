"""Who belongs to a squad and who can sign in: invitations, accounts, the club's choices, and who saw what."""

from __future__ import annotations

import io
from typing import Any

import segno
from apiflask import APIBlueprint
from flask import Response, request, session

from uvren.services import accounts, audit, invitations, members, privacy, second_factor
from uvren.services.errors import Invalid
from uvren.services.permissions import Action
from uvren.store import queries
from uvren.store.models import Athlete, Club, Invitation, Squad, User
from uvren.web import context
from uvren.web.schemas import DayQuery, DoneOut
from uvren.web.schemas import people as schemas

blueprint = APIBlueprint("people", __name__)
SQUAD = "/api/squads/<slug>"


def picture(text: str) -> str:
    """A QR code as an SVG element."""
    buffer = io.BytesIO()
    segno.make(text, error="m").save(
        buffer, kind="svg", scale=4, border=2, xmldecl=False, svgclass=None, lineclass=None
    )
    return buffer.getvalue().decode()


# Who is in the squad ---------------------------------------------------------------------------------------


@blueprint.get(f"{SQUAD}/people")
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.SquadPeopleOut)
@blueprint.doc(operation_id="people", summary="Who is in the squad on a day, and its staff: names, and nothing else")
def read_people(slug: str, query_data: DayQuery) -> dict[str, Any]:
    squad = context.squad(slug)
    athletes = queries.members(context.db(), squad.id, context.sane(query_data.day))
    return {"athletes": athletes, "staff": accounts.staff_of(context.db(), squad)}


# One's own account -----------------------------------------------------------------------------------------


@blueprint.get("/api/account")
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
            for one in accounts.sign_ins(db, user.id, context.now())
        ],
    }  # fmt: skip


@blueprint.delete("/api/account/sign-ins/<sign_in_id>")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="revokeSignIn", summary="End one of one's own sign-ins")
def revoke(sign_in_id: str) -> dict[str, bool]:
    accounts.revoke(context.db(), context.person().user_id, sign_in_id)
    context.db().commit()
    return {"done": True}


@blueprint.put("/api/account/password")
@blueprint.input(schemas.PasswordIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="changePassword", summary="Give oneself another password")
def change_password(json_data: schemas.PasswordIn) -> dict[str, bool]:
    person, token = context.person(), session[context.TOKEN]
    accounts.change_password(context.db(), person.user_id, json_data.old, json_data.new, token, context.now())
    context.db().commit()
    return {"done": True}


@blueprint.post("/api/account/second-factor/new")
@blueprint.output(schemas.SecondFactorOut)
@blueprint.doc(operation_id="newSecondFactor", summary="A secret to give to an authenticator app")
def new_second_factor() -> dict[str, str]:
    user = context.db().get_one(User, context.person().user_id)
    secret = second_factor.new_secret()
    return {"secret": secret, "picture": picture(second_factor.address(secret, user.login))}


@blueprint.put("/api/account/second-factor")
@blueprint.input(schemas.SecondFactorIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="useSecondFactor", summary="Ask for one-time codes from now on")
def use_second_factor(json_data: schemas.SecondFactorIn) -> dict[str, bool]:
    person = context.person()
    second_factor.switch_on(context.db(), person.user_id, json_data.secret, json_data.code, context.now())
    context.db().commit()
    return {"done": True}


@blueprint.delete("/api/account/second-factor")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="dropSecondFactor", summary="Go back to the password alone")
def drop_second_factor() -> dict[str, bool]:
    person = context.person()
    second_factor.switch_off(context.db(), person.user_id, by=person.user_id, now=context.now())
    context.db().commit()
    return {"done": True}


# Invitations -----------------------------------------------------------------------------------------------


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
    address = request.remote_addr or ""
    user = invitations.accept(db, json_data.token, json_data.login, json_data.password, address, now)
    if user.totp_secret is not None:
        # The link stands for the password alone.
        db.commit()
        return {"done": True}
    token = accounts.open_sign_in(db, user, user.login, now, context.device())
    session.clear()
    session[context.TOKEN] = token
    return {"done": True}


def invitation_out(one: Invitation) -> dict[str, Any]:
    fields = ("id", "name", "role", "athlete_id", "made_at", "expires_at")
    return {name: getattr(one, name) for name in fields} | {"new_password": one.user_id is not None}


def invited_out(one: invitations.Invited) -> dict[str, Any]:
    # After the #, so that it is in no log of any server on the way.
    address = f"{request.host_url}join#{one.token}"
    return invitation_out(one.invitation) | {"address": address, "picture": picture(address)}


@blueprint.get(f"{SQUAD}/accounts")
@blueprint.output(schemas.AccountsOut)
@blueprint.doc(operation_id="accounts", summary="Who can sign in, who is invited, and who is in the squad")
def read_accounts(slug: str) -> dict[str, Any]:
    squad = context.squad(slug, Action.INVITE)
    db = context.db()
    everyone = invitations.accounts_of(db, squad)
    # Without the right to manage people only athletes' accounts are anybody's business.
    if not context.person().may(Action.MANAGE_PEOPLE, squad.id):
        everyone = [one for one in everyone if one.user.athlete_id is not None]
    has = {one.user.athlete_id for one in everyone}
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
                "to_day": one.to_day,
                "account": one.athlete_id in has,
            }
            for one in members.memberships(db, squad, context.today(squad))
        ],
    }


@blueprint.get(f"{SQUAD}/code")
@blueprint.output(schemas.SquadCodeOut)
@blueprint.doc(operation_id="squadCode", summary="The address of the squad's phone page, for everyone to point at")
def squad_code(slug: str) -> dict[str, str]:
    squad = context.squad(slug, Action.READ_REPORTS)
    # No secret: whoever follows it still signs in with an account of their own.
    address = f"{request.host_url}?squad={squad.slug}"
    return {"address": address, "picture": picture(address)}


@blueprint.post(f"{SQUAD}/invitations/athletes")
@blueprint.input(schemas.InviteAthletesIn)
@blueprint.output(schemas.InvitedListOut)
@blueprint.doc(operation_id="inviteAthletes", summary="A one-time link for each of these athletes")
def invite_athletes(slug: str, json_data: schemas.InviteAthletesIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.INVITE)
    by = context.person().user_id
    made = invitations.invite_athletes(context.db(), squad, json_data.athletes, by=by, now=context.now())
    context.db().commit()
    return {"invited": [invited_out(one) for one in made]}


@blueprint.post(f"{SQUAD}/invitations/staff")
@blueprint.input(schemas.InviteStaffIn)
@blueprint.output(schemas.InvitedOut)
@blueprint.doc(operation_id="inviteStaff", summary="A one-time link for a member of staff")
def invite_staff(slug: str, json_data: schemas.InviteStaffIn) -> dict[str, Any]:
    squad = context.squad(slug, Action.MANAGE_PEOPLE)
    person, now = context.person(), context.now()
    made = invitations.invite_staff(context.db(), squad, json_data.role, json_data.name, person=person, now=now)
    context.db().commit()
    return invited_out(made)


@blueprint.delete(f"{SQUAD}/invitations/<invitation_id>")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="withdrawInvitation", summary="Let a link work no more")
def withdraw_invitation(slug: str, invitation_id: str) -> dict[str, bool]:
    squad = context.squad(slug, Action.INVITE)
    invitations.withdraw(context.db(), squad, invitation_id, by=context.person().user_id, now=context.now())
    context.db().commit()
    return {"done": True}


@blueprint.post(f"{SQUAD}/accounts/<int:user_id>/new-password")
@blueprint.output(schemas.InvitedOut)
@blueprint.doc(operation_id="newPasswordLink", summary="A one-time link to a new password")
def new_password(slug: str, user_id: int) -> dict[str, Any]:
    squad = context.squad(slug, Action.INVITE)
    person, now = context.person(), context.now()
    made = invitations.new_password_link(context.db(), squad, user_id, person=person, now=now)
    context.db().commit()
    return invited_out(made)


@blueprint.put(f"{SQUAD}/accounts/<int:user_id>/active")
@blueprint.input(schemas.ActiveIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="setActive", summary="Let someone sign in, or no more")
def set_active(slug: str, user_id: int, json_data: schemas.ActiveIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.MANAGE_PEOPLE)
    by = context.person().user_id
    invitations.set_active(context.db(), squad, user_id, json_data.active, by=by, now=context.now())
    context.db().commit()
    return {"done": True}


@blueprint.delete(f"{SQUAD}/accounts/<int:user_id>/second-factor")
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="resetSecondFactor", summary="For who has lost their authenticator")
def reset_second_factor(slug: str, user_id: int) -> dict[str, bool]:
    squad = context.squad(slug, Action.MANAGE_PEOPLE)
    db = context.db()
    if user_id not in {one.user.id for one in invitations.accounts_of(db, squad)}:
        raise Invalid("There is no such person in this squad.")
    second_factor.switch_off(db, user_id, by=context.person().user_id, now=context.now())
    db.commit()
    return {"done": True}


# Athletes of the squad -------------------------------------------------------------------------------------


@blueprint.post(f"{SQUAD}/members")
@blueprint.input(schemas.MemberIn)
@blueprint.output(schemas.NewAthleteOut)
@blueprint.doc(operation_id="addMember", summary="A new athlete in the squad")
def add_member(slug: str, json_data: schemas.MemberIn) -> dict[str, int]:
    squad = context.squad(slug, Action.INVITE)
    given = json_data.model_dump() | {"from_day": context.sane(json_data.from_day)}
    made = members.join(context.db(), squad, **given, by=context.person().user_id, now=context.now())
    context.db().commit()
    return {"athlete_id": made.athlete_id}


@blueprint.put(f"{SQUAD}/members/<int:athlete_id>")
@blueprint.input(schemas.PositionIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="changeMember", summary="Another position or number from a day on")
def change_member(slug: str, athlete_id: int, json_data: schemas.PositionIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.INVITE)
    given = json_data.model_dump() | {"from_day": context.sane(json_data.from_day)}
    members.change(context.db(), squad, athlete_id, **given, by=context.person().user_id, now=context.now())
    context.db().commit()
    return {"done": True}


@blueprint.put(f"{SQUAD}/members/<int:athlete_id>/last-day")
@blueprint.input(schemas.LeaveIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="leaveSquad", summary="Let a day be the athlete's last one in the squad")
def leave(slug: str, athlete_id: int, json_data: schemas.LeaveIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.INVITE)
    to_day = context.sane(json_data.to_day)
    members.leave(context.db(), squad, athlete_id, to_day, by=context.person().user_id, now=context.now())
    context.db().commit()
    return {"done": True}


@blueprint.get(f"{SQUAD}/members/<int:athlete_id>/copy.zip")
@blueprint.doc(operation_id="copyOfAthlete", summary="All that is kept of an athlete, as JSON and CSV in a ZIP")
def copy_of(slug: str, athlete_id: int) -> Response:
    squad = context.squad(slug, Action.MANAGE_PEOPLE)
    db, by = context.db(), context.person().user_id
    content = privacy.copy_of(db, squad, athlete_id, by=by, now=context.now())
    db.commit()
    headers = {"Content-Disposition": f'attachment; filename="athlete-{athlete_id}.zip"'}
    return Response(content, mimetype="application/zip", headers=headers)


@blueprint.post(f"{SQUAD}/members/<int:athlete_id>/forget")
@blueprint.input(schemas.ForgetIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="forgetAthlete", summary="Make an athlete nameless, or erase all of it, at their request")
def forget(slug: str, athlete_id: int, json_data: schemas.ForgetIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.MANAGE_PEOPLE)
    db, by = context.db(), context.person().user_id
    athlete = db.get(Athlete, athlete_id)
    if athlete is not None and athlete.name != json_data.name.strip():
        raise Invalid("This is not the athlete's name as it stands here.", field="name")
    privacy.forget(db, squad, athlete_id, everything=json_data.everything, by=by, now=context.now())
    db.commit()
    return {"done": True}


# The club and its audit ------------------------------------------------------------------------------------


def _club(squad: Squad) -> Club:
    return context.db().get_one(Club, squad.club_id)


@blueprint.get(f"{SQUAD}/club")
@blueprint.output(schemas.ClubOut)
@blueprint.doc(operation_id="club", summary="What the club has decided about health data")
def read_club(slug: str) -> Club:
    return _club(context.squad(slug, Action.MANAGE_PEOPLE))


@blueprint.put(f"{SQUAD}/club")
@blueprint.input(schemas.ClubIn)
@blueprint.output(schemas.ClubOut)
@blueprint.doc(operation_id="setClub", summary="Decide about health data")
def set_club(slug: str, json_data: schemas.ClubIn) -> Club:
    squad = context.squad(slug, Action.MANAGE_PEOPLE)
    club, db = _club(squad), context.db()
    changes = json_data.model_dump()
    by, now = context.person().user_id, context.now()
    audit.note(db, "club_set", f"club:{club.id}", by=by, now=now, squad_id=squad.id, **changes)
    for name, value in changes.items():
        setattr(club, name, value)
    db.flush()
    privacy.keep_to_retention(db, club, now=now)
    db.commit()
    return club


@blueprint.get(f"{SQUAD}/audit")
@blueprint.input(schemas.AuditQuery, location="query")
@blueprint.output(schemas.AuditOut)
@blueprint.doc(operation_id="audit", summary="Who saw or changed what, newest first")
def read_audit(slug: str, query_data: schemas.AuditQuery) -> dict[str, Any]:
    squad = context.squad(slug, Action.READ_AUDIT)
    return {"rows": audit.read(context.db(), squad, **query_data.model_dump())}

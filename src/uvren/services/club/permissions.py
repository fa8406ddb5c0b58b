"""Who may do what: one table, squad by squad."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass
from enum import StrEnum

from uvren.services.errors import NotAllowed, NotFound
from uvren.store.models import Role


class Action(StrEnum):
    """What can be done in a squad. To read an athlete's own page one has to be that athlete.

    ``LINK_ATHLETES`` makes the first link of somebody of whom nothing clinical is kept, ``RELINK_ATHLETES`` any other.
    ``RUN_CLUB`` is no role's in a squad: it is of who acts for the whole club.
    """

    READ_SQUAD = "read_squad"
    READ_WORDS = "read_words"
    READ_REASONS = "read_reasons"
    EDIT_ENTRIES = "edit_entries"
    PLAN = "plan"
    RUN_SESSIONS = "run_sessions"
    MAKE_CALLS = "make_calls"
    EDIT_LIMITS = "edit_limits"
    EDIT_UNITS = "edit_units"
    READ_ANCHORS = "read_anchors"
    EDIT_ANCHORS = "edit_anchors"
    IMPORT = "import"
    EXPORT = "export"
    READ_REPORTS = "read_reports"
    ENTER_REPORTS = "enter_reports"
    EDIT_FORMS = "edit_forms"
    READ_AVAILABILITY = "read_availability"
    READ_CLINICAL = "read_clinical"
    EDIT_CLINICAL = "edit_clinical"
    PLAN_RETURNS = "plan_returns"
    INVITE = "invite"
    LINK_ATHLETES = "link_athletes"
    RELINK_ATHLETES = "relink_athletes"
    WRITE_NOTES = "write_notes"
    MANAGE_PEOPLE = "manage_people"
    READ_AUDIT = "read_audit"
    OWN_PAGE = "own_page"
    RUN_CLUB = "run_club"


MAY: dict[Role, frozenset[Action]] = {
    Role.PERFORMANCE: frozenset(
        {
            Action.READ_SQUAD,
            Action.READ_WORDS,
            Action.READ_REASONS,
            Action.EDIT_ENTRIES,
            Action.PLAN,
            Action.RUN_SESSIONS,
            Action.MAKE_CALLS,
            Action.EDIT_LIMITS,
            Action.EDIT_UNITS,
            Action.READ_ANCHORS,
            Action.EDIT_ANCHORS,
            Action.IMPORT,
            Action.EXPORT,
            Action.READ_REPORTS,
            Action.ENTER_REPORTS,
            Action.EDIT_FORMS,
            Action.READ_AVAILABILITY,
            Action.PLAN_RETURNS,
            Action.INVITE,
            Action.LINK_ATHLETES,
            Action.WRITE_NOTES,
        }
    ),
    Role.CLINICIAN: frozenset(
        {
            Action.READ_SQUAD,
            Action.READ_WORDS,
            Action.READ_REASONS,
            Action.RUN_SESSIONS,
            Action.READ_ANCHORS,
            Action.READ_REPORTS,
            Action.ENTER_REPORTS,
            Action.READ_AVAILABILITY,
            Action.READ_CLINICAL,
            Action.EDIT_CLINICAL,
            Action.PLAN_RETURNS,
            Action.LINK_ATHLETES,
            Action.RELINK_ATHLETES,
            Action.WRITE_NOTES,
        }
    ),
    # Plans the week against everybody's room, and learns no reason for it.
    Role.COACH: frozenset({Action.READ_SQUAD, Action.READ_AVAILABILITY, Action.PLAN, Action.RUN_SESSIONS}),
    Role.ATHLETE: frozenset({Action.OWN_PAGE}),
    # Runs the house, and sees nothing of anybody's health or load.
    Role.ADMIN: frozenset({Action.INVITE, Action.LINK_ATHLETES, Action.MANAGE_PEOPLE, Action.READ_AUDIT}),
}


@dataclass(frozen=True)
class Person:
    """The signed-in person, with their roles by squad.

    ``athlete_id`` is who they are as an athlete. ``clinical_by_setting`` is the club's decision that performance staff
    may read clinical detail. ``club_admin`` acts for the whole club: in each of its squads as an administrator.
    """

    user_id: int
    name: str
    roles: dict[int, frozenset[Role]]
    club_id: int = 0
    athlete_id: int | None = None
    clinical_by_setting: bool = False
    club_admin: bool = False

    def may(self, action: Action, squad_id: int) -> bool:
        roles = self._in(squad_id)
        if action is Action.RUN_CLUB:
            return self.club_admin
        if action is Action.READ_CLINICAL and self.clinical_by_setting and Role.PERFORMANCE in roles:
            return True
        return any(action in MAY[role] for role in roles)

    def actions(self, squad_id: int) -> list[Action]:
        return [action for action in Action if self.may(action, squad_id)]

    def must(self, action: Action, squad_id: int) -> None:
        """Raises NotFound for a squad one is no part of, NotAllowed for what one may not do there."""
        if not self._in(squad_id):
            raise NotFound("There is no such squad, or you are not part of it.")
        if not self.may(action, squad_id):
            raise NotAllowed("Your role in this squad does not include this.")

    def must_for_club(self) -> None:
        """Raises NotAllowed for who does not act for the whole club."""
        if not self.club_admin:
            raise NotAllowed("This is the whole club's: an administrator of the club does it.")

    def must_everywhere(self, action: Action, squads: Collection[int]) -> None:
        """For what touches a person in each of these squads. Raises NotAllowed unless one may do it in all of them."""
        if not self.club_admin and not all(self.may(action, squad) for squad in squads):
            raise NotAllowed("This person belongs to another squad too: an administrator of the club does it.")

    def _in(self, squad_id: int) -> frozenset[Role]:
        """One's roles in a squad of the own club."""
        roles = self.roles.get(squad_id, frozenset())
        return roles | {Role.ADMIN} if self.club_admin else roles

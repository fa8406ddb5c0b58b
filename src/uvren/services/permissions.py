"""Who may do what: one table, squad by squad."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from uvren.services.errors import NotAllowed, NotFound
from uvren.store.models import Role


class Action(StrEnum):
    READ_SQUAD = "read_squad"
    READ_WORDS = "read_words"
    READ_REASONS = "read_reasons"
    EDIT_ENTRIES = "edit_entries"
    MAKE_CALLS = "make_calls"
    EDIT_LIMITS = "edit_limits"
    EDIT_UNITS = "edit_units"
    READ_ANCHORS = "read_anchors"
    EDIT_ANCHORS = "edit_anchors"
    IMPORT = "import"
    EXPORT = "export"


_STAFF = frozenset(Action)

MAY: dict[Role, frozenset[Action]] = {
    Role.PERFORMANCE: _STAFF,
    Role.COACH: frozenset({Action.READ_SQUAD}),
    # These roles sign in, and see nothing of a squad until their own screens exist.
    Role.CLINICIAN: frozenset(),
    Role.ATHLETE: frozenset(),
    Role.ADMIN: frozenset(),
}


@dataclass(frozen=True)
class Person:
    """The signed-in person, with their roles by squad."""

    user_id: int
    name: str
    roles: dict[int, frozenset[Role]]

    def may(self, action: Action, squad_id: int) -> bool:
        return any(action in MAY[role] for role in self.roles.get(squad_id, ()))

    def actions(self, squad_id: int) -> list[Action]:
        return [action for action in Action if self.may(action, squad_id)]

    def must(self, action: Action, squad_id: int) -> None:
        """Raises NotFound for a squad one may not even see, NotAllowed for what one may not do there."""
        if not self.may(Action.READ_SQUAD, squad_id):
            raise NotFound("There is no such squad, or you are not part of it.")
        if not self.may(action, squad_id):
            raise NotAllowed("Your role may look at this, but not change it.")

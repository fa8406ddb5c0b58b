"""What holds of counts that are done in spells."""

from __future__ import annotations

from collections.abc import Sequence

from uvren.core.field import SpellRule
from uvren.store.models import SpellLimit


def spells_of(limits: Sequence[SpellLimit], athlete: int) -> dict[str, SpellRule]:
    """What holds for somebody, by what is counted: the own spell before everybody's."""
    mine = sorted(
        (one for one in limits if one.athlete_id in (None, athlete)), key=lambda one: one.athlete_id is not None
    )
    return {one.what: SpellRule(one.most, one.break_minutes * 60) for one in mine}

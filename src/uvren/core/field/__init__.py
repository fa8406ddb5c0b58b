"""The session as it runs at the pitch."""

from uvren.core.field.fold import Event, Field, FieldKind, Run, Spell, SpellRule, Stint, fold
from uvren.core.field.spells import Split, most_in, split

__all__ = [
    "Event",
    "Field",
    "FieldKind",
    "Run",
    "Spell",
    "SpellRule",
    "Split",
    "Stint",
    "fold",
    "most_in",
    "split",
]

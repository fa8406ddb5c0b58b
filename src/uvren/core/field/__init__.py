"""The session as it runs at the pitch."""

from uvren.core.field.fold import Event, Field, FieldKind, Run, Spell, SpellRule, Stint, fold

__all__ = ["Event", "Field", "FieldKind", "Run", "Spell", "SpellRule", "Stint", "fold"]

"""What the coach hears five minutes after a session: four sentences, in match terms."""

from __future__ import annotations

from uvren.core import words as say
from uvren.services.session.gamelike import GameLike
from uvren.services.session.terms import MatchTerms, TermsRow

# Who is named as having had much less or more than the others, in per cent of a match, and how many at most.
LITTLE, MUCH, NAMED = 50.0, 130.0, 4


def sentences_of(terms: MatchTerms, game: GameLike | None) -> list[str]:
    """What it came to, who had how much of it, whether it was like the game, and what to change."""
    said = [terms.said, _positions(terms), _people(terms.rows)]
    if game is not None:
        said.append(game.said)
        if game.changes:
            said.append(_change(game))
    return [one for one in said if one]


def _positions(terms: MatchTerms) -> str:
    known = [(one.position, one.percents[0]) for one in terms.groups if one.percents and one.percents[0] is not None]
    if len(known) < 2:
        return ""
    return f"{say.listed([f'{name} {say.percent((value or 0) / 100)}' for name, value in known]).capitalize()}."


def _people(rows: list[TermsRow]) -> str:
    load = [(row.name, row.shares[0].percent) for row in rows if row.shares and row.shares[0].percent is not None]
    parts = []
    for word, found in (
        (f"under {LITTLE:g} %", [name for name, value in load if (value or 0) < LITTLE]),
        (f"over {MUCH:g} %", [name for name, value in load if (value or 0) > MUCH]),
    ):
        if found:
            more = f" and {len(found) - NAMED} more" if len(found) > NAMED else ""
            parts.append(f"{word} of a match in load: {', '.join(found[:NAMED])}{more}")
    said = "; ".join(parts)
    return f"{said[0].upper()}{said[1:]}." if said else ""


def _change(game: GameLike) -> str:
    one = game.changes[0]
    change = one.change
    return (
        f"{one.part} at {change.on:g} s on and {change.off:g} s off would be about {say.percent(change.after)} like "
        f"the game, not {say.percent(change.now)} (an estimate)."
    )

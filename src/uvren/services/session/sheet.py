"""What the coach hears five minutes after a session: four sentences, in match terms."""

from __future__ import annotations

from collections.abc import Sequence

from uvren.core import words as say
from uvren.files.paper import Paper, Section
from uvren.services.session.gamelike import GameLike
from uvren.services.session.terms import Figure, MatchIs, MatchTerms, TermsRow
from uvren.store.models import Squad

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


FOOT = "Supports the coach’s and the staff’s judgement. ≈ estimated: a rating is missing."


def as_paper(squad: Squad, terms: MatchTerms, game: GameLike | None) -> Paper:
    """The session sheet: the sentences, then what they rest on, by position, person and part."""
    names, units = [one.name for one in terms.figures], [_with_unit(one) for one in terms.figures]
    columns = range(len(names))
    positions = [[one.position, f"{one.people}", *map(_percent, one.percents)] for one in terms.groups]
    everybody = ["everybody", f"{sum(row.whole for row in terms.rows)}", *map(_percent, terms.squad)]
    parts = [[one.name, f"{one.minutes:g}", *map(_percent, one.percents)] for one in terms.parts]
    sections = [
        Section(sentences=sentences_of(terms, game) or ["Nothing is known of this session yet."]),
        _table("By position", ["position", "people", *names], [everybody, *positions], 1),
        _table("By part", ["part", "minutes", *names], parts, 1),
        _table("Person by person", ["", "position", "minutes", *names], [_row(one) for one in terms.rows], 2),
        _table(f"What a match is ({say.count(terms.matches, 'match', 'matches')})", ["position", "n", *units],
               [[one.position or "everybody", f"{one.parts}", *(_match(one, i) for i in columns)]
                for one in terms.match], 1),
    ]  # fmt: skip
    title = f"{terms.session.title}, {'planned, ' if terms.planned else ''}in match terms"
    filled = [one for one in sections if one.sentences or one.rows]
    return Paper(title, f"{squad.name}, {say.day(terms.session.day)} {terms.session.day.year}", filled, FOOT)


def _table(head: str, columns: Sequence[str], rows: Sequence[Sequence[str]], words: int) -> Section:
    """A table whose first columns are words, and all others numbers."""
    return Section(head, columns=columns, rows=rows, numbers=frozenset(range(words, len(columns))))


def _with_unit(figure: Figure) -> str:
    return figure.name if figure.unit in ("", figure.name.lower()) else f"{figure.name}, {figure.unit}"


def _percent(value: float | None) -> str:
    return "–" if value is None else say.percent(value / 100)


def _row(row: TermsRow) -> list[str]:
    shares = [f"{'≈' if one.estimated else ''}{_percent(one.percent)}" for one in row.shares]
    return [row.name, row.position, f"{row.minutes:g}", *shares]


def _match(match: MatchIs, i: int) -> str:
    mean, spread = match.load[i], match.spread[i]
    if mean is None:
        return "–"
    return f"{say.number(mean)} ± {say.number(spread)}" if spread is not None else say.number(mean)

"""What a session comes to in per cent of a match: the values that are told of it."""

from __future__ import annotations

from dataclasses import dataclass

from uvren.store.models import Channel, Session


@dataclass(frozen=True)
class Figure:
    """What is held against a match. ``peaks`` says that its hardest minute is known too."""

    code: str
    name: str
    unit: str
    mark: str
    peaks: bool


def figure_of(channel: Channel, *, peaks: bool = False) -> Figure:
    return Figure(channel.code, "Load" if channel.is_main else channel.name, channel.unit, channel.mark, peaks)


@dataclass(frozen=True)
class Share:
    """One figure in per cent of a match, its hardest minute in per cent of a match's hardest.

    ``amount`` is what it was, ``match`` what it is in a match; ``percent`` is None where it cannot be said, and ``why``
    says why. ``of`` tells whose matches it is measured by, ``estimated`` that a rating is missing.
    """

    percent: float | None
    peak: float | None
    amount: float | None
    match: float | None
    of: str
    why: str
    estimated: bool


@dataclass(frozen=True)
class TermsRow:
    athlete_id: int
    name: str
    number: int | None
    position: str
    minutes: float
    whole: bool
    shares: list[Share]


@dataclass(frozen=True)
class TermsGroup:
    """A position: how many were in the session, and of how many parts in matches its measure is made; 0 if too few."""

    position: str
    people: int
    parts: int
    percents: list[float | None]


@dataclass(frozen=True)
class TermsPart:
    name: str
    minutes: float
    percents: list[float | None]


@dataclass(frozen=True)
class MatchIs:
    """What a match is for a position, empty for everybody's, by figure: mean, spread, of a minute, hardest minute.

    Of ``parts`` that lasted ``minutes`` in the mean.
    """

    position: str
    parts: int
    minutes: float
    load: list[float | None]
    spread: list[float | None]
    a_minute: list[float | None]
    peak: list[float | None]


@dataclass(frozen=True)
class MatchTerms:
    """A session in match terms, ``said`` in a sentence.

    ``squad``, and each group, is what those who did most of the session did together, of what a match would have been
    for them. ``matches`` is how many tell. A session to come is told as ``planned``.
    """

    session: Session
    planned: bool
    figures: list[Figure]
    squad: list[float | None]
    squad_peaks: list[float | None]
    groups: list[TermsGroup]
    rows: list[TermsRow]
    parts: list[TermsPart]
    match: list[MatchIs]
    matches: int
    said: str

"""A session in match terms: what it came to in per cent of a match, by person, position and part."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import timedelta

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.demands import PLAYED, Reference, percent
from uvren.core.recordings import Samples, peak_means
from uvren.core.units import EffortMinutes
from uvren.core.windows import Floats
from uvren.services.day.loads import KNOWN, channel_loads, definition_on, definitions_of
from uvren.services.day.matches import Played, read_played, season_until
from uvren.services.session.sessions import find_session
from uvren.services.session.tracks import fast_speeds, tracks_of
from uvren.store import queries
from uvren.store.models import Channel, Session, SessionKind, Squad
from uvren.store.queries.session import KIND_CODES

DISTANCE = "distance"
# Recordings of matches that are looked at for distances and the hardest minute.
MOST_TRACKS = 60
# With fewer parts in matches a position is measured by everybody's.
ENOUGH = 3


@dataclass(frozen=True)
class Figure:
    """What is held against a match. ``peaks`` says that its hardest minute is known too."""

    code: str
    name: str
    unit: str
    mark: str
    peaks: bool


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
class MatchTerms:
    """A session in match terms, ``said`` in a sentence.

    ``squad``, and each group, is what those who did most of the session did together, of what a match would have been
    for them. ``matches`` is how many tell.
    """

    session: Session
    figures: list[Figure]
    squad: list[float | None]
    squad_peaks: list[float | None]
    groups: list[TermsGroup]
    rows: list[TermsRow]
    parts: list[TermsPart]
    matches: int
    said: str


def read_match_terms(db: DbSession, squad: Squad, session_id: str) -> MatchTerms:
    """Raises NotFound."""
    return _Reading(db, squad, find_session(db, squad, session_id)).terms()


class _Reading:
    def __init__(self, db: DbSession, squad: Squad, session: Session) -> None:
        self.db, self.session = db, session
        self.members = {one.athlete_id: one for one in queries.squad.members(db, squad.id, session.day)}
        self.channels = [one for one in queries.squad.channels(db, squad.id) if _has(one, session)]
        self.fast = fast_speeds(db, self.channels, list(self.members), session.day)
        position = {key: one.position for key, one in self.members.items()}
        before = session.day - timedelta(days=1)
        done = season_until(db, squad, session.day)
        self.played = read_played(db, squad, self.channels, position, done, before)
        found = queries.session.last_positions(db, squad.id, before, MOST_TRACKS, matches=True)
        self.games = {(track.session_id, track.athlete_id): track for track in tracks_of(db, found)}
        mine = [one for one in queries.session.recordings_of(db, session.id) if one.counts]
        self.tracks = {track.athlete_id: track for track in tracks_of(db, mine, session)}
        here = [i for i, key in enumerate(done.entries.session_id) if key == self.session.id]
        self.entry = {int(done.entries.athlete[i]): i for i in here}
        self.minutes = done.entries.minutes
        self.each = [channel_loads(done, one.code, definitions_of(one)) for one in self.channels]

    @property
    def figures(self) -> list[Figure]:
        found = [
            Figure(one.code, "Load" if one.is_main else one.name, one.unit, one.mark, one.code == self.fast.code)
            for one in self.channels
        ]
        if self.tracks:
            found.insert(1, Figure(DISTANCE, "Distance", "m", "", peaks=True))
        return found

    def terms(self) -> MatchTerms:
        figures = self.figures
        matrix = self._measured(figures)
        self.of_position, self.own = matrix.of_position(), matrix.own()
        peaks = self._peaks(figures)
        rows = []
        for athlete in self.entry:
            member = self.members.get(athlete)
            minutes = float(np.nan_to_num(self.minutes[self.entry[athlete]]))
            if member is None or minutes <= 0:
                continue
            shares = self._shares(athlete, figures, *self._measure(athlete), peaks.get(member.position))
            rows.append(
                TermsRow(athlete, member.name, member.number, member.position, minutes,
                         minutes >= PLAYED * self.session.planned_minutes, shares)
            )  # fmt: skip
        rows.sort(key=lambda row: (row.position, row.name))
        whole = [row for row in rows if row.whole]
        squad = _together(whole, len(figures))
        return MatchTerms(
            session=self.session,
            figures=figures,
            squad=squad,
            squad_peaks=_means([[share.peak for share in row.shares] for row in whole], len(figures)),
            groups=self._groups(rows, len(figures)),
            rows=rows,
            parts=self._parts(figures, whole),
            matches=len(set(matrix.session_id)),
            said=_sentence(figures, squad, bool(matrix.session_id)),
        )

    def _measured(self, figures: Sequence[Figure]) -> Played:
        """Parts in matches with a column for every figure."""
        if not any(one.code == DISTANCE for one in figures):
            return self.played
        keys = zip(self.played.session_id, self.played.athlete, strict=True)
        metres = [self.games[key].metres if key in self.games else np.nan for key in keys]
        column = {one.code: self.played.load[:, i] for i, one in enumerate(self.channels)}
        column[DISTANCE] = np.array(metres, dtype=np.float64)
        load = np.stack([column[one.code] for one in figures], axis=1)
        return replace(self.played, load=load)

    def _peaks(self, figures: Sequence[Figure]) -> dict[str, dict[str, float]]:
        """The hardest minute of a match by position and figure, the mean of those who played most of one."""
        share = dict(zip(zip(self.played.session_id, self.played.athlete, strict=True), self.played.share, strict=True))
        found: dict[str, dict[str, list[float]]] = defaultdict(lambda: defaultdict(list))
        for key, track in self.games.items():
            member = self.members.get(track.athlete_id)
            if member is None or share.get(key, 0.0) < PLAYED:
                continue
            for figure in figures:
                peak = self._peak(figure, track.samples, track.athlete_id) if figure.peaks else None
                if peak is not None:
                    found[member.position][figure.code].append(peak)
        return {
            position: {code: float(np.mean(values)) for code, values in of.items() if len(values) >= ENOUGH}
            for position, of in found.items()
        }

    def _peak(self, figure: Figure, samples: Samples, athlete: int) -> float | None:
        return peak_means(samples.t, self._amount(figure, samples, athlete), (1,), 60.0)[1]

    def _amount(self, figure: Figure, samples: Samples, athlete: int) -> Floats:
        """Metres of each sample that count for a figure."""
        metres = samples.value * samples.held
        if figure.code == DISTANCE:
            return np.asarray(metres)
        return np.where(samples.value >= self.fast.of(athlete), metres, 0.0)

    def _amounts(self, athlete: int, figures: Sequence[Figure]) -> Floats:
        at = self.entry[athlete]
        by_code = {
            channel.code: each.filled.load[at] if each.expected[at] else np.nan
            for channel, each in zip(self.channels, self.each, strict=True)
        }
        if athlete in self.tracks:
            by_code[DISTANCE] = self.tracks[athlete].metres
        return np.array([by_code.get(one.code, np.nan) for one in figures], dtype=np.float64)

    def _shares(
        self, athlete: int, figures: Sequence[Figure], reference: Reference | None, of: str,
        peaks: Mapping[str, float] | None,
    ) -> list[Share]:  # fmt: skip
        amounts = self._amounts(athlete, figures)
        nothing = np.full(amounts.shape, np.nan)
        percents = nothing if reference is None else percent(reference, amounts)
        at, out = self.entry[athlete], []
        origin = {one.code: each.filled.origin[at] for one, each in zip(self.channels, self.each, strict=True)}
        for i, figure in enumerate(figures):
            peak, usual = None, (peaks or {}).get(figure.code)
            if figure.peaks and usual and athlete in self.tracks and not np.isnan(percents[i]):
                hardest = self._peak(figure, self.tracks[athlete].samples, athlete)
                peak = None if hardest is None else hardest / usual * 100
            out.append(
                Share(
                    percent=_or_none(percents[i]),
                    peak=peak,
                    amount=_or_none(amounts[i]),
                    match=None if reference is None else _or_none(reference.load[i]),
                    of=of,
                    why=_why(reference, i, amounts[i]),
                    estimated=figure.code in origin and origin[figure.code] not in KNOWN and not np.isnan(amounts[i]),
                )
            )
        return out

    def _measure(self, athlete: int) -> tuple[Reference | None, str]:
        """What somebody is measured by: their own matches, else those of the position, else everybody's."""
        position = self.of_position.get(self.members[athlete].position)
        if athlete in self.own:
            return self.own[athlete], "own"
        if position is not None and position.n >= ENOUGH:
            return position, "position"
        return self.of_position.get(""), "everybody"

    def _groups(self, rows: Sequence[TermsRow], figures: int) -> list[TermsGroup]:
        out = []
        for position in dict.fromkeys(row.position for row in rows):
            mine = [row for row in rows if row.position == position]
            reference = self.of_position.get(position)
            parts = reference.n if reference is not None and reference.n >= ENOUGH else 0
            out.append(TermsGroup(position, len(mine), parts, _together([one for one in mine if one.whole], figures)))
        return out

    def _parts(self, figures: Sequence[Figure], rows: Sequence[TermsRow]) -> list[TermsPart]:
        """Parts in per cent of a match, of those who were recorded, put together as the squad is."""
        out = []
        recorded = [row for row in rows if row.athlete_id in self.tracks]
        for part in self.session.segments:
            begin, end = part.begins * 60, (part.begins + part.minutes) * 60
            pieces = [self.tracks[row.athlete_id].samples.between(begin, end) for row in recorded]
            percents: list[float | None] = []
            for i, figure in enumerate(figures):
                whole = [row.shares[i].match if row.shares[i].percent is not None else None for row in recorded]
                if not figure.peaks or not any(whole):
                    percents.append(None)
                    continue
                amounts = [
                    self._amount(figure, piece, row.athlete_id).sum()
                    for piece, row, match in zip(pieces, recorded, whole, strict=True)
                    if match
                ]
                percents.append(float(sum(amounts) / sum(filter(None, whole)) * 100))
            out.append(TermsPart(part.name, part.minutes, percents))
        return out


def _has(channel: Channel, session: Session) -> bool:
    """Whether sessions of this kind, and matches, have such work: only then can one be held against the other."""
    definition = definition_on(definitions_of(channel), session.day)
    if definition is None:
        return False
    if isinstance(definition.form, EffortMinutes):
        return True
    return {KIND_CODES[session.kind], KIND_CODES[SessionKind.MATCH]} <= definition.kinds


def _why(reference: Reference | None, figure: int, amount: float) -> str:
    if reference is None or np.isnan(reference.load[figure]):
        return "no match yet"
    if reference.rare[figure]:
        return "too rare"
    return "not known" if np.isnan(amount) else ""


def _or_none(value: float) -> float | None:
    return None if np.isnan(value) else float(value)


def _together(rows: Sequence[TermsRow], figures: int) -> list[float | None]:
    """What these people did together in per cent of what a match would have been for them, by figure."""
    out: list[float | None] = []
    for i in range(figures):
        known = [row.shares[i] for row in rows if row.shares[i].percent is not None]
        match = sum(share.match or 0.0 for share in known)
        out.append(sum(share.amount or 0.0 for share in known) / match * 100 if match > 0 else None)
    return out


def _means(rows: Sequence[Sequence[float | None]], figures: int) -> list[float | None]:
    """Mean of each column over the rows in which it is known."""
    columns = [[row[i] for row in rows if row[i] is not None] for i in range(figures)]
    return [float(np.mean(column)) if column else None for column in columns]  # type: ignore[arg-type]


def _sentence(figures: Sequence[Figure], squad: Sequence[float | None], matches: bool) -> str:
    """``The session came to 89 % of a match in load and 34 % in fast running.``"""
    if not matches:
        return "No match has been played yet: there is nothing to hold the session against."
    known = [(one, value) for one, value in zip(figures, squad, strict=True) if value is not None]
    if not known:
        return "What the session came to is not known yet."
    first = known[0]
    others = [pair for pair in known[1:] if pair[0].code != DISTANCE]
    said = f"The session came to {say.percent(first[1] / 100)} of a match in {first[0].name.lower()}"
    if not others:
        return f"{said}."
    # What is furthest from it says most.
    other = max(others, key=lambda pair: abs(pair[1] - first[1]))
    return f"{said} and {say.percent(other[1] / 100)} in {other[0].name.lower()}."

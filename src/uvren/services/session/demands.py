"""A session in match terms: what it came to in per cent of a match, by person, position and part."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import date, timedelta

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core import words as say
from uvren.core.demands import PLAYED, Reference, percent
from uvren.core.live import efforts
from uvren.core.recordings import Samples, peak_means
from uvren.core.units import EffortMinutes
from uvren.core.windows import Floats
from uvren.services.day.drilled import code_of
from uvren.services.day.loads import definition_on, definitions_of
from uvren.services.day.matches import ENOUGH, Played, read_played, season_until
from uvren.services.day.people import folded
from uvren.services.session.amounts import Had, had_of, planned_of
from uvren.services.session.drills import read_drills
from uvren.services.session.sessions import find_session
from uvren.services.session.terms import (
    Figure,
    MatchIs,
    MatchTerms,
    Share,
    TermsGroup,
    TermsPart,
    TermsRow,
    figure_of,
)
from uvren.services.session.tracks import fast_speeds, tracks_of
from uvren.store import queries
from uvren.store.models import Channel, Session, SessionKind, Squad
from uvren.store.queries.session import KIND_CODES
from uvren.store.queries.squad import Member

DISTANCE = "distance"
# Recordings of matches that are looked at for distances and the hardest minute.
MOST_TRACKS = 60


def read_match_terms(db: DbSession, squad: Squad, session_id: str, today: date) -> MatchTerms:
    """A session that was done, or one to come as it is planned. Raises NotFound."""
    return _Reading(db, squad, find_session(db, squad, session_id), today).terms()


class _Reading:
    def __init__(self, db: DbSession, squad: Squad, session: Session, today: date) -> None:
        self.db, self.squad, self.session, self.today = db, squad, session, today
        self.members = {one.athlete_id: one for one in queries.squad.members(db, squad.id, session.day)}
        self.channels = [one for one in queries.squad.channels(db, squad.id) if _has(one, session)]
        self.main = next((one.code for one in self.channels if one.is_main), "")
        self.fast = fast_speeds(db, self.channels, list(self.members), session.day)
        position = {key: one.position for key, one in self.members.items()}
        before = session.day - timedelta(days=1)
        done = season_until(db, squad, session.day)
        self.played = read_played(db, squad, self.channels, position, done, before)
        found = queries.session.last_positions(db, squad.id, before, MOST_TRACKS, matches=True)
        self.games = {(track.session_id, track.athlete_id): track for track in tracks_of(db, found)}
        mine = [one for one in queries.session.recordings_of(db, session.id) if one.counts]
        self.tracks = {track.athlete_id: track for track in tracks_of(db, mine, session)}
        self.planned = not session.done
        self.had = planned_of(db, squad, session, today) if self.planned else had_of(done, session, self.channels)

    @property
    def figures(self) -> list[Figure]:
        found = [figure_of(one, peaks=one.code == self.fast.code) for one in self.channels]
        if self.tracks:
            found.insert(1, Figure(DISTANCE, "Distance", "m", "", peaks=True))
        return found

    def terms(self) -> MatchTerms:
        figures = self.figures
        matrix = self._measured(figures)
        self.measure = matrix.measure()
        peaks = self._peaks(figures)
        rows = []
        for athlete, had in self.had.items():
            member = self.members.get(athlete)
            if member is None:
                continue
            shares = self._shares(member, had, figures, peaks.get(member.position))
            rows.append(
                TermsRow(athlete, member.name, member.number, member.position, had.minutes,
                         had.minutes >= PLAYED * self.session.planned_minutes, shares)
            )  # fmt: skip
        rows.sort(key=lambda row: (row.position, row.name))
        whole = [row for row in rows if row.whole]
        squad = _together(whole, len(figures))
        return MatchTerms(
            session=self.session,
            planned=self.planned,
            figures=figures,
            squad=squad,
            squad_peaks=_means([[share.peak for share in row.shares] for row in whole], len(figures)),
            groups=self._groups(rows, len(figures)),
            rows=rows,
            parts=self._parts_to_come(figures) if self.planned else self._parts(figures, whole),
            match=self._match(figures, peaks),
            matches=self.measure.matches,
            said=_sentence(figures, squad, self.measure.matches > 0, self.planned),
        )

    def _match(self, figures: Sequence[Figure], peaks: Mapping[str, Mapping[str, float]]) -> list[MatchIs]:
        """What matches asked, of each position that enough parts tell of, and of everybody."""
        out = []
        for position in ("", *sorted(name for name in self.measure.of_position if name)):
            found = self.measure.known(position)
            if found is not None:
                own = peaks.get(position, {})
                columns = (found.load, found.spread, found.a_minute)
                load, spread, a_minute = ([_or_none(value) for value in column] for column in columns)
                peak = [own.get(one.code) for one in figures]
                out.append(MatchIs(position, found.n, found.minutes, load, spread, a_minute, peak))
        return out

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

    def _shares(
        self, member: Member, had: Had, figures: Sequence[Figure], peaks: Mapping[str, float] | None
    ) -> list[Share]:
        athlete = member.athlete_id
        reference, of = self.measure.of(athlete, member.position)
        load = dict(had.load)
        if athlete in self.tracks:
            load[DISTANCE] = self.tracks[athlete].metres
        amounts = np.array([load.get(one.code, np.nan) for one in figures], dtype=np.float64)
        percents = np.full(amounts.shape, np.nan) if reference is None else percent(reference, amounts)
        out = []
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
                    estimated=figure.code in had.estimated,
                )
            )
        return out

    def _groups(self, rows: Sequence[TermsRow], figures: int) -> list[TermsGroup]:
        out = []
        for position in dict.fromkeys(row.position for row in rows):
            mine = [row for row in rows if row.position == position]
            reference = self.measure.known(position)
            parts = reference.n if reference is not None else 0
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

    def _parts_to_come(self, figures: Sequence[Figure]) -> list[TermsPart]:
        """Parts in per cent of everybody's match: load by the plan's effort, fast running as it was before."""
        session, match = self.session, self.measure.of_position.get("")
        if match is None:
            return []
        drills = {folded(one.name): one for one in read_drills(self.db, self.squad, min(session.day, self.today))}
        minutes, weights = [one.minutes for one in session.segments], [one.weight for one in session.segments]
        out = []
        for part, hard in zip(session.segments, efforts(session.planned_effort, minutes, weights), strict=True):
            known = drills.get(code_of(part))
            a_minute = {self.main: hard}
            if known is not None and known.running is not None:
                a_minute[self.fast.code] = known.running.fast
            load = np.array([a_minute.get(one.code, np.nan) * part.minutes for one in figures])
            out.append(TermsPart(part.name, part.minutes, [_or_none(one) for one in percent(match, load)]))
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


def _sentence(figures: Sequence[Figure], squad: Sequence[float | None], matches: bool, planned: bool) -> str:
    """``The session came to 89 % of a match in load and 34 % in fast running.``"""
    if not matches:
        return "No match has been played yet: there is nothing to hold the session against."
    known = [(one, value) for one, value in zip(figures, squad, strict=True) if value is not None]
    if not known:
        return (
            "What the session comes to is not known yet." if planned else "What the session came to is not known yet."
        )
    first = known[0]
    others = [pair for pair in known[1:] if pair[0].code != DISTANCE]
    begun = "As planned the session comes to about" if planned else "The session came to"
    said = f"{begun} {say.percent(first[1] / 100)} of a match in {first[0].name.lower()}"
    if not others:
        return f"{said}."
    # What is furthest from it says most.
    other = max(others, key=lambda pair: abs(pair[1] - first[1]))
    return f"{said} and {say.percent(other[1] / 100)} in {other[0].name.lower()}."

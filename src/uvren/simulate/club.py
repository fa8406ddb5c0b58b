"""The demo club: written through the same services that people use."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, datetime, time, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from sqlalchemy.orm import Session as DbSession

from uvren.core.plan.template import WrittenFor
from uvren.services.reports import give_many
from uvren.services.season import phases as season
from uvren.services.session import planning
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.squad import squads
from uvren.services.squad.limits import NewLimit, set_limit
from uvren.services.squad.places import add_place
from uvren.services.stamp import Stamp
from uvren.services.week.templates import NewTemplate, keep_template
from uvren.simulate import calls, games, reports, returns, seasons, tests, units
from uvren.simulate.athletes import Absence, Body, Truth, to_half
from uvren.simulate.names import initial, surnames
from uvren.simulate.recorded import bring_in_last_night
from uvren.simulate.seasons import FIRST, NOW, TIME_ZONE, TODAY
from uvren.simulate.strain import MIXTURE, Habit, live
from uvren.store import queries
from uvren.store.models import Club, Role, Scope, Session, SessionKind, Source, Squad, User
from uvren.store.versions import telling_the_past, written_at

SEED = 20260312
# Of the lives beside training and of the answers that chance gives them, those with which the demo's morning tells what
# it is for.
LIVES, ANSWERS = 17_009, 1_402
PASSWORD = "room-to-move-12"
SIGN_INS = (
    ("performance", "performance staff"),
    ("coach", "coach"),
    ("clinician", "clinician"),
    ("admin", "administrator"),
    ("athlete", "an athlete; best on a phone"),
)
# The one whose phone the demo shows: forgets to answer every other time.
PHONE = 17
CONSENT = (
    "Tarnholm keeps what you report, your sessions and your tests to plan training. Performance staff read your "
    "reports; pain and illness are for the clinician alone; coaches learn only how much you may train. You can "
    "have a copy of everything, and have it taken away, at any time."
)

POSITIONS = ["keeper"] * 3 + ["wing"] * 6 + ["back"] * 8 + ["pivot"] * 5


def handball_truths(random: np.random.Generator) -> list[Truth]:
    """22 players. Their capacities, habits and fates are the known truth of the demo."""
    names = surnames(len(POSITIONS), random)
    numbers = random.permutation(np.arange(2, 40))[: len(POSITIONS)]
    people = [
        Truth(
            name=f"{initial(random)}. {name}",
            number=1 if i == 0 else int(number),
            position=position,
            capacity=float(random.normal(3000, 250)),
            sensitivity=float(random.uniform(1.0, 2.0)),
            bias=float(random.normal(0, 0.4)),
            noise=float(random.uniform(0.3, 0.6)),
            match_share=float(random.choice([0.75, 0.6, 0.4, 0.25])),
            answers=float(random.uniform(0.93, 0.995)),
            delay_hours=float(random.uniform(0.5, 5)),
            joined=FIRST,
        )
        for i, (name, number, position) in enumerate(zip(names, numbers, POSITIONS, strict=True))
    ]

    def change(i: int, **what: object) -> None:
        people[i] = replace(people[i], **what)  # type: ignore[arg-type]

    # Nine weeks out with a shoulder, in the third of five weeks of coming back.
    change(11, absences=(Absence(date(2025, 12, 22), date(2026, 2, 22), (0.4, 0.5, 0.6, 0.75, 0.9)),))
    # Three weeks ill, back since Monday.
    change(20, absences=(Absence(date(2026, 2, 16), date(2026, 3, 8), (0.5, 0.7), ill=True),))
    # New in the squad.
    change(7, joined=date(2026, 2, 28))
    # Plays nearly everything, and hardly anything.
    change(12, match_share=0.97, capacity=3050.0)
    change(5, match_share=0.05)
    # Losing ground for five weeks: the same work costs more and more.
    change(15, match_share=0.8, capacity=3000.0, sensitivity=2.4, decline=0.45, decline_until=TODAY)
    # Stays on for extra shots this week.
    change(13, throwing_from=date(2026, 3, 9), throwing=2.6)
    # One leg has stayed behind since the winter break.
    change(9, weaker_from=date(2026, 1, 1), weaker_left=0.17)
    # Those of whom the demo tells something are the calmer outside training, so that it is that what is told.
    for i in (5, 7, 9, 11, 12, 13, 15, 20):
        change(i, calm=0.5)
    # Not everybody answers alike.
    for i, habit in ((1, Habit.PLAYS_DOWN), (8, Habit.CARELESS), (14, Habit.RHYTHM), (18, Habit.PLAYS_DOWN),
                     (19, Habit.FORGETS), (21, Habit.CARELESS)):  # fmt: skip
        change(i, habit=habit)
    # Answers everything at once; forgets every other time.
    change(3, answers=1.0, delay_hours=0.2)
    change(17, answers=0.55, delay_hours=20.0, silent=frozenset({TODAY - timedelta(days=1), TODAY}))
    return people


def ski_truths(random: np.random.Generator) -> list[Truth]:
    names = surnames(8, random)
    return [
        Truth(
            name=f"{initial(random)}. {name}",
            number=i + 1,
            position="skier",
            capacity=float(random.normal(2400, 250)),
            sensitivity=float(random.uniform(0.8, 1.6)),
            bias=float(random.normal(0, 0.3)),
            noise=float(random.uniform(0.2, 0.5)),
            match_share=1.0,
            answers=float(random.uniform(0.9, 1.0)),
            delay_hours=float(random.uniform(0.5, 8)),
            joined=FIRST,
        )
        for i, name in enumerate(names)
    ]


def load_demo(db: DbSession, seed: int = SEED) -> dict[int, Body]:
    """Write the whole demo club in one transaction, then bring in the files of last night's devices.

    Returns the truth behind each athlete, which nothing that is stored knows.
    """
    with telling_the_past(db):
        return _load(db, seed)


def _load(db: DbSession, seed: int) -> dict[int, Body]:
    truth: dict[int, Body] = {}
    random = np.random.default_rng(seed)
    hint = "\n".join(f"sign in as {login!r} with {PASSWORD!r} ({what})" for login, what in SIGN_INS)
    club = squads.create_club(db, "Tarnholm", TIME_ZONE, demo_now=NOW, demo_hint=hint)
    agreed = datetime.combine(FIRST, time(9), ZoneInfo(TIME_ZONE))
    handball = squads.create_squad(db, club, "tarnholm-handball", "Tarnholm Handball", TIME_ZONE, agreed)
    ski = squads.create_squad(db, club, "tarnholm-ski", "Tarnholm Ski", TIME_ZONE, agreed)
    club.consent_text = CONSENT
    staff, clinician = _people(db, club, [handball, ski])
    _limits(db, handball, staff, week_change=0.25, day_cap=1100, row=6)
    _limits(db, ski, staff, week_change=0.6, day_cap=900, row=7)
    # The units of work have a chance of their own, so that they can grow without moving the history of ratings.
    chance = np.random.default_rng(seed + 1)
    for squad, truths_of, wanted, phases, drafts, limits in (
        (handball, handball_truths, seasons.handball, seasons.HANDBALL_PHASES, units.HANDBALL, units.HANDBALL_LIMITS),
        (ski, ski_truths, seasons.ski, seasons.SKI_PHASES, units.SKI, ()),
    ):
        units.set_up_units(db, squad, drafts, limits, staff, agreed)
        season.save(db, squad, phases, edition=None, stamp=Stamp(staff.id, agreed))
        truths = truths_of(random)
        plan = wanted(random)
        people = [squads.NewMember(t.name, t.number, t.position, t.joined) for t in truths]
        for place in sorted({session.place for session in plan if session.place}):
            add_place(db, squad, place)
        ids = squads.add_members(db, squad, people)
        bodies = units.physiques(truths, chance)
        units.set_anchors(db, squad, ids, truths, bodies, staff, agreed)
        days = (seasons.LAST - FIRST).days + 1
        lives = np.random.default_rng(seed + LIVES + squad.id)
        bodies_by_day = [Body(truth, live(MIXTURE, days, lives, truth.calm), FIRST) for truth in truths]
        sessions, changes = _history(db, squad, ids, bodies_by_day, plan, staff, random)
        truth |= dict(zip(ids, bodies_by_day, strict=True))
        units.record_units(db, squad, ids, truths, bodies, sessions, changes, chance, staff)
        matches = {one.day for one in sessions if one.kind is SessionKind.MATCH}
        told = list(reports.tell(squad, ids, bodies_by_day, matches, np.random.default_rng(seed + ANSWERS + squad.id)))
        give_many(db, squad, told)
        if squad is handball:
            tests.record_tests(db, squad, ids, bodies_by_day, np.random.default_rng(seed + 5), staff)
            reports.see_to(db, squad, clinician)
            returns.come_back(db, squad, ids, bodies_by_day, clinician, staff)
            written_at(db, NOW)
            known = calls.Known(ids, bodies_by_day, sessions, changes, told)
            calls.make_calls(db, squad, known, staff, np.random.default_rng(seed + 6))
            games.record_games(db, squad, sessions, changes, np.random.default_rng(seed + 7))
            _athlete_account(db, club, squad, ids[PHONE], truths[PHONE])
            recorded = (ids, truths, bodies, sessions, changes)
    _templates(db, handball, ski, staff)
    db.commit()
    bring_in_last_night(db, handball, *recorded, chance, staff)
    db.commit()
    return truth


def _templates(db: DbSession, handball: Squad, ski: Squad, staff: User) -> None:
    """What a week of the gym is in the handball season, kept to be used again."""
    handball.sport, ski.sport = "handball", "cross-country skiing"
    written = WrittenFor(years_least=2, years_most=None, sport=handball.sport, sport_days=4, longest=75)
    gym = NewTemplate("Gym beside two matches", NOW.date(), 1, frozenset({SessionKind.GYM}), written)
    keep_template(db, handball, gym, stamp=Stamp(staff.id, NOW))


def _people(db: DbSession, club: Club, both: list[Squad]) -> tuple[User, User]:
    staff = squads.create_user(
        db, club, "performance", "M. Ostrel", PASSWORD, {squad.id: Role.PERFORMANCE for squad in both}
    )
    squads.create_user(db, club, "coach", "H. Belisk", PASSWORD, {both[0].id: Role.COACH})
    everywhere = {squad.id: Role.CLINICIAN for squad in both}
    clinician = squads.create_user(db, club, "clinician", "Dr. A. Fenwold", PASSWORD, everywhere)
    squads.create_user(db, club, "admin", "K. Drell", PASSWORD, {squad.id: Role.ADMIN for squad in both},
                       club_admin=True)  # fmt: skip
    return staff, clinician


def _athlete_account(db: DbSession, club: Club, squad: Squad, athlete: int, truth: Truth) -> None:
    user = squads.create_user(db, club, "athlete", truth.name, PASSWORD, {squad.id: Role.ATHLETE})
    user.athlete_id = athlete
    db.flush()


def _limits(db: DbSession, squad: Squad, staff: User, week_change: float, day_cap: float, row: int) -> None:
    own = "Squad agreement, August 2024"
    wanted: tuple[tuple[str, float, bool, str], ...] = (
        ("ratio_ceiling", 1.3, True, "Squad agreement; weighted school after Williams et al. 2017"),
        ("week_change_cap", week_change, True, "Squad agreement; wider than the 10 to 15 % of Gabbett 2016"),
        ("day_cap", day_cap, True, own),
        ("days_in_row", row, True, own),
        ("ratio_floor", 0.7, False, own),
        ("monotony_cap", 2.0, False, "Foster 1998"),
    )
    # All of them were agreed in one sitting before the first season.
    agreed = datetime.combine(FIRST, time(9), ZoneInfo(TIME_ZONE))
    written_at(db, agreed)
    for rule, value, hard, source in wanted:
        set_limit(
            db,
            squad,
            NewLimit(
                rule=rule,
                value=value,
                settings={"school": "ewma"} if rule.startswith("ratio") else {},
                hard=hard,
                scope=Scope.SQUAD,
                position=None,
                athlete_id=None,
                from_day=FIRST,
                source=source,
                reason="Agreed for the season",
            ),
            stamp=Stamp(staff.id, agreed),
            today=FIRST,
        )
    written_at(db, NOW)


def _history(
    db: DbSession,
    squad: Squad,
    ids: list[int],
    bodies: list[Body],
    wanted: list[planning.NewSession],
    staff: User,
    random: np.random.Generator,
) -> tuple[list[Session], list[EntryChange]]:
    changes = []
    sessions = planning.plan_sessions(db, squad, wanted)
    for session in sessions:
        for athlete_id, body in zip(ids, bodies, strict=True):
            if session.day >= body.truth.joined:
                changes.append(_entry(session, athlete_id, body, random))
    main = {queries.squad.main_channel(db, squad.id).id}
    record_entries(db, squad.id, changes, stamp=Stamp(staff.id, NOW), today=TODAY, only=main)
    return sessions, changes


def _entry(session: Session, athlete_id: int, body: Body, random: np.random.Generator) -> EntryChange:
    truth = body.truth
    share = truth.share(session.day)
    match = session.kind is SessionKind.MATCH
    minutes = session.planned_minutes * share
    if match:
        minutes *= truth.match_share if share == 1 else 0.0
    minutes = float(5 * round(minutes / 5))
    # In the weeks of coming back the aim is lower too.
    effort = session.planned_effort if share == 1 else min(session.planned_effort, 6.0)
    change = EntryChange(
        session_id=session.id,
        athlete_id=athlete_id,
        minutes=None,
        effort=None,
        planned_minutes=minutes,
        planned_effort=effort,
        source=Source.ATHLETE,
    )
    end = session.starts_at + timedelta(minutes=session.planned_minutes)
    if end > NOW:
        return change
    change = replace(change, entered_at=end)
    done = minutes
    if match and minutes:
        done = float(np.clip(round(random.normal(minutes, 6)), 1, 60))
    if done == 0:
        return replace(change, minutes=0.0)
    felt = body.perform(session.day, done, effort, random)
    arrives = end + timedelta(hours=float(random.exponential(truth.delay_hours)))
    told = random.random() < truth.answers and arrives <= NOW
    return replace(change, minutes=done, effort=to_half(felt) if told else None, entered_at=arrives if told else end)

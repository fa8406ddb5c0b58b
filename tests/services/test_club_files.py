"""Three hundred files as clubs keep them: right, asked about or refused in words, and never silently wrong.

The suite tries a share of them, UVREN_FILES of them where that is set.
"""

import io
import os
import re
from collections import Counter, defaultdict
from dataclasses import replace
from datetime import timedelta

import pytest
from sqlalchemy import select

from tests.club_files import KINDS, NUMBERS, PEOPLE, Made, made_files
from tests.conftest import NOW, TODAY
from uvren.services import files as imports
from uvren.services.day.people import remember
from uvren.services.errors import Invalid
from uvren.services.squad import fitness_tests, squads
from uvren.services.stamp import Stamp
from uvren.store.models import (
    Athlete,
    Entry,
    FitnessResult,
    FitnessTest,
    ImportState,
    Membership,
    Report,
    Session,
    SessionKind,
    Work,
)

SEED = 20_260_312
COUNT = int(os.environ.get("UVREN_FILES", len(KINDS)))
# A file that has to be refused is refused in words that say why.
GOOD = {"right", "asked", "refused"}
FIRST_DAY = TODAY - timedelta(days=400)


@pytest.fixture
def read_here(monkeypatch):
    """Files are read in this process: what reading apart does has tests of its own."""
    for module in ("coming", "bringing"):
        monkeypatch.setattr(f"uvren.services.files.{module}.apart", lambda seconds, read, *args: read(*args))


@pytest.fixture
def try_file(db, squad, tmp_path, read_here):
    """Bring a made-up file into a new squad as somebody would who knows what it says; returns what came of it."""
    club = squad.squad.club_id

    def go(made: Made, at: int) -> tuple[str, str]:
        from uvren.store.models import Club

        own = squads.create_squad(
            db, db.get_one(Club, club), f"files-{at}", f"Files {at}", "Europe/Oslo", NOW - timedelta(days=500)
        )
        ids = squads.add_members(db, own, [squads.NewMember(name, NUMBERS[name], "back", FIRST_DAY) for name in PEOPLE])
        for draft in fitness_tests.SHIPPED:
            if draft.name in ("Sprint 30 m", "Countermovement jump, height"):
                fitness_tests.save_test(db, own, draft, code=None, stamp=Stamp(None, NOW - timedelta(days=450)))
        return _tried(db, own, dict(zip(PEOPLE, ids, strict=True)), made, tmp_path / str(at))

    return go


def _tried(db, squad, people, made, folder):
    put = imports.put_down(db, squad, folder, made.name, io.BytesIO(made.content), stamp=Stamp(None, NOW))
    path = folder / put.id

    def look(spec=None):
        return imports.preview(db, squad, path, made.name, spec, today=TODAY)

    try:
        seen = look()
    except Invalid as error:
        return _refused(made, error.detail)
    if made.sheets == "all":
        seen = look(replace(seen.spec, layout=replace(seen.look.layout, sheets=tuple(seen.look.sheets))))
    asked = bool(seen.questions)
    unknown = [said for said, _, known in seen.people if not known]
    if unknown:
        asked = True
        strangers = [said for said in unknown if said not in made.people]
        if strangers:
            return "asked wrongly", f"who is {strangers[:3]}? {[(u.name, u.role) for u in seen.spec.columns]}"
        remember(db, squad, {said: people.get(made.people[said]) for said in unknown})
    spec = seen.spec
    for _ in range(4):
        if not seen.questions:
            break
        answers = dict(spec.answers)
        for question in seen.questions:
            value = made.answers.get(question.key)
            if value is None or value not in {choice.value for choice in question.choices}:
                return "asked wrongly", f"{question.key}: {question.said} {[c.value for c in question.choices]}"
            answers[question.key] = value
        spec = replace(spec, answers=tuple(answers.items()))
        seen = look(spec)
    if seen.wrong:
        return _refused(made, seen.wrong)
    told = [problem.why for problem in seen.problems]
    if told and not (made.good_rows and re.search(made.why, " ".join(told))):
        return _refused(made, " ".join(told[:3]))
    imports.queue(db, squad, put.id, replace(spec, make_sessions=True, good_rows=made.good_rows))
    done = imports.run(db, put.id, folder, now=NOW, today=TODAY)
    if done.state is not ImportState.DONE:
        return _refused(made, str(done.report.get("wrong")))
    wrong = _differs(db, squad, people, made)
    if wrong:
        return "silently wrong", wrong
    if made.kind in ("long_text", "wide_pairs", "roster", "fixtures", "wellness", "test_results", "given_loads"):
        imports.undo(db, squad, put.id, stamp=Stamp(None, NOW), today=TODAY)
        left = _differs(
            db,
            squad,
            people,
            Made(made.kind, made.name, b"", {}, other={key: type(value)() for key, value in made.other.items()}),
        )
        if left and made.kind not in ("test_results",):
            return "not taken back", left
    return ("refused" if told else "asked" if asked else "right"), ""


def _refused(made, said):
    if made.expect == "refused":
        return ("refused", "") if re.search(made.why, said) else ("refused unclearly", said)
    return "refused", said


def _differs(db, squad, people, made):
    """What stands otherwise than the file says."""
    db.expire_all()
    names = {athlete: name for name, athlete in people.items()}
    found = defaultdict(list)
    rows = db.execute(
        select(Entry, Session)
        .join(Session, Session.id == Entry.session_id)
        .where(Session.squad_id == squad.id)
        .order_by(Session.starts_at)
    ).all()
    given = {
        (work.session_id, work.athlete_id): work.data["value"]
        for work in db.scalars(
            select(Work).join(Session, Session.id == Work.session_id).where(Session.squad_id == squad.id)
        )
    }
    for entry, session in rows:
        found[names[entry.athlete_id], session.day].append(
            (entry.minutes, entry.effort, given.get((session.id, entry.athlete_id)))
        )
    if dict(found) != made.truth:
        lacking = [(key, made.truth[key], found.get(key)) for key in made.truth if found.get(key) != made.truth[key]]
        many = len(found.keys() - made.truth.keys())
        return f"{len(lacking)} of {len(made.truth)} differ, {many} too many: {lacking[:2]}"
    return _other_differs(db, squad, names, made)


def _other_differs(db, squad, names, made):
    other = made.other
    if "people" in other:
        there = set(db.scalars(select(Athlete.name).join(Membership).where(Membership.squad_id == squad.id)))
        return "" if there == set(PEOPLE) | other["people"] else f"people {there}"
    if "matches" in other:
        there = {
            (one.day, one.opponent)
            for one in db.scalars(
                select(Session).where(Session.squad_id == squad.id, Session.kind == SessionKind.MATCH)
            )
        }
        return "" if there == other["matches"] else f"matches {there}"
    if "reports" in other:
        there = {}
        for report in db.scalars(select(Report).where(Report.squad_id == squad.id)):
            answers = {code: one["value"] for code, one in report.answers.items()}
            there[names[report.athlete_id], report.day] = tuple(
                answers.get(code) for code in ("sleep_quality", "soreness", "sleep_hours")
            )
        return (
            ""
            if there == other["reports"]
            else f"reports {list(there.items())[:2]} {list(other['reports'].items())[:2]}"
        )
    if other.get("results"):
        day, told = other["results"]
        there = defaultdict(dict)
        for result, test in db.execute(
            select(FitnessResult, FitnessTest)
            .join(FitnessTest, FitnessTest.id == FitnessResult.test_id)
            .where(FitnessTest.squad_id == squad.id, FitnessResult.day == day)
        ):
            there[names[result.athlete_id]][test.unit] = result.value
        wanted = {name: {"s": sprint, "cm": jump} for name, (sprint, jump) in told.items()}
        return "" if dict(there) == wanted else f"results {dict(there)}"
    return ""


def test_files_as_clubs_keep_them_come_in_right_or_are_asked_about(try_file):
    outcomes, told = Counter(), []
    for at, made in enumerate(made_files(COUNT, SEED)):
        try:
            outcome, said = try_file(made, at)
        except Exception as error:
            outcome, said = "error", repr(error)
        outcomes[outcome] += 1
        if outcome not in GOOD:
            told.append(f"{at} {made.kind}: {outcome}: {said[:300]}")
    report = "\n".join([str(dict(outcomes)), *told])
    print(report)
    # None is silently wrong, an error, refused unclearly, or refused where it should have come in.
    assert set(outcomes) <= GOOD, report
    meant = sum(made.expect != "refused" for made in made_files(COUNT, SEED))
    assert outcomes["right"] + outcomes["asked"] == meant, report

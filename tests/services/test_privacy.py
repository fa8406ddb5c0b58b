"""Consent, copies, forgetting, retention, and an audit that only grows."""

import io
import json
import zipfile
from datetime import timedelta

import pytest
from sqlalchemy import func, select, text
from sqlalchemy.exc import DatabaseError

from tests.conftest import NOW, TODAY
from uvren.core.body import Pain, Side, Site
from uvren.core.reports import ReportKind
from uvren.services import reports
from uvren.services.club import privacy
from uvren.services.errors import Invalid, NotFound
from uvren.services.reports import Told
from uvren.services.return_ import clinical
from uvren.services.return_.clinical import NewRestriction
from uvren.services.squad import fitness_results
from uvren.services.squad import fitness_tests as testing
from uvren.services.stamp import Stamp
from uvren.store import queries
from uvren.store.models import (
    Athlete,
    Audit,
    Availability,
    Base,
    Club,
    Complaint,
    DailyLoad,
    Entry,
    Report,
    Source,
    Work,
)
from uvren.store.models import FitnessResult as Result
from uvren.store.types import new_ulid


@pytest.fixture
def told(db, squad):
    """The first athlete has reported a pain and some words."""
    report = Told(
        id=new_ulid(), athlete_id=squad.athletes[0], kind=ReportKind.DAILY, day=TODAY, answers={"mood": 3.0},
        words="=cmd()", made_at=NOW, pains=[Pain(Site.KNEE, Side.LEFT, 6)],
    )  # fmt: skip
    return reports.give(db, squad.squad, report, stamp=Stamp(squad.staff.id, NOW), today=TODAY).report


def rows(db, model, athlete):
    return db.scalar(select(func.count()).select_from(model).where(model.athlete_id == athlete))


def test_the_audit_can_neither_be_changed_nor_cut(db, squad, told):
    for statement in ("UPDATE audit SET action = 'x'", "DELETE FROM audit"):
        with pytest.raises(DatabaseError, match="only ever added to"), db.begin_nested():
            db.execute(text(statement))


def test_every_look_at_clinical_data_is_noted_once_a_visit(db, squad, told):
    for minutes in (0, 5, 45):
        clinical.complaints(db, squad.squad, TODAY, stamp=Stamp(squad.staff.id, NOW + timedelta(minutes=minutes)))
    looks = queries.audit.audited(db, squad.squad.id, action="clinical_seen", athlete_id=squad.athletes[0])
    assert [row.who for row in looks] == [squad.staff.name] * 2
    assert queries.audit.audited(db, squad.squad.id, action="clinical_seen", last=TODAY - timedelta(days=1)) == []
    assert len(queries.audit.audited(db, squad.squad.id, action="clinical_seen", before=looks[0].id)) == 1


def test_a_copy_holds_everything_as_json_and_csv_and_runs_no_formula(db, squad, told):
    athlete = squad.athletes[0]
    archive = zipfile.ZipFile(io.BytesIO(privacy.copy_of(db, squad.squad, athlete, stamp=Stamp(squad.staff.id, NOW))))
    whole = json.loads(archive.read("everything.json"))
    assert whole["reports"][0]["answers"]["mood"]["value"] == 3
    assert whole["complaints"][0]["site"] == "knee"
    assert len(whole["daily_loads"]) > 40
    assert b"'=cmd()" in archive.read("reports.csv")
    with pytest.raises(NotFound):
        privacy.copy_of(db, squad.squad, 999_999, stamp=Stamp(squad.staff.id, NOW))


def test_a_copy_and_an_erasure_leave_out_no_table_that_holds_something_of_an_athlete():
    elsewhere = {"alias", "user", "audit", "invitation", "squad_change"}
    held = {table.name for table in Base.metadata.sorted_tables if "athlete_id" in table.columns}
    assert {model.__tablename__ for model in privacy._OWN.values()} == held - elsewhere
    gone = {model.__tablename__ for model in (*privacy._HEALTH, *privacy._REST)}
    assert gone == held - elsewhere - {"consent", "load_limit"}


@pytest.fixture
def tested_and_counted(db, squad):
    """The first athlete has a test result, and throws counted yesterday."""
    test = testing.save_test(db, squad.squad, testing.Draft("Jump", "cm"), code=None, stamp=Stamp(squad.staff.id, NOW))
    result = fitness_results.NewResult(squad.athletes[0], [41.5])
    fitness_results.record(db, squad.squad, test, TODAY, [result], stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    document = {"minutes": [30, 20, 10]}
    work = Work(session_id=squad.on(TODAY - timedelta(days=1)).id, athlete_id=squad.athletes[0], what="zones",
                data=document, source=Source.STAFF, entered_at=NOW)  # fmt: skip
    db.add(work)
    db.flush()


def test_results_of_tests_and_documents_of_work_are_in_the_copy_and_go_with_the_rest(db, squad, tested_and_counted):
    athlete = squad.athletes[0]
    archive = zipfile.ZipFile(io.BytesIO(privacy.copy_of(db, squad.squad, athlete, stamp=Stamp(squad.staff.id, NOW))))
    whole = json.loads(archive.read("everything.json"))
    assert whole["tests"][0]["trials"] == [41.5]
    assert whole["work"][0]["data"] == {"minutes": [30, 20, 10]}
    privacy.forget(db, squad.squad, athlete, everything=True, stamp=Stamp(squad.staff.id, NOW))
    assert [rows(db, model, athlete) for model in (Result, Work)] == [0, 0]


def test_made_nameless_an_athlete_leaves_loads_but_no_name_words_or_health_data(db, squad, told):
    athlete = squad.athletes[0]
    privacy.forget(db, squad.squad, athlete, everything=False, stamp=Stamp(squad.staff.id, NOW))
    db.expire_all()
    assert db.get(Athlete, athlete).name == f"Former athlete {athlete}"
    assert [rows(db, model, athlete) for model in (Report, Complaint)] == [0, 0]
    assert rows(db, DailyLoad, athlete) > 40
    assert rows(db, Audit, athlete) > 0


def test_erased_an_athlete_leaves_no_loads_either(db, squad, told):
    athlete = squad.athletes[0]
    privacy.forget(db, squad.squad, athlete, everything=True, stamp=Stamp(squad.staff.id, NOW))
    assert [rows(db, model, athlete) for model in (Report, Complaint, DailyLoad, Entry)] == [0, 0, 0, 0]


def test_what_is_older_than_the_club_keeps_goes_and_the_rest_stays(db, squad, told):
    club = db.get_one(Club, squad.squad.club_id)
    assert privacy.keep_to_retention(db, club, now=NOW) == 0
    club.retention_days = 30
    assert privacy.keep_to_retention(db, club, now=NOW + timedelta(days=29)) == 0
    assert privacy.keep_to_retention(db, club, now=NOW + timedelta(days=32)) == 1
    assert rows(db, Report, squad.athletes[0]) == 0


@pytest.mark.parametrize(("after", "gone"), [(30, 0), (31, 2)])
def test_what_ended_on_the_last_day_that_is_kept_stays_a_day_longer_goes(db, squad, after, gone):
    club = db.get_one(Club, squad.squad.club_id)
    club.retention_days = 30
    how = {"stamp": Stamp(squad.staff.id, NOW), "today": TODAY}
    hurt = clinical.record_injury(db, squad.squad, squad.athletes[0], Pain(Site.KNEE, Side.LEFT, 3), "", **how)
    clinical.answer(db, squad.squad, hurt.id, "over", True, None, **how)
    new = NewRestriction(squad.athletes[0], Availability.LIMITED, "no duels", "", TODAY, TODAY)
    clinical.restrict(db, squad.squad, new, **how)
    db.flush()
    assert privacy.keep_to_retention(db, club, now=NOW + timedelta(days=after)) == gone


def test_consent_is_kept_with_its_text_and_can_be_taken_back(db, squad):
    club, athlete = db.get_one(Club, squad.squad.club_id), squad.athletes[0]
    club.consent_text = "We keep what you say."
    with pytest.raises(Invalid, match="changed in the meantime"):
        privacy.set_consent(db, squad.squad, athlete, True, "Another text.", stamp=Stamp(squad.staff.id, NOW))
    privacy.set_consent(db, squad.squad, athlete, True, club.consent_text, stamp=Stamp(squad.staff.id, NOW))
    assert queries.club.consent_of(db, athlete).text == "We keep what you say."
    privacy.set_consent(db, squad.squad, athlete, False, "", stamp=Stamp(squad.staff.id, NOW))
    assert queries.club.consent_of(db, athlete) is None

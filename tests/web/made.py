"""A squad with one of everything that has an address."""

from datetime import timedelta

from tests.conftest import NOW, TODAY
from uvren.core.day import CallKind
from uvren.core.reports import ReportKind
from uvren.store import models as m
from uvren.store.types import new_ulid

YESTERDAY = TODAY - timedelta(days=1)


def made_of(db, theirs, uploads):
    """One of everything that has an address, in their squad, by what it is called in an address."""
    squad, athlete, staff = theirs.squad.id, theirs.athletes[0], theirs.staff.id
    by = {"set_by": staff, "set_at": NOW}
    made = {"made_by": staff, "made_at": NOW}
    channel = db.query(m.Channel).filter_by(squad_id=squad).first()
    call = m.Call(squad_id=squad, athlete_id=athlete, day=TODAY, kind=CallKind.REFER, reason="", **made)
    rows = {
        "session": theirs.on(YESTERDAY),
        "limit": db.query(m.Limit).filter_by(squad_id=squad).first(),
        "call": call,
        "complaint": m.Complaint(squad_id=squad, athlete_id=athlete, kind=m.ComplaintKind.PAIN, day=TODAY, told_at=NOW),
        "note": m.Note(squad_id=squad, athlete_id=athlete, day=TODAY, audience="desk", words="theirs", **made),
        "anchor": m.Anchor(athlete_id=athlete, kind=m.AnchorKind.HR_MAX, value=190, from_day=TODAY, source="x", **by),
        "setting": m.NoticeSetting(squad_id=squad, code="worn", scope=m.Scope.SQUAD, off=True, values={},
                                   from_day=TODAY, **by),
        "place": m.Place(squad_id=squad, name="Theirs"),
        "view": m.SavedView(squad_id=squad, user_id=staff, name="theirs", query="order=name", made_at=NOW),
        "file": m.FileImport(squad_id=squad, file_name="theirs.csv", digest="0" * 64, size=1, state="looked_at",
                             spec={}, step="", report={}, undo={}, created_by=staff, created_at=NOW),
        "mapping": m.FileMapping(squad_id=squad, name="theirs", signature="0" * 64, spec={}, **by),
        "link": m.Invitation(token_digest=new_ulid(), squad_id=squad, role=m.Role.COACH, name="T", made_by=staff,
                             made_at=NOW, expires_at=NOW + timedelta(days=1)),
        "report": m.Report(squad_id=squad, athlete_id=athlete, kind=ReportKind.DAILY, day=TODAY,
                           answers={"mood": {"value": 3, "good": "high"}},
                           source=m.Source.ATHLETE, made_at=NOW, entered_at=NOW),
        "test": m.FitnessTest(squad_id=squad, code="theirs", name="Theirs", unit="s", better="lower", trials=2,
                              combine="best", **by),
        "definition": db.query(m.ChannelDefinition).filter_by(channel_id=channel.id).first(),
    }  # fmt: skip
    for row in rows.values():
        db.add(row)
    db.flush()
    recording = m.Recording(squad_id=squad, athlete_id=athlete, kind="heart_rate", device="x", starts_at=NOW, seconds=1,
                            samples=1, dropped=0, summary={}, data=b"")  # fmt: skip
    db.add(recording)
    db.flush()
    ids = {name: row.id for name, row in rows.items()} | {"recording": recording.id}
    (uploads / str(ids["file"])).write_text("a,b\n1,2\n")
    return ids | {"athlete": athlete, "user": staff, "test": "theirs"}

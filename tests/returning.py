"""People on their way back, for tests: days off, plans begun, and what the screens then read."""

from datetime import timedelta

from tests.conftest import NOW, TODAY
from uvren.core.audience import ALL
from uvren.core.body import Side, Site
from uvren.core.reports import ReportKind
from uvren.services.day.kept import parts_on
from uvren.services.reports import Told, give
from uvren.services.return_ import plans, reading, whole
from uvren.services.return_.plans import NewPlan
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.stamp import Stamp
from uvren.store.models import ReturnKind
from uvren.store.types import new_ulid

OFF = TODAY - timedelta(days=14)
MAIN = "session_rpe"


def changed(db, squad, first, last, minutes, effort, i=0):
    """What an athlete's entries say from a day on, up to another."""
    days = [one for one in squad.sessions if first <= one.day < last]
    athlete = squad.athletes[i]
    changes = [
        EntryChange(one.id, athlete, minutes, effort, version=squad.entry(db, athlete, one.day).version) for one in days
    ]
    record_entries(db, squad.squad.id, changes, stamp=Stamp(squad.staff.id, NOW), today=TODAY)


def rested(db, squad, first=OFF, last=TODAY, i=0):
    """The athlete was not there on these days."""
    changed(db, squad, first, last, 0.0, None, i)


def begun(db, squad, by, i=0, **more):
    given = {"kind": ReturnKind.LAYOFF, "first_day": TODAY, "first_off": OFF} | more
    return plans.begin(db, squad.squad, NewPlan(squad.athletes[i], **given), by)


def hurt(db, squad, by, **more):
    what = {"kind": ReturnKind.INJURY, "template": "shoulder", "site": Site.SHOULDER, "side": Side.RIGHT}
    return begun(db, squad, by, **(what | more))


def told(db, squad, *pains):
    """This morning's report of the first athlete, with what hurts."""
    what = Told(new_ulid(), squad.athletes[0], ReportKind.DAILY, TODAY, {"energy": 7.0}, NOW, pains=list(pains))
    give(db, squad.squad, what, stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    db.flush()


def plain(text):
    """Without the spaces that numbers are written with."""
    return text.replace("\u2009", " ").replace("\u00a0", " ")


def read(db, squad, audiences=ALL, day=TODAY):
    return reading.read_returns(db, squad.squad, day, TODAY, audiences)


def shown(db, squad, plan, audiences=ALL, day=TODAY):
    return whole.read_whole(db, squad.squad, plan.id, day, TODAY, audiences)


def part_of(db, squad, i=0, day=TODAY):
    return parts_on(db, squad.squad, day, TODAY)[squad.athletes[i]]

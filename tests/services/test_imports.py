"""Files from devices and forms come in whole or not at all, are told row by row, and can be taken back."""

import io
from dataclasses import replace
from datetime import UTC, datetime, time, timedelta

import numpy as np
import pytest
from sqlalchemy import func, select

from tests.conftest import NOW, TODAY
from uvren.services import files as imports
from uvren.services.day.people import remember
from uvren.services.day.samples import samples_of
from uvren.services.errors import Invalid, Stale
from uvren.services.files import mappings
from uvren.services.files.mappings import Spec
from uvren.services.session.entries import EntryChange, record_entries
from uvren.services.session.recordings import choose_recording
from uvren.services.session.work import WorkChange, record_work
from uvren.services.squad.anchors import NewAnchor, set_anchor
from uvren.services.squad.channels import Draft, save_channel
from uvren.services.stamp import Stamp
from uvren.simulate import devices
from uvren.store import queries
from uvren.store.models import (
    AnchorKind,
    Channel,
    DailyLoad,
    Entry,
    FileImport,
    ImportState,
    Recording,
    RecordingKind,
    Session,
    SessionKind,
    Source,
    Work,
)

YESTERDAY = TODAY - timedelta(days=1)
STARTS = datetime.combine(YESTERDAY, time(11), UTC)
RANDOM = 7


def movement(minutes=20, starts=STARTS, seed=RANDOM):
    return devices.move(starts, minutes, 6, np.random.default_rng(seed))


def strap(name="B", **more):
    made = devices.strap_file(movement(), "Europe/Oslo", np.random.default_rng(1), **more)
    return made.replace("S-1000", name)


def recordings(db):
    return list(db.scalars(select(Recording).order_by(Recording.athlete_id, Recording.kind, Recording.id)))


def as_athlete(spec, column):
    columns = tuple(replace(use, role="athlete") if use.name == column else use for use in spec.columns)
    return replace(spec, columns=columns)


def strap_spec(spec):
    return as_athlete(spec, "Strap")


def test_the_columns_of_a_strap_are_guessed(db, squad, folder):
    put = imports.put_down(db, squad.squad, folder, "B.csv", io.BytesIO(strap().encode()), stamp=Stamp(None, NOW))
    spec = imports.preview(db, squad.squad, folder / put.id, "B.csv", today=TODAY).spec
    roles = {use.name: use.role for use in spec.columns}
    assert roles["Local time"] == "time"
    assert roles["Pulse (bpm)"] == "heart_rate"
    assert (spec.writing, spec.zone) == ("day_first", "Europe/Oslo")


def test_a_straps_file_becomes_a_recording_of_its_session_and_says_what_was_dropped(db, squad, bring):
    done = bring(strap(), change=strap_spec)
    assert done.state is ImportState.DONE, done.report
    (kept,) = recordings(db)
    assert (kept.athlete_id, kept.session_id) == (squad.athletes[1], squad.on(YESTERDAY).id)
    assert kept.starts_at == STARTS
    assert 0 < kept.dropped < 20
    assert kept.coverage > 0.98
    (told,) = done.report["recordings"]
    assert told["dropped"] == kept.dropped
    mean = samples_of(db, [kept.id])[kept.id].value.mean()
    assert mean == pytest.approx(movement().heart_rate.mean(), abs=1)


def test_pods_of_a_whole_squad_come_in_from_one_file_and_give_the_true_distances(db, squad, bring):
    truth = {name: movement(seed=i) for i, name in enumerate("ABCD")}
    done = bring(devices.pod_file(truth, np.random.default_rng(2)))
    assert done.state is ImportState.DONE, done.report
    kept = recordings(db)
    assert [one.athlete_id for one in kept] == squad.athletes
    for one, true in zip(kept, truth.values(), strict=True):
        samples = samples_of(db, [one.id])[one.id]
        assert float(samples.value @ samples.held) == pytest.approx(true.distance, rel=0.01)


def test_shoe_pods_need_the_day_and_the_beginning_and_give_the_true_sides(db, squad, bring):
    true = movement()
    content = devices.shoe_file(true, np.random.default_rng(3))
    with pytest.raises(Invalid, match="when it began"):
        bring(content, "C.txt")
    local = STARTS.astimezone(mappings.ZoneInfo("Europe/Oslo"))
    done = bring(content, "C.txt", day=local.date(), begins=local.time())
    assert done.state is ImportState.DONE, done.report
    (kept,) = recordings(db)
    assert kept.athlete_id == squad.athletes[2]
    assert kept.starts_at - STARTS < timedelta(seconds=60)
    right = np.array(kept.summary["right"], dtype=bool)
    assert right.sum() == true.impact_right.sum()
    assert np.mean(kept.summary["g"]) == pytest.approx(true.impact_g.mean(), rel=0.02)


def test_a_clock_that_is_off_is_put_right(db, squad, bring):
    bring(strap(clock_off=90), change=lambda spec: replace(strap_spec(spec), offset_seconds=-90.0))
    assert recordings(db)[0].starts_at == STARTS


def test_the_same_file_twice_is_recognised_by_its_content(db, squad, bring):
    first = bring(strap(), change=strap_spec)
    again = bring(strap(), "another name.csv", change=strap_spec)
    assert again.id == first.id
    assert len(recordings(db)) == 1


def test_an_import_is_taken_back_as_a_whole_and_can_come_in_again(db, squad, bring):
    entries = db.scalar(select(func.count()).select_from(Entry))
    done = bring(strap(), change=strap_spec)
    imports.undo(db, squad.squad, done.id, stamp=Stamp(None, NOW), today=TODAY)
    assert recordings(db) == []
    assert db.scalar(select(func.count()).select_from(Entry)) == entries
    with pytest.raises(Stale):
        imports.undo(db, squad.squad, done.id, stamp=Stamp(None, NOW), today=TODAY)
    assert bring(strap(), change=strap_spec).state is ImportState.DONE


def test_two_devices_on_one_athlete_ask_which_counts(db, squad, bring):
    bring(strap(), change=strap_spec)
    second = bring(strap(clock_off=4), change=strap_spec)
    assert second.report["overlaps"] == 1
    one, two = recordings(db)
    assert (one.counts, two.counts) == (True, False)
    choose_recording(db, squad.squad, two.id)
    assert (one.counts, two.counts) == (False, True)


def test_a_recording_that_begins_where_the_one_before_ended_counts_beside_it(db, squad, bring):
    def part(first, last):
        rows = [f"A,{(STARTS + timedelta(seconds=i)).isoformat()},120" for i in range(first, last + 1)]
        return bring("who,time,hr\n" + "\n".join(rows) + "\n")

    part(0, 300)
    assert part(300, 600).report["overlaps"] == 0
    assert part(599, 700).report["overlaps"] == 1
    assert [one.counts for one in sorted(recordings(db), key=lambda one: one.starts_at)] == [True, True, False]


def test_unknown_athletes_keep_a_file_out_until_someone_says_who_they_are(db, squad, folder, bring):
    failed = bring(strap("Strap 77"), change=strap_spec)
    assert failed.state is ImportState.FAILED
    assert failed.report["unknown"] == ["Strap 77"]
    assert recordings(db) == []
    remember(db, squad.squad, {"strap 77": squad.athletes[3]})
    # The file is still here: it does not have to be given again.
    imports.queue(db, squad.squad, failed.id, Spec.from_json(failed.spec))
    done = imports.run(db, failed.id, folder, now=NOW, today=TODAY)
    assert done.state is ImportState.DONE
    assert [one.athlete_id for one in recordings(db)] == [squad.athletes[3]]


def test_a_file_that_ends_the_worker_twice_is_not_begun_again_and_can_be_put_away(db, squad, folder, monkeypatch):
    content = strap().encode()
    put = imports.put_down(db, squad.squad, folder, "strap.csv", io.BytesIO(content), stamp=Stamp(squad.staff.id, NOW))
    imports.queue(
        db,
        squad.squad,
        put.id,
        strap_spec(imports.preview(db, squad.squad, folder / put.id, "strap.csv", today=TODAY).spec),
    )
    begun = []

    def killed(*_args, **_more):
        begun.append(1)
        # Ends the worker as a kill does: nothing is written of what came of it.
        raise KeyboardInterrupt

    with monkeypatch.context() as patched:
        patched.setattr("uvren.services.files.coming.bring_in", killed)
        for _ in range(2):
            with pytest.raises(KeyboardInterrupt):
                imports.run(db, put.id, folder, now=NOW, today=TODAY)
            # Another worker does not take what one is at.
            assert imports.run(db, put.id, folder, now=NOW, today=TODAY).state is ImportState.RUNNING
            assert queries.files.imports_to_begin(db) == [put.id]
        failed = imports.run(db, put.id, folder, now=NOW, today=TODAY)
    assert len(begun) == 2
    assert failed.state is ImportState.FAILED
    assert "ended at this one twice" in failed.report["wrong"]
    # Somebody may try it once more, or put it away.
    imports.queue(db, squad.squad, put.id, Spec.from_json(failed.spec))
    assert failed.begun == 0
    failed.state = ImportState.FAILED
    imports.discard(db, squad.squad, put.id, folder)
    assert not (folder / put.id).exists()


def test_a_file_made_to_do_harm_is_refused_where_it_is_looked_at(db, squad, folder):
    content = b'{"t":' + b"[" * 200_000 + b"]" * 200_000 + b"}\n"
    put = imports.put_down(
        db, squad.squad, folder, "nested.jsonl", io.BytesIO(content), stamp=Stamp(squad.staff.id, NOW)
    )
    with pytest.raises(Invalid, match="nested deeper"):
        imports.preview(db, squad.squad, folder / put.id, "nested.jsonl", today=TODAY)


def test_someone_who_is_none_of_the_squad_is_left_out(db, squad, bring):
    remember(db, squad.squad, {"guest": None})
    truth = {"A": movement(), "Guest": movement(seed=9)}
    done = bring(devices.pod_file(truth, np.random.default_rng(2)))
    assert done.state is ImportState.DONE
    assert done.report["left_out"] == ["Guest"]
    assert len(recordings(db)) == 1


def test_a_session_that_does_not_exist_is_offered_and_made_on_request(db, squad, bring):
    sunday = next(TODAY - timedelta(days=i) for i in range(1, 8) if (TODAY - timedelta(days=i)).weekday() == 6)
    content = devices.pod_file({"A": movement(starts=datetime.combine(sunday, time(9), UTC))}, np.random.default_rng(2))
    failed = bring(content)
    assert failed.state is ImportState.FAILED
    assert len(failed.report["unplaced"]) == 1
    done = bring(content + "\n", make_sessions=True)
    assert done.state is ImportState.DONE, done.report
    session = db.scalars(select(Session).where(Session.day == sunday)).one()
    assert session.planned_minutes == 20
    imports.undo(db, squad.squad, done.id, stamp=Stamp(None, NOW), today=TODAY)
    assert db.scalars(select(Session).where(Session.day == sunday)).all() == []


FORM = "Name;Date;Minutes;RPE;Comment\n"


def form(*rows):
    return FORM + "\n".join(rows) + "\n"


def day(back):
    return (TODAY - timedelta(days=back)).strftime("%d.%m.%Y")


def test_ratings_from_a_form_stand_in_the_entries_and_their_loads_follow(db, squad, bring):
    done = bring(form(f"A;{day(1)};55;7,5;tired", f"B;{day(1)};60;4;"))
    assert done.state is ImportState.DONE, done.report
    entry = squad.entry(db, squad.athletes[0], YESTERDAY)
    assert (entry.minutes, entry.effort, entry.words) == (55, 7.5, "tired")
    assert squad.daily(db, squad.athletes[0], YESTERDAY).load == 412.5


def test_taking_ratings_back_puts_the_old_ones_in_their_place(db, squad, bring):
    done = bring(form(f"A;{day(1)};55;7,5;tired"))
    imports.undo(db, squad.squad, done.id, stamp=Stamp(None, NOW), today=TODAY)
    entry = squad.entry(db, squad.athletes[0], YESTERDAY)
    assert (entry.minutes, entry.effort, entry.words) == (60, 5, None)
    assert squad.daily(db, squad.athletes[0], YESTERDAY).load == 300


def test_what_someone_changed_since_stays_and_is_said_when_a_file_is_taken_back(db, squad, bring):
    done = bring(form(f"A;{day(1)};55;7,5;tired", f"B;{day(1)};60;4;"))
    entry = squad.entry(db, squad.athletes[0], YESTERDAY)
    change = EntryChange(entry.session_id, entry.athlete_id, 55.0, 8.0, "tired", entry.version)
    record_entries(db, squad.squad.id, [change], stamp=Stamp(squad.staff.id, NOW), today=TODAY)
    undone = imports.undo(db, squad.squad, done.id, stamp=Stamp(None, NOW), today=TODAY)
    assert squad.entry(db, squad.athletes[0], YESTERDAY).effort == 8
    assert squad.entry(db, squad.athletes[1], YESTERDAY).effort == 5
    assert undone.report["kept"] == ["An entry on Wed 11 March 2026 was changed since and stays."]


BAD = (f"A;{day(1)};55;7;", f"B;{day(1)};sixty;4;", f"C;{day(1)};60;14;", f"D;31.02.2026;60;5;")  # noqa: F541


def test_a_file_with_bad_rows_stays_out_and_every_one_of_them_is_told(db, squad, bring):
    failed = bring(form(*BAD))
    assert failed.state is ImportState.FAILED
    told = {(problem["row"], problem["column"]) for problem in failed.report["problems"]}
    assert told == {(3, "Minutes"), (4, "RPE"), (5, "Date")}
    assert squad.entry(db, squad.athletes[0], YESTERDAY).effort == 5


def test_the_good_rows_come_in_when_the_user_says_so(db, squad, bring):
    done = bring(form(*BAD), good_rows=True)
    assert done.state is ImportState.DONE
    assert done.report["entries"] == 1
    assert done.report["problem_count"] == 3
    assert squad.entry(db, squad.athletes[0], YESTERDAY).effort == 7


def rotations(*rows):
    return "\n".join(["Player;Date;On;Off", *rows])


def test_rotations_of_a_match_come_to_minutes(db, squad, bring):
    a, b, c = squad.athletes[:3]
    # A is on twice, B to the end, C from the start; minutes and seconds are read as they are written.
    made = bring(rotations(f"A;{day(1)};0;20", f"A;{day(1)};30;60", f"B;{day(1)};45:30;", f"C;{day(1)};;12,5"))
    assert made.state is ImportState.DONE
    session = squad.on(YESTERDAY)
    minutes = {one.athlete_id: one.minutes for one in queries.session.entries_of(db, [session.id])}
    assert {who: minutes[who] for who in (a, b, c)} == {a: 50, b: 14.5, c: 12.5}
    assert "1 row without going off count until the last minute" in str(made.report)


def test_a_rotation_that_ends_before_it_begins_is_told(db, squad, bring):
    made = bring(rotations(f"A;{day(1)};30;20", f"B;{day(1)};0;60"))
    assert made.state is ImportState.FAILED
    assert "Off at 20 is before on at 30." in str(made.report)


def test_a_row_that_stands_twice_is_asked_about_rather_than_guessed(db, squad, bring):
    failed = bring(form(f"A;{day(1)};55;7;", f"A;{day(1)};60;8;"))
    assert "A on Wed 11 March 2026" in failed.report["wrong"]
    assert "1 question" in failed.report["wrong"]


def test_loads_of_a_channel_come_from_a_column_of_its_name(db, squad, bring):
    sprint_channel(db, squad)
    done = bring(f"name,date,sprints\nA,{YESTERDAY},14\nB,{YESTERDAY},9\n")
    assert done.state is ImportState.DONE, done.report
    channel = db.scalar(select(Channel.id).where(Channel.code == "sprints"))
    loads = {
        row.athlete_id: row.load
        for row in db.scalars(select(DailyLoad).where(DailyLoad.channel_id == channel, DailyLoad.day == YESTERDAY))
    }
    assert loads[squad.athletes[0]] == 14
    # Others in the same session are unknown, not 0.
    assert loads[squad.athletes[2]] is None


def sprint_channel(db, squad):
    draft = Draft("Sprints", "sprints", "position", {"measure": "sprints", "speed": 7.0}, [SessionKind.COURT],
                  ["thigh"], "fork", TODAY - timedelta(days=50), "new")  # fmt: skip
    save_channel(db, squad.squad, draft, code=None, recompute=True, stamp=Stamp(None, NOW), today=TODAY)


def given(db, squad, i, what):
    return db.scalar(
        select(Work).where(
            Work.athlete_id == squad.athletes[i],
            Work.what == what,
            Work.session_id == squad.on(YESTERDAY).id,
        )
    )


def test_taking_loads_back_leaves_what_was_there_before_and_what_came_since(db, squad, bring):
    sprint_channel(db, squad)
    what = "given:sprints"
    by_hand = WorkChange(squad.on(YESTERDAY).id, squad.athletes[0], what, {"value": 5}, source=Source.STAFF)
    record_work(db, squad.squad.id, [by_hand], stamp=Stamp(squad.staff.id, NOW - timedelta(hours=1)), today=TODAY)
    done = bring(f"name,date,sprints\nA,{YESTERDAY},14\nB,{YESTERDAY},9\nC,{YESTERDAY},8\n")
    assert done.state is ImportState.DONE, done.report
    assert [given(db, squad, i, what).data["value"] for i in range(3)] == [14, 9, 8]
    since = WorkChange(squad.on(YESTERDAY).id, squad.athletes[2], what, {"value": 11}, 1, Source.STAFF)
    record_work(db, squad.squad.id, [since], stamp=Stamp(squad.staff.id, NOW + timedelta(hours=1)), today=TODAY)
    undone = imports.undo(db, squad.squad, done.id, stamp=Stamp(squad.staff.id, NOW + timedelta(hours=2)), today=TODAY)
    assert given(db, squad, 0, what).data["value"] == 5
    assert given(db, squad, 1, what) is None
    assert given(db, squad, 2, what).data["value"] == 11
    assert undone.report["kept"] == ["sprints on Wed 11 March 2026 was changed since and stays."]
    with pytest.raises(Stale, match="Only a file that is in"):
        imports.undo(db, squad.squad, done.id, stamp=Stamp(squad.staff.id, NOW), today=TODAY)


def test_minutes_in_zones_come_from_columns_of_their_names(db, squad, bring):
    done = bring(f"name,date,zone 1,zone 2,zone 3\nA,{YESTERDAY},30,20,10\nB,{YESTERDAY},,,\n")
    assert done.state is ImportState.DONE, done.report
    assert given(db, squad, 0, "zones").data == {"minutes": [30, 20, 10]}
    assert given(db, squad, 1, "zones") is None


def test_zones_of_which_one_is_missing_are_not_taken_for_others(db, squad, bring):
    with pytest.raises(Invalid, match="all zones"):
        bring(f"name,date,zone 3,zone 4,zone 5\nA,{YESTERDAY},30,20,10\n", change=lambda spec: spec.check() or spec)


def test_heart_rate_becomes_load_by_the_anchors_of_that_day(db, squad, bring):
    draft = Draft("Impulse", "impulse", "heart_rate", {"method": "edwards"}, [SessionKind.COURT], [], "wave",
                  TODAY - timedelta(days=50), "new")  # fmt: skip
    channel = save_channel(db, squad.squad, draft, code=None, recompute=True, stamp=Stamp(None, NOW), today=TODAY)

    def load():
        return db.scalar(
            select(DailyLoad.load).where(
                DailyLoad.channel_id == channel.id,
                DailyLoad.athlete_id == squad.athletes[1],
                DailyLoad.day == YESTERDAY,
            )
        )

    bring(strap(), change=strap_spec)
    assert load() is None
    for value, since in ((195.0, 30), (180.0, 0)):
        anchor = NewAnchor(squad.athletes[1], AnchorKind.HR_MAX, value, None, TODAY - timedelta(days=since))
        set_anchor(db, squad.squad, anchor, stamp=Stamp(None, NOW), today=TODAY)
    true = movement().heart_rate
    minutes = [((true >= 195 * a) & (true < 195 * b)).sum() / 60 for a, b in
               ((0.5, 0.6), (0.6, 0.7), (0.7, 0.8), (0.8, 0.9), (0.9, 2))]  # fmt: skip
    assert load() == pytest.approx(np.dot(minutes, [1, 2, 3, 4, 5]), rel=0.05)


def test_a_saved_mapping_reads_every_file_like_it_by_itself(db, squad, folder, bring):
    put = imports.put_down(db, squad.squad, folder, "x.csv", io.BytesIO(strap().encode()), stamp=Stamp(None, NOW))
    look = imports.preview(db, squad.squad, folder / put.id, "x.csv", today=TODAY)
    mappings.save_mapping(db, squad.squad, "Straps", look.look.columns, strap_spec(look.spec), stamp=Stamp(None, NOW))
    again = imports.preview(db, squad.squad, folder / put.id, "x.csv", today=TODAY)
    assert again.mapping == "Straps"
    assert [(said, known) for said, _, known in again.people] == [("B", True)]
    # Nothing is left to ask: it is queued without anybody looking.
    assert imports.take_by_itself(db, squad.squad, put, folder, today=TODAY)
    assert imports.run(db, put.id, folder, now=NOW, today=TODAY).state is ImportState.DONE


def test_a_file_with_anything_left_to_ask_waits_to_be_looked_at(db, squad, folder):
    def taken(content):
        put = imports.put_down(db, squad.squad, folder, "x.csv", io.BytesIO(content.encode()), stamp=Stamp(None, NOW))
        return imports.take_by_itself(db, squad.squad, put, folder, today=TODAY)

    assert not taken(form(f"A;{day(1)};55;7;"))
    columns = ["Name", "Date", "Minutes", "RPE", "Comment"]
    put = imports.put_down(
        db, squad.squad, folder, "y.csv", io.BytesIO(form(f"A;{day(1)};5;7;").encode()), stamp=Stamp(None, NOW)
    )
    spec = imports.preview(db, squad.squad, folder / put.id, "y.csv", today=TODAY).spec
    mappings.save_mapping(db, squad.squad, "Form", columns, spec, stamp=Stamp(None, NOW))
    assert taken(form(f"A;{day(1)};56;7;"))
    for rows in ([f"Zed;{day(1)};55;7;"], [f"A;{day(1)};x;7;"], [f"A;{day(400)};55;7;"]):
        assert not taken(form(*rows))


@pytest.mark.parametrize(("rate", "kept"), [("0", False), ("300", False), ("inf", None), ("120", True)])
def test_impossible_heart_rates_are_dropped_and_infinity_is_told(db, squad, bring, rate, kept):
    rows = [f"A,{(STARTS + timedelta(seconds=i)).isoformat()},{rate if i == 5 else 120}" for i in range(60)]
    done = bring("who,time,hr\n" + "\n".join(rows) + "\n")
    if kept is None:
        assert done.state is ImportState.FAILED
        assert done.report["problems"][0]["why"] == "It is not a finite number."
    else:
        (one,) = recordings(db)
        assert (one.dropped, one.samples) == ((0, 60) if kept else (1, 59))


def test_times_that_repeat_or_run_back_are_put_in_order(db, squad, bring):
    seconds = [*range(60), 30, 31, *range(90, 60, -1)]
    rows = [f"A,{(STARTS + timedelta(seconds=i)).isoformat()},{100 + i % 40}" for i in seconds]
    done = bring("who,time,hr\n" + "\n".join(rows) + "\n")
    assert done.state is ImportState.DONE, done.report
    (one,) = recordings(db)
    samples = samples_of(db, [one.id])[one.id]
    assert samples.t.size == 90
    assert (np.diff(samples.t) > 0).all()


def test_a_file_of_more_than_one_session_is_cut_at_its_pauses(db, squad, bring):
    before = STARTS - timedelta(days=1)
    rows = [f"A,{(start + timedelta(seconds=i)).isoformat()},{120}" for start in (before, STARTS) for i in range(300)]
    done = bring("who,time,hr\n" + "\n".join(rows) + "\n")
    assert done.state is ImportState.DONE, done.report
    assert {one.session_id for one in recordings(db)} == {squad.on(YESTERDAY).id, squad.on(before.date()).id}


def test_an_empty_file_and_a_picture_are_refused_in_a_sentence(db, squad, folder, bring):
    with pytest.raises(Invalid, match="empty"):
        bring(b"")
    with pytest.raises(Invalid, match="neither text"):
        bring(b"\x89PNG\r\n\x1a\n" + bytes(200))
    assert db.scalar(select(func.count()).select_from(Recording)) == 0


def test_an_upload_that_grows_too_large_is_cut_off_and_nothing_of_it_is_kept(db, squad, folder, monkeypatch):
    monkeypatch.setattr("uvren.services.files.coming.MOST_BYTES", 1000)
    with pytest.raises(Invalid, match="too large"):
        imports.put_down(db, squad.squad, folder, "big.csv", io.BytesIO(b"x" * 5000), stamp=Stamp(None, NOW))
    assert list(folder.iterdir()) == []
    assert db.scalar(select(func.count()).select_from(FileImport)) == 0


def test_the_faulty_straps_hole_shows_in_its_coverage(db, squad, bring):
    bring(strap(faulty=True), change=strap_spec)
    (one,) = recordings(db)
    assert one.kind is RecordingKind.HEART_RATE
    assert one.coverage < 0.6
    assert one.dropped > 500


def test_a_file_that_was_sent_is_readable_by_the_program_alone(db, squad, tmp_path):
    put = imports.put_down(db, squad.squad, tmp_path, "x.csv", io.BytesIO(strap().encode()), stamp=Stamp(None, NOW))
    assert (tmp_path / put.id).stat().st_mode & 0o777 == 0o600

"""Files through the screens, with the worker at work: looked at, fixed, in, told, and taken back."""

import io
import re
from datetime import UTC, date, datetime

import numpy as np
import openpyxl
from playwright.sync_api import expect

from uvren.simulate import devices

FILES = "/squad/files?squad=tarnholm-ski&day=2026-03-12"


def drop(page, name, content):
    page.get_by_label("Files to bring in").set_input_files(
        {"name": name, "mimeType": "text/csv", "buffer": content if isinstance(content, bytes) else content.encode()}
    )


def row(page, name):
    return page.get_by_role("row", name=re.compile(re.escape(name)))


def skiers(page):
    page.goto("/squad/people?squad=tarnholm-ski&day=2026-03-12")
    page.wait_for_selector(".row-name")
    return page.locator(".row-name b").all_inner_texts()


def test_a_form_is_fixed_once_comes_in_and_the_next_one_goes_in_by_itself(staff):
    first, second, *_ = skiers(staff)
    staff.goto(FILES)
    drop(staff, "week.csv", f"Skier;Date;Total;RPE\n{first};08.03.2026;2.5;4\nThe Tall One;08.03.2026;2.5;4.5\n")
    look = staff.get_by_role("form", name=re.compile("week.csv"))
    look.get_by_label("Skier holds").select_option("athlete")
    look.get_by_label("Total holds").select_option("minutes")
    look.get_by_label("Unit of Total").select_option("h")
    expect(look.get_by_text("1 of 2 people known: who")).to_be_visible()
    look.get_by_label("The Tall One is").select_option(label=second)
    expect(look.get_by_text("2 of 2 people known: who")).to_be_visible()
    look.get_by_label("Keep this way of reading as").fill("Weekly form")
    look.get_by_role("button", name="Bring it in").click()
    expect(row(staff, "week.csv").get_by_role("cell", name="in", exact=True)).to_be_visible()
    report = staff.get_by_role("complementary")
    expect(report).to_contain_text("2 entries")
    drop(staff, "next.csv", f"Skier;Date;Total;RPE\n{first};08.03.2026;2.0;3\nThe Tall One;08.03.2026;2.5;5\n")
    expect(report).to_contain_text("next.csv")
    expect(report).to_contain_text("2 entries")
    report.get_by_role("button", name="Take it back").click()
    expect(row(staff, "next.csv")).to_contain_text("taken back")
    drop(staff, "week again.csv", f"Skier;Date;Total;RPE\n{first};08.03.2026;2.5;4\nThe Tall One;08.03.2026;2.5;4.5\n")
    expect(staff.get_by_text("is in already, as week.csv")).to_be_visible()


def test_bad_rows_keep_a_file_out_are_listed_and_can_be_left_out(staff):
    first, second, *_ = skiers(staff)
    staff.goto(FILES)
    drop(staff, "bad.csv", f"Name;Date;Minutes;RPE\n{first};05.03.2026;sixty;4\n{second};03.03.2026;60;4\n")
    look = staff.get_by_role("form", name=re.compile("bad.csv"))
    problems = look.get_by_role("region", name="Rows that cannot be read")
    expect(problems).to_contain_text("It is not a number.")
    look.get_by_role("button", name="Bring it in").click()
    expect(row(staff, "bad.csv")).to_contain_text("stayed out")
    expect(staff.get_by_role("complementary")).to_contain_text("Nothing came in: 1 row cannot be read")
    look = staff.get_by_role("form", name=re.compile("bad.csv"))
    look.get_by_label("Take the good rows").check()
    look.get_by_role("button", name="Bring it in").click()
    expect(staff.get_by_role("complementary")).to_contain_text("1 entries")


def test_a_file_that_is_no_table_says_so_and_can_be_put_away(staff):
    staff.goto(FILES)
    drop(staff, "picture.csv", bytes(range(256)) * 8)
    expect(staff.get_by_text("This is neither text")).to_be_visible()
    staff.get_by_role("button", name="Put it away").click()
    expect(row(staff, "picture.csv")).to_have_count(0)


def test_a_straps_file_shows_in_the_session_and_its_parts_can_be_moved(staff):
    name = skiers(staff)[2]
    starts = datetime(2026, 3, 11, 16, 0, tzinfo=UTC)
    true = devices.move(starts, 30, 4, np.random.default_rng(1))
    content = devices.strap_file(true, "Europe/Oslo", np.random.default_rng(2))
    staff.goto(FILES)
    drop(staff, f"{name}.csv", content)
    look = staff.get_by_role("form", name=re.compile(re.escape(name)))
    expect(look.get_by_text(f"All of it is of {name}.")).to_be_visible()
    look.get_by_role("button", name="Bring it in").click()
    staff.get_by_role("link", name="See what was recorded").click()
    expect(staff.get_by_role("img", name=f"Heart rate of {name} over the session")).to_be_visible()
    expect(row(staff, name)).to_contain_text("three zones")


def test_the_edge_of_a_part_moves_its_figures_and_can_be_put_back(staff):
    staff.goto("/session?squad=tarnholm-handball&day=2026-03-12&show=recordings")
    figures = staff.get_by_role("table", name=re.compile("by part"))
    warm_up = figures.get_by_role("row", name=re.compile("Warm-up"))
    before = warm_up.inner_text()
    edge = staff.get_by_role("slider", name="Begin of Throwing and finishing")
    edge.focus()
    staff.keyboard.press("Shift+ArrowRight")
    expect(staff.get_by_text("The parts of the session are moved.")).to_be_visible()
    expect(warm_up).not_to_have_text(before, use_inner_text=True)
    staff.get_by_role("button", name="Undo").click()
    expect(warm_up).to_have_text(before, use_inner_text=True)


def test_the_strap_that_lost_contact_is_called_doubtful(staff):
    staff.goto("/session?squad=tarnholm-handball&day=2026-03-12&show=recordings")
    expect(staff.get_by_text("doubtful")).to_have_count(1)


def season(people):
    """A workbook as clubs keep it: a sheet for each month, days without their year side by side, words for numbers."""
    book = openpyxl.Workbook()
    book.remove(book.active)
    for month in (5, 6, 7):
        sheet = book.create_sheet(f"{date(2024, month, 1):%B}")
        days = [date(2024, month, day) for day in (3, 10, 17, 24)]
        sheet.append(["Player", *[cell for day in days for cell in (f"{day:%d.%m.}", "")]])
        sheet.append(["", *["Min", "RPE"] * len(days)])
        for i, name in enumerate(people):
            sheet.append([name, *[cell for n in range(4) for cell in ("off" if (n + i) % 5 == 0 else "1:15", 5)]])
        sheet.append(["Average", *[70, 5] * len(days)])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def test_an_old_season_is_asked_about_where_it_is_open_and_comes_in_whole(staff):
    first, second, *_ = skiers(staff)
    staff.goto(FILES)
    drop(staff, "season.xlsx", season([first, second, "Guest"]))
    look = staff.get_by_role("form", name=re.compile("season.xlsx"))
    look.get_by_role("button", name="All of them").click()
    expect(look.get_by_text("36 rows.")).to_be_visible()
    expect(look.get_by_text("Rows left out as totals: Average.")).to_be_visible()
    expect(look.get_by_role("button", name="Bring it in")).to_be_disabled()
    look.get_by_label("from Wed 3 May 2023").check()
    look.get_by_role("button", name="Ask again what was answered").click()
    look.get_by_label("from Fri 3 May 2024").check()
    look.get_by_label("they were in the squad by then").check()
    look.get_by_label("Guest is").select_option("none")
    making = look.get_by_label(re.compile("12 sessions from Fri 3 May 2024 to Wed 24 Jul 2024"))
    making.check()
    look.get_by_label("Their title").fill("Old season")
    look.get_by_label("Their title").press("Tab")
    look.get_by_text("Which sessions").click()
    expect(look.get_by_text("Old season").first).to_be_visible()
    look.get_by_role("button", name="Bring it in").click()
    report = staff.get_by_role("complementary")
    expect(report).to_contain_text("24 entries", timeout=20_000)
    report.get_by_role("button", name="Take it back").click()
    expect(row(staff, "season.xlsx")).to_contain_text("taken back")


def test_what_is_chosen_while_an_answer_is_under_way_stays_chosen(staff):
    first, second, *_ = skiers(staff)
    staff.goto(FILES)
    drop(staff, "again.xlsx", season([first, second, "Stranger"]))
    look = staff.get_by_role("form", name=re.compile("again.xlsx"))
    look.get_by_role("button", name="All of them").click()
    look.get_by_label("from Fri 3 May 2024").check()
    look.get_by_label("they were in the squad by then").check()
    making = look.get_by_label(re.compile("12 sessions from"))
    expect(making).to_be_visible()
    held = []

    def who_waits(route):
        if '"people"' in (route.request.post_data or "") and not held:
            held.append(route)
        else:
            route.continue_()

    staff.route("**/preview", who_waits)
    with staff.expect_request("**/preview"):
        look.get_by_label("Stranger is").select_option("none")
    making.check()
    look.get_by_label("Their title").fill("Old season")
    with staff.expect_response(lambda answer: '"people"' in (answer.request.post_data or "")):
        held[0].continue_()
    expect(look.get_by_text("3 of 3 people known")).to_be_visible()
    expect(making).to_be_checked()
    expect(look.get_by_label("Their title")).to_have_value("Old season")
    staff.get_by_role("button", name="Put it away").click()

"""Wide tables: days or people side by side, sheets by week or by athlete."""

from collections import defaultdict
from datetime import date, datetime, time
from random import Random

import openpyxl

from tests.club_files.made import (
    ISO,
    PEOPLE,
    POINTS,
    Made,
    Truth,
    book,
    crowd,
    days,
    heads,
    kind,
    loads_truth,
    number,
    ods,
    plain_truth,
    rated,
    settled,
    text,
)


def day_heads(random: Random, dates: list[date], every: int = 1) -> list[object]:
    form = random.choice([POINTS, ISO, "%d/%m/%Y", "%d %b %Y"])
    return [cell for day in dates for cell in (day.strftime(form), *[""] * (every - 1))]


@kind
def wide_pairs(random: Random) -> Made:
    """A row for each athlete, minutes and effort below each day, groups and totals between."""
    dates = days(random, 8)
    while not settled(dates):
        dates = days(random, 8)
    people = crowd(random, 5)
    truth = plain_truth(random, dates, people)
    rows: list[list[object]] = [["Name", *day_heads(random, dates, 2), "Total"], ["", *["Min", "RPE"] * len(dates), ""]]
    for i, name in enumerate(people):
        if i == 2:
            rows.append(["Backs", *[""] * (2 * len(dates) + 1)])
        own = [truth.get((name, day), [(None, None, None)])[0] for day in dates]
        rows.append([name, *[number(value) for minutes, effort, _ in own for value in (minutes, effort)], "999"])
    rows.append(["Average", *["66.1", "5.5"] * len(dates), "700"])
    title = [["Week 7", *[""] * (2 * len(dates) + 1)]] if random.random() < 0.5 else []
    return Made("wide_pairs", "wide.csv", text([*title, *rows], random.choice([",", ";"])), truth)


@kind
def wide_book(random: Random) -> Made:
    """The same in a workbook, with merged heads and days as days."""
    dates, people = days(random, 8), crowd(random)
    truth = plain_truth(random, dates, people)
    upper = ["Player", *[cell for day in dates for cell in (datetime.combine(day, time(0)), "")]]
    rows: list[list[object]] = [upper, ["", *["min", "sRPE"] * len(dates)]]
    for name in people:
        own = [truth.get((name, day), [("", "", None)])[0] for day in dates]
        rows.append([name, *[value for minutes, effort, _ in own for value in (minutes, effort)]])
    letters = openpyxl.utils.get_column_letter
    merged = [f"{letters(2 + 2 * i)}1:{letters(3 + 2 * i)}1" for i in range(len(dates))]
    return Made("wide_book", "wide.xlsx", book({"Season": rows}, {"Season": merged}), truth)


@kind
def wide_combined(random: Random) -> Made:
    """Day and measure in one head cell."""
    dates, people = days(random, 6), crowd(random)
    truth = plain_truth(random, dates, people)
    head = ["Name", *[f"{day:{ISO}} {part}" for day in dates for part in ("min", "RPE")]]
    rows = [
        [name, *[number(v) for day in dates for v in truth.get((name, day), [(None, None, None)])[0][:2]]]
        for name in people
    ]
    return Made("wide_combined", "wide.csv", text([head, *rows]), truth)


@kind
def wide_loads(random: Random) -> Made:
    """One load a day, some of them words: off, injured. What the loads are stands in the sheet's name or above."""
    dates, people = days(random, 9), crowd(random)
    truth = loads_truth(random, dates, people)
    rows: list[list[object]] = [["Training load"], [], ["Name", *[datetime.combine(day, time(0)) for day in dates]]]
    for name in people:
        row: list[object] = [name]
        for day in dates:
            known = truth.get((name, day))
            row.append(known[0][2] if known else random.choice(["", "off", "inj", "-"]))
        rows.append(row)
    return Made("wide_loads", "loads.xlsx", book({"Load": rows}), truth)


@kind
def wide_numbers_of_days(random: Random) -> Made:
    """A month's grid: 1 to 28, the month in the sheet's name; ratings in one sheet."""
    people = crowd(random)
    dates = [date(2026, 2, n) for n in range(1, 29)]
    truth: Truth = {
        (name, day): [(None, rated(random)[1], None)] for name in people for day in dates if random.random() < 0.6
    }
    rows: list[list[object]] = [["RPE"], ["Name", *range(1, 29)]]
    rows += [[name, *[(truth.get((name, day)) or [(None, "", None)])[0][1] for day in dates]] for name in people]
    return Made("wide_numbers_of_days", "ratings.xlsx", book({"Feb 2026": rows}), truth)


@kind
def wide_labels(random: Random) -> Made:
    """Morning and afternoon below each day."""
    dates, people = days(random, 5), crowd(random)
    while not settled(dates):
        dates = days(random, 5)
    truth: Truth = {}
    rows: list[list[object]] = [
        ["Session load"],
        ["Name", *day_heads(random, dates, 2)],
        ["", *["AM", "PM"] * len(dates)],
    ]
    for name in people:
        row: list[object] = [name]
        for day in dates:
            loads = [float(random.randint(100, 600)) if random.random() < 0.8 else None for _ in range(2)]
            row += [number(load) for load in loads]
            known = [(None, None, load) for load in loads if load is not None]
            if known:
                truth[name, day] = known
        rows.append(row)
    return Made("wide_labels", "load.csv", text(rows), truth)


@kind
def people_across(random: Random) -> Made:
    """A row for each day, people side by side, with a load or a pair each."""
    dates, people = days(random, 8), crowd(random)
    while not settled(dates):
        dates = days(random, 8)
    pairs = random.random() < 0.5
    truth = plain_truth(random, dates, people) if pairs else loads_truth(random, dates, people)
    if pairs:
        rows: list[list[object]] = [
            ["Date", *[cell for name in people for cell in (name, "")]],
            ["", *["Min", "RPE"] * len(people)],
        ]
    else:
        rows = [["Training load"], ["Date", *people]]
    for day in dates:
        row: list[object] = [day.strftime(POINTS)]
        for name in people:
            minutes, effort, load = truth.get((name, day), [(None, None, None)])[0]
            row += [number(minutes), number(effort)] if pairs else [number(load)]
        rows.append(row)
    return Made("people_across", "diary.csv", text(rows), truth)


def _typed(random: Random, minutes: object) -> object:
    return f"{minutes:g} min" if isinstance(minutes, float) and random.random() < 0.2 else minutes


@kind
def sheet_a_week(random: Random) -> Made:
    """A sheet for each week, read together, one of them with a line more above its head."""
    dates, people = days(random, 15), crowd(random)
    truth = plain_truth(random, dates, people)
    weeks: dict[str, list[date]] = defaultdict(list)
    for day in dates:
        weeks[f"Week {day.isocalendar().week}"].append(day)
    sheets: dict[str, list[list[object]]] = {}
    for n, (name, own) in enumerate(weeks.items()):
        rows: list[list[object]] = [["moved to the hall"]] if n == 1 else []
        rows.append(["Name", *[cell for day in own for cell in (datetime.combine(day, time(0)), "")]])
        rows.append(["", *["Min", "RPE"] * len(own)])
        for who in people:
            known = [truth.get((who, day), [("", "", None)])[0] for day in own]
            rows.append([who, *[value for minutes, effort, _ in known for value in (_typed(random, minutes), effort)]])
        sheets[name] = rows
    return Made("sheet_a_week", "weeks.xlsx", book(sheets), truth, sheets="all")


@kind
def sheet_an_athlete(random: Random) -> Made:
    """A sheet for each athlete."""
    people = crowd(random)
    truth = plain_truth(random, days(random, 8), people)
    sheets = {
        who: [["Date", "Minutes", "RPE"], *[[day, m, e] for (name, day), ((m, e, _),) in truth.items() if name == who]]
        for who in people
    }
    return Made(
        "sheet_an_athlete", "people.xlsx", book({k: v for k, v in sheets.items() if len(v) > 1}), truth, sheets="all"
    )


@kind
def one_athletes_rows(random: Random) -> Made:
    """Minutes and effort as rows below the days, of the athlete in the file's name."""
    who = random.choice(PEOPLE)
    dates = days(random, 7)
    truth = plain_truth(random, dates, [who], 0.0)
    known = [truth[who, day][0] for day in dates]
    rows: list[list[object]] = [
        ["", *[day.strftime(ISO) for day in dates]],
        ["Minutes", *[number(m) for m, _, _ in known]],
        ["RPE", *[number(e) for _, e, _ in known]],
    ]
    return Made("one_athletes_rows", f"{who}.csv", text(rows), truth)


@kind
def open_document(random: Random) -> Made:
    """An OpenDocument spreadsheet."""
    truth = plain_truth(random, days(random, 6), crowd(random))
    rows = [[name, day, minutes, effort] for (name, day), ((minutes, effort, _),) in truth.items()]
    return Made("open_document", "loads.ods", ods("Loads", [heads(random), *rows]), truth)


@kind
def sheet_a_session(random: Random) -> Made:
    """A sheet for each session, called by its day."""
    dates, people = days(random, 5), crowd(random)
    truth = plain_truth(random, dates, people)
    sheets = {
        day.strftime(ISO): [
            ["Name", "Min", "RPE"],
            *[[name, m, e] for (name, on), ((m, e, _),) in truth.items() if on == day],
        ]
        for day in dates
    }
    return Made("sheet_a_session", "sessions.xlsx", book(sheets), truth, sheets="all")

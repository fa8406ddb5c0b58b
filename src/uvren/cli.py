"""The command line: ``uvren serve | user | worker | import | export | analyse | room | plan | lighter | likeness …``.

Each command imports what it needs when it is called: the arithmetic takes a while to load.
"""

from __future__ import annotations

import json
from datetime import datetime
from enum import StrEnum
from pathlib import Path
from typing import Annotated, NoReturn

import typer

app = typer.Typer(add_completion=False, no_args_is_help=True, pretty_exceptions_enable=False)

Start = Annotated[float, typer.Option(min=0.0, help="Load a day before the first one, for the balance.")]
LoadsFile = Annotated[Path, typer.Argument(help="CSV with athlete,date,channel,load.")]


def fail(message: str) -> NoReturn:
    """One sentence on standard error, exit code 2."""
    typer.echo(f"uvren: {message}", err=True)
    raise typer.Exit(2)


@app.command()
def analyse(
    loads: LoadsFile,
    out: Annotated[Path | None, typer.Option(help="Write here instead of to the screen.")] = None,
    start: Start = 0.0,
) -> None:
    """Acute and chronic load by every school, spread and what is withheld, a row a day."""
    from uvren import commands

    try:
        commands.analyse(loads, out, start)
    except commands.Unusable as error:
        fail(str(error))


@app.command()
def room(
    loads: LoadsFile,
    limits: Annotated[Path, typer.Option(help="JSON with named sets of hard limits.")],
    set_name: Annotated[str, typer.Option("--set", help="Which set.")],
    day: Annotated[datetime, typer.Option("--date", formats=["%Y-%m-%d"], help="Room on this day.")],
    channel: Annotated[str | None, typer.Option(help="Which channel; the first by default.")] = None,
    start: Start = 0.0,
) -> None:
    """The largest load that may be added on a day with every limit held, and what stops it."""
    from uvren import commands

    try:
        answers = commands.room(loads, limits, set_name, day.date(), channel, start)
    except commands.Unusable as error:
        fail(str(error))
    typer.echo(json.dumps(answers, indent=1))


@app.command()
def ramp(
    loads: LoadsFile,
    athlete: Annotated[str, typer.Option(help="Whose way back.")],
    channel: Annotated[str, typer.Option(help="On which channel.")],
    first: Annotated[datetime, typer.Option("--return", formats=["%Y-%m-%d"], help="The first day back.")],
    needed: Annotated[float, typer.Option(min=0.0, max=100.0, help="Per cent of the usual week wanted.")] = 100.0,
    target: Annotated[datetime | None, typer.Option(formats=["%Y-%m-%d"], help="The day by which they are.")] = None,
) -> None:
    """The way back after a break, week by week, and whether it is done by a date."""
    from uvren import commands

    try:
        by = None if target is None else target.date()
        answer = commands.ramp(loads, athlete, channel, first.date(), needed, by)
    except commands.Unusable as error:
        fail(str(error))
    typer.echo(json.dumps(answer, indent=1))


@app.command()
def plan(
    problem: Annotated[Path, typer.Argument(help="JSON with sessions and limits; see docs/plan.md.")],
    seconds: Annotated[float, typer.Option(min=0.1, help="After that the best that was found is given.")] = 60.0,
) -> None:
    """The plan nearest to the coach's with every limit held, or what has to give way."""
    from uvren import commands

    try:
        answer = commands.plan(problem, seconds)
    except commands.Unusable as error:
        fail(str(error))
    typer.echo(json.dumps(answer, indent=1))


@app.command()
def lighter(
    plan: Annotated[Path, typer.Argument(help="JSON with lifts and minutes of sport; see docs/plan.md.")],
) -> None:
    """A lighter week: each planned line made less, with what all of it comes to before and after."""
    from uvren import commands

    try:
        answer = commands.lighter(plan)
    except commands.Unusable as error:
        fail(str(error))
    typer.echo(json.dumps(answer, indent=1))


class RecordingKind(StrEnum):
    """What a recording holds."""

    HEART_RATE = "heart_rate"
    SPEED = "speed"
    IMPACTS = "impacts"


@app.command()
def metrics(
    recording: Annotated[Path, typer.Argument(help="CSV with t in seconds and hr, speed in m/s, or side and g.")],
    kind: Annotated[RecordingKind, typer.Option(help="What the recording holds.")],
    anchors: Annotated[Path, typer.Option(help="JSON with the athlete's anchors.")],
) -> None:
    """What one recording comes to: zones and impulse, distances and sprints, or impacts by side."""
    from uvren import commands

    try:
        found = commands.metrics(recording, kind.value, anchors)
    except commands.Unusable as error:
        fail(str(error))
    typer.echo(json.dumps(found, indent=1))


class Metric(StrEnum):
    """What training is held against the game by."""

    SPEED = "speed"
    HEART_RATE = "heart_rate"


@app.command()
def likeness(
    training: Annotated[Path, typer.Argument(help="CSV with t in seconds and speed in m/s, or hr.")],
    match: Annotated[Path, typer.Argument(help="The same of a match.")],
    metric: Annotated[Metric, typer.Option(help="What is compared.")],
    edges: Annotated[str, typer.Option(help="Where the bins begin, with commas between them.")],
    work: Annotated[float, typer.Option(help="From this value on it is work.")],
    gap: Annotated[float, typer.Option(min=0.0, help="Shorter rests belong to the work around them, in seconds.")],
    least: Annotated[float, typer.Option(min=0.0, help="Shorter work is rest, in seconds.")],
) -> None:
    """Whether training is like the game: shares of time, how far they are apart, and lengths of work and rest."""
    from uvren import commands

    try:
        found = commands.likeness(training, match, metric.value, edges, work, gap, least)
    except commands.Unusable as error:
        fail(str(error))
    typer.echo(json.dumps(found, indent=1))


@app.command("import")
def import_files(
    files: Annotated[list[Path], typer.Argument(help="Files of devices or forms.")],
    squad: Annotated[str, typer.Option(help="The squad's short name, as in the address of its screens.")],
    mapping: Annotated[str | None, typer.Option(help="Read all of them by this mapping.")] = None,
    dry_run: Annotated[bool, typer.Option("--dry-run", help="Only say how they would be read.")] = False,
    make_sessions: Annotated[bool, typer.Option("--make-sessions", help="Make sessions that are not there.")] = False,
    good_rows: Annotated[bool, typer.Option("--good-rows", help="Leave out what cannot be read.")] = False,
    athlete: Annotated[str | None, typer.Option(help="Whose the files are, where they do not say it.")] = None,
    people: Annotated[Path | None, typer.Option(help="CSV of lines said,athlete: who is called how.")] = None,
    sheet: Annotated[list[str] | None, typer.Option(help="A sheet to read; several are one table; all.")] = None,
    column: Annotated[list[str] | None, typer.Option(help="What a column holds, as Value=effort.")] = None,
    answer: Annotated[list[str] | None, typer.Option(help="What is open in the files, as order=day_first.")] = None,
    var: Annotated[Path, typer.Option(help="Folder of the database's files.")] = Path("var"),
) -> None:  # fmt: skip
    """Bring files in, each whole or not at all; exit code 1 when one of them stayed out."""
    from uvren import commands, exchange

    choices = exchange.Choices(mapping, dry_run, make_sessions, good_rows, athlete, people, sheet or (), column or (),
                               answer or ())  # fmt: skip
    try:
        good = exchange.bring_in(var.resolve(), files, squad, choices, typer.echo)
    except commands.Unusable as error:
        fail(str(error))
    if not good:
        raise typer.Exit(1)


class Exported(StrEnum):
    """What can be taken out."""

    SQUAD = "squad"
    LOADS = "loads"
    SESSIONS = "sessions"
    RECORDING = "recording"


@app.command()
def export(
    what: Annotated[Exported, typer.Argument(help="The whole squad, daily loads, its calendar, or one recording.")],
    out: Annotated[Path, typer.Argument(help="Write here; the ending says how (.csv .tsv .xlsx .parquet .jsonl).")],
    squad: Annotated[str, typer.Option(help="The squad's short name.")],
    day: Annotated[datetime | None, typer.Option("--date", formats=["%Y-%m-%d"], help="As on this morning.")] = None,
    recording: Annotated[str, typer.Option(help="Which recording.")] = "",
    clinical: Annotated[bool, typer.Option("--clinical", help="With a squad: clinical detail too.")] = False,
    var: Annotated[Path, typer.Option(help="Folder of the database's files.")] = Path("var"),
) -> None:
    """A whole squad (.zip), daily loads as a table, sessions as iCalendar, a recording as a table or as GPX."""
    from uvren import commands, exchange

    folder = var.resolve()
    try:
        if what is Exported.SQUAD:
            typer.echo(f"{exchange.write_squad(folder, squad, out, clinical=clinical)} bytes in {out}")
            return
        if what is Exported.SESSIONS:
            count = exchange.write_sessions(folder, squad, out)
        elif what is Exported.RECORDING:
            count = exchange.write_recording(folder, squad, recording, out)
        else:
            kind = exchange.format_of(out)
            count = exchange.write_loads(folder, squad, day.date() if day else None, out, kind)
    except commands.Unusable as error:
        fail(str(error))
    typer.echo(f"{count} rows in {out}")


@app.command()
def serve(
    port: Annotated[int, typer.Option(help="Port on loopback.")] = 8460,
    var: Annotated[Path, typer.Option(help="Folder of the database's files.")] = Path("var"),
    fresh: Annotated[bool, typer.Option(help="Throw away what is there and begin anew.")] = False,
    demo: Annotated[bool, typer.Option(help="Load the demo club into an empty database.")] = True,
    workers: Annotated[int, typer.Option(min=1, help="Web processes.")] = 2,
) -> None:
    """Start the database and the web application; stop both on Ctrl-C."""
    from uvren.serving import Trouble, run

    try:
        run(var.resolve(), port=port, fresh=fresh, demo=demo, workers=workers, say=typer.echo)
    except Trouble as trouble:
        fail(str(trouble))


user = typer.Typer(no_args_is_help=True, help="People who sign in: add one, another password, roles.")
app.add_typer(user, name="user")
Login = Annotated[str, typer.Argument(help="Name to sign in with.")]
Secret = Annotated[
    str, typer.Option(prompt=True, hide_input=True, confirmation_prompt=True, help="Asked for where it is not given.")
]
VarFolder = Annotated[Path, typer.Option(help="Folder of the database's files.")]
SquadRole = Annotated[str, typer.Argument(help="As squad:role, such as first-team:coach.")]


@user.command("add")
def add_person(
    login: Login,
    name: Annotated[str, typer.Option(help="The person's name.")],
    password: Secret,
    role: Annotated[list[str] | None, typer.Option(help="As squad:role; any number of them.")] = None,
    club_admin: Annotated[bool, typer.Option("--club-admin", help="Acts for the whole club.")] = False,
    club: Annotated[str | None, typer.Option(help="In an empty installation: the club's name.")] = None,
    time_zone: Annotated[str, typer.Option(help="Of a club that is begun with it.")] = "UTC",
    var: VarFolder = Path("var"),
) -> None:
    """Somebody of the staff; in an empty installation the first one, with the club."""
    from uvren import commands, exchange

    try:
        exchange.add_person(var.resolve(), login, name, password, role or [], club, time_zone, club_admin=club_admin)
    except commands.Unusable as error:
        fail(str(error))
    typer.echo(f"{name} signs in as {login.strip().lower()}.")


@user.command("password")
def password_of(login: Login, password: Secret, var: VarFolder = Path("var")) -> None:
    """Another password; whoever is signed in as them is signed out."""
    from uvren import commands, exchange

    try:
        exchange.change_password(var.resolve(), login, password)
    except commands.Unusable as error:
        fail(str(error))
    typer.echo(f"{login} has another password.")


@user.command("role")
def role_of(
    login: Login,
    role: SquadRole,
    take: Annotated[bool, typer.Option("--take-away", help="Take it away.")] = False,
    var: VarFolder = Path("var"),
) -> None:
    """Give somebody a role in a squad, or take it away."""
    from uvren import commands, exchange

    try:
        exchange.change_role(var.resolve(), login, role, take=take)
    except commands.Unusable as error:
        fail(str(error))
    typer.echo(f"{login} is {'no more ' if take else ''}{role.partition(':')[2]} in {role.partition(':')[0]}.")


@app.command()
def hub(
    token: Annotated[str, typer.Option(help="The hub's secret, from Live.")],
    address: Annotated[str, typer.Option(help="Where Uvren is.")] = "http://127.0.0.1:8460",
    wearer: Annotated[list[str] | None, typer.Option(help="Who wears a strap; the demo's players without any.")] = None,
    minutes: Annotated[float, typer.Option(min=0.1, help="How long.")] = 75,
    seed: Annotated[int, typer.Option(help="Another chance.")] = 1,
) -> None:
    """Stand in for straps at the pitch: stream simulated heart rates, with what goes wrong with real ones."""
    import numpy as np

    from uvren.simulate.club import SEED, handball_truths
    from uvren.simulate.hub import Sender, straps, stream

    names = wearer or [one.name for one in handball_truths(np.random.default_rng(SEED))]
    seconds = int(minutes * 60)
    try:
        stream(Sender(address.rstrip("/"), token), straps(names, seconds, np.random.default_rng(seed), names[9:11]),
               seconds, typer.echo)  # fmt: skip
    except OSError as error:
        fail(f"Uvren does not answer at {address}: {error}")


@app.command()
def worker() -> None:
    """Bring waiting files in, until told to stop; `serve` starts one by itself. Needs UVREN_DATABASE_URL."""
    from uvren.background import work

    work()


@app.command()
def openapi(out: Annotated[Path, typer.Argument(help="Write the document here.")]) -> None:
    """The OpenAPI document of the web application, as JSON."""
    from uvren.web.app import create_app

    # Nothing is asked of the database to describe the resources.
    spec = create_app("mysql+mysqldb://nobody@localhost/nothing", "describes only").spec
    out.write_text(json.dumps(spec, indent=1, sort_keys=True) + "\n", encoding="utf-8")


@app.command()
def notices(out: Annotated[Path, typer.Argument(help="Write the page here.")]) -> None:
    """Write the page of notices in the documentation."""
    from uvren.core.method import notices_as_markdown

    out.write_text(notices_as_markdown(), encoding="utf-8")


def main() -> None:
    """Entry point."""
    app()


if __name__ == "__main__":
    main()

"""What the method page says: figures, limits, reports and notices, from the classes that compute them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from uvren.core.day import ASKS_FROM, CLOSES_FROM
from uvren.core.demands import OWN, PLAYED, SPEED
from uvren.core.limits import CATALOGUE
from uvren.core.live.aim import A_STEP, AT_REST, HALF, HELD_DOWN
from uvren.core.live.lane import ACT_ABOVE, LOOK_ABOVE, LOOK_BELOW
from uvren.core.notices import KINDS
from uvren.core.recovery import COLD, DRUGS, GUIDE, WINDOWS
from uvren.core.reports import ITEMS, ReportKind
from uvren.core.returns.clocks import CLOCKS, EVIDENCE
from uvren.core.returns.ramp import SHARES, SOURCES, School
from uvren.core.words import percent


@dataclass(frozen=True)
class Figure:
    """A figure as the screens name it, with its standard term, formula and source."""

    code: str
    name: str
    term: str
    formula: str
    source: str


FIGURES: Mapping[str, Figure] = {
    figure.code: figure
    for figure in (
        Figure("week_load", "Week load", "acute load (7-day sum)", "W = sum of the loads of the last 7 days",
               "Foster et al. 2001"),
        Figure("week_change", "Change on the week before", "week-on-week change", "W / W of 7 days before − 1", "–"),
        Figure("ewma_chronic", "Base load a day, weighted", "chronic load, exponentially weighted",
               "Σ (1−λ)^i L[d−i] / Σ (1−λ)^i with λ = 2 / (28 + 1)", "Williams et al. 2017"),
        Figure("ratio_ewma", "Ratio, weighted", "acute : chronic workload ratio, exponentially weighted",
               "weighted mean with λ = 2 / (7 + 1) over the one with λ = 2 / (28 + 1)", "Williams et al. 2017"),
        Figure("ratio_coupled", "Ratio, rolling coupled", "acute : chronic workload ratio, rolling, coupled",
               "mean of the last 7 days / mean of the last 28", "critique: Lolli et al. 2019"),
        Figure("ratio_uncoupled", "Ratio, rolling uncoupled", "acute : chronic workload ratio, rolling, uncoupled",
               "mean of the last 7 days / mean of the 21 days before them", "critique: Lolli et al. 2019"),
        Figure("balance", "Balance, two time constants", "impulse-response balance (fitness − fatigue)",
               "X[d] = X[d−1] + (L[d] − X[d−1]) (1 − e^(−1/τ)), τ 42 days minus τ 7 days, begun at the usual load",
               "Banister et al. 1975"),
        Figure("monotony", "Spread", "monotony",
               "mean / SD (n−1) of the 7 daily totals, the SD taken as at least 5 % of the mean", "Foster 1998"),
        Figure("strain", "Week strain", "strain", "W × monotony", "Foster 1998"),
        Figure("room", "Room", "headroom",
               "the largest load that may be added with every hard limit held; where limits are silent the ramp "
               "after a layoff and high counts of what is unrated stand in", "exact, limit by limit"),
        Figure("usual", "Usual", "own norm",
               "mean and SD (n−1) of the 28 days before, at least 10 values, SD no finer than half a step", "–"),
        Figure("change", "Change", "z score", "(today − usual) / SD; a change from 1, a clear one from 1.5", "–"),
    )
}  # fmt: skip

CAUTIONS = (
    "Everything here supports the judgement of qualified staff. It makes no diagnosis.",
    "A load figure does not predict an injury (Impellizzeri et al. 2020; Lolli et al. 2019).",
    "Local rules and licensed practice decide. Pain, illness and low mood are for licensed clinicians.",
)


DAY = (
    f"An illness, or a pain of {CLOSES_FROM:g} of 10 or more, closes the day until a clinician has seen it; a pain of "
    f"{ASKS_FROM:g} or more asks first. A clinician's word outranks that, a rest trial and every call.",
    "On a closed day no session stands and there is no room. Everybody sees that; why is for who may know.",
    "The less is known, the less is offered: where a limit is silent the ramp after a layoff stands in, and what is "
    "unrated counts high.",
)


@dataclass(frozen=True)
class Section:
    """A part of the page: paragraphs, then rows of (name, meaning, source)."""

    code: str
    title: str
    paragraphs: tuple[str, ...]
    terms: tuple[tuple[str, str, str], ...]


def sections() -> tuple[Section, ...]:
    """The page but for the notices, which the catalogue lists itself."""
    return (
        Section("cautions", "What this is for", CAUTIONS, ()),
        Section(
            "figures",
            "Figures",
            (
                "A day without a session is 0. A day with a session but no report is unknown, never 0: it is estimated "
                "from own ratings, then teammates', and else counts as missing.",
            ),
            tuple((f"{one.name} ({one.term})", one.formula, one.source) for one in FIGURES.values()),
        ),
        Section(
            "limits",
            "Limits",
            (
                "The narrowest scope wins; a clinician's restriction always does. A past day is judged by the limits "
                "of that day.",
            ),
            tuple(
                (rule.title, (rule.__doc__ or "").strip().split("\n")[0], rule.source) for rule in CATALOGUE.values()
            ),
        ),
        Section("day", "What stands on a day", DAY, ()),
        _coming_back(),
        _in_match_terms(),
        _as_it_runs(),
        Section(
            "recovery",
            "Recovering, in order",
            (
                "The next step is worth a thought once the one before it is steady: no gadget makes up for sleep and "
                "food.",
                COLD,
                DRUGS,
            ),
            (
                *((tier.name, tier.what, "") for tier in GUIDE),
                *(
                    (f"Window, {system}", f"{window.early:g} to {window.late:g} h after a heavy day", "not measured")
                    for system, window in WINDOWS.items()
                ),
            ),
        ),
        Section(
            "reports",
            "Reports",
            ("On the daily scales 10 is the good end. A report is never filled in for anybody.",),
            tuple(
                (item.question, f"0: {item.low}; 10: {item.high}" if item.low else item.unit, item.kind.value)
                for item in ITEMS.values()
                if item.kind is ReportKind.DAILY
            ),
        ),
    )  # fmt: skip


def _coming_back() -> Section:
    return Section(
        "return",
        "Coming back",
        (
            "A plan to come back is a set of limits: a share of the usual week by step, a most of the day, what is "
            "held behind the rest, how much of the play is open, and what a stage allows.",
            "A week under 70 % of its step is held for another one. Limits that compare with earlier work rest "
            "until the climb is over. A clinician decides; these sums show what fits a date, not what has healed.",
        ),
        (
            *(
                (f"From {least} days off", ", ".join(f"{one} %" for one in shares), SOURCES[School.STANDARD])
                for least, shares in SHARES
            ),
            *((f"Clock of {clock.tissue}", f"{clock.early} to {clock.late} weeks", EVIDENCE) for clock in CLOCKS),
        ),
    )


def _in_match_terms() -> Section:
    return Section(
        "demands",
        "In match terms",
        (
            f"A match is what those who played {percent(PLAYED)} of one and more had of it: one's own from {OWN} such "
            "matches on, else the position's, else everybody's. What most matches do not have is too rare a measure.",
            "What would bring a drill nearer to the game is an estimate: work as it was in runs of another length, "
            "rest as in the match.",
        ),
        (
            ("Like the game", "the sum of the smaller shares of time by speed, standing to sprinting", ""),
            ("Apart", "first Wasserstein distance of the speeds, m/s", ""),
            (
                "A run",
                f"at least {SPEED.least:g} s at {SPEED.work:g} m/s and more, with rests under {SPEED.gap:g} s",
                "",
            ),
        ),
    )


def _as_it_runs() -> Section:
    return Section(
        "live",
        "The session as it runs",
        (
            f"A part's aim is {AT_REST:g} % of the own maximum heart rate and {A_STEP:g} % for each step of effort, "
            f"{HALF:g} % up and down; the day before a match nobody is to come above {HELD_DOWN:g} %. This is our own.",
            f"Above it for {LOOK_ABOVE / 60:g} min is looked at, for {ACT_ABOVE / 60:g} min acted on; under it for "
            f"{LOOK_BELOW / 60:g} min looked at. A sensor that is missing or in doubt says nothing of the athlete.",
        ),
        (
            (
                "Load so far",
                "impulse x own median of load to impulse, in sessions of 60 days that have both",
                "Banister 1991",
            ),
        ),
    )


def notices_as_markdown() -> str:
    """The page of notices in the documentation."""
    lines = [
        "# Notices",
        "",
        "Every kind of notice: when it is found, what clears it, its settings, who may read it. This page is written",
        "by `uvren notices` from the classes themselves.",
        "",
        *(f"- {caution}" for caution in CAUTIONS),
        "",
    ]
    for kind in KINDS.values():
        lines += [
            f"## {kind.name}",
            "",
            f"`{kind.code}` · {', '.join(kind.severities)} · story: {kind.cause} · read by: {kind.audience}",
            "",
            f"{kind.said_rule()}",
            "",
            f"Clears with: {kind.cleared}",
            "",
        ]
        if kind.settings:
            lines += ["| setting | usual | from | to |", "| --- | --- | --- | --- |"]
            lines += [
                f"| {one.name} | {one.default:g}{f' {one.unit}' if one.unit else ''} | {one.low:g} | {one.high:g} |"
                for one in kind.settings
            ]
            lines.append("")
        lines += [f"Source: {kind.source}", ""]
    return "\n".join(lines)

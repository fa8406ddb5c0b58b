"""Notices of people: pain and illness, what a clinician allows, and calls to be looked at again."""

from __future__ import annotations

from collections.abc import Iterator

from uvren.core import words
from uvren.core.audience import Audience
from uvren.core.day import ASKS_FROM, CLOSES_FROM, Complaint, Desk, Told, weigh
from uvren.core.notices.base import Cause, Notice, NoticeKind, Setting, Severity, Shape, Strand


class PainOrIllness(NoticeKind):
    """A pain, an injury or an illness that is open."""

    code = "complaint"
    name = "Pain or illness"
    rule = (
        "An open complaint. Until a clinician has seen it an illness, or a pain of {closes} of 10 or more, closes the "
        "day, and a pain of {asks} or more asks for a call; less is a note. Seen, it is watched while it is open."
    )
    cleared = "A clinician closing it."
    source = "For licensed clinicians; coaches never read it."
    cause = Cause.CLINICAL
    strand = Strand.STATE
    severities = (Severity.ACT, Severity.WATCH, Severity.NOTE)
    audience = Audience.CLINICAL
    settings = (
        Setting("closes", "Closes the day from", CLOSES_FROM, 1, 10, "of 10"),
        Setting("asks", "Asks for a call from", ASKS_FROM, 1, 10, "of 10"),
    )

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        closes, asks = self.setting(desk, "closes"), self.setting(desk, "asks")
        for one in desk.facts.complaints if desk.facts else ():
            told = weigh(one.severity, closes=float(closes[one.row]), asks=float(asks[one.row]))
            times = f", told on {one.days} days" if one.days > 1 else ""
            yield (
                one.row,
                Notice(
                    code=self.code,
                    shape=Shape.LINK,
                    severity=_ASKED_OF[told, one.new],
                    title="Pain or illness",
                    sentence=(
                        f"{one.said[:1].upper()}{one.said[1:]} since {words.day(one.since)}{times}{_seen(one, told)}."
                    ),
                    clears="Clears when a clinician closes it.",
                    about=one.said.split(",")[0],
                    figure=one.severity,
                ),
            )


_ASKED_OF = {
    (Told.CLOSES, True): Severity.ACT, (Told.ASKS, True): Severity.ACT, (Told.NOTE, True): Severity.NOTE,
    (Told.CLOSES, False): Severity.WATCH, (Told.ASKS, False): Severity.WATCH, (Told.NOTE, False): Severity.NOTE,
}  # fmt: skip


def _seen(one: Complaint, told: Told) -> str:
    if not one.new:
        return ""
    what = {Told.CLOSES: ": the day is closed until then", Told.ASKS: ": ask before training"}.get(told, "")
    return f"; {'it is to be seen again' if one.again else 'no clinician has seen it yet'}{what}"


class Unseen(NoticeKind):
    """Something told that has to be seen before training, for who may not read what it is."""

    code = "unseen"
    name = "To be seen before training"
    rule = "Something was told that closes the day, or asks first, until a clinician has seen it. It does not say what."
    cleared = "A clinician having looked at it."
    source = "Everybody learns that someone waits; what for is for clinicians."
    cause = Cause.REVIEW
    strand = Strand.STATE
    severities = (Severity.ACT,)
    of_the_day = True

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        complaint = PainOrIllness()
        closes, asks = complaint.setting(desk, "closes"), complaint.setting(desk, "asks")
        gravest: dict[int, Told] = {}
        for one in desk.facts.complaints if desk.facts else ():
            told = weigh(one.severity, closes=float(closes[one.row]), asks=float(asks[one.row]))
            if one.new and told is not Told.NOTE and gravest.get(one.row) is not Told.CLOSES:
                gravest[one.row] = told
        for row, told in gravest.items():
            yield (
                row,
                Notice(
                    code=self.code,
                    shape=Shape.LINK,
                    severity=Severity.ACT,
                    title="Before training",
                    sentence=(
                        "Does not train until somebody who may has looked: ask first."
                        if told is Told.CLOSES
                        else "Ask first: somebody has to look before training."
                    ),
                    clears="Clears when it has been seen.",
                    about=told.value,
                ),
            )


class GateClosed(NoticeKind):
    """A clinician's restriction."""

    code = "gate"
    name = "Clinician's restriction"
    rule = "A clinician has said that the athlete does not train, or trains with a change."
    cleared = "The clinician ending it, or its last day."
    source = "A clinician's restriction outranks every limit and every call."
    cause = Cause.CLINICAL
    strand = Strand.STATE
    severities = (Severity.WATCH,)

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        for gate in desk.facts.gates if desk.facts else ():
            if gate.of_plan:
                # What a plan to come back allows is said with it.
                continue
            until = f" until {words.day(gate.until)}" if gate.until else ""
            said = "Does not train" if gate.closed else f"Trains in part: {', '.join(gate.changes())}"
            yield (
                gate.row,
                Notice(
                    code=self.code,
                    shape=Shape.LINK,
                    severity=Severity.WATCH,
                    title="Restriction",
                    sentence=f"{said}{until} ({gate.set_by}).",
                    clears="Only a clinician changes it.",
                ),
            )


class ComingBack(NoticeKind):
    """Somebody who comes back by a plan."""

    code = "coming_back"
    name = "On the way back"
    rule = (
        "A plan to come back holds the day, the week and what is in them. A week under 70 % of its step is held for "
        "another one."
    )
    cleared = "The climb, and its stages, being over, or somebody ending the plan."
    source = "Ramp after a layoff (after Caterisano et al. 2019); the 70 % are our own"
    cause = Cause.REVIEW
    strand = Strand.STATE
    severities = (Severity.WATCH, Severity.NOTE)

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        allowed = {gate.row: gate.changes() for gate in (desk.facts.gates if desk.facts else ()) if not gate.closed}
        for one in desk.facts.coming if desk.facts else ():
            today = ", ".join(allowed.get(one.row, ()))
            yield (
                one.row,
                Notice(
                    code=self.code,
                    shape=Shape.LINK,
                    severity=Severity.WATCH if one.again else Severity.NOTE,
                    title="On the way back",
                    sentence=f"{one.said} Today: {today}." if today else one.said,
                    clears="Clears when the plan is over.",
                ),
            )


class StageBack(NoticeKind):
    """A reaction that speaks for one stage back."""

    code = "stage_back"
    name = "One stage back"
    rule = "More pain in a session, or the morning after, than a return of this kind goes on with."
    cleared = "A clinician stepping back, or saying that the stage is kept."
    source = "A rule proposes; a clinician decides."
    cause = Cause.CLINICAL
    strand = Strand.STATE
    severities = (Severity.ACT,)
    audience = Audience.CLINICAL

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        for one in desk.facts.coming if desk.facts else ():
            if one.back:
                yield (
                    one.row,
                    Notice(
                        code=self.code,
                        shape=Shape.LINK,
                        severity=Severity.ACT,
                        title="One stage back",
                        sentence=f"One stage back is proposed: {one.back}.",
                        clears="Clears when a clinician steps back, or keeps the stage.",
                    ),
                )


class ReviewDue(NoticeKind):
    """A call to be looked at again."""

    code = "review_due"
    name = "Review date due"
    rule = "The review date of the last call has come, and no call has been made since."
    cleared = "A new call."
    source = "A call without a second look is half a call."
    cause = Cause.REVIEW
    strand = Strand.STATE
    severities = (Severity.WATCH,)
    of_the_day = True

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        for review in desk.facts.reviews if desk.facts else ():
            yield (
                review.row,
                Notice(
                    code=self.code,
                    shape=Shape.LINK,
                    severity=Severity.WATCH,
                    title="Review date",
                    sentence=f"The call of {words.day(review.made_on)} ({review.kind}) is to be looked at again since "
                    f"{words.day(review.due)}.",
                    clears="Clears with a new call.",
                ),
            )

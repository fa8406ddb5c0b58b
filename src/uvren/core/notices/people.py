"""Notices of people: pain and illness, what a clinician allows, and calls to be looked at again."""

from __future__ import annotations

from collections.abc import Iterator

from uvren.core import words
from uvren.core.audience import Audience
from uvren.core.day import Desk
from uvren.core.notices.base import Cause, Notice, NoticeKind, Setting, Severity, Shape


class PainOrIllness(NoticeKind):
    """A pain, an injury or an illness that is open."""

    code = "complaint"
    name = "Pain or illness"
    rule = "An open complaint: a call from {severity} of 10 on, for an illness, or when no clinician has seen it yet."
    cleared = "A clinician closing it."
    source = "For licensed clinicians; coaches never read it."
    cause = Cause.CLINICAL
    severities = (Severity.ACT, Severity.WATCH)
    audience = Audience.CLINICAL
    settings = (Setting("severity", "Call from", 6, 1, 10),)

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        severity = self.setting(desk, "severity")
        for one in desk.facts.complaints if desk.facts else ():
            bad = one.new or one.severity is None or one.severity >= severity[one.row]
            times = f", told on {one.days} days" if one.days > 1 else ""
            yield (
                one.row,
                Notice(
                    code=self.code,
                    shape=Shape.LINK,
                    severity=Severity.ACT if bad else Severity.WATCH,
                    title="Pain or illness",
                    sentence=(
                        f"{one.said[:1].upper()}{one.said[1:]} since {words.day(one.since)}{times}"
                        f"{'; no clinician has seen it yet' if one.new else ''}."
                    ),
                    clears="Clears when a clinician closes it.",
                    about=one.said.split(",")[0],
                    figure=one.severity,
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
    severities = (Severity.WATCH,)

    def find(self, desk: Desk) -> Iterator[tuple[int, Notice]]:
        for gate in desk.facts.gates if desk.facts else ():
            until = f" until {words.day(gate.until)}" if gate.until else ""
            said = "Does not train" if gate.closed else f"Trains in part: {gate.change}"
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


class ReviewDue(NoticeKind):
    """A call to be looked at again."""

    code = "review_due"
    name = "Review date due"
    rule = "The review date of the last call has come, and no call has been made since."
    cleared = "A new call."
    source = "A call without a second look is half a call."
    cause = Cause.REVIEW
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

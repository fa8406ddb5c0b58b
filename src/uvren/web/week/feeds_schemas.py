"""What comes in and goes out: links to calendars."""

from __future__ import annotations

from uvren.services.week.feeds import Feed
from uvren.web.schemas import In, Out


class FeedsOut(Out):
    feeds: list[Feed]


class FeedIn(In):
    """Whose calendar: an athlete's own, or (null) the squad's."""

    athlete_id: int | None


class FeedLinkOut(Out):
    """The link, told only now."""

    link: str

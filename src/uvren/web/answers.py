"""Answers that are given again for as long as nothing they rest on has changed.

Each carries an ETag of everything it depends on: what was asked, the marks of the squad's changes, what the person may
read, the day. A browser that has the answer is told so in a few bytes; another gets the one that was made for the first
who asked. Only for what rests on a squad's tables and the day, not on the hour.
"""

from __future__ import annotations

import gzip
import hashlib
from collections import OrderedDict
from collections.abc import Callable, Collection, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import wraps
from threading import Lock
from typing import Any

from flask import Response, current_app, g, make_response, request

from uvren import __version__
from uvren.services.club import audit
from uvren.services.club.permissions import Action
from uvren.store.changes import marks_of
from uvren.store.models import Squad
from uvren.web import context

MOST_BYTES = 32 * 1024 * 1024
_LEAST_TO_PACK = 1024


@dataclass(frozen=True)
class Answer:
    """``packed`` is the body as gzip; ``seen`` are the athletes whose clinical detail is in it."""

    body: bytes
    packed: bytes
    seen: frozenset[int]

    @property
    def size(self) -> int:
        return len(self.body) + len(self.packed)


class Answers:
    """The answers of a web process by tag, the last that were asked for, up to so many bytes."""

    def __init__(self, most_bytes: int = MOST_BYTES) -> None:
        self._most = most_bytes
        self._kept: OrderedDict[str, Answer] = OrderedDict()
        self._size = 0
        self._lock = Lock()
        self._making: dict[str, Lock] = {}

    def get(self, tag: str) -> Answer | None:
        with self._lock:
            found = self._kept.get(tag)
            if found is not None:
                self._kept.move_to_end(tag)
            return found

    @contextmanager
    def made_by_one(self, tag: str) -> Iterator[None]:
        """Several who ask at once for what is not there yet wait for the one who makes it."""
        with self._lock:
            making = self._making.setdefault(tag, Lock())
        try:
            with making:
                yield
        finally:
            with self._lock:
                self._making.pop(tag, None)

    def put(self, tag: str, answer: Answer) -> None:
        with self._lock:
            before = self._kept.pop(tag, None)
            self._kept[tag] = answer
            self._size += answer.size - (before.size if before else 0)
            while self._size > self._most and self._kept:
                self._size -= self._kept.popitem(last=False)[1].size


def looked_at(squad: Squad, athletes: Collection[int]) -> None:
    """Note that clinical detail of these athletes was shown."""
    g.seen = frozenset(athletes) | g.get("seen", frozenset())
    if athletes:
        audit.saw(context.db(), "clinical_seen", athletes, stamp=context.stamp(), squad_id=squad.id)  # fmt: skip
        context.db().commit()


def until_changed(
    action: Action = Action.READ_SQUAD, also: Callable[[Squad], object] | None = None
) -> Callable[[Callable[..., Any]], Callable[..., Any]]:
    """For a resource under ``/api/squads/<slug>`` that only reads. Goes above ``input`` and ``output``.

    ``also`` tells what it rests on beside the squad's marks.
    """

    def decorate(view: Callable[..., Any]) -> Callable[..., Any]:
        @wraps(view)
        def answered(slug: str, **rest: Any) -> Response:
            squad = context.squad(slug, action)
            answers: Answers | None = current_app.extensions["uvren_answers"]
            if answers is None:
                return make_response(view(slug=slug, **rest))
            tag = _tag(squad, also(squad) if also is not None else None)
            found = answers.get(tag)
            if found is None:
                # Who waits holds no connection meanwhile: the one who makes it may need another.
                context.db().commit()
                with answers.made_by_one(tag):
                    found = answers.get(tag)
                    if found is None:
                        response = make_response(view(slug=slug, **rest))
                        if response.status_code != 200:
                            return response
                        found = _packed(response.get_data())
                        answers.put(tag, found)
            # Whoever is given what another made has looked at it too; for the one who made it, it is the same look.
            looked_at(squad, found.seen)
            return _given(tag, found)

        return answered

    return decorate


def _tag(squad: Squad, also: object) -> str:
    """A name for the answer that changes with whatever it depends on."""
    person = context.person()
    own = person.athlete_id if person.may(Action.OWN_PAGE, squad.id) else None
    parts = (
        __version__,
        request.full_path,
        sorted(marks_of(context.db(), squad.id).items()),
        person.actions(squad.id),
        own,
        context.today(squad),
        also,
    )
    return hashlib.sha256(repr(parts).encode()).hexdigest()[:32]


def _packed(body: bytes) -> Answer:
    packed = gzip.compress(body, 6) if len(body) >= _LEAST_TO_PACK else b""
    return Answer(body, packed, g.get("seen", frozenset()))


def _given(tag: str, answer: Answer) -> Response:
    if request.if_none_match.contains_weak(tag):
        response = Response(status=304)
    elif answer.packed and request.accept_encodings["gzip"]:
        response = Response(answer.packed, mimetype="application/json")
        response.content_encoding = "gzip"
    else:
        response = Response(answer.body, mimetype="application/json")
    response.vary.add("Accept-Encoding")
    response.set_etag(tag, weak=True)
    return response

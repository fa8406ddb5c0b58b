"""Who a file means: athletes by name, number or device, with a memory of what people said."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence
from datetime import date

from sqlalchemy.orm import Session as DbSession

from uvren.services.errors import Invalid
from uvren.store import queries
from uvren.store.models import AnchorKind, Squad


def folded(said: str) -> str:
    """A name without case, accents and punctuation."""
    decomposed = unicodedata.normalize("NFKD", said.casefold())
    letters = "".join(letter for letter in decomposed if not unicodedata.combining(letter))
    return re.sub(r"[^\w]+", " ", letters).strip()[:120]


class PeopleBook:
    """Who was in the squad on a day or came to it later, and what they are called in files."""

    def __init__(self, db: DbSession, squad: Squad, day: date) -> None:
        self.known: dict[str, int | None] = {}
        parts: dict[str, set[int]] = {}
        for one in queries.squad.memberships(db, squad.id, day):
            words = folded(one.athlete.name).split()
            said = {" ".join(words), " ".join(reversed(words)), words[-1] if words else ""}
            if len(words) > 1:
                # A. Berg and Berg A. for Anna Berg.
                said |= {f"{words[0][0]} {words[-1]}", f"{words[-1]} {words[0][0]}"}
            for name in said | ({str(one.number)} if one.number is not None else set()):
                parts.setdefault(name, set()).add(one.athlete_id)
        # A name that two people share tells nobody apart.
        self.known |= {said: next(iter(found)) for said, found in parts.items() if len(found) == 1 and said}
        self.known |= queries.squad.aliases(db, squad.id)

    def find(self, said: str) -> tuple[bool, int | None]:
        """(whether it is known who is meant, the athlete or None for someone to leave out)."""
        key = folded(said)
        if key in self.known:
            return True, self.known[key]
        stripped = re.sub(r"^(no|nr|player|athlete)\s+|^0+", "", key)
        return (True, self.known[stripped]) if stripped in self.known else (False, None)

    def in_file_name(self, name: str) -> int | None:
        """The one athlete that the name of a file names."""
        stem = name.rsplit(".", maxsplit=1)[0]
        words = [word for word in re.split(r"[\s_\-.,]+", stem) if word]
        found = {who for word in words if not word.isdigit() for there, who in [self.find(word)] if there and who}
        if not found:
            # Numbers in a name may be dates: only a short one can be a shirt.
            found = {who for word in words if word.isdigit() and len(word) < 3 for _, who in [self.find(word)] if who}
        return found.pop() if len(found) == 1 else None


def years_trained(db: DbSession, athletes: Sequence[int], as_of: date) -> dict[int, float]:
    """Years of training behind each on a day, of those of whom it is known."""
    years: dict[int, float] = {}
    for athlete, _, day, value, _ in queries.squad.anchors_until(db, athletes, as_of, AnchorKind.EXPERIENCE_YEARS):
        if value is not None:
            years[athlete] = value + (as_of - day).days / 365.25
    return years


def remember(db: DbSession, squad: Squad, said: dict[str, int | None]) -> None:
    """Keep who is meant by what; None is someone to leave out. Raises Invalid for somebody of another squad."""
    known = queries.squad.members_ever(db, squad.id)
    rows: list[dict[str, object]] = []
    for name, athlete in said.items():
        if athlete is not None and athlete not in known:
            raise Invalid("Choose an athlete of this squad.", field="athletes")
        if folded(name):
            rows.append({"squad_id": squad.id, "said": folded(name), "athlete_id": athlete})
    if rows:
        queries.squad.set_aliases(db, rows)


def forget(db: DbSession, squad: Squad, said: Sequence[str]) -> None:
    """Take names out of the memory."""
    queries.squad.drop_aliases(db, squad.id, [folded(name) for name in said])

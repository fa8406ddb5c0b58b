"""A session in match terms, and whether it was like the game."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from uvren.core.demands import SPEED
from uvren.services.club.permissions import Action
from uvren.services.session.demands import read_match_terms
from uvren.services.session.gamelike import BINS, LENGTHS, RESTS, GameLike, read_game_like
from uvren.services.session.pattern import put_pattern
from uvren.services.session.sheet import sentences_of
from uvren.web import context
from uvren.web.schemas import DoneOut
from uvren.web.session import demands_schemas as schemas

blueprint = APIBlueprint("demands", __name__, url_prefix="/api/squads/<slug>")


@blueprint.get("/sessions/<session_id>/match-terms")
@blueprint.output(schemas.MatchTermsOut)
@blueprint.doc(
    operation_id="matchTerms", summary="What a session came to in per cent of a match, and how like one it was"
)
def read(slug: str, session_id: str) -> dict[str, Any]:
    squad = context.squad(slug, Action.READ_SQUAD)
    terms = read_match_terms(context.db(), squad, session_id)
    game = read_game_like(context.db(), squad, session_id)
    names = ("figures", "squad", "squad_peaks", "groups", "rows", "parts", "matches", "said")
    return {name: getattr(terms, name) for name in names} | {
        "session_id": terms.session.id,
        "sentences": sentences_of(terms, game),
        "game": None if game is None else _game(game),
    }


@blueprint.put("/sessions/<session_id>/pattern")
@blueprint.input(schemas.PatternIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="putPattern", summary="Say how a part of a session to come is done, in seconds on and off")
def put(slug: str, session_id: str, json_data: schemas.PatternIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.PLAN)
    pattern = None if json_data.on is None or json_data.off is None else (json_data.on, json_data.off)
    put_pattern(context.db(), squad, session_id, json_data.part, pattern, stamp=context.stamp())
    return {"done": True}


def _game(game: GameLike) -> dict[str, Any]:
    found = game.found
    shares = zip(BINS, SPEED.edges, found.training.share or [], found.match.share or [], strict=True)
    return {
        "people": game.people,
        "games": game.games,
        "overlap": found.overlap,
        "distance": found.distance,
        "training": found.training,
        "match": found.match,
        "bins": [dict(zip(("name", "begins", "training", "match"), one, strict=True)) for one in shares],
        "runs": dict(zip(("begins", "training", "match"), (list(LENGTHS), *game.runs), strict=True)),
        "rests": dict(zip(("begins", "training", "match"), (list(RESTS), *game.rests), strict=True)),
        "changes": game.changes,
        "after": game.after,
        "drills": game.drills,
        "said": game.said,
    }

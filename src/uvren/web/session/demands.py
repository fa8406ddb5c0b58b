"""A session in match terms, and whether it was like the game."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint
from flask import Response

from uvren.core.demands import SPEED
from uvren.core.plan.mix import Mix, mix_of
from uvren.services.club.permissions import Action
from uvren.services.session.demands import read_match_terms
from uvren.services.session.drills import Library, read_library
from uvren.services.session.gamelike import BINS, LENGTHS, RESTS, GameLike, read_game_like
from uvren.services.session.heat import Heat, read_heat
from uvren.services.session.pattern import plan_parts, put_pattern
from uvren.services.session.planning import NewSegment
from uvren.services.session.sheet import as_paper, sentences_of
from uvren.store.models import Session
from uvren.web import context
from uvren.web.answers import until_changed
from uvren.web.papers import pdf
from uvren.web.schemas import DayQuery, DoneOut
from uvren.web.session import demands_schemas as schemas

blueprint = APIBlueprint("demands", __name__, url_prefix="/api/squads/<slug>")


@blueprint.get("/sessions/<session_id>/match-terms")
@until_changed()
@blueprint.output(schemas.MatchTermsOut)
@blueprint.doc(
    operation_id="matchTerms", summary="What a session came to in per cent of a match, and how like one it was"
)
def read(slug: str, session_id: str) -> dict[str, Any]:
    squad = context.squad(slug, Action.READ_SQUAD)
    terms = read_match_terms(context.db(), squad, session_id, context.today(squad))
    game = read_game_like(context.db(), squad, session_id)
    names = ("planned", "figures", "squad", "squad_peaks", "groups", "rows", "parts", "match", "matches", "said")
    return {name: getattr(terms, name) for name in names} | {
        "session_id": terms.session.id,
        "sentences": sentences_of(terms, game),
        "game": None if game is None else _game(game),
    }


@blueprint.get("/sessions/<session_id>/match-terms.pdf")
@blueprint.doc(operation_id="matchTermsAsPdf", summary="The session sheet in match terms as PDF")
def print_terms(slug: str, session_id: str) -> Response:
    squad = context.squad(slug, Action.READ_SQUAD)
    terms = read_match_terms(context.db(), squad, session_id, context.today(squad))
    game = read_game_like(context.db(), squad, session_id)
    return pdf(as_paper(squad, terms, game), f"{squad.slug}-match-terms-{terms.session.day}")


@blueprint.get("/drills")
@until_changed()
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.DrillsOut)
@blueprint.doc(
    operation_id="drills", summary="Parts of sessions by name: what a minute comes to, and how like the game"
)
def drills(slug: str, query_data: DayQuery) -> Library:
    squad = context.squad(slug, Action.READ_SQUAD)
    # What is known today helps with what is planned for later.
    return read_library(context.db(), squad, min(context.sane(query_data.day), context.today(squad)))


@blueprint.get("/heat")
@until_changed()
@blueprint.input(DayQuery, location="query")
@blueprint.output(schemas.HeatOut)
@blueprint.doc(
    operation_id="heat", summary="Squad by figure: the last session and the week, against a match and oneself"
)
def heat(slug: str, query_data: DayQuery) -> Heat:
    squad = context.squad(slug, Action.READ_SQUAD)
    return read_heat(context.db(), squad, context.sane(query_data.day))


@blueprint.put("/sessions/<session_id>/pattern")
@blueprint.input(schemas.PatternIn)
@blueprint.output(DoneOut)
@blueprint.doc(operation_id="putPattern", summary="Say how a part of a session to come is done, in seconds on and off")
def put(slug: str, session_id: str, json_data: schemas.PatternIn) -> dict[str, bool]:
    squad = context.squad(slug, Action.PLAN)
    pattern = None if json_data.on is None or json_data.off is None else (json_data.on, json_data.off)
    put_pattern(context.db(), squad, session_id, json_data.part, pattern, stamp=context.stamp())
    return {"done": True}


@blueprint.put("/sessions/<session_id>/parts")
@blueprint.input(schemas.PartsIn)
@blueprint.output(schemas.PartsOut)
@blueprint.doc(operation_id="planParts", summary="Plan the parts of a session, one after the other")
def plan(slug: str, session_id: str, json_data: schemas.PartsIn) -> Session:
    squad = context.squad(slug, Action.PLAN)
    parts = [NewSegment(one.name, one.minutes, one.weight, one.grade) for one in json_data.parts]
    aim, version = json_data.aim, json_data.version
    return plan_parts(context.db(), squad, session_id, parts, aim=aim, version=version, stamp=context.stamp())


@blueprint.post("/sessions/mix")
@blueprint.input(schemas.MixIn)
@blueprint.output(schemas.MixOut)
@blueprint.doc(operation_id="mixOfRounds", summary="How hard graded rounds are in all, and which would come to the aim")
def mix(slug: str, json_data: schemas.MixIn) -> Mix | None:
    context.squad(slug, Action.PLAN, writes=False)
    return mix_of(json_data.grades, json_data.aim)


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

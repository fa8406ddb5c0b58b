"""Sheets as PDF, in the font of the screens."""

from __future__ import annotations

from pathlib import Path

from flask import Response, current_app

from uvren.files.paper import Paper, as_pdf

FONT = "assets/atkinson-hyperlegible-next-latin-wght-normal-*.woff2"


def pdf(paper: Paper, name: str) -> Response:
    """The sheet as an answer; ``name`` is the file's, without its ending."""
    answer = Response(as_pdf(paper, _font(current_app.config["SCREENS"])), mimetype="application/pdf")
    answer.headers["Content-Disposition"] = f'inline; filename="{name}.pdf"'
    return answer


def _font(built: Path) -> Path | None:
    """The font as the screens' build has it; None where they are not built."""
    return next(iter(sorted(built.glob(FONT))), None)

"""Sheets on paper: headings, sentences and tables, laid out as PDF.

Everything on a sheet is text that is escaped; nothing is fetched but the font that ships with the application.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from io import BytesIO
from pathlib import Path
from typing import Any

from jinja2 import Environment
from markupsafe import Markup

_PAGE = """<!doctype html>
<html lang="en-GB">
<head>
<meta charset="utf-8">
<title>{{ paper.title }}{% if paper.under %}, {{ paper.under }}{% endif %}</title>
<style>
{% if font %}@font-face { font-family: "Sheet"; src: url("{{ font }}"); }{% endif %}
@page { size: A4; margin: 18mm 16mm 20mm;
  @bottom-left { content: {{ paper.foot | css }}; font: 7.5pt Sheet, sans-serif; color: #5D6B67; width: 85%; }
  @bottom-right { content: counter(page) " of " counter(pages); font: 7.5pt Sheet, sans-serif; color: #5D6B67; } }
body { font: 9.5pt/1.4 Sheet, sans-serif; color: #17302D; margin: 0; font-feature-settings: "tnum"; }
h1 { font-size: 17pt; line-height: 1.2; margin: 0; }
h2 { font-size: 11.5pt; margin: 14pt 0 3pt; padding-top: 5pt; border-top: 0.7pt solid #DAD6CA; break-after: avoid; }
p { margin: 0 0 3pt; }
.under { color: #5D6B67; }
ul { margin: 0; padding: 0 0 0 11pt; }
li { margin: 0 0 2pt; }
table { border-collapse: collapse; width: 100%; }
th { text-align: left; font-weight: 600; color: #5D6B67; font-size: 8.5pt; border-bottom: 0.7pt solid #DAD6CA; }
th, td { padding: 2.2pt 8pt 2.2pt 0; vertical-align: top; }
tr { break-inside: avoid; border-bottom: 0.4pt solid #E8E4DA; }
.number { text-align: right; }
.short { white-space: nowrap; }
</style>
</head>
<body>
<h1>{{ paper.title }}</h1>
{% if paper.under %}<p class="under">{{ paper.under }}</p>{% endif %}
{% for section in paper.sections %}<section>
{% if section.head %}<h2>{{ section.head }}</h2>{% endif %}
{% for sentence in section.sentences %}<p>{{ sentence }}</p>
{% endfor %}
{% if section.points %}<ul>{% for point in section.points %}<li>{{ point }}</li>
{% endfor %}</ul>{% endif %}
{% if section.columns %}<table{% if section.widths %} style="table-layout: fixed"{% endif %}>
{% for width in section.widths %}<col style="width: {{ width }}%">{% endfor %}
<thead><tr>
{% for name in section.columns %}<th{% if loop.index0 in section.numbers %} class="number"{% endif %}>{{ name }}</th>
{% endfor %}</tr></thead><tbody>
{% for row in section.rows %}<tr>{% for cell in row %}
<td class="{{ 'number' if loop.index0 in section.numbers }} {{ 'short' if cell|length < 20 }}">{{ cell }}</td>
{% endfor %}</tr>
{% endfor %}</tbody></table>{% endif %}
</section>
{% endfor %}
</body>
</html>
"""


@dataclass(frozen=True)
class Section:
    """A part of a sheet: a head, sentences, points, and a table; whatever is empty is left out.

    ``numbers`` are the places of columns that are set to the right; each of ``rows`` has as many cells as ``columns``.
    ``widths`` of the columns in per cent; without any they are as wide as what stands in them.
    """

    head: str = ""
    sentences: Sequence[str] = ()
    points: Sequence[str] = ()
    columns: Sequence[str] = ()
    rows: Sequence[Sequence[str]] = ()
    numbers: frozenset[int] = frozenset()
    widths: Sequence[int] = ()


@dataclass(frozen=True)
class Paper:
    """A sheet: what it is, of whom and when, its sections, and the line at the foot of each page."""

    title: str
    under: str
    sections: Sequence[Section]
    foot: str


def _css(text: str) -> Markup:
    """A text as a string of a style sheet: all but letters, figures and plain points is written as codes."""
    safe = "".join(one if one.isalnum() or one in " .,;:’-" else f"\\{ord(one):06x} " for one in text)
    return Markup(f'"{safe}"')


_PAGES = Environment(autoescape=True, trim_blocks=True)
_PAGES.filters["css"] = _css
_TEMPLATE = _PAGES.from_string(_PAGE)


def as_html(paper: Paper, font: Path | None = None) -> str:
    """The sheet as the page that it is printed from."""
    return _TEMPLATE.render(paper=paper, font=None if font is None else font.as_uri())


def as_pdf(paper: Paper, font: Path | None = None) -> bytes:
    """The sheet as PDF on A4, in the font of that file; without one in whatever sans-serif the machine has."""
    # Half a second to read in, which whoever prints nothing need not wait for.
    from weasyprint import HTML
    from weasyprint.urls import URLFetcher

    class OnlyTheFont(URLFetcher):  # type: ignore[misc]
        def fetch(self, url: str, headers: Any = None) -> Any:
            if font is None or url != font.as_uri():
                raise ValueError("Nothing is fetched for a sheet.")
            return super().fetch(url, headers)

    out = BytesIO()
    HTML(string=as_html(paper, font), url_fetcher=OnlyTheFont()).write_pdf(out, pdf_tags=True)
    return out.getvalue()

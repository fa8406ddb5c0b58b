"""Sheets on paper: what stands on them, that text stays text, and that nothing is fetched."""

import io
from pathlib import Path

import pytest
from pypdf import PdfReader

from uvren.files.paper import Paper, Section, as_html, as_pdf

WHOLE = Paper(
    "Court, in match terms",
    "Tarnholm, Thu 12 March 2026",
    [
        Section(sentences=["The session came to 89 % of a match."]),
        Section("By position", columns=["position", "load"], rows=[["wing", "90 %"], ["keeper", "–"]],
                numbers=frozenset({1})),
        Section("To change", points=["shorter spells", "longer rests"]),
    ],
    "It is no diagnosis.",
)  # fmt: skip


def text_of(pdf):
    return "\n".join(page.extract_text() for page in PdfReader(io.BytesIO(pdf)).pages)


def test_a_sheet_has_its_title_sentences_tables_points_and_foot():
    pdf = as_pdf(WHOLE)
    assert pdf.startswith(b"%PDF-")
    found = PdfReader(io.BytesIO(pdf))
    assert found.metadata is not None
    assert found.metadata.title == "Court, in match terms, Tarnholm, Thu 12 March 2026"
    text = text_of(pdf)
    for said in ("The session came to 89 % of a match.", "position load", "wing 90 %", "keeper –", "longer rests",
                 "It is no diagnosis.", "1 of 1"):  # fmt: skip
        assert said in text


def test_a_long_table_goes_on_with_its_heads_and_its_foot_on_every_page():
    rows = [[f"person {i}", str(i)] for i in range(120)]
    text = text_of(as_pdf(Paper("Everybody", "", [Section(columns=["who", "count"], rows=rows)], "For staff.")))
    pages = text.count("For staff.")
    assert pages >= 3
    assert (text.count("who count"), f"{pages} of {pages}" in text) == (pages, True)


NASTY = ["</style><h1>x</h1>", "<img src='http://192.0.2.1/x.png'>", '"; } body { display: none', "a\\b\n{{ 7 * 7 }}"]


@pytest.mark.parametrize("words", NASTY)
def test_whatever_is_typed_is_shown_and_does_nothing(words):
    pdf = as_pdf(Paper(words, words, [Section(words, [words], [words], [words], [[words]])], words))
    shown = " ".join(words.split())
    # In head, under it, as a section's head, sentence, point, head of a column, cell and foot.
    assert " ".join(text_of(pdf).split()).count(shown) == 8
    page = as_html(Paper(words, "", [], words))
    assert "<img" not in page
    assert page.count("</style>") == 1


def test_it_is_set_in_the_font_of_the_screens_or_in_another_where_that_is_gone(tmp_path):
    built = Path(__file__).parents[2] / "frontend/dist/assets"
    (font,) = built.glob("atkinson-hyperlegible-next-latin-wght-normal-*.woff2")
    fonts = {name for page in PdfReader(io.BytesIO(as_pdf(WHOLE, font))).pages for name in _fonts(page)}
    assert {name.partition("+")[2].partition("-")[0] for name in fonts} == {"Sheet"}
    without = as_pdf(WHOLE, tmp_path / "gone.woff2")
    assert "wing 90 %" in text_of(without)
    assert not any("Sheet" in name for page in PdfReader(io.BytesIO(without)).pages for name in _fonts(page))


def _fonts(page):
    return [str(one.get_object()["/BaseFont"]) for one in page["/Resources"]["/Font"].values()]

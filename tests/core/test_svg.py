"""SVG drawings from outside: refused in words, cleaned, and drawn as they are meant (against librsvg on the file itself)."""

import re

import numpy as np
import pytest
import pyvips

from sutaru.core.errors import FileRefused
from sutaru.core.geometry.matrices import scaling, translation
from sutaru.core.paint.svg import clean_svg, drawing

NS = "xmlns='http://www.w3.org/2000/svg'"


def svg(body: str, root: str = "viewBox='0 0 9 9'") -> str:
    return f"<svg {NS} {root}>{body}</svg>"


@pytest.mark.parametrize(
    ("given", "sentence"),
    [
        ("<svg", "not well-formed"),
        ("<!DOCTYPE svg [<!ENTITY a 'b'>]><svg/>", "declares a document type"),
        ("<html/>", "This is not an SVG"),
        (svg("", ""), "has no viewBox"),
        (svg("", "viewBox='0 0 9'"), "is not four numbers"),
        (svg("", "viewBox='0 0 9 x'"), "is not four numbers"),
        (svg("", "viewBox='0 0 0 9'"), "viewBox of this SVG is empty"),
        (svg("", "viewBox='0 0 9 -9'"), "viewBox of this SVG is empty"),
        (svg("", "viewBox='0 0 nan 9'"), "viewBox of this SVG is empty"),
        (svg("<text>x</text>"), "holds a <text>"),
        (svg("<style>path{fill:red}</style>"), "holds a <style>"),
        (svg("<script>x</script>"), "holds a <script>"),
        (svg("<svg width='5'/>"), "holds a <svg>"),
        (svg("<image href='file:///etc/passwd'/>"), "holds a <image>"),
        (svg("<foreignObject/>"), "holds a <foreignObject>"),
        (svg("<path d='M0 0H9V9Z' filter='url(#f)'/>"), "asks for filter"),
        (svg("<path d='M0 0H9V9Z' style='mask:url(#m)'/>"), "asks for mask"),
        (svg("<path d='M0 0H9V9Z' style='mix-blend-mode:multiply'/>"), "asks for mix-blend-mode: multiply"),
        (svg("<path d='M0 0H9V9Z' vector-effect='non-scaling-stroke'/>"), "asks for vector-effect"),
        (svg("<rect width='100%' height='5'/>"), "lengths as percentages"),
        (svg("<g>" * 80 + "</g>" * 80), "more than 60 deep"),
        (svg("<path d='M0 0'/>" * 20_001), "more than 20,000 parts"),
    ],
)
def test_what_cannot_be_drawn_is_refused_when_it_is_read(given: str, sentence: str) -> None:
    with pytest.raises(FileRefused, match=re.escape(sentence)):
        clean_svg(given)


def test_nothing_from_outside_stays() -> None:
    body = (
        '<path onload="x()" fill="url(http://e.x/a)" d="M0 0H9V9Z"/><use href="http://e.x/#a"/><x:y xmlns:x="urn:x"/>'
        "<metadata><a xmlns='urn:b'>secret</a></metadata><!-- a comment -->"
    )
    # A quote in a root attribute must not become an element of its own.
    root = """viewBox='0 0 9 9' fill='red"/&gt;&lt;image href="file:///etc/passwd"/&gt;&lt;g a="'"""
    clean = clean_svg(svg(body, root)).decode()
    assert not any(word in clean for word in ("onload", "http://e.x", "urn:", "secret", "comment", "<image"))
    assert 'd="M0 0H9V9Z"' in clean
    assert drawing(clean.encode(), "#000000", scaling(9, 9), 1, 1, (0, 0, 9, 9)).shape == (9, 9, 4)


STAR = "M50 5L79 95L3 39H97L21 95Z"


@pytest.mark.parametrize(
    ("root", "body"),
    [
        ("", f"<path d='{STAR}' style='fill:#c03020;fill-rule:evenodd;stroke:#204080;stroke-width:3'/>"),
        ("fill-rule='evenodd' fill='#208040'", f"<path d='{STAR}'/>"),
        ("style='fill:#208040;fill-rule:evenodd'", f"<path d='{STAR}' fill-opacity='0.6'/>"),
        ("stroke='#c03020' stroke-width='6' stroke-linejoin='round' fill='none'", f"<path d='{STAR}'/>"),
        ("", f"<path d='{STAR}' fill='red' style='fill:blue !important;-app-label:x;font-family:Any'/>"),
        ("opacity='0.5'", "<rect x='10' y='10' width='50' height='50'/><rect x='40' y='40' width='50' height='50'/>"),
        (
            "",
            "<defs><linearGradient id='a' x1='0%' x2='100%'><stop offset='10%' style='stop-color:#f00'/>"
            "<stop offset='90%' stop-color='#00f' stop-opacity='0.3'/></linearGradient><clipPath id='c'>"
            "<circle cx='50' cy='50' r='40'/></clipPath></defs>"
            "<g clip-path='url(#c)'><rect width='100' height='100' fill='url(#a)'/></g>",
        ),
        (
            "xmlns:xlink='http://www.w3.org/1999/xlink'",
            "<defs><path id='p' d='M0 0H30V30Z'/></defs>"
            "<use xlink:href='#p' x='10' transform='rotate(20)'/><use href='#p' y='50'/>",
        ),
    ],
)
def test_drawings_are_drawn_as_they_are_meant(root: str, body: str) -> None:
    side = 160
    given = svg(body, f"viewBox='0 0 100 100' {root}")
    px_from_box = scaling(side / 100, side / 100) @ translation(50, 50)
    got = drawing(clean_svg(given), "#000000", px_from_box, 100, 100, (0, 0, side, side)).astype(int)
    whole = given.replace("viewBox", f"width='{side}' height='{side}' viewBox", 1)
    expected = pyvips.Image.svgload_buffer(whole.encode()).numpy().astype(int)
    assert np.abs(got[..., 3] - expected[..., 3]).max() <= 3
    both = expected[..., 3:] * np.ones(3, int) > 200
    assert np.abs(got[..., :3] - expected[..., :3])[both].max(initial=0) <= 3
    assert len(np.unique(expected[..., 3])) > 1

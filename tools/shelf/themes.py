"""Themes for books: a palette, type, grounds and a few ornaments that go together. Those of the first shelf are kept by hand."""

from typing import Any

from .palettes import BLUSH, BOLD, CHALK, FIR, LINEN, PLUM, SAGE, SLATE, SUN, TIDE, Look

Theme = dict[str, Any]


def _ornament(
    drawing: str, where: str, share: float, every: int, first: int, opacity: float = 0.9, colour: str = "swatch Main"
) -> Theme:
    return {"ornament": drawing, "where": where, "share": share, "colour": colour, "opacity": opacity, "every": every,
            "first": first, "cover": False}  # fmt: skip


def _ground(colour: str, **more: Any) -> Theme:
    return {"kind": "background", "id": "ground", "colour": colour, **more}


def _cloth(kind: str, scale: float, colour: str, strength: float) -> Theme:
    return {"kind": kind, "scale_mm": scale, "colour": colour, "strength": strength, "turn_deg": 0}


COVER_DESIGNS = {
    "ivory-vows": "small", "slate-and-chalk": "half", "team-colours": "whole", "quiet-hours": "small", "white-cube": "small",
    "caps-in-the-air": "half", "long-summer": "whole", "winter-hearth": "half",
}  # fmt: skip
PLAIN = (_ground("swatch Paper"),)
THEMES: tuple[tuple[str, str, str, Look, tuple[Theme, ...], Theme, Theme, tuple[Theme, ...]], ...] = (
    ("ivory-vows", "Ivory", "Warm white, quiet serifs, one fine line: weddings.", BLUSH, PLAIN, _ground("swatch Soft"), {},
     (_ornament("dividers/swash", "foot", 0.05, 6, 3, 0.8),)),
    ("first-days", "First days", "Sage and milk, soft corners: the first year of a child.", SAGE, (*PLAIN, _ground("swatch Soft")),
     _ground("swatch Soft"), {"corner_mm": 3.0}, (_ornament("plants/sprig", "outer_head", 0.12, 5, 2, 0.7),)),
    ("slate-and-chalk", "Slate and chalk", "Dark pages, gold titles: portraits and evenings.", SLATE, PLAIN, _ground("swatch Paper"), {}, ()),
    ("team-colours", "Team colours", "Poster type, red and gold: a season of a club.", BOLD, PLAIN, _ground("swatch Soft"), {}, ()),
    ("quiet-hours", "Quiet hours", "Sea greys and wide margins: in memory.", TIDE, PLAIN, _ground("swatch Soft"), {}, ()),
    ("white-cube", "White cube", "White, one grey, nothing else: a portfolio.", CHALK, PLAIN, _ground("swatch Paper"), {}, ()),
    ("caps-in-the-air", "Caps in the air", "Plum and paper: a graduation.", PLUM, PLAIN, _ground("swatch Soft"), {},
     (_ornament("occasions/cap", "foot", 0.06, 6, 2, 0.8),)),
    ("winter-hearth", "Winter hearth", "Fir green, berry red: the end of a year.", FIR, PLAIN, _ground("swatch Main"), {},
     (_ornament("occasions/fir", "foot", 0.08, 4, 2, 0.85), _ornament("sky/snow", "outer_head", 0.08, 5, 3, 0.6, "swatch Soft"))),
    ("linen-year", "Linen year", "Book cloth and a serif: a family's year.", LINEN,
     (_ground("swatch Paper"), _ground("swatch Soft", texture=_cloth("linen", 0.9, "#8a7c63", 0.18))),
     _ground("swatch Soft", texture=_cloth("linen", 0.9, "#8a7c63", 0.3)), {}, ()),
    ("long-summer", "Long summer", "Sun yellow, round type: holidays.", SUN, PLAIN, _ground("swatch Soft"), {},
     (_ornament("sky/sun", "outer_head", 0.12, 5, 2, 0.8), _ornament("sea/wave", "foot", 0.06, 4, 3, 0.7))),
)  # fmt: skip


def make_themes() -> list[Theme]:
    """All of them, as files of the shelf hold them."""
    return [_make(*theme) for theme in THEMES]


def _make(
    name: str, called: str, note: str, look: Look, grounds: tuple[Theme, ...], cover: Theme, frame: Theme, ornaments: tuple[Theme, ...]
) -> Theme:  # fmt: skip
    more = {key: value for key, value in look.title.items() if key in ("weight",)}
    cover_is_dark = cover["colour"] == "swatch Main"
    on_cover = "swatch Paper" if cover_is_dark else "swatch Main"
    titled = {"font": look.display, "leading": 1.1, **more}
    return {
        "id": name, "name": called, "note": note, "swatches": look.swatches,
        "styles": {
            "Title": {**titled, "size_pt": 30, "colour": "swatch Main"},
            "Caption": {"font": look.plain, "size_pt": 9, "colour": "swatch Ink"},
            "Page number": {"font": look.plain, "size_pt": 8.5, "colour": "swatch Ink"},
            "Spine": {**titled, "size_pt": 14, "colour": on_cover},
            "Cover title": {**titled, "size_pt": 38, "colour": on_cover},
            "Imprint": {"font": look.plain, "size_pt": 9, "colour": "swatch Paper" if cover_is_dark else "swatch Ink"},
        },
        "grounds": list(grounds), "cover": cover, "cover_design": COVER_DESIGNS.get(name, "window"), "frame": frame, "decorations": list(ornaments),
    }  # fmt: skip

"""Album covers: back, spine and front. The spine is for about 40 leaves."""

from sutaru.core.measure import inch

from .palettes import BLUSH, BOLD, LINEN, NIGHT, SLATE, TIDE, Look
from .parts import Layer, at, fill, ground, imprint, r, sheet, template, texture, words

SIZES = ((12.0, 12.0), (10.0, 10.0), (11.0, 8.5))
SPINE_MM = 12.0
DESIGNS = (
    ("whole", "Photo over all", "travel", TIDE, "Three days\nof wind"),
    ("window", "Window", "wedding", BLUSH, "Maren & Ola"),
    ("words", "Words alone", "portfolio", SLATE, "Skerry Sands"),
    ("half", "Half and half", "festival", BOLD, "Kite festival"),
    ("band", "Band of cloth", "family", LINEN, "Our year"),
    ("night", "Night", "evening", NIGHT, "Lanterns"),
)  # fmt: skip


def make_covers() -> list[Layer]:
    """Every design for each size of album."""
    return [_make(*design, size) for design in DESIGNS for size in SIZES]


def _make(name: str, called: str, occasion: str, look: Look, said: str, size: tuple[float, float]) -> Layer:
    w, h = inch(size[0]), inch(size[1])
    left = w + SPINE_MM  # of the front
    middle, short = left + w / 2, min(w, h)
    points = short * 0.10 / 0.3528
    is_dark = name in ("whole", "half")
    layers = [ground("swatch Main" if is_dark else "swatch Paper")]
    if name == "whole":
        layers += [at("opening-1", left, -3, w + 3, h + 6), fill("veil", left, h * 0.62, w + 3, h * 0.38 + 3, "#ffffff", blend="multiply",
                   gradient={"turn_deg": 90, "stops": [{"at": 0, "colour": "#3c3c3c"}, {"at": 1, "colour": "#ffffff"}]}),
                   words("title", said, middle, h * 0.80, w - 44, h * 0.26, points * 1.05, colour="#ffffff", leading=1.05, **look.title)]  # fmt: skip
    elif name == "window":
        layers += [at("opening-1", middle - short * 0.25, h / 2 - short * 0.33, short * 0.5, short * 0.5),
                   words("title", said, middle, h / 2 + short * 0.29, w - 40, short * 0.12, points * 0.7, colour="swatch Main", **look.title),
                   words("date", "14 June 2026", middle, h / 2 + short * 0.37, w - 40, short * 0.06, points * 0.26, font=look.plain, colour="swatch Ink", tracking=120)]  # fmt: skip
    elif name == "words":
        layers += [words("title", said, middle, h * 0.47, w - 40, short * 0.2, points * 0.95, colour="swatch Ink", **look.title),
                   fill("rule", middle - 14, h * 0.58, 28, 0.5, "swatch Main"),
                   words("date", "2026", middle, h * 0.63, w - 40, short * 0.07, points * 0.3, font=look.plain, colour="swatch Main", tracking=300)]  # fmt: skip
    elif name == "half":
        layers += [fill("front", left, -3, w + 3, h + 6, "swatch Paper"), at("opening-1", left, -3, w + 3, h * 0.62 + 3),
                   words("title", said.upper(), middle, h * 0.775, w - 36, short * 0.2, points * 1.35, colour="swatch Main", **look.title),
                   words("date", "Skerry Sands 2026", middle, h * 0.89, w - 36, short * 0.07, points * 0.33, font=look.plain, colour="swatch Ink")]  # fmt: skip
    elif name == "band":
        cloth = texture("linen", 0.9, "#8a7c63", 0.3)
        layers = [ground("swatch Soft", texture=cloth), at("opening-1", left + w * 0.14, h * 0.14, w * 0.72, h * 0.52),
                  words("title", said, middle, h * 0.80, w - 44, short * 0.14, points * 0.8, colour="swatch Main", **look.title)]  # fmt: skip
    else:
        layers += [at("opening-1", middle - w * 0.33, h * 0.17, w * 0.66, h * 0.50, border={"width_mm": 0.5, "colour": "swatch Main", "side": "outside"}),
                   words("title", said, middle, h * 0.80, w - 44, short * 0.14, points * 0.78, colour="swatch Ink", **look.title)]  # fmt: skip
    plain_title = said.replace("\n", " ")
    layers += [
        words("spine-title", plain_title, w + SPINE_MM / 2, h / 2, h - 60, 8, 13, colour="swatch Paper" if is_dark else "swatch Ink", turn_deg=-90, **look.title),
        imprint(w / 2, h - 20, colour="swatch Paper" if is_dark else "swatch Main", font=look.plain),
    ]  # fmt: skip
    lines = [{"kind": "spine", "axis": "x", "at_mm": r(x)} for x in (w, left)]
    label = f"{size[0]:g}x{size[1]:g}".replace(".", "-")
    return template(
        f"cover-{name}-{label}", called, "album", occasion, f"Back, spine and front of a {size[0]:g} x {size[1]:g} in album; the spine is for about 40 leaves.",
        sheet("cover", "Cover", 2 * w + SPINE_MM, h, layers, "cover", lines=lines, swatches=look.swatches), tags=("cover",),
    )  # fmt: skip

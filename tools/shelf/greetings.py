"""Flat cards, both sides, by occasion: 5 x 7 in upright or 7 x 5 in across. A design is a front; backs are alike."""

from typing import Any

from sutaru.core.measure import inch

from .palettes import BLUSH, BOLD, CHALK, FIR, LINEN, NIGHT, PLUM, SAGE, SLATE, SUN, TIDE, Look
from .parts import Layer, at, fill, flat, ground, imprint, opening, piece, r, rows, sheet, template, words

# Id, name, occasion, front, look, lines (title, names, facts), an ornament.
CARDS: tuple[tuple[str, str, str, str, Look, tuple[str, str, str], str], ...] = (
    ("invitation-arch", "Arch", "wedding", "arch", BLUSH, ("Maren & Ola", "are getting married", "14 June 2026, at two\nSkerry Sands chapel"), ""),
    ("invitation-half", "Half a page", "wedding", "half", LINEN, ("Maren & Ola", "invite you to their wedding", "14 June 2026\nSkerry Sands"), ""),
    ("invitation-words", "Words and a line", "wedding", "words", CHALK, ("Maren & Ola", "request the pleasure of your company", "Saturday, 14 June 2026\nSkerry Sands chapel, at two"), ""),
    ("save-the-date-whole", "Over the photo", "save the date", "whole", SLATE, ("Save the date", "Maren & Ola", "14 June 2026"), ""),
    ("save-the-date-strip", "Strip of three", "save the date", "strip", BLUSH, ("Save the date", "Maren & Ola", "14.06.2026"), ""),
    ("save-the-date-side", "Beside the photo", "save the date", "side", TIDE, ("Save\nthe date", "Maren & Ola", "14 June 2026\nSkerry Sands"), ""),
    ("thanks-foot", "Thanks below", "thank you", "foot", SAGE, ("Thank you", "for a day by the sea", ""), ""),
    ("thanks-side", "Thanks beside", "thank you", "side", BLUSH, ("Thank\nyou", "Maren & Ola", "for sharing our day"), ""),
    ("thanks-four", "Four and thanks", "thank you", "four", CHALK, ("Thank you", "Runa and family", ""), ""),
    ("birth-round", "Round", "birth", "round", SAGE, ("Runa", "4 May 2026, at high water", "52 cm, 3,650 g"), "sea/scallop"),
    ("birth-half", "Half and name", "birth", "half", TIDE, ("Eskil", "4 May 2026", "52 cm, 3,650 g"), ""),
    ("birth-arch", "Arch and name", "birth", "arch", LINEN, ("Sunniva", "4 May 2026", "51 cm, 3,480 g"), ""),
    ("graduation-bold", "Class of", "graduation", "foot", BOLD, ("Class of 2026", "Runa Holm", "Skerry Sands School"), ""),
    ("graduation-side", "Year beside", "graduation", "side", SLATE, ("2026", "Runa Holm", "Join us on 20 June\nat the sailing club"), ""),
    ("graduation-strip", "Three years", "graduation", "strip", SUN, ("We did it", "Runa Holm", "20 June 2026"), ""),
    ("holiday-foot", "Season's greetings", "holiday", "foot", FIR, ("Season's greetings", "from the Holms", ""), ""),
    ("holiday-four", "Four of the year", "holiday", "four", FIR, ("Happy New Year", "Maren, Ola and Runa", ""), ""),
    ("holiday-round", "Winter wreath", "holiday", "round", FIR, ("Merry Christmas", "from our house to yours", "2026"), "plants/wreath"),
    ("holiday-night", "Winter night", "holiday", "whole", NIGHT, ("Peace and light", "The Holms", "2026"), ""),
    ("sympathy-quiet", "Quiet", "sympathy", "words", LINEN, ("In memory", "Halvard Moor", "1941 to 2026"), ""),
    ("sympathy-half", "Still water", "sympathy", "half", TIDE, ("With sympathy", "Our thoughts are with you", ""), ""),
    ("sympathy-side", "Remembrance", "sympathy", "side", CHALK, ("Halvard\nMoor", "1941 to 2026", "Service on 3 June\nSkerry Sands chapel"), ""),
    ("birthday-bold", "Number", "birthday", "foot", BOLD, ("Seven!", "Come and fly with Runa", "Saturday at three, on the beach"), ""),
    ("birthday-round", "Sun", "birthday", "round", SUN, ("Runa is seven", "Saturday, at three", "on the beach"), "sky/sun"),
    ("birthday-four", "Four and a wish", "birthday", "four", PLUM, ("Happy birthday", "dear Ola", ""), ""),
    ("anniversary-arch", "Years together", "anniversary", "arch", PLUM, ("Forty years", "Thessaly & Jon Moor", "1986 to 2026"), ""),
    ("anniversary-strip", "Then and now", "anniversary", "strip", SLATE, ("25 years", "Thessaly & Jon", "1 August 2026"), ""),
    ("moving-side", "New address", "moving", "side", SUN, ("We have\nmoved", "Maren & Ola", "Lighthouse Lane 4\nSkerry Sands"), ""),
    ("announcement-whole", "Announcement", "engagement", "whole", PLUM, ("She said yes", "Maren & Ola", "Spring 2026"), ""),
    ("school-foot", "Class portrait", "school", "foot", TIDE, ("Class 3b", "Skerry Sands School", "2026"), ""),
)  # fmt: skip
UPRIGHT = {"arch", "half", "words", "foot", "round", "strip", "four"}


def make_greetings() -> list[Layer]:
    """Every card."""
    return [_make(*card) for card in CARDS]


def _make(
    name: str, called: str, occasion: str, front: str, look: Look, lines: tuple[str, str, str], ornament: str
) -> Layer:
    w, h = (inch(5), inch(7)) if front in UPRIGHT else (inch(7), inch(5))
    layers = [ground("swatch Paper"), *FRONTS[front](w, h, look, lines, ornament)]
    back = [ground("swatch Paper"), words("message", "Write to us\nMarram Studio, Skerry Sands", w / 2, h * 0.42, w - 40, 30, 12, colour="swatch Ink", **look.title),
            imprint(w / 2, h - 18, colour="swatch Main", font=look.plain)]  # fmt: skip
    back[1]["text"] = _message(occasion)
    size = "5 x 7 in" if w < h else "7 x 5 in"
    same = {"safe_mm": 4, "swatches": look.swatches}
    return template(
        f"card-{name}", called, "card", occasion, f"{size} flat card, both sides.",
        sheet("front", "Front", w, h, layers, "front", **same), sheet("back", "Back", w, h, back, "back", **same),
    )  # fmt: skip


def _message(occasion: str) -> str:
    return {
        "wedding": "Please answer by the first of May", "save the date": "An invitation follows", "thank you": "With love",
        "birth": "We are very happy", "graduation": "Come and celebrate with us", "holiday": "With every good wish",
        "sympathy": "In quiet thought", "birthday": "We look forward to seeing you", "anniversary": "Celebrate with us",
        "moving": "Come and see us", "engagement": "The date will follow", "school": "A year to remember",
    }[occasion]  # fmt: skip


def _lines(
    look: Look, lines: tuple[str, str, str], x: float, y: float, w: float, size: float, **more: Any
) -> list[Layer]:
    """Title, names and facts below each other about ``x``, from ``y`` down; ``size`` in points of the title."""
    title, names, facts = lines
    rows_of_title = title.count("\n") + 1
    high = size * 0.3528 * 1.5 * rows_of_title
    layers = [
        words(
            "title",
            title,
            x,
            y + high / 2,
            w,
            high + 1,
            size,
            colour="swatch Main",
            leading=1.1,
            **{**look.title, **more},
        )
    ]
    y += high + size * 0.10
    for name, said, share, ink in (("names", names, 0.46, "swatch Ink"), ("facts", facts, 0.36, "swatch Ink")):
        if said:
            points = max(8.0, size * share)
            tall = points * 0.3528 * 1.45 * (said.count("\n") + 1)
            layers.append(
                words(
                    name, said, x, y + tall / 2, w, tall + 1, points, font=look.plain, colour=ink, leading=1.35, **more
                )
            )
            y += tall + size * 0.05
    return layers


def _arch(w: float, h: float, look: Look, lines: Any, _: str) -> list[Layer]:
    wide, high = w * 0.66, h * 0.56
    x, y = wide / 2, high / 2
    d = f"M{r(-x)} {r(y)}L{r(-x)} {r(-y + x)}C{r(-x)} {r(-y + x * 0.448)} {r(-x * 0.552)} {r(-y)} 0 {r(-y)}C{r(x * 0.552)} {r(-y)} {r(x)} {r(-y + x * 0.448)} {r(x)} {r(-y + x)}L{r(x)} {r(y)}Z"
    return [
        opening("opening-1", {"kind": "path", "d": d}, flat(w / 2, h * 0.09 + y)),
        *_lines(look, lines, w / 2, h * 0.69, w - 20, 28),
    ]


def _half(w: float, h: float, look: Look, lines: Any, _: str) -> list[Layer]:
    return [at("opening-1", -3, -3, w + 6, h * 0.58 + 3), *_lines(look, lines, w / 2, h * 0.645, w - 20, 29)]


def _words(w: float, h: float, look: Look, lines: Any, _: str) -> list[Layer]:
    return [at("opening-1", w / 2 - 21, h * 0.12, 42, 56), fill("rule", w / 2 - 9, h * 0.52, 18, 0.35, "swatch Main"),
            *_lines(look, lines, w / 2, h * 0.565, w - 22, 28)]  # fmt: skip


def _foot(w: float, h: float, look: Look, lines: Any, _: str) -> list[Layer]:
    return [at("opening-1", 7, 7, w - 14, h * 0.66), *_lines(look, lines, w / 2, h * 0.735, w - 16, 32)]


def _whole(w: float, h: float, look: Look, lines: Any, _: str) -> list[Layer]:
    shade = {"turn_deg": 90, "stops": [{"at": 0, "colour": "#3c3c3c"}, {"at": 1, "colour": "#ffffff"}]}
    text = _lines(look, lines, w / 2, h * 0.56, w - 24, 33)
    return [at("opening-1", -3, -3, w + 6, h + 6), fill("veil", -3, h * 0.38, w + 6, h * 0.62 + 3, "#ffffff", gradient=shade, blend="multiply"),
            *[{**layer, "colour": "#ffffff"} for layer in text]]  # fmt: skip


def _side(w: float, h: float, look: Look, lines: Any, _: str) -> list[Layer]:
    return [at("opening-1", -3, -3, w * 0.56 + 3, h + 6), *_lines(look, lines, w * 0.78, h * 0.26, w * 0.39, 27)]


def _strip(w: float, h: float, look: Look, lines: Any, _: str) -> list[Layer]:
    return [*rows(7, 7, w * 0.42, h - 14, 1, 3, 2.5), *_lines(look, lines, w * 0.735, h * 0.33, w * 0.47, 23)]


def _four(w: float, h: float, look: Look, lines: Any, _: str) -> list[Layer]:
    return [*rows(7, 7, w - 14, h * 0.68, 2, 2, 2.5), *_lines(look, lines, w / 2, h * 0.765, w - 16, 29)]


def _round(w: float, h: float, look: Look, lines: Any, ornament: str) -> list[Layer]:
    wide, y = w * 0.62, h * 0.355
    wreath = ornament.endswith(("wreath", "sun"))
    drawn = piece(
        "ornament",
        ornament,
        w / 2,
        y if wreath else h * 0.655,
        wide * 1.42 if wreath else 13,
        wide * 1.42 if wreath else 13,
        colour="swatch Main",
    )
    circle = opening(
        "opening-1",
        {
            "kind": "ellipse",
            "width_mm": r(wide if not wreath else wide * 0.86),
            "height_mm": r(wide if not wreath else wide * 0.86),
        },
        flat(w / 2, y),
    )
    return [drawn, circle, *_lines(look, lines, w / 2, h * 0.705, w - 18, 27)]


FRONTS = {"arch": _arch, "half": _half, "words": _words, "foot": _foot, "whole": _whole, "side": _side, "strip": _strip,
          "four": _four, "round": _round}  # fmt: skip

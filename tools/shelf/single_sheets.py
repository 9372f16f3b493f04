"""Postcards, boards for the web, prints for a wall, posters and strips of the year."""

from typing import Any

from sutaru.core.measure import inch

from .grids import Split, across, down, even
from .palettes import BOLD, CHALK, LINEN, NIGHT, SAGE, SLATE, TIDE, Look
from .parts import Layer, at, days, fill, ground, imprint, note, sheet, template, words

WEB_MM = 25.4 / 300  # of a pixel, where a board is exported at 300 ppi


def make_postcards() -> list[Layer]:
    """6 x 4 in, fronts of one to four photos, a back for an address."""
    designs: tuple[tuple[str, str, Look, Split | None, str], ...] = (
        ("whole", "Greetings from", TIDE, None, "Greetings from Skerry Sands"),
        ("three", "Three views", CHALK, across(1.6, (1, down(1, 1))), ""),
        ("four", "Four views", BOLD, even(2, 2), ""),
        ("margin", "White margin", LINEN, across(1), "Skerry Sands"),
    )  # fmt: skip
    return [_postcard(*design) for design in designs]


def _postcard(name: str, called: str, look: Look, split: Split | None, said: str) -> Layer:
    w, h = inch(6), inch(4)
    front = [ground("swatch Paper")]
    if split is None:
        shade = {"turn_deg": 90, "stops": [{"at": 0, "colour": "#ffffff"}, {"at": 1, "colour": "#6a6a6a"}]}
        front += [at("opening-1", -3, -3, w + 6, h + 6), fill("veil", -3, -3, w + 6, h * 0.45, "#ffffff", gradient=shade, blend="multiply"),
                  words("title", said, w / 2, 15, w - 20, 14, 26, colour="#ffffff", **look.title)]  # fmt: skip
    else:
        room = (5.0, 5.0, w - 10, h - 10 - (15 if said else 0))
        front += [at(f"opening-{n}", *box) for n, box in enumerate(split.boxes(room, 2.2), 1)]
        if said:
            front.append(words("title", said, w / 2, h - 11, w - 20, 12, 19, colour="swatch Main", **look.title))
    back = [
        ground("#ffffff"), fill("middle", w / 2 - 0.15, 10, 0.3, h - 20, "swatch Ink"),
        *[fill(f"line-{n}", w / 2 + 8, 46 + 11 * n, w / 2 - 18, 0.25, "swatch Ink") for n in range(4)],
        fill("stamp", w - 31, 8, 22, 26, "swatch Soft"), imprint(w / 4, h - 11, 62, colour="swatch Main", font=look.plain),
    ]  # fmt: skip
    same = {"safe_mm": 4, "swatches": look.swatches}
    return template(f"postcard-{name}", called, "card", "travel", "6 x 4 in postcard, both sides.",
                    sheet("front", "Front", w, h, front, "front", **same), sheet("back", "Back", w, h, back, "back", **same), tags=("postcard",))  # fmt: skip


def make_boards() -> list[Layer]:
    """Boards for screens, in pixels: a post, a story, a header."""
    designs: tuple[tuple[str, str, tuple[int, int], Look, Split, str], ...] = (
        ("post-three", "Board of three", (1080, 1350), CHALK, down(1.5, (1, across(1, 1))), ""),
        ("post-five", "Board of five", (1080, 1350), SLATE, down((1, across(1, 1)), 1.5, (1, across(1, 1))), ""),
        ("square-four", "Board of four", (1080, 1080), LINEN, even(2, 2), ""),
        ("story-two", "Story of two", (1080, 1920), SAGE, down(1, 1), "Skerry Sands"),
        ("story-three", "Story of three", (1080, 1920), NIGHT, down(1, 1, 1), ""),
        ("header-three", "Header of three", (1920, 1080), TIDE, across(1.7, (1, down(1, 1))), ""),
        ("header-wide", "Header of five", (1920, 640), CHALK, across(1, 1, 1, 1, 1), ""),
    )  # fmt: skip
    return [_board(*design) for design in designs]


def _board(name: str, called: str, px: tuple[int, int], look: Look, split: Split, said: str) -> Layer:
    w, h = (side * WEB_MM for side in px)
    margin, gap = min(w, h) * 0.045, min(w, h) * 0.018
    band = 12.0 if said else 0.0
    layers = [
        ground("swatch Paper"),
        *[
            at(f"opening-{n}", *box)
            for n, box in enumerate(split.boxes((margin, margin, w - 2 * margin, h - 2 * margin - band), gap), 1)
        ],
    ]
    if said:
        layers.append(
            words("title", said, w / 2, h - margin - band / 2 + 1.5, w - 20, 10, 20, colour="swatch Main", **look.title)
        )
    return template(f"board-{name}", called, "collage", "web", f"{px[0]} x {px[1]} pixels for the web, at 300 ppi.",
                    sheet("board", "Board", w, h, layers, bleed_mm=0, safe_mm=0, swatches=look.swatches), tags=("web",))  # fmt: skip


def make_walls() -> list[Layer]:
    """Panels for a wall, seen together as they will hang; one photo can run on through them."""
    pale = {"kind": "contact", "distance_mm": 2.5, "blur_mm": 6, "opacity": 0.35}
    designs: tuple[tuple[str, str, tuple[tuple[float, float, float, float], ...], str], ...] = (
        ("pair", "Pair", ((40, 50, 290, 390), (350, 50, 290, 390)), "Two panels of 29 x 39 cm."),
        ("three-upright", "Three upright", ((40, 60, 200, 380), (260, 60, 200, 380), (480, 60, 200, 380)), "Three panels of 20 x 38 cm."),
        ("four-square", "Four square", ((60, 40, 210, 210), (290, 40, 210, 210), (60, 270, 210, 210), (290, 270, 210, 210)), "Four panels of 21 x 21 cm."),
        ("five-steps", "Five in steps", ((30, 130, 150, 260), (195, 90, 150, 340), (360, 50, 150, 420), (525, 90, 150, 340), (690, 130, 150, 260)), "Five panels of 15 cm width."),
        ("one-and-two", "One and two", ((40, 60, 380, 380), (440, 60, 180, 180), (440, 260, 180, 180)), "One panel of 38 cm, two of 18 cm."),
    )  # fmt: skip
    found = []
    for name, called, panels, said in designs:
        w, h = (
            max(x + wide for x, _, wide, _ in panels) + panels[0][0],
            max(y + high for _, y, _, high in panels) + min(y for _, y, _, _ in panels),
        )
        layers = [ground("#e7e4de", gradient={"turn_deg": 90, "stops": [{"at": 0, "colour": "#dedad3"}, {"at": 1, "colour": "#efedE8".lower()}]}),
                  *[at(f"panel-{n}", *panel, shadow=pale) for n, panel in enumerate(panels, 1)],
                  note("One photo can be spread across these panels", w / 2, h - 14, 150, 12)]  # fmt: skip
        found.append(template(f"wall-{name}", f"Wall: {called[0].lower()}{called[1:]}", "collage", "display", said,
                              sheet("wall", "Wall", w, h, layers, bleed_mm=0, safe_mm=0), tags=("wall", "span")))  # fmt: skip
    return found


def make_year_posters() -> list[Layer]:
    """A year on one sheet: one photo or a few, and its twelve months."""
    designs: tuple[tuple[str, str, tuple[float, float], Look, Split, float, int], ...] = (
        ("one", "Year under one photo", (12, 18), LINEN, across(1), 0.50, 4),
        ("night", "Year by night", (12, 18), NIGHT, across(1), 0.50, 4),
        ("three", "Year under three", (16, 20), CHALK, across(1, 1, 1), 0.42, 4),
        ("tall", "Year in a strip", (6, 18), TIDE, across(1), 0.30, 2),
        ("wide", "Year across", (18, 12), SAGE, across(1.6, 1, 1), 0.48, 6),
    )  # fmt: skip
    return [_year(*design) for design in designs]


def _year(
    name: str, called: str, size: tuple[float, float], look: Look, split: Split, share: float, columns: int
) -> Layer:
    w, h = inch(size[0]), inch(size[1])
    margin = 0.05 * min(w, h)
    layers = [
        ground("swatch Paper"),
        *[
            at(f"opening-{n}", *box)
            for n, box in enumerate(split.boxes((margin, margin, w - 2 * margin, h * share - margin), 3), 1)
        ],
    ]
    title = h * share + margin * 1.2
    layers.append(
        words(
            "year",
            "{year}",
            w / 2,
            title,
            w - 2 * margin,
            margin * 1.6,
            margin * 3.0,
            colour="swatch Main",
            sample=False,
            tracking=160,
            **{k: v for k, v in look.title.items() if k != "tracking"},
        )
    )
    lines = 12 // columns
    top, bottom = title + margin * 1.2, h - margin * 1.9
    wide, high = (w - 2 * margin + margin * 0.6) / columns, (bottom - top) / lines
    for n in range(12):
        x, y = margin + (n % columns) * wide + (wide - margin * 0.6) / 2, top + n // columns * high + high / 2
        layers.append(days(f"dates-{n + 1}", x, y, wide - margin * 0.6, high * 0.94, max(5.2, wide * 0.108), offset=n, weekdays="narrow", weeks="six", neighbours="none",
                           heading="month", font=look.plain, dates=False, day={"colour": "swatch Ink"}, weekend={"colour": "swatch Ink"},
                           sunday={"colour": "swatch Main"}, holiday={"colour": "swatch Main"}, title={"colour": "swatch Main"}))  # fmt: skip
    layers.append(imprint(w / 2, h - margin * 0.85, min(90.0, w - 2 * margin), colour="swatch Main", font=look.plain))
    whole: dict[str, Any] = {
        **sheet("year", "Year", w, h, layers, "month", swatches=look.swatches),
        "fields": {"month": "2027-01"},
    }
    return template(
        f"year-{name}",
        called,
        "calendar",
        "year",
        f"{size[0]:g} x {size[1]:g} in, a year on one sheet.",
        whole,
        tags=("poster",),
    )

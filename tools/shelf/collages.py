"""Collages and a poster of the first shelf."""

import math

from sutaru.core.measure import inch

from .parts import (
    INK,
    LIFTED,
    PAPER,
    RUST,
    SAND,
    SEA,
    Layer,
    at,
    box,
    flat,
    ground,
    imprint,
    opening,
    piece,
    r,
    rows,
    sheet,
    template,
    texture,
    words,
)


def collages() -> list[Layer]:
    s = inch(12)
    hexagon = [(math.cos(math.radians(60 * k)), math.sin(math.radians(60 * k))) for k in range(6)]
    side = 46.0
    d = "M" + "L".join(f"{r(side * x)} {r(side * y)}" for x, y in hexagon) + "Z"
    step = (side + 3.0) * math.sqrt(3)
    places = [(0.0, 0.0)] + [
        (step * math.cos(math.radians(a)), step * math.sin(math.radians(a))) for a in range(-90, 270, 60)
    ]
    comb = [
        ground(INK),
        *[
            opening(f"opening-{n}", {"kind": "path", "d": d}, flat(s / 2 + x, s / 2 + y))
            for n, (x, y) in enumerate(places, 1)
        ],
    ]
    heart = "M0 62C-92 -4 -66 -76 -30 -76C-10 -76 0 -60 0 -48C0 -60 10 -76 30 -76C66 -76 92 -4 0 62Z"
    love = [
        ground(PAPER),
        opening(
            "opening-1",
            {"kind": "path", "d": heart},
            flat(s / 2, 128),
            border={"width_mm": 2, "colour": RUST, "side": "outside"},
        ),
        *rows(30, 222, s - 60, 52, 5, 1, 5, 2),
        piece("divider", "dividers/heart", s / 2, 290, 150, 18, colour=RUST),
    ]
    hung = [
        ground(SAND, texture=texture("paper", 0.7, "#8a7c63", 0.2)),
        piece("string", "festival/bunting", s / 2, 40, s + 6, 86, colour=SEA),
    ]
    for n in range(6):
        x, y = 62 + (n % 3) * 90, 118 + n // 3 * 108
        hung.append(
            opening(
                f"opening-{n + 1}",
                box(70, 70),
                flat(x, y, (-4, 2, 5, 3, -3, -2)[n]),
                border={"width_mm": 5, "colour": "#ffffff", "side": "outside"},
                shadow=LIFTED,
            )
        )
        hung.append(piece(f"tape-{n + 1}", "frames/tape", x, y - 40, 26, 10, (3, -6, 8, -4, 6, 2)[n], colour=RUST))
    w, h = inch(12), inch(18)
    poster = [
        ground(SEA, texture=texture("linen", 0.9, "#10242b", 0.3)),
        at("opening-1", 18, 18, w - 36, 250),
        *rows(18, 274, w - 36, 78, 3, 1, 6, 2),
        words("title", "Kite Festival", w / 2, 388, w - 36, 34, 72, font="Bebas Neue", colour=PAPER),
        words("when", "Skerry Sands · first weekend of June", w / 2, 416, w - 36, 14, 20, font="Lato", colour=SAND),
        piece("waves", "dividers/waves", w / 2, 436, w - 36, 26, colour=SAND),
        imprint(w / 2, h - 10, colour=SAND),
    ]
    year = [
        ground(PAPER),
        *rows(16, 40, inch(16) - 32, inch(12) - 56, 4, 3, 5, radius=2),
        words("title", "Our year by the sea", inch(8), 22, 260, 18, 28, font="EB Garamond Italic"),
        piece("anchor", "sea/anchor", 30, 22, 16, 16),
    ]
    five = [
        ground("#ffffff"),
        *rows(10, 10, inch(10) - 20, inch(4) - 34, 5, 1, 3),
        words(
            "line",
            "from first pull to first flight",
            inch(5),
            inch(4) - 11,
            200,
            10,
            15,
            font="Kaushan Script",
            colour=SEA,
        ),
    ]
    return [
        template("collage-hexagons", "Seven cells", "collage", "everyday", "12 x 12 in.", sheet("print", "Print", s, s, comb), tags=("hexagons",)),
        template("collage-heart", "Heart and five", "collage", "wedding", "12 x 12 in.", sheet("print", "Print", s, s, love), tags=("heart",)),
        template("collage-line", "Hung on a line", "collage", "festival", "12 x 12 in.", sheet("print", "Print", s, s, hung), tags=("turned",)),
        template("poster-festival", "Festival poster", "collage", "festival", "12 x 18 in.", sheet("print", "Print", w, h, poster), tags=("poster",)),
        template("collage-year", "Our year", "collage", "year", "16 x 12 in, a photo for each month.", sheet("print", "Print", inch(16), inch(12), year)),
        template("collage-strip-five", "Strip of five", "collage", "everyday", "10 x 4 in.", sheet("print", "Print", inch(10), inch(4), five)),
    ]  # fmt: skip

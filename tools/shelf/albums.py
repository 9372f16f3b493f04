"""Album spreads, pages and a cover of the first shelf."""

from sutaru.core.measure import inch

from .parts import (
    LIFTED,
    PAPER,
    SAND,
    SEA,
    SOFT,
    WHITE,
    Layer,
    at,
    box,
    flat,
    ground,
    gutter,
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


def albums() -> list[Layer]:
    s = inch(12)
    linen = texture("linen", 0.9, "#8a7c63", 0.25)
    six = [ground(PAPER), at("opening-1", -3, -3, s + 3, s + 6, accepts="any"),
           *rows(s + 16, 16, s - 32, s - 32 - 24, 2, 2, 5, 2), at("opening-6", s + 16, s - 34, s - 32, 18),
           ]  # fmt: skip
    nine = [
        ground(SAND, texture=linen),
        *rows(20, 20, s - 40, s - 40, 3, 3, 6, border=WHITE, shadow=SOFT),
        at("opening-10", s + 42, 42, s - 84, s - 84, border={"width_mm": 6, "colour": "#ffffff"}, shadow=SOFT),
    ]
    long = [ground(PAPER), at("opening-1", -3, 58, 2 * s + 6, 148), *rows(20, 222, 2 * s - 40, 62, 6, 1, 5, 2),
            words("title", "The long beach, low tide", s / 2, 32, s - 60, 20, 26, font="EB Garamond Italic"),
            piece("string", "dividers/kite-string", s * 1.5, 32, 150, 18)]  # fmt: skip
    w, h = inch(16), inch(10)
    prints = [ground("#d9b98c", texture=texture("wood", 6, "#6d4423", 0.55))]
    for n, (x, y, wide, high, turn) in enumerate(
        (
            (74, 74, 96, 72, 6),
            (70, 176, 72, 96, -4),
            (166, 124, 108, 81, -2),
            (268, 78, 78, 104, 4),
            (262, 190, 104, 78, -5),
            (350, 138, 84, 112, 3),
        ),
        1,
    ):
        prints.append(opening(f"opening-{n}", box(wide, high), flat(x, y, turn), border=WHITE, shadow=LIFTED))
    prints.append(words("line", "Kites dry on the porch", 165, 222, 110, 18, 22, font="Kaushan Script", colour=PAPER))
    e = inch(8)
    four = [ground(PAPER), *rows(14, 14, e - 28, e - 28, 2, 2, 5, radius=3)]
    quiet = [
        ground("#26302f"),
        at("opening-1", 30, 30, e - 60, e - 78, border={"width_mm": 0.6, "colour": "#fdfcf8", "side": "outside"}),
        words("line", "Night flying", e / 2, e - 26, e - 40, 12, 18, font="EB Garamond Italic", colour=PAPER),
    ]
    spine, back = 12.0, inch(10)
    wide = 2 * back + spine
    cover = [ground(SEA, texture=linen | {"colour": "#10242b", "strength": 0.4}),
             opening("opening-1", box(150, 150), flat(back * 1.5 + spine, 112), border={"width_mm": 4, "colour": "#fdfcf8"}, shadow=SOFT),
             words("title", "Three days of wind", back * 1.5 + spine, 214, 200, 20, 30, font="EB Garamond", colour=PAPER),
             words("spine-title", "Three days of wind", back + spine / 2, back / 2, 180, 8, 14, font="EB Garamond",
                   turn_deg=-90, colour=PAPER),
             piece("logo", "kites/diamond", back / 2, 108, 34, 34, colour=PAPER, logo=True),
             imprint(back / 2, back - 22, colour=PAPER)]  # fmt: skip
    spine_lines = [
        {"kind": "spine", "axis": "x", "at_mm": r(back)},
        {"kind": "spine", "axis": "x", "at_mm": r(back + spine)},
    ]
    return [
        template("album-spread-6", "One large, five beside it", "album", "festival", "Double page of a 12 x 12 in album.",
                 sheet("spread", "Spread", 2 * s, s, six, "spread", lines=gutter(s))),
        template("album-spread-nine", "Nine and one on linen", "album", "festival", "Double page of a 12 x 12 in album.",
                 sheet("spread", "Spread", 2 * s, s, nine, "spread", lines=gutter(s)), tags=("square",)),
        template("album-spread-long", "The long beach", "album", "festival", "One panorama across both pages, six below.",
                 sheet("spread", "Spread", 2 * s, s, long, "spread", lines=gutter(s)), tags=("panorama",)),
        template("album-spread-porch", "Prints on the porch", "album", "summer", "Double page of an 8 x 10 in album.",
                 sheet("spread", "Spread", w, h, prints, "spread", lines=gutter(w / 2)), tags=("turned", "wood")),
        template("album-pages-8", "Four and one", "album", "everyday", "Two pages of an 8 x 8 in album.",
                 sheet("four", "Four", e, e, four), sheet("one", "One", e, e, quiet), tags=("square",)),
        template("album-cover-10", "Cover with a spine", "album", "festival",
                 "Back, spine and front of a 10 x 10 in album; the spine is for about 40 leaves.",
                 sheet("cover", "Cover", wide, back, cover, "cover", lines=spine_lines)),
    ]  # fmt: skip

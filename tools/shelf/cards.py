"""Cards and postcards of the first shelf."""

from sutaru.core.measure import inch

from .parts import (
    INK,
    PAPER,
    RUST,
    SAND,
    SEA,
    SOFT,
    WHITE,
    Layer,
    at,
    fill,
    flat,
    ground,
    imprint,
    opening,
    piece,
    rows,
    sheet,
    template,
    texture,
    words,
)


def cards() -> list[Layer]:
    w, h = inch(5), inch(7)
    night = [
        ground(
            "#101a2e",
            gradient={"turn_deg": 90, "stops": [{"at": 0, "colour": "#3a2c3f"}, {"at": 1, "colour": "#0d1526"}]},
        ),
        piece("stars", "sky/stars", w - 16, 152, 16, 16, colour="#e9dfcb"),
        piece("lanterns", "festival/lanterns", w / 2, 26, 84, 46, colour="#e0a04a"),
        at("opening-1", 16, 52, w - 32, 84, radius=2),
        words("greeting", "Lanterns for you", w / 2 - 6, 151, w - 36, 16, 22, font="Kaushan Script", colour="#f4e3c0"),
    ]
    back = [ground("#ffffff"), words("words", "Come and fly with us\nSaturday at dusk", w / 2, 74, w - 36, 50, 15, font="EB Garamond"),
            piece("mark", "kites/delta", w / 2, 130, 16, 16, colour="studio main", logo=True), imprint(w / 2, 152)]  # fmt: skip
    pw, ph = inch(6), inch(4)
    post = [
        ground(PAPER),
        *rows(5, 5, pw - 10, ph - 26, 2, 1, 3),
        fill("band", -3, ph - 18, pw + 6, 21, SEA),
        words("place", "Skerry Sands", pw / 2, ph - 8.5, pw - 20, 10, 16, font="Bebas Neue", colour=PAPER),
    ]
    address = [
        ground("#ffffff"),
        fill("middle", pw / 2 - 0.15, 10, 0.3, ph - 20, INK),
        *[fill(f"line-{n}", pw / 2 + 8, 44 + 11 * n, pw / 2 - 18, 0.3, INK) for n in range(4)],
        fill("stamp", pw - 30, 8, 22, 26, "#f1eee8"),
        imprint(pw / 4, ph - 12, 64),
    ]
    q = inch(5.25)
    date = [
        ground(SAND, texture=texture("paper", 0.7, "#8a7c63", 0.2)),
        piece("wreath", "plants/wreath", q / 2, q / 2 - 8, 104, 104),
        opening("opening-1", {"kind": "ellipse", "width_mm": 66, "height_mm": 66}, flat(q / 2, q / 2 - 8)),
        words("names", "Maren & Ola", q / 2, q - 16, q - 20, 13, 20, font="Kaushan Script", colour=RUST),
    ]
    birthday = [
        ground(PAPER, texture=texture("dots", 6, "#e9dfcb", 0.9)),
        piece("bunting", "festival/bunting", w / 2, 24, w + 4, 54, colour=RUST),
        at("opening-1", 14, 48, w - 28, 66, border=WHITE, shadow=SOFT),
        at("opening-2", 14, 120, 46, 44, border=WHITE, shadow=SOFT),
        words("greeting", "Runa\nis seven", 92, 142, 56, 40, 24, font="Kaushan Script", colour=SEA),
    ]
    baby = [ground("#eef2f0"), piece("frame", "frames/stitched", h / 2, w / 2, h - 8, w - 8, colour="#9db4ad"),
            at("opening-1", 14, 14, 78, w - 28, radius=6, accepts="portrait"),
            piece("pram", "occasions/pram", 134, 30, 26, 26, colour="#6f8f86"),
            words("name", "Little Runa", 134, 62, 76, 18, 22, font="Kaushan Script"),
            words("facts", "4 May, at high water\n52 cm, 3650 g", 134, 90, 72, 24, 11, font="Lato")]  # fmt: skip
    return [
        template("card-lanterns", "Lantern night", "card", "evening", "5 x 7 in flat card, both sides.",
                 sheet("front", "Front", w, h, night, "front", safe_mm=4), sheet("back", "Back", w, h, back, "back", safe_mm=4), tags=("night",)),
        template("postcard-two", "Postcard with two", "card", "travel", "6 x 4 in postcard, both sides.",
                 sheet("front", "Front", pw, ph, post, "front", safe_mm=4), sheet("back", "Back", pw, ph, address, "back", safe_mm=4)),
        template("card-wreath", "Wreath", "card", "wedding", "5.25 in square card.", sheet("front", "Front", q, q, date, "front", safe_mm=4), tags=("square",)),
        template("card-birthday", "Bunting", "card", "birthday", "5 x 7 in flat card.", sheet("front", "Front", w, h, birthday, "front", safe_mm=4)),
        template("card-baby", "Stitched", "card", "birth", "7 x 5 in flat card.", sheet("front", "Front", h, w, baby, "front", safe_mm=4)),
    ]  # fmt: skip

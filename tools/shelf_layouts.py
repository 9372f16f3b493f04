"""More of the shelf's layouts: albums, cards, collages, calendars, mockups, on grounds, swatches and ornaments of the shelf.

All are our own. Sizes are common practice, no source: 8, 10 and 12 in albums, 5 x 7 in cards, 6 x 4 in postcards, 11 x 8.5 in
calendar leaves, 12 x 18 in posters.
"""

import math
from typing import Any

from sutaru.core.measure import inch

Layer = dict[str, Any]
SWATCHES = {"Sea": "#2f5d6b", "Rust": "#b4532a", "Sand": "#e9dfcb", "Ink": "#26302f", "Paper": "#fdfcf8"}
SEA, RUST, SAND, INK, PAPER = (f"swatch {name}" for name in SWATCHES)


def r(value: float) -> float:
    return round(value, 3)


def flat(x: float, y: float, turn: float = 0.0) -> Layer:
    return {"kind": "flat", "centre": [r(x), r(y)], "turn_deg": turn}


def box(w: float, h: float, radius: float = 0.0) -> Layer:
    return {"kind": "rectangle", "width_mm": r(w), "height_mm": r(h), "radius_mm": radius}


def opening(name: str, outline: Layer, surface: Layer, **more: Any) -> Layer:
    return {"kind": "opening", "id": name, "name": "", "outline": outline, "surface": surface, **more}


def at(name: str, x: float, y: float, w: float, h: float, **more: Any) -> Layer:
    """An upright opening by its top left corner."""
    return opening(name, box(w, h, more.pop("radius", 0.0)), flat(x + w / 2, y + h / 2), **more)


def rows(
    x: float, y: float, w: float, h: float, columns: int, lines: int, gap: float, start: int = 1, **more: Any
) -> list[Layer]:
    """Openings of one size in columns and lines within a box."""
    wide, high = (w - gap * (columns - 1)) / columns, (h - gap * (lines - 1)) / lines
    return [
        at(
            f"opening-{start + n}",
            x + (n % columns) * (wide + gap),
            y + n // columns * (high + gap),
            wide,
            high,
            **more,
        )
        for n in range(columns * lines)
    ]


def fill(name: str, x: float, y: float, w: float, h: float, colour: str, **more: Any) -> Layer:
    return {
        "kind": "fill",
        "id": name,
        "outline": box(w, h),
        "surface": flat(x + w / 2, y + h / 2),
        "colour": colour,
        **more,
    }


def ground(colour: str, **more: Any) -> Layer:
    return {"kind": "background", "id": "ground", "name": "Ground", "colour": colour, **more}


def texture(kind: str, scale: float, colour: str, strength: float, turn: float = 0.0) -> Layer:
    return {"kind": kind, "scale_mm": scale, "colour": colour, "strength": strength, "turn_deg": turn}


def words(name: str, said: str, x: float, y: float, w: float, h: float, size: float, **more: Any) -> Layer:
    return {"kind": "text", "id": name, "name": name.replace("-", " "), "text": said, "centre": [r(x), r(y)],
            "width_mm": r(w), "height_mm": r(h), "size_pt": size, "colour": INK, **more}  # fmt: skip


def imprint(x: float, y: float, w: float = 90, **more: Any) -> Layer:
    return words("imprint", "{studio.name} · {studio.web}", x, y, w, 6, 8, font="Manrope", sample=False,
                 **{"colour": "studio main", **more})  # fmt: skip


def piece(name: str, drawing: str, x: float, y: float, w: float, h: float, turn: float = 0.0, **more: Any) -> Layer:
    """An ornament of the shelf: ``kind/name``."""
    return {"kind": "ornament", "id": name, "name": name.replace("-", " "), "ornament": drawing, "centre": [r(x), r(y)],
            "width_mm": r(w), "height_mm": r(h), "turn_deg": turn, "colour": SEA, **more}  # fmt: skip


def note(said: str, x: float, y: float, w: float = 60, h: float = 8) -> Layer:
    return {
        "kind": "note",
        "id": "note",
        "text": said,
        "centre": [r(x), r(y)],
        "width_mm": w,
        "height_mm": h,
        "size_pt": 9,
    }


def sheet(name: str, called: str, w: float, h: float, layers: list[Layer], role: str = "page", **more: Any) -> Layer:
    layout = {"width_mm": r(w), "height_mm": r(h), "bleed_mm": 3, "safe_mm": 6, "swatches": SWATCHES, **more}
    return {"id": name, "name": called, "role": role, "layout": {**layout, "layers": layers}}


def template(
    name: str, called: str, product: str, occasion: str, said: str, *sheets: Layer, tags: tuple[str, ...] = ()
) -> Layer:
    return {"id": name, "name": called, "product": product, "occasion": occasion, "tags": list(tags), "note": said,
            "sheets": list(sheets)}  # fmt: skip


def gutter(at_mm: float) -> list[Layer]:
    return [{"kind": "gutter", "axis": "x", "at_mm": r(at_mm)}]


SOFT = {"kind": "contact", "distance_mm": 0.8, "blur_mm": 2.2, "opacity": 0.35}
LIFTED = {"kind": "lifted", "distance_mm": 2.0, "blur_mm": 2.4, "opacity": 0.4}
WHITE = {"width_mm": 3.5, "colour": "#ffffff"}


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


MONTHS = (
    "January",
    "February",
    "March",
    "April",
    "May",
    "June",
    "July",
    "August",
    "September",
    "October",
    "November",
    "December",
)
SIGNS = ("sky/snow", "sky/cloud", "sky/wind", "plants/sprig", "plants/daisy", "sky/sun", "kites/diamond", "sea/boat",
         "sea/scallop", "festival/lantern", "sky/moon", "plants/wreath")  # fmt: skip


def days(name: str, x: float, y: float, w: float, h: float, pt: float, **more: object) -> Layer:
    """A date grid by its middle."""
    return {"kind": "dates", "id": name, "name": name.replace("-", " "), "centre": [round(x, 3), round(y, 3)],
            "width_mm": round(w, 3), "height_mm": round(h, 3), "size_pt": pt, **more}  # fmt: skip


def months(layers: list[Layer], w: float, h: float, **more: object) -> list[Layer]:
    """The same leaf for each month of a year."""
    found = []
    for n, month in enumerate(MONTHS):
        one = sheet(f"month-{n + 1:02d}", month, w, h, layers, "month", **more)
        found.append({**one, "fields": {"month": f"2027-{n + 1:02d}"}})
    return found


def calendars() -> list[Layer]:
    """A wall calendar that folds, a desk calendar, a planner, one for birthdays without a year, a poster of the year."""
    rule = {"width_mm": 0.12, "colour": "#b9b2a2"}
    w, h = inch(11), inch(17)  # two leaves of 11 x 8.5 in, bound where they meet
    leaf = [
        ground(PAPER, texture=texture("paper", 0.7, "#8a7c63", 0.1)),
        at("opening-1", -3, -3, w + 6, h / 2 + 3),
        days("dates", w / 2, h * 0.75, w - 28, h / 2 - 24, 17, font="Cabin", figure="corner", line=rule, dates_pt=7.5,
             holiday_names=True, weekdays="long", title={"colour": SEA}, sunday={"colour": RUST}, holiday={"colour": RUST}),
        imprint(w / 2, h - 9, colour=SEA),
    ]  # fmt: skip
    fold = {
        "lines": [{"kind": "fold", "axis": "y", "at_mm": round(h / 2, 3)}],
        "holes": [{"at": [r(w / 2), 8.0], "diameter_mm": 6.0}],
    }
    front = [
        ground(SEA, texture=texture("linen", 0.9, "#10242b", 0.3)),
        at("opening-1", 22, 26, w - 44, h / 2 + 40, radius=2, border={"width_mm": 2.5, "colour": PAPER}),
        words("title", "A year of wind", w / 2, h / 2 + 92, w - 40, 26, 44, font="Yrsa", colour=PAPER),
        words(
            "year", "{year}", w / 2, h / 2 + 120, w - 40, 16, 26, font="Cabin", colour=SAND, sample=False, tracking=200
        ),
        imprint(w / 2, h - 16, colour=SAND),
    ]
    cover = {**sheet("cover", "Cover", w, h, front, "cover"), "fields": {"month": "2027-01"}}
    dw, dh = inch(8), inch(6)
    desk = [
        ground(SAND),
        at("opening-1", -3, -3, dw * 0.56 + 3, dh + 6),
        days("dates", dw * 0.785, dh * 0.42, dw * 0.36, dh * 0.56, 10, font="Karla", title={"colour": SEA}, sunday={"colour": RUST},
             holiday={"colour": RUST}, weeks="six", neighbours="none"),
        days("next-month", dw * 0.785, dh * 0.84, dw * 0.2, dh * 0.2, 4.5, font="Karla", offset=1, weekdays="narrow", weeks="six",
             neighbours="none", dates=False, title={"colour": SEA}),
    ]  # fmt: skip
    aw, ah = inch(5.5), inch(8.5)
    planner = [
        ground(PAPER),
        at("opening-1", -3, -3, aw + 6, 52),
        days("dates", aw / 2, 132, aw - 22, 152, 9, shows="list", font="Cabin", line=rule, dates_pt=7, holiday_names=True,
             title={"colour": SEA}, sunday={"colour": RUST}, holiday={"colour": RUST}),
    ]  # fmt: skip
    bw, bh = inch(8.5), inch(11)
    leaves = []
    for n, month in enumerate(MONTHS):
        layers = [
            ground(PAPER, texture=texture("paper", 0.7, "#8a7c63", 0.12)),
            at("opening-1", -3, -3, bw + 6, 138),
            words("month", "{month}", bw / 2, 147, bw - 60, 18, 30, font="EB Garamond", colour=SEA, sample=False),
            piece("sign", SIGNS[n], 26, 147, 14, 14, colour=RUST),
            days("dates", bw / 2, 216, bw - 28, 112, 9, shows="list", columns=2, perpetual=True, heading="none", line=rule,
                 dates_pt=8, font="Lato", day={"colour": INK}),
        ]  # fmt: skip
        leaves.append(
            {**sheet(month.lower(), month, bw, bh, layers, "month"), "fields": {"month": f"2027-{n + 1:02d}"}}
        )
    pw, ph = inch(11), inch(17)
    wall = [
        ground(SEA, texture=texture("linen", 0.9, "#10242b", 0.3)),
        words("title", "A year at Skerry Sands", pw / 2, 20, pw - 30, 16, 32, font="EB Garamond", colour=PAPER),
    ]
    look = {"day": {"colour": PAPER}, "weekend": {"colour": SAND}, "sunday": {"colour": "#f0b48a"}, "holiday": {"colour": "#f0b48a"},
            "title": {"colour": SAND}}  # fmt: skip
    for n in range(12):
        x, y = 14 + (n % 3) * 85, 34 + n // 3 * 96
        wall += [
            at(f"opening-{n + 1}", x, y, 81, 50, radius=1.5),
            days(f"dates-{n + 1}", x + 40.5, y + 72, 79, 40, 6.2, offset=n, weekdays="narrow", weeks="six", neighbours="none",
                 heading="month", font="Cabin", dates=False, **look),
        ]  # fmt: skip
    wall.append(imprint(pw / 2, ph - 7, colour=SAND))
    poster = {**sheet("wall", "Wall", pw, ph, wall, "month"), "fields": {"month": "2027-01"}}
    return [
        template("calendar-birthdays", "Birthdays", "calendar", "birthday", "Twelve 8.5 x 11 in leaves without a year.", *leaves, tags=("perpetual",)),
        template("calendar-months", "Twelve months", "calendar", "year", "11 x 17 in, a photo and its days for each month.", poster, tags=("poster",)),
        template("calendar-wall", "Wall calendar", "calendar", "year", "11 x 17 in leaves that fold to 11 x 8.5 in: a photo above, its month below.", cover, *months(leaf, w, h, **fold), tags=("wall",)),
        template("calendar-desk", "Desk calendar", "calendar", "year", "8 x 6 in leaves, the month and the next.", *months(desk, dw, dh), tags=("desk",)),
        template("calendar-planner", "Planner", "calendar", "year", "5.5 x 8.5 in, a line for each day.", *months(planner, aw, ah), tags=("planner",)),
    ]  # fmt: skip


def mockups() -> list[Layer]:
    def quad(*points: tuple[float, float]) -> Layer:
        return {"kind": "corners", "points": [list(p) for p in points]}

    w, h = 300.0, 200.0
    left = quad((40, 62), (150, 52), (150, 150), (30, 168))
    right = quad((150, 52), (258, 62), (270, 168), (150, 150))
    shade = {
        "shape": "linear",
        "turn_deg": 0,
        "stops": [{"at": 0, "colour": "#ffffff"}, {"at": 1, "colour": "#8f8f8f"}],
    }
    book = [
        ground("#d9b98c", texture=texture("wood", 7, "#6d4423", 0.5)),
        {
            "kind": "fill",
            "id": "cast",
            "outline": box(100, 100),
            "surface": quad((34, 72), (262, 72), (276, 178), (28, 178)),
            "colour": "#000000",
            "opacity": 0.25,
            "blend": "multiply",
        },
        opening("opening-1", box(110, 110), left),
        opening("opening-2", box(110, 110), right),
        {
            "kind": "fill",
            "id": "fold-left",
            "outline": box(30, 110),
            "surface": quad((128, 54), (150, 52), (150, 150), (126, 153)),
            "colour": "#ffffff",
            "gradient": shade,
            "opacity": 0.5,
            "blend": "multiply",
        },
        {
            "kind": "fill",
            "id": "fold-right",
            "outline": box(30, 110),
            "surface": quad((150, 52), (164, 53), (165, 152), (150, 150)),
            "colour": "#ffffff",
            "gradient": {**shade, "turn_deg": 180},
            "opacity": 0.35,
            "blend": "multiply",
        },
    ]
    net = [
        [
            [60 + 45 * c + (6 if row % 2 else 0), 30 + 40 * row + (14 if c % 2 else -4) * (0.4 + 0.3 * row)]
            for c in range(5)
        ]
        for row in range(4)
    ]
    cloth = [
        ground(
            "#bcd4e4",
            gradient={
                "turn_deg": 90,
                "stops": [
                    {"at": 0, "colour": "#e6dcc4"},
                    {"at": 0.35, "colour": "#dbe8ef"},
                    {"at": 1, "colour": "#8fb6d4"},
                ],
            },
        ),
        fill("pole", 54, 14, 5, 190, "#6b5646"),
        opening("opening-1", box(180, 120), {"kind": "grid", "net": [[[r(x), r(y)] for x, y in line] for line in net]}),
        piece("gulls", "sky/cloud", 262, 26, 50, 50, colour="#ffffff"),
        piece("grass", "plants/grass", 250, 176, 60, 60, colour="#8a8a5a"),
    ]
    window = [
        ground("#8d6f5a", texture=texture("stripes", 10, "#7f624e", 0.5, 90)),
        fill("sill", 18, 168, 264, 8, "#4a3b30"),
        fill("glass", 26, 26, 248, 142, "#26302f"),
        at("opening-1", 34, 34, 74, 112, border={"width_mm": 4, "colour": "#f6f4ee"}),
        at("opening-2", 118, 50, 64, 80, border={"width_mm": 4, "colour": "#f6f4ee"}),
        at("opening-3", 192, 34, 74, 112, border={"width_mm": 4, "colour": "#f6f4ee"}),
        fill(
            "shine",
            26,
            26,
            248,
            142,
            "#ffffff",
            opacity=0.12,
            gradient={
                "turn_deg": 30,
                "stops": [
                    {"at": 0, "colour": "#ffffff"},
                    {"at": 0.5, "colour": "#000000"},
                    {"at": 1, "colour": "#ffffff"},
                ],
            },
            blend="screen",
        ),
        words("sign", "{studio.name}", 150, 14, 200, 14, 26, font="Bebas Neue", colour=PAPER, sample=False),
    ]
    return [
        template("mockup-book", "Open album on a table", "mockup", "everyday", "Shows both pages of a spread.", sheet("view", "View", w, h, book)),
        template("mockup-flag", "Flag on the beach", "mockup", "festival", "Shows a photo printed on cloth.", sheet("view", "View", w, h, cloth)),
        template("mockup-window", "Shop window", "mockup", "everyday", "Shows three framed photos.", sheet("view", "View", w, h, window)),
    ]  # fmt: skip


def more() -> list[Layer]:
    """All of them."""
    return [*albums(), *cards(), *collages(), *calendars(), *mockups()]

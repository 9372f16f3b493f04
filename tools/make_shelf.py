"""Writes the shelf's templates and themes: ``python -m tools.make_shelf``. What it writes is what the shelf reads.

All layouts are our own. Sizes are common practice: 12 x 12 in album pages, 5 x 7 in cards folded from a 10 x 7 in sheet.
"""

import json
import shutil
from pathlib import Path
from typing import Any

from sutaru.core.formats.shelf import read_template
from sutaru.core.measure import inch
from tools.shelf.albums import albums
from tools.shelf.calendars import calendars
from tools.shelf.cards import cards
from tools.shelf.collages import collages
from tools.shelf.covers import make_covers
from tools.shelf.greetings import make_greetings
from tools.shelf.looks import make_looks
from tools.shelf.mockups import mockups
from tools.shelf.single_sheets import make_boards, make_postcards, make_walls, make_year_posters
from tools.shelf.spreads import make_spreads
from tools.shelf.storyboards import make_storyboards
from tools.shelf.themes import make_themes

SHELF = Path(__file__).parent.parent / "sutaru" / "shelf"
INK, PAPER, SAND, SEA, RUST = "#26302f", "#fdfcf8", "#e9dfcb", "#2f5d6b", "#b4532a"
Layer = dict[str, Any]


def flat(x: float, y: float, turn: float = 0.0) -> Layer:
    return {"kind": "flat", "centre": [round(x, 3), round(y, 3)], "turn_deg": turn}


def box(w: float, h: float, radius: float = 0.0) -> Layer:
    return {"kind": "rectangle", "width_mm": round(w, 3), "height_mm": round(h, 3), "radius_mm": radius}


def opening(name: str, outline: Layer, surface: Layer, **more: Any) -> Layer:
    return {
        "kind": "opening",
        "id": name,
        "name": name.replace("-", " "),
        "outline": outline,
        "surface": surface,
        **more,
    }


def at(name: str, x: float, y: float, w: float, h: float, **more: Any) -> Layer:
    """An upright opening by its top left corner."""
    return opening(name, box(w, h), flat(x + w / 2, y + h / 2), **more)


def text(name: str, words: str, x: float, y: float, w: float, h: float, **more: Any) -> Layer:
    return {
        "kind": "text", "id": name, "name": name.replace("-", " "), "text": words, "centre": [x, y],
        "width_mm": w, "height_mm": h, **more,
    }  # fmt: skip


def ornament(name: str, svg: str, x: float, y: float, w: float, h: float, turn: float = 0.0, **more: Any) -> Layer:
    return {
        "kind": "ornament", "id": name, "name": name.replace("-", " "), "asset_file": svg, "centre": [x, y],
        "width_mm": w, "height_mm": h, "turn_deg": turn, **more,
    }  # fmt: skip


def sheet(name: str, called: str, role: str = "page", **layout: Any) -> Layer:
    return {"id": name, "name": called, "role": role, "layout": layout}


def note(name: str, words: str, x: float, y: float, w: float, h: float) -> Layer:
    return {"kind": "note", "id": name, "text": words, "centre": [x, y], "width_mm": w, "height_mm": h, "size_pt": 11}


def spread() -> Layer:
    """Two 12 x 12 in pages, eighteen openings: staggered columns on the left, one large photo on the right."""
    side, margin, gap = inch(12), 14.0, 4.0
    column, tall, low = (side - 2 * margin - 2 * gap) / 3, 134.4, 67.2
    layers: list[Layer] = [{"kind": "background", "id": "paper", "colour": PAPER}]
    number = 0

    def add(x: float, y: float, w: float, h: float) -> None:
        nonlocal number
        number += 1
        layers.append(at(f"opening-{number}", x, y, w, h))

    for c, heights in enumerate(([tall, low, low], [low, tall, low], [low, low, tall])):
        y = margin
        for h in heights:
            add(margin + c * (column + gap), y, column, h)
            y += h + gap
    left = side + margin
    add(left, margin, 2 * column + gap, tall)
    for r in range(2):
        for c in range(2):
            add(left + c * (column + gap), margin + tall + gap + r * (low + gap), column, low)
    short = (side - 2 * margin - 3 * gap) / 4
    for r in range(4):
        add(left + 2 * (column + gap), margin + r * (short + gap), column, short)
    layers.append(note("gutter-note", "Keep faces off the gutter", side, 8, 56, 8))
    return {
        "id": "album-spread-18", "name": "Eighteen on a spread", "product": "album", "occasion": "festival",
        "note": "Double page of a 12 x 12 in album.",
        "sheets": [sheet(
            "spread", "Spread", "spread", width_mm=2 * side, height_mm=side, bleed_mm=3, safe_mm=6,
            lines=[{"kind": "gutter", "axis": "x", "at_mm": side}], layers=layers,
        )],
    }  # fmt: skip


def card(upright: bool) -> Layer:
    """A 10 x 7 in sheet folded once: back and front outside, a greeting inside; the picture leaves 1/8 in all round."""
    long, short, half = inch(10), inch(7), inch(5)
    picture = (inch(4.75), inch(6.75)) if upright else (inch(6.75), inch(4.75))
    size = (long, short) if upright else (short, long)
    front = (half * 1.5, short / 2) if upright else (short / 2, half * 1.5)
    back = (half / 2, short / 2) if upright else (short / 2, half / 2)
    fold = {"kind": "fold", "axis": "x" if upright else "y", "at_mm": half}
    # The landscape card's back stands on its head on the sheet, so that it reads right once folded.
    turn = 0 if upright else 180
    down = 1 if upright else -1
    imprint_y = back[1] + down * ((short if upright else half) / 2 - 22)
    greeting = front
    outside = [
        {"kind": "background", "id": "paper", "colour": "#ffffff"},
        at("picture", front[0] - picture[0] / 2, front[1] - picture[1] / 2, *picture,
           accepts="portrait" if upright else "landscape"),
        ornament("mark", "kite.svg", back[0], imprint_y - down * 11, 9, 12, turn, colour=SEA),
        text("imprint", "{studio.name} · {studio.web}", back[0], imprint_y, 80, 6, size_pt=8, turn_deg=turn,
             colour="#555555", font="Manrope", sample=False),
    ]  # fmt: skip
    inside = [
        {"kind": "background", "id": "inside-paper", "colour": "#ffffff"},
        text("greeting", "With wind and warm wishes", greeting[0], greeting[1] - 8, 105, 36, font="Kaushan Script",
             size_pt=26, colour=SEA, leading=1.2),
        text("names", "The Kite Makers of Skerry Sands", greeting[0], greeting[1] + 24, 105, 16, font="EB Garamond Italic",
             size_pt=14, colour=INK),
        note("inside-note", "Change the greeting and the names for each customer", greeting[0], greeting[1] + 46, 96, 14),
    ]  # fmt: skip
    name = "portrait" if upright else "landscape"
    size_and_fold = {"width_mm": size[0], "height_mm": size[1], "bleed_mm": 3, "safe_mm": 3, "lines": [fold]}
    return {
        "id": f"card-{name}", "name": f"Folded card, {name}", "product": "card", "occasion": "greeting",
        **({"variant_of": "card-landscape"} if upright else {}),
        "note": f"{'10 x 7' if upright else '7 x 10'} in sheet folded once to {'5 x 7' if upright else '7 x 5'} in.",
        "sheets": [
            sheet("outside", "Outside", **size_and_fold, layers=outside),
            sheet("inside", "Inside", "inside", **size_and_fold, layers=inside),
        ],
    }  # fmt: skip


def collage() -> Layer:
    """16 x 12 in: turned prints, a round one, a kite-shaped one."""
    w, h = inch(16), inch(12)
    printed = {
        "border": {"width_mm": 4, "colour": "#ffffff"},
        "shadow": {"distance_mm": 2, "blur_mm": 5, "opacity": 0.38},
    }
    kite = "M0 -58L40 -14L0 62L-40 -14Z"
    layers = [
        {"kind": "background", "id": "paper", "colour": SAND,
         "gradient": {"turn_deg": 90, "stops": [{"at": 0, "colour": "#e6d8bd"}, {"at": 1, "colour": "#f7f2e6"}]}},
        {"kind": "fill", "id": "sea", "outline": box(w + 6, 60), "surface": flat(w / 2, h - 27), "colour": "#c9d8d8"},
        ornament("waves", "waves.svg", w / 2, h - 52, w + 6, 14, colour="#c9d8d8"),
        at("large", 24, 52, 150, 100, **printed, accepts="landscape"),
        opening("leaning-left", box(84, 112), flat(226, 92, 7), **printed, accepts="portrait"),
        opening("leaning-right", box(110, 82), flat(332, 74, -6), **printed, accepts="landscape"),
        opening("round", {"kind": "ellipse", "width_mm": 92, "height_mm": 92}, flat(336, 186),
                border={"width_mm": 3, "colour": "#ffffff"}, shadow={"distance_mm": 2, "blur_mm": 5, "opacity": 0.38}),
        opening("kite", {"kind": "path", "d": kite}, flat(252, 222, -8),
                border={"width_mm": 2.5, "colour": "#ffffff"}, shadow={"distance_mm": 3, "blur_mm": 7, "opacity": 0.34}),
        opening("soft", box(96, 72, 10), flat(88, 216, 4), border={"width_mm": 3, "colour": "#ffffff"},
                shadow={"distance_mm": 2, "blur_mm": 5, "opacity": 0.38}),
        opening("small", box(62, 62), flat(176, 206, -10), **printed),
        ornament("gull", "gull.svg", 380, 24, 34, 14, 8, colour=SEA),
        ornament("gull-far", "gull.svg", 352, 16, 20, 8, -6, colour=SEA),
        text("title", "SKERRY SANDS KITE FESTIVAL", 116, 26, 190, 20, font="Bebas Neue", size_pt=40, colour=SEA, align="left"),
        text("year", "Three days of wind, 2026", 116, 42, 190, 9, font="EB Garamond Italic", size_pt=16, colour=RUST,
             align="left"),
        note("kite-note", "One kite against plain sky", 252, 292, 56, 8),
    ]  # fmt: skip
    return {
        "id": "collage-wind", "name": "Three days of wind", "product": "collage", "occasion": "festival",
        "note": "16 x 12 in print of seven photos.",
        "sheets": [sheet("print", "Print", width_mm=w, height_mm=h, bleed_mm=3, safe_mm=6, layers=layers)],
    }  # fmt: skip


def strip() -> Layer:
    """A tall print that bleeds at the top, with four squares beneath."""
    w, h = inch(8), inch(12)
    squares = [at(f"square-{i + 1}", 12 + (i % 2) * 93.1, 182 + (i // 2) * 0, 88.1, 62) for i in range(2)]
    return {
        "id": "collage-shore", "name": "Shore and two", "product": "collage", "occasion": "portrait",
        "note": "8 x 12 in upright print; the top photo runs off the sheet.",
        "sheets": [sheet(
            "print", "Print", width_mm=w, height_mm=h, bleed_mm=3, safe_mm=5,
            layers=[
                {"kind": "background", "id": "paper", "colour": "#f4f3f1"},
                at("shore", -3, -3, w + 6, 179, accepts="landscape"),
                *squares,
                ornament("mark", "kite.svg", w / 2, 262, 10, 14, 12, colour=RUST),
                text("line", "A day at the shore", w / 2, 283, 160, 16, font="Vollkorn", size_pt=22, colour=INK),
            ],
        )],
    }  # fmt: skip


def mockup() -> Layer:
    """A studio wall seen from the side: two frames lie slanted on it."""

    def quad(points: list[tuple[float, float]]) -> Layer:
        return {"kind": "corners", "points": [list(p) for p in points]}

    def frame(name: str, points: list[tuple[float, float]], w: float, h: float, wish: str) -> list[Layer]:
        """Wood, mat and opening, all on the same slanted plane."""
        from sutaru.core.geometry.matrices import apply
        from sutaru.core.geometry.quadrilaterals import quad_from_rectangle

        onto = quad_from_rectangle(w, h, points)

        def inset(d: float) -> Layer:
            x, y = w / 2 - d, h / 2 - d
            corners = apply(onto, [(-x, -y), (x, -y), (x, y), (-x, y)])
            return quad([(round(float(a), 3), round(float(b), 3)) for a, b in corners])

        drop = [(x + 4.5, y + 6) for x, y in points]
        return [
            {"kind": "fill", "id": f"{name}-cast", "outline": box(w, h), "surface": quad(drop), "colour": "#000000",
             "opacity": 0.16, "blend": "multiply"},
            {"kind": "fill", "id": f"{name}-wood", "outline": box(w, h), "surface": inset(0), "colour": "#4a3b30"},
            {"kind": "fill", "id": f"{name}-edge", "outline": box(w - 3, h - 3), "surface": inset(1.5), "colour": "#6b5646"},
            {"kind": "fill", "id": f"{name}-mat", "outline": box(w - 12, h - 12), "surface": inset(6), "colour": "#f6f4ef"},
            opening(name, box(w - 44, h - 44), inset(22), accepts=wish),
        ]  # fmt: skip

    w, h = 360.0, 240.0
    layers = [
        {"kind": "background", "id": "wall", "colour": "#d9d5cd",
         "gradient": {"turn_deg": 0, "stops": [{"at": 0, "colour": "#e8e4dc"}, {"at": 1, "colour": "#c2bdb3"}]}},
        {"kind": "fill", "id": "floor", "outline": {"kind": "path", "d": "M-183 -28L183 -12L183 30L-183 30Z"},
         "surface": flat(180, 213), "colour": "#8d7b66"},
        {"kind": "fill", "id": "skirting", "outline": {"kind": "path", "d": "M-183 -9L183 7L183 13L-183 -1Z"},
         "surface": flat(180, 193.5), "colour": "#f1eee8"},
        *frame("frame-large", [(34, 34), (196, 52), (196, 158), (34, 168)], 190, 140, "landscape"),
        *frame("frame-small", [(228, 56), (318, 66), (318, 148), (228, 154)], 120, 110, "any"),
    ]  # fmt: skip
    return {
        "id": "mockup-wall", "name": "Two frames on a wall", "product": "mockup", "occasion": "display",
        "note": "Shows two photos framed on a studio wall.",
        "sheets": [sheet("wall-view", "Wall", width_mm=w, height_mm=h, bleed_mm=0, safe_mm=0, layers=layers)],
    }  # fmt: skip


def table() -> Layer:
    """A shining table: a cloth banner behind it, a framed print that stands on it and is reflected, a mug."""
    w, h, horizon = 360.0, 240.0, 150.0
    waves = ((96, 2), (146, 19), (196, -12), (246, 16), (296, -2))
    net = [[[x, round(y + dy * (0.25 + y / 106), 2)] for x, dy in waves] for y in (14, 44, 76, 106)]
    stand = {"kind": "corners", "points": [[46, 84], [150, 92], [150, 194], [46, 206]]}
    radius, middle = 36.0, (272.0, 168.0)
    layers = [
        {"kind": "background", "id": "wall", "colour": "#cfd0d0",
         "gradient": {"turn_deg": 90, "stops": [{"at": 0, "colour": "#b4b6b7"}, {"at": 1, "colour": "#dcdddd"}]}},
        {"kind": "fill", "id": "table", "outline": box(w, h - horizon), "surface": flat(w / 2, (h + horizon) / 2),
         "colour": "#6d7173"},
        {"kind": "fill", "id": "edge", "outline": box(w, 1.2), "surface": flat(w / 2, horizon), "colour": "#8f9395"},
        opening("banner", box(200, 92), {"kind": "grid", "net": net}, accepts="landscape",
                shadow={"kind": "drop", "distance_mm": 3, "blur_mm": 6, "opacity": 0.3}),
        {"kind": "echo", "id": "print-reflection", "name": "reflection", "of": "print", "reach": 0.55, "opacity": 0.55,
         "darken": 0.2, "soften_mm": 1.2},
        opening("print", box(120, 110), stand, border={"width_mm": 5, "colour": "#3f342c"},
                mat={"width_mm": 9, "colour": "#f6f4ef", "bevel_mm": 0.8}),
        ornament("mug-body", "mug.svg", middle[0] + 9, middle[1], 108, 108),
        opening("mug", box(76, 62), {"kind": "roll", "centre": [middle[0], middle[1] + 4], "radius_mm": radius, "tilt_deg": 12}),
        ornament("mug-shade", "mug-shade.svg", middle[0] + 9, middle[1], 108, 108, blend="multiply"),
    ]  # fmt: skip
    return {
        "id": "mockup-table", "name": "Banner, print and mug", "product": "mockup", "occasion": "display",
        "note": "A cloth banner, a print that the table reflects, and a mug.",
        "sheets": [sheet("table-view", "Table", width_mm=w, height_mm=h, bleed_mm=0, safe_mm=0, layers=layers)],
    }  # fmt: skip


def triptych() -> Layer:
    """Three upright panels for one photo that runs on, and a row of small ones under them."""
    w, h = inch(20), inch(12)
    wide, gap, left = 148.0, 10.0, (inch(20) - 3 * 148.0 - 2 * 10.0) / 2
    lifted = {"kind": "lifted", "distance_mm": 4, "blur_mm": 5, "opacity": 0.45}
    panels = [at(f"panel-{n + 1}", left + n * (wide + gap), 22, wide, 176, shadow=lifted) for n in range(3)]
    small = [at(f"small-{n + 1}", left + n * 79, 212, 69, 62, shadow=lifted) for n in range(6)]
    return {
        "id": "collage-triptych", "name": "Three panels, one view", "product": "collage", "occasion": "festival",
        "note": "20 x 12 in print: one photo can run on through its three panels.",
        "sheets": [sheet(
            "print", "Print", width_mm=w, height_mm=h, bleed_mm=3, safe_mm=6,
            layers=[
                {"kind": "background", "id": "paper", "colour": "#eceae5"},
                *panels, *small,
                text("line", "Skerry Sands, from the north dune to the pier", w / 2, 289, 260, 10, font="EB Garamond Italic",
                     size_pt=18, colour=INK),
            ],
        )],
    }  # fmt: skip


def mug(shade: bool) -> str:
    """A mug seen from a little above, 108 x 108 mm; or only the shade that lies on its body."""
    rim, body = "M9 18A36 7.5 0 0 1 81 18A36 7.5 0 0 1 9 18Z", "M9 18A36 7.5 0 0 0 81 18V90A36 7.5 0 0 1 9 90Z"
    stops = ("#000 0.5", "#000 0.12", "#000 0", "#000 0.06", "#000 0.42")
    tones = "".join(
        f'<stop offset="{n / 4}" stop-color="#000" stop-opacity="{stop.split()[1]}"/>' for n, stop in enumerate(stops)
    )
    lit = f'<defs><linearGradient id="g">{tones}</linearGradient></defs><path fill="url(#g)" d="{body}"/>'
    china = (
        '<path fill="none" stroke="#e4e2de" stroke-width="9" d="M79 34C108 30 108 76 79 72"/>'
        f'<path fill="#f4f2ee" d="{body}"/><path fill="#cfccc6" d="{rim}"/>'
        '<path fill="#8d8a85" d="M13 18.5A32 6 0 0 1 77 18.5A32 6 0 0 1 13 18.5Z"/>'
    )
    inner = lit if shade else china
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 108 108">{inner}</svg>'


def waves() -> str:
    """A row of wave crests."""
    crests = "".join(f"Q{50 * i + 25} {-8 if i % 2 else 20} {50 * i + 50} 8" for i in range(20))
    shape = f'<path fill="currentColor" d="M0 8{crests}V30H0Z"/>'
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1000 30">{shape}</svg>'


KITE = """<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 60 84">
<path fill="currentColor" d="M30 2L54 26L30 62L6 26Z"/>
<path fill="none" stroke="#ffffff" stroke-width="2" d="M30 2V62M6 26H54"/>
<path fill="none" stroke="currentColor" stroke-width="2" d="M30 62C22 70 40 74 31 82"/>
</svg>
"""
GULL = """<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 40">
<path fill="currentColor" d="M2 18C20 0 38 6 50 26C62 6 80 0 98 18C82 10 66 14 51 38H49C34 14 18 10 2 18Z"/>
</svg>
"""


def main() -> None:
    drawings = {
        "kite.svg": KITE, "gull.svg": GULL, "waves.svg": waves(), "mug.svg": mug(False), "mug-shade.svg": mug(True),
    }  # fmt: skip
    templates = [
        spread(), card(False), card(True), collage(), triptych(), strip(), mockup(), table(), *albums(), *cards(),
        *collages(), *calendars(), *mockups(), *make_spreads(), *make_covers(), *make_greetings(), *make_postcards(),
        *make_storyboards(), *make_boards(), *make_walls(), *make_year_posters(),
    ]  # fmt: skip
    for template in templates:
        folder = SHELF / "templates" / template["id"]
        shutil.rmtree(folder, ignore_errors=True)
        folder.mkdir(parents=True)
        layers = [layer for entry in template["sheets"] for layer in entry["layout"]["layers"]]
        named = {layer["asset_file"] for layer in layers if "asset_file" in layer}
        for name in named:
            (folder / name).write_text(drawings[name], "utf-8")
        written = json.dumps({"schema_version": 2, **template}, indent=1, ensure_ascii=False)
        (folder / "template.json").write_text(written + "\n", "utf-8")
        kept, _ = read_template(folder)
        print(kept.id, [len(entry.layout.openings()) for entry in kept.sheets])
    (SHELF / "looks.json").write_text(json.dumps(make_looks(), indent=1) + "\n", "utf-8")
    for theme in make_themes():
        written = json.dumps(theme, indent=1, ensure_ascii=False)
        (SHELF / "themes" / f"{theme['id']}.json").write_text(written + "\n", "utf-8")
    for folder in (SHELF / "templates").iterdir():
        if folder.name not in {template["id"] for template in templates}:
            shutil.rmtree(folder)


if __name__ == "__main__":
    main()

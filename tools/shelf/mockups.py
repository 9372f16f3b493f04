"""Mockups: an open album, a flag, a shop window."""

from .parts import PAPER, Layer, at, box, fill, ground, opening, piece, r, sheet, template, texture, words


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

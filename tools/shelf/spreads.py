"""Album spreads on one grid: both pages hang from the same lines, pictures end on them or run off the paper.

A page has 12 columns and 12 rows within its margins. Boxes are in these, by left, top, width, height; a spread's second page
begins at column 12. ``B`` boxes run off the paper, in shares of a page.
"""

from sutaru.core.measure import inch

from .palettes import BLUSH, CHALK, LINEN, NIGHT, SAGE, SLATE, TIDE, Look
from .parts import Layer, at, fill, ground, gutter, sheet, template, words

Box = tuple[float, float, float, float]
SIZES = ((12.0, 12.0), (10.0, 10.0), (11.0, 8.5))
# Id, name, occasion, look, boxes on the grid, boxes that run off the paper (in pages), words: text, box, size in shares of the height.
DESIGNS: tuple[tuple[str, str, str, Look, tuple[Box, ...], tuple[Box, ...], tuple[tuple[str, Box, float], ...]], ...] = (
    ("one-and-air", "One and air", "portfolio", CHALK, ((14, 2, 8, 8),), (), (("First light", (2, 5, 8, 2), 0.040),)),
    ("bleed-and-three", "Bleed and three", "wedding", LINEN, ((14, 0, 8, 3.72), (14, 4.14, 8, 3.72), (14, 8.28, 8, 3.72)), ((0, 0, 1, 1),), ()),
    ("page-and-third", "Over the fold", "travel", CHALK, ((17, 0, 7, 5.79), (17, 6.21, 7, 5.79)), ((0, 0, 1.34, 1),), ()),
    ("two-equals", "Two of equal weight", "portfolio", LINEN, ((2, 2, 8, 8), (14, 2, 8, 8)), (), ()),
    ("hero-and-row", "Hero over a row", "family", SAGE, ((0, 0, 12, 8), (0, 8.42, 3.72, 3.58), (4.14, 8.42, 3.72, 3.58), (8.28, 8.42, 3.72, 3.58), (12, 0, 12, 12)), (), ()),
    ("band", "Band", "travel", CHALK, tuple((k * 4.875 - 0.15, 3.5, 4.5, 5) for k in range(5)), (), (("Low tide", (0, 10, 8, 1.4), 0.030),)),
    ("mosaic", "Mosaic of nine", "festival", LINEN, ((0, 0, 7.79, 7.79), (8.21, 0, 3.79, 3.685), (8.21, 4.105, 3.79, 3.685), (0, 8.21, 3.685, 3.79), (4.105, 8.21, 7.895, 3.79),
                                                     (12, 0, 5.79, 5.79), (18.21, 0, 5.79, 5.79), (12, 6.21, 5.79, 5.79), (18.21, 6.21, 5.79, 5.79)), (), ()),
    ("tall-pair", "Portrait pair", "portrait", BLUSH, (), ((0, 0, 0.52, 1), (1.48, 0, 0.52, 1)), (("Maren", (7.0, 5, 4.4, 2), 0.052), ("Ola", (12.6, 5, 4.4, 2), 0.052))),
    ("chapter", "Chapter opening", "wedding", BLUSH, (), ((1, 0, 1, 1),), (("I", (3, 3.2, 6, 1.4), 0.034), ("The morning", (1, 4.8, 10, 2.2), 0.062), ("Skerry Sands, 14 June 2026", (1, 7.4, 10, 1.2), 0.022))),
    ("panorama", "Panorama", "travel", TIDE, (), ((0, 0, 2, 0.68),), (("From the north dune to the pier", (4, 10.1, 16, 1.6), 0.034),)),
    ("windows", "Two windows", "evening", NIGHT, ((3, 3, 6, 6), (15, 3, 6, 6)), (), (("Lanterns", (13, 9.6, 10, 1.2), 0.026),)),
    ("four-and-bleed", "Bleed and four", "family", CHALK, ((0, 0, 5.79, 5.79), (6.21, 0, 5.79, 5.79), (0, 6.21, 5.79, 5.79), (6.21, 6.21, 5.79, 5.79)), ((1, 0, 1, 1),), ()),
    ("strip-and-one", "Strip beside one", "portrait", SLATE, ((0, 0, 3.72, 3.72), (0, 4.14, 3.72, 3.72), (0, 8.28, 3.72, 3.72), (4.14, 0, 7.86, 12)), ((1.14, 0.14, 0.72, 0.72),), ()),
    ("quiet-pair", "Low horizon", "memorial", LINEN, ((2, 5, 8, 7), (14, 5, 8, 7)), (), (("The sea was never still", (2, 1.2, 20, 1.6), 0.030),)),
)  # fmt: skip


def make_spreads() -> list[Layer]:
    """Every design for each size of album."""
    return [_make(*design, size) for design in DESIGNS for size in SIZES]


def _make(
    name: str, called: str, occasion: str, look: Look, boxes: tuple[Box, ...], bleeds: tuple[Box, ...],
    lines: tuple[tuple[str, Box, float], ...], size: tuple[float, float],
) -> Layer:  # fmt: skip
    w, h = inch(size[0]), inch(size[1])
    margin = 0.062 * min(w, h)
    unit_x, unit_y = (w - 2 * margin) / 12, (h - 2 * margin) / 12

    def placed(box: Box) -> Box:
        x, y, wide, high = box
        page = 1 if x >= 12 else 0
        left = page * w + margin + (x - 12 * page) * unit_x
        over = x < 12 < x + wide - 0.01
        right = w + margin + (x + wide - 12) * unit_x if over else left + wide * unit_x
        return left, margin + y * unit_y, right - left, high * unit_y

    layers = [ground("swatch Paper")]
    number = 0
    for x, y, wide, high in bleeds:
        number += 1
        left, top = x * w - (3 if x == 0 else 0), y * h - (3 if y == 0 else 0)
        right, bottom = (x + wide) * w + (3 if x + wide == 2 else 0), (y + high) * h + (3 if y + high == 1 else 0)
        layers.append(at(f"opening-{number}", left, top, right - left, bottom - top))
    for box in boxes:
        number += 1
        layers.append(at(f"opening-{number}", *placed(box)))
    for n, (said, box, points) in enumerate(lines, 1):
        x, y, wide, high = placed(box)
        layers.append(
            words(
                f"line-{n}",
                said,
                x + wide / 2,
                y + high / 2,
                wide,
                high,
                1.4 * points * h / 0.3528,
                colour="swatch Main" if n == len(lines) else "swatch Ink",
                **look.title,
            )
        )
        if name == "chapter" and n == 2:
            layers.append(fill("rule", x + wide / 2 - 12, y + high + 1.5, 24, 0.4, "swatch Main"))
    label = f"{size[0]:g}x{size[1]:g}".replace(".", "-")
    return template(
        f"spread-{name}-{label}", called, "album", occasion, f"Double page of a {size[0]:g} x {size[1]:g} in album.",
        sheet("spread", "Spread", 2 * w, h, layers, "spread", lines=gutter(w), swatches=look.swatches),
        tags=("spread", *(("bleed",) if bleeds else ())),
    )  # fmt: skip

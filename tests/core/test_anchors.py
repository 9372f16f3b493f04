"""Ours against something outside, where it would be easy to be wrong in silence: directions, sizes, inks, letters."""

import io
import math

import numpy as np
import pytest
from fontTools.pens.boundsPen import BoundsPen
from fontTools.ttLib import TTFont
from PIL import Image
from scipy.special import erf

from sutaru.core.document import (
    Background,
    FillBox,
    Flat,
    Gradient,
    Layout,
    Light,
    Opening,
    Placement,
    Rectangle,
    Shadow,
    Stop,
)
from sutaru.core.geometry import outlines
from sutaru.core.paint import Painter, PixelGrid, items
from sutaru.core.photos import decode
from sutaru.core.words import FOLDER, families, set_words
from tests.conftest import fake_photo, first, one_sheet

PHOTO = fake_photo(1, 600, 400)


def painted(layout: Layout, ppi: float, transparent: bool = False) -> tuple[np.ndarray, np.ndarray | None]:
    lies = {o.id: Placement(photo=PHOTO.id) for o in layout.openings()}
    black = Painter(lambda photo, scale, space, depth: np.zeros((40, 60, 3), np.uint8))
    drawn = items(first(one_sheet(layout, (PHOTO,), lies)), lambda name: b"", False, False, transparent)
    return black.render(drawn, PixelGrid.for_ppi(layout, ppi), transparent=transparent)


@pytest.mark.parametrize(
    ("turn", "dark", "light"), [(0, "left", "right"), (90, "bottom", "top"), (180, "right", "left")]
)
def test_a_gradient_runs_where_it_says(turn: float, dark: str, light: str) -> None:
    """Counter-clockwise as seen, from the first colour to the last: 0 to the right, 90 upwards."""
    gradient = Gradient(turn_deg=turn, stops=(Stop(at=0, colour="#000000"), Stop(at=1, colour="#ffffff")))
    layout = Layout(width_mm=100, height_mm=60, bleed_mm=0, layers=(Background(id="b", gradient=gradient),))
    rgb, _ = painted(layout, 50)
    h, w = rgb.shape[:2]
    at = {"left": (h // 2, 1), "right": (h // 2, w - 2), "top": (1, w // 2), "bottom": (h - 2, w // 2)}
    assert rgb[at[dark]].max() < 6
    assert rgb[at[light]].min() > 249
    # In the middle it is half way.
    assert abs(int(rgb[h // 2, w // 2, 0]) - 127) <= 2


@pytest.mark.parametrize(("light", "x", "y"), [(90.0, 0, 1), (0.0, -1, 0), (135.0, math.sqrt(0.5), math.sqrt(0.5))])
def test_a_shadow_falls_as_far_as_it_says_and_is_as_soft(light: float, x: float, y: float) -> None:
    """Away from the light by its distance; its edge the integral of a Gaussian of half its blur."""
    square = Opening(
        id="o", outline=Rectangle(width_mm=40, height_mm=40), surface=Flat(centre=(50, 50)),
        shadow=Shadow(kind="drop", distance_mm=8, blur_mm=0, opacity=0.4),
    )  # fmt: skip
    layout = Layout(
        width_mm=100, height_mm=100, bleed_mm=0, light=Light(from_deg=light), layers=(Background(id="b"), square)
    )
    sharp, _ = painted(layout, 254)
    middle = np.array((50 + 8 * x, 50 + 8 * y))
    for dx, dy in ((19.7, 0), (-19.7, 0), (0, 19.7), (0, -19.7)):
        inside, outside = middle + (dx, dy), middle + (dx * 1.03, dy * 1.03)
        if max(abs(inside - 50)) > 20.3:  # not under the opening itself
            assert abs(int(sharp[int(inside[1] * 10), int(inside[0] * 10), 0]) - 153) <= 1
        if max(abs(outside - 50)) > 20.3:
            assert sharp[int(outside[1] * 10), int(outside[0] * 10), 0] == 255
    soft = layout.copy_with(
        layers=(layout.layers[0], square.copy_with(shadow=Shadow(distance_mm=0, blur_mm=6, opacity=1)))
    )
    rgb, _ = painted(soft, 254)
    for beyond in (0.6, 1.5, 3.0, 4.5):
        cover = 0.5 * (1 - erf(beyond / 3 / math.sqrt(2)))  # far from the corners
        got = 255 - int(rgb[500, int((70 + beyond) * 10), 0])
        assert got == pytest.approx(255 * cover, abs=3)


@pytest.mark.parametrize("opacity", [0.1, 0.35, 0.8])
def test_a_translucent_layer_has_just_that_alpha(opacity: float) -> None:
    box = FillBox(
        id="f",
        outline=Rectangle(width_mm=20, height_mm=20),
        surface=Flat(centre=(20, 20)),
        colour="#ff0000",
        opacity=opacity,
    )
    layout = Layout(width_mm=40, height_mm=40, bleed_mm=0, layers=(box,))
    _, alpha = painted(layout, 100, transparent=True)
    assert alpha is not None
    assert alpha[78, 78] == round(255 * opacity)
    over = layout.copy_with(layers=(Background(id="b"), box))
    rgb, _ = painted(over, 100)
    assert rgb[78, 78, 1] == pytest.approx(255 * (1 - opacity), abs=1)


@pytest.mark.parametrize("font", ["Lato", "Vollkorn", "Manrope"])
@pytest.mark.parametrize(("align", "stand"), [("left", "top"), ("centre", "middle"), ("right", "bottom")])
def test_letters_stand_where_their_fonts_tables_say(font: str, align: str, stand: str) -> None:
    """By fontTools: the outline's own bounds, the advance of ``hmtx``, ascent and descent of ``hhea`` or ``OS/2``."""
    table = TTFont(FOLDER / families()[font].faces[0].file)
    name = table.getBestCmap()[ord("H")]
    pen = BoundsPen(table.getGlyphSet())
    table.getGlyphSet()[name].draw(pen)
    em = 40 / 72 * 25.4
    unit = em / table["head"].unitsPerEm
    typographic = table["OS/2"].fsSelection & 1 << 7  # OpenType, OS/2: which of the two pairs of figures counts
    high = table["OS/2"].sTypoAscender if typographic else table["hhea"].ascent
    low = table["OS/2"].sTypoDescender if typographic else table["hhea"].descent
    ascent, descent = high * unit, -low * unit
    advance = table["hmtx"][name][0] * unit
    left = {"left": -30.0, "centre": -advance / 2, "right": 30 - advance}[align]
    top = {"top": -20.0, "middle": -(ascent + descent) / 2, "bottom": 20 - ascent - descent}[stand]
    got = outlines.bounds(list(outlines.flatten(set_words("H", font, 40, 1.2, align, stand, 60, 40).path, 0.001)))
    x0, y0, x1, y1 = (value * unit for value in pen.bounds)
    assert got == pytest.approx((left + x0, top + ascent - y1, left + x1, top + ascent - y0), abs=0.01)


# Solids on coated paper, CIELAB of D50 on white backing: ISO 12647-2:2004/Amd 1:2007, table 2, as remembered; paper 95, 0, -2.
SOLIDS = {
    "magenta": ((0, 255, 0, 0), (48, 74, -3)),
    "red": ((0, 255, 255, 0), (47, 68, 48)),
    "blue": ((255, 255, 0, 0), (24, 17, -46)),
    "yellow": ((0, 0, 255, 0), (89, -5, 93)),
    "paper": ((0, 0, 0, 0), (95, 0, -2)),
}
D50 = np.array((0.9642, 1.0, 0.8249))
# Bradford, D50 to D65, and IEC 61966-2-1: together as in ICC's sRGB.
SRGB_OF_D50 = np.array([(3.1339, -1.6169, -0.4906), (-0.9788, 1.9161, 0.0335), (0.0719, -0.2290, 1.4052)])


def xyz(lab: tuple[float, float, float]) -> np.ndarray:
    """CIE 15:2004, 8.2.1."""
    fy = (lab[0] + 16) / 116
    f = np.array((fy + lab[1] / 500, fy, fy - lab[2] / 200))
    return D50 * np.where(f > 6 / 29, f**3, 3 * (6 / 29) ** 2 * (f - 4 / 29))


@pytest.mark.parametrize("ink", SOLIDS)
def test_cmyk_without_a_profile_is_coated_paper(ink: str) -> None:
    dots, lab = SOLIDS[ink]
    out = io.BytesIO()
    Image.new("CMYK", (16, 16), dots).save(out, "TIFF")
    got = decode(out.getvalue(), "ink.tif")[8, 8].astype(float)
    relative = xyz(lab) / xyz(SOLIDS["paper"][1]) * D50  # white is the paper's
    light = np.clip(SRGB_OF_D50 @ relative, 0, 1)
    # Compared as light: near black a value of sRGB says little. What it cannot show at all is clipped, and left out.
    value = got / 255
    ours = np.where(value <= 0.04045, value / 12.92, ((value + 0.055) / 1.055) ** 2.4)
    within = (light > 0.002) & (light < 0.998)
    assert within.sum() >= 1 or ink == "paper"
    assert np.abs(ours - light)[within].max(initial=0) < 0.04
    if ink == "paper":
        assert got.min() == 255


def test_the_darkest_ink_is_black() -> None:
    """Black point compensation: the press's black, some 12 L* of paper, becomes the screen's; without it, it stays grey."""
    out = io.BytesIO()
    Image.new("CMYK", (16, 16), (220, 200, 190, 255)).save(out, "TIFF")
    assert decode(out.getvalue(), "ink.tif")[8, 8].max() < 12

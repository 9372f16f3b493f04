"""Textures: a function of the place, the same at any size, in any band; stripes and dots by their own arithmetic. Colours shifted
as the standard library shifts them. Pictures as backgrounds, guides that never print."""

import colorsys
import io
import math

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image, ImageCms

from sutaru.core.arranging.sheet_rotation import rotate_sheet
from sutaru.core.colour.shifting import shift_colour
from sutaru.core.document import Background, FillBox, Flat, Layout, Overlay, Rectangle, Shift, Texture
from sutaru.core.fitting import resolve_sheet
from sutaru.core.formats.assets import read_asset
from sutaru.core.paint import Painter, PixelGrid, items
from sutaru.core.paint.textures import strength
from tests.conftest import one_sheet

KINDS = ["paper", "linen", "wood", "sand", "dots", "stripes"]


def painted(
    layout: Layout, ppi: float = 100, region: object = None, notes: bool = False, assets: dict | None = None
) -> np.ndarray:
    layers = items(resolve_sheet(one_sheet(layout), "p"), (assets or {}).__getitem__, bench=False, notes=notes)
    return np.asarray(Painter(None).render(layers, PixelGrid.for_ppi(layout, ppi), region)[0])  # type: ignore[arg-type]


def textured(kind: str, **more: object) -> Layout:
    said = {"scale_mm": 2.0, "strength": 0.8, "colour": "#603010", **more}
    ground = Background(id="ground", colour="#f0e0c0", texture=Texture(kind=kind, **said))
    return Layout(width_mm=120, height_mm=80, bleed_mm=3, layers=(ground,))


@pytest.mark.parametrize("kind", KINDS)
def test_a_texture_is_the_same_in_every_part_and_at_every_size(kind: str) -> None:
    layout = textured(kind, turn_deg=17.0)
    whole = painted(layout)
    box = (101, 57, 333, 290)
    assert np.array_equal(painted(layout, region=box), whole[57:290, 101:333])
    fine = painted(layout, 400)
    small = cv2.resize(fine, (whole.shape[1], whole.shape[0]), interpolation=cv2.INTER_AREA).astype(float)
    assert np.abs(small.mean(axis=(0, 1)) - whole.mean(axis=(0, 1))).max() < 1.5
    assert np.corrcoef(cv2.blur(small, (5, 5))[..., 0].ravel(), cv2.blur(whole, (5, 5))[..., 0].ravel())[0, 1] > 0.9
    other = painted(textured(kind, turn_deg=17.0, seed=4))
    assert np.array_equal(other, whole) == (kind in ("dots", "stripes"))


@pytest.mark.parametrize("kind", ["paper", "linen", "wood", "sand"])
def test_a_texture_has_no_seam(kind: str) -> None:
    """Where its tile ends and begins again it changes no more from one pixel to the next than elsewhere."""
    across = {"paper": 160, "linen": 64, "wood": 20, "sand": 320}[kind]
    texture = Texture(kind=kind, scale_mm=1.0, strength=1.0)
    px_per_mm = 1024 / across
    seen = strength(texture, (0.0, 0.0), px_per_mm, (900, 900, 1200, 1200)).astype(float)
    for axis in (0, 1):
        steps = np.abs(np.diff(seen, axis=axis)).mean(axis=1 - axis)
        at = 1024 - 900 - 1
        if kind == "linen":  # its threads' own edges are steps, each as the next
            assert steps[at] <= steps.max()
        else:
            assert steps[at] < 1.3 * np.sort(steps)[-8]


@given(st.floats(0.8, 30), st.floats(-180, 180))
@settings(max_examples=25, deadline=None)
def test_stripes_cover_a_half_and_dots_their_share(scale: float, turn: float) -> None:
    box = (0, 0, 900, 700)
    stripes = strength(Texture(kind="stripes", scale_mm=scale, strength=1, turn_deg=turn), (0, 0), 8, box)
    dots = strength(Texture(kind="dots", scale_mm=scale, strength=1, turn_deg=turn), (0, 0), 8, box)
    assert 0 <= stripes.min() <= stripes.max() <= 1
    assert abs(stripes.mean() - 0.5) < 0.03 + 0.02 * scale / 10
    assert abs(dots.mean() - math.pi * 0.28**2) < 0.02 + 0.02 * scale / 10


def test_upright_stripes_are_exact() -> None:
    """10 px a period, half of it covered, from the origin on: each pixel by how much of it lies in a stripe."""
    seen = strength(Texture(kind="stripes", scale_mm=1.0, strength=1), (0.5, 0.0), 10, (0, 0, 20, 1))[0]
    goal = [0.5, 1, 1, 1, 1, 0.5, 0, 0, 0, 0] * 2
    assert np.allclose(seen, goal, atol=1e-6)


@given(st.integers(0, 0xFFFFFF), st.floats(-180, 180), st.floats(0, 2), st.floats(-1, 1))
@settings(max_examples=200, deadline=None)
def test_a_shift_is_the_standard_librarys(colour: int, hue: float, saturation: float, lightness: float) -> None:
    """HSL of Python's ``colorsys`` (CSS Color Module Level 4, section 7, is the same)."""
    h, light, s = colorsys.rgb_to_hls(*(v / 255 for v in colour.to_bytes(3, "big")))
    light += lightness * ((1 - light) if lightness > 0 else light)
    goal = colorsys.hls_to_rgb((h + hue / 360) % 1, light, min(1.0, s * saturation))
    said = shift_colour(f"#{colour:06x}", Shift(hue_deg=hue, saturation=saturation, lightness=lightness))
    assert np.abs(np.array(list(bytes.fromhex(said[1:]))) - np.array(goal) * 255).max() <= 1.0


def test_all_colours_of_a_ground_are_shifted_together() -> None:
    layout = textured("stripes", scale_mm=20.0)
    (ground,) = layout.layers
    blue = Layout(width_mm=120, height_mm=80, layers=(ground.copy_with(shift=Shift(hue_deg=180)),))
    colours = {tuple(v) for v in painted(blue)[::40, ::7].reshape(-1, 3).tolist()}
    assert all(b >= r for r, g, b in colours)


@pytest.mark.parametrize("how", ["left", "half", "left_right", "top_bottom"])
def test_a_texture_turns_with_its_sheet_and_back(how: str) -> None:
    layout = textured("wood", turn_deg=30.0)
    times = {"left": 4}.get(how, 2)
    after = layout
    for _ in range(times):
        after = rotate_sheet(after, how)  # type: ignore[arg-type]
    assert after.pack() == layout.pack()
    once = rotate_sheet(layout, how).layers[0].texture.turn_deg  # type: ignore[arg-type, union-attr]
    assert once == {"left": 120.0, "half": -150.0, "left_right": -30.0, "top_bottom": 150.0}[how]


def picture(kind: str, **more: object) -> bytes:
    rows, columns = np.mgrid[0:60, 0:120]
    buffer = io.BytesIO()
    rgb = np.dstack([rows * 4, columns * 2, np.full_like(rows, 90)]).astype(np.uint8)
    Image.fromarray(rgb).save(buffer, kind, **more)
    return buffer.getvalue()


def test_a_picture_covers_the_sheet_its_middle_in_the_middle() -> None:
    kept = read_asset(picture("JPEG", quality=100, subsampling=0))
    assert kept.kind == "overlay"
    layout = Layout(width_mm=80, height_mm=80, bleed_mm=0, layers=(Background(id="ground", asset=kept.name),))
    seen = painted(layout, 25.4 * 60 / 80, assets={kept.name: kept.data}).astype(
        int
    )  # a pixel of it is one of the page
    assert seen.shape[:2] == (60, 60)
    goal = np.asarray(Image.open(io.BytesIO(kept.data)))[:, 30:90].astype(int)
    assert np.abs(seen - goal).max() <= 4
    lighter = layout.copy_with(layers=(layout.layers[0].copy_with(shift=Shift(lightness=0.5)),))
    assert painted(lighter, 20, assets={kept.name: kept.data}).mean() > seen.mean() + 50


def test_a_background_picture_needs_nothing_beside_it_once_it_is_kept() -> None:
    """Stored sideways and in a profile of its own, it becomes upright and sRGB."""
    exif = Image.Exif()
    exif[0x0112] = 6
    kept = read_asset(picture("JPEG", exif=exif))
    assert (kept.width, kept.height) == (60, 120)
    assert read_asset(picture("JPEG")).data == picture("JPEG")
    assert (
        read_asset(
            picture("JPEG", icc_profile=ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes())
        ).width
        == 120
    )


def test_a_guide_is_seen_while_working_and_never_in_output() -> None:
    png = picture("PNG")
    kept = read_asset(png)
    guide = Overlay(id="blank", asset=kept.name, centre=(40, 40), width_mm=80, height_mm=80, guide=True)
    layout = Layout(width_mm=80, height_mm=80, bleed_mm=0, layers=(Background(id="ground"), guide))
    assert painted(layout, 20, notes=True, assets={kept.name: png}).mean() < 200
    assert (painted(layout, 20, assets={kept.name: png}) == 255).all()


def test_a_shape_carries_its_texture_along() -> None:
    def at(x: float) -> np.ndarray:
        shape = FillBox(id="cloth", outline=Rectangle(width_mm=40, height_mm=40), surface=Flat(centre=(x, 40)), colour="#ffffff",
                        texture=Texture(kind="linen", scale_mm=1.5, strength=0.9))  # fmt: skip
        return painted(Layout(width_mm=200, height_mm=80, bleed_mm=0, layers=(shape,)), 25.4 * 4)

    first, second = at(40)[:, 80:240], at(140)[:, 480:640]
    assert np.abs(first.astype(int) - second.astype(int)).max() <= 1

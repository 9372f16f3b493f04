"""Gradients beside librsvg's of the same (SVG 1.1, 13.2), on the background and in a shape; and turned with their sheet."""

import numpy as np
import pytest
import pyvips

from sutaru.core.arranging.sheet_rotation import rotate_sheet
from sutaru.core.document import Background, FillBox, Flat, Gradient, Layout, Rectangle, Stop
from sutaru.core.paint import Painter, PixelGrid
from tests.conftest import drawn_items, one_sheet

STOPS = (Stop(at=0, colour="#f4c430"), Stop(at=0.35, colour="#d1495b"), Stop(at=1, colour="#1d3557"))
RADIAL = Gradient(shape="radial", centre=(0.3, 0.6), stops=STOPS)


def page(layout: Layout) -> np.ndarray:
    painter = Painter(lambda photo, scale, space, depth: np.zeros((1, 1, 3), np.uint8))
    return np.asarray(
        painter.render(drawn_items(one_sheet(layout)), PixelGrid.for_ppi(layout, 25.4))[0]
    )  # 1 px a millimetre


def librsvg(width: int, height: int, gradient: str, shape: str) -> np.ndarray:
    stops = "".join(f'<stop offset="{stop.at}" stop-color="{stop.colour}"/>' for stop in STOPS)
    svg = f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}" height="{height}"><defs>{gradient}{stops}'
    svg += f"</{gradient[1 : gradient.index(' ')]}></defs>{shape}</svg>"
    return pyvips.Image.svgload_buffer(svg.encode()).numpy()[..., :3].astype(int)


@pytest.mark.parametrize("turn", [0, 30, 90, -135])
def test_linear_and_radial_gradients_are_librsvgs(turn: float) -> None:
    w, h = 240, 160
    layout = Layout(width_mm=w, height_mm=h, bleed_mm=0, layers=(
        Background(id="ground", gradient=Gradient(turn_deg=turn, stops=STOPS)),
    ))  # fmt: skip
    c, s = np.cos(np.radians(turn)), -np.sin(np.radians(turn))
    reach = (w * abs(c) + h * abs(s)) / 2
    ends = (w / 2 - c * reach, h / 2 - s * reach, w / 2 + c * reach, h / 2 + s * reach)
    said = '<linearGradient id="g" gradientUnits="userSpaceOnUse" x1="{}" y1="{}" x2="{}" y2="{}">'.format(*ends)
    goal = librsvg(w, h, said, f'<rect width="{w}" height="{h}" fill="url(#g)"/>')
    assert np.abs(page(layout) - goal).max() <= 2


def test_a_radial_gradient_fills_a_shape_from_its_middle() -> None:
    layout = Layout(width_mm=240, height_mm=160, bleed_mm=0, layers=(
        FillBox(id="sun", outline=Rectangle(width_mm=120, height_mm=80), surface=Flat(centre=(100, 70)), colour="#000000",
                gradient=RADIAL),
    ))  # fmt: skip
    x, y = 40 + 0.3 * 120, 30 + 0.6 * 80
    radius = np.hypot(0.7 * 120, 0.6 * 80)
    said = f'<radialGradient id="g" gradientUnits="userSpaceOnUse" cx="{x}" cy="{y}" r="{radius}">'
    goal = librsvg(240, 160, said, '<rect x="40" y="30" width="120" height="80" fill="url(#g)"/>')
    assert np.abs(page(layout)[30:110, 40:160] - goal[30:110, 40:160]).max() <= 2


@pytest.mark.parametrize("how", ["left", "half", "left_right", "top_bottom"])
def test_a_gradient_turns_with_its_sheet(how: str) -> None:
    for gradient in (RADIAL, Gradient(turn_deg=25, stops=STOPS)):
        layout = Layout(width_mm=120, height_mm=80, bleed_mm=0, layers=(Background(id="ground", gradient=gradient),))
        turn = {"left": lambda a: np.rot90(a), "half": lambda a: a[::-1, ::-1], "left_right": lambda a: a[:, ::-1],
                "top_bottom": lambda a: a[::-1]}[how]  # fmt: skip
        now = page(rotate_sheet(layout, how))  # type: ignore[arg-type]
        assert np.abs(now.astype(int) - turn(page(layout)).astype(int)).max() <= 1

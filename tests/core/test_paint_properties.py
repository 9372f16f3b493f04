"""Properties of painting that hold for any map: constants stay constant, ramps tell where each pixel came from."""

import math

import cv2
import numpy as np
import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from sutaru.core.document import (
    Background,
    Border,
    Corners,
    Ellipse,
    FillBox,
    Flat,
    Layer,
    Layout,
    Opening,
    Path,
    Placement,
    Rectangle,
)
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import BringIn, Place, Put
from sutaru.core.fitting import clamp_placement, page_from_photo
from sutaru.core.geometry import matrices as m
from sutaru.core.geometry.maps import Projective
from sutaru.core.geometry.quadrilaterals import quad_from_rectangle
from sutaru.core.paint import Painter, PixelGrid, changed_box
from sutaru.core.paint.grid import join, meet
from sutaru.core.paint.sampling import sample
from tests.conftest import drawn_items, fake_photo, one_sheet

WIDTH, HEIGHT = 600, 400
relaxed = settings(max_examples=80, deadline=None, suppress_health_check=list(HealthCheck), derandomize=True)

affine = st.builds(
    lambda scale, turn, mirror, x, y: (
        m.translation(x, y)
        @ m.rotation(turn)
        @ m.scaling(-scale if mirror else scale, scale)
        @ m.translation(-300, -200)
    ),
    st.floats(0.02, 3),
    st.one_of(st.sampled_from([0.0, 90.0, 180.0, 270.0]), st.floats(-180, 180)),
    st.booleans(),
    st.floats(20, 60),
    st.floats(15, 45),
)
slanted = st.lists(st.floats(-12, 12), min_size=8, max_size=8).map(
    lambda d: (
        quad_from_rectangle(WIDTH, HEIGHT, np.array([(5, 5), (75, 5), (75, 55), (5, 55)]) + np.reshape(d, (4, 2)))
        @ m.translation(-WIDTH / 2, -HEIGHT / 2)
    )
)


@relaxed
@given(st.one_of(affine, slanted), st.integers(1, 80), st.integers(1, 60))
def test_one_colour_stays_one_colour(px_from_photo: np.ndarray, w: int, h: int) -> None:
    image = np.full((HEIGHT, WIDTH, 3), (37, 142, 221), np.uint8)
    got = sample(
        lambda photo, least, space, depth: image, fake_photo(1, WIDTH, HEIGHT), Projective(px_from_photo), (0, 0, w, h)
    )
    assert got.shape == (h, w, 3)
    assert np.abs(got.astype(int) - (37, 142, 221)).max() <= 1


@relaxed
@given(st.one_of(affine, slanted))
def test_a_ramp_tells_where_each_pixel_came_from(px_from_photo: np.ndarray) -> None:
    x, y = np.meshgrid(np.arange(WIDTH) + 0.5, np.arange(HEIGHT) + 0.5)
    image = np.stack([x / WIDTH, y / HEIGHT, np.zeros_like(x)], -1) * 255
    got = sample(
        lambda photo, least, space, depth: np.rint(image).astype(np.uint8),
        fake_photo(1, WIDTH, HEIGHT),
        Projective(px_from_photo),
        (0, 0, 80, 60),
    )
    px, py = np.meshgrid(np.arange(80) + 0.5, np.arange(60) + 0.5)
    there = m.apply(m.inverse(px_from_photo), np.stack([px, py], -1))
    inside = (there > 25).all(-1) & (there < (WIDTH - 25, HEIGHT - 25)).all(-1)
    assume(inside.sum() > 40)
    off = np.abs(got[..., :2] - there / (WIDTH, HEIGHT) * 255)[inside]
    assert off.max() < 2.5  # 8-bit rounding, twice
    assert off.mean() < 0.8


BOX = st.tuples(st.integers(0, 50), st.integers(0, 50), st.integers(1, 50), st.integers(1, 50)).map(
    lambda b: (b[0], b[1], b[0] + b[2], b[1] + b[3])
)


@given(BOX, BOX)
def test_boxes_meet_and_join(a: tuple, b: tuple) -> None:
    both, about = meet(a, b), join(a, b)
    assert about is not None
    assert meet(a, about) == a
    assert meet(b, about) == b
    shared = {(x, y) for x in range(a[0], a[2]) for y in range(a[1], a[3])} & {
        (x, y) for x in range(b[0], b[2]) for y in range(b[1], b[3])
    }
    assert (both is None) == (not shared)
    if both:
        assert len(shared) == (both[2] - both[0]) * (both[3] - both[1])


@given(st.floats(20, 900), st.floats(20, 900), st.floats(0, 10), st.sampled_from([72, 150, 250, 300, 600]))
def test_the_grid_is_covered_by_its_bands_once(w: float, h: float, bleed: float, ppi: float) -> None:
    grid = PixelGrid((w, h), bleed, ppi)
    assert grid.size == tuple(math.floor((side + 2 * bleed) / 25.4 * ppi + 0.5) for side in (w, h))
    assert sum((c[2] - c[0]) * (c[3] - c[1]) for c in grid.bands(grid.box)) == grid.size[0] * grid.size[1]
    # The bleed box maps onto whole pixels, so what bleeds fills the last one.
    corners = m.apply(grid.px_from_page, [(-bleed, -bleed), (w + bleed, h + bleed)])
    assert corners == pytest.approx(np.array([(0, 0), grid.size]), abs=1e-6)


# --- borders, whole photos, order of layers --------------------------------------------------------------------------


def red(photo: object, least: float, space: str = "srgb", depth: int = 8) -> np.ndarray:
    return np.full((200, 300, 3), (200, 0, 0), np.uint8)


def painted(*layers: Layer, ppi: float = 254.0, **placement: object) -> np.ndarray:
    page = Layout(width_mm=60, height_mm=50, bleed_mm=0, layers=layers)
    job = one_sheet(page)
    photo = fake_photo(1, 300, 200)
    job = apply(job, BringIn(photos=(photo,)))
    for opening in page.openings():
        job = apply(job, Put(sheet="p", opening=opening.id, photo=photo.id))
        if placement:
            lies = {"centre": (0.5, 0.5), "zoom": 1, "turn_deg": 0, "mirror": False, **placement}
            job = apply(job, Place(sheet="p", opening=opening.id, **lies))
    return Painter(red).render(drawn_items(job), PixelGrid.for_ppi(page, ppi))[0]


PAPER = Background(id="paper", colour="#ffffff")
MIDDLE = Flat(centre=(30, 25))


@pytest.mark.parametrize(
    ("side", "outer", "inner"), [("inside", 0.0, 3.0), ("centred", 1.5, 1.5), ("outside", 3.0, 0.0)]
)
@pytest.mark.parametrize("turn", [0.0, 90.0])
def test_borders_are_as_wide_as_they_say(side: str, outer: float, inner: float, turn: float) -> None:
    border = Border(width_mm=3, colour="#0000ff", side=side)
    outline = Rectangle(width_mm=30, height_mm=30)
    rgb = painted(PAPER, Opening(id="o", outline=outline, surface=Flat(centre=(30, 25), turn_deg=turn), border=border))
    row = rgb[250]  # through the middle, ten pixels to the millimetre
    blue, photo = (row == (0, 0, 255)).all(-1), (row == (200, 0, 0)).all(-1)
    assert (np.flatnonzero(blue)[0], np.flatnonzero(blue)[-1]) == (150 - 10 * outer, 449 + 10 * outer)
    assert (np.flatnonzero(photo)[0], np.flatnonzero(photo)[-1]) == (150 + 10 * inner, 449 - 10 * inner)
    assert not ((row != 255).any(-1) & ~blue & ~photo).any()


def test_a_border_along_a_round_outline_leaves_no_gap() -> None:
    border = Border(width_mm=2, colour="#0000ff", side="inside")
    rgb = painted(
        PAPER, Opening(id="o", outline=Ellipse(width_mm=30, height_mm=30), surface=Flat(centre=(30, 25)), border=border)
    )
    y, x = np.mgrid[:500, :600]
    r = np.hypot(x + 0.5 - 300, y + 0.5 - 250)
    assert (rgb[(r < 128)] == (200, 0, 0)).all()
    assert (rgb[(r > 132) & (r < 148)] == (0, 0, 255)).all()
    assert (rgb[r > 152] == 255).all()
    edge = rgb[(r > 149) & (r < 151)]
    assert (edge[:, 0] == edge[:, 1]).all()  # white to blue, no red shining through


def test_whole_photo_leaves_the_rest_of_its_opening_open() -> None:
    rgb = painted(
        PAPER, Opening(id="o", outline=Rectangle(width_mm=30, height_mm=30), surface=Flat(centre=(30, 25))), fit="whole"
    )
    shown = (rgb == (200, 0, 0)).all(-1)
    ys, xs = np.nonzero(shown)
    assert (xs.min(), xs.max(), ys.min(), ys.max()) == (150, 449, 150, 349)  # 30 x 20 mm of 30 x 30


def test_layers_lie_in_order_and_blend_where_they_say() -> None:
    under = FillBox(
        id="a", outline=Rectangle(width_mm=20, height_mm=20), surface=Flat(centre=(30, 25)), colour="#808080"
    )
    over = FillBox(
        id="b",
        outline=Path(d="M-10 -10L10 -10L10 0L-10 0Z"),
        surface=Flat(centre=(30, 25)),
        colour="#ff8000",
        blend="multiply",
    )
    rgb = painted(PAPER, under, over)
    assert rgb[200, 300].tolist() == [128, 64, 0]
    assert rgb[300, 300].tolist() == [128, 128, 128]
    rgb = painted(PAPER, over, under)
    assert rgb[200, 300].tolist() == [128, 128, 128]
    hidden = painted(PAPER, under.copy_with(visible=False))
    assert (hidden == 255).all()


def test_what_changed_is_found_and_no_more() -> None:
    small = Rectangle(width_mm=10, height_mm=10)
    slant = Corners(points=((40, 30), (50, 31), (50, 40), (40, 40)))
    flat = Opening(id="o", outline=small, surface=Flat(centre=(10, 10)))
    layers = (PAPER, flat, Opening(id="q", outline=small, surface=slant))
    page = Layout(width_mm=60, height_mm=50, bleed_mm=0, layers=layers)
    job = one_sheet(page)
    photo = fake_photo(1, 300, 200)
    job = apply(job, BringIn(photos=(photo,)))
    grid = PixelGrid.for_ppi(page, 25.4)
    before, after = (drawn_items(j, bench=True) for j in (job, apply(job, Put(sheet="p", opening="q", photo=photo.id))))
    assert changed_box(before, before, grid) is None
    box = changed_box(before, after, grid)
    assert box is not None
    assert box[0] >= 37
    assert box[1] >= 27
    # A photo's file name changes no pixel that is kept.
    assert (
        changed_box(after, drawn_items(apply(job, Put(sheet="p", opening="q", photo=photo.id)), bench=True), grid)
        is None
    )


def test_a_slanted_photo_lands_on_its_corners() -> None:
    quad = Corners(points=((8, 6), (52, 12), (48, 42), (11, 46)))
    hole = Opening(id="o", outline=Rectangle(width_mm=30, height_mm=20), surface=quad)
    photo = fake_photo(1, 300, 200)
    lies = clamp_placement(hole, photo, Placement(photo=photo.id))
    onto = page_from_photo(hole, photo, lies)
    assert onto.apply([(0, 0), (300, 0), (300, 200), (0, 200)]) == pytest.approx(np.array(quad.points), abs=1e-9)
    # Against OpenCV's own map from the photo's corners to the page's.
    theirs = cv2.getPerspectiveTransform(
        np.array([(0, 0), (300, 0), (300, 200), (0, 200)], np.float32), np.array(quad.points, np.float32)
    )
    inner = np.random.default_rng(4).random((30, 2)) * (300, 200)
    assert onto.apply(inner) == pytest.approx(m.apply(theirs, inner), abs=1e-4)

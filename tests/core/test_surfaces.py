"""Bent surfaces, reflections, masks, frames and echoes: against definitions, closed forms and dense references."""

import io
import math
from math import comb

import cv2
import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from PIL import Image

from sutaru.core.document import (
    Border,
    Corners,
    Echo,
    Edition,
    Flat,
    Floor,
    Grid,
    Job,
    Layout,
    Light,
    Mat,
    Opening,
    Placement,
    Rectangle,
    Roll,
    Shadow,
)
from sutaru.core.errors import FileRefused, GeometryError
from sutaru.core.fitting import clamp_placement, distortion, effective_ppi, page_from_photo, ppi_picture
from sutaru.core.formats.assets import read_asset
from sutaru.core.formats.masks import read_mask
from sutaru.core.geometry import patches
from sutaru.core.geometry.cylinders import Cylinder
from sutaru.core.geometry.maps import Between, Map, Projective, nearest_projective, reflection
from sutaru.core.geometry.matrices import apply, rotation, translation
from sutaru.core.geometry.patches import BezierPatch
from sutaru.core.paint import Painter, PixelGrid, items
from sutaru.core.paint.sampling import sample_picture
from sutaru.core.paint.source_points import plane_of
from tests.conftest import fake_photo, first, noise, one_sheet


def net(rows: int, columns: int, wobble: float = 0.0, seed: int = 0) -> np.ndarray:
    """A net over 120 x 80, its points moved about at random."""
    flat = np.stack(np.meshgrid(np.linspace(0, 120, columns), np.linspace(0, 80, rows)), axis=-1)
    return flat + np.random.default_rng(seed).normal(0, wobble, flat.shape)


WAVY = BezierPatch(net(4, 4, 5.0, 3))
MUG = Cylinder(45.0, 25.0)

# --- Bezier patches -------------------------------------------------------------------------------------------------


def test_a_patch_is_the_sum_that_iso_32000_defines() -> None:
    # ISO 32000-1, 8.7.4.5.8, type 7: S(u, v) = sum over i, j of p_ij B_i(u) B_j(v), B_i(t) = C(3, i) t^i (1 - t)^(3 - i).
    points, rng = net(4, 4, 6.0), np.random.default_rng(1)
    for u, v in rng.random((40, 2)):
        total = np.zeros(2)
        for i in range(4):
            for j in range(4):
                total += points[i, j] * comb(3, j) * u**j * (1 - u) ** (3 - j) * comb(3, i) * v**i * (1 - v) ** (3 - i)
        assert BezierPatch(points).apply((u, v)) == pytest.approx(total, abs=1e-10)


def test_a_net_of_four_is_the_bilinear_map() -> None:
    (a, b), (c, d) = points = net(2, 2, 12.0, 5)
    for u, v in np.random.default_rng(2).random((40, 2)):
        closed = (1 - u) * (1 - v) * a + u * (1 - v) * b + (1 - u) * v * c + u * v * d
        assert BezierPatch(points).apply((u, v)) == pytest.approx(closed, abs=1e-10)


@pytest.mark.parametrize("size", [(2, 2), (2, 5), (4, 4), (5, 5), (3, 4)])
def test_an_even_net_is_the_identity(size: tuple[int, int]) -> None:
    at = np.random.default_rng(3).random((50, 2))
    assert BezierPatch(net(*size)).apply(at) == pytest.approx(at * (120, 80), abs=1e-10)


@pytest.mark.parametrize("bent", [WAVY, MUG, Between(rotation(20), MUG, translation(30, 4) @ rotation(-8))])
def test_derivatives_and_inverses(bent: Map) -> None:
    at = (
        np.random.default_rng(4).random((60, 2)) if bent is WAVY else np.random.default_rng(4).uniform(-40, 40, (60, 2))
    )
    e = 1e-5
    numeric = np.stack([(bent.apply(at + d) - bent.apply(at - d)) / (2 * e) for d in ((e, 0), (0, e))], axis=-1)
    assert bent.jacobians(at) == pytest.approx(numeric, abs=1e-6)
    assert bent.inverse(bent.apply(at)) == pytest.approx(at, abs=1e-9)
    near = nearest_projective(bent, at[0])
    assert apply(near, at[0] + 1e-4) == pytest.approx(bent.apply(at[0] + 1e-4), abs=1e-6)


@settings(max_examples=60, deadline=None)
@given(rows=st.integers(2, 5), columns=st.integers(2, 5), wobble=st.floats(0, 25), seed=st.integers(0, 10_000))
def test_a_fold_is_found_wherever_it_is(rows: int, columns: int, wobble: float, seed: int) -> None:
    points = net(rows, columns, wobble, seed)
    t = np.linspace(0, 1, 120)
    signs = np.linalg.det(BezierPatch(points).jacobians(np.stack(np.meshgrid(t, t), axis=-1)))
    assume(np.abs(signs).min() > 1e-3 * np.abs(signs).max() or (signs.min() < 0 < signs.max()))
    if signs.min() < 0 < signs.max():
        assert patches.folds(points)
    elif not patches.folds(points):
        # Not folded: every place is reached once only, so the inverse leads back.
        at = np.random.default_rng(seed).random((50, 2))
        assert BezierPatch(points).inverse(BezierPatch(points).apply(at)) == pytest.approx(at, abs=1e-6)


def test_bad_nets_are_refused_in_words() -> None:
    folded = net(4, 4)
    folded[0, 0], folded[3, 3] = folded[3, 3].copy(), folded[0, 0].copy()
    with pytest.raises(ValueError, match="folds over itself"):
        Grid(net=folded.tolist())
    with pytest.raises(ValueError, match="same number of points"):
        Grid(net=[[(0, 0), (1, 0)], [(0, 1), (1, 1), (2, 1)]])
    with pytest.raises(GeometryError, match="2 to 5 rows"):
        patches.check_net(np.zeros((6, 3, 2)))
    with pytest.raises(GeometryError, match="not a number"):
        patches.check_net(np.full((3, 3, 2), np.nan))
    assert patches.folds(np.zeros((2, 2, 2)))
    assert not patches.folds(net(3, 3)[:, ::-1])  # mirrored is not folded


# --- cylinders ------------------------------------------------------------------------------------------------------


def test_a_cylinder_is_three_dimensional_geometry() -> None:
    # Wrapped, tilted about the x axis by a rotation matrix, projected in parallel: worked out step by step.
    for x, y in np.random.default_rng(5).uniform(-50, 50, (30, 2)):
        theta = x / 45.0
        wrapped = np.array([45 * math.sin(theta), y, 45 * math.cos(theta)])
        c, s = math.cos(math.radians(25)), math.sin(math.radians(25))
        tilted = np.array([[1, 0, 0], [0, c, s], [0, -s, c]]) @ (wrapped - (0, 0, 45))
        assert MUG.apply((x, y)) == pytest.approx(tilted[:2], abs=1e-10)
    assert MUG.apply((0.0, 10.0)) == pytest.approx((0, 10 * math.cos(math.radians(25))))
    assert MUG.apply((30.0, 0.0))[1] < 0  # seen from above, the sides of a rim lie higher than its front


def test_a_roll_that_reaches_round_the_back_is_refused() -> None:
    with pytest.raises(ValueError, match="Give it a radius of at least 33.7 mm"):
        Opening(
            id="o", outline=Rectangle(width_mm=100, height_mm=50), surface=Roll(centre=(0, 0), radius_mm=30, tilt_deg=0)
        )


# --- sampling -------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("px_per", [0.8, 2.5, 6.0])
@pytest.mark.parametrize("bent", [WAVY, MUG])
def test_bent_pixels_come_from_where_they_should(bent: Map, px_per: float) -> None:
    onto = bent.then(translation(200, 150) @ np.diag([px_per, px_per, 1.0]))
    box = (210, 160, 210 + round(90 * px_per), 160 + round(60 * px_per)) if bent is WAVY else (
        round(200 - 40 * px_per), round(150 - 25 * px_per), round(200 + 40 * px_per), round(150 + 25 * px_per)
    )  # fmt: skip
    xs, ys = plane_of(onto, box)
    px, py = np.meshgrid(np.arange(box[0], box[2]) + 0.5, np.arange(box[1], box[3]) + 0.5)
    there = onto.apply(np.stack([xs, ys], axis=-1).astype(np.float64))
    inside = (np.abs(np.stack([xs, ys], -1) - 0.5) < 0.49).all(-1) if bent is WAVY else np.abs(xs) < 60
    assert inside.mean() > 0.4
    off = np.hypot(there[..., 0] - px, there[..., 1] - py)[inside]
    assert off.max() < 0.1


@pytest.mark.parametrize(
    "bent",
    [WAVY.after(np.diag([1 / 600, 1 / 400, 1])), MUG.after(np.diag([0.15, 0.15, 1]) @ translation(-300, -200))],
)
def test_bent_pixels_are_the_mean_of_what_they_show(bent: Map) -> None:
    image = noise(400, 600, 7)
    onto = bent.then(translation(60, 60) @ np.diag([2.2, 2.2, 1]))
    box = (80, 80, 240, 190) if bent.apply((0.0, 0.0))[0] >= -20 else (20, 20, 120, 110)
    got = sample_picture(image, onto, box).astype(np.float64)
    n = 12
    xs = np.arange(box[0], box[2], 1 / n) + 0.5 / n
    ys = np.arange(box[1], box[3], 1 / n) + 0.5 / n
    whence = onto.inverse(np.stack(np.meshgrid(xs, ys), axis=-1)).astype(np.float32) - np.float32(0.5)
    dense = cv2.remap(
        image.astype(np.float32), whence[..., 0], whence[..., 1], cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE
    )
    mean = cv2.resize(dense, (box[2] - box[0], box[3] - box[1]), interpolation=cv2.INTER_AREA)
    assert np.sqrt(np.mean((got - mean) ** 2)) < 1.8  # 43 dB


# --- reflections ----------------------------------------------------------------------------------------------------


def test_a_plain_reflection_is_the_mirror_matrix() -> None:
    for turn in (0.0, 17.0, -65.0):
        # The mirror matrix of a line with unit normal n through the origin: I - 2 n n^T (Householder, 1958).
        n = (rotation(turn) @ (0.0, -1.0, 1.0))[:2]
        assert reflection((0, 0), turn + 90, turn)[:2, :2] == pytest.approx(np.eye(2) - 2 * np.outer(n, n), abs=1e-12)
    matrix = reflection((3, 70), -110, 5, 0.6)
    assert apply(matrix, (3, 70)) == pytest.approx((3, 70))
    along = apply(matrix, (20.0, 30.0)) - (20.0, 30.0)
    assert math.degrees(math.atan2(-along[1], along[0])) % 180 == pytest.approx(-110 % 180)
    with pytest.raises(GeometryError):
        reflection((0, 0), 5, 5)


SLANTED = Corners(points=((20, 30), (100, 20), (100, 90), (20, 80)))


def framed(**more: object) -> Opening:
    return Opening.model_validate(
        {"id": "a", "outline": Rectangle(width_mm=80, height_mm=60), "surface": SLANTED, **more}
    )


def test_a_reflection_meets_its_source_at_the_floor_and_follows_it() -> None:
    source = framed()
    echo = Echo(id="e", of="a")
    onto = echo.page_from_source(source)
    # Its lower edge is the source's own; its upper corners lie as far below as the source's lie above.
    assert onto.apply([(-40, 30), (40, 30)]) == pytest.approx(np.array([(20, 80), (100, 90)]), abs=1e-9)
    assert onto.apply([(-40, -30), (40, -30)]) == pytest.approx(np.array([(20, 130), (100, 160)]), abs=1e-9)
    half = Echo(id="e", of="a", floor=Floor(length=0.5, gap_mm=4)).page_from_source(source)
    assert half.apply([(-40, -30)]) == pytest.approx(np.array([(20, 84 + 27)]), abs=1e-9)
    drawn = Echo(id="e", of="a", floor=Floor(line=((0, 100), (200, 100)))).page_from_source(source)
    assert drawn.apply([(-40, -30), (40, 30)]) == pytest.approx(np.array([(20, 170), (100, 110)]), abs=1e-9)
    moved = framed(surface=Corners(points=((20, 30), (100, 20), (100, 95), (20, 80))))
    assert echo.page_from_source(moved).apply([(40, 30)]) == pytest.approx(np.array([(100, 95)]), abs=1e-9)


def job_of(*layers: object, photo_size: tuple[int, int] = (1200, 900), light: float = 120.0) -> Job:
    page = Layout(width_mm=240, height_mm=180, bleed_mm=0, layers=layers, light=Light(from_deg=light))
    photo = fake_photo(1, *photo_size)
    placements = {o.id: clamp_placement(o, photo, Placement(photo=photo.id)) for o in page.openings()}
    return one_sheet(page, (photo,), placements)


def painted(
    job: Job, image: np.ndarray, ppi: float = 50.8, transparent: bool = False, mask: bytes = b""
) -> tuple[np.ndarray, np.ndarray | None]:
    layers = items(first(job), lambda name: mask, bench=False, notes=False)
    grid = PixelGrid.for_ppi(job.sheets[0].layout, ppi)
    return Painter(lambda photo, least, space, depth: image).render(layers, grid, transparent=transparent)


def test_an_echo_shows_its_source_upside_down_darker_and_fading() -> None:
    source = Opening(id="a", outline=Rectangle(width_mm=80, height_mm=60), surface=Flat(centre=(100, 60)))
    image = noise(900, 1200, 2)
    rgb, alpha = painted(job_of(Echo(id="e", of="a", reach=1.0, darken=0.25), source), image, transparent=True)
    assert alpha is not None
    # 2 px a mm: the source spans rows 60 to 180, its echo 180 to 300.
    above, below = rgb[60:180, 120:280].astype(float), rgb[180:300, 120:280].astype(float)
    assert np.abs(below[:100] - 0.75 * above[::-1][:100]).mean() < 2.0
    fading = alpha[180:300, 200].astype(float)
    assert fading == pytest.approx(255 * (1 - (np.arange(120) + 0.5) / 120), abs=2)
    gone = job_of(Echo(id="e", of="a"), source)
    empty = gone.copy_with(editions=(Edition(),))
    assert painted(empty, image)[0].min() == 255  # no photo, no echo


def test_a_repeat_lies_where_it_is_put() -> None:
    source = Opening(id="a", outline=Rectangle(width_mm=80, height_mm=60), surface=Flat(centre=(60, 60)))
    echo = Echo(id="e", of="a", how="repeat", surface=Flat(centre=(180, 60)))
    rgb, _ = painted(job_of(echo, source), noise(900, 1200, 3))
    assert np.abs(rgb[60:180, 40:200].astype(int) - rgb[60:180, 280:440]).max() <= 1
    with pytest.raises(ValueError, match="place of its own"):
        Echo(id="e", of="a", how="repeat")
    with pytest.raises(ValueError, match="which is not on its sheet"):
        Layout(width_mm=9, height_mm=9, layers=(Echo(id="e", of="nothing"),))


# --- masks, mats, borders, shadows -----------------------------------------------------------------------------------


def png(values: np.ndarray, alpha: np.ndarray | None = None) -> bytes:
    picture = Image.fromarray(values)
    if alpha is not None:
        picture.putalpha(Image.fromarray(alpha))
    data = io.BytesIO()
    picture.save(data, "PNG")
    return data.getvalue()


def test_a_mask_keeps_its_soft_edges_and_is_read_by_alpha_or_luminance() -> None:
    ramp = np.tile(np.linspace(0, 255, 160).astype(np.uint8), (120, 1))
    grey, clear = png(ramp), png(np.full_like(ramp, 90), ramp)
    by_luminance, by_alpha = read_mask(grey, "luminance", 80, 60), read_mask(clear, "alpha", 80, 60)
    surface = Flat(centre=(100, 60))
    for mask, picture in ((by_luminance, grey), (by_alpha, clear)):
        hole = Opening(id="a", outline=mask, surface=surface)
        _, alpha = painted(job_of(hole), noise(900, 1200), transparent=True, mask=picture)
        assert alpha is not None
        assert alpha[120, 130:275].astype(int) == pytest.approx(ramp[60, 10:155].astype(int), abs=2)
        assert alpha[55].max() == 0
    # A photo that covers the mask covers all that shows of it.
    x0 = min(p[:, 0].min() for p in by_luminance.polygons())
    assert -40 <= x0 < -37
    with pytest.raises(FileRefused, match=r"no transparency\. Read it by luminance"):
        read_mask(grey, "alpha", 8, 6)
    with pytest.raises(FileRefused, match="hides everything"):
        read_mask(png(np.zeros((4, 4), np.uint8)), "luminance", 8, 6)
    with pytest.raises(FileRefused, match="not a PNG"):
        read_mask(b"GIF89a", "luminance", 8, 6)
    assert read_asset(clear).traced["alpha"] == by_alpha.traced


@pytest.mark.parametrize(("side", "outside", "inside"), [("inside", 0, 4), ("centred", 2, 2), ("outside", 4, 0)])
@pytest.mark.parametrize(
    "surface", [Flat(centre=(100, 60)), Grid(net=(net(3, 3) * (80 / 120, 60 / 80) + (60, 30)).tolist())]
)
def test_a_border_lies_on_its_side_of_any_surface(side: str, outside: int, inside: int, surface: object) -> None:
    hole = framed(surface=surface, border=Border(width_mm=4, colour="#ff0000", side=side))
    rgb, alpha = painted(job_of(hole), np.zeros((900, 1200, 3), np.uint8), transparent=True)
    assert alpha is not None
    row, seen = rgb[120, :, 0], alpha[120]
    # 2 px a mm; the outline's left edge is px 120.
    assert np.flatnonzero(seen)[0] == 120 - 2 * outside
    red = np.flatnonzero(row[:200] > 128)
    assert (red[0], red[-1]) == (120 - 2 * outside, 119 + 2 * inside)
    assert (seen[120 - 2 * outside : 280 + 2 * outside] == 255).all()  # no seam between photo and border


def test_a_mats_bevel_is_lit_from_where_the_light_comes() -> None:
    for light, bright, dim in ((90.0, "below", "above"), (-90.0, "above", "below")):
        hole = framed(surface=Flat(centre=(100, 60)), mat=Mat(width_mm=10, colour="#c0c0c0", bevel_mm=2))
        rgb, _ = painted(job_of(hole, light=light), np.zeros((900, 1200, 3), np.uint8))
        at = {"above": int(rgb[82, 200, 0]), "below": int(rgb[157, 200, 0])}
        assert at[bright] > 192 > at[dim]
        assert rgb[70, 200].tolist() == [192, 192, 192]
        assert rgb[120, 200].tolist() == [0, 0, 0]


@pytest.mark.parametrize("kind", ["drop", "contact", "lifted"])
def test_turning_an_opening_never_turns_its_shadow(kind: str) -> None:
    photo = np.zeros((900, 900, 3), np.uint8)
    shadow = Shadow(kind=kind, distance_mm=6, blur_mm=4, opacity=1.0)
    middles = []
    for turn in (0.0, 90.0, 180.0):
        hole = Opening(
            id="a",
            outline=Rectangle(width_mm=60, height_mm=60),
            surface=Flat(centre=(120, 90), turn_deg=turn),
            shadow=shadow,
        )
        _, alpha = painted(job_of(hole, photo_size=(900, 900)), photo, transparent=True)
        assert alpha is not None
        alpha = alpha.copy()
        alpha[118:242, 178:302] = 0  # the photo itself
        ys, xs = np.nonzero(alpha > 8)
        weights = alpha[ys, xs].astype(float)
        middles.append(((xs * weights).sum() / weights.sum() - 240, (ys * weights).sum() / weights.sum() - 180))
    assert np.ptp(np.array(middles), axis=0).max() < 1.0
    if kind == "contact":
        assert np.abs(middles).max() < 1.5  # dark all round
    else:
        assert middles[0][1] > 10  # light from 120 degrees, the upper left, throws it down and to the right


# --- measures -------------------------------------------------------------------------------------------------------


def seen_from(distance: float, turn_deg: float, width: float, height: float) -> Corners:
    """A rectangle that is turned away about its upright middle, as a pinhole camera at some distance sees it."""
    turn = np.radians(turn_deg)
    corners = [(-1, -1), (1, -1), (1, 1), (-1, 1)]
    flat = [(x * width / 2, y * height / 2) for x, y in corners]
    seen = [(x * np.cos(turn), y, distance + x * np.sin(turn)) for x, y in flat]
    return Corners(points=tuple((x * distance / z, y * distance / z) for x, y, z in seen))


@pytest.mark.parametrize("turn_deg", [10, 25, 40])
@pytest.mark.parametrize("distance", [200, 350, 700])
def test_what_is_seen_from_the_side_is_not_stretched(distance: float, turn_deg: float) -> None:
    leans = framed(outline=Rectangle(width_mm=120, height_mm=80), surface=seen_from(distance, turn_deg, 120, 80))
    assert distortion(leans) == pytest.approx(1, abs=0.01)


def test_corners_that_are_pulled_outward_stretch() -> None:
    for wide, high, stretch in ((120, 80, 1.0), (204, 80, 1.7), (120, 120, 1.5), (126, 80, 1.05)):
        x, y = wide / 2, high / 2
        pulled = Corners(points=((-x, -y), (x, -y), (x, y), (-x, y)))
        hole = framed(outline=Rectangle(width_mm=120, height_mm=80), surface=pulled)
        assert distortion(hole) == pytest.approx(stretch)
    # Wider than any look from the side makes it: narrower it could be, its right end being farther away.
    pulled = Corners(points=((-102, -40), (102, -34), (102, 34), (-102, 40)))
    assert distortion(framed(outline=Rectangle(width_mm=120, height_mm=80), surface=pulled)) > 1.7


def test_ppi_of_a_roll_is_worst_in_its_middle_and_of_a_stretch_along_it() -> None:
    photo = fake_photo(1, 3000, 2000)
    for surface in (Roll(centre=(0, 0), radius_mm=60, tilt_deg=0), Flat(centre=(0, 0))):
        hole = framed(outline=Rectangle(width_mm=120, height_mm=80), surface=surface)
        assert effective_ppi(hole, photo, clamp_placement(hole, photo, Placement(photo="x"))) == pytest.approx(
            635, rel=2e-3
        )
    stretched = framed(outline=Rectangle(width_mm=120, height_mm=80), surface=Flat(centre=(0, 0), stretch_x=1.25))
    lies = clamp_placement(stretched, photo, Placement(photo="x"))
    assert effective_ppi(stretched, photo, lies) == pytest.approx(635 / 1.25)
    assert distortion(stretched) == pytest.approx(1.25)
    assert distortion(framed()) == pytest.approx(1, abs=0.01)
    wavy = framed(outline=Rectangle(width_mm=120, height_mm=80), surface=Grid(net=net(4, 4, 5.0, 3).tolist()))
    lies = clamp_placement(wavy, photo, Placement(photo="x"))
    cells = ppi_picture(wavy, photo, lies)
    assert min(ppi for _, ppi in cells) == pytest.approx(effective_ppi(wavy, photo, lies), rel=0.1)

    # The cells tile the patch.
    def shoelace(p: np.ndarray) -> float:
        return abs(np.dot(p[:, 0], np.roll(p[:, 1], -1)) - np.dot(p[:, 1], np.roll(p[:, 0], -1))) / 2

    assert sum(shoelace(cell) for cell, _ in cells) == pytest.approx(shoelace(WAVY.edge(200)), rel=2e-3)


def test_skew_pushes_the_upper_edge_to_the_right() -> None:
    onto = Flat(centre=(0, 0), skew_deg=45).page_from_opening(None)
    assert onto.apply([(0, -10), (0, 10)]) == pytest.approx(np.array([(10, -10), (-10, 10)]))


def test_a_photo_on_a_patch_lands_where_its_net_says() -> None:
    hole = framed(outline=Rectangle(width_mm=120, height_mm=80), surface=Grid(net=net(4, 4, 5.0, 3).tolist()))
    photo = fake_photo(1, 3000, 2000)
    onto = page_from_photo(hole, photo, clamp_placement(hole, photo, Placement(photo="x")))
    at = np.random.default_rng(6).random((20, 2))
    assert onto.apply(at * (3000, 2000)) == pytest.approx(WAVY.apply(at), abs=1e-9)
    assert isinstance(Projective(np.eye(3)).then(np.eye(3)), Projective)

"""Lengths, matrices, quadrilaterals and outlines against definitions, worked examples and other libraries."""

import math

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from skimage.transform import ProjectiveTransform

from sutaru.core.document import Corners
from sutaru.core.errors import GeometryError
from sutaru.core.geometry import matrices as m
from sutaru.core.geometry import outlines, quadrilaterals
from sutaru.core.measure import inch, mm_from_points, pixels, points_from_mm
from sutaru.core.paint.vectors import coverage, rectangle_coverage


@pytest.mark.parametrize(
    ("width_mm", "height_mm", "ppi", "expected"),
    [
        # ISO 216 sizes; pixel counts as printers' tables give them (common practice, no source).
        (210, 297, 300, (2480, 3508)),
        (297, 420, 300, (3508, 4961)),
        (148, 210, 300, (1748, 2480)),
        (210, 297, 72, (595, 842)),
        # Common practice, no source: the picture of a 5 x 7 in card, and a 12 x 12 in spread with 3 mm bleed.
        (inch(6.75), inch(4.75), 300, (2025, 1425)),
        (inch(24) + 6, inch(12) + 6, 300, (7271, 3671)),
    ],
)
def test_pixels(width_mm: float, height_mm: float, ppi: float, expected: tuple[int, int]) -> None:
    assert (pixels(width_mm, ppi), pixels(height_mm, ppi)) == expected


def test_definitions_of_lengths() -> None:
    assert inch(1) == 25.4  # international inch, 1959
    assert points_from_mm(25.4) == 72  # desktop point, ISO 32000-1
    assert mm_from_points(points_from_mm(123.4)) == pytest.approx(123.4, rel=1e-15)
    # ISO 216: A-sizes halve, their sides in the ratio of one to the square root of two, rounded to the millimetre.
    for n, (w, h) in enumerate([(841, 1189), (594, 841), (420, 594), (297, 420), (210, 297), (148, 210)]):
        assert h == pytest.approx(1000 * 2 ** (0.25 - n / 2), abs=1)
        assert w == pytest.approx(1000 * 2 ** (-0.25 - n / 2), abs=1)


def test_a_card_folds_out_of_its_sheet(templates: dict) -> None:
    # Common practice: a 7 x 10 in sheet folded once is a 5 x 7 in card; 6.75 x 4.75 in leaves an eighth all round.
    for name, (w, h) in (("card-portrait", (10, 7)), ("card-landscape", (7, 10))):
        page = templates[name].sheets[0].layout
        assert (page.width_mm, page.height_mm) == (inch(w), inch(h))
        (fold,) = page.lines
        assert fold.at_mm == inch(5)
        (opening,) = page.openings()
        points = opening.page_from_opening.apply(np.concatenate(opening.outline.polygons()))
        low, high = points.min(axis=0), points.max(axis=0)
        panel_low = (inch(5), 0) if fold.axis == "x" else (0, inch(5))
        assert low - panel_low == pytest.approx([inch(1 / 8)] * 2, abs=1e-6)
        assert (page.width_mm, page.height_mm) - high == pytest.approx([inch(1 / 8)] * 2, abs=1e-6)


def test_turns_are_counter_clockwise_as_seen() -> None:
    # y is down: what lies to the right lies above after a quarter turn.
    assert m.apply(m.rotation(90), (1, 0)) == pytest.approx((0, -1))
    assert m.rotation(360) == pytest.approx(np.eye(3), abs=0)
    assert m.apply(m.rotation(30), (2, 0)) == pytest.approx((math.sqrt(3), -1))


def test_quadrilateral_worked_example() -> None:
    # A trapezoid by hand: the centre of the square goes to where its diagonals meet, (2, 4/3), not to its centroid.
    onto = quadrilaterals.quad_from_square([(0, 0), (4, 0), (3, 2), (1, 2)])
    assert onto == pytest.approx(np.array([[4, 2, 0], [0, 4, 0], [0, 1, 1]]))
    assert m.apply(onto, (0.5, 0.5)) == pytest.approx((2, 4 / 3))


convex = st.tuples(*[st.floats(-40, 40) for _ in range(8)]).map(
    lambda d: np.array([(-100, -80), (100, -80), (100, 80), (-100, 80)], float) + np.reshape(d, (4, 2))
)


@given(convex)
def test_quadrilateral_against_other_libraries(quad: np.ndarray) -> None:
    ours = quadrilaterals.quad_from_square(quad)
    square = np.array([(0, 0), (1, 0), (1, 1), (0, 1)], np.float32)
    theirs = cv2.getPerspectiveTransform(square, quad.astype(np.float32))
    inside = np.random.default_rng(1).random((20, 2))
    assert m.apply(ours, inside) == pytest.approx(m.apply(theirs, inside), abs=2e-3)  # OpenCV takes float32 corners
    sk = ProjectiveTransform.from_estimate(square.astype(float), quad)
    assert m.apply(ours, inside) == pytest.approx(sk(inside), abs=1e-8)
    assert m.apply(m.inverse(ours), m.apply(ours, inside)) == pytest.approx(inside, abs=1e-9)


@pytest.mark.parametrize(
    "quad",
    [
        [(0, 0), (1, 0), (0, 1), (1, 1)],  # crossed
        [(0, 0), (4, 0), (1, 1), (0, 4)],  # caved in
        [(0, 0), (1, 0), (2, 0), (0, 1)],  # a straight corner
        [(0, 0), (0, 0), (1, 1), (0, 1)],  # two corners in one
    ],
)
def test_folded_quadrilaterals_are_refused(quad: list) -> None:
    with pytest.raises(GeometryError, match=r"fold or cave in.*Pull its corners"):
        quadrilaterals.check_corners(quad)
    with pytest.raises(ValueError, match="fold or cave in"):
        Corners(points=quad)


def test_a_corner_that_is_no_number_is_refused() -> None:
    with pytest.raises(GeometryError, match="not a number"):
        quadrilaterals.check_corners([(0, 0), (1, 0), (math.nan, 1), (0, 1)])


def test_jacobian_against_differences() -> None:
    onto = quadrilaterals.quad_from_rectangle(100, 60, [(0, 0), (90, 12), (88, 50), (3, 61)])
    for p in ((0, 0), (40, -20), (-50, 30)):
        d = 1e-5
        numeric = np.stack(
            [(m.apply(onto, np.add(p, e)) - m.apply(onto, np.subtract(p, e))) / (2 * d) for e in ((d, 0), (0, d))],
            axis=-1,
        )
        assert m.jacobians(onto, p) == pytest.approx(numeric, abs=1e-7)
    most, least = m.stretch(m.rotation(33) @ m.scaling(3, 2), (5, 5))
    assert (most, least) == (pytest.approx(3), pytest.approx(2))


@pytest.mark.parametrize(
    ("path", "area"),
    [
        (outlines.rectangle(30, 20), 600),
        (outlines.ellipse(30, 20), math.pi * 150),
        (outlines.rectangle(30, 20, 5), 600 - (4 - math.pi) * 25),
        ("M0 0C0 10 10 10 10 0Z", 60),  # a cubic: by Green's theorem 3/20 * 10 * 40
        ("M0 0Q5 10 10 0Z", 100 / 3),  # a parabola: two thirds of base times height 5
    ],
)
def test_flattened_areas(path: str, area: float) -> None:
    (polygon,) = outlines.flatten(path, 1e-4)
    assert abs(outlines.area(polygon)) == pytest.approx(area, abs=0.02)


@pytest.mark.parametrize("path", ["", "L0 0", "M0 0 javascript:1", "M0 0", "M0 0Lx y"])
def test_bad_path_data_is_refused(path: str) -> None:
    with pytest.raises(GeometryError):
        outlines.flatten(path, 0.1)


def test_clipping_against_areas() -> None:
    diamond = np.array([(0, -2), (2, 0), (0, 2), (-2, 0)], float)
    assert abs(outlines.area(outlines.clip_to_box(diamond, -1, -1, 1, 1))) == pytest.approx(4)
    assert abs(outlines.area(outlines.clip_to_box(diamond, 0, 0, 9, 9))) == pytest.approx(2)
    assert len(outlines.clip_to_box(diamond, 5, 5, 9, 9)) == 0


def test_coverage_is_area() -> None:
    box = (0, 0, 40, 30)
    square = np.array([(3.25, 4.5), (20.75, 4.5), (20.75, 25.1), (3.25, 25.1)])
    exact = rectangle_coverage(3.25, 4.5, 20.75, 25.1, box)
    assert exact[10, 3] == round(0.75 * 255)
    assert exact[4, 20] == round(0.5 * 0.75 * 255)
    assert exact.sum() / 255 == pytest.approx(17.5 * 20.6, rel=1e-3)
    assert np.abs(coverage([square], box).astype(int) - exact).max() <= 4
    (circle,) = outlines.flatten(outlines.ellipse(24, 24), 0.01)
    assert coverage([circle + (20, 15)], box).sum() / 255 == pytest.approx(math.pi * 144, rel=2e-3)

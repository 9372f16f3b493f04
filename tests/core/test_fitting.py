"""Placements that never gap, what is measured of them, and the assignment."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sutaru.core.document import Corners, Ellipse, Flat, LabSheet, Layout, Opening, Path, Photo, Placement, Rectangle
from sutaru.core.fitting import (
    assign_photos,
    clamp_placement,
    cost,
    costs,
    cover_scale,
    crop_share,
    effective_ppi,
    opening_from_photo,
    page_from_photo,
)
from sutaru.core.geometry.matrices import apply, inverse
from tests.conftest import fake_photo


def opening(outline: object, surface: object | None = None, **more: object) -> Opening:
    return Opening.model_validate(
        {"id": "o", "outline": outline, "surface": surface or Flat(centre=(50, 40)), **more}, from_attributes=True
    )


outlines = st.one_of(
    st.builds(Rectangle, width_mm=st.floats(5, 400), height_mm=st.floats(5, 400), radius_mm=st.floats(0, 20)),
    st.builds(Ellipse, width_mm=st.floats(5, 400), height_mm=st.floats(5, 400)),
    st.just(Path(d="M0 -58L40 -14L0 62L-40 -14Z")),
    st.just(Path(d="M-10 -10L60 -30L30 40Z")),  # its centre lies off the middle of its box
)
placements = st.builds(
    Placement,
    photo=st.just("x"),
    centre=st.tuples(st.floats(-3, 3), st.floats(-3, 3)),
    zoom=st.floats(1, 20),
    turn_deg=st.floats(-360, 360),
    mirror=st.booleans(),
)


@settings(max_examples=300, deadline=None)
@given(outlines, placements, st.integers(50, 9000), st.integers(50, 9000))
def test_no_corner_of_an_opening_ever_lies_outside_its_photo(outline, placement, w: int, h: int) -> None:
    hole, photo = opening(outline), fake_photo(1, w, h)
    lies = clamp_placement(hole, photo, placement)
    outline = hole.outline  # a path lies about its middle once it is part of a layer
    in_photo = apply(inverse(opening_from_photo(hole, photo, lies)), np.concatenate(outline.polygons()))
    slack = 1e-6 * max(w, h)
    assert in_photo.min() >= -slack
    assert (in_photo <= np.array([w, h]) + slack).all()
    again = clamp_placement(hole, photo, lies)
    assert again.centre == pytest.approx(lies.centre, abs=1e-9)  # what covers is left where it is
    if placement.zoom > lies.zoom or placement.centre == lies.centre:
        return
    # The nearest: moved along an axis only when it had to be.
    for axis in (0, 1):
        moved = lies.centre[axis] - placement.centre[axis]
        if abs(moved) > 1e-9:
            back = list(lies.centre)
            back[axis] -= math.copysign(1e-3, moved)
            there = apply(
                inverse(opening_from_photo(hole, photo, lies.copy_with(centre=tuple(back)))),
                np.concatenate(outline.polygons()),
            )
            assert there.min() < 0 or (there > np.array([w, h])).any()


@given(st.floats(10, 300), st.floats(10, 300), st.floats(-180, 180), st.integers(100, 9000), st.integers(100, 9000))
def test_cover_scale_of_a_rectangle_is_its_formula(w: float, h: float, turn: float, W: int, H: int) -> None:
    t = math.radians(turn)
    a = (w * abs(math.cos(t)) + h * abs(math.sin(t))) / 2
    b = (w * abs(math.sin(t)) + h * abs(math.cos(t))) / 2
    hole, photo = opening(Rectangle(width_mm=w, height_mm=h)), fake_photo(1, W, H)
    assert cover_scale(hole, photo, turn, False) == pytest.approx(max(2 * a / W, 2 * b / H), rel=1e-9)


def test_whole_photo_shows_wholly_and_as_large_as_it_can() -> None:
    hole, photo = opening(Rectangle(width_mm=100, height_mm=50)), fake_photo(1, 3000, 3000)
    lies = clamp_placement(hole, photo, Placement(photo="x", fit="whole", centre=(0.1, 0.9), zoom=3))
    assert (lies.centre, lies.zoom) == ((0.5, 0.5), 1.0)
    corners = apply(opening_from_photo(hole, photo, lies), [(0, 0), (3000, 3000)])
    assert corners == pytest.approx(np.array([(-25, -25), (25, 25)]))
    assert crop_share(hole, photo, lies) == pytest.approx(0, abs=1e-9)


def test_ppi_and_crop_of_a_plain_case() -> None:
    # 6000 x 4000 px across 10 x 5 in: 600 px an inch, a quarter of the height cut.
    hole, photo = opening(Rectangle(width_mm=254, height_mm=127)), fake_photo(1, 6000, 4000)
    lies = clamp_placement(hole, photo, Placement(photo="x"))
    assert effective_ppi(hole, photo, lies) == pytest.approx(600)
    assert crop_share(hole, photo, lies) == pytest.approx(0.25)
    assert effective_ppi(hole, photo, lies.copy_with(zoom=2.0)) == pytest.approx(300)
    assert crop_share(opening(Ellipse(width_mm=254, height_mm=127)), photo, lies) == pytest.approx(
        1 - 0.75 * math.pi / 4, abs=1e-4
    )


def test_ppi_under_perspective_is_the_worst_place() -> None:
    slanted = Corners(points=((0, 0), (100, 20), (100, 60), (0, 80)))
    hole, photo = opening(Rectangle(width_mm=120, height_mm=80), slanted), fake_photo(1, 3000, 2000)
    lies = clamp_placement(hole, photo, Placement(photo="x"))
    onto = page_from_photo(hole, photo, lies)
    # By differences on a dense grid over the opening's photo part, independent of the analytic Jacobian.
    xs, ys = np.meshgrid(np.linspace(1, 2999, 150), np.linspace(1, 1999, 150))
    grid = np.stack([xs, ys], -1).reshape(-1, 2)
    dx = onto.apply(grid + (0.5, 0)) - onto.apply(grid - (0.5, 0))
    dy = onto.apply(grid + (0, 0.5)) - onto.apply(grid - (0, 0.5))
    worst = np.linalg.svd(np.stack([dx, dy], -1), compute_uv=False)[:, 0].max()
    assert effective_ppi(hole, photo, lies) == pytest.approx(25.4 / worst, rel=0.01)


def test_mirror_is_as_seen() -> None:
    hole, photo = opening(Rectangle(width_mm=100, height_mm=100)), fake_photo(1, 1000, 1000)
    plain = Placement(photo="x", zoom=2.0, turn_deg=20, centre=(0.45, 0.5))
    mirrored = plain.copy_with(mirror=True, turn_deg=-20)
    p = [(300, 400), (600, 650)]
    a = apply(opening_from_photo(hole, photo, plain), p)
    assert apply(opening_from_photo(hole, photo, mirrored), p) == pytest.approx(a * (-1, 1))


def holes() -> list[Opening]:
    sizes = [(90, 60), (60, 90), (120, 60), (60, 60)]
    return [
        Opening(id=f"o{i}", outline=Rectangle(width_mm=w, height_mm=h), surface=Flat(centre=(0, 0)))
        for i, (w, h) in enumerate(sizes)
    ]


SHEET = Layout(width_mm=400, height_mm=300, layers=())


def places(some: list[Opening]) -> list[tuple[Layout, Opening]]:
    return [(SHEET, hole) for hole in some]


def test_assignment_is_the_cheapest_of_all(lab: LabSheet) -> None:
    photos = [
        fake_photo(n, *size)
        for n, size in enumerate([(4000, 6000), (6000, 4000), (300, 200), (3600, 3600), (7200, 2400)])
    ]
    table = costs(places(holes()), photos, lab)
    best = min(sum(table[i, j] for i, j in enumerate(p)) for p in itertools.permutations(range(5), 4))
    pairs = assign_photos(places(holes()), photos, lab)
    at = {photo.id: j for j, photo in enumerate(photos)}
    assert sum(table[int(o.id[1:]), at[p.id]] for (_, o), p in pairs) == pytest.approx(best)
    found = {o.id: (p.width, p.height) for (_, o), p in pairs}
    assert found["o1"] == (4000, 6000)
    assert (300, 200) not in found.values()  # too few pixels, and there is enough else


@pytest.mark.parametrize(("n", "m"), [(4, 7), (4, 4), (4, 2), (1, 5), (3, 1)])
def test_in_order_is_the_cheapest_of_all_that_keep_the_order(n: int, m: int, lab: LabSheet) -> None:
    rng = np.random.default_rng(n * 10 + m)
    photos = [fake_photo(i, *rng.integers(500, 7000, 2).tolist()) for i in range(m)]
    some = holes()[:n]
    table = costs(places(some), photos, lab)
    few = min(n, m)
    best = min(
        sum(table[i, j] for i, j in zip(rows, columns, strict=True))
        for rows in itertools.combinations(range(n), few)
        for columns in itertools.combinations(range(m), few)
    )
    pairs = assign_photos(places(some), photos, lab, keep_order=True)
    at = [(some.index(o), photos.index(p)) for (_, o), p in pairs]
    assert at == sorted(at)
    assert len({j for _, j in at}) == few
    assert sum(table[i, j] for i, j in at) == pytest.approx(best)


def test_cost_weighs_orientation_then_crop_then_ppi_then_order(lab: LabSheet) -> None:
    wide = holes()[0]
    upright, cropped = fake_photo(1, 4000, 6000), fake_photo(2, 7200, 2400)
    small, good = fake_photo(3, 300, 200), fake_photo(4, 6000, 4000)
    prices = [cost(SHEET, wide, photo, lab) for photo in (upright, small, cropped, good)]
    assert prices == sorted(prices, reverse=True)
    assert len(set(prices)) == 4
    same = [fake_photo(10 + n, 6000, 4000) for n in range(3)]
    three = [holes()[0].copy_with(id=f"o{n}") for n in range(3)]
    assert [p.id for _, p in assign_photos(places(three), same, lab)] == [p.id for p in same]


def test_fewer_photos_than_openings_leave_some_empty(lab: LabSheet) -> None:
    photo: Photo = fake_photo(1, 6000, 4000)
    assert len(assign_photos(places(holes()), [photo], lab)) == 1
    assert assign_photos(places(holes()), [], lab) == []

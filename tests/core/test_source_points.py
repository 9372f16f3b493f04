"""What is kept of bent maps, and what is cut or kept of frames, changes no pixel: against doing it all anew."""

from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sutaru.core.checks import check_job
from sutaru.core.document import (
    Background,
    Border,
    Corners,
    Ellipse,
    Flat,
    Grid,
    Job,
    KeepArea,
    Layout,
    Light,
    Mat,
    Opening,
    Placement,
    Rectangle,
    Roll,
    Shadow,
)
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import BringIn, Mark, Place, Put, SetFields
from sutaru.core.geometry.cylinders import Cylinder
from sutaru.core.geometry.maps import Map, Projective
from sutaru.core.geometry.matrices import Matrix, rotation, scaling, translation
from sutaru.core.geometry.patches import BezierPatch
from sutaru.core.paint import LivePage, Painter, PixelGrid, openings, stacking
from sutaru.core.paint.blending import composite, spread
from sutaru.core.paint.grid import meet
from sutaru.core.paint.source_points import NODE_ERROR, find_source_points, lattice, plane_of
from tests.conftest import drawn_items, fake_photo, noise, one_sheet, opening_of

BOX = (10, 20, 250, 170)
NET = np.stack(np.meshgrid(np.linspace(0, 300, 4), np.linspace(0, 200, 4)), axis=-1)
WAVY = BezierPatch(NET + np.random.default_rng(4).normal(0, 9, NET.shape))
ROLL = Cylinder(150.0, 20.0).then(translation(140, 80))
BEFORE = [
    scaling(1 / 300, 1 / 200),
    scaling(1 / 300, 1 / 200) @ translation(40, -10) @ rotation(8) @ scaling(1.7, 1.7),
    scaling(-1 / 500, 1 / 500) @ translation(-420, 30),
]

# --- whence pixels come ---------------------------------------------------------------------------------------------


@pytest.mark.parametrize("before", BEFORE, ids=["as it is", "turned", "mirrored"])
def test_what_is_kept_of_a_bent_map_serves_every_placement(before: Matrix) -> None:
    onto = WAVY.after(before)
    seen = find_source_points(onto, BOX)
    assert seen.points == pytest.approx(onto.inverse(lattice(BOX)), abs=1e-6)
    # Its stretch, by differences: how far two points a little apart come to lie.
    most, least = seen.stretch
    step = 1e-6
    a, b = ((onto.apply(seen.points + d) - onto.apply(seen.points)) / step for d in ((step, 0.0), (0.0, step)))
    values = np.linalg.svd(np.stack([a, b], axis=-1), compute_uv=False)
    assert most == pytest.approx(values[:, 0].max(), rel=1e-3)
    assert least == pytest.approx(values[:, 1].min(), rel=1e-3)
    again = find_source_points(WAVY.after(BEFORE[0]), BOX)
    assert again.plane is seen.plane  # inverted once, whatever the placement


@pytest.mark.parametrize("onto", [WAVY.after(BEFORE[0]), ROLL, Projective(translation(3, 4) @ rotation(20))])
def test_between_nodes_the_inverse_is_as_good_as_asked_for(onto: Map) -> None:
    x, y = plane_of(onto, BOX)
    rng = np.random.default_rng(0)
    rows, columns = rng.integers(0, BOX[3] - BOX[1], 400), rng.integers(0, BOX[2] - BOX[0], 400)
    exact = np.stack([columns + BOX[0] + 0.5, rows + BOX[1] + 0.5], axis=-1)
    back = onto.apply(np.stack([x[rows, columns], y[rows, columns]], axis=-1).astype(np.float64))
    error = np.hypot(*(back - exact).T)
    assert np.quantile(error, 0.95) < 1.5 * NODE_ERROR
    assert error.max() < 0.1


# --- laying pixels --------------------------------------------------------------------------------------------------


def test_every_opaque_mixture_is_exact() -> None:
    # W3C Compositing Level 1, section 9.1.4, source-over on an opaque backdrop: co = cs as + cb (1 - as), in fractions.
    source, cover = np.meshgrid(np.arange(256), np.arange(256))
    for under in (0, 1, 77, 128, 254, 255):
        page = np.full((256, 256, 3), under, np.uint8)
        composite(page, None, np.repeat(source[..., None], 3, -1).astype(np.uint8), cover.astype(np.uint8))
        exact = (2 * (source * cover + under * (255 - cover)) + 255) // 510  # rounded; no sum lies on a half
        assert (page == exact[..., None]).all()
    at = Fraction(200 * 51 + 77 * 204, 255)
    one = np.full((1, 1, 3), 77, np.uint8)
    composite(one, None, np.array([200, 0, 0], np.uint8), np.array([[51]], np.uint8))
    assert one[0, 0, 0] == round(at)


def test_one_colour_is_spread() -> None:
    assert (spread(np.array([1, 2, 3], np.uint8), (5, 4)) == np.array([1, 2, 3])).all()
    assert spread(np.array([1, 2, 3], np.uint8), (5, 4)).shape == (4, 5, 3)


boxes = st.tuples(st.integers(0, 9), st.integers(0, 9), st.integers(1, 9), st.integers(1, 9)).map(
    lambda b: (b[0], b[1], b[0] + b[2], b[1] + b[3])
)


@settings(max_examples=300, deadline=None, derandomize=True)
@given(boxes, boxes)
def test_what_is_around_a_core_covers_the_rest_once(box: tuple, core: tuple) -> None:
    count = np.zeros((20, 20), int)
    for x0, y0, x1, y1 in stacking._boxes_around(box, core):
        assert meet((x0, y0, x1, y1), box) == (x0, y0, x1, y1)
        count[y0:y1, x0:x1] += 1
    want = np.zeros_like(count)
    want[box[1] : box[3], box[0] : box[2]] = 1
    inner = meet(box, core)
    if inner:
        want[inner[1] : inner[3], inner[0] : inner[2]] = 0
    assert (count == want).all()


# --- frames ---------------------------------------------------------------------------------------------------------

PHOTO = fake_photo(1, 300, 200)
IMAGE = noise(200, 300, 5)
SURFACES = [
    Flat(centre=(40, 30)),
    Flat(centre=(40, 30), turn_deg=17),
    Corners(points=((12, 10), (70, 4), (66, 54), (10, 48))),
    Grid(net=(NET * 0.2 + (10, 8) + np.random.default_rng(1).normal(0, 1.5, NET.shape)).tolist()),
    Roll(centre=(40, 32), radius_mm=35, tilt_deg=15),
]


def framed(surface: object, round_one: bool = False) -> Job:
    outline = (Ellipse if round_one else Rectangle)(width_mm=56, height_mm=40)
    opening = Opening(
        id="o", outline=outline, surface=surface,
        border=Border(width_mm=1.5, colour="#203040", side="centred"), mat=Mat(width_mm=3),
        shadow=Shadow(distance_mm=1.2, blur_mm=1.5),
    )  # fmt: skip
    layers = (Background(id="b", colour="#d8d2c4"), opening)
    job = one_sheet(Layout(width_mm=80, height_mm=60, bleed_mm=0, light=Light(from_deg=120), layers=layers))
    return apply(apply(job, BringIn(photos=(PHOTO,))), Put(sheet="p", opening="o", photo=PHOTO.id))


def painter() -> Painter:
    return Painter(lambda photo, scale, space, depth: IMAGE)


def picture(job: Job, ppi: float = 110) -> np.ndarray:
    return painter().render(drawn_items(job), PixelGrid.for_ppi(job.sheets[0].layout, ppi))[0]


@pytest.mark.parametrize("round_one", [False, True])
@pytest.mark.parametrize("surface", SURFACES, ids=lambda s: s.kind)
def test_cutting_away_what_is_hidden_changes_no_pixel(
    surface: object, round_one: bool, monkeypatch: pytest.MonkeyPatch
) -> None:
    job = framed(surface, round_one)
    cut = picture(job)
    monkeypatch.setattr(openings, "cut_to_visible", lambda patches: patches)
    assert (cut == picture(job)).all()
    assert len(np.unique(cut.reshape(-1, 3), axis=0)) > 500  # there is something to see


@pytest.mark.parametrize("surface", SURFACES, ids=lambda s: s.kind)
def test_a_kept_frame_is_the_frame_made_anew(surface: object) -> None:
    job = framed(surface)
    layout = job.sheets[0].layout
    live = LivePage(painter(), PixelGrid.for_ppi(layout, 110))
    states = [
        job,
        apply(job, Place(sheet="p", opening="o", centre=(0.4, 0.6), zoom=1.6, turn_deg=5, mirror=True)),
        apply(job, Place(sheet="p", opening="o", fit="whole", centre=(0.5, 0.5), zoom=1, turn_deg=0, mirror=False)),
        apply(job, Place(sheet="p", opening="o", centre=(0.5, 0.5), zoom=1, turn_deg=0, mirror=False, ratio=1.0)),
        apply(job, SetFields(sheet="p", layers=("o",), fields={"mat": {"width_mm": 6, "colour": "#804020"}})),
        apply(job, SetFields(sheet="p", layers=("o",), fields={"shadow": None, "border": None})),
        job.copy_with(sheets=(job.sheets[0].copy_with(layout=layout.copy_with(light=Light(from_deg=30))),)),
    ]
    kept = [live.picture(drawn_items(state)) for state in states]
    for before, state in zip(kept, states, strict=True):
        assert (before == picture(state)).all()
    assert len({picture.tobytes() for picture in kept}) == len(states)  # each looks different


def test_no_rule_fails_on_a_job_that_was_read_again() -> None:
    # Equal layers of two readings of one job: what is kept of the one must serve the other.
    for surface in SURFACES:
        job = framed(surface)
        job = apply(job, Mark(photo=PHOTO.id, areas=(KeepArea(kind="hand", left=0, top=0, width=0.4, height=0.4),)))
        read = Job.model_validate_json(job.model_dump_json())
        for one in (job, read, job):
            found = check_job(one)
            assert not [f.sentence for f in found if "Not checked" in f.sentence]
            assert "keep_cut" in {f.rule for f in found}
        assert read == job


def test_placements_know_their_openings_after_a_change() -> None:
    # What an opening has worked out of its surface is not carried over to another surface.
    opening = opening_of(framed(SURFACES[0]), "o")
    assert opening.page_from_opening.apply((0.0, 0.0)) == pytest.approx((40, 30))
    moved = opening.copy_with(surface=Flat(centre=(7, 9)))
    assert moved.page_from_opening.apply((0.0, 0.0)) == pytest.approx((7, 9))
    assert moved != opening
    assert opening.copy_with(name="") == opening
    assert hash(opening.copy_with(name="")) == hash(opening)
    assert Placement(photo=PHOTO.id) == Placement(photo=PHOTO.id)

"""A photo too small for its opening's shape that goes on beyond its edges: beside NumPy's own mirrored padding; and with strips
of its own texture, beside a plain mirror and what lies there in truth."""

import cv2
import numpy as np
import pytest

from sutaru.core.checks import measure_sheet
from sutaru.core.document import Ellipse, Flat, Job, KeepArea, Layout, Opening, Placement, Rectangle
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import Place, SpanOver
from sutaru.core.errors import EditRefused
from sutaru.core.mending.edge_extension import added_px, extend_edges, plan_strips, shrink_for_planning
from sutaru.core.paint import Painter, PixelGrid
from tests.conftest import drawn_items, fake_photo, first, noise, one_sheet
from tests.core.test_retouching import Counted

PHOTO = fake_photo(1, 900, 300)
IMAGE = cv2.GaussianBlur(noise(300, 900, 3), (0, 0), 3)


SQUARE = Rectangle(width_mm=90, height_mm=90)


def sheet(lies: Placement, outline: Rectangle | Ellipse = SQUARE) -> Job:
    layer = Opening(id="o", outline=outline, surface=Flat(centre=(50, 50)))
    layout = Layout(width_mm=100, height_mm=100, bleed_mm=0, layers=(layer,))
    return one_sheet(layout, (PHOTO,), {"o": lies})


def painted(job: Job, ppi: float = 254) -> np.ndarray:
    grid = PixelGrid.for_ppi(job.sheets[0].layout, ppi)
    return Painter(Counted(IMAGE)).render(drawn_items(job), grid)[0]


def test_it_goes_on_mirrored_at_its_edges() -> None:
    """Ten px a mm: the photo is printed pixel for pixel, 300 rows of it and 300 mirrored above and below."""
    got = painted(sheet(Placement(photo=PHOTO.id, fit="continued")))[50:950, 50:950]
    wanted = np.pad(IMAGE, ((300, 300), (0, 0), (0, 0)), mode="symmetric")
    assert np.abs(got.astype(int) - wanted).max() <= 3
    bare = painted(sheet(Placement(photo=PHOTO.id, fit="whole")))
    assert (bare[60:300, 60:900] == 255).all()


@pytest.mark.parametrize("turn", [0.0, 12.0])
def test_no_pixel_of_the_opening_is_left_bare(turn: float) -> None:
    job = sheet(Placement(photo=PHOTO.id, fit="continued", turn_deg=turn), Ellipse(width_mm=90, height_mm=60))
    got = painted(job, 127)
    y, x = np.mgrid[:500, :500]
    inside = ((x - 249.5) / 222) ** 2 + ((y - 249.5) / 147) ** 2 < 1
    assert (got[inside] < 250).any(axis=1).all()


def test_a_person_looks_at_it() -> None:
    found = measure_sheet(first(sheet(Placement(photo=PHOTO.id, fit="continued"))))
    (finding,) = [f for f in found.findings if f.rule == "goes_on"]
    assert finding.severity == "look"
    assert finding.sentence == "In 67 % of opening 1 its photo goes on mirrored: look whether it may."
    assert found.rows[0].crop_share == 0
    whole = measure_sheet(first(sheet(Placement(photo=PHOTO.id, fit="whole"))))
    assert found.rows[0].ppi == whole.rows[0].ppi
    assert "strips_left" not in {f.rule for f in found.findings}
    fitting = fake_photo(2, 900, 900)
    job = one_sheet(
        sheet(Placement(photo=PHOTO.id)).sheets[0].layout,
        (fitting,),
        {"o": Placement(photo=fitting.id, fit="continued")},
    )
    assert "goes_on" not in {f.rule for f in measure_sheet(first(job)).findings}


def test_it_is_laid_as_any_other_and_never_runs_through_several() -> None:
    job = sheet(Placement(photo=PHOTO.id))
    after = apply(
        job,
        Place(sheet=job.sheets[0].id, opening="o", fit="continued", centre=(0.2, 0.9), zoom=3, turn_deg=5, mirror=True),
    )
    lies = after.filling(job.sheets[0].id).placements["o"]
    assert (lies.fit, lies.centre, lies.zoom, lies.mirror) == ("continued", (0.5, 0.5), 1.0, True)
    two = tuple(
        Opening(id=f"o{n}", outline=Rectangle(width_mm=40, height_mm=90), surface=Flat(centre=(25 + 50 * n, 50)))
        for n in (0, 1)
    )
    wide = one_sheet(Layout(width_mm=100, height_mm=100, layers=two), (PHOTO,), {})
    wide = apply(wide, SpanOver(sheet=wide.sheets[0].id, openings=("o0", "o1"), photo=PHOTO.id))
    with pytest.raises(EditRefused, match="covers them"):
        apply(
            wide,
            Place(
                sheet=wide.sheets[0].id,
                opening="o0",
                fit="continued",
                centre=(0.5, 0.5),
                zoom=1,
                turn_deg=0,
                mirror=False,
            ),
        )


# --- with texture of its own ------------------------------------------------------------------------------------------


def beach(width: int, height: int = 400) -> np.ndarray:
    """Sky, sea and sand with grain, level throughout."""
    rng = np.random.default_rng(4)
    image = np.empty((height, width, 3))
    for top, bottom, colour in ((0, 0.5, (120, 165, 215)), (0.5, 0.7, (60, 120, 140)), (0.7, 1, (205, 185, 145))):
        image[int(top * height) : int(bottom * height)] = colour
    image += cv2.GaussianBlur(rng.normal(0, 40, (height, width, 1)), (0, 0), 2.5)[..., None]
    return np.clip(image, 0, 255).astype(np.uint8)


def with_figure(image: np.ndarray, x: int) -> np.ndarray:
    image = image.copy()
    cv2.rectangle(image, (x - 25, 150), (x + 25, 390), (170, 20, 30), -1)
    return image


def reds(image: np.ndarray) -> int:
    """Columns in which the figure stands."""
    return int(((image[..., 0] > 140) & (image[..., 1] < 60)).any(axis=0).sum())


def went_on(image: np.ndarray, edges: tuple, spare: tuple = ()) -> np.ndarray:
    return extend_edges(image, plan_strips(shrink_for_planning(image), edges, spare))


def test_a_photo_goes_on_with_its_own_texture() -> None:
    image = beach(600)
    got = went_on(image, (0.4, 0.0, 0.4, 0.0))
    assert got.shape == (400, 1080, 3)
    left = added_px(plan_strips(shrink_for_planning(image), (0.4, 0.0, 0.4, 0.0)), 600, 400)[0]
    assert abs(left - 240) <= 2
    # The photo itself stays, but for where a strip runs over into it.
    assert (got[:, left + 70 : left + 530] == image[:, 70:530]).all()
    # Sky, sea and sand stay level, to the very ends; and their grain is no weaker.
    for top, bottom in ((20, 180), (215, 265), (300, 390)):
        for part in (got[top:bottom, :200], got[top:bottom, -200:]):
            real = image[top:bottom]
            assert np.abs(part.mean(axis=(0, 1)) - real.mean(axis=(0, 1))).max() < 6
            assert part.std() == pytest.approx(real.std(), rel=0.25)
    # No seam is steeper than what the photo itself has from one column to the next.
    steps, own = (np.abs(np.diff(of.astype(float), axis=1)).mean(axis=(0, 2)) for of in (got, image))
    assert steps.max() < 1.4 * own.max()


def test_nobody_stands_there_twice() -> None:
    image = with_figure(beach(600), 480)  # a mirror at the right edge would show the figure again
    mirrored = cv2.copyMakeBorder(image, 0, 0, 0, 200, cv2.BORDER_REFLECT)
    assert reds(mirrored) > 95
    # Not even when nobody said that it must stay visible, since it is unlike what lies along the edge.
    assert reds(went_on(image, (0.0, 0.0, 1 / 3, 0.0))) <= 52
    # Told so, nothing of that place is taken, though nothing else tells it from the rest.
    face = (0.7, 0.0, 0.9, 1.0)
    strips = plan_strips(shrink_for_planning(beach(600)), (0.0, 0.0, 1 / 3, 0.0), (face,))
    for strip in strips:
        ends = strip.begins, strip.begins + strip.overlap + strip.adds
        low, high = (1 - ends[1], 1 - ends[0]) if strip.mirrored else ends
        assert high <= 0.7 + 0.01 or low >= 0.9 - 0.01


def test_what_must_stay_visible_at_the_edge_is_not_cut_away() -> None:
    image = with_figure(beach(600), 575)
    kept = (0.9, 0.3, 1.0, 1.0)
    got = went_on(image, (0.0, 0.0, 0.3, 0.0), (kept,))
    assert (got[150:390, 540:590] == image[150:390, 540:590]).mean() > 0.98


def test_it_goes_on_the_same_at_every_size() -> None:
    image = beach(900, 600)
    strips = plan_strips(shrink_for_planning(image), (0.3, 0.2, 0.1, 0.3))
    large = extend_edges(image, strips)
    tiny = extend_edges(cv2.resize(image, (300, 200), interpolation=cv2.INTER_AREA), strips)
    reduced = cv2.resize(large, tiny.shape[1::-1], interpolation=cv2.INTER_AREA)
    off = np.abs(reduced.astype(int) - tiny)
    assert off.mean() < 3
    assert np.percentile(off, 99) < 24


@pytest.mark.parametrize("size", [(1, 1), (1, 300), (300, 1), (7, 5), (40, 900)])
@pytest.mark.parametrize("edges", [(0.3, 0.0, 0.0, 0.0), (2.5, 0.7, 0.1, 3.0)])
def test_any_photo_goes_on(size: tuple[int, int], edges: tuple) -> None:
    image = noise(*size, 5)
    got = went_on(image, edges, ((0.0, 0.0, 1.0, 1.0),) if size == (40, 900) else ())
    wide, high = size[1] * (1 + edges[0] + edges[2]), size[0] * (1 + edges[1] + edges[3])
    assert got.shape[1] >= wide - 2 * 40
    assert got.shape[0] >= high - 2 * 40


def test_it_is_painted_so_whatever_the_bands_and_a_person_looks_at_it() -> None:
    job = sheet(Placement(photo=PHOTO.id, fit="woven"))
    whole = painted(job)
    middle = whole[385:615, 60:940]  # but for the rows over which strips run into it
    assert np.abs(middle.astype(int) - IMAGE[35:265, 10:890]).max() <= 3
    assert (whole[60:940, 60:940] != 255).any(axis=2).all()
    grid = PixelGrid.for_ppi(job.sheets[0].layout, 254)
    band = Painter(Counted(IMAGE)).render(drawn_items(job), grid, (0, 512, 1000, 1000))[0]
    assert (band == whole[512:]).all()
    (finding,) = [f for f in measure_sheet(first(job)).findings if f.rule == "goes_on"]
    assert finding.sentence == "In 67 % of opening 1 its photo goes on with its own texture: look whether it may."
    # Of what is known of the photo, what must not show twice decides: the picture is another one then.
    marked = PHOTO.copy_with(marked=(KeepArea(kind="hand", left=0.1, top=0.1, width=0.5, height=0.5),))
    other = one_sheet(job.sheets[0].layout, (marked,), {"o": Placement(photo=PHOTO.id, fit="woven")})
    assert drawn_items(other) != drawn_items(job)

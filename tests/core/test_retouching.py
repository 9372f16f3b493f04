"""Retouching: touches at every size of a photo, whatever the bands, in the document; beside NumPy, SciPy and page blending."""

import math

import cv2
import numpy as np
import pytest
from pydantic import ValidationError
from scipy.ndimage import affine_transform
from skimage import data

from sutaru.core.document import (
    Adjust,
    Cover,
    Cut,
    Exposure,
    Eye,
    Graded,
    Job,
    Outlined,
    Photo,
    Recipe,
    Retouching,
    Round,
    Stroke,
    new_parts,
    parts,
    unpack_job,
)
from sutaru.core.edits.apply import apply, label
from sutaru.core.edits.kinds import MendOpening, MendPhoto, Put, RetouchOpening, RetouchPhoto
from sutaru.core.errors import EditRefused
from sutaru.core.fitting import resolve_sheet
from sutaru.core.mending import Retoucher, Size, apply_touch, reach_of, retouch_image, select_subject
from sutaru.core.mending.areas import coverage, extent
from sutaru.core.mending.tone import light, value
from sutaru.core.mending.touch_proposals import choose_covers
from sutaru.core.paint import Painter, PixelGrid, items
from sutaru.core.paint.blending import MODES
from tests.conftest import fake_photo, noise

ASTRONAUT, COFFEE, CAT = (np.ascontiguousarray(p[..., :3]) for p in (data.astronaut(), data.coffee(), data.chelsea()))
GREY = np.full((200, 300, 3), 120, np.uint8)


def dot(x: float, y: float, radius: float, soft: float = 0.0) -> Stroke:
    return Stroke(points=((x, y),), radius=radius, soft=soft)


def done(image: np.ndarray, *touches: Cover | Adjust | Eye) -> np.ndarray:
    return retouch_image(image, Retouching(touches=touches))


def reduced(image: np.ndarray, by: int) -> np.ndarray:
    return cv2.resize(image, (image.shape[1] // by, image.shape[0] // by), interpolation=cv2.INTER_AREA)


# --- whence a place is covered --------------------------------------------------------------------------------------


def test_a_clone_is_the_source_pixel_for_pixel() -> None:
    image = noise(200, 300, 5)
    got = done(image, Cover(id="a", how="clone", area=dot(0.3, 0.5, 0.1), shift=(0.4, -0.1)))
    inner = coverage(dot(0.3, 0.5, 0.1), Size(300, 200), (0, 0, 300, 200)) == 1
    ys, xs = np.nonzero(inner)
    assert len(ys) > 2000
    assert (got[ys, xs] == image[ys - 20, xs + 120]).all()
    far = coverage(dot(0.3, 0.5, 0.1), Size(300, 200), (0, 0, 300, 200)) == 0
    assert (got[far] == image[far]).all()


@pytest.mark.parametrize(
    ("how", "like"),
    [
        ({"turn_deg": 90.0}, lambda square: np.rot90(square, 1)),
        ({"turn_deg": 180.0}, lambda square: np.rot90(square, 2)),
        ({"mirror": True}, lambda square: square[:, ::-1]),
        ({"mirror": True, "turn_deg": 90.0}, lambda square: np.rot90(square[:, ::-1], 1)),
        ({"scale": 2.0}, lambda square: affine_transform(square, [0.5, 0.5, 1], offset=[25, 25, 0], order=3)),
    ],
)
def test_a_source_is_turned_counter_clockwise_mirrored_and_scaled(how: dict, like) -> None:
    """About the middle of a square with a middle pixel, NumPy's own turns say what is seen."""
    image = cv2.GaussianBlur(noise(301, 301, 8), (0, 0), 4)
    centre = 150.5 / 301
    area = Stroke(points=((centre, centre),), radius=0.14, soft=0)
    got = done(image, Cover(id="a", how="clone", area=area, shift=(0, 0), **how))
    wanted = like(image[100:201, 100:201])
    inner = np.hypot(*(np.mgrid[:101, :101] - 50)) < 38
    assert np.abs(got[100:201, 100:201].astype(int) - wanted)[inner].max() <= (2 if "scale" in how else 1)


def test_beyond_the_photos_edge_lies_the_photo_mirrored() -> None:
    image = noise(100, 140, 2)
    got = done(image, Cover(id="a", how="clone", area=dot(0.2, 0.5, 0.1), shift=(-0.3, 0)))
    assert (got[50, 20:36] == image[50, np.abs(np.arange(20, 36) - 42) - 1]).all()
    whole = Cover(id="b", area=Stroke(points=((-0.1, 0.02), (1.1, 0.02)), radius=0.03), shift=(0, 0.2))
    assert np.isfinite(done(image, whole)).all()


def test_a_spot_across_a_gradient_is_healed_away() -> None:
    y, x = np.mgrid[:400, :600]
    plain = np.stack([60 + x / 6, 90 + y / 8, 120 + (x + y) / 20], -1) + np.random.default_rng(1).normal(
        0, 2, (400, 600, 1)
    )
    clean = np.clip(np.rint(plain), 0, 255).astype(np.uint8)
    spot = np.hypot(x - 300, y - 200) < 8
    broken = np.where(spot[..., None], clean * 0.6, clean).astype(np.uint8)
    touch = Cover(id="a", area=dot(300 / 600, 200 / 400, 14 / 600, 0.2))
    (found,) = choose_covers(broken, (touch,))
    assert found.shift != (0.0, 0.0)
    got = done(broken, found)
    assert np.abs(got.astype(int) - clean).max() <= 10  # grain against grain
    assert np.abs(got.astype(int) - clean)[spot].mean() < 2.5
    assert got[spot].std(axis=0).mean() > 1.5  # it has grain as its surroundings do


def test_a_source_is_not_taken_where_something_else_lies() -> None:
    """All about is sky, but what lies nearest has a kite in it: cf. a stroke that would bring the kite along."""
    sky = np.clip(
        np.full((300, 500, 3), (120, 160, 210)) + np.random.default_rng(2).normal(0, 2, (300, 500, 3)), 0, 255
    )
    image = sky.astype(np.uint8)
    cv2.rectangle(image, (300, 135), (330, 165), (220, 60, 40), -1)
    area = Stroke(points=((0.3, 0.5), (0.5, 0.5)), radius=0.016)
    (found,) = choose_covers(image, (Cover(id="a", area=area),))
    got = done(image, found)
    assert np.abs(got[142:158, 140:260].astype(int) - (120, 160, 210)).max() < 15


# --- areas ----------------------------------------------------------------------------------------------------------


def test_areas_are_as_large_as_geometry_says() -> None:
    size = Size(1200, 800)
    r = 0.05 * 1200
    disc = coverage(dot(0.5, 0.5, 0.05), size, size.box).sum()
    capsule = coverage(Stroke(points=((0.25, 0.5), (0.75, 0.5)), radius=0.05, soft=0), size, size.box).sum()
    assert disc == pytest.approx(math.pi * r * r, rel=0.005)
    assert capsule == pytest.approx(math.pi * r * r + 600 * 2 * r, rel=0.005)
    half = Stroke(points=((0.25, 0.5), (0.75, 0.5)), radius=0.05, soft=0, pressed=(1.0, 0.0))
    assert coverage(half, size, size.box).sum() == pytest.approx(math.pi * r * r / 2 + 600 * r, rel=0.03)
    triangle = Outlined(points=((0.1, 0.1), (0.9, 0.1), (0.1, 0.9)), soft=0)
    assert coverage(triangle, size, size.box).sum() == pytest.approx(0.5 * 0.8 * 0.8 * 1200 * 800, rel=0.005)
    ellipse = Round(centre=(0.5, 0.5), across=(0.2, 0.1), turn_deg=30, soft=0)
    assert coverage(ellipse, size, size.box).sum() == pytest.approx(math.pi * 240 * 120, rel=0.01)
    outside = coverage(ellipse.copy_with(outside=True), size, size.box)
    assert np.allclose(outside + coverage(ellipse, size, size.box), 1)
    graded = coverage(Graded(start=(0.25, 0), end=(0.75, 0)), size, size.box)
    assert graded[0, 0] == pytest.approx(1)
    assert graded[0, 600] == pytest.approx(0.5, abs=0.01)
    assert graded[0, -1] == 0


@pytest.mark.parametrize(
    "area",
    [
        Stroke(points=((0.2, 0.3), (0.5, 0.6), (0.7, 0.2)), radius=0.04, soft=0.5),
        Outlined(points=((0.2, 0.2), (0.8, 0.3), (0.6, 0.8)), soft=0.3),
        Round(centre=(0.4, 0.5), across=(0.2, 0.1), turn_deg=20),
        Graded(start=(0.2, 0.2), end=(0.6, 0.9)),
        Cut(rings=(((0.2, 0.2), (0.8, 0.3), (0.6, 0.8)),), soft=0.05),
    ],
)
def test_an_area_is_the_same_at_every_size(area) -> None:
    full, small = Size(2400, 1600), Size(240, 160)
    big, little = coverage(area, full, full.box), coverage(area, small, small.box)
    assert np.abs(cv2.resize(big, (240, 160), interpolation=cv2.INTER_AREA) - little).max() < 0.08
    box = (700, 300, 1500, 1100)
    part = coverage(area, full, box)
    assert np.abs(part - big[300:1100, 700:1500]).max() < 0.02
    reach = extent(area, full)
    assert reach is not None
    outside = big.copy()
    outside[reach[1] : reach[3], reach[0] : reach[2]] = 0
    assert outside.max() == 0


def test_what_lies_off_the_photo_changes_nothing() -> None:
    off = Cover(id="a", area=dot(1.5, 1.5, 0.05), shift=(-0.5, -0.5))
    assert reach_of(off, Size(300, 200)) is None
    assert (done(GREY, off) == GREY).all()


# --- areas made lighter, warmer, sharper ----------------------------------------------------------------------------


def test_a_stop_is_a_stop_of_light() -> None:
    """The sRGB transfer function of IEC 61966-2-1, one stop up."""
    area = Graded(start=(0.9, 0.5), end=(1.0, 0.5))
    got = done(GREY, Adjust(id="a", area=area, light=1.0))[100, 100]
    wanted = float(value(light(np.array(120 / 255)) * 2)) * 255
    assert np.abs(got.astype(float) - wanted).max() <= 0.5
    half = done(GREY, Adjust(id="a", area=area, light=1.0, strength=50))[100, 100]
    assert np.abs(half.astype(float) - (120 + wanted) / 2).max() <= 0.5


def test_an_area_changes_within_and_not_without() -> None:
    cat = cv2.resize(CAT, None, fx=4, fy=4, interpolation=cv2.INTER_CUBIC)
    size = Size(cat.shape[1], cat.shape[0])
    area = Round(centre=(0.5, 0.5), across=(0.15, 0.15), soft=0.3)
    share = coverage(area, size, size.box)

    def changed(**part: float) -> np.ndarray:
        got = done(cat, Adjust(id="a", area=area, **part))
        assert (got[share == 0] == cat[share == 0]).all()
        assert np.abs(got[share == 1].astype(int) - cat[share == 1]).mean() > 0.5
        return got[share == 1].astype(int)

    def rough(image: np.ndarray) -> float:
        return float(cv2.Laplacian(image[560:640, 860:940], cv2.CV_64F).std())

    was = cat[share == 1].astype(int)
    assert changed(light=0.7).mean() > was.mean() + 10
    assert np.ptp(changed(saturation=-100), axis=1).max() <= 1
    warm = changed(warmth=60).mean(axis=0) - was.mean(axis=0)
    assert warm[0] > 5
    assert warm[2] < -5
    sharp, soft = (done(cat, Adjust(id="a", area=area, sharpness=amount)) for amount in (80, -80))
    assert rough(soft) < 0.6 * rough(cat) < rough(cat) < 0.9 * rough(sharp)


def test_strips_leave_no_seam(monkeypatch: pytest.MonkeyPatch) -> None:
    touch = Adjust(id="a", area=Graded(start=(0, 0), end=(1, 1)), light=0.5, saturation=30, sharpness=-60, edges=0.7)
    whole = done(COFFEE, touch)
    monkeypatch.setattr("sutaru.core.mending.local_adjustments._STRIP", 9000)
    assert (done(COFFEE, touch) == whole).all()


def test_an_area_keeps_to_the_photos_edges_when_it_is_told_to() -> None:
    """A dark figure before a light wall, the brush passing over the edge: the wall stays as it is."""
    image = np.full((400, 600, 3), 200, np.uint8)
    image[:, :300] = 60
    area = dot(0.45, 0.5, 0.12, 0.5)
    plain, close = (done(image, Adjust(id="a", area=area, light=1.0, edges=edges)).astype(int) for edges in (0.0, 1.0))
    over = np.s_[190:210, 306:320]
    assert (plain[over] - 200).mean() > 25
    assert (close[over] - 200).mean() < 0.35 * (plain[over] - 200).mean()
    inner = np.s_[190:210, 250:280]
    assert (close[inner] - 60).mean() > 0.8 * (plain[inner] - 60).mean()


# --- at every size, whatever the bands ------------------------------------------------------------------------------

TOUCHES = (
    Cover(id="a", area=dot(0.3, 0.3, 0.02, 0.3), shift=(0.1, 0.0)),
    Cover(id="b", how="clone", area=Stroke(points=((0.5, 0.5), (0.6, 0.55)), radius=0.02, soft=0.5), shift=(-0.2, 0.1)),
    Cover(id="c", how="fill", area=Stroke(points=((0.7, 0.2), (0.8, 0.4)), radius=0.004, soft=0)),
    Adjust(id="d", area=Round(centre=(0.5, 0.5), across=(0.3, 0.2)), light=0.4, saturation=-30),
    Adjust(id="e", area=Graded(start=(0, 0), end=(0, 0.5)), warmth=40, sharpness=-40),
)


@pytest.mark.parametrize("touch", TOUCHES, ids=lambda touch: touch.id)
def test_a_tenth_of_the_size_agrees_with_all_of_it(touch) -> None:
    image = cv2.GaussianBlur(cv2.resize(COFFEE, (3000, 2000), interpolation=cv2.INTER_CUBIC), (0, 0), 10)
    image = np.clip(image + np.random.default_rng(4).normal(0, 3, image.shape), 0, 255).astype(np.uint8)
    full, small = done(image, touch), done(reduced(image, 10), touch)
    off = np.abs(reduced(full, 10).astype(int) - small)
    changed = np.abs(reduced(full, 10).astype(int) - reduced(image, 10)).max(axis=2) > 0
    assert changed.sum() > 20
    assert off[~changed].max(initial=0) <= 3
    assert off[changed].mean() < 3.5


class Counted:
    """Pixels of one photo, and how often they were asked for."""

    def __init__(self, image: np.ndarray) -> None:
        self.image, self.asked = image, 0

    def __call__(self, photo: Photo, least_scale: float, space: str = "srgb", depth: int = 8) -> np.ndarray:
        self.asked += 1
        return self.image


def test_one_touch_more_costs_one_touch(monkeypatch: pytest.MonkeyPatch) -> None:
    retoucher = Retoucher(Counted(COFFEE), 50_000_000)
    photo = fake_photo(1, 600, 400)
    worked: list[str] = []
    monkeypatch.setattr(
        "sutaru.core.mending.retoucher.apply_touch",
        lambda image, touch: (worked.append(touch.id), apply_touch(image, touch)),
    )
    first = retoucher(photo, 1.0, "srgb", Retouching(touches=TOUCHES[:3]))
    second = retoucher(photo, 1.0, "srgb", Retouching(touches=TOUCHES[:4]))
    assert worked == ["a", "b", "c", "d"]
    assert (first == done(COFFEE, *TOUCHES[:3])).all()
    assert (second == done(COFFEE, *TOUCHES[:4])).all()
    hidden = TOUCHES[1].copy_with(on=False)
    got = retoucher(photo, 1.0, "srgb", Retouching(touches=(TOUCHES[0], hidden, TOUCHES[2])))
    assert (got == done(COFFEE, TOUCHES[0], TOUCHES[2])).all()
    assert retoucher(photo, 1.0, "srgb", None) is COFFEE
    assert (data.coffee() == COFFEE).all()  # the original is never touched


def test_the_page_is_the_same_whatever_its_bands(job_of) -> None:
    job: Job = job_of("collage-triptych")
    photo = fake_photo(1, 600, 400)
    job = job.copy_with(pile=job.pile.copy_with(photos=(photo,)))
    sheet = job.sheets[0]
    opening = next(iter(sheet.layout.openings_by_id))
    job = apply(job, Put(sheet=sheet.id, opening=opening, photo=photo.id))
    mendable = apply(job, RetouchPhoto(photo=photo.id, put=TOUCHES))
    grid = PixelGrid.for_ppi(sheet.layout, 60)
    pixels = Counted(COFFEE)

    def page(job: Job, *rows: int) -> np.ndarray:
        layers = items(resolve_sheet(job, sheet.id), lambda name: b"", bench=False, notes=False)
        painter = Painter(pixels)
        cuts = [*rows, grid.size[1]]
        boxes = [(0, top, grid.size[0], bottom) for top, bottom in zip([0, *rows], cuts, strict=True)]
        return np.concatenate([painter.render(layers, grid, box)[0] for box in boxes])

    whole = page(mendable)
    assert (page(mendable, 100, 130, 333) == whole).all()
    assert np.abs(whole.astype(int) - page(job)).max() > 20


# --- the document ---------------------------------------------------------------------------------------------------


@pytest.fixture
def job(job_of) -> Job:
    job: Job = job_of("collage-triptych")
    photos = tuple(fake_photo(n, 600, 400) for n in (1, 2))
    return job.copy_with(pile=job.pile.copy_with(photos=photos))


def touches_of(job: Job, photo: Photo) -> list[str]:
    recipe = job.editions[0].photo_tones.get(photo.id)
    return [touch.id for touch in recipe.retouching.touches] if recipe and recipe.retouching else []


def test_touches_are_put_changed_in_place_and_taken_away(job: Job) -> None:
    photo = job.photos[0]
    job = apply(job, RetouchPhoto(photo=photo.id, put=TOUCHES[:3]))
    assert touches_of(job, photo) == ["a", "b", "c"]
    job = apply(job, RetouchPhoto(photo=photo.id, put=(TOUCHES[1].copy_with(strength=40),)))
    assert touches_of(job, photo) == ["a", "b", "c"]
    job = apply(job, MendPhoto(photo=photo.id, recipe=Recipe(steps=(Exposure(stops=1),))))
    assert touches_of(job, photo) == ["a", "b", "c"]  # other steps leave them alone
    job = apply(job, RetouchPhoto(photo=photo.id, gone=("a", "c")))
    assert touches_of(job, photo) == ["b"]
    assert job.editions[0].photo_tones[photo.id].steps == (Exposure(stops=1),)
    with pytest.raises(EditRefused, match="This touch is not there any more"):
        apply(job, RetouchPhoto(photo=photo.id, gone=("a",)))
    job = apply(job, MendPhoto(photo=photo.id, recipe=None))
    assert photo.id not in job.editions[0].photo_tones


def test_touches_of_one_opening_come_over_those_of_its_photo(job: Job) -> None:
    photo, sheet = job.photos[0], job.sheets[0].id
    first, second = list(job.sheets[0].layout.openings_by_id)[:2]
    for opening in (first, second):
        job = apply(job, Put(sheet=sheet, opening=opening, photo=photo.id))
    job = apply(job, MendPhoto(photo=photo.id, recipe=Recipe(steps=(Exposure(stops=1),))))
    job = apply(job, RetouchPhoto(photo=photo.id, put=TOUCHES[:1]))
    job = apply(job, RetouchOpening(sheet=sheet, opening=first, put=TOUCHES[1:2]))
    drawn = resolve_sheet(job, sheet).by_id
    mine, other = drawn[first].recipe, drawn[second].recipe
    assert mine is not None
    assert other is not None
    assert [t.id for t in mine.retouching.touches] == ["a", "b"]
    assert [t.id for t in other.retouching.touches] == ["a"]
    assert mine.steps == other.steps == (Exposure(stops=1),)  # its tone stays its photo's
    job = apply(job, MendOpening(sheet=sheet, opening=first, recipe=Recipe(steps=())))
    assert resolve_sheet(job, sheet).by_id[first].recipe.steps == ()
    assert [t.id for t in resolve_sheet(job, sheet).by_id[first].recipe.retouching.touches] == ["a", "b"]
    with pytest.raises(EditRefused, match="This opening is empty"):
        apply(job, RetouchOpening(sheet=sheet, opening=list(job.sheets[0].layout.openings_by_id)[2], put=TOUCHES[:1]))


def test_retouched_photos_are_enhanced_as_all_others_are(job: Job) -> None:
    photo, sheet = job.photos[0], job.sheets[0].id
    opening = next(iter(job.sheets[0].layout.openings_by_id))
    job = apply(job, Put(sheet=sheet, opening=opening, photo=photo.id)).copy_with(enhance=True)
    job = apply(job, RetouchPhoto(photo=photo.id, put=TOUCHES[:1]))
    recipe = resolve_sheet(job, sheet).by_id[opening].recipe
    assert [step.kind for step in recipe.steps] == ["enhance"]
    assert len(recipe.retouching.touches) == 1


def test_what_a_photo_is_retouched_by_is_a_part_of_its_own(job: Job) -> None:
    """Stored once under its content's name, so that a stroke costs one photo's strokes, never all of them."""
    job = apply(job, RetouchPhoto(photo=job.photos[0].id, put=TOUCHES))
    stored = {part.digest: part.pack() for part in parts(job)}
    (edition,) = (part for part in parts(job) if part is job.editions[0])
    assert b"points" not in edition.pack()
    toned = apply(job, MendPhoto(photo=job.photos[0].id, recipe=Recipe(steps=(Exposure(stops=1),))))
    assert not any(isinstance(part, Retouching) for part in new_parts(toned, job))  # other steps store no strokes again
    more = apply(job, RetouchPhoto(photo=job.photos[0].id, gone=("a",)))
    assert sum(isinstance(part, Retouching) for part in new_parts(more, job)) == 1
    facts = {photo.id: photo for photo in job.photos}
    back = unpack_job(job.digest, stored.__getitem__, lambda ids: facts, {})
    assert back == job
    assert back.digest == job.digest


def test_a_touch_says_what_it_does(job: Job) -> None:
    name = job.photos[0].name
    for touch, said in zip(TOUCHES, ("heal", "clone", "fill a place", "adjust an area", "adjust an area"), strict=True):
        assert label(job, RetouchPhoto(photo=job.photos[0].id, put=(touch,))) == f"{said} in {name}"
    assert label(job, RetouchPhoto(photo=job.photos[0].id, put=TOUCHES)) == f"retouch 5 places in {name}"


def test_what_cannot_be_is_refused_as_it_is_read() -> None:
    with pytest.raises(ValidationError, match="share an id"):
        Retouching(touches=(TOUCHES[0], TOUCHES[0]))
    with pytest.raises(ValidationError, match="pressed at each of its points"):
        Stroke(points=((0, 0), (1, 1)), radius=0.1, pressed=(1.0,))
    with pytest.raises(ValidationError, match="pull it longer"):
        Graded(start=(0.5, 0.5), end=(0.5, 0.5))
    with pytest.raises(ValidationError, match="Say which touch"):
        RetouchPhoto(photo="x")
    with pytest.raises(ValidationError):
        Stroke(points=((math.nan, 0),), radius=0.1)


# --- a subject and its backdrop -------------------------------------------------------------------------------------


def figure() -> tuple[np.ndarray, np.ndarray]:
    """A figure of two colours before sand and sky, standing on the lower edge; and where it is."""
    rng = np.random.default_rng(6)
    image = np.full((600, 800, 3), (150, 185, 225), np.uint8)
    image[380:] = (205, 180, 140)
    inside = np.zeros((600, 800), np.uint8)
    cv2.ellipse(inside, (400, 200), (70, 90), 0, 0, 360, 1, -1)
    cv2.rectangle(inside, (310, 280), (490, 599), 1, -1)
    image[(inside > 0) & (np.arange(600)[:, None] < 280)] = (110, 70, 50)
    image[(inside > 0) & (np.arange(600)[:, None] >= 280)] = (60, 50, 110)
    noisy = np.clip(image + rng.normal(0, 5, image.shape), 0, 255)
    return cv2.GaussianBlur(noisy, (0, 0), 1.0).astype(np.uint8), inside > 0


def test_a_subject_is_cut_out_by_a_rough_stroke() -> None:
    image, inside = figure()
    found = select_subject(image, Stroke(points=((0.5, 0.28), (0.5, 0.9)), radius=0.02))
    assert found is not None
    seen = coverage(found, Size(800, 600), (0, 0, 800, 600)) > 0.5
    both, either = (seen & inside).sum(), (seen | inside).sum()
    assert both / either > 0.97
    assert seen[598, 400]  # down to the photo's edge
    assert select_subject(image, Stroke(points=((1.5, 1.5),), radius=0.01)) is None


def test_what_lies_behind_a_subject_changes_and_it_does_not() -> None:
    image, inside = figure()
    found = select_subject(image, Stroke(points=((0.5, 0.28), (0.5, 0.9)), radius=0.02))
    got = done(image, Adjust(id="a", area=found.copy_with(outside=True), light=-1, saturation=-50, edges=0.7)).astype(
        int
    )
    deep = cv2.erode(inside.astype(np.uint8), np.ones((25, 25))) > 0
    far = cv2.dilate(inside.astype(np.uint8), np.ones((41, 41))) == 0
    assert np.abs(got - image)[deep].mean() < 2
    assert (image.astype(int) - got)[far].mean() > 35
    ring = Cut(
        rings=(((0.2, 0.2), (0.8, 0.2), (0.8, 0.8), (0.2, 0.8)), ((0.4, 0.4), (0.6, 0.4), (0.6, 0.6), (0.4, 0.6)))
    )
    share = coverage(ring, Size(800, 600), (0, 0, 800, 600))
    assert share[300, 200] == 1
    assert share[300, 400] == 0  # a hole
    assert share.sum() == pytest.approx((0.36 - 0.04) * 800 * 600, rel=0.01)


def test_a_backdrop_takes_a_colour_and_keeps_its_light() -> None:
    """As the page's own blending has it ("color" of W3C Compositing and Blending), and as flat as paper where that is wished."""
    area = Graded(start=(0.9, 0.5), end=(1.0, 0.5))
    got = done(CAT, Adjust(id="a", area=area, colour="#2060a0"))[:, :300]
    colour = np.broadcast_to(np.array([0x20, 0x60, 0xA0], np.uint8), CAT.shape)
    wanted = MODES["color"](CAT.astype(np.float32) / 255, colour.astype(np.float32) / 255)[:, :300] * 255
    assert np.abs(got - wanted).max() <= 1
    flat = done(CAT, Adjust(id="a", area=area, colour="#2060a0", flat=1))[:, :300]
    assert np.abs(flat.astype(int) - (0x20, 0x60, 0xA0)).max() == 0
    half = done(CAT, Adjust(id="a", area=area, colour="#2060a0", flat=0.5))[:, :300].astype(float)
    assert np.abs(half - (wanted + flat) / 2).max() <= 1

"""Subjects that stand free of what their photo is shown in: their edges and colours beside a picture that was put together from
known parts, where they are painted, and what is found of them."""

import cv2
import numpy as np
import pytest

from sutaru.core.checks import check
from sutaru.core.document import (
    Background,
    Border,
    Corners,
    Cut,
    Edition,
    Filling,
    Flat,
    Found,
    Free,
    Job,
    KeepArea,
    LabSheet,
    Layout,
    Mat,
    Opening,
    Photo,
    Pile,
    Placement,
    Recipe,
    Rectangle,
    Retouching,
    Roll,
    Shadow,
    Sheet,
    Stroke,
    Upright,
)
from sutaru.core.fitting import free_subject_room, resolve_sheet
from sutaru.core.mending import select_subject
from sutaru.core.mending.areas import Size, coverage
from sutaru.core.mending.cutout import cut_out_subject
from sutaru.core.paint import LivePage, Painter, PixelGrid, items
from tests.conftest import fake_photo

LAB = LabSheet(id="none", name="None", ppi_target=300, ppi_least=50)
SAGE = (0x7F, 0xB0, 0xA8)
RED, SKY = (200, 40, 30), (120, 170, 220)
# A head and shoulders, as it were: the middle third from a tenth down to the photo's lower edge.
BOX = ((0.35, 0.1), (0.65, 0.1), (0.65, 1.01), (0.35, 1.01))
PHOTO = fake_photo(7, 900, 900)


def free(**said) -> Free:
    return Free(**{"id": "f", "area": Cut(rings=(BOX,), soft=0.0), "edges": 0.0} | said)


def figure(size: int = 900) -> np.ndarray:
    """A red figure before a sky, its edges upright and level."""
    image = np.full((size, size, 3), SKY, np.uint8)
    image[size // 10 :, round(0.35 * size) : round(0.65 * size)] = RED
    return image


def pixels(photo: Photo, least_scale: float, space: str = "srgb", depth: int = 8) -> np.ndarray:
    return figure(max(1, round(900 * min(1.0, least_scale * 1.2))))


def job(touch: Free | None, photo: Photo = PHOTO, upright: Upright | None = None, **opening) -> Job:
    """A sheet of 180 mm square with one opening of 90 x 60 mm whose upper edge lies 80 mm down; the photo is as wide, and its
    upper edge 15 mm further up."""
    lies = {"outline": Rectangle(width_mm=90, height_mm=60), "surface": Flat(centre=(90, 110))} | opening
    layers = Background(id="ground", colour="#7fb0a8"), Opening(id="o", **lies)
    sheet = Sheet(id="s", name="Sheet", layout=Layout(width_mm=180, height_mm=180, layers=layers))
    retouching = Retouching(touches=(touch,)) if touch else None
    tones = {"o": Recipe(retouching=retouching, upright=upright, steps=None)}
    filling = Filling(placements={"o": Placement(photo=photo.id)}, tones=tones)
    return Job(
        name="Free", template="t", product="collage", sheets=(sheet,), lab=LAB, pile=Pile(photos=(photo,)),
        editions=(Edition(id="first", name="First", fillings={"s": filling}),),
    )  # fmt: skip


def page(of: Job, ppi: float = 50.8, band: tuple[int, int, int, int] | None = None) -> np.ndarray:
    """Two px a mm."""
    layers = items(resolve_sheet(of, "s"), lambda name: b"", bench=False, notes=False)
    return Painter(pixels).render(layers, PixelGrid((180, 180), 0, ppi), band)[0]


def near(found: np.ndarray, colour: tuple[int, int, int]) -> bool:
    return bool(np.abs(found.astype(int) - colour).max() <= 2)


# --- the subject itself ---------------------------------------------------------------------------------------------


def put_together() -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """A figure whose edge is soft, before a backdrop, and how far each pixel is of it; the two laid on one another as light is
    mixed in a lens. With its own colours."""
    rng = np.random.default_rng(3)
    size = 800
    y, x = np.mgrid[:size, :size]
    wavy = 150 + 6 * np.sin(np.arctan2(y - 300, x - 400) * 9)
    share = np.clip((wavy - np.hypot(x - 400, y - 300)) / 10 + 0.5, 0, 1)
    share = np.maximum(share, np.clip((130 - np.abs(x - 400)) / 10 + 0.5, 0, 1) * (y > 350))
    own = np.stack([150 + 30 * np.sin(y / 50), 80 + x / 40, 60 + 0 * x], -1)
    behind = np.stack([90 + x / 20, 150 + 0 * x, 225 - y / 30], -1)
    mixed = own * share[..., None] + behind * (1 - share[..., None]) + rng.normal(0, 2, (size, size, 3))
    return np.clip(mixed, 0, 255).astype(np.uint8), share, own


def test_a_subject_laid_on_another_ground_brings_nothing_of_its_backdrop() -> None:
    image, share, own = put_together()
    cut = select_subject(image, Stroke(points=((0.5, 0.3), (0.5, 0.9)), radius=0.03))
    assert cut
    rgba = cut_out_subject(image, Free(id="f", area=cut)).astype(float)
    ground = np.array((245.0, 245.0, 235.0))
    truth = own * share[..., None] + ground * (1 - share[..., None])

    def laid(colours: np.ndarray, cover: np.ndarray) -> np.ndarray:
        return colours * cover[..., None] + ground * (1 - cover[..., None])

    edge = (share > 0.02) & (share < 0.98)
    ours = np.abs(laid(rgba[..., :3], rgba[..., 3] / 255) - truth)
    # Cut along the line alone, and its colours as they are in the photo: what one would do by hand.
    plain = np.abs(laid(image.astype(float), coverage(cut, Size(800, 800), (0, 0, 800, 800))) - truth)
    assert ours[edge].mean() < 0.4 * plain[edge].mean()
    # Well within and well off it is the photo, and nothing.
    assert (rgba[..., 3][share == 1][::50] > 250).mean() > 0.99
    assert (rgba[..., 3][share == 0] == 0).mean() > 0.985
    assert (rgba[350:360, 395:405, :3] == image[350:360, 395:405]).all()


def test_a_tenth_of_the_size_agrees() -> None:
    image, _, _ = put_together()
    large = cv2.resize(image, (2400, 2400), interpolation=cv2.INTER_CUBIC)
    cut = select_subject(image, Stroke(points=((0.5, 0.3), (0.5, 0.9)), radius=0.03))
    assert cut
    fine, coarse = (
        cut_out_subject(of, Free(id="f", area=cut)) for of in (large, cv2.resize(large, (240, 240), interpolation=3))
    )
    off = np.abs(cv2.resize(fine[..., 3], (240, 240), interpolation=3).astype(int) - coarse[..., 3])
    assert off.mean() < 0.6
    assert np.percentile(off, 99.5) < 30


@pytest.mark.parametrize("soft", [0.0, 0.002, 0.05])
@pytest.mark.parametrize("outside", [False, True])
def test_working_out_its_line_alone_changes_nothing(
    monkeypatch: pytest.MonkeyPatch, soft: float, outside: bool
) -> None:
    image, _, _ = put_together()
    area = Cut(rings=(((0.2, 0.2), (0.8, 0.25), (0.5, 0.9)),), soft=soft, outside=outside)
    touch = Free(id="f", area=area, strength=80)
    blocks = cut_out_subject(image, touch)
    monkeypatch.setattr("sutaru.core.mending.cutout._BLOCK", 10_000)  # all of it, since the line passes it
    assert np.abs(cut_out_subject(image, touch).astype(int) - blocks).max() <= 1
    assert set(np.unique(blocks[..., 3])) >= {0, 204}


def test_a_stroke_adds_to_what_was_cut_out_and_another_takes_away() -> None:
    image, share, _ = put_together()
    inside = share > 0.5
    size = Size(800, 800)
    begun = select_subject(image, Stroke(points=((0.5, 0.3), (0.5, 0.9)), radius=0.03))
    assert begun

    def seen(cut: Cut | None) -> np.ndarray:
        assert cut
        return coverage(cut, size, size.box) > 0.5

    # A piece of the backdrop comes to it, then goes again; what lies far from the strokes stays as it was.
    beside = Stroke(points=((0.14, 0.1), (0.2, 0.1)), radius=0.02)
    more = select_subject(image, beside, begun)
    at = coverage(beside, size, size.box) > 0.9
    assert seen(more)[at].mean() > 0.95
    assert seen(begun)[at].mean() < 0.05
    less = select_subject(image, beside, more, away=True)
    assert seen(less)[at].mean() < 0.05
    far = np.zeros((800, 800), bool)
    far[500:] = True
    for cut in (more, less):
        assert (seen(cut) == inside)[far].mean() > 0.985


# --- on the page ----------------------------------------------------------------------------------------------------


def test_a_subject_stands_over_the_edge_as_far_down_as_it_is_told() -> None:
    # The photo is 90 mm square about 90, 110: its figure is 27 mm wide and begins 74 mm down; the opening begins at 80.
    plain, over = page(job(None)), page(job(free(down=0.5)))
    assert near(plain[150, 180], SAGE)
    assert near(over[150, 180], RED)  # 75 mm down
    assert near(over[144, 180], SAGE)  # above the figure's head
    assert near(over[150, 120], SAGE)  # its backdrop stays within
    assert near(over[165, 110], SKY)
    assert (plain[161:] == over[161:]).all()  # down to its lower edge nothing else differs
    assert near(over[285, 180], SAGE)  # the figure goes on below, the opening does not


def test_aside_it_stands_over_the_edge_down_to_that_place() -> None:
    # An opening narrower than the figure: 20 mm.
    narrow = {"outline": Rectangle(width_mm=20, height_mm=60), "surface": Flat(centre=(90, 110))}
    of = job(free(down=0.25), **narrow)
    over = page(of)  # the photo is 60 mm square: its figure is 18 mm wide
    assert near(over[200, 180], RED)
    wide = job(free(down=0.25, area=Cut(rings=(((0.3, 0.1), (0.9, 0.1), (0.9, 1), (0.3, 1)),), soft=0.0)), **narrow)
    over = page(wide)
    assert near(over[180, 206], SKY)  # 90 mm down, 13 mm right of the middle: of the subject, off the opening
    assert near(over[196, 206], SAGE)  # 98 mm down: below a quarter of the height


def test_the_page_shows_behind_a_subject_and_through_its_frame() -> None:
    frame = {
        "border": Border(width_mm=4, colour="#ffffff"),
        "mat": Mat(width_mm=3, colour="#303030"),
        "shadow": Shadow(),
    }
    kept, open_ = page(job(free(), **frame)), page(job(free(backdrop=False), **frame))
    assert near(kept[220, 120], SKY)
    assert near(open_[220, 120], SAGE)
    assert near(open_[220, 180], RED)
    assert near(open_[220, 93], (255, 255, 255))
    assert near(open_[270, 100], (48, 48, 48))
    assert near(open_[150, 180], RED)
    # Before border and mat down to half the height, behind them below.
    assert near(open_[163, 180], RED)
    assert near(open_[276, 180], (255, 255, 255))


def test_before_the_page_the_subject_casts_the_shadow() -> None:
    shade = {"shadow": Shadow(distance_mm=6, blur_mm=2, opacity=0.5)}
    bare, cast = page(job(free(backdrop=False))), page(job(free(backdrop=False), **shade))
    darker = bare.astype(int).sum(axis=2) - cast.astype(int).sum(axis=2)
    # The light comes from the upper left: it falls to the right of the figure, and below its head nothing else is darker.
    assert darker[200:270, 208:210].min() > 60
    assert np.abs(darker[200:270, 120:150]).max() == 0
    assert np.abs(darker[200:270, 225:270]).max() <= 3
    assert (cast[200:270, 160:200] == bare[200:270, 160:200]).all()
    # As far as OpenCV's own blur of the figure, moved, says.
    alone = np.zeros((360, 360), np.float32)
    alone[148:280, 153:207] = 1
    dx, dy = 12 * np.cos(np.radians(60)), 12 * np.sin(np.radians(60))  # the light stands at 120 degrees
    moved = cv2.warpAffine(alone, np.array([[1, 0, round(dx)], [0, 1, round(dy)]], float), (360, 360))
    wanted = 0.5 * cv2.GaussianBlur(moved, (0, 0), 2.0) * sum(SAGE)
    at = np.s_[200:270, 208:230]
    assert np.abs(darker[at] - wanted[at]).max() < 12


def test_the_page_is_the_same_whatever_its_bands_and_as_it_changes() -> None:
    shade = {"shadow": Shadow(distance_mm=3, blur_mm=2)}
    of = job(free(edges=0.7, backdrop=False), **shade)
    whole = page(of, 203.2)
    for band in ((0, 0, 1440, 512), (0, 512, 1440, 1024), (0, 1024, 1440, 1440)):
        assert (page(of, 203.2, band) == whole[band[1] : band[3]]).all()
    live = LivePage(Painter(pixels), PixelGrid((180, 180), 0, 50.8))
    for touch in (None, free(), free(down=0.0), free(backdrop=False), None):
        layers = items(resolve_sheet(job(touch, **shade), "s"), lambda name: b"", bench=False, notes=False)
        assert (live.picture(layers) == page(job(touch, **shade))).all()


def test_on_a_steep_surface_it_goes_no_nearer_than_can_be_seen() -> None:
    # The upper edge comes towards the eye, four times as large as the lower one: a height above it lies behind the eye.
    steep = {"surface": Corners(points=((10, 80), (170, 80), (110, 150), (70, 150)))}
    opening = job(None, **steep).sheets[0].layout.openings()[0]
    assert opening.page_from_opening.matrix is not None
    room = free_subject_room(opening, 0.5)
    away = np.column_stack([room, np.ones(4)]) @ opening.page_from_opening.matrix[2]
    assert (away / opening.page_from_opening.matrix[2, 2] > 0.2).all()
    flat = job(None).sheets[0].layout.openings()[0]
    assert np.ptp(free_subject_room(flat, 0.5), axis=0) == pytest.approx((270, 90))
    over = page(job(free(), **steep))
    assert near(over[4, 180], SAGE)
    assert near(over[158, 180], RED)


def test_on_a_bent_surface_it_stays_within() -> None:
    bent = {"surface": Roll(centre=(90, 110), radius_mm=60)}
    plain, over = page(job(None, **bent)), page(job(free(), **bent))
    assert np.abs(plain.astype(int) - over).max() <= 2
    behind = page(job(free(backdrop=False), **bent))
    assert near(behind[220, 100], SAGE)
    assert near(behind[220, 180], RED)


def test_it_goes_along_when_its_photo_is_put_upright() -> None:
    turned = page(job(free(), upright=Upright(roll_deg=8)))
    red = np.argwhere((np.abs(turned.astype(int) - RED).max(axis=-1) < 12)[:160])
    plain = np.argwhere((np.abs(page(job(free())).astype(int) - RED).max(axis=-1) < 12)[:160])
    assert len(red) > 200
    assert abs(red[:, 1].mean() - plain[:, 1].mean()) > 4


# --- what is found --------------------------------------------------------------------------------------------------


def _cut(of: Job) -> list[str]:
    return [found.sentence for found in check(resolve_sheet(of, "s")) if found.rule == "keep_cut"]


def test_a_face_over_the_edge_is_not_cut() -> None:
    head = KeepArea(kind="face", left=0.4, top=0.11, width=0.2, height=0.2)  # from 75 mm down
    seen = PHOTO.copy_with(found=Found(keep=(head,), black=0, white=255))
    assert len(_cut(job(None, seen))) == 1
    assert _cut(job(free(), seen)) == []
    # Beside the subject it is cut as before; and so it is where the page ends.
    beside = PHOTO.copy_with(found=Found(keep=(head.copy_with(left=0.05),), black=0, white=255))
    assert len(_cut(job(free(), beside))) == 1
    assert len(_cut(job(free(), seen, surface=Flat(centre=(90, 30))))) == 1


def test_a_face_behind_somebody_else_is_hidden() -> None:
    face = PHOTO.copy_with(
        found=Found(keep=(KeepArea(kind="face", left=0.4, top=0.4, width=0.2, height=0.2),), black=0, white=255)
    )

    other = fake_photo(8, 900, 900)

    def of(touch: Free | None, first: str) -> Job:
        """Two openings, the lower one's subject over the upper one; which of them comes first in the stack."""
        upper = Opening(id="upper", outline=Rectangle(width_mm=60, height_mm=60), surface=Flat(centre=(90, 50)))
        lower = Opening(id="lower", outline=Rectangle(width_mm=90, height_mm=40), surface=Flat(centre=(90, 105)))
        layers = (upper, lower) if first == "upper" else (lower, upper)
        sheet = Sheet(id="s", name="Sheet", layout=Layout(width_mm=180, height_mm=180, layers=layers))
        tones = {"lower": Recipe(retouching=Retouching(touches=(touch,)), steps=None)} if touch else {}
        lies = {"upper": Placement(photo=face.id), "lower": Placement(photo=other.id, centre=(0.5, 0.75))}
        filling = Filling(placements=lies, tones=tones)
        return job(None).copy_with(
            sheets=(sheet,), pile=Pile(photos=(face, other)),
            editions=(Edition(id="first", name="First", fillings={"s": filling}),),
        )  # fmt: skip

    hides = free(area=Cut(rings=(((0.3, 0.0), (0.7, 0.0), (0.7, 1.0), (0.3, 1.0)),), soft=0.0))

    def cut(job: Job) -> set[str]:
        return {found.layer for found in check(resolve_sheet(job, "s")) if found.rule == "keep_cut"}

    assert cut(of(None, "upper")) == set()
    assert cut(of(hides, "upper")) == {"upper"}
    assert cut(of(hides, "lower")) == set()  # the other lies above, face and all

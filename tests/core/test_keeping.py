"""What must stay visible: faces found, kept in openings of every shape, off what cuts; findings when they cannot be."""

import math
from collections.abc import Iterator

import cv2
import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st
from skimage import data

from sutaru.core.checks import check_job
from sutaru.core.document import (
    Border,
    Ellipse,
    Flat,
    Found,
    KeepArea,
    Layout,
    Line,
    Mat,
    Opening,
    Photo,
    Placement,
    Rectangle,
    Text,
)
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import Fill, KeepInView, Mark
from sutaru.core.fitting import cuts, first_placement, keep_areas_visible, opening_from_photo
from sutaru.core.geometry import matrices as m
from sutaru.core.photos import look
from sutaru.demo.scenes import picture
from tests.conftest import fake_photo, one_sheet, shown
from tests.known_faces import RATIOS, Face, pictures


def page(*layers: object, **more: object) -> Layout:
    return Layout.model_validate({"width_mm": 400, "height_mm": 400, "layers": layers, **more})


def hole(ratio: float = 1.5, **more: object) -> Opening:
    size = (100.0 * min(1.0, ratio), 100.0 / max(1.0, ratio))
    outline = Rectangle(width_mm=size[0], height_mm=size[1])
    return Opening.model_validate({"id": "o", "outline": outline, "surface": Flat(centre=(200, 200)), **more})


def shown_part(opening: Opening, photo: Photo, lies: Placement) -> tuple[float, float, float, float]:
    """What a rectangular opening shows, in fractions of the photo."""
    w, h = opening.outline.width_mm / 2, opening.outline.height_mm / 2
    corners = m.apply(m.inverse(opening_from_photo(opening, photo, lies)), [(-w, -h), (w, h)]) / (
        photo.width,
        photo.height,
    )
    return (*corners[0], *corners[1])


def is_cut(face: Face, part: tuple[float, float, float, float], off: tuple[float, float]) -> bool:
    x, y = off
    return face[0] < part[0] - x or face[1] < part[1] - y or face[2] > part[2] + x or face[3] > part[3] + y


def crops() -> Iterator[tuple[str, bool, bool]]:
    """Every picture in openings from 1:3 to 3:1 in which its face could be kept: is it cut by a centre crop, and by ours."""
    for name, pixels, face, off in pictures():
        photo = fake_photo(1, pixels.shape[1], pixels.shape[0], found=look(pixels))
        assert any(area.kind == "face" for area in photo.keep_areas), f"no face found in {name}"
        for ratio in RATIOS:
            opening = hole(ratio)
            # A crop at zoom 1 shows all of one side and this share of the other.
            shows = min(1.0, ratio * photo.height / photo.width), min(1.0, photo.width / photo.height / ratio)
            if face[2] - face[0] + 2 * off[0] > shows[0] or face[3] - face[1] + 2 * off[1] > shows[1]:
                continue
            centred = shown_part(opening, photo, Placement(photo=photo.id))
            ours = shown_part(opening, photo, first_placement(page(opening), opening, photo))
            yield f"{name} {ratio:.2f}", is_cut(face, centred, off), is_cut(face, ours, off)


def test_no_face_is_cut_that_could_be_kept() -> None:
    found = list(crops())
    assert len(found) >= 20
    assert sum(centre for _, centre, _ in found) >= len(found) // 4
    assert [name for name, _, ours in found if ours] == []


HEADS = 6


def group() -> tuple[np.ndarray, list[Face]]:
    """A picture of six people side by side in two rows, heads of 70 to 120 px, and where their faces are, px."""
    ground = cv2.resize(data.coffee(), (1200, 800), interpolation=cv2.INTER_CUBIC)
    known = [(pixels, face) for name, pixels, face, _ in pictures() if "cut" not in name]
    boxes = []
    for n in range(HEADS):
        pixels, face = known[n % len(known)]
        high, wide = pixels.shape[:2]
        x0, y0, x1, y1 = face
        beside, above = 0.4 * (x1 - x0), 0.15 * (y1 - y0)  # hair, and some of the shoulders
        cut = [max(0.0, x0 - beside), max(0.0, y0 - above), min(1.0, x1 + beside), min(1.0, y1 + above)]
        head = pixels[round(cut[1] * high) : round(cut[3] * high), round(cut[0] * wide) : round(cut[2] * wide)]
        share = (100 + 12 * n) / head.shape[0]
        small = cv2.resize(head, None, fx=share, fy=share, interpolation=cv2.INTER_AREA)
        left, top = 60 + 390 * (n % 3), 120 + 350 * (n // 3)
        ground[top : top + small.shape[0], left : left + small.shape[1]] = small
        sides = [(x0, cut[0], wide, left), (y0, cut[1], high, top), (x1, cut[0], wide, left), (y1, cut[1], high, top)]
        boxes.append(tuple((at - of) * side * share + start for at, of, side, start in sides))
    return ground, boxes  # type: ignore[return-value]


@pytest.mark.parametrize(("turns", "least"), [(0, HEADS), (1, 4), (2, 2), (3, 4)])
def test_every_face_of_a_group_is_found_and_no_other(turns: int, least: int) -> None:
    """Upright, all of them; of small faces on their side or on their head in a file that does not say so, some."""
    pixels, boxes = group()
    high, wide = pixels.shape[:2]
    found = [area for area in look(np.ascontiguousarray(np.rot90(pixels, turns))).keep if area.kind == "face"]
    middles = []
    for area in found:
        x, y = area.left + area.width / 2, area.top + area.height / 2
        for _ in range(turns):
            x, y = 1 - y, x  # a quarter turn clockwise
        middles.append((x * wide, y * high))
    held = [sum(x0 < x < x1 and y0 < y < y1 for x, y in middles) for x0, y0, x1, y1 in boxes]
    assert max(held) == 1
    assert sum(held) == len(found) >= least  # none beside the faces


@pytest.mark.parametrize("ratio", RATIOS)
def test_a_group_is_kept_whole_where_it_can_be(ratio: float) -> None:
    pixels, boxes = group()
    high, wide = pixels.shape[:2]
    photo = fake_photo(1, wide, high, found=look(pixels))
    opening = hole(ratio)
    lies = first_placement(page(opening), opening, photo)
    part = shown_part(opening, photo, lies)
    shares = [(x0 / wide, y0 / high, x1 / wide, y1 / high) for x0, y0, x1, y1 in boxes]
    lefts, tops, rights, bottoms = zip(*shares, strict=True)
    across, down = max(rights) - min(lefts) + 0.06, max(bottoms) - min(tops) + 0.06  # the heads about the faces, too
    whole = across < part[2] - part[0] and down < part[3] - part[1]
    cut = [is_cut(face, part, (0.01, 0.01)) for face in shares]
    told = [f for f in check_job(one_sheet(page(opening), (photo,), {"o": lies})) if f.rule == "keep_cut"]
    if whole:
        assert not any(cut)
    else:
        assert not all(cut)
        assert told or not any(cut)  # what could not be kept is said


@pytest.mark.parametrize("name", ["coffee", "rocket", "brick", "grass", "gravel", "moon", "clock", "hubble_deep_field"])
def test_no_face_is_seen_where_there_is_none(name: str) -> None:
    pixels = getattr(data, name)()
    found = look(pixels if pixels.ndim == 3 else np.stack([pixels] * 3, axis=-1))
    assert all(area.kind == "subject" for area in found.keep)


def test_scenes_with_faces_and_without() -> None:
    assert [a.kind for a in look(picture("maker", 5, 600, 900)).keep] == ["face"]
    assert all(a.kind == "subject" for a in look(picture("dunes", 2, 900, 600)).keep)


def middle_of(areas: tuple[KeepArea, ...]) -> tuple[float, float]:
    """Of the only face, in shares of the picture."""
    (head,) = [area for area in areas if area.kind == "face"]
    return head.left + head.width / 2, head.top + head.height / 2


MIDDLE = (224 / 512, 112 / 512)  # of the astronaut's head, measured by eye


@pytest.mark.parametrize("lean", [-45, -28, 28, 45])
def test_a_leaning_head_is_found(lean: float) -> None:
    onto = cv2.getRotationMatrix2D((224, 112), lean, 1.0)
    turned = cv2.warpAffine(data.astronaut(), onto, (512, 512), borderMode=cv2.BORDER_REPLICATE)
    assert math.dist(middle_of(look(turned).keep), MIDDLE) < 0.06


@pytest.mark.parametrize("quarters", [1, 2, 3])
def test_a_picture_stored_on_its_side_or_head_is_looked_at_so(quarters: int) -> None:
    """Its area is the one found upright, turned along; the picture is not square, so that no side is taken for another."""
    upright = data.astronaut()[:, :420]
    (head,) = [area for area in look(upright).keep if area.kind == "face"]
    x0, y0, x1, y1 = head.left, head.top, head.left + head.width, head.top + head.height
    for _ in range(quarters):
        x0, y0, x1, y1 = y0, 1 - x1, y1, 1 - x0  # counter-clockwise, as np.rot90 turns
    (turned,) = [a for a in look(np.ascontiguousarray(np.rot90(upright, quarters))).keep if a.kind == "face"]
    found = turned.left, turned.top, turned.left + turned.width, turned.top + turned.height
    assert found == pytest.approx((x0, y0, x1, y1), abs=0.05)


@pytest.mark.parametrize("tall", [64, 90, 140])
@pytest.mark.parametrize("quarters", [0, 1, 2, 3])
def test_a_face_of_any_size_is_found_however_its_picture_is_stored(tall: int, quarters: int) -> None:
    """A face from a tenth of the picture on, ``tall`` px of 640, on a plain dark wall."""
    side = round(tall / 0.28)  # the astronaut's picture, of which the face takes 28 %
    shown = cv2.resize(data.astronaut(), (side, side), interpolation=cv2.INTER_AREA)[:416, :570]
    wall = np.full((416, 640, 3), 60, np.uint8)
    wall[: shown.shape[0], 70 : 70 + shown.shape[1]] = shown
    x, y = (70 + MIDDLE[0] * side) / 640, MIDDLE[1] * side / 416
    for _ in range(quarters):
        x, y = y, 1 - x  # counter-clockwise, as np.rot90 turns
    assert math.dist(middle_of(look(np.ascontiguousarray(np.rot90(wall, quarters))).keep), (x, y)) < 0.06


@pytest.mark.parametrize("light", [0.12, 0.25, 1.0])
def test_a_face_in_little_light_is_found(light: float) -> None:
    dark = (data.astronaut() * light).astype(np.uint8)
    assert math.dist(middle_of(look(dark).keep), MIDDLE) < 0.05


def test_every_face_of_a_group_is_found_and_bystanders_are_not() -> None:
    """Four heads in a row, one half as large, and one far behind, on a plain wall."""
    wall = np.full((600, 1200, 3), 200, np.uint8)
    head = data.astronaut()[0:220, 120:340]
    for at, side in ((20, 220), (260, 220), (500, 220), (760, 120), (960, 44)):
        wall[300 : 300 + side, at : at + side] = cv2.resize(head, (side, side), interpolation=cv2.INTER_AREA)
    found = sorted(area.left * 1200 for area in look(wall).keep if area.kind == "face")
    assert len(found) == 4
    for left, at in zip(found, (20, 260, 500, 760), strict=True):
        assert at < left < at + 110


def test_levels_are_found() -> None:
    flat = np.full((200, 300, 3), 90, np.uint8)
    flat[:, 150:] = 170
    found = look(flat)
    assert (found.black, found.white) == pytest.approx((90, 170), abs=1)


# --- placements -----------------------------------------------------------------------------------------------------

areas = st.builds(
    lambda x, y, w, h: KeepArea(left=x * (1 - w), top=y * (1 - h), width=w, height=h),
    st.floats(0, 1), st.floats(0, 1), st.floats(0.05, 0.4), st.floats(0.05, 0.4),
)  # fmt: skip


@settings(max_examples=80, deadline=None)
@example(KeepArea(left=0.1187, top=0.0, width=0.0508, height=0.25), 1 / 3, (7200, 2400), False, 2.0)
@given(area=areas, ratio=st.sampled_from(RATIOS), size=st.sampled_from([(6000, 4000), (4000, 6000), (4000, 4000), (7200, 2400)]),
       mirror=st.booleans(), zoom=st.floats(1, 2))  # fmt: skip
def test_one_area_is_kept_whole_wherever_it_can_be(
    area: KeepArea, ratio: float, size: tuple[int, int], mirror: bool, zoom: float
) -> None:
    photo, opening = fake_photo(1, *size, marked=(area,)), hole(ratio)
    lies = keep_areas_visible(page(opening), opening, photo, Placement(photo=photo.id, mirror=mirror, zoom=zoom))
    shows = min(1.0, ratio * photo.height / photo.width) / zoom, min(1.0, photo.width / photo.height / ratio) / zoom
    if area.width < 0.99 * shows[0] and area.height < 0.99 * shows[1]:
        assert cuts(page(opening), opening, photo, lies) == []


def test_the_real_outline_counts_not_its_box() -> None:
    corner = KeepArea(left=0.0, top=0.0, width=0.16, height=0.16)
    photo = fake_photo(1, 4000, 4000, marked=(corner,))
    square, round_ = hole(1.0), hole(1.0, outline=Ellipse(width_mm=100, height_mm=100))
    lies = Placement(photo=photo.id)
    assert cuts(page(square), square, photo, lies) == []
    (cut,) = cuts(page(round_), round_, photo, lies)
    assert cut.area == corner
    assert cut.share > 0.5


def test_gutter_trim_words_and_higher_layers_cut_as_well() -> None:
    middle = KeepArea(kind="face", left=0.4, top=0.3, width=0.2, height=0.4)
    photo = fake_photo(1, 8000, 2000, marked=(middle,))
    opening = hole(2.0, outline=Rectangle(width_mm=300, height_mm=150))
    plain = Placement(photo=photo.id)
    assert cuts(page(opening), opening, photo, plain) == []
    words = Text(id="t", text="XXX", size_pt=90, centre=(200, 200), width_mm=60, height_mm=60)
    above = hole(1.0, id="above", surface=Flat(centre=(200, 200)), outline=Rectangle(width_mm=50, height_mm=50))
    for sheet in (
        page(opening, lines=(Line(kind="gutter", axis="x", at_mm=200),)),
        page(opening, words),
        page(opening, above),
        page(opening, width_mm=205),
    ):
        assert cuts(sheet, opening, photo, plain)
        lies = first_placement(sheet, opening, photo)
        assert lies.centre[0] != pytest.approx(0.5, abs=0.02)
        assert cuts(sheet, opening, photo, lies) == []
    assert cuts(page(words, opening), opening, photo, plain) == []  # what lies below hides nothing
    hidden = words.copy_with(visible=False)
    assert cuts(page(opening, hidden), opening, photo, plain) == []


def test_a_mat_and_a_border_cut_as_well() -> None:
    head = KeepArea(kind="face", left=0.4, top=0.05, width=0.2, height=0.2)
    photo = fake_photo(1, 3000, 6000, found=Found(keep=(head,)))
    opening = hole(1.0, border=Border(width_mm=5), mat=Mat(width_mm=10, bevel_mm=1))
    # The photo's upper edge at the opening's: the frame covers the hair.
    assert cuts(page(opening), opening, photo, Placement(photo=photo.id, centre=(0.5, 0.25)))
    assert not cuts(page(hole(1.0)), hole(1.0), photo, Placement(photo=photo.id, centre=(0.5, 0.25)))
    wide = fake_photo(2, 6000, 3000, found=Found(keep=(head.copy_with(left=0.05, top=0.4),)))
    lies = first_placement(page(opening), opening, wide)
    # All the way to the left is as far as it goes; the rest would need another zoom.
    assert lies.centre[0] == pytest.approx(0.25, abs=0.02)


def test_where_not_all_can_be_kept_the_largest_is_and_a_finding_says_so() -> None:
    small = KeepArea(kind="face", left=0.0, top=0.4, width=0.08, height=0.16)
    large = KeepArea(kind="face", left=0.8, top=0.3, width=0.15, height=0.3)
    photo = fake_photo(1, 6000, 3000, found=Found(keep=(small, large)))
    opening = hole(1.0)
    job = one_sheet(page(opening), (photo,))
    job = apply(job, Fill())
    assert [c.area for c in cuts(job.sheets[0].layout, opening, photo, shown(job)["o"])] == [small]
    (finding,) = [f for f in check_job(job) if f.rule == "keep_cut"]
    assert finding.severity == "stop"
    assert finding.sentence == "Opening 1 cuts off 100 % of a face."
    # Marked by hand, the small one alone counts; bringing it into view does it.
    job = apply(
        apply(job, Mark(photo=photo.id, areas=(small.copy_with(kind="hand"),))), KeepInView(sheet="p", openings=("o",))
    )
    assert not [f for f in check_job(job) if f.rule == "keep_cut"]
    # No areas by hand: nothing needs keeping. Back to what was found: the finding is there again.
    job = apply(job, Mark(photo=photo.id, areas=()))
    assert not [f for f in check_job(job) if f.rule == "keep_cut"]
    job = apply(job, Mark(photo=photo.id, areas=None))
    assert [f for f in check_job(job) if f.rule == "keep_cut"]


def test_a_face_is_laid_with_headroom_near_the_upper_third() -> None:
    # Common practice, no source: a portrait's eyes lie near the upper third.
    head = KeepArea(kind="face", left=0.4, top=0.4, width=0.2, height=0.14)
    photo, opening = fake_photo(1, 4000, 6000, found=Found(keep=(head,))), hole(1.0)
    part = shown_part(opening, photo, first_placement(page(opening), opening, photo))
    eyes = (head.top + 0.48 * head.height - part[1]) / (part[3] - part[1])
    assert eyes == pytest.approx(1 / 3, abs=0.04)
    assert head.top - part[1] > 0.15 * head.height


def test_what_a_head_wears_is_kept_where_there_is_room_for_it() -> None:
    """It is not known, as hair is: so some room is left above, though the eyes would lie in the upper third without."""
    head = KeepArea(kind="face", left=0.35, top=0.4, width=0.3, height=0.22)
    photo, opening = fake_photo(1, 4000, 6000, found=Found(keep=(head,))), hole(1.8)
    part = shown_part(opening, photo, first_placement(page(opening), opening, photo))
    assert head.top - part[1] > 0.2 * head.height
    assert part[3] - (head.top + head.height) > 0.2 * head.height


def test_a_keep_area_lies_on_its_photo() -> None:
    with pytest.raises(ValueError, match="must lie on its photo"):
        KeepArea(left=0.9, top=0.1, width=0.2, height=0.2)

"""A sheet placed on another as a picture: it follows its source, lies as any shape lies, and never shows itself."""

import cv2
import numpy as np
import pytest

from sutaru.core.document import (
    Background,
    Corners,
    FillBox,
    Flat,
    Job,
    Layout,
    PagePicture,
    Rectangle,
    Sheet,
    Template,
    Text,
)
from sutaru.core.edits.apply import apply
from sutaru.core.errors import EditRefused
from sutaru.core.fitting import drawing_key, resolve_sheet
from sutaru.core.paint import Painter, PixelGrid, items, refuse_asset
from sutaru.core.paint.page import LivePage
from tests.conftest import one_sheet
from tests.core.arranged import EDIT, edited

QUARTERS = ("#aa2020", "#20aa20", "#2020aa", "#aaaa20")


def source() -> Layout:
    """Four quarters of a colour each, 80 x 60 mm."""
    places = ((20, 15), (60, 15), (20, 45), (60, 45))
    return Layout(width_mm=80, height_mm=60, bleed_mm=3, layers=(
        Background(id="ground", colour="#ffffff"),
        *(FillBox(id=f"q{n}", outline=Rectangle(width_mm=40, height_mm=30), surface=Flat(centre=at), colour=colour)
          for n, (at, colour) in enumerate(zip(places, QUARTERS, strict=True))),
    ))  # fmt: skip


def view(**more: object) -> PagePicture:
    fields = {
        "id": "view",
        "of": "q",
        "outline": Rectangle(width_mm=40, height_mm=30),
        "surface": Flat(centre=(60, 50)),
    }
    return PagePicture(**{**fields, **more})


def job_of(*layers: object) -> Job:
    outer = Layout(width_mm=120, height_mm=100, bleed_mm=0, layers=(Background(id="ground", colour="#e0e0e0"), *layers))
    sheets = Sheet(id="p", name="P", layout=outer), Sheet(id="q", name="Q", layout=source())
    return one_sheet(source()).copy_with(sheets=sheets)


def painted(job: Job, sheet: str = "p", ppi: float = 101.6) -> np.ndarray:
    """4 px a millimetre."""
    layout = job.sheets_by_id[sheet].layout
    layers = items(resolve_sheet(job, sheet), refuse_asset, bench=False, notes=False)
    return np.asarray(Painter(None).render(layers, PixelGrid.for_ppi(layout, ppi))[0])  # type: ignore[arg-type]


def rgb(colour: str) -> list[int]:
    return list(bytes.fromhex(colour[1:]))


def test_it_shows_the_trim_of_the_other_sheet() -> None:
    page = painted(job_of(view()))
    for (x, y), colour in zip(((50, 42), (70, 42), (50, 58), (70, 58)), QUARTERS, strict=True):
        assert page[y * 4, x * 4].tolist() == rgb(colour)
    assert page[30 * 4, 60 * 4].tolist() == page[4, 4].tolist() == rgb("#e0e0e0")
    left = np.flatnonzero((page[42 * 4] != rgb("#e0e0e0")).any(axis=1))
    assert (left[0], left[-1]) == (40 * 4, 80 * 4 - 1)


def test_on_four_corners_it_lies_as_opencv_lays_it() -> None:
    corners = ((30.0, 25.0), (95.0, 35.0), (88.0, 80.0), (22.0, 70.0))
    page = painted(job_of(view(surface=Corners(points=corners))))
    job = job_of()
    flat = painted(job, "q", 203.2)[24:-24, 24:-24]
    high, wide = flat.shape[:2]
    onto = cv2.getPerspectiveTransform(
        np.float32([[0, 0], [wide, 0], [wide, high], [0, high]]), np.float32(corners) * 4
    )
    shift = np.array([[1, 0, -0.5], [0, 1, -0.5], [0, 0, 1]])
    goal = cv2.warpPerspective(flat, shift @ onto @ np.linalg.inv(shift), (480, 400), flags=cv2.INTER_AREA)
    inside = (
        cv2.erode(
            cv2.fillConvexPoly(np.zeros((400, 480), np.uint8), np.int32(np.array(corners) * 4), 1), np.ones((9, 9))
        )
        > 0
    )
    off = np.abs(page.astype(int) - goal)[inside]
    assert off.mean() < 2.0


def test_it_follows_its_source_and_only_that_is_painted_anew() -> None:
    job = job_of(view())
    live = LivePage(Painter(None), PixelGrid.for_ppi(job.sheets[0].layout, 50.8))  # type: ignore[arg-type]
    before = live.picture(items(resolve_sheet(job, "p"), refuse_asset, bench=False, notes=False))
    changed = apply(
        job, EDIT.validate_python({"op": "set_fields", "sheet": "q", "layers": ["q3"], "fields": {"colour": "#101010"}})
    )
    after = live.picture(items(resolve_sheet(changed, "p"), refuse_asset, bench=False, notes=False))
    assert np.array_equal(after, painted(changed, ppi=50.8))
    assert after[58 * 2, 70 * 2].tolist() == rgb("#101010")
    assert np.array_equal(before[:60], after[:60])
    first = job.editions[0]
    assert drawing_key(job, "p", first, {}) != drawing_key(changed, "p", first, {})
    assert drawing_key(job, "q", first, {}) != drawing_key(changed, "q", first, {})
    plain = job_of()
    other = apply(
        plain,
        EDIT.validate_python({"op": "set_fields", "sheet": "q", "layers": ["q3"], "fields": {"colour": "#101010"}}),
    )
    assert drawing_key(plain, "p", first, {}) == drawing_key(other, "p", first, {})


def test_a_picture_of_a_picture_of_a_sheet() -> None:
    job = job_of(view())
    third = Layout(width_mm=60, height_mm=50, bleed_mm=0, layers=(
        PagePicture(id="v", of="p", outline=Rectangle(width_mm=60, height_mm=50), surface=Flat(centre=(30, 25))),
        Text(id="t", text="Both", centre=(30, 46), width_mm=30, height_mm=6, size_pt=6),
    ))  # fmt: skip
    job = apply(job, EDIT.validate_python({"op": "add_sheet", "fresh": Sheet(id="r", name="R", layout=third)}))
    seen = painted(job, "r")
    assert seen[21 * 4, 25 * 4].tolist() == rgb(QUARTERS[0])
    bands = Painter(None)  # type: ignore[arg-type]
    grid = PixelGrid.for_ppi(third, 101.6)
    layers = items(resolve_sheet(job, "r"), refuse_asset, bench=False, notes=False)
    part, _ = bands.render(layers, grid, (61, 33, 181, 150))
    assert np.array_equal(part, seen[33:150, 61:181])


@pytest.mark.parametrize(("edit", "said"), [
    ({"op": "add_layers", "sheet": "q", "layers": [view(id="back", of="p").model_dump()]}, "would show itself"),
    ({"op": "add_layers", "sheet": "p", "layers": [view(id="self", of="p").model_dump()]}, "would show itself"),
    ({"op": "add_layers", "sheet": "p", "layers": [view(id="none", of="zz").model_dump()]}, "which is not there"),
    ({"op": "remove_sheet", "gone": "q"}, "take the picture away first"),
    ({"op": "set_fields", "sheet": "p", "layers": ["view"], "fields": {"of": "p"}}, "would show itself"),
])  # fmt: skip
def test_no_sheet_shows_itself_or_one_that_is_gone(edit: dict, said: str) -> None:
    job = job_of(view())
    with pytest.raises(EditRefused, match=said):
        apply(job, EDIT.validate_python(edit))


def test_a_template_is_held_to_the_same() -> None:
    sheets = job_of(view()).sheets
    assert Template(id="t", name="T", product="album", sheets=sheets).sheets == sheets
    with pytest.raises(ValueError, match="which is not there"):
        Template(id="t", name="T", product="album", sheets=sheets[:1])


def test_it_is_moved_sized_and_turned_with_its_sheet() -> None:
    layout = job_of(view()).sheets[0].layout
    moved = edited(layout, op="carry", layers=["view"], by=[10, 0], turn_deg=90)
    assert moved.find("view").surface == Flat(centre=(70, 50), turn_deg=90)  # type: ignore[union-attr]
    turned = layout
    for _ in range(4):
        turned = edited(turned, op="turn_sheet", how="left")
    assert turned.pack() == layout.pack()
    once = edited(layout, op="turn_sheet", how="left").find("view")
    assert once.surface.turn_deg == 90  # type: ignore[union-attr]
    small = edited(layout, op="resize_sheet", width_mm=60, height_mm=50).find("view")
    assert small.outline.width_mm < 40  # type: ignore[union-attr]

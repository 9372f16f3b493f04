"""An area that is pointed at in a picture becomes the opening that a reading of the whole picture makes of it."""

import numpy as np
import pytest

from sutaru.core.document import Overlay
from sutaru.core.errors import FileRefused
from sutaru.core.formats.flat.flat_picture import read_flat
from sutaru.core.formats.flat.picked_area import pick_area_at
from tests.core.test_flat_pictures import as_flat, as_holes, made


def overlay(pixels: np.ndarray, mm: float = 0.1, **more: object) -> Overlay:
    high, wide = pixels.shape[:2]
    fields = {"centre": (wide * mm / 2, high * mm / 2), "width_mm": wide * mm, "height_mm": high * mm, **more}
    return Overlay(id="over", asset="0" * 64, **fields)


def outline(opening: object) -> np.ndarray:
    polygons = opening.outline.polygons()  # type: ignore[attr-defined]
    points = np.concatenate([opening.page_from_opening.apply(p) for p in polygons])  # type: ignore[attr-defined]
    return np.array([*points.min(axis=0), *points.max(axis=0)])


@pytest.mark.parametrize("number", range(0, 24, 3))
@pytest.mark.parametrize("how", ["holes", "flat"])
def test_each_area_that_is_pointed_at_is_the_one_that_is_read(number: int, how: str) -> None:
    truth = made(number)
    rgba = as_holes(truth) if how == "holes" else as_flat(truth, (180, 180, 180))
    rgba = rgba if rgba.shape[2] == 4 else np.dstack([rgba, np.full(rgba.shape[:2], 255, np.uint8)])
    over = overlay(rgba)
    read = read_flat(rgba, (over.width_mm, over.height_mm), "holes" if how == "holes" else "#b4b4b4")
    for opening in read.layout.openings()[:6]:
        (middle,) = opening.page_from_opening.apply([(0.0, 0.0)])
        found = pick_area_at(rgba, over, (float(middle[0]), float(middle[1])))
        assert found.opening.outline.kind == opening.outline.kind
        assert np.abs(outline(found.opening) - outline(opening)).max() < 0.08  # 0.8 px
        x, y = int(middle[0] / 0.1), int(middle[1] / 0.1)
        assert found.over[y, x, 3] == 0
        assert rgba[y, x, 3] == (0 if how == "holes" else 255)  # the picture itself is left as it was


def test_what_lies_elsewhere_in_the_picture_stays() -> None:
    rgba = np.full((300, 400, 4), (230, 220, 200, 255), np.uint8)
    rgba[50:120, 60:160] = rgba[50:120, 220:320] = (180, 180, 180, 255)
    over = overlay(rgba, centre=(120.0, 65.0))
    found = pick_area_at(rgba, over, (120.0 - 20 + 10, 65.0 - 15 + 8))
    changed = (found.over != rgba).any(axis=2)
    rows, columns = np.nonzero(changed)
    assert (rows.min(), rows.max(), columns.min(), columns.max()) == (50, 119, 60, 159)
    assert outline(found.opening) == pytest.approx([106, 55, 116, 62], abs=0.15)


@pytest.mark.parametrize(("at", "more", "said"), [
    ((1.0, 1.0), {}, "the ground of the whole picture"), ((99.0, 1.0), {}, "no picture at this place"),
    ((21.05, 21.05), {}, "no area of one colour"), ((1.0, 1.0), {"turn_deg": 10.0}, "turned or mirrored"),
    ((1.0, 1.0), {"mirrored": True}, "turned or mirrored"),
])  # fmt: skip
def test_where_there_is_none_it_says_so(at: tuple[float, float], more: dict, said: str) -> None:
    rgba = np.full((300, 400, 4), (230, 220, 200, 255), np.uint8)
    rgba[210:212, 210:212] = (10, 10, 10, 255)
    with pytest.raises(FileRefused, match=said):
        pick_area_at(rgba, overlay(rgba, **more), at)

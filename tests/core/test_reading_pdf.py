"""PDF pages as guides and as flat pictures: their boxes by pikepdf, however the page is turned; what cannot be read."""

import io

import numpy as np
import pikepdf
import pytest
from pikepdf import Array, Dictionary, Name, Stream

from sutaru.core.document import Overlay
from sutaru.core.errors import FileRefused
from sutaru.core.formats.foreign.foreign_file import read_foreign
from sutaru.core.formats.foreign.read_result import pixels_of
from sutaru.core.measure import mm_from_points, points_from_mm

TRIM = (200.0, 120.0)


def pdf(drawing: str = "", pages: int = 1, turn: int = 0, password: str = "", **boxes: list[float]) -> bytes:
    mm = points_from_mm
    media = [0, 0, mm(TRIM[0] + 20), mm(TRIM[1] + 30)]
    with pikepdf.new() as made:
        for _ in range(pages):
            page = Dictionary(Type=Name.Page, MediaBox=Array(media), Contents=Stream(made, drawing.encode()), Rotate=turn,
                              **{name: Array([round(mm(v), 4) for v in box]) for name, box in boxes.items()})  # fmt: skip
            made.pages.append(pikepdf.Page(made.make_indirect(page)))
        buffer = io.BytesIO()
        made.save(buffer, encryption=pikepdf.Encryption(owner=password, user=password) if password else False)
    return buffer.getvalue()


BOXES = {"TrimBox": [10, 12, 210, 132], "BleedBox": [7, 8, 213, 136]}


def test_a_page_in_another_unit_is_as_large_as_it_says() -> None:
    """ISO 32000-1, table 30: pages larger than 200 in are told in units of several points."""
    hole = "0.9 0.1 0.9 rg 100 100 200 150 re f"
    with pikepdf.open(io.BytesIO(pdf(hole, **BOXES))) as made:
        made.pages[0].obj.UserUnit = 2.5
        buffer = io.BytesIO()
        made.save(buffer)
    for guide in (True, False):
        (sheet,) = read_foreign(buffer.getvalue(), "large.pdf", guide=guide).sheets
        size = sheet.layout.width_mm, sheet.layout.height_mm
        assert size == pytest.approx((2.5 * TRIM[0], 2.5 * TRIM[1]), abs=0.03)
        if guide:
            assert sheet.layout.bleed_mm == pytest.approx(7.5, abs=0.02)


@pytest.mark.parametrize("turn", [0, 90, 180, 270])
def test_a_blank_is_laid_as_a_guide_by_its_boxes(turn: int) -> None:
    """A red square in the trim's corner that is low on the left lies there, however the page is turned."""
    x, y = points_from_mm(10), points_from_mm(12)
    read = read_foreign(
        pdf(f"1 0 0 rg {x} {y} {points_from_mm(20)} {points_from_mm(20)} re f", turn=turn, **BOXES),
        "blank.pdf",
        guide=True,
    )
    (sheet,) = read.sheets
    size = TRIM if turn % 180 == 0 else TRIM[::-1]
    assert (sheet.layout.width_mm, sheet.layout.height_mm) == pytest.approx(size, abs=0.01)
    assert sheet.layout.bleed_mm == pytest.approx(3, abs=0.01)
    (guide,) = sheet.layout.leaves
    assert isinstance(guide, Overlay)
    assert guide.guide
    assert guide.place_locked
    pixels = pixels_of(read.files[guide.asset])
    red = (pixels[..., 0] > 200) & (pixels[..., 1] < 80)
    rows, columns = np.nonzero(red)
    k = guide.width_mm / pixels.shape[1]
    left, top = guide.centre[0] - guide.width_mm / 2, guide.centre[1] - guide.height_mm / 2
    seen = left + columns.min() * k, top + rows.min() * k, left + (columns.max() + 1) * k, top + (rows.max() + 1) * k
    w, h = size
    goal = {0: (0, h - 20, 20, h), 90: (0, 0, 20, 20), 180: (w - 20, 0, w, 20), 270: (w - 20, h - 20, w, h)}[turn]
    assert seen == pytest.approx(goal, abs=0.2)


def test_each_page_becomes_a_sheet_and_without_boxes_the_media_box_is_the_trim() -> None:
    read = read_foreign(pdf(pages=3), "blank.pdf", guide=True)
    assert [sheet.name for sheet in read.sheets] == ["Page 1", "Page 2", "Page 3"]
    layout = read.sheets[0].layout
    assert (layout.width_mm, layout.height_mm, layout.bleed_mm) == pytest.approx((220, 150, 0), abs=0.01)
    many = read_foreign(pdf(pages=30), "blank.pdf", guide=True)
    assert len(many.sheets) == 24
    assert many.notes == ("Only the first 24 of 30 pages were taken.",)


def test_areas_of_a_page_become_openings_where_they_lie() -> None:
    areas = [(20, 30, 60, 40), (100, 30, 70, 50)]
    drawing = "0.93 0.88 0.8 rg 0 0 900 900 re f 0.5 g " + " ".join(
        "{} {} {} {} re f".format(*(points_from_mm(v) for v in (10 + x, 12 + TRIM[1] - y - h, w, h)))
        for x, y, w, h in areas
    )
    read = read_foreign(pdf(drawing, **BOXES), "page.pdf", "#808080")
    layout = read.sheets[0].layout
    assert (layout.width_mm, layout.height_mm) == pytest.approx(TRIM, abs=0.01)
    assert read.how == "#808080"
    for (kind, outline), (x, y, w, h) in zip(read.outlines, areas, strict=True):
        assert kind == "rectangle"
        found = np.array(outline)
        assert [*found.min(axis=0), *found.max(axis=0)] == pytest.approx([x, y, x + w, y + h], abs=0.1)


def test_a_large_page_stays_within_the_budget_of_pixels() -> None:
    side = 4000.0
    with pikepdf.new() as made:
        made.add_blank_page(page_size=(points_from_mm(side), points_from_mm(side)))
        buffer = io.BytesIO()
        made.save(buffer)
    read = read_foreign(buffer.getvalue(), "wall.pdf", guide=True)
    guide = read.sheets[0].layout.leaves[0]
    assert isinstance(guide, Overlay)
    assert mm_from_points(points_from_mm(side)) == pytest.approx(read.sheets[0].layout.width_mm, abs=0.5)
    assert 15_000_000 < pixels_of(read.files[guide.asset])[..., 0].size < 21_000_000


@pytest.mark.parametrize(("data", "said"), [
    (b"%PDF-1.7 nonsense", "not a PDF that can be read"), (pdf(password="wind"), "not a PDF that can be read"),
])  # fmt: skip
def test_what_is_no_pdf_that_can_be_read_gets_a_sentence(data: bytes, said: str) -> None:
    with pytest.raises(FileRefused, match=said):
        read_foreign(data, "bad.pdf", guide=True)

"""OpenRaster: written files read by pyora and laid on one another are what is printed; files of others are read as they lie."""

import io
import json
import zipfile
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import numpy as np
import pyora
import pytest
from PIL import Image

from sutaru.core.document import Job, Making, Photo
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import BringIn, Fill
from sutaru.core.errors import FileRefused
from sutaru.core.fitting import resolve_sheet
from sutaru.core.formats.foreign.foreign_file import read_foreign
from sutaru.core.paint import Painter, PixelGrid, items
from sutaru.core.photos import PhotoPixels
from sutaru.core.press import openraster
from sutaru.core.press.exporting import export
from tests.conftest import LABS, one_sheet
from tests.core.arranged import SHELF

PPI = 60


def filled(name: str, pile: list[tuple[Path, Photo]]) -> tuple[Job, PhotoPixels]:
    template = SHELF.templates[name]
    job = Job(name=name, template=name, product=template.product, sheets=template.sheets, lab=LABS["gullwing-300"],
              making=Making())  # fmt: skip
    paths = {photo.id: path for path, photo in pile}
    job = apply(apply(job, BringIn(photos=tuple(photo for _, photo in pile))), Fill())
    return job, PhotoPixels(lambda photo: paths[photo.id])


def written(
    tmp_path: Path, name: str, pile: list[tuple[Path, Photo]], transparent: bool = False
) -> tuple[Path, np.ndarray]:
    job, pixels = filled(name, pile)
    sheet = job.sheets[0]
    grid = PixelGrid.for_ppi(sheet.layout, PPI)
    layers = items(resolve_sheet(job, sheet.id), SHELF.asset, bench=False, notes=False, transparent=transparent)
    target = tmp_path / f"{name}.ora"
    with ThreadPoolExecutor(2) as pool:
        painter = Painter(pixels, pool)
        openraster.write(target, sheet.layout, layers, painter, grid, "srgb", transparent)
        rgb, alpha = painter.render(layers, grid, transparent=transparent)
    return target, rgb if alpha is None else np.dstack([rgb, alpha])


@pytest.mark.parametrize(
    "name", ["collage-wind", "collage-line", "album-spread-porch", "mockup-flag", "card-lanterns", "poster-festival"]
)
def test_layers_laid_on_one_another_are_what_is_printed(
    name: str, tmp_path: Path, pile: list[tuple[Path, Photo]]
) -> None:
    target, page = written(tmp_path, name, pile)
    project = pyora.Project.load(str(target))
    assert tuple(project.dimensions) == (page.shape[1], page.shape[0])
    merged = np.asarray(project.get_image_data(use_original=True).convert("RGB")).astype(int)
    assert np.array_equal(merged, page)
    laid = np.asarray(project.get_image_data(use_original=False).convert("RGB")).astype(int)
    off = np.abs(laid - page.astype(int))
    assert off.mean() < 0.2
    assert np.percentile(off, 99.9) <= 3  # rounding, once a layer
    names = [layer.name for layer in project.children_recursive]
    assert len(names) >= len(SHELF.templates[name].sheets[0].layout.openings())


def test_each_photo_is_whole_on_a_layer_of_its_own(tmp_path: Path, pile: list[tuple[Path, Photo]]) -> None:
    target, _ = written(tmp_path, "collage-line", pile)
    layers = {layer.name: layer for layer in pyora.Project.load(str(target)).children_recursive}
    layout = SHELF.templates["collage-line"].sheets[0].layout
    for opening in layout.openings():
        own = layers[opening.name or opening.id]
        picture = np.asarray(own.get_image_data(raw=True))
        assert picture.shape[2] == 4
        assert (picture[..., 3] == 255).mean() > 0.5  # the photo and its frame
        x, y = own.offsets
        middle = opening.page_from_opening.apply([(0.0, 0.0)])[0]
        k = PPI / 25.4
        assert x < (middle[0] + 3) * k < x + picture.shape[1]
        assert y < (middle[1] + 3) * k < y + picture.shape[0]


def test_the_file_keeps_to_the_specification(tmp_path: Path, pile: list[tuple[Path, Photo]]) -> None:
    """OpenRaster file layout, version 0.0.5: the type first and not compressed; a merged picture; a thumbnail of 256 px."""
    target, page = written(tmp_path, "collage-line", pile, transparent=True)
    with zipfile.ZipFile(target) as packed:
        first = packed.infolist()[0]
        assert (first.filename, first.compress_type, packed.read(first)) == ("mimetype", 0, b"image/openraster")
        with Image.open(io.BytesIO(packed.read("Thumbnails/thumbnail.png"))) as small:
            assert max(small.size) == 256
        with Image.open(io.BytesIO(packed.read("mergedimage.png"))) as merged:
            assert np.array_equal(np.asarray(merged), page)
            assert merged.info["icc_profile"]
    assert page[..., 3].min() == 0  # without its background


def test_a_job_is_exported_as_layers(tmp_path: Path, pile: list[tuple[Path, Photo]]) -> None:
    from datetime import UTC, datetime

    job, pixels = filled("postcard-two", pile)
    paths = export(job, tmp_path, pixels, datetime(2026, 6, 20, tzinfo=UTC), "ora", assets=SHELF.asset)
    assert [path.suffix for path in paths] == [".ora", ".ora", ".json"]
    told = json.loads(paths[-1].read_text())
    assert told["format"] == "ora"
    project = pyora.Project.load(str(paths[0]))
    assert list(project.dimensions) == [told["files"][0]["width_px"], told["files"][0]["height_px"]]


def foreign(tmp_path: Path, **more: object) -> bytes:
    """A file as another program writes it, by pyora: paper, two layers called openings, a frame, a group."""
    project = pyora.Project.new(600, 400)
    paper = Image.new("RGBA", (600, 400), "#e9dfcb")
    project.add_layer(paper, path="/Paper")
    grey = Image.new("RGBA", (200, 150), "#808080")
    project.add_layer(grey, path="/Opening one", offsets=(40, 60))
    round_ = Image.new("RGBA", (160, 160), (0, 0, 0, 0))
    rows, columns = np.mgrid[0:160, 0:160] + 0.5
    alpha = np.clip(78.5 - np.hypot(rows - 80, columns - 80), 0, 1) * 255
    round_ = Image.fromarray(np.dstack([np.full((160, 160, 3), 90), alpha]).astype(np.uint8))
    project.add_layer(round_, path="/photo 2", offsets=(380, 120))
    frame = np.zeros((400, 600, 4), np.uint8)
    frame[:12] = frame[-12:] = (180, 83, 42, 255)
    group = project.add_group(path="/Frames")
    project.add_layer(Image.fromarray(frame), path="/Frames/Edge", opacity=0.5, composite_op="svg:multiply")
    group.visible = bool(more.get("shown", True))
    target = tmp_path / "other.ora"
    project.save(str(target))
    return target.read_bytes()


def test_layers_of_other_programs_are_read_as_they_lie(tmp_path: Path) -> None:
    read = read_foreign(foreign(tmp_path), "other.ora", size_mm=None)
    layout = read.sheets[0].layout
    assert (layout.width_mm, layout.height_mm) == pytest.approx(
        (600 / 72 * 25.4, 400 / 72 * 25.4)
    )  # 72 ppi, as pyora writes
    assert [layer.kind for layer in layout.layers] == ["overlay", "opening", "opening", "group"]
    assert layout.layers[0].name == "Paper"
    first, second = layout.openings()
    px = 25.4 / 72
    assert (first.outline.width_mm, first.outline.height_mm) == pytest.approx((200 * px, 150 * px), abs=2.5 * px)
    assert first.surface.centre == pytest.approx((140 * px, 135 * px), abs=0.6 * px)  # type: ignore[union-attr]
    assert second.outline.kind == "ellipse"
    edge = layout.leaves[-1]
    assert (edge.blend, edge.opacity, edge.name) == ("multiply", 0.5, "Edge")
    page = Painter(None).render(
        items(resolve_sheet(one_sheet(layout), "p"), read.files.__getitem__, False, False),
        PixelGrid.for_ppi(layout, 72),
    )[0]  # type: ignore[arg-type]
    assert page.shape == (400, 600, 3)
    assert tuple(page[200, 20]) == (0xE9, 0xDF, 0xCB)
    mixed = [round(a * (0.5 + 0.5 * b / 255)) for a, b in zip((0xE9, 0xDF, 0xCB), (180, 83, 42), strict=True)]
    assert np.abs(page[4, 300].astype(int) - mixed).max() <= 1


def test_flat_layers_are_openings_when_that_is_said(tmp_path: Path) -> None:
    read = read_foreign(foreign(tmp_path), "other.ora", "#808080")
    assert len(read.sheets[0].layout.openings()) == 2
    hidden = read_foreign(foreign(tmp_path, shown=False), "other.ora").sheets[0].layout
    assert not hidden.leaves[-1].visible


def test_a_sheet_that_went_out_comes_back_with_its_openings(tmp_path: Path, pile: list[tuple[Path, Photo]]) -> None:
    target, _ = written(tmp_path, "album-spread-nine", pile)
    layout = read_foreign(target.read_bytes(), "own.ora").sheets[0].layout
    before = SHELF.templates["album-spread-nine"].sheets[0].layout
    assert len(layout.openings()) == len(before.openings())
    assert (layout.width_mm, layout.height_mm) == pytest.approx((before.width_mm + 6, before.height_mm + 6), abs=0.5)


def _zip(files: dict[str, bytes]) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as packed:
        for name, data in files.items():
            packed.writestr(name, data)
    return buffer.getvalue()


KIND = {"mimetype": b"image/openraster"}


@pytest.mark.parametrize(("data", "said"), [
    (b"PK\x03\x04nonsense", "not an OpenRaster file"), (_zip({"a": b"b"}), "not an OpenRaster file"), (_zip(KIND), "not an OpenRaster file"),
    (_zip(KIND | {"stack.xml": b"<image w='9'"}), "not an OpenRaster file"), (_zip(KIND | {"stack.xml": b"<image/>"}), "how large it is"),
    (_zip(KIND | {"stack.xml": b"<image w='9' h='9'><stack/></image>"}), "has no layers"),
    (_zip(KIND | {"stack.xml": b"<!DOCTYPE image [<!ENTITY a 'b'>]><image w='9' h='9'/>"}), "document type"),
    (_zip(KIND | {"stack.xml": b"<image w='9' h='9'><stack>" + b"<layer src='a.png'/>" * 400 + b"</stack></image>"}), "(not an OpenRaster|300 layers)"),
    (_zip(KIND | {"stack.xml": b"<image w='9' h='9'><stack><layer src='../../etc/passwd.png'/></stack></image>"}), "not an OpenRaster file"),
    (_zip(KIND | {"stack.xml": b"<image w='9' h='9'><stack><layer src='a.png'/></stack></image>", "a.png": b"\x89PNG"}), "not an OpenRaster file"),
    (_zip(KIND | {"stack.xml": b"<image w='1e9' h='9'><stack/></image>"}), "not an OpenRaster file"),
])  # fmt: skip
def test_what_is_no_openraster_gets_a_sentence(data: bytes, said: str) -> None:
    with pytest.raises(FileRefused, match=said):
        read_foreign(data, "bad.ora")

"""Flat pictures read into openings, against a generator of known truth: shapes drawn by supersampling, frames over them."""

import io
from dataclasses import dataclass

import cv2
import numpy as np
import pytest
from PIL import Image, ImageDraw

from sutaru.core.document import Job, LabSheet, Photo
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import BringIn, Put
from sutaru.core.errors import FileRefused
from sutaru.core.fitting import resolve_sheet
from sutaru.core.formats.flat.flat_picture import FlatRead, read_flat
from sutaru.core.paint import Painter, PixelGrid, items
from tests.conftest import fake_photo
from tests.core.arranged import edited
from tests.core.arranged import opening as drawn_opening

FINE = 8  # times as dense are shapes drawn, then averaged
PLAIN = {"plain": "rectangle", "turned": "rectangle", "rounded": "rounded", "ellipse": "ellipse", "slanted": "corners"}
PHOTO = (70, 130, 180)


@dataclass
class Truth:
    """A template as it was made: coverage of its openings, the frame over them, each opening's kind and corners or ring."""

    cover: np.ndarray
    frame: np.ndarray
    shapes: list[tuple[str, np.ndarray]]

    @property
    def size(self) -> tuple[int, int]:
        return self.cover.shape[1], self.cover.shape[0]


def _ring(kind: str, rng: np.random.Generator, box: tuple[float, float, float, float]) -> tuple[np.ndarray, np.ndarray]:
    """The outline to be drawn, and the corners (or ring) it is known by."""
    x0, y0, x1, y1 = box
    middle, half = np.array([(x0 + x1) / 2, (y0 + y1) / 2]), np.array([(x1 - x0) / 2, (y1 - y0) / 2])
    four = middle + np.array([(-1, -1), (1, -1), (1, 1), (-1, 1)]) * half
    t = np.linspace(0, 2 * np.pi, 400, endpoint=False)
    if kind == "ellipse":
        ring = middle + np.stack([np.cos(t), np.sin(t)], 1) * half
        return ring, ring
    if kind == "rounded":
        r = 0.3 * half.min()
        corners = [middle + s * (half - r) for s in ((1, 1), (-1, 1), (-1, -1), (1, -1))]
        arcs = [c + r * np.stack([np.cos(a), np.sin(a)], 1)
                for c, a in zip(corners, (np.linspace(n, n + 1, 60) * np.pi / 2 for n in range(4)), strict=True)]  # fmt: skip
        return np.vstack(arcs), four
    if kind == "turned":
        a = np.radians(rng.uniform(-25, 25))
        turn = np.array([[np.cos(a), -np.sin(a)], [np.sin(a), np.cos(a)]])
        about = np.abs(turn) @ (2 * half)  # of the box about it once turned: it stays in its own place
        four = middle + (four - middle) * 0.97 * float(np.min(2 * half / about)) @ turn.T
    if kind == "slanted":
        four = middle + (four - middle) * (1 - rng.uniform(0.02, 0.28, (4, 2)))
    if kind == "star":
        r = np.where(np.arange(10) % 2, 0.45, 1.0)[:, None]
        a = np.arange(10) * np.pi / 5 - np.pi / 2
        ring = middle + r * np.stack([np.cos(a), np.sin(a)], 1) * half
        return ring, ring
    return four, four


def _covered(size: tuple[int, int], ring: np.ndarray) -> np.ndarray:
    width, height = size
    found = np.zeros((height, width), np.float32)
    x0, y0 = np.maximum(np.floor(ring.min(axis=0)).astype(int) - 1, 0)
    x1, y1 = np.minimum(np.ceil(ring.max(axis=0)).astype(int) + 1, size)
    fine = Image.new("L", ((x1 - x0) * FINE, (y1 - y0) * FINE), 0)
    ImageDraw.Draw(fine).polygon([tuple(p) for p in (ring - (x0, y0)) * FINE - 0.5], fill=255)
    part = np.asarray(fine, np.float32).reshape(y1 - y0, FINE, x1 - x0, FINE).mean(axis=(1, 3)) / 255
    found[y0:y1, x0:x1] = part
    return found


def made(seed: int, width: int = 1300, height: int = 900) -> Truth:
    """A template by number: grids, scattered, slanted, rounded, ellipses, thin lines, textures, shadows."""
    rng = np.random.default_rng(seed)
    columns, rows = int(rng.integers(1, 5)), int(rng.integers(1, 4))
    gap = (3.0, 14.0, 40.0)[seed % 3]
    margin = rng.uniform(30, 70)
    wide, high = (width - 2 * margin - (columns - 1) * gap) / columns, (height - 2 * margin - (rows - 1) * gap) / rows
    kinds = (
        ("plain",),
        ("rounded",),
        ("ellipse",),
        ("turned",),
        ("slanted",),
        ("plain", "ellipse", "slanted", "rounded"),
    )[seed // 3 % 6]
    cover, shapes = np.zeros((height, width), np.float32), []
    for row in range(rows):
        for column in range(columns):
            kind = kinds[int(rng.integers(len(kinds)))]
            x, y = margin + column * (wide + gap), margin + row * (high + gap)
            ring, known = _ring(kind, rng, (x, y, x + wide, y + high))
            cover = np.maximum(cover, _covered((width, height), ring))
            shapes.append((kind, known))
    base = np.array(((188, 60, 44), (40, 88, 112), (214, 190, 140), (92, 110, 70))[seed % 4], np.float32)
    frame = np.broadcast_to(base, (height, width, 3)).copy()
    if seed % 5 == 1:  # paper
        frame += rng.normal(0, 5, (height, width, 1)).astype(np.float32)
    if seed % 5 == 2:  # light across it
        frame *= np.linspace(0.7, 1.1, width, dtype=np.float32)[None, :, None]
    return Truth(cover, np.clip(frame, 0, 255).astype(np.uint8), shapes)


def as_holes(truth: Truth) -> np.ndarray:
    alpha = np.rint(255 * (1 - truth.cover)).astype(np.uint8)
    return np.dstack([truth.frame, alpha])


def as_flat(truth: Truth, colour: tuple[int, int, int], jpeg: int = 0, subsampling: int = 0) -> np.ndarray:
    c = truth.cover[..., None]
    rgb = np.rint(c * np.array(colour, np.float32) + (1 - c) * truth.frame).astype(np.uint8)
    if jpeg:
        buffer = io.BytesIO()
        Image.fromarray(rgb).save(buffer, "JPEG", quality=jpeg, subsampling=subsampling)
        rgb = np.asarray(Image.open(buffer).convert("RGB"))
    return np.dstack([rgb, np.full(truth.cover.shape, 255, np.uint8)])


def errors(read: FlatRead, truth: Truth) -> np.ndarray:
    """How far corners (or rings) as they were understood lie off those known, px. All are found, none is invented."""
    assert len(read.openings) == len(truth.shapes)
    found = []
    for _, known in truth.shapes:
        middle = known.mean(axis=0)
        near = min(read.openings, key=lambda one: float(np.hypot(*(one.outline.mean(axis=0) - middle))))
        away = np.hypot(*(known[:, None] - near.outline[None]).transpose(2, 0, 1))
        if near.kind == "mask":
            continue  # its ring has no corners: how well it follows is told by the picture painted with it
        # Of a ring any point may be the nearest; of corners each its own.
        if len(known) == 4:
            found += away.min(axis=1).tolist()
        elif near.kind == "ellipse":
            found.append(abs(float(np.ptp(near.outline[:, 0]) - np.ptp(known[:, 0]))) / 2)
            found.append(float(np.hypot(*(near.outline.mean(axis=0) - middle))))
    return np.array(found)


def psnr(read: FlatRead, truth: Truth) -> float:
    """Our page with a photo in every opening, beside the generator's own."""
    lab = LabSheet(id="lab", name="Lab", ppi_target=300, ppi_least=100)
    from sutaru.core.document import Sheet

    job = Job(name="Read", template="read", product="collage", lab=lab,
              sheets=(Sheet(id="sheet", name="Sheet", layout=read.layout),))  # fmt: skip
    photos = tuple(fake_photo(n, 3000, 3000) for n in range(len(read.openings)))
    job = apply(job, BringIn(photos=photos))
    for opening, photo in zip(read.layout.openings(), photos, strict=True):
        job = apply(job, Put(sheet="sheet", opening=opening.id, photo=photo.id))

    def pixels(photo: Photo, scale: float, space: str = "srgb", depth: int = 8) -> np.ndarray:
        return np.broadcast_to(np.array(PHOTO, np.uint8), (300, 300, 3)).copy()

    grid = PixelGrid.for_ppi(read.layout, 25.4 * truth.size[0] / read.layout.width_mm)
    rgb, _ = Painter(pixels).render(
        items(resolve_sheet(job, "sheet"), read.files.__getitem__, bench=False, notes=False), grid
    )
    c = truth.cover[..., None]
    goal = c * np.array(PHOTO, np.float32) + (1 - c) * truth.frame
    rgb = np.asarray(rgb)[: truth.size[1], : truth.size[0], :3]
    return float(10 * np.log10(255**2 / np.mean((rgb - goal) ** 2)))


def size(truth: Truth) -> tuple[float, float]:
    return truth.size[0] / 300 * 25.4, truth.size[1] / 300 * 25.4


@pytest.mark.parametrize("seed", range(80))
def test_every_opening_of_a_made_template_is_found_where_it_is(seed: int) -> None:
    truth = made(seed)
    way = seed % 4
    if way == 0:
        read = read_flat(as_holes(truth), size(truth))
    else:
        colour = ((255, 255, 255), (128, 128, 128), (0, 0, 0), (40, 220, 90))[seed // 4 % 4]
        jpeg = 75 if way == 3 else 0
        asked = "" if way == 1 else "#" + bytes(colour).hex()
        read = read_flat(as_flat(truth, colour, jpeg), size(truth), asked or "flat", 16 if jpeg else 10)
    off = errors(read, truth)
    if len(off):
        assert np.median(off) < 0.5
        assert np.percentile(off, 95) < 1.5
    kinds = sorted(PLAIN[kind] for kind, _ in truth.shapes)
    assert sorted(one.kind for one in read.openings) == kinds
    if way < 3:
        assert psnr(read, truth) > 38


@pytest.mark.parametrize("seed", range(2, 80, 7))
@pytest.mark.parametrize("quality", [60, 80])
def test_shapes_of_a_jpeg_are_those_that_were_drawn(seed: int, quality: int) -> None:
    """As cameras and most programs write them, with colours at half the resolution (4:2:0); nothing is said of that."""
    truth = made(seed)
    colour = ((255, 255, 255), (128, 128, 128), (0, 0, 0), (40, 220, 90))[seed // 4 % 4]
    read = read_flat(as_flat(truth, colour, quality, 2), size(truth), "#" + bytes(colour).hex())
    off = errors(read, truth)
    assert np.max(off, initial=0) < 1.0
    assert sorted(one.kind for one in read.openings) == sorted(PLAIN[kind] for kind, _ in truth.shapes)


def shadowed(seed: int) -> Truth:
    """A made template on a pale board, each opening with a soft shadow beside it."""
    truth = made(seed)
    fallen = cv2.GaussianBlur(np.roll(truth.cover, (9, 6), axis=(0, 1)), (0, 0), 6)
    board = 255 - (255 - truth.frame.astype(np.float32)) * 0.35
    return Truth(truth.cover, np.clip(board * (1 - 0.45 * fallen[..., None]), 0, 255).astype(np.uint8), truth.shapes)


@pytest.mark.parametrize("seed", range(1, 80, 8))
@pytest.mark.parametrize("way", ["holes", "white", "grey"])
def test_a_soft_shadow_is_no_opening_and_stays(seed: int, way: str) -> None:
    """Beside a shadow an edge is told less well: where it passes through the area's own colour a mask follows it."""
    if way == "grey" and seed % 3 == 0:
        pytest.skip("a line of three pixels, in a shadow as grey as the areas, parts nothing")
    truth = shadowed(seed)
    colour = {"white": (255, 255, 255), "grey": (150, 150, 150)}.get(way, (0, 0, 0))
    pixels = as_holes(truth) if way == "holes" else as_flat(truth, colour)
    read = read_flat(pixels, size(truth), "holes" if way == "holes" else "#" + bytes(colour).hex())
    off = errors(read, truth)
    if len(off):
        assert np.median(off) < (0.5 if way == "holes" else 1.0)
        assert np.percentile(off, 95) < (1.5 if way == "holes" else 2.5)
    assert psnr(read, truth) > 36


def test_a_picture_of_24_megapixels_is_read_as_exactly() -> None:
    truth = made(17, 6000, 4000)
    read = read_flat(as_flat(truth, (255, 255, 255)), size(truth), "#ffffff")
    off = errors(read, truth)
    assert np.median(off) < 0.5
    assert np.percentile(off, 95) < 1.5


def test_other_shapes_become_soft_masks() -> None:
    truth = made(0)
    ring, known = _ring("star", np.random.default_rng(1), (200, 150, 800, 700))
    star = Truth(_covered(truth.size, ring), truth.frame, [("star", known)])
    read = read_flat(as_holes(star), size(star))
    assert [one.kind for one in read.openings] == ["mask"]
    assert len(read.files) == 2
    assert "became masks" in read.notes[0]
    assert psnr(read, star) > 38


def test_a_picture_can_be_kept_whole_as_the_frame_of_openings_drawn_on_it() -> None:
    truth = made(5)
    read = read_flat(as_flat(truth, (255, 255, 255)), size(truth), "none")
    kinds = [layer.kind for layer in read.layout.layers]
    assert kinds == ["background", "overlay"]
    assert not any(layer.guide for layer in read.layout.layers if layer.kind == "overlay")  # it prints
    # What is drawn next lies above the picture, so that it shows around.
    drawn = edited(read.layout, op="add_layers", layers=[drawn_opening("one", 50, 40).model_dump()])
    assert [layer.id for layer in drawn.layers][-1] == "one"


def test_what_has_no_openings_says_so() -> None:
    plain = np.full((300, 400, 4), 255, np.uint8)
    with pytest.raises(FileRefused, match="no areas of one colour"):
        read_flat(plain, (100, 75), "flat")
    with pytest.raises(FileRefused, match="no transparent holes"):
        read_flat(plain, (100, 75), "holes")
    with pytest.raises(FileRefused, match="No opening was found"):
        read_flat(plain, (100, 75), "#ff0000")


def test_letters_and_dots_are_no_openings_and_numbers_go_as_one_reads() -> None:
    truth = made(1, 1300, 900)
    picture = as_flat(truth, (255, 255, 255))
    draw = Image.fromarray(picture[..., :3])
    ImageDraw.Draw(draw).ellipse((8, 8, 16, 16), fill=(255, 255, 255))
    picture = np.dstack([np.asarray(draw), picture[..., 3]])
    read = read_flat(picture, size(truth), "#ffffff")
    assert len(read.openings) == len(truth.shapes)
    rows = [opening.surface.centre[1] for opening in read.layout.openings()]
    assert [round(y) for y in rows] == sorted(round(y) for y in rows)
    assert list(read.layout.numbers) == [f"opening-{n}" for n in range(1, len(rows) + 1)]

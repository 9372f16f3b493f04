"""Pages of any size: the same pixels whatever the bands, edges that meet without a line, large files in little memory."""

import io
import subprocess
import sys
from pathlib import Path as File

import cv2
import numpy as np
import pytest
from PIL import Image

from sutaru.core.document import (
    Background,
    Border,
    Corners,
    Echo,
    Ellipse,
    FillBox,
    Flat,
    Grid,
    Layout,
    Light,
    Mat,
    Opening,
    Path,
    Photo,
    Placement,
    Rectangle,
    Roll,
    Shadow,
)
from sutaru.core.formats.masks import read_mask
from sutaru.core.geometry.maps import Projective
from sutaru.core.paint import Painter, PixelGrid, items
from sutaru.core.paint import grid as grid_module
from sutaru.core.paint.sampling import sample
from sutaru.core.photos.photo_file import eighths
from sutaru.core.press import raster
from tests.conftest import fake_photo, first, noise, one_sheet

PHOTO = fake_photo(1, 1500, 1000)
IMAGE = noise(1000, 1500, 3)


def soft_disc(side: int = 120) -> bytes:
    """A mask picture: white on black, its edge a ramp a quarter of its width wide."""
    y, x = np.mgrid[:side, :side] - (side - 1) / 2
    value = np.clip((side * 0.48 - np.hypot(x, y)) / (side * 0.25), 0, 1) * 255
    out = io.BytesIO()
    Image.fromarray(value.astype(np.uint8)).save(out, "PNG")
    return out.getvalue()


def dressed() -> Layout:
    """A sheet with every effect, each across the places where it may be cut into bands."""
    mask = read_mask(soft_disc(), "luminance", 60, 60)
    net = np.stack(np.meshgrid(np.linspace(120, 190, 4), np.linspace(20, 150, 4)), -1)
    net[1:3, 1:3] += (6, -4)

    def opening(name: str, outline: object, surface: object, **more: object) -> Opening:
        return Opening(id=name, outline=outline, surface=surface, **more)

    drop = Shadow(distance_mm=4, blur_mm=9)
    return Layout(
        width_mm=200, height_mm=180, bleed_mm=0, light=Light(from_deg=60),
        layers=(
            Background(id="bg", colour="#d8d0c0"),
            opening("flat", Rectangle(width_mm=50, height_mm=120), Flat(centre=(32, 70), turn_deg=7), shadow=drop,
                    mat=Mat(width_mm=5, bevel_mm=3), border=Border(width_mm=2, side="centred")),
            opening("slanted", Rectangle(width_mm=50, height_mm=120),
                    Corners(points=((66, 10), (110, 40), (110, 110), (66, 150))), shadow=drop.copy_with(kind="lifted")),
            opening("bent", Ellipse(width_mm=50, height_mm=120), Grid(net=net.tolist()), opacity=0.8, shadow=drop,
                    mat=Mat(width_mm=4, bevel_mm=2)),
            opening("round", Rectangle(width_mm=60, height_mm=100), Roll(centre=(90, 110), radius_mm=40, tilt_deg=20)),
            opening("soft", mask, Flat(centre=(160, 140), turn_deg=30)),
            Echo(id="echo", of="flat", soften_mm=6, reach=1.2),
            Echo(id="again", of="bent", how="repeat", surface=Flat(centre=(150, 100)), soften_mm=2, darken=0.2),
        ),
    )  # fmt: skip


def drawn(layout: Layout, **placements: Placement) -> list:
    lies = {o.id: Placement(photo=PHOTO.id, zoom=1.3, turn_deg=4) for o in layout.openings()} | placements
    return items(first(one_sheet(layout, (PHOTO,), lies)), lambda name: soft_disc(), False, False)


def painter() -> Painter:
    return Painter(lambda photo, scale, space, depth: IMAGE)


def test_the_same_pixels_whatever_the_bands(monkeypatch: pytest.MonkeyPatch) -> None:
    layout = dressed()
    grid, layers = PixelGrid.for_ppi(layout, 230), drawn(layout)
    assert grid.size == (1811, 1630)
    whole, _ = painter().render(layers, grid)
    assert len(np.unique(whole.reshape(-1, 3), axis=0)) > 20_000  # there is something to see
    for rows in (1, 2):
        monkeypatch.setattr(grid_module, "WHOLE", 0)
        monkeypatch.setattr(grid_module, "BAND", rows * 512 * grid.size[0])
        banded = PixelGrid.for_ppi(layout, 230)
        assert banded.band_rows == 512 * rows
        got, _ = painter().render(layers, banded)
        assert np.array_equal(got, whole), f"{rows}: {np.argwhere((got != whole).any(-1))[:3]}"
        part, _ = painter().render(layers, banded, (300, 400, 900, 1300))
        assert np.array_equal(part, whole[400:1300, 300:900])


def test_a_photo_in_several_bands_is_read_once_and_then_let_go(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(grid_module, "WHOLE", 0)
    monkeypatch.setattr(grid_module, "BAND", 512 * 1811)
    layout = dressed()
    grid, layers, asked = PixelGrid.for_ppi(layout, 230), drawn(layout), list[str]()

    def read(photo: Photo, scale: float, space: str, depth: int) -> np.ndarray:
        asked.append(f"{photo.id} {eighths(scale)}")
        return IMAGE

    own = Painter(read)
    for times in (1, 2):  # the second page reads it anew
        assert len(list(own.bands(layers, grid))) == 4
        assert len(asked) == times * len(set(asked))


def test_a_panorama_beyond_what_a_warp_can_take() -> None:
    """OpenCV warps no picture of 32,767 px or more: 40,000 px of one, on 36,000 px of a page, upright, turned and slanted."""
    wide = fake_photo(2, 40_000, 300)
    ramp = np.linspace(0, 255, 40_000)[None, :, None].repeat(300, 0).repeat(3, 2).astype(np.uint8)
    for turn, slant in ((0.0, 0.0), (0.2, 0.0), (0.0, 3e-6)):
        c, s = 0.9 * np.cos(np.radians(turn)), 0.9 * np.sin(np.radians(turn))
        matrix = np.array([[c, s, 0], [-s, c, 130.0], [slant, 0, 1]])
        box = (0, 180, 35_900, 220)
        got = sample(lambda p, s, space, depth: ramp, wide, Projective(matrix), box)
        x, y = np.meshgrid(np.arange(500, 35_500, 500) + 0.5, np.full(1, 200.5))
        there = np.linalg.inv(matrix) @ np.stack([x.ravel(), y.ravel(), np.ones(x.size)])
        expected = there[0] / there[2] / 40_000 * 255
        seen = got[20, np.arange(500, 35_500, 500), 0].astype(float)
        on_it = (there[0] / there[2] < 39_900) & (there[1] / there[2] > 5) & (there[1] / there[2] < 295)
        assert on_it.sum() > 40
        assert np.abs(seen - expected)[on_it].max() < 1.5


# --- edges -----------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("turn", [0.0, 13.0])
def test_no_hairline_shows_between_openings_that_touch(turn: float) -> None:
    """Two openings and a fill side by side, edges between pixels: nothing of the black below shows through."""
    c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))

    def at(x: float, y: float) -> tuple[float, float]:
        return 50 + x * c + y * s, 40 - x * s + y * c

    def piece(kind: type, name: str, x: float, y: float, w: float, h: float, **more: object) -> object:
        return kind(
            id=name, outline=Rectangle(width_mm=w, height_mm=h), surface=Flat(centre=at(x, y), turn_deg=turn), **more
        )

    layers = (
        Background(id="b", colour="#000000"),
        piece(FillBox, "f", -15.35, 0, 9.3, 30, colour="#ffffff"),
        piece(Opening, "l", -5.35, 0, 10.7, 30, border=Border(width_mm=1, colour="#ffffff")),
        piece(Opening, "r", 5.35, -4, 10.7, 22),
        piece(Opening, "s", 5.35, 11, 10.7, 8),
        piece(FillBox, "u", 20.35, 0, 8.3, 20, colour="#ffffff"),
        piece(FillBox, "v", 18.35, 0, 4.3, 20, colour="#ffffff"),
    )
    layout = Layout(width_mm=100, height_mm=80, bleed_mm=0, layers=layers)
    lies = {o.id: Placement(photo=PHOTO.id) for o in layout.openings()}
    white = Painter(lambda photo, scale, space, depth: np.full((100, 150, 3), 255, np.uint8))
    for ppi in (97, 150, 211):
        grid = PixelGrid.for_ppi(layout, ppi)
        layers_drawn = items(first(one_sheet(layout, (PHOTO,), lies)), lambda name: b"", False, False)
        rgb, _ = white.render(layers_drawn, grid)
        quad = [at(-19.5, -14.5), at(10.2, -14.5), at(10.2, 14.5), at(-19.5, 14.5)]
        inner = np.zeros(rgb.shape[:2], np.uint8)
        cv2.fillConvexPoly(inner, np.round(np.array(quad) * grid.px_per_mm).astype(np.int32), 1)
        assert rgb[inner == 1].min() >= 250
        # Where nothing touches, or one lies on the other with one edge in common, the edge is as soft as ever.
        left, k = at(16.2, 0), grid.px_from_page[0, 0]
        if turn == 0:
            x = left[0] * k
            assert rgb[round(40 * k), int(x), 0] == pytest.approx(255 * (1 - (1 - (int(x) + 1 - x)) ** 2), abs=2)


def test_opacity_fades_a_photo_with_its_shadow_as_one() -> None:
    """The shadow in contact lies under the photo: at half the opacity the photo's middle is half photo, half page."""
    outline, surface = Rectangle(width_mm=40, height_mm=30), Flat(centre=(30, 25))
    red = Painter(lambda photo, scale, space, depth: np.full((100, 150, 3), (200, 40, 40), np.uint8))
    for blend, expected in (("normal", (228, 148, 148)), ("multiply", (228, 148, 148))):
        opening = Opening(
            id="o",
            outline=outline,
            surface=surface,
            opacity=0.5,
            blend=blend,
            shadow=Shadow(kind="contact", opacity=0.9),
        )
        layout = Layout(width_mm=60, height_mm=50, bleed_mm=0, layers=(Background(id="b"), opening))
        rgb, _ = red.render(drawn(layout), PixelGrid.for_ppi(layout, 100))
        assert np.abs(rgb[98, 118].astype(int) - expected).max() <= 1
        edge = rgb[98, round((30 + 20.6) / 25.4 * 100)].astype(int)
        assert edge.max() < 240  # its shadow is there, half as dark
        assert edge.min() > 110


def test_an_echo_is_as_translucent_as_its_source() -> None:
    opening = Opening(id="o", outline=Rectangle(width_mm=20, height_mm=16), surface=Flat(centre=(15, 12)), opacity=0.25)
    again = Echo(id="e", of="o", how="repeat", surface=Flat(centre=(45, 12)))
    layout = Layout(width_mm=60, height_mm=24, bleed_mm=0, layers=(Background(id="b"), opening, again))
    black = Painter(lambda photo, scale, space, depth: np.zeros((100, 150, 3), np.uint8))
    rgb, _ = black.render(drawn(layout), PixelGrid.for_ppi(layout, 100))
    assert np.abs(rgb[47, [59, 177], 0].astype(int) - 191).max() <= 1


@pytest.mark.parametrize("lies", [60.0, 74.0, 96.0])
@pytest.mark.parametrize("soften", [0.0, 3.0])
@pytest.mark.parametrize("soft_edge", [False, True])
def test_an_echo_that_runs_off_the_page_looks_there_as_on_a_larger_one(
    lies: float, soften: float, soft_edge: bool
) -> None:
    """Off the foot of the page, by a part or wholly: of what is softened into the page some comes from beyond it."""
    net = np.stack(np.meshgrid(np.linspace(0, 40, 4), np.linspace(0, 40, 4)), -1)
    net[1:3, 1:3] += (4, -3)
    outline = read_mask(soft_disc(), "luminance", 40, 40) if soft_edge else Rectangle(width_mm=40, height_mm=40)
    source = Opening(id="o", outline=outline, surface=Grid(net=(net + (5.0, 5.0)).tolist()))
    again = Echo(id="e", of="o", how="repeat", soften_mm=soften, surface=Grid(net=(net + (50.0, lies - 20)).tolist()))
    pictures = []
    for high in (76.2, 152.4):  # 300 and 600 px at 100 ppi: the same scale
        layout = Layout(width_mm=101.6, height_mm=high, bleed_mm=0, layers=(Background(id="b"), source, again))
        pictures.append(painter().render(drawn(layout), PixelGrid.for_ppi(layout, 100))[0][:300].astype(int))
    assert np.abs(pictures[0] - pictures[1]).max() <= 3


def test_a_soft_mask_has_no_stairs() -> None:
    """What shows of a soft disc is its own ramp, to the very end: against the mask itself, enlarged by OpenCV."""
    mask = read_mask(soft_disc(), "luminance", 40, 40)
    opening = Opening(id="o", outline=mask, surface=Flat(centre=(25, 25)))
    layout = Layout(width_mm=50, height_mm=50, bleed_mm=0, layers=(Background(id="b"), opening))
    black = Painter(lambda photo, scale, space, depth: np.zeros((100, 150, 3), np.uint8))
    rgb, _ = black.render(drawn(layout), PixelGrid.for_ppi(layout, 254))
    got = 255 - rgb[50:450, 50:450, 0].astype(int)
    plain = np.asarray(Image.open(io.BytesIO(soft_disc())))
    expected = cv2.resize(plain, (400, 400), interpolation=cv2.INTER_CUBIC)
    assert np.abs(got - expected)[4:-4, 4:-4].max() <= 6
    faint = (expected > 2) & (expected < 20)
    assert faint.sum() > 500
    assert np.abs(got - expected)[faint].mean() < 1.5


# --- outlines with holes ---------------------------------------------------------------------------------------------


RING = "M-20 -20H20V20H-20ZM-8 -8H8V8H-8Z"  # both run the same way: a hole by even-odd, none by non-zero


@pytest.mark.parametrize(
    ("d", "rule", "area"),
    [
        (RING, "evenodd", 1600 - 256),
        (RING, "nonzero", 1600),
        ("M-20 -20H20V20H-20ZM-8 -8V8H8V-8Z", "nonzero", 1600 - 256),
        ("M-20 -20H20V20H-20ZM-8 -8V8H8V-8Z", "evenodd", 1600 - 256),
        ("M-20 -20H20V20H-20ZM-30 -8H8V8H-30Z", "nonzero", 1600 + 160),  # overlapping: counted once
    ],
)
def test_holes_count_everywhere(d: str, rule: str, area: float) -> None:
    """Area, border, what is painted (against librsvg's own fill rule), and where a photo is seen."""
    from sutaru.core.geometry import outlines
    from sutaru.core.paint.svg import drawing

    outline = Path(d=d, rule=rule)
    assert outline.area_mm2 == pytest.approx(area)
    hole = not outlines.contain(outline.polygons(), np.array([[0.0, 0.0]]))[0]
    assert hole == (area == 1600 - 256)
    grown = outlines.grow_polygons(outline.polygons(), 1.0)
    assert bool(outlines.contain(grown, np.array([[7.5, 0.0]]))[0])  # a border goes round the hole as well
    opening = Opening(id="o", outline=outline, surface=Flat(centre=(40, 40)))
    layout = Layout(width_mm=80, height_mm=80, bleed_mm=0, layers=(Background(id="b"), opening))
    black = Painter(lambda photo, scale, space, depth: np.zeros((100, 150, 3), np.uint8))
    rgb, _ = black.render(drawn(layout), PixelGrid.for_ppi(layout, 100))
    svg = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="-40 -40 80 80"><path fill-rule="{rule}" d="{d}"/></svg>'
    k = rgb.shape[0] / 80
    from sutaru.core.geometry.matrices import scaling, translation

    px_from_box = scaling(k, k) @ translation(40, 40)  # off its middle it still lies where it lay
    expected = 255 - drawing(svg.encode(), "#000000", px_from_box, 80, 80, (0, 0, *rgb.shape[1::-1]))[..., 3]
    assert np.abs(rgb[..., 0].astype(int) - expected).max() <= 12
    framed = opening.copy_with(border=Border(width_mm=2, colour="#ff0000"))
    layout = layout.copy_with(layers=(layout.layers[0], framed))
    rgb, _ = black.render(drawn(layout), PixelGrid.for_ppi(layout, 100))
    at = round((40 + 9) * k)
    assert (rgb[round(40 * k), at].tolist() == [255, 0, 0]) == hole


# --- files -----------------------------------------------------------------------------------------------------------


def test_a_jpeg_of_strips_is_the_jpeg_of_the_whole() -> None:
    """Read by libjpeg (Pillow) it has the very pixels of one encoding, whatever the bands; odd sizes too."""
    from sutaru.core.paint import Painted

    for width, height in ((1000, 1537), (333, 511), (17, 4100)):
        rgb = noise(height, width, 7)
        bands = [Painted((0, y, width, min(height, y + 512)), rgb[y : y + 512], None) for y in range(0, height, 512)]
        joined = b"".join(raster.jpeg_of_bands(bands, (width, height), 92))
        with Image.open(io.BytesIO(joined)) as read, Image.open(io.BytesIO(raster.jpeg_bytes(rgb, 92))) as plain:
            assert np.array_equal(np.asarray(read), np.asarray(plain))
    with pytest.raises(raster.ExportFailed, match=r"A JPEG cannot be 66000 x 10 px\. Choose TIFF or PNG\."):
        next(raster.jpeg_of_bands([], (66_000, 10), 92))


LARGE = """
import sys
from sutaru.core.document import Job
from sutaru.core.press.exporting import pieces
from sutaru.work.tasks import Exported, run_pieces
text, photo, folder, kind = open(sys.argv[1]).read(), *sys.argv[2:]
job = Job.model_validate_json(text)
asked = Exported(text, {known.checksum: photo for known in job.photos}, {}, folder, kind, "2026-05-01T00:00:00+00:00")
done, = run_pieces(asked, pieces(job, kind), 2, "news")
peak = next(int(line.split()[1]) for line in open("/proc/self/status") if line.startswith("VmHWM")) / 1024
print(peak, done.file["file"], done.file["width_px"], done.file["height_px"])
"""


@pytest.mark.parametrize("format", ["jpeg", "tiff", "png", "pdf"])
def test_a_large_poster_takes_little_memory(format: str, tmp_path: File, lab) -> None:
    """Half the 18000 x 12000 px poster of ``bench/``, which takes all of it: 108 megapixels, 324 MB as plain pixels."""
    from sutaru.core.photos import examine

    source = tmp_path / "photo.jpg"
    Image.fromarray(noise(1200, 1800)).save(source, quality=92)
    photo = examine(source, "photo.jpg")
    opening = Opening(id="o", outline=Rectangle(width_mm=700, height_mm=500), surface=Flat(centre=(381, 300)))
    layout = Layout(width_mm=762, height_mm=609.6, bleed_mm=0, layers=(Background(id="b", colour="#203040"), opening))
    job = one_sheet(layout, (photo,), {"o": Placement(photo=photo.id)})
    (tmp_path / "job.json").write_text(job.copy_with(lab=lab.copy_with(ppi_target=300, ppi_least=30)).model_dump_json())
    (tmp_path / "out").mkdir()
    command = [sys.executable, "-c", LARGE, tmp_path / "job.json", source, tmp_path / "out", format]
    done = subprocess.run([str(part) for part in command], capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stderr
    peak, file, *size = done.stdout.split()
    assert float(peak) < 420
    assert size == ["9000", "7200"]
    if format != "pdf":
        Image.MAX_IMAGE_PIXELS = None
        with Image.open(tmp_path / "out" / file) as written:
            assert written.size == (9000, 7200)
            assert np.asarray(written.crop((0, 7000, 40, 7200)))[..., :3].std((0, 1)).max() < 3
            assert written.getpixel((20, 7100))[2] == pytest.approx(0x40, abs=2)
            assert written.getpixel((4500, 3500)) != written.getpixel((20, 7100))

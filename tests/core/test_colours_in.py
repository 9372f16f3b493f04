"""What comes in: TIFFs with more channels than colours, transparency, sixteen bits, colours told otherwise than by ICC.

Files are written by tifffile, Pillow and pillow-heif, none of which read them here but Pillow.
"""

import io
import struct
import zipfile
import zlib
from pathlib import Path

import numpy as np
import pillow_heif
import pytest
import tifffile
from PIL import Image, ImageCms
from skimage.color import lab2xyz, xyz2rgb

from sutaru.core.checks import measure_sheet
from sutaru.core.colour.profiles import profile_bytes
from sutaru.core.document import Background, Flat, Job, Layout, Opening, Placement, Rectangle
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import SpanOver
from sutaru.core.errors import PhotoRefused
from sutaru.core.paint import Painter, PixelGrid
from sutaru.core.photos import PhotoPixels, decode, examine
from sutaru.core.press.exporting import export
from tests.conftest import drawn_items, first, one_sheet
from tests.core.test_press import MADE, run

HIGH, WIDE = 60, 90
Y, X = np.mgrid[:HIGH, :WIDE]
RGB = np.dstack([20 + 2 * X, 200 - 2 * Y, np.full_like(X, 90)]).astype(np.uint8)
NOTHING = np.zeros((HIGH, WIDE, 1), np.uint8)  # a saved selection of nothing


def tiff(folder: Path, channels: np.ndarray, photometric: str, extras: list[str] | None = None, **how: object) -> Path:
    path = folder / "photo.tif"
    tifffile.imwrite(path, channels, photometric=photometric, extrasamples=extras, **how)  # type: ignore[arg-type]
    return path


def deep(channels: np.ndarray) -> np.ndarray:
    return channels.astype(np.uint16) * 257


@pytest.mark.parametrize("bits", [8, 16])
@pytest.mark.parametrize("more", [1, 2])
@pytest.mark.parametrize("scale", [1.0, 0.5])
def test_a_saved_selection_is_no_transparency(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, bits: int, more: int, scale: float
) -> None:
    monkeypatch.setattr("sutaru.core.photos.photo_file.LARGE_PIXELS", 1000)  # as a file of 48 megapixels is read
    channels = np.dstack([RGB, *[NOTHING] * more])
    path = tiff(tmp_path, deep(channels) if bits == 16 else channels, "rgb", ["unspecified"] * more)
    photo = examine(path, path.name)
    assert (photo.bits, photo.has_alpha) == (bits, False)
    found = decode(path, path.name, scale)
    step = RGB.shape[0] // found.shape[0]
    wanted = RGB.reshape(HIGH // step, step, WIDE // step, step, 3).mean(axis=(1, 3))
    assert np.abs(found.astype(float) - wanted).max() <= 1


@pytest.mark.parametrize("bits", [8, 16])
def test_a_grey_photo_with_a_selection_is_read(tmp_path: Path, bits: int) -> None:
    channels = np.dstack([RGB[..., 0], NOTHING])
    path = tiff(tmp_path, deep(channels) if bits == 16 else channels, "minisblack", ["unspecified"])
    assert np.abs(decode(path, path.name).astype(int) - RGB[..., :1]).max() <= 1


@pytest.mark.parametrize("bits", [8, 16])
def test_beside_inks_a_spot_colour_is_left_out(tmp_path: Path, bits: int) -> None:
    inks = np.dstack([255 - RGB, NOTHING])
    spot = np.dstack([inks, NOTHING + 200])
    plain = decode(tiff(tmp_path, deep(inks) if bits == 16 else inks, "separated"), "plain")
    found = decode(tiff(tmp_path, deep(spot) if bits == 16 else spot, "separated", ["unspecified"]), "spot")
    assert np.array_equal(found, plain)
    # That it is left out is said where the photo lies.
    (tmp_path / "photo.tif").rename(tmp_path / "spot.tif")
    said = [finding.sentence for finding in measure_sheet(first(laid_on_green(tmp_path / "spot.tif")[0])).findings]
    assert "Opening 1's photo has a channel beside its four inks, such as a spot colour: that is not printed." in said


# Bradford's adaptation (B. Lindbloom, brucelindbloom.com, "Chromatic adaptation").
D65_FROM_D50 = np.array(
    [[0.9555766, -0.0230393, 0.0631636], [-0.0282895, 1.0099416, 0.0210077], [0.0122982, -0.0204830, 1.3299098]]
)


def test_lab_is_read_as_scikit_image_reads_it(tmp_path: Path) -> None:
    """L* in a byte of 0 to 255, a* and b* as signed bytes; of sixteen bits L* to 65,535, a* and b* in 1/256 (TIFF 6.0, 23)."""
    lightness, a, b = 110 + X // 2, 8 + X // 8, Y // 3 - 10
    wanted = xyz2rgb(lab2xyz(np.dstack([lightness / 2.55, a, b]), illuminant="D50") @ D65_FROM_D50.T)
    inside = (wanted > 0.02).all(axis=2) & (wanted < 0.98).all(axis=2)
    assert inside.mean() > 0.9
    eight = np.dstack([lightness, a.astype(np.int8).view(np.uint8), b.astype(np.int8).view(np.uint8)])
    fine = np.dstack(
        [lightness * 257, (a.astype(np.int16) << 8).view(np.uint16), (b.astype(np.int16) << 8).view(np.uint16)]
    )
    for stored in (eight.astype(np.uint8), fine.astype(np.uint16)):
        found = decode(tiff(tmp_path, stored, "cielab"), "lab")
        assert (
            np.abs(found - 255 * wanted)[inside].max() <= 2.5
        )  # the black point is the press's and the screen's alike


@pytest.mark.parametrize(
    ("channels", "how", "why"),
    [
        ((RGB / 255).astype(np.float32), {}, "floating-point values"),
        (RGB.astype(np.uint32) << 24, {}, "32 bits a channel"),
        (deep(RGB), {"compression": "zstd"}, "compressed by Zstandard"),
        (RGB, {"compression": "webp"}, "compressed by WebP"),
    ],
)
def test_what_cannot_be_read_is_refused_for_its_true_reason(
    tmp_path: Path, channels: np.ndarray, how: dict[str, object], why: str
) -> None:
    path = tiff(tmp_path, channels, "rgb", **how)
    with pytest.raises(PhotoRefused, match=why) as refused:
        examine(path, path.name)
    assert "8 or 16 bits" in str(refused.value)


def test_zstandard_of_eight_bits_is_read(tmp_path: Path) -> None:
    assert np.array_equal(decode(tiff(tmp_path, RGB, "rgb", compression="zstd"), "zstd"), RGB)


# --- transparency ---------------------------------------------------------------------------------------------------

COVER = np.where(X < 30, 0, np.where(X < 60, 128, 255)).astype(np.uint8)


def see_through(folder: Path, kind: str) -> Path:
    path = folder / f"cut-out.{'tif' if kind.startswith('tiff') else 'png'}"
    if kind == "png":
        Image.fromarray(np.dstack([RGB, COVER]), "RGBA").save(path)
    elif kind == "png16":
        tiny = [struct.pack(">8s", b"\x89PNG\r\n\x1a\n")]
        rows = b"".join(b"\0" + row.astype(">u2").tobytes() for row in deep(np.dstack([RGB, COVER])))
        for name, data in ((b"IHDR", struct.pack(">IIBBBBB", WIDE, HIGH, 16, 6, 0, 0, 0)), (b"IDAT", zlib.compress(rows)),
                           (b"IEND", b"")):  # fmt: skip
            tiny.append(struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data)))
        path.write_bytes(b"".join(tiny))
    elif kind == "palette":
        grey = Image.fromarray(np.where(X < 30, 7, X).astype(np.uint8), "P")
        grey.putpalette([n for value in range(256) for n in (value, 40, 90)])
        grey.save(path, transparency=7)
    else:
        extras = {"tiff": ["unassalpha"], "tiff-multiplied": ["assocalpha"]}[kind]
        colour = RGB if kind == "tiff" else np.rint(RGB * (COVER[..., None] / 255))
        tifffile.imwrite(path, np.dstack([colour, COVER]).astype(np.uint8), photometric="rgb", extrasamples=extras)
    return path


def laid_on_green(path: Path, fit: str = "cover") -> tuple[Job, np.ndarray]:
    """A photo pixel for pixel over a green ground."""
    photo = examine(path, path.name)
    hole = Opening(id="o", outline=Rectangle(width_mm=9, height_mm=6), surface=Flat(centre=(6, 5)))
    ground = Background(id="ground", colour="#20c040")
    layout = Layout(width_mm=12, height_mm=10, bleed_mm=0, layers=(ground, hole))
    job = one_sheet(layout, (photo,), {"o": Placement(photo=photo.id, fit=fit)})  # type: ignore[arg-type]
    grid = PixelGrid.for_ppi(layout, 254)
    return job, Painter(PhotoPixels(lambda photo: path)).render(drawn_items(job), grid)[0]


@pytest.mark.parametrize("kind", ["png", "png16", "tiff", "tiff-multiplied"])
def test_what_lies_below_shows_through_a_photo(tmp_path: Path, kind: str) -> None:
    """As Pillow lays the file on green."""
    path = see_through(tmp_path, kind)
    assert examine(path, path.name).is_translucent
    seen = laid_on_green(path)[1][20:80, 15:105]
    ground = Image.new("RGBA", (WIDE, HIGH), (0x20, 0xC0, 0x40, 255))
    over = Image.fromarray(np.dstack([RGB, COVER]), "RGBA")
    wanted = np.asarray(Image.alpha_composite(ground, over).convert("RGB")).astype(int)
    off = np.abs(seen.astype(int) - wanted)
    inner = np.ones((HIGH, WIDE), bool)
    inner[:, 29:32] = inner[:, 59:62] = False  # where its edge is one print pixel wide
    assert off[inner].max() <= (2 if kind != "tiff-multiplied" else 3)


def test_what_lies_below_shows_through_a_span_and_in_print(tmp_path: Path) -> None:
    """One photo over two openings: in the painted page, in a PDF whose layers stay live (poppler draws it), in OpenRaster."""
    path = see_through(tmp_path, "png")
    photo = examine(path, path.name)
    holes = [
        Opening(id=name, outline=Rectangle(width_mm=4.5, height_mm=6), surface=Flat(centre=(x, 5)))
        for name, x in (("a", 3.75), ("b", 8.25))
    ]
    ground = Background(id="ground", colour="#20c040")
    layout = Layout(width_mm=12, height_mm=10, bleed_mm=0, layers=(ground, *holes))
    job = one_sheet(layout, (photo,))
    job = apply(job, SpanOver(sheet=job.sheets[0].id, openings=("a", "b"), photo=photo.id))
    grid = PixelGrid.for_ppi(layout, 254)
    seen = Painter(PhotoPixels(lambda photo: path)).render(drawn_items(job), grid)[0]
    green, solid = (seen[50, x].astype(int) for x in (20, 95))
    assert green.tolist() == [0x20, 0xC0, 0x40]
    assert abs(solid - RGB[30, 80]).max() <= 3
    lab = job.lab.copy_with(pdf=job.lab.pdf.copy_with(x4=False, live=True), any_size=True, ppi_target=254)
    for format in ("pdf", "ora"):
        file, *_ = export(job.copy_with(lab=lab), tmp_path / format, PhotoPixels(lambda photo: path), MADE, format)  # type: ignore[arg-type]
        if format == "pdf":
            run("pdftocairo", "-png", "-singlefile", "-r", "254", file, tmp_path / "drawn")
            picture = Image.open(tmp_path / "drawn.png").convert("RGB")
        else:
            with zipfile.ZipFile(file) as held:
                picture = Image.open(io.BytesIO(held.read("mergedimage.png"))).convert("RGB")
        out = np.asarray(picture).astype(int)
        assert np.abs(np.array(out.shape[:2]) - seen.shape[:2]).max() <= 1  # poppler rounds up
        assert abs(out[50, 20] - green).max() <= 3, format
        assert abs(out[50, 95] - solid).max() <= 12, format
        assert abs(out[50, 60] - seen[50, 60]).max() <= 12, format  # half seen through


def test_a_transparent_colour_of_a_palette_is_transparent(tmp_path: Path) -> None:
    seen = laid_on_green(see_through(tmp_path, "palette"))[1][20:80, 15:105]
    assert (seen[:, 2:27] == (0x20, 0xC0, 0x40)).all()
    assert (seen[:, 35:, 1] == 40).all()


def test_no_colour_of_what_is_transparent_runs_into_what_is_seen(tmp_path: Path) -> None:
    """A red photo whose transparent half is stored white, made half as large: its edge is red over green, nowhere lighter."""
    path = tmp_path / "half.png"
    colour = np.where((X < 45)[..., None], 255, np.array([200, 0, 0])).astype(np.uint8)
    Image.fromarray(np.dstack([colour, np.where(X < 45, 0, 255).astype(np.uint8)]), "RGBA").resize(
        (360, 240), Image.Resampling.NEAREST
    ).save(path)
    seen = laid_on_green(path)[1][20:80, 15:105]
    assert seen[..., 2].max() <= 0x40 + 1
    assert seen[..., 0].max() <= 201


def test_nothing_that_touches_it_is_taken_to_be_hidden(tmp_path: Path) -> None:
    from sutaru.core.paint.items import _hides

    job, _ = laid_on_green(see_through(tmp_path, "png"))
    assert not any(_hides(item) for item in drawn_items(job) if isinstance(item.layer, Opening))


# --- sixteen bits ---------------------------------------------------------------------------------------------------


def to_linear(values: np.ndarray) -> np.ndarray:
    """sRGB's curve (IEC 61966-2-1:1999)."""
    return np.where(values <= 0.04045, values / 12.92, ((values + 0.055) / 1.055) ** 2.4)


@pytest.mark.parametrize("depth", [8, 16])
def test_shadows_of_sixteen_bits_survive_the_conversion(tmp_path: Path, depth: int) -> None:
    """Greys of sRGB in Adobe RGB (1998), whose curve is a power of 563/256 (Adobe RGB (1998), 4.3.4.2)."""
    greys = np.rint(np.linspace(0, 1, 3001) * 65535).astype(np.uint16)
    path = tiff(tmp_path, np.repeat(greys[None, :, None], 3, -1).repeat(4, 0), "rgb")
    found = decode(path, path.name, 1.0, "adobe-compatible", depth)[0].astype(float)
    top = 65535 if depth == 16 else 255
    wanted = to_linear(greys / 65535) ** (256 / 563) * top
    step = 0.0 if depth == 16 else 0.5  # rounding
    assert np.abs(found - wanted[:, None]).max() / top * 255 <= 0.3 + step
    assert (np.diff(found[:, 1]) >= 0).all()  # monotone
    cast = found.max(axis=1) - found.min(axis=1)
    assert cast.max() <= 2 if depth == 16 else (cast > 0).mean() < 0.02  # none: what rounds this way and that apart
    if depth == 16:
        assert len(np.unique(found[:, 1])) == 3001


@pytest.mark.parametrize("scale", [1.0, 0.5])
@pytest.mark.parametrize("depth", [8, 16])
def test_sixteen_bits_with_transparency_are_converted_too(tmp_path: Path, scale: float, depth: int) -> None:
    """As the same photo without it; laid on white where it is not kept."""
    path = see_through(tmp_path, "png16")
    found = decode(path, "cut-out", scale, "adobe-compatible", depth, alpha=True).astype(float)
    plain = decode(tiff(tmp_path, deep(RGB), "rgb"), "plain", scale, "adobe-compatible", depth).astype(float)
    top = 65535 if depth == 16 else 255
    seen = found[..., 3] == top
    assert seen.mean() > 0.3
    assert np.abs(found[..., :3] - plain)[seen].max() / top * 255 <= 1
    on_white = decode(path, "cut-out", scale, "adobe-compatible", depth).astype(float)
    cover = found[..., 3:] / top
    assert np.abs(on_white - (found[..., :3] * cover + top * (1 - cover))).max() <= 1


@pytest.mark.parametrize("space", ["srgb", "adobe-compatible"])
def test_a_profile_that_is_the_spaces_own_changes_nothing(tmp_path: Path, space: str) -> None:
    values = np.random.default_rng(5).integers(0, 65536, (40, 50, 3), np.uint16)
    path = tiff(tmp_path, values, "rgb", iccprofile=profile_bytes(space))
    assert np.array_equal(decode(path, path.name, 1.0, space, 16), values)  # type: ignore[arg-type]


# --- colours told otherwise than by ICC -----------------------------------------------------------------------------


def in_profile(icc: bytes) -> np.ndarray:
    """The picture as LittleCMS converts it from a profile to sRGB."""
    source, onto = (ImageCms.ImageCmsProfile(io.BytesIO(data)) for data in (icc, profile_bytes("srgb")))
    made = ImageCms.applyTransform(Image.fromarray(RGB), ImageCms.buildTransform(source, onto, "RGB", "RGB", 1, 0x2000))
    return np.asarray(made)


def p3() -> bytes:
    """Display P3, as colord's is made: by primaries and curve. Written by Pillow's LittleCMS from what the test states."""
    import imagecodecs

    v = np.linspace(0, 1, 4096)
    return imagecodecs.cms_profile(
        "rgb", whitepoint=[0.3127, 0.3290, 1.0], primaries=[0.680, 0.320, 1.0, 0.265, 0.690, 1.0, 0.150, 0.060, 1.0],
        transferfunction=to_linear(v).astype(np.float32),
    )  # fmt: skip


def test_adobe_rgb_is_told_by_exif_alone(tmp_path: Path) -> None:
    """DCF's option file: ColorSpace 0xFFFF, interoperability index R03 (CIPA DC-008, annex C)."""
    exif = Image.Exif()
    exif.get_ifd(0x8769).update({0xA001: 0xFFFF, 0xA005: {1: "R03"}})
    path = tmp_path / "camera.jpg"
    Image.fromarray(RGB).save(path, quality=100, subsampling=0, exif=exif)
    photo = examine(path, path.name)
    assert "adobe" in photo.profile.lower().replace(" ", "")
    off = np.abs(decode(path, path.name).astype(int) - in_profile(profile_bytes("adobe-compatible")))
    assert np.percentile(off, 99) <= 4  # what JPEG loses
    # The same pixels, told to be sRGB, are those that were stored.
    exif.get_ifd(0x8769).update({0xA001: 1, 0xA005: {1: "R98"}})
    Image.fromarray(RGB).save(path, quality=100, subsampling=0, exif=exif)
    assert examine(path, path.name).profile == ""
    assert np.abs(decode(path, path.name).astype(int) - RGB).max() <= 4


def png(path: Path, *chunks: tuple[bytes, bytes]) -> Path:
    """A PNG with chunks before its pixels."""
    file = io.BytesIO()
    Image.fromarray(RGB).save(file, "PNG")
    data = file.getvalue()
    more = b"".join(struct.pack(">I", len(d)) + n + d + struct.pack(">I", zlib.crc32(n + d)) for n, d in chunks)
    path.write_bytes(data[:33] + more + data[33:])
    return path


def test_a_png_tells_its_colours_by_cicp(tmp_path: Path) -> None:
    """H.273: primaries 12 and curve 13 are Display P3."""
    path = png(tmp_path / "p3.png", (b"cICP", bytes([12, 13, 0, 1])))
    assert np.abs(decode(path, path.name).astype(int) - in_profile(p3())).max() <= 1
    plain = png(tmp_path / "srgb.png", (b"cICP", bytes([1, 13, 0, 1])))
    assert np.array_equal(decode(plain, plain.name), RGB)


def test_a_png_tells_its_colours_by_gamma_and_primaries(tmp_path: Path) -> None:
    gamma = png(tmp_path / "linear.png", (b"gAMA", struct.pack(">I", 100000)))
    linear = RGB / 255
    wanted = np.where(linear <= 0.0031308, linear * 12.92, 1.055 * linear ** (1 / 2.4) - 0.055) * 255
    assert np.abs(decode(gamma, gamma.name) - wanted).max() <= 1.5
    screen = png(
        tmp_path / "screen.png",
        (b"gAMA", struct.pack(">I", 45455)),
        (b"cHRM", struct.pack(">8I", 31270, 32900, 64000, 33000, 30000, 60000, 15000, 6000)),
    )
    assert np.array_equal(decode(screen, screen.name), RGB)


@pytest.mark.parametrize(
    "primaries", [(31270, 32900, *(30000, 30000) * 3), (31270, 32900, 30000, 30000, 40000, 40000, 50000, 50000)]
)
def test_primaries_that_are_none_are_passed_over(tmp_path: Path, primaries: tuple[int, ...]) -> None:
    chunks = (b"gAMA", struct.pack(">I", 60000)), (b"cHRM", struct.pack(">8I", *primaries))
    path = png(tmp_path / "odd.png", *chunks)
    photo = examine(path, path.name)
    assert photo.profile_unusable
    assert np.array_equal(decode(path, path.name), RGB)


@pytest.mark.parametrize(("curve", "name"), [(16, "PQ"), (18, "HLG")])
def test_colours_that_no_print_shows_are_a_finding(tmp_path: Path, curve: int, name: str) -> None:
    path = png(tmp_path / "hdr.png", (b"cICP", bytes([9, curve, 0, 1])))
    photo = examine(path, path.name)
    assert (photo.profile, photo.profile_unusable) == (name, True)
    job, _ = laid_on_green(path)
    said = [finding.sentence for finding in measure_sheet(first(job)).findings]
    assert f"The profile of opening 1's photo ({name}) cannot be used: its colours are taken as sRGB." in said


def test_a_heic_tells_its_colours_by_nclx(tmp_path: Path) -> None:
    path = tmp_path / "phone.heic"
    heif = pillow_heif.from_pillow(Image.fromarray(RGB))
    heif.save(path, quality=100, chroma=444, color_primaries=12, transfer_characteristics=13, matrix_coefficients=5,
              full_range_flag=1, save_nclx_profile=True)  # fmt: skip
    off = np.abs(decode(path, path.name).astype(int) - in_profile(p3()))
    assert np.percentile(off, 99) <= 8  # what the encoder loses
    as_stored = np.abs(decode(path, path.name).astype(int) - RGB)
    assert np.median(off) < np.median(as_stored)

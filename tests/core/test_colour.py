"""Colour: profiles of every depth and kind, and wide gamuts, from a photo's file to the print's."""

import io
import struct
from datetime import UTC, datetime
from pathlib import Path

import cv2
import numpy as np
import pikepdf
import pytest
from PIL import Image

from sutaru.core.colour.profiles import colour_in, convert_to_screen, profile_bytes, usable
from sutaru.core.document import FillBox, Flat, Layout, Opening, Ornament, Rectangle, Text
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import BringIn, Put
from sutaru.core.paint import Painter, PixelGrid, items
from sutaru.core.photos import PhotoPixels, decode, examine
from sutaru.core.press.exporting import export
from tests.conftest import first, one_sheet

MADE = datetime(2026, 5, 3, tzinfo=UTC)
ADOBE = profile_bytes("adobe-compatible")


def gamma(value: float) -> bytes:
    """The wide RGB profile with another tone curve: a curve of one number, u8Fixed8 (ICC.1:2022, 10.6)."""
    one = b"curv\0\0\0\0\0\0\0\1"
    parts = ADOBE.split(one)
    assert len(parts) > 1
    return one.join([parts[0], *(struct.pack(">H", round(value * 256)) + part[2:] for part in parts[1:])])


def grey_profile(value: float) -> bytes:
    """A grey profile of one gamma, as small as ICC.1:2022 lets it be (7.2 header, 7.3 tag table, 8.3.4 monochrome)."""
    white = b"XYZ \0\0\0\0" + struct.pack(">3i", 63190, 65536, 54061)
    curve = b"curv\0\0\0\0\0\0\0\1" + struct.pack(">HH", round(value * 256), 0)
    data = white + curve
    start = 128 + 4 + 2 * 12
    tags = struct.pack(">I4sII4sII", 2, b"wtpt", start, len(white), b"kTRC", start + len(white), len(curve))
    size = start + len(data)
    head = struct.pack(">I4sI4s4s4s", size, b"lcms", 0x02400000, b"mntr", b"GRAY", b"XYZ ").ljust(36, b"\0") + b"acsp"
    head = head.ljust(68, b"\0") + struct.pack(">3i", 63190, 65536, 54061)
    return head.ljust(128, b"\0") + tags + data


def stored(kind: str, pixels: np.ndarray, icc: bytes | None = None) -> bytes:
    """A file of sixteen bits, written by OpenCV; the profile put into a PNG by hand (PNG, 11.3.2.3 iCCP)."""
    import zlib

    data = cv2.imencode(f".{kind}", pixels[..., ::-1] if pixels.ndim == 3 and pixels.shape[2] == 3 else pixels)[
        1
    ].tobytes()
    if icc is None:
        return data
    body = b"iCCP" + b"a\0\0" + zlib.compress(icc)
    chunk = struct.pack(">I", len(body) - 4) + body + struct.pack(">I", zlib.crc32(body))
    return data[:33] + chunk + data[33:]


def srgb_of(light: np.ndarray) -> np.ndarray:
    """IEC 61966-2-1, 5.2: linear light 0 to 1 to values of 255."""
    return 255 * np.where(light <= 0.0031308, 12.92 * light, 1.055 * light ** (1 / 2.4) - 0.055)


def test_sixteen_bits_keep_their_shadows_through_a_profile() -> None:
    ramp = np.arange(0, 65536, 16, dtype=np.uint16)[None].repeat(8, 0)
    data = stored("png", np.dstack([ramp] * 3), gamma(1.8))
    assert examine(data, "x").bits == 16
    got = decode(data, "x")[0].astype(int)
    value = round(1.8 * 256) / 256
    # LittleCMS works sixteen bits through tables of its own: a step or two off in the deepest shadows, nowhere more.
    off = np.abs(got - srgb_of((ramp[0] / 65535.0) ** value)[:, None])
    assert off.max() < 2.1
    assert off.mean() < 0.4
    shadows = set(got[:, 1].tolist()) & set(range(64))
    assert len(shadows) == 64  # eight bits before the profile leave 47 of them


# From the encoding's own figures: Adobe RGB (1998), 4.3.4.1 and 4.3.5.3 (gamma 563/256, to XYZ of D65); IEC 61966-2-1, 5.2
# (from XYZ). Both whites are D65, so nothing is adapted.
XYZ_OF_WIDE = np.array(
    [(0.57667, 0.18556, 0.18823), (0.29734, 0.62736, 0.07529), (0.02703, 0.07069, 0.99134)]
)  # fmt: skip
SRGB_OF_XYZ = np.array(
    [(3.2406, -1.5372, -0.4986), (-0.9689, 1.8758, 0.0415), (0.0557, -0.2040, 1.0570)]
)  # fmt: skip


@pytest.mark.parametrize("kind", ["png", "jpeg"])
def test_a_wide_gamut_comes_out_as_its_definition_says(kind: str) -> None:
    colours = np.array([(r, g, b) for r in (90, 120, 150) for g in (90, 120, 150) for b in (90, 120, 150)], np.uint8)
    picture = colours.reshape(1, -1, 3).repeat(16, 0).repeat(16, 1)
    expected = srgb_of(np.clip((colours / 255.0) ** (563 / 256) @ XYZ_OF_WIDE.T @ SRGB_OF_XYZ.T, 0, 1))
    if kind == "png":
        data, within = stored("png", picture.astype(np.uint16) * 257, ADOBE), 1.1
    else:
        out = io.BytesIO()
        Image.fromarray(picture).save(out, "JPEG", quality=100, subsampling=0, icc_profile=ADOBE)
        data, within = out.getvalue(), 2.5  # JPEG itself is off by one or two
    got = decode(data, "x")[8, 8::16].astype(float)
    assert np.abs(got - expected).max() < within
    # For a lab that prints the wide gamut nothing is changed at all.
    assert np.abs(decode(data, "x", space="adobe-compatible")[8, 8::16].astype(int) - colours).max() <= (kind == "jpeg")


@pytest.mark.parametrize("alpha", [False, True])
@pytest.mark.parametrize("bits", [8, 16])
def test_grey_honours_its_profile_with_and_without_alpha(alpha: bool, bits: int) -> None:
    icc = grey_profile(1.0)
    assert usable(icc, "L")
    ramp = np.arange(256, dtype=np.uint8)[None].repeat(4, 0)
    expected = srgb_of(ramp[0] / 255.0)
    if bits == 8:
        image, out = Image.fromarray(ramp), io.BytesIO()
        if alpha:
            image.putalpha(Image.new("L", image.size, 255))
        image.save(out, "PNG", icc_profile=icc)
        data = out.getvalue()
    else:
        import pyvips

        page = pyvips.Image.new_from_array(ramp.astype(np.uint16) * 257)
        page = page.copy(interpretation="grey16")
        if alpha:
            page = page.bandjoin(page * 0 + 65535).cast("ushort").copy(interpretation="grey16")
        page.set_type(pyvips.GValue.blob_type, "icc-profile-data", icc)
        data = page.pngsave_buffer()
    assert np.abs(decode(data, "x")[0].astype(float) - expected[:, None]).max() < 1.6


@pytest.mark.parametrize(
    "spoil", [lambda icc: icc.replace(b"rTRC", b"xTRC", 1), lambda icc: icc[:200], lambda icc: b"none"]
)
def test_a_profile_that_cannot_be_used_counts_as_none(spoil, tmp_path: Path) -> None:
    picture = np.arange(48, dtype=np.uint8).reshape(4, 4, 3).repeat(8, 0).repeat(8, 1)
    out = io.BytesIO()
    Image.fromarray(picture).save(out, "PNG", icc_profile=spoil(ADOBE))
    assert np.array_equal(decode(out.getvalue(), "x"), picture)
    assert examine(out.getvalue(), "x").profile_unusable
    whole = io.BytesIO()
    Image.fromarray(picture).save(whole, "PNG", icc_profile=ADOBE)
    assert not examine(whole.getvalue(), "x").profile_unusable


GREEN = "#20a050"


@pytest.mark.parametrize("format", ["jpeg", "png", "tiff", "pdf"])
def test_a_wide_lab_gets_photo_words_and_drawings_in_its_space(format: str, tmp_path: Path, lab) -> None:
    """A saturated green of the wide gamut, which sRGB has not, arrives as it was; the layout's sRGB colours are converted."""
    from hashlib import sha256

    green = np.full((200, 200, 3), (30, 250, 40), np.uint8)
    source = tmp_path / "green.png"
    Image.fromarray(green).save(source, icc_profile=ADOBE)
    photo = examine(source, "green.png")
    svg = (
        b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 10 10"><rect width="10" height="10" fill="%s"/></svg>'
        % GREEN.encode()
    )
    asset = sha256(svg).hexdigest()
    page = Layout(
        width_mm=60, height_mm=20, bleed_mm=0,
        layers=(
            Opening(id="o", outline=Rectangle(width_mm=18, height_mm=18), surface=Flat(centre=(10, 10))),
            FillBox(id="f", outline=Rectangle(width_mm=8, height_mm=18), surface=Flat(centre=(25, 10)), colour=GREEN),
            Ornament(id="s", centre=(35, 10), width_mm=8, height_mm=18, asset=asset),
            Text(id="t", centre=(50, 10), width_mm=20, height_mm=20, text="MM", size_pt=20, colour=GREEN, sample=False),
        ),
    )  # fmt: skip
    job = one_sheet(page)
    job = job.copy_with(lab=lab.copy_with(profile="adobe-compatible", ppi_target=100, ppi_least=30, jpeg_quality=100))
    job = apply(apply(job, BringIn(photos=(photo,))), Put(sheet=job.sheets[0].id, opening="o", photo=photo.id))
    pixels = PhotoPixels(lambda p: source, proxy=lambda p: pytest.fail("a proxy is sRGB"))
    path = export(job, tmp_path, pixels, MADE, format, assets=lambda name: svg)[0]
    expected = colour_in(GREEN, "adobe-compatible")
    assert np.abs(expected.astype(int) - (0x20, 0xA0, 0x50)).max() > 20  # else this test could not fail
    if format == "pdf":
        with pikepdf.open(path) as pdf:
            inner = pdf.pages[0].obj
            picture = Image.open(io.BytesIO(inner.Resources.XObject.P0.read_raw_bytes()))
            vectors = [line for line in inner.Contents.read_bytes().decode().splitlines() if line.endswith(" sc")]
        assert len(vectors) == 3  # the shape, the drawing and the words
        for said in vectors:
            assert np.abs(np.array(said.split()[:3], float) * 255 - expected).max() < 0.6
    else:
        picture = Image.open(path)
    rgb = np.asarray(picture.convert("RGB")).astype(int)
    middle, step = rgb.shape[0] // 2, rgb.shape[1] / 60
    assert np.abs(rgb[middle, round(10 * step)] - (30, 250, 40)).max() <= 1
    for x in () if format == "pdf" else (25, 35):
        assert np.abs(rgb[middle, round(x * step)] - expected).max() <= 1
    # On the screen it is shown in sRGB.
    shown = convert_to_screen(np.asarray(expected).reshape(1, 1, 3), "adobe-compatible")
    assert np.abs(shown.ravel().astype(int) - (0x20, 0xA0, 0x50)).max() <= 1
    painted, _ = Painter(pixels).render(items(first(job), lambda name: svg, False, False), PixelGrid.for_ppi(page, 100))
    assert np.abs(painted[middle, round(10 * step)].astype(int) - (30, 250, 40)).max() <= 1

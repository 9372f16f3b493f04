"""Photo files of every kind, good and bad; and words against the fonts' own tables."""

import io
import struct
import zlib
from pathlib import Path

import cv2
import numpy as np
import pillow_heif
import pytest
from fontTools.ttLib import TTFont
from PIL import Image, ImageCms, ImageOps

from sutaru.core.colour.profiles import convert_to_working, describe_profile, is_srgb, profile_bytes
from sutaru.core.document import Text
from sutaru.core.errors import PhotoRefused
from sutaru.core.geometry.outlines import bounds, flatten
from sutaru.core.measure import mm_from_points
from sutaru.core.photos import Held, PhotoPixels, decode, examine, photo_file
from sutaru.core.words import FOLDER, families, set_text, set_words
from tests.conftest import noise

PICTURE = noise(120, 180, 5)


def stored(mode: str, kind: str, **more: object) -> bytes:
    out = io.BytesIO()
    Image.fromarray(PICTURE).convert(mode).save(out, kind, **more)
    return out.getvalue()


@pytest.mark.parametrize("orientation", range(1, 9))
def test_every_exif_orientation_against_pillow(orientation: int) -> None:
    exif = Image.Exif()
    exif[0x0112] = orientation
    data = stored("RGB", "JPEG", exif=exif, quality=95)
    photo = examine(data, "x.jpg")
    want = np.asarray(ImageOps.exif_transpose(Image.open(io.BytesIO(data))))
    assert (photo.height, photo.width) == want.shape[:2]
    assert np.array_equal(decode(data, "x.jpg"), want)


# How an upright picture is stored for each orientation: Exif 2.32, tag 0x0112, "the 0th row and 0th column are ...".
AS_STORED = {
    1: lambda a: a, 2: lambda a: a[:, ::-1], 3: lambda a: a[::-1, ::-1], 4: lambda a: a[::-1],
    5: lambda a: a.transpose(1, 0, 2), 6: lambda a: np.rot90(a, 1), 7: lambda a: a.transpose(1, 0, 2)[::-1, ::-1],
    8: lambda a: np.rot90(a, -1),
}  # fmt: skip


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "TIFF", "WEBP"])
@pytest.mark.parametrize("orientation", range(1, 9))
def test_every_format_comes_upright_once(kind: str, orientation: int) -> None:
    upright = cv2.GaussianBlur(PICTURE, (0, 0), 3)
    upright[:20, :40] = (250, 20, 20)  # a corner that is like no other
    exif, out = Image.Exif(), io.BytesIO()
    exif[0x0112] = orientation
    Image.fromarray(np.ascontiguousarray(AS_STORED[orientation](upright))).save(out, kind, exif=exif)
    photo = examine(out.getvalue(), "x")
    pixels = decode(out.getvalue(), "x")
    assert (photo.width, photo.height, photo.exif_orientation) == (180, 120, orientation)
    assert pixels.shape == upright.shape
    assert np.abs(pixels.astype(int) - upright).mean() < 4


@pytest.mark.parametrize(
    ("mode", "kind", "format"),
    [
        ("RGB", "JPEG", "JPEG"), ("L", "JPEG", "JPEG"), ("CMYK", "JPEG", "JPEG"), ("RGB", "PNG", "PNG"), ("P", "PNG", "PNG"),
        ("1", "PNG", "PNG"), ("LA", "PNG", "PNG"), ("RGBA", "PNG", "PNG"), ("RGB", "TIFF", "TIFF"), ("CMYK", "TIFF", "TIFF"),
        ("L", "TIFF", "TIFF"), ("RGB", "WEBP", "WEBP"), ("RGBA", "WEBP", "WEBP"),
    ],
)  # fmt: skip
def test_formats_and_modes(mode: str, kind: str, format: str) -> None:
    data = stored(mode, kind, **({"quality": 95} if kind in ("JPEG", "WEBP") else {}))
    photo = examine(data, "x")
    assert (photo.format, photo.width, photo.height) == (format, 180, 120)
    pixels = decode(data, "x")
    assert pixels.shape == (120, 180, 3)
    assert pixels.dtype == np.uint8
    if mode in ("RGB", "RGBA"):
        assert np.abs(pixels.astype(int) - PICTURE).mean() < 6


def test_heic() -> None:
    out = io.BytesIO()
    pillow_heif.from_pillow(Image.fromarray(PICTURE)).save(out, quality=95)
    photo = examine(out.getvalue(), "x.heic")
    assert (photo.format, photo.width, photo.height) == ("HEIF", 180, 120)
    assert np.abs(decode(out.getvalue(), "x.heic").astype(int) - PICTURE).mean() < 9  # chroma is halved


def test_a_jpeg_with_a_second_picture_as_phones_write() -> None:
    out = io.BytesIO()
    Image.fromarray(PICTURE).save(out, "MPO", save_all=True, append_images=[Image.fromarray(255 - PICTURE)], quality=95)
    assert Image.open(io.BytesIO(out.getvalue())).format == "MPO"
    photo = examine(out.getvalue(), "phone.jpg")
    assert (photo.format, photo.width, photo.height) == ("JPEG", 180, 120)
    assert np.abs(decode(out.getvalue(), "phone.jpg").astype(int) - PICTURE).mean() < 6


def test_a_broken_exif_block_is_no_reason_to_refuse() -> None:
    exif = Image.Exif()
    exif[0x0112] = 6
    data = bytearray(stored("RGB", "JPEG", exif=exif))
    at = data.find(b"Exif\0\0")
    data[at + 6 : at + 14] = b"\xff" * 8
    assert examine(bytes(data), "x").exif_orientation == 1
    assert decode(bytes(data), "x").shape == (120, 180, 3)


def test_sixteen_bit_grey() -> None:
    ramp = np.linspace(0, 65535, 256).astype(np.uint16)[None].repeat(8, 0)
    for kind in ("PNG", "TIFF"):
        out = io.BytesIO()
        Image.fromarray(ramp).save(out, kind)
        assert examine(out.getvalue(), "x").bits == 16
        assert np.abs(decode(out.getvalue(), "x")[0, :, 0].astype(int) - np.arange(256)).max() <= 1


def test_embedded_profiles_are_honoured() -> None:
    adobe = profile_bytes("adobe-compatible")
    data = stored("RGB", "JPEG", icc_profile=adobe, quality=98)
    photo = examine(data, "x")
    assert "1998" in photo.profile
    raw = Image.open(io.BytesIO(data))
    direct = ImageCms.profileToProfile(
        raw, io.BytesIO(adobe), io.BytesIO(profile_bytes("srgb")), renderingIntent=1, flags=0x2000, outputMode="RGB"
    )
    assert np.array_equal(decode(data, "x"), np.asarray(direct))
    assert not is_srgb(adobe)
    assert is_srgb(profile_bytes("srgb"))
    assert is_srgb(ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes())  # LittleCMS's own
    # There and back again within a step or two.
    image = Image.fromarray(PICTURE // 2 + 60)
    back = convert_to_working(convert_to_working(image, None, "adobe-compatible"), adobe)
    assert np.abs(np.asarray(back, int) - np.asarray(image, int)).mean() < 1
    assert describe_profile(profile_bytes("fogra39"))[1] == "CMYK"
    assert describe_profile(b"not a profile") == ("", "")


def test_jpeg_is_decoded_shrunk(tmp_path: Path) -> None:
    path = tmp_path / "large.jpg"
    Image.fromarray(noise(1600, 2400)).save(path)
    assert decode(path, "x", 0.26).shape == (600, 900, 3)
    assert decode(path, "x", 0.51).shape == (1600, 2400, 3)  # six eighths would take longer
    assert decode(path, "x", 0.25).shape == (400, 600, 3)


def test_a_photo_that_is_asked_for_again_is_held_meanwhile(tmp_path: Path) -> None:
    path = tmp_path / "large.jpg"
    Image.fromarray(noise(1600, 2400)).save(path)
    photo = examine(path, "large.jpg")
    calls: list[str] = []
    pixels = Held(PhotoPixels(lambda p: calls.append(p.id) or path), 64 << 20)
    with pixels.hold([photo.id]):
        with pixels.hold([photo.id]):
            assert pixels(photo, 0.2).shape == (400, 600, 3)
        assert pixels(photo, 0.24).shape == (400, 600, 3)  # the outer one still holds it
        assert len(calls) == 1
        assert pixels(photo, 0.5).shape[1] >= 1200
        assert len(calls) == 2
        other = photo.copy_with(id="f" * 16)
        assert pixels(other, 0.2) is not pixels(other, 0.2)
    before = len(calls)
    pixels(photo, 0.2)
    pixels(photo, 0.2)
    assert len(calls) == before + 2
    kept = Held(PhotoPixels(lambda p: calls.append(p.id) or path), 64 << 20, always=True)
    assert kept(photo, 0.2) is kept(photo, 0.24)


@pytest.mark.parametrize(
    ("data", "sentence"),
    [
        (b"", "bad.jpg is empty (0 bytes). Copy it from the camera or card again."),
        (b"GIF89a....", "bad.jpg is not a picture that can be read. Bring it in as JPEG, PNG, TIFF, WebP or HEIC."),
        (
            b"\xff\xd8\xff\xe0",
            "bad.jpg is not a picture that can be read. Bring it in as JPEG, PNG, TIFF, WebP or HEIC.",
        ),
    ],
)
def test_bad_files_are_refused_in_one_sentence(data: bytes, sentence: str) -> None:
    with pytest.raises(PhotoRefused) as refused:
        examine(data, "bad.jpg")
    assert str(refused.value) == sentence


def test_truncated_and_too_large(monkeypatch: pytest.MonkeyPatch) -> None:
    whole = stored("RGB", "JPEG", quality=95)
    with pytest.raises(PhotoRefused, match=r"x\.jpg is damaged: its pixels end early"):
        decode(whole[: len(whole) // 2], "x.jpg")
    monkeypatch.setattr(photo_file.limits, "PHOTO_PIXELS", 10_000)
    with pytest.raises(PhotoRefused, match="more than 0. Make it smaller"):
        examine(whole, "x.jpg")
    monkeypatch.setattr(photo_file.limits, "PHOTO_BYTES", 100)
    with pytest.raises(PhotoRefused, match="is larger than"):
        examine(whole, "x.jpg")


def test_a_bomb_is_measured_before_it_is_decoded() -> None:
    # A PNG header that claims 60000 x 60000 px; nothing is ever allocated for it.
    def chunk(kind: bytes, body: bytes) -> bytes:
        return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))

    header = struct.pack(">IIBBBBB", 60000, 60000, 8, 2, 0, 0, 0)
    bomb = b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", header) + chunk(b"IDAT", b"x") + chunk(b"IEND", b"")
    with pytest.raises(PhotoRefused, match="bomb.png has 3,600 million pixels, more than 400. Make it smaller"):
        examine(bomb, "bomb.png")


def test_a_panorama_of_two_hundred_million_pixels_is_read() -> None:
    """Pillow's own limit is 179 million; ours is said in docs and messages."""
    out = io.BytesIO()
    Image.new("L", (40_000, 5_000), 90).save(out, "JPEG", quality=30)
    photo = examine(out.getvalue(), "wide.jpg")
    assert (photo.width, photo.height) == (40_000, 5_000)
    assert decode(out.getvalue(), "wide.jpg", 0.125).shape == (625, 5_000, 3)


# --- words ----------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("font", [f.name for f in families().values() if f.kind != "fallback"])
def test_every_font_sets_words_as_wide_as_its_own_table_says(font: str) -> None:
    table = TTFont(FOLDER / families()[font].faces[0].file)
    advance = table["hmtx"][table.getBestCmap()[ord("H")]][0] / table["head"].unitsPerEm
    wide = mm_from_points(100) * advance
    fits = set_words("H", font, 100, 1.2, "left", "top", wide + 0.05, 200)
    tight = set_words("H", font, 100, 1.2, "left", "top", wide - 0.05, 200)
    assert (fits.overset, tight.overset) == (False, True)
    assert fits.path.startswith("M")
    assert not fits.missing


def test_lines_break_where_unicode_allows() -> None:
    setting = set_words("kites over the-dunes at\u00a0dusk", "Lato", 12, 1.2, "left", "top", 21, 60)
    assert setting.lines == ("kites over", "the-dunes", "at\u00a0dusk")
    assert set_words("a\nb", "Lato", 12, 1.2, "left", "top", 99, 60).lines == ("a", "b")
    assert set_words("", "Lato", 12, 1.2, "left", "top", 9, 9).path == ""


def test_missing_letters_are_named_and_controls_dropped() -> None:
    assert set_words("𒀀", "Kaushan Script", 12, 1.2, "left", "top", 99, 60).missing == "𒀀"
    assert set_words("a\u202eb", "Lato", 12, 1.2, "left", "top", 99, 60) == set_words(
        "ab", "Lato", 12, 1.2, "left", "top", 99, 60
    )


def test_alignment_and_standing() -> None:
    def left_edge(**more: object) -> tuple[float, float]:
        layer = Text.model_validate(
            {"id": "t", "text": "HH", "centre": (0, 0), "width_mm": 100, "height_mm": 60, "font": "Lato", **more}
        )
        x0, y0, _, _ = bounds(flatten(set_text(layer, "HH").path, 0.01))
        return x0, y0

    assert left_edge(align="left")[0] < left_edge(align="centre")[0] < left_edge(align="right")[0]
    assert left_edge(stand="top")[1] < left_edge(stand="middle")[1] < left_edge(stand="bottom")[1]

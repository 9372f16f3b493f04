"""Files that mean harm, or were harmed: made by a seeded generator, so that each can be made again by its number."""

import hashlib
import io
import json
import random
import struct
import zipfile
import zlib
from collections.abc import Callable
from functools import cache

import numpy as np
from PIL import Image, ImageCms

Made = tuple[str, bytes]  # the name it comes by, and what it holds


@cache
def _pictures() -> dict[str, bytes]:
    """A sound file of each kind."""
    noise = np.random.default_rng(1).integers(0, 255, (120, 160, 4), np.uint8)
    rgba, rgb = Image.fromarray(noise), Image.fromarray(noise[..., :3])
    profile = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    exif = Image.Exif()
    exif[0x0112], exif[0x0132] = 6, "2026:05:01 10:00:00"
    found = {}
    for name, image, format, more in (
        ("plain.jpg", rgb, "JPEG", {"quality": 85, "icc_profile": profile, "exif": exif.tobytes()}),
        ("scans.jpg", rgb, "JPEG", {"progressive": True}),
        ("ink.jpg", rgb.convert("CMYK"), "JPEG", {}),
        ("clear.png", rgba, "PNG", {"icc_profile": profile}),
        ("grey.png", rgb.convert("L"), "PNG", {}),
        ("few.png", rgb.convert("P"), "PNG", {}),
        ("deep.png", Image.fromarray(noise[..., 0].astype(np.uint16) * 257), "PNG", {}),
        ("strips.tif", rgb, "TIFF", {"compression": "tiff_adobe_deflate"}),
        ("float.tif", Image.fromarray(noise[..., 0].astype(np.float32)), "TIFF", {}),
        ("web.webp", rgba, "WEBP", {}),
    ):
        file = io.BytesIO()
        image.save(file, format, **more)
        found[name] = file.getvalue()
    return found


def _damaged(data: bytes, by: random.Random) -> bytes:
    """Some bytes changed, cut out, doubled or cut off: a few, or many, often in the head where sizes stand."""
    found = bytearray(data)
    for _ in range(by.choice((1, 1, 2, 8, 40))):
        end = len(found) if by.random() < 0.5 else min(len(found), 200)
        at = by.randrange(max(1, end))
        how = by.random()
        if how < 0.45 and found:
            found[at] = by.choice((0, 255, 127, 128, by.randrange(256)))
        elif how < 0.6:
            found[at : at + 4] = struct.pack(by.choice("<>") + "I", by.choice((0, 1, 2**31 - 1, 2**32 - 1, 10**6)))
        elif how < 0.7:
            del found[at : at + by.choice((1, 7, 300))]
        elif how < 0.8:
            found[at:at] = found[at : at + by.choice((3, 200))]
        elif how < 0.9:
            del found[at:]
        else:
            found += by.randbytes(by.choice((1, 5000)))
    return bytes(found)


def _png(width: int, height: int, kind: int = 2, bits: int = 8, body: bytes = b"", interlace: int = 0) -> bytes:
    def chunk(name: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))

    head = struct.pack(">IIBBBBB", width, height, bits, kind, 0, 0, interlace)
    return (
        b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(body, 9)) + chunk(b"IEND", b"")
    )  # fmt: skip


@cache
def _bombs() -> tuple[Made, ...]:
    """Small files that stand for very large pictures, or that take very long."""
    row = b"\0" * (3 * 16000 + 1)
    scans = _pictures()["scans.jpg"]
    start = scans.index(b"\xff\xda")
    end = scans.index(b"\xff\xda", start + 2)
    many = scans[:end] + scans[start:end] * 4000 + scans[end:]
    wide = bytearray(_pictures()["plain.jpg"])
    at = wide.index(b"\xff\xc0")
    wide[at + 5 : at + 9] = struct.pack(">HH", 65000, 65000)
    line = _png(1, 170_000_000, 0, 8, b"\0" * 2_000_000)
    return (
        ("wide.jpg", bytes(wide)), ("scans-4000.jpg", many), ("line.png", line), ("huge.png", _png(2**31 - 1, 2**31 - 1)),
        ("flat.png", _png(16000, 16000, 2, 8, row * 400)), ("crossed.png", _png(16000, 16000, 2, 8, row * 400, 1)),
        ("deep.png", _png(14000, 14000, 2, 16, b"\0" * 1_000_000)), ("empty.jpg", b""), ("letter.jpg", b"Dear customer"),
        ("page.png", b"%PDF-1.7\n"), ("zero.png", _png(0, 0)), ("thin.png", _png(1, 1, 0, 8, b"\0\0")),
    )  # fmt: skip


def photo(n: int) -> Made:
    """A photo by number."""
    by = random.Random(f"photo {n}")
    if by.random() < 0.04:
        return by.choice(_bombs())
    name, data = by.choice(sorted(_pictures().items()))
    odd = by.choice(("", "", "", "3²4 ", "../", "\0", "\n", "☃ ", "x" * 500, "CON "))
    return odd + name, _damaged(data, by)


_SVG = (
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><g fill="none" stroke="#333" stroke-width="3">'
    '<path d="M10 10C40 0 60 90 90 90"/><circle cx="50" cy="50" r="20" fill="currentColor"/></g>'
    '<defs><linearGradient id="a"><stop offset="0" stop-color="#f00"/></linearGradient></defs>'
    '<rect width="40" height="30" fill="url(#a)"/></svg>'
)
_INTO_SVG = (
    '<image href="file:///etc/passwd" width="9" height="9"/>', '<use href="#a"/>', "<script>alert(1)</script>",
    '<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;">]>', "&b;", "<g>" * 3000,
    '<path d="M' + "9 9 L" * 9000 + '"/>', '<path d="M0 0L1e300 1e300"/>', '<path d="M0 0A1e9 1e9 0 0 1 1e9 0"/>',
    'onload="x()"', '" /><image href="http://127.0.0.1/x" x="', 'viewBox="0 0 0 0"', 'viewBox="nan 1 2 3"',
    'style="fill:url(http://x)"', "<text>a</text>", "<foreignObject/>", 'transform="matrix(1e200 0 0 1e200 0 0)"',
    'stroke-width="1e12"', '<circle r="-5"/>', "<filter/>", '<rect width="1e308" height="1"/>', "]]>", "\0", "<",
)  # fmt: skip


def asset(n: int) -> Made:
    """A drawing or a mask by number."""
    by = random.Random(f"asset {n}")
    if by.random() < 0.3:
        pictures = _pictures()
        return "mask.png", _damaged(pictures[by.choice(("clear.png", "grey.png", "few.png", "deep.png"))], by)
    words = _SVG
    for _ in range(by.choice((1, 1, 2, 4))):
        at = by.choice([m for m in range(len(words)) if words[m] in '< />"'])
        words = words[:at] + by.choice(_INTO_SVG) + words[at:]
    data = words.encode("utf-8", "replace")
    return "drawing.svg", _damaged(data, by) if by.random() < 0.3 else data


_ODD: tuple[object, ...] = (
    None, 0, -1, 1e308, -1e308, 1e-300, 2**70, "", "x" * 3000, "☃\0", [], {}, [[]], True, float("nan"), float("inf"),
    {"kind": "path", "d": "M0 0L1 1Z"}, "../../x", ["a"] * 1000,
)  # fmt: skip


def _changed(value: object, by: random.Random) -> object:
    """A document with one value in it, wherever, replaced by an odd one."""
    if isinstance(value, dict) and value and by.random() < 0.93:
        key = by.choice(sorted(value))
        return {**value, key: _changed(value[key], by)}
    if isinstance(value, list) and value and by.random() < 0.93:
        at = by.randrange(len(value))
        return [*value[:at], _changed(value[at], by), *value[at + 1 :]]
    return by.choice(_ODD)


def bundle(n: int, sound: bytes) -> Made:
    """A bundle by number, made of a sound one."""
    by = random.Random(f"bundle {n}")
    how = by.random()
    if how < 0.25:
        return "job.sutaru", _damaged(sound, by)
    with zipfile.ZipFile(io.BytesIO(sound)) as packed:
        files = {name: packed.read(name) for name in packed.namelist()}
    if how < 0.75:
        job = json.loads(files["job.json"])
        for _ in range(by.choice((1, 1, 3))):
            job = _changed(job, by)
        files["job.json"] = json.dumps(job).encode()
    elif how < 0.85:
        name = by.choice(sorted(files))
        files[name] = _damaged(files[name], by)
    elif how < 0.9:
        files["job.json"] = b"[" * 100_000 + b"]" * 100_000
    else:  # a photo by its right name that is none, and facts that are not so
        job = json.loads(files["job.json"])
        for said in job["pile"]["photos"]:
            data = by.choice((photo(by.randrange(999))[1], b"", by.randbytes(900)))
            said["sha256"] = hashlib.sha256(data).hexdigest()
            said["id"], said["width"], said["height"], said["size_bytes"] = (
                said["sha256"][:16],
                60000,
                40000,
                len(data) or 1,
            )
            files[f"photos/{said['sha256']}.jpg"] = data
        files["job.json"] = json.dumps(job).encode()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", by.choice((zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED, zipfile.ZIP_LZMA))) as packed:
        for name, data in files.items():
            packed.writestr(name, data)
    made = bytearray(out.getvalue())
    if by.random() < 0.25:  # sizes and flags that lie, in the directory
        at = made.rindex(b"PK\x01\x02")
        offset, size = by.choice(((8, 2), (10, 2), (20, 4), (24, 4), (42, 4)))
        made[at + offset : at + offset + size] = by.choice((b"\x01", b"\xff", b"\0")) * size
    return "job.sutaru", bytes(made)


Maker = Callable[[int], Made]

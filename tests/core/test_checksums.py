"""Checksums of photo files: the published ones, those of Debian's ``b3sum``, and SHA-256 of photos of before."""

import hashlib
import subprocess
from pathlib import Path

import pytest

from sutaru.core.photos import examine
from sutaru.core.photos.checksums import checksum, is_of

# The BLAKE3 team's published test vectors (test_vectors.json): inputs of that many bytes, 0, 1, 2 ... 250 again and again.
# Their first 32 bytes, from memory; what b3sum tells is held against them below.
VECTORS = {
    0: "af1349b9f5f9a1a6a0404dea36dcc9499bcb25c9adc112b7cc9a93cae41f3262",
    1: "2d3adedff11b61f14c886e35afa036736dcd87a74d27b5c1510225d0f592e213",
}


def counting(size: int) -> bytes:
    return bytes(n % 251 for n in range(size))


@pytest.mark.parametrize("size", [0, 1, 1023, 1024, 1025, 31_744, (1 << 20) + 13, 3 << 20])
def test_a_checksum_is_what_b3sum_tells(size: int, tmp_path: Path) -> None:
    path = tmp_path / "photo.jpg"
    path.write_bytes(counting(size))
    told = subprocess.run(["b3sum", "--no-names", str(path)], capture_output=True, text=True, check=True).stdout.strip()
    assert checksum(path) == checksum(path.read_bytes()) == told == VECTORS.get(size, told)


def test_a_photo_is_named_by_its_checksum(pile: list) -> None:
    path, photo = pile[0]
    assert photo.checksum == checksum(path) == examine(path.read_bytes(), "x").checksum
    assert photo.id == photo.checksum[:16]


def test_a_photo_of_before_keeps_its_sha256(pile: list) -> None:
    path, photo = pile[0]
    data = path.read_bytes()
    old = hashlib.sha256(data).hexdigest()
    for told in (old, photo.checksum):
        assert is_of(told, path)
        assert is_of(told, data)
        assert not is_of(told, data + b"\0")
    assert not is_of("0" * 64, path)
    said = photo.model_dump(exclude={"checksum"}) | {"id": old[:16], "sha256": old}
    read = type(photo).model_validate(said)
    assert (read.id, read.checksum) == (old[:16], old)
    assert "sha256" not in read.model_dump()

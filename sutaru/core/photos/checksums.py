"""Checksums by which photo files are known and kept: BLAKE3, 256 bits in hexadecimal digits, as ``b3sum`` tells them.

Of an import, SHA-256 would take a twelfth where the processor has no instructions for it; BLAKE3 takes a tenth of that. (J.
O'Connor, J.-P. Aumasson, S. Neves, Z. Wilcox-O'Hearn, "BLAKE3: one function, fast everywhere", 2020.)
"""

import hashlib
from pathlib import Path
from typing import Any

from blake3 import blake3

Source = bytes | Path


def checksum(source: Source) -> str:
    """The checksum of a file: its bytes or its path."""
    return _sum_source(source, blake3())


def is_of(expected: str, source: Source) -> bool:
    """Whether a checksum is that of a file. Photos of before BLAKE3 keep the one they came with, SHA-256."""
    return expected == checksum(source) or expected == checksum_before(source)


def checksum_before(source: Source) -> str:
    """The checksum that a file had before BLAKE3: its SHA-256."""
    return _sum_source(source, hashlib.sha256())


def _sum_source(source: Source, digest: Any) -> str:
    if isinstance(source, bytes):
        digest.update(source)
    else:
        with source.open("rb") as file:
            hashlib.file_digest(file, lambda: digest)
    return str(digest.hexdigest())

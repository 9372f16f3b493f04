"""Pixels of 8 and of 16 bits a channel. White is 255 in the one and 65,535 in the other: a level of the one is 257 of the other.

>>> convert_to_16_bits(np.array([0, 1, 255], np.uint8)).tolist(), convert_to_8_bits(np.array([0, 300, 65535], np.uint16)).tolist()
([0, 257, 65535], [0, 1, 255])
"""

from typing import Any

import numpy as np
from numpy.typing import NDArray

Bytes = NDArray[np.uint8]
Deep = NDArray[np.uint16]
Values = NDArray[Any]  # of either depth


def white(values: Values) -> int:
    """The greatest value that pixels of this depth can have."""
    return 65535 if values.dtype == np.uint16 else 255


def convert_to_16_bits(values: Values) -> Deep:
    """The same of 16 bits."""
    return values if values.dtype == np.uint16 else np.multiply(values, 257, dtype=np.uint16)


def convert_to_8_bits(values: Values) -> Bytes:
    """The same of 8 bits, rounded."""
    return values if values.dtype == np.uint8 else ((values.astype(np.uint32) + 128) // 257).astype(np.uint8)


def match_depth(values: Values, other: Values) -> Values:
    """Values in the depth of others."""
    return convert_to_16_bits(values) if other.dtype == np.uint16 else convert_to_8_bits(values)

"""Mending a photo by a recipe: its places by retouching, then its tone and colour."""

from .areas import Size
from .cutting import cut_out
from .matching import matching
from .retouching import Retoucher, reach_of, retouched, source, touched
from .straightening import found_upright
from .tone import curves, mended

__all__ = [
    "Retoucher", "Size", "curves", "cut_out", "found_upright", "matching", "mended", "reach_of", "retouched", "source", "touched",
]  # fmt: skip

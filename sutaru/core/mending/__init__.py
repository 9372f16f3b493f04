"""Mending a photo by a recipe: tone and colour."""

from .matching import matching
from .tone import curves, mended

__all__ = ["curves", "matching", "mended"]

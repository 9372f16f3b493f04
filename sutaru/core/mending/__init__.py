"""Mending a photo by a recipe: tone and colour."""

from .tone import curves, mended

__all__ = ["curves", "mended"]

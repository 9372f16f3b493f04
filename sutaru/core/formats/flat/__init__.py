"""Flat pictures of templates, read into live openings."""

from .reading import FlatRead, read_flat, read_picture
from .shapes import Understood

__all__ = ["FlatRead", "Understood", "read_flat", "read_picture"]

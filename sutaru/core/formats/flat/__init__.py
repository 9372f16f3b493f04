"""Flat pictures of templates, read into live openings."""

from .picking import Picked, picked
from .reading import FlatRead, png_of, read_flat, read_picture
from .shapes import Understood

__all__ = ["FlatRead", "Picked", "Understood", "picked", "png_of", "read_flat", "read_picture"]

"""Files of other programs read as sheets of a template: flat pictures, SVG, OpenRaster, PDF; and what could not be read."""

from .found import Read
from .reading import SUFFIXES, read_foreign

__all__ = ["SUFFIXES", "Read", "read_foreign"]

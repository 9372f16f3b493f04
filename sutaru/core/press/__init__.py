"""Print files: raster and PDF, written whole or not at all, checked, and listed in a manifest."""

from .exporting import EVERY, MANIFEST, export
from .files import sweep, whole

__all__ = ["EVERY", "MANIFEST", "export", "sweep", "whole"]

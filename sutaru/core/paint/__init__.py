"""Painting: sampling photos through their maps, vectors, blending, sheets."""

from .grid import Box, PixelGrid
from .items import Assets, Item, items, no_assets
from .layers import extent
from .page import LivePage, Painted, Painter, changed

__all__ = [
    "Assets",
    "Box",
    "Item",
    "LivePage",
    "Painted",
    "Painter",
    "PixelGrid",
    "changed",
    "extent",
    "items",
    "no_assets",
]

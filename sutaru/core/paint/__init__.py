"""Painting: sampling photos through their maps, vectors, blending, sheets."""

from .grid import Box, PixelGrid
from .items import Assets, Item, items, refuse_asset
from .layers import extent
from .page import LivePage, Painted, Painter, changed_box

__all__ = [
    "Assets",
    "Box",
    "Item",
    "LivePage",
    "Painted",
    "Painter",
    "PixelGrid",
    "changed_box",
    "extent",
    "items",
    "refuse_asset",
]

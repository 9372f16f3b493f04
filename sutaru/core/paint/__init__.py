"""Painting: sampling photos through their maps, vectors, blending, pages."""

from .grid import Box, Grid
from .items import Item, items
from .page import LivePage, Painter, changed

__all__ = ["Box", "Grid", "Item", "LivePage", "Painter", "changed", "items"]

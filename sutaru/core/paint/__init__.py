"""Painting: sampling photos through their maps, vectors, blending, sheets."""

from .grid import Box, Grid
from .items import Assets, Item, items, no_assets
from .page import LivePage, Painter, changed

__all__ = ["Assets", "Box", "Grid", "Item", "LivePage", "Painter", "changed", "items", "no_assets"]

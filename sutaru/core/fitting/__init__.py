"""Laying photos in openings: placements that never gap, and the best assignment of photos to openings."""

from .assigning import assigned, cost, costs, first_placement
from .placing import (
    clamped,
    cover_scale,
    crop_share,
    effective_ppi,
    extents,
    opening_from_photo,
    page_from_photo,
    scale,
)

__all__ = [
    "assigned", "clamped", "cost", "costs", "cover_scale", "crop_share", "effective_ppi", "extents",
    "first_placement", "opening_from_photo", "page_from_photo", "scale",
]  # fmt: skip

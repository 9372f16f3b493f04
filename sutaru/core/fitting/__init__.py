"""Laying photos in openings: placements that never gap, what stays visible, spans, the best assignment of photos."""

from .assigning import assigned, cost, costs
from .keeping import cuts, first_placement, kept_placement
from .placing import (
    clamped,
    cover_scale,
    crop_share,
    distortion,
    effective_ppi,
    extents,
    opening_from_photo,
    page_from_photo,
    ppi_picture,
    scale,
    shown,
    window,
)
from .reading import reading_order
from .spanning import about_all, in_register, lies_flat, member_placement, span_placement

__all__ = [
    "about_all", "assigned", "clamped", "cost", "costs", "cover_scale", "crop_share", "cuts", "distortion",
    "effective_ppi", "extents", "first_placement", "in_register", "kept_placement", "lies_flat", "member_placement",
    "opening_from_photo", "page_from_photo", "ppi_picture", "reading_order", "scale", "shown", "span_placement", "window",
]  # fmt: skip

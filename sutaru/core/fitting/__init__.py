"""Laying photos in openings: placements that never gap, what stays visible, spans, the best assignment of photos."""

from .assigning import assign_photos, cost, costs
from .choosing import Choice, Wanted, choose, choose_openings, choose_round
from .keeping import Cut, cuts, first_placement, free_outlines_on_page, keep_areas_visible
from .overlap import find_same_place
from .placing import (
    clamp_placement,
    cover_scale,
    crop_share,
    extents,
    free_subject_room,
    opening_from_photo,
    page_from_photo,
    scale,
    shown_area_mm2,
    shown_polygons,
    window,
)
from .print_density import distortion, effective_ppi, ppi_picture, ppi_through
from .reading_order import reading_order
from .resolving import Drawn, Fonts, Resolved, drawing_key, earlier_uses, printed_ppi, resolve_sheet, resolve_sheets
from .spanning import check_flat, member_placement, members, opening_around, span_placement
from .straightening import areas_upright, upright_from_photo

__all__ = [
    "Choice",
    "Cut",
    "Drawn",
    "Fonts",
    "Resolved",
    "Wanted",
    "areas_upright",
    "assign_photos",
    "check_flat",
    "choose",
    "choose_openings",
    "choose_round",
    "clamp_placement",
    "cost",
    "costs",
    "cover_scale",
    "crop_share",
    "cuts",
    "distortion",
    "drawing_key",
    "earlier_uses",
    "effective_ppi",
    "extents",
    "find_same_place",
    "first_placement",
    "free_outlines_on_page",
    "free_subject_room",
    "keep_areas_visible",
    "member_placement",
    "members",
    "opening_around",
    "opening_from_photo",
    "page_from_photo",
    "ppi_picture",
    "ppi_through",
    "printed_ppi",
    "reading_order",
    "resolve_sheet",
    "resolve_sheets",
    "scale",
    "shown_area_mm2",
    "shown_polygons",
    "span_placement",
    "upright_from_photo",
    "window",
]  # fmt: skip

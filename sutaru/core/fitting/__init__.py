"""Laying photos in openings: placements that never gap, what stays visible, spans, the best assignment of photos."""

from .assigning import assigned, cost, costs
from .choosing import Choice, Wanted, choose, choose_round, wanted
from .keeping import Cut, cuts, first_placement, kept_placement, standing_on_page
from .overlap import find_same_place
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
    ppi_through,
    scale,
    shown,
    shown_area,
    standing_free,
    window,
)
from .reading import reading_order
from .resolving import Drawn, Fonts, Resolved, drawn_key, earlier_uses, printed_ppi, resolved, resolved_sheets
from .spanning import about_all, lies_flat, member_placement, members, span_placement
from .straightening import areas_upright, upright_from_photo

__all__ = [
    "Choice", "Cut", "Drawn", "Fonts", "Resolved", "Wanted", "about_all", "areas_upright", "assigned", "choose",
    "choose_round", "clamped", "cost", "costs", "cover_scale", "crop_share", "cuts", "distortion", "drawn_key",
    "earlier_uses", "effective_ppi", "extents", "find_same_place", "first_placement", "kept_placement", "lies_flat",
    "member_placement", "members", "opening_from_photo", "page_from_photo", "ppi_picture", "ppi_through", "printed_ppi",
    "reading_order", "resolved", "resolved_sheets", "scale", "shown", "shown_area", "span_placement", "standing_free",
    "standing_on_page", "upright_from_photo", "wanted", "window",
]  # fmt: skip

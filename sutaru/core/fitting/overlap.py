"""Which opening of a sheet lies where another one would lie."""

from shapely import Polygon, union_all
from shapely.geometry.base import BaseGeometry

from ..document import Layout, Opening

SAME = 0.9  # of the area that two cover together is covered by both: the same place, drawn twice


def find_same_place(layout: Layout, opening: Opening) -> Opening | None:
    """Find the opening that covers nearly all of what another one would cover, and little more; None where none does."""
    wanted = _area_on_page(opening)
    shares = {other.id: _overlap_share(_area_on_page(other), wanted) for other in layout.openings()}
    nearest = max(shares, key=lambda identity: shares[identity], default="")
    return layout.openings_by_id[nearest] if nearest and shares[nearest] >= SAME else None


def _area_on_page(opening: Opening) -> BaseGeometry:
    rings = [opening.page_from_opening.apply(ring) for ring in opening.outline.polygons()]
    return union_all([Polygon(ring).buffer(0) for ring in rings if len(ring) > 2])


def _overlap_share(first: BaseGeometry, other: BaseGeometry) -> float:
    """The part of what two cover together that both cover, 0 to 1."""
    whole = first.union(other).area
    return first.intersection(other).area / whole if whole else 0.0

"""Spans: one photo running on through several openings, in register by computation.

A span's placement lays the photo on the box about all its openings, upright on the page. What each opening shows follows
from it as an ordinary placement, so that painting, measuring and checking know nothing of spans.
"""

import math

import numpy as np
import shapely

from ..document import Flat, Layout, Opening, Path, Photo, Placement, Span
from ..errors import EditRefused
from ..geometry import outlines
from ..geometry.matrices import Matrix, inverse, translation
from .placing import clamp_placement, cover_scale, opening_from_photo

WHOLE = "span"


def check_flat(opening: Opening) -> None:
    """Raises EditRefused for an opening that cannot be in a span."""
    if not isinstance(opening.surface, Flat) or opening.surface.is_distorted:
        raise EditRefused(
            f"{opening.name or opening.id} is slanted, bent or stretched, so no photo can run on through it.",
            "Lay it flat first.",
        )


def members(layout: Layout, span: Span) -> list[Opening]:
    """The openings of a span that are on the sheet and lie flat there."""
    openings = [layout.openings_by_id[o] for o in span.openings if o in layout.openings_by_id]
    return [o for o in openings if isinstance(o.surface, Flat) and not o.surface.is_distorted]


def opening_around(openings: list[Opening]) -> Opening:
    """One opening that is all of them: their outlines together, upright on the page, about the middle of their box."""
    polygons = [o.page_from_opening.apply(p) for o in openings for p in o.outline.polygons()]
    x0, y0, x1, y1 = outlines.bounds(polygons)
    middle = ((x0 + x1) / 2, (y0 + y1) / 2)
    # Whatever turn a photo is laid at, it reaches as far as what is about them all does: curves need not be kept.
    hull = shapely.convex_hull(shapely.multipoints(np.concatenate(polygons) - middle))
    around = outlines.polygon(shapely.get_coordinates(hull)[:-1].round(4).tolist())
    return Opening.model_construct(id=WHOLE, outline=Path.model_construct(d=around), surface=Flat(centre=middle))


def _matrix(opening: Opening) -> Matrix:
    matrix = opening.page_from_opening.matrix
    assert matrix is not None  # spans are flat
    return matrix


def _placement_from_matrix(opening: Opening, photo: Photo, opening_from: Matrix) -> Placement:
    """A similarity from photo px to opening mm as a placement, its zoom not yet held to a least."""
    mirror = bool(np.linalg.det(opening_from[:2, :2]) < 0)
    k = math.sqrt(abs(float(np.linalg.det(opening_from[:2, :2]))))
    # The photo's y axis turns with it, mirrored or not: it lies along (sin t, cos t).
    turn = math.degrees(math.atan2(opening_from[0, 1], opening_from[1, 1]))
    x, y, w = inverse(opening_from) @ np.array([0.0, 0.0, 1.0])
    return Placement.model_construct(
        photo=photo.id, fit="cover", centre=(float(x / w) / photo.width, float(y / w) / photo.height),
        zoom=k / cover_scale(opening, photo, turn, mirror), turn_deg=turn, mirror=mirror, ratio=None,
    )  # fmt: skip


def member_placement(span: Span, openings: list[Opening], member: Opening, photo: Photo) -> Placement:
    """What one opening of a span shows."""
    whole = opening_around(openings)
    nudge = span.nudged.get(member.id, (0.0, 0.0))
    page_from = translation(*nudge) @ _matrix(whole) @ opening_from_photo(whole, photo, span.placement)
    shows = _placement_from_matrix(member, photo, inverse(_matrix(member)) @ page_from)
    # Where all is covered a member is. Its own zoom knows no most, or small ones would fall out of register.
    return clamp_placement(member, photo, shows, math.inf)


def span_placement(span: Span, openings: list[Opening], member: Opening, photo: Photo, shows: Placement) -> Placement:
    """The span's placement that makes one of its openings show its photo as ``shows`` lays it, as far as none gaps."""
    whole = opening_around(openings)
    nudge = span.nudged.get(member.id, (0.0, 0.0))
    page_from = translation(-nudge[0], -nudge[1]) @ _matrix(member) @ opening_from_photo(member, photo, shows)
    return clamp_placement(whole, photo, _placement_from_matrix(whole, photo, inverse(_matrix(whole)) @ page_from))

"""Which photo goes into which opening: the cheapest assignment over a cost per pair.

In order of weight: orientation, share cropped away, ppi below the lab's least, then the order of the pile.
"""

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import linear_sum_assignment

from ..document import LabSheet, Opening, Photo, Placement, orientation
from .placing import clamped, crop_share, effective_ppi

# Weights of one pair's parts. A wrong orientation outweighs any crop; order decides only between near equals.
WRONG_ORIENTATION, CROPPED, BELOW_LEAST, BELOW_TARGET, OUT_OF_ORDER = 4.0, 2.0, 1.5, 0.25, 0.05


def first_placement(opening: Opening, photo: Photo) -> Placement:
    """How a photo lies when it is first put down: just covering, centred."""
    return clamped(opening, photo, Placement(photo=photo.id))


def cost(opening: Opening, photo: Photo, lab: LabSheet) -> float:
    """What it costs to put this photo into this opening, order aside. Needs nothing but sizes."""
    placement = first_placement(opening, photo)
    wish = opening.accepts if opening.accepts != "any" else _lying(opening)
    lies = orientation(photo.width, photo.height)
    total = WRONG_ORIENTATION if {wish, lies} == {"landscape", "portrait"} else 0.0
    total += CROPPED * crop_share(opening, photo, placement)
    ppi = effective_ppi(opening, photo, placement)
    if ppi < lab.ppi_least:
        total += BELOW_LEAST * (2 - ppi / lab.ppi_least)
    elif ppi < lab.ppi_target:
        total += BELOW_TARGET * (1 - ppi / lab.ppi_target)
    return total


def _lying(opening: Opening) -> str:
    return orientation(opening.outline.width_mm, opening.outline.height_mm)


def costs(openings: list[Opening], photos: list[Photo], lab: LabSheet) -> NDArray[np.float64]:
    """Cost of every pair, shape (openings, photos), order included."""
    known: dict[tuple[object, ...], float] = {}
    table = np.empty((len(openings), len(photos)))
    for i, opening in enumerate(openings):
        for j, photo in enumerate(photos):
            key = (opening.outline, opening.surface if opening.surface.kind != "flat" else None, opening.accepts,
                   photo.width, photo.height)  # fmt: skip
            if key not in known:
                known[key] = cost(opening, photo, lab)
            apart = abs(i / max(1, len(openings)) - j / max(1, len(photos)))
            table[i, j] = known[key] + OUT_OF_ORDER * apart
    return table


def assigned(openings: list[Opening], photos: list[Photo], lab: LabSheet) -> list[tuple[Opening, Photo]]:
    """The cheapest pairing in which each opening and each photo is used at most once (Jonker and Volgenant, via SciPy).

    With fewer photos than openings, some openings stay empty.
    """
    if not openings or not photos:
        return []
    rows, columns = linear_sum_assignment(costs(openings, photos, lab))
    return [(openings[i], photos[j]) for i, j in zip(rows.tolist(), columns.tolist(), strict=True)]

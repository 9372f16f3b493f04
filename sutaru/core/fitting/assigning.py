"""Which photo goes into which opening: the cheapest assignment over a cost per pair.

In order of weight: orientation, what must stay visible, share cropped away, ppi below the lab's least, then the order of
the pile. Or the photos keep their order, and only which of them are left out is chosen.
"""

from collections.abc import Callable

import numpy as np
import scipy
from numpy.typing import NDArray

from ..document import LabSheet, Layout, Opening, Photo, orientation
from .keeping import cuts, first_placement, room
from .placing import crop_share
from .print_density import effective_ppi

# Weights of one pair's parts. A wrong orientation outweighs any crop; order decides only between near equals.
WRONG_ORIENTATION, KEEP_CUT, CROPPED, BELOW_LEAST, BELOW_TARGET, OUT_OF_ORDER = 4.0, 3.0, 2.0, 1.5, 0.25, 0.05
SUPPOSED = 0.2  # how much what the machine merely supposes weighs against what is known
Place = tuple[Layout, Opening]


def cost(layout: Layout, opening: Opening, photo: Photo, lab: LabSheet) -> float:
    """What it costs to put this photo into this opening, order aside. Needs no pixels."""
    placement = first_placement(layout, opening, photo)
    wish = opening.accepts if opening.accepts != "any" else _describe_direction(opening)
    lies = orientation(photo.width, photo.height)
    total = WRONG_ORIENTATION if {wish, lies} == {"landscape", "portrait"} else 0.0
    total += CROPPED * crop_share(opening, photo, placement)
    cut = cuts(layout, opening, photo, placement)
    total += KEEP_CUT * max((c.share * (SUPPOSED if c.area.kind == "subject" else 1.0) for c in cut), default=0.0)
    ppi = effective_ppi(opening, photo, placement)
    if ppi < lab.ppi_least:
        total += BELOW_LEAST * (2 - ppi / lab.ppi_least)
    elif ppi < lab.ppi_target:
        total += BELOW_TARGET * (1 - ppi / lab.ppi_target)
    return total


def _describe_direction(opening: Opening) -> str:
    return orientation(opening.outline.width_mm, opening.outline.height_mm)


def costs(
    places: list[Place], photos: list[Photo], lab: LabSheet, step: Callable[[int], None] = lambda done: None
) -> NDArray[np.float64]:
    """Cost of every pair, shape (openings, photos), order included. ``step`` is told of each opening done, and may raise."""
    known: dict[tuple[object, ...], float] = {}
    table = np.empty((len(places), len(photos)))
    for i, (layout, opening) in enumerate(places):
        plain = opening.surface.kind == "flat" and not opening.surface.is_distorted
        shape = (opening.outline, opening.accepts, None if plain else opening.surface)
        where = room(layout, opening).key
        for j, photo in enumerate(photos):
            key = (shape, where if photo.keep_areas else None, photo.width, photo.height, photo.keep_areas)
            if key not in known:
                known[key] = cost(layout, opening, photo, lab)
            apart = abs(i / max(1, len(places)) - j / max(1, len(photos)))
            table[i, j] = known[key] + OUT_OF_ORDER * apart
        step(i + 1)
    return table


def assign_photos(
    places: list[Place],
    photos: list[Photo],
    lab: LabSheet,
    keep_order: bool = False,
    step: Callable[[int], None] = lambda done: None,
) -> list[tuple[Place, Photo]]:
    """The cheapest pairing in which each opening and each photo is used at most once (Jonker and Volgenant, via SciPy).

    ``keep_order``: the photos lie in the openings in the order in which they are given, the cheapest of all such pairings.
    With fewer photos than openings, some openings stay empty.
    """
    if not places or not photos:
        return []
    table = costs(places, photos, lab, step)
    if keep_order:
        return [(places[i], photos[j]) for i, j in _pair_in_order(table)]
    rows, columns = scipy.optimize.linear_sum_assignment(table)
    return [(places[i], photos[j]) for i, j in zip(rows.tolist(), columns.tolist(), strict=True)]


def _pair_in_order(table: NDArray[np.float64]) -> list[tuple[int, int]]:
    """The cheapest pairs (i, j), as many as can be, both rising: dynamic programming over what is left of each."""
    n, m = table.shape
    skipped = float(table.max() * min(n, m) + 1)  # leaving one out that could be paired costs more than any pairing
    best = np.zeros((n + 1, m + 1))
    best[1:, 0], best[0, 1:] = skipped * np.arange(1, n + 1), 0.0
    for i in range(1, n + 1):
        for j in range(1, m + 1):
            best[i, j] = min(best[i - 1, j - 1] + table[i - 1, j - 1], best[i, j - 1], best[i - 1, j] + skipped)
    pairs: list[tuple[int, int]] = []
    i, j = n, m
    while i and j:
        if best[i, j] == best[i - 1, j - 1] + table[i - 1, j - 1]:
            i, j = i - 1, j - 1
            pairs.append((i, j))
        elif best[i, j] == best[i, j - 1]:
            j -= 1
        else:
            i -= 1
    return pairs[::-1]

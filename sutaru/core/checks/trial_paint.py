"""Whether a sheet can be shown, measured and painted: the one rule that an edit must keep before it is stored."""

import logging
from collections.abc import Iterator
from contextlib import contextmanager

import numpy as np
from numpy.typing import NDArray

from ..document import Photo
from ..document.lab import Space
from ..errors import EditRefused, SutaruError
from ..fitting import Resolved
from ..paint import Assets, Painter, PixelGrid, items
from .ledger import Measured, measure_sheet

log = logging.getLogger(__name__)
WIDE_PX = 96  # of a sheet that is tried out
_MOST = 60  # layers that are painted for a trial: the rest of a sheet all of whose layers change is like these


def _grey(photo: Photo, least_scale: float, space: Space = "srgb", depth: int = 8) -> NDArray[np.uint8]:
    """A photo's place holder: what is tried is the page, and its photos were read when they came in."""
    size = max(1, round(photo.height * least_scale)), max(1, round(photo.width * least_scale))
    return np.full((*size, 3), 128, np.uint8)


def try_painting(sheet: Resolved, asset: Assets, before: Resolved | None = None) -> Measured:
    """The sheet's ledger and findings, once what is new in it since ``before`` was painted small, its photos grey.

    Raises whatever cannot be worked out.
    """
    measured = measure_sheet(sheet)
    known = set(items(before, asset, bench=True, notes=True)) if before else set()
    items_new = [item for item in items(sheet, asset, bench=True, notes=True) if item not in known][:_MOST]
    if items_new:
        layout = sheet.layout
        grid = PixelGrid.for_ppi(layout, WIDE_PX * 25.4 / (layout.width_mm + 2 * layout.bleed_mm))
        Painter(_grey).render(items_new, grid)
    return measured


@contextmanager
def refuse_failures(what: str, remedy: str = "Try other figures.") -> Iterator[None]:
    """Turns a failure that nobody foresaw into EditRefused, a sentence about ``what``."""
    try:
        yield
    except SutaruError:
        raise
    except Exception as error:
        log.exception("unforeseen")
        raise EditRefused(f"{what} could not be shown and printed like that.", remedy) from error

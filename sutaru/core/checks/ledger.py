"""The ledger: each opening, numbered, with what was measured of the photo in it."""

from typing import Literal

from ..document import Job, Opening
from ..document.shapes import Frozen
from ..fitting import crop_share, effective_ppi
from .rules import Finding


class Row(Frozen):
    """One opening of the ledger.

    ``zoom_least_ppi`` is how far the photo can be zoomed before the lab's least is reached. ``outline`` is the outline's
    polygon in opening space (mm; the longest one when there are several) and ``page_from_opening`` the surface's matrix,
    row by row: what a screen needs to point at the opening and to follow a drag.
    """

    number: int
    page: str
    opening: str
    name: str
    width_mm: float
    height_mm: float
    photo: str = ""
    zoom: float | None = None
    turn_deg: float | None = None
    ppi: float | None = None
    crop_share: float | None = None
    zoom_least_ppi: float | None = None
    status: Literal["order", "look", "stop"]
    outline: tuple[tuple[float, float], ...]
    page_from_opening: tuple[float, ...]


def _polygon(opening: Opening) -> tuple[tuple[float, float], ...]:
    longest = max(opening.outline.polygons(0.05), key=len)
    return tuple((x, y) for x, y in longest.tolist())


def ledger(job: Job, findings: list[Finding]) -> list[Row]:
    """Rows for every opening of the job, in number order, given the job's findings."""
    worst: dict[str, Literal["order", "look", "stop"]] = {}
    for finding in findings:
        if finding.layer and worst.get(finding.layer) != "stop" and finding.severity != "note":
            worst[finding.layer] = finding.severity
    rows = []
    pages = {o.id: page.id for page in job.pages for o in page.openings()}
    for number, opening in enumerate(job.openings_by_id.values(), 1):
        row = Row(
            number=number, page=pages[opening.id], opening=opening.id, name=opening.name,
            width_mm=opening.outline.width_mm, height_mm=opening.outline.height_mm,
            status=worst.get(opening.id, "order"),
            outline=_polygon(opening), page_from_opening=tuple(opening.page_from_opening.ravel().tolist()),
        )  # fmt: skip
        placement = job.edition.placements.get(opening.id)
        if placement:
            photo = job.photos_by_id[placement.photo]
            ppi = effective_ppi(opening, photo, placement)
            row = row.having(
                photo=photo.id, zoom=placement.zoom, turn_deg=placement.turn_deg, ppi=round(ppi, 1),
                crop_share=round(crop_share(opening, photo, placement), 4),
                zoom_least_ppi=round(placement.zoom * ppi / job.lab.ppi_least, 3),
            )  # fmt: skip
        rows.append(row)
    return rows

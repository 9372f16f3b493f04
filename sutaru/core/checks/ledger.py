"""The ledger: each opening, numbered, with what was measured of the photo in it."""

from typing import Literal

from ..document import Echo, Job, Opening
from ..document.shapes import Frozen
from ..fitting import crop_share, distortion, effective_ppi, reading_order
from ..geometry import outlines
from ..geometry.maps import nearest_projective
from ..geometry.matrices import Points
from .rules import Finding


class Row(Frozen):
    """One opening of the ledger.

    ``zoom_least_ppi`` is how far the photo can be zoomed before the lab's least is reached; ``width_at_target_mm`` how
    wide the opening could be for the photo to reach the target as it lies. ``distortion`` is how far the opening was
    stretched or skewed on purpose, 1 for not at all. ``reading`` counts in the order an eye goes over the page.

    What a screen needs to point at the opening and to follow a drag: ``outline``, the outline's polygon in opening space
    (mm; the longest one when there are several), ``shape``, that polygon on the page, and ``page_from_opening``, the
    surface's matrix, row by row, or what comes nearest to it in the middle of a bent one. ``span_outline`` is, for an
    opening of a span, the polygons of all its openings in this one's plane.
    """

    number: int
    reading: int
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
    width_at_target_mm: float | None = None
    distortion: float
    pinned: bool = False
    span: str = ""
    span_outline: tuple[tuple[tuple[float, float], ...], ...] = ()
    status: Literal["order", "look", "stop"]
    outline: tuple[tuple[float, float], ...]
    shape: tuple[tuple[float, float], ...]
    page_from_opening: tuple[float, ...]


class EchoRow(Frozen):
    """An echo as a screen needs it: the opening it shows again, its outline on the page, the corners of the box about it."""

    echo: str
    page: str
    of: str
    shape: tuple[tuple[float, float], ...]
    corners: tuple[tuple[float, float], ...]


def echoes(job: Job) -> list[EchoRow]:
    """Every echo of the job, page by page."""
    found = []
    for page in job.pages:
        for layer in page.layers:
            if isinstance(layer, Echo):
                source = job.openings_by_id[layer.of]
                onto = layer.page_from_source(source)
                longest = max(source.outline.polygons(0.05), key=len)
                x0, y0, x1, y1 = outlines.bounds([longest])
                shape = outlines.cut_short(longest, max(x1 - x0, y1 - y0) / 24) if onto.matrix is None else longest
                # As seen: a reflection's top left is the source's bottom left.
                top, bottom = (y1, y0) if layer.how == "reflection" else (y0, y1)
                corners = onto.apply([(x0, top), (x1, top), (x1, bottom), (x0, bottom)])
                found.append(
                    EchoRow(
                        echo=layer.id,
                        page=page.id,
                        of=source.id,
                        shape=_pairs(onto.apply(shape)),
                        corners=_pairs(corners),
                    )
                )
    return found


def _pairs(points: Points) -> tuple[tuple[float, float], ...]:
    return tuple((round(x, 4), round(y, 4)) for x, y in points.tolist())


def _span_outline(job: Job, opening: Opening, others: tuple[str, ...]) -> tuple[tuple[tuple[float, float], ...], ...]:
    return tuple(
        _pairs(opening.page_from_opening.inverse(other.page_from_opening.apply(polygon)))
        for other in (job.openings_by_id[o] for o in others)
        for polygon in other.outline.polygons(0.05)
    )


def ledger(job: Job, findings: list[Finding]) -> list[Row]:
    """Rows for every opening of the job, in number order, given the job's findings."""
    worst: dict[str, Literal["order", "look", "stop"]] = {}
    for finding in findings:
        if finding.layer and worst.get(finding.layer) != "stop" and finding.severity != "note":
            worst[finding.layer] = finding.severity
    rows = []
    reading = {o.id: n for n, o in enumerate((o for page in job.pages for o in reading_order(page)), 1)}
    pages = {o.id: page.id for page in job.pages for o in page.openings()}
    for number, opening in enumerate(job.openings_by_id.values(), 1):
        longest = max(opening.outline.polygons(0.05), key=len)
        x0, y0, x1, y1 = outlines.bounds([longest])
        bent = opening.page_from_opening.matrix is None
        shape = outlines.cut_short(longest, max(x1 - x0, y1 - y0) / 24) if bent else longest
        spanned = job.span_of(opening.id)
        row = Row(
            number=number, reading=reading[opening.id], page=pages[opening.id], opening=opening.id, name=opening.name,
            width_mm=opening.outline.width_mm, height_mm=opening.outline.height_mm,
            status=worst.get(opening.id, "order"),
            distortion=round(distortion(opening), 4), pinned=opening.id in job.edition.pins,
            span=spanned[0] if spanned else "",
            span_outline=_span_outline(job, opening, spanned[1].openings) if spanned else (),
            outline=_pairs(longest), shape=_pairs(opening.page_from_opening.apply(shape)),
            page_from_opening=tuple(nearest_projective(opening.page_from_opening, (0.0, 0.0)).ravel().tolist()),
        )  # fmt: skip
        placement = job.edition.placements.get(opening.id)
        if placement:
            photo = job.photos_by_id[placement.photo]
            ppi = effective_ppi(opening, photo, placement)
            row = row.having(
                photo=photo.id, zoom=placement.zoom, turn_deg=placement.turn_deg, ppi=round(ppi, 1),
                crop_share=round(crop_share(opening, photo, placement), 4),
                zoom_least_ppi=round(placement.zoom * ppi / job.lab.ppi_least, 3),
                width_at_target_mm=round(opening.outline.width_mm * ppi / job.lab.ppi_target, 1),
            )  # fmt: skip
        rows.append(row)
    return rows

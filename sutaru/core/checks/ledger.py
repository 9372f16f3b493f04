"""The ledger of a sheet: where its openings lie, and what was measured of the photo in each."""

from typing import Annotated, Literal

from pydantic import Field

from ..document import (
    Background,
    Echo,
    Layout,
    Opening,
    Placement,
)
from ..document.base import Frozen, unsaid
from ..fitting import Drawn, Resolved, crop_share, distortion, printed_ppi, reading_order
from ..geometry import outlines
from ..geometry.maps import Map, nearest_projective
from ..geometry.matrices import Points
from .finding import Finding
from .frames import Ring, frame_of
from .rules import check

_BEGINNING = 80  # letters of words that a list of them shows at most


class OpeningPlace(Frozen):
    """Where an opening lies: all that a screen needs to point at it and to follow a drag. It changes with the layout only.

    ``number`` and ``reading`` count from 1, by stack and as an eye goes over the sheet. ``outline`` is the outline's
    polygon in opening space (mm; the longest one when there are several), ``shape`` that polygon on the page, and
    ``page_from_opening`` the surface's matrix, row by row, or what comes nearest to it in the middle of a bent one.
    ``distortion`` is how far the opening was stretched or skewed on purpose, 1 for not at all.
    """

    number: int
    reading: int
    opening: str
    name: str
    width_mm: float
    height_mm: float
    distortion: float
    outline: Ring
    shape: Ring
    page_from_opening: tuple[float, ...]


class EchoPlace(Frozen):
    """An echo: the opening it shows again, its outline on the page, the corners of the box about it as seen."""

    echo: str
    of: str
    shape: Ring
    corners: Ring


class LayerPlace(Frozen):
    """Where a layer lies on the page, mm: the corners of its own box, from its top left clockwise as seen."""

    layer: str
    frame: Ring


class Places(Frozen):
    """Where the openings, echoes and other layers of a layout lie, and what the sheet measures once folded."""

    openings: tuple[OpeningPlace, ...]
    echoes: tuple[EchoPlace, ...]
    layers: tuple[LayerPlace, ...]
    folded_mm: tuple[float, float] | None


def places(layout: Layout) -> Places:
    """Places of all openings, by number, and of all echoes."""
    reading = {opening.id: n for n, opening in enumerate(reading_order(layout), 1)}
    places_read = [_place(opening, layout.numbers[opening.id], reading[opening.id]) for opening in layout.openings()]
    again = [_echo(e, layout.openings_by_id[e.of]) for e in layout.leaves if isinstance(e, Echo)]
    boxes = [
        LayerPlace(layer=leaf.id, frame=frame_of(leaf))
        for leaf in layout.leaves
        if not isinstance(leaf, Echo | Background)
    ]
    return Places(openings=tuple(places_read), echoes=tuple(again), layers=tuple(boxes), folded_mm=layout.folded_mm)


def _place(opening: Opening, number: int, reading: int) -> OpeningPlace:
    longest = max(opening.outline.polygons(0.05), key=len)
    nearest = nearest_projective(opening.page_from_opening, (0.0, 0.0))
    return OpeningPlace(
        number=number, reading=reading, opening=opening.id, name=opening.name,
        width_mm=opening.outline.width_mm, height_mm=opening.outline.height_mm,
        distortion=round(distortion(opening), 4), outline=_pairs(longest),
        shape=_map_ring(longest, opening.page_from_opening), page_from_opening=tuple(nearest.ravel().tolist()),
    )  # fmt: skip


def _echo(layer: Echo, source: Opening) -> EchoPlace:
    onto = layer.page_from_source(source)
    longest = max(source.outline.polygons(0.05), key=len)
    x0, y0, x1, y1 = outlines.bounds([longest])
    # As seen: a reflection's top left is the source's bottom left.
    top, bottom = (y1, y0) if layer.how == "reflection" else (y0, y1)
    corners = onto.apply([(x0, top), (x1, top), (x1, bottom), (x0, bottom)])
    return EchoPlace(echo=layer.id, of=source.id, shape=_map_ring(longest, onto), corners=_pairs(corners))


def _map_ring(polygon: Points, onto: Map) -> Ring:
    x0, y0, x1, y1 = outlines.bounds([polygon])
    bent = onto.matrix is None
    return _pairs(onto.apply(outlines.split_long_sides(polygon, max(x1 - x0, y1 - y0) / 24) if bent else polygon))


def _pairs(points: Points) -> Ring:
    return tuple((round(x, 4), round(y, 4)) for x, y in points.tolist())


Status = Literal["order", "look", "stop", "checking"]


class Row(Frozen):
    """One opening of the ledger: the photo it shows, how that lies, and what was measured.

    ``zoom_least_ppi`` is how far the photo can be zoomed before the lab's least is reached; ``width_at_target_mm`` how
    wide the opening could be for the photo to reach the target as it lies. ``span_outline`` is, for an opening of a
    span, the polygons of all its openings in this one's plane.
    """

    number: int
    opening: str
    placement: Placement | None = None
    photo: str = ""
    ppi: float | None = None
    crop_share: float | None = None
    zoom_least_ppi: float | None = None
    width_at_target_mm: float | None = None
    pinned: bool = False
    span: str = ""
    span_outline: tuple[Ring, ...] = ()
    checking: Annotated[bool, Field(exclude_if=unsaid)] = False
    hidden: Annotated[bool, Field(exclude_if=unsaid)] = False
    status: Status


class Measured(Frozen):
    """A sheet's ledger and findings; ``words``: how such words begin as have fields in them, those filled in, by layer.

    An opening whose photo the machine has not looked at yet is ``checking``: nobody knows whether a face is cut there.
    """

    rows: tuple[Row, ...]
    findings: tuple[Finding, ...]
    words: dict[str, str] = {}

    @property
    def counts(self) -> "Counts":
        """What a screen shows of a sheet without its ledger. Openings that are hidden are not to be filled."""
        severities = [finding.severity for finding in self.findings]
        shown = [row for row in self.rows if not row.hidden]
        filled, checking = sum(bool(row.photo) for row in shown), sum(row.checking for row in shown)
        return len(shown), filled, severities.count("stop"), severities.count("look"), checking


Counts = tuple[int, int, int, int, int]  # openings, filled ones, stops, looks, openings that are being checked


def measure_sheet(sheet: Resolved) -> Measured:
    """What was measured of a sheet, and what was found."""
    findings = check(sheet)
    worst: dict[str, Status] = {}
    for finding in findings:
        if finding.layer and worst.get(finding.layer) != "stop" and finding.severity != "note":
            worst[finding.layer] = finding.severity
    rows = [_row(sheet, drawn, worst.get(drawn.layer.id, "order")) for drawn in sheet.openings]
    words = {drawn.layer.id: drawn.words[:_BEGINNING] for drawn in sheet.drawn if drawn.told}
    return Measured(rows=tuple(rows), findings=tuple(findings), words=words)


def _row(sheet: Resolved, drawn: Drawn, status: Status) -> Row:
    opening, photo, placement = drawn.layer, drawn.photo, drawn.placement
    assert isinstance(opening, Opening)
    checking = photo is not None and not photo.is_looked_at
    row = Row(
        number=drawn.number, opening=opening.id, pinned=drawn.pinned, span=drawn.span, checking=checking,
        hidden=not opening.visible, status="checking" if checking and status == "order" else status,
        span_outline=_span_outline(sheet, opening, sheet.spans[drawn.span]) if drawn.span else (),
    )  # fmt: skip
    if photo is None or placement is None:
        return row
    ppi = printed_ppi(drawn)
    return row.copy_with(
        photo=photo.id, placement=placement, ppi=round(ppi, 1),
        crop_share=round(crop_share(opening, photo, placement), 4),
        zoom_least_ppi=round(placement.zoom * ppi / sheet.lab.ppi_least, 3),
        width_at_target_mm=round(opening.outline.width_mm * ppi / sheet.lab.ppi_target, 1),
    )  # fmt: skip


def _span_outline(sheet: Resolved, opening: Opening, others: tuple[str, ...]) -> tuple[Ring, ...]:
    return tuple(
        _pairs(opening.page_from_opening.inverse(other.page_from_opening.apply(polygon)))
        for other in (sheet.layout.openings_by_id[o] for o in others)
        for polygon in other.outline.polygons(0.05)
    )

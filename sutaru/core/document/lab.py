"""Lab sheets: what a lab wants."""

import math
from typing import Annotated, Literal

from pydantic import Field, model_validator

from .base import Frozen, Identity, Length, unsaid
from .book import Bindery
from .layout import Line, Role
from .press import PaperSurface, PdfRules, Press, Sharpening
from .template import Product

Format = Literal["jpeg", "png", "tiff", "pdf"]  # what a lab may want
FileKind = Literal["jpeg", "png", "tiff", "pdf", "ora"]  # what a sheet may be written as
Side = Literal["left", "top", "right", "bottom"]
SIDES: tuple[Side, ...] = ("left", "top", "right", "bottom")
SIZE_MM = 0.5  # a page that is off a format by less is that format (common practice, no source)
Space = Literal["srgb", "adobe-compatible"]  # an RGB space that pages are worked out in, and printed from


class Blank(Frozen):
    """A format that a lab prints: an empty sheet with its margins and lines."""

    id: Identity
    name: Annotated[str, Field(min_length=1, max_length=120)]
    product: Product
    role: Role = "page"
    width_mm: Length
    height_mm: Length
    bleed_mm: Annotated[float, Field(ge=0, le=50)] = 3.0
    safe_mm: Annotated[float, Field(ge=0, le=50)] = 5.0
    lines: Annotated[tuple[Line, ...], Field(max_length=50)] = ()


class LabSheet(Frozen):
    """What a lab wants, the formats it prints, and the books it binds.

    ``profile``: the RGB space that pages are worked out in; what is not converted to a ``press`` leaves in it. ``tiff_bits``:
    those of a channel. ``sharpen``: how much photos are sharpened for the print, on which ``surface``. ``any_size``: it prints
    other sizes than its formats too. ``bleeds``: the sides at which its files bleed; at the others they end at the trim.
    ``credit``: files say the studio's name as who made them.
    """

    id: Identity
    name: str
    lab: str = ""
    ppi_target: Annotated[int, Field(ge=72, le=1200)]
    ppi_least: Annotated[int, Field(ge=30, le=1200)]
    profile: Space = "srgb"
    format: Format = "jpeg"
    jpeg_quality: Annotated[int, Field(ge=50, le=100)] = 95
    tiff_bits: Annotated[Literal[8, 16], Field(exclude_if=lambda bits: bits == 8)] = 8
    naming: Annotated[str, Field(pattern=r"^[A-Za-z0-9 _{}-]{1,80}$")] = "{job}_{page}"
    note: str = ""
    blanks: Annotated[tuple[Blank, ...], Field(max_length=200, exclude_if=unsaid)] = ()
    any_size: Annotated[bool, Field(exclude_if=lambda value: value)] = True
    credit: Annotated[bool, Field(exclude_if=unsaid)] = False
    bleeds: Annotated[tuple[Side, ...], Field(max_length=4, exclude_if=lambda sides: set(sides) == set(SIDES))] = SIDES
    bindery: Annotated[Bindery | None, Field(exclude_if=unsaid)] = None
    press: Annotated[Press | None, Field(exclude_if=unsaid)] = None
    pdf: Annotated[PdfRules, Field(exclude_if=lambda rules: rules == PdfRules())] = PdfRules()
    sharpen: Annotated[Sharpening, Field(exclude_if=lambda how: how == "none")] = "none"
    surface: Annotated[PaperSurface, Field(exclude_if=lambda paper: paper == "glossy")] = "glossy"

    @property
    def has_live_layers(self) -> bool:
        """Whether layers stay live in its PDFs: not in inks, which blend otherwise than the light that pages are made in."""
        return self.pdf.live and (self.press is None or not self.press.convert)

    def formats(self, width_mm: float, height_mm: float) -> list[Blank]:
        """Its formats of a size, either way up."""
        return [
            blank
            for blank in self.blanks
            if any(abs(blank.width_mm - w) <= SIZE_MM and abs(blank.height_mm - h) <= SIZE_MM
                   for w, h in ((width_mm, height_mm), (height_mm, width_mm)))
        ]  # fmt: skip

    def bleed_sides(self, width_mm: float, height_mm: float, bleed_mm: float) -> tuple[float, float, float, float]:
        """How far a file of a page bleeds, mm, left, top, right and bottom: as far as its format wants, where it is drawn so
        far, and only at the sides that bleed."""
        wanted = min([bleed_mm, *(blank.bleed_mm for blank in self.formats(width_mm, height_mm))])
        left, top, right, bottom = (wanted if side in self.bleeds else 0.0 for side in SIDES)
        return left, top, right, bottom

    def nearest(self, width_mm: float, height_mm: float) -> Blank:
        """Its format that is most like a size, either way up: by the logarithms of the sides."""
        long, short = sorted((width_mm, height_mm), reverse=True)

        def blank_distance(blank: Blank) -> float:
            other = sorted((blank.width_mm, blank.height_mm), reverse=True)
            return abs(math.log(other[0] / long)) + abs(math.log(other[1] / short))

        return min(self.blanks, key=blank_distance)

    @model_validator(mode="after")
    def _fields(self) -> "LabSheet":
        if self.ppi_least > self.ppi_target:
            raise ValueError("The least ppi of a lab sheet cannot be above its target.")
        if self.pdf.x4 and self.press is None:
            raise ValueError("PDF/X-4 is made for a press: choose its profile.")
        try:
            self.naming.format(job="", page="", name="", customer="")
        except (KeyError, ValueError, IndexError):
            raise ValueError("A file naming pattern knows {job}, {customer}, {page} and {name} only.") from None
        return self

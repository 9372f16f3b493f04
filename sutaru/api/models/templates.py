"""Templates on the shelf and in the workshop, and what they are made of."""

from typing import Annotated, Literal

from pydantic import Field

from ...core.colour.output import ProfileFacts
from ...core.document import Opening, Product
from ...core.document.base import Identity, Length
from ...core.document.template import Tags
from ..messages import Message


class SheetCard(Message):
    """A sheet of a template as the shelf shows it. ``folded_mm``: its size once folded, null when it has no fold."""

    id: str
    name: str
    width_mm: float
    height_mm: float
    bleed_mm: float
    folded_mm: tuple[float, float] | None
    openings: int


class TemplateCard(Message):
    """A template as the shelf shows it. ``own``: the studio's, and not one that ships. ``months``: how many of its
    sheets are single months; ``year``: whether one shows a whole year; ``used``: how many jobs began from it."""

    id: str
    name: str
    product: Product
    occasion: str
    note: str
    orientation: Literal["landscape", "portrait", "square"]
    sheets: list[SheetCard]
    tags: list[str] = []
    proportions: list[float] = []
    own: bool = False
    revision: int = 1
    archived: bool = False
    favourite: bool = False
    used: int = 0
    group: str = ""
    months: int = 0
    year: bool = False


class Begin(Message):
    """What a template in the workshop is begun from: a template (its next revision, with ``revise``), a job's sheets, a
    lab's blank, or nothing but a size."""

    name: str = Field(min_length=1, max_length=120)
    template: str = Field("", max_length=64)
    revise: bool = False
    job: str = Field("", max_length=64)
    lab: str = Field("", max_length=64)
    blank: str = Field("", max_length=64)
    product: Product = "collage"
    width_mm: Length = 304.8
    height_mm: Length = 304.8
    bleed_mm: float = Field(3.0, ge=0, le=50)
    safe_mm: float = Field(5.0, ge=0, le=50)


class Keep(Message):
    """How sheets are kept as a template; what is not said is as it was said in the workshop."""

    as_new: bool = False
    edition: str = Field("", max_length=64)
    name: str = Field("", max_length=120)
    product: Product | None = None
    occasion: str | None = Field(None, max_length=60)
    tags: Tags | None = None
    note: str | None = Field(None, max_length=1000)
    variant_of: str | None = Field(None, max_length=64)


class Kept(Message):
    """A template as it was kept."""

    id: str
    revision: int
    name: str


class ReadFile(Message):
    """A file that was read into the workshop: how its openings were found, and what could not be read."""

    id: str
    openings: int
    how: str
    notes: list[str]


class PickArea(Message):
    """A picture on a sheet, and the page point, mm, of the area that is meant."""

    layer: Identity
    at_mm: tuple[float, float]
    tolerance: Annotated[int, Field(ge=0, le=100)] = 10


class PickedArea(Message):
    """The opening an area becomes, and the picture without the area; ``there``: the opening that lies there already, or ""."""

    opening: Opening
    asset: str
    there: str = ""


class OrnamentPiece(Message):
    """An ornament of the shelf: what it shows, its drawing's name, its width for its height."""

    kind: str
    name: str
    asset: str
    ratio: float


class AssetKept(Message):
    """A drawing, mask, picture, font or press profile that was kept: its name, and for a mask the outline that each way of
    reading it gives, in fractions of its box ("" where it cannot be read so)."""

    name: str
    kind: Literal["mask", "drawing", "overlay", "font", "profile"]
    width: int = 0
    height: int = 0
    ratio: float = 1.0
    traced: dict[Literal["alpha", "luminance"], str] = {}
    family: str = ""
    profile: ProfileFacts | None = None


class FontFamily(Message):
    """A family of fonts that ships: what kind it is, in which weights and whether slanted it has faces."""

    name: str
    kind: Literal["serif", "sans", "script", "hand", "display"]
    weights: list[int]
    slants: bool

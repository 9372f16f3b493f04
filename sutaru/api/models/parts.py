"""Parts of a job as they are stored, and asked for by name."""

from pydantic import Field

from ...core.document import (
    Book,
    CalendarSaid,
    Filling,
    LabSheet,
    Layout,
    Making,
    Product,
    Remark,
    Retouching,
    StudioCard,
    Upright,
)
from ...core.document.layout import Role
from ...core.document.photo import Marked
from ...core.document.recipe import Step
from ..messages import Message


class StoredJob(Message):
    """A job's root: its parts stand in it by name."""

    name: str
    customer: str
    order_number: str
    template: str
    product: Product
    enhance: bool
    revision: int = 1
    making: Making | None = None
    studio: StudioCard | None = None
    variants: list[str] = []
    fields: dict[str, str] = {}
    locale: str = "en_GB"
    calendar: CalendarSaid | None = None
    without_samples: bool = False
    book: Book | None = None
    remarks: list[Remark] = []
    fold: str = ""
    lab: str
    sheets: str
    pile: str
    editions: list[str]


class StoredSheet(Message):
    """A sheet, its layout by name."""

    id: str
    name: str
    role: Role
    layout: str
    fields: dict[str, str] = {}
    variant: str = ""


class StoredSheets(Message):
    """The list of sheets."""

    sheets: list[StoredSheet]


class StoredRecipe(Message):
    """How a photo is mended, its touches by name."""

    retouching: str | None = None
    upright: Upright | None = None
    steps: tuple[Step, ...] | None = ()


class StoredEdition(Message):
    """An edition, its fillings by name."""

    id: str
    name: str
    photo_tones: dict[str, StoredRecipe] = {}
    fields: dict[str, str] = {}
    copies: int = 1
    variant: str = ""
    fillings: dict[str, str]


class StoredPhoto(Message):
    """What is said of a photo in its job."""

    id: str
    name: str
    sample: bool = False
    marked: Marked | None = None
    already_worked: bool = False
    stars: int = 0
    aside: bool = False


class StoredChunk(Message):
    """Photos of a pile that are stored as one part, in order."""

    photos: list[StoredPhoto]


class StoredPile(Message):
    """The pile: its chunks by name, in order; or its photos, where it was stored before there were chunks."""

    chunks: list[str] = []
    photos: list[StoredPhoto] = []


class PartsOf(Message):
    """Parts by name. A name never means anything else: what one has once, one need not ask for again."""

    sheets: dict[str, StoredSheets] = {}
    editions: dict[str, StoredEdition] = {}
    fillings: dict[str, Filling] = {}
    retouchings: dict[str, Retouching] = {}
    layouts: dict[str, Layout] = {}
    piles: dict[str, StoredPile] = {}
    chunks: dict[str, StoredChunk] = {}
    labs: dict[str, LabSheet] = {}


class PartNames(Message):
    """Parts to send."""

    names: list[str] = Field(max_length=500)

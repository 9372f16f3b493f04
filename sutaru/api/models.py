"""What the API gives and takes, beyond the core's own models."""

from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from ..core.books import Wishes
from ..core.cards import Folding
from ..core.cards.folding import Kind as Fold
from ..core.checks import Counts, Measured, Places
from ..core.colour.output import ProfileFacts
from ..core.document import (
    Book,
    CalendarSaid,
    Dated,
    FileKind,
    Filling,
    LabSheet,
    Layout,
    Making,
    Opening,
    Photo,
    Product,
    Remark,
    Retouching,
    Sheet,
    StudioCard,
    Upright,
)
from ..core.document.base import Identity, Length
from ..core.document.layout import Role
from ..core.document.photo import Marked
from ..core.document.recipe import Step
from ..core.document.template import Tags
from ..core.edits import Difference, Edit
from ..core.press.printing import PrintWish
from ..store.tasks import Kind
from ..store.tasks import State as TaskStateName


class Problem(BaseModel):
    """An error: a stable code and a plain sentence that says what to do."""

    code: str
    sentence: str


class SheetCard(BaseModel):
    """A sheet of a template as the shelf shows it. ``folded_mm``: its size once folded, null when it has no fold."""

    id: str
    name: str
    width_mm: float
    height_mm: float
    bleed_mm: float
    folded_mm: tuple[float, float] | None
    openings: int


class TemplateCard(BaseModel):
    """A template as the shelf shows it. ``own``: the studio's, and not one that ships. ``months``: how many of its
    sheets are single months; ``year``: whether one shows a whole year."""

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
    away: bool = False
    group: str = ""
    months: int = 0
    year: bool = False


class JobCard(BaseModel):
    """A job as the shelf shows it. ``picture`` names its first sheet as it looks now; counts are null when that is not
    worked out yet."""

    id: str
    name: str
    customer: str
    order_number: str
    template: str
    created: str
    changed: str
    put_away: bool
    deleted: bool
    making: bool
    sheet: str
    picture: str
    width_mm: float
    height_mm: float
    sheets: int
    photos: int
    openings: int
    filled: int
    stops: int | None
    looks: int | None
    unreadable: str = ""


class JobList(BaseModel):
    """A page of the list of jobs, and how many there are in all."""

    jobs: list[JobCard]
    count: int


class NewBook(BaseModel):
    """A book from nothing: a size, paper and binding of its lab sheet's, by id; pages; a theme; its title."""

    size: str
    paper: str
    binding: str
    theme: str
    pages: int = Field(40, ge=1, le=2000)
    title: str = Field("", max_length=200)


class NewCard(BaseModel):
    """A card from nothing: how it folds, how large it is closed, a theme. ``by_photo``: the first photo turns it."""

    fold: Literal["half", "tent", "gate", "tri", "accordion"]
    width_mm: Length
    height_mm: Length
    theme: str
    by_photo: bool = False


class Contact(BaseModel):
    """A contact sheet: of these photos, or of all that are not put aside; on sheets of a size, so many in a row."""

    photos: list[str] = Field([], max_length=2000)
    width_mm: Length = 210.0
    height_mm: Length = 297.0
    columns: int = Field(5, ge=1, le=20)


class FoldKind(BaseModel):
    """A way to fold, in words."""

    kind: Fold
    what: str


class FoldedJob(BaseModel):
    """A card's folding, and which sheets are its sides; "" for a side that has none."""

    folding: Folding
    outside: str
    inside: str


class NewJob(BaseModel):
    """What a job is started from: a template, or a ``book`` or ``card`` from nothing. ``by_photo``: the first photo chooses
    between the template and its variants. A calendar has so many ``months`` from the first on, in a locale's names, with the
    holidays of a country and region, and those that many keep there as well."""

    template: str = ""
    name: str = Field(min_length=1, max_length=120)
    customer: str = Field("", max_length=120)
    order_number: str = Field("", max_length=60)
    lab: str
    samples: bool = False
    by_photo: bool = False
    months: int = Field(0, ge=0, le=18)
    first_month: str = Field("", pattern=r"^([12]\d{3}-(0[1-9]|1[0-2]))?$")
    locale: str = Field("en_GB", max_length=20)
    country: str = Field("", pattern=r"^([A-Z]{2})?$")
    region: str = Field("", max_length=10)
    more_holidays: bool = False
    book: NewBook | None = None
    card: NewCard | None = None


class PlanRequest(BaseModel):
    """What a layout of a book, or of some of its sheets, should be."""

    edition: str = ""
    wishes: Wishes = Wishes()
    sheets: list[Identity] | None = None


class LayoutChoice(BaseModel):
    """A layout that a sheet may have. ``source``: computed, of the book's own, or of the shelf's. ``now``: it is as the sheet
    is."""

    source: Literal["computed", "book", "shelf"]
    name: str
    openings: int
    now: bool
    boxes: list[tuple[float, float, float, float]] = Field(description="left, top, width, height, shares of the sheet")
    layout: Layout


class VariantSheets(BaseModel):
    """A variant of a job's template."""

    template: str
    name: str
    sheets: tuple[Sheet, ...]


class Compared(BaseModel):
    """Two editions beside each other: where they differ, and the keys of each sheet's picture in both."""

    differences: list[Difference]
    keys: dict[str, tuple[str, str]]


class Duplicate(BaseModel):
    """A job begun from another one: with all that lies in it; for new photos (``words``: all but its photos and how they were
    fitted); or with its sheets alone."""

    name: str = Field(min_length=1, max_length=120)
    customer: str | None = Field(None, max_length=120, description="else as before")
    order_number: str = Field("", max_length=60)
    keep: Literal["all", "words", "sheets"] = "all"


class Begin(BaseModel):
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


class Keep(BaseModel):
    """How sheets are kept as a template; what is not said is as it was said in the workshop."""

    as_new: bool = False
    edition: str = Field("", max_length=64)
    name: str = Field("", max_length=120)
    product: Product | None = None
    occasion: str | None = Field(None, max_length=60)
    tags: Tags | None = None
    note: str | None = Field(None, max_length=1000)
    variant_of: str | None = Field(None, max_length=64)


class Kept(BaseModel):
    """A template as it was kept."""

    id: str
    revision: int
    name: str


class ReadFile(BaseModel):
    """A file that was read into the workshop: how its openings were found, and what could not be read."""

    id: str
    openings: int
    how: str
    notes: list[str]


class PickArea(BaseModel):
    """A picture on a sheet, and the page point, mm, of the area that is meant."""

    layer: Identity
    at_mm: tuple[float, float]
    tolerance: Annotated[int, Field(ge=0, le=100)] = 10


class PickedArea(BaseModel):
    """The opening an area becomes, and the picture without the area; ``there``: the opening that lies there already, or ""."""

    opening: Opening
    asset: str
    there: str = ""


class Started(BaseModel):
    """The id of a new job."""

    id: str


class StoredJob(BaseModel):
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


class StoredSheet(BaseModel):
    """A sheet, its layout by name."""

    id: str
    name: str
    role: Role
    layout: str
    fields: dict[str, str] = {}
    variant: str = ""


class StoredSheets(BaseModel):
    """The list of sheets."""

    sheets: list[StoredSheet]


class StoredRecipe(BaseModel):
    """How a photo is mended, its touches by name."""

    retouching: str | None = None
    upright: Upright | None = None
    steps: tuple[Step, ...] | None = ()


class StoredEdition(BaseModel):
    """An edition, its fillings by name."""

    id: str
    name: str
    photo_tones: dict[str, StoredRecipe] = {}
    fields: dict[str, str] = {}
    copies: int = 1
    variant: str = ""
    fillings: dict[str, str]


class StoredPhoto(BaseModel):
    """What is said of a photo in its job."""

    id: str
    name: str
    sample: bool = False
    marked: Marked | None = None
    already_worked: bool = False
    stars: int = 0
    aside: bool = False


class StoredPile(BaseModel):
    """The pile, in order."""

    photos: list[StoredPhoto]


class PartsOf(BaseModel):
    """Parts by name. A name never means anything else: what one has once, one need not ask for again."""

    sheets: dict[str, StoredSheets] = {}
    editions: dict[str, StoredEdition] = {}
    fillings: dict[str, Filling] = {}
    retouchings: dict[str, Retouching] = {}
    layouts: dict[str, Layout] = {}
    piles: dict[str, StoredPile] = {}
    labs: dict[str, LabSheet] = {}


class SheetMark(BaseModel):
    """One sheet of an edition: the key of all that decides how it looks and measures; its picture's width over its height;
    openings, filled ones, stops, looks and openings that are being checked, null when that is not worked out yet."""

    key: str
    ratio: float
    counts: Counts | None


class ProgressOf(BaseModel):
    """How far long work has got."""

    stage: str
    done: int
    total: int


class TaskState(BaseModel):
    """Long work as the screens show it."""

    id: str
    kind: Kind
    job: str
    asked: dict[str, Any]
    state: TaskStateName
    message: str
    outcome: dict[str, Any] | None
    made: str
    ended: str | None
    progress: ProgressOf | None


class JobHead(BaseModel):
    """Where a job stands, and what is new of it to the asker.

    ``seq`` rises with each change: of two heads the higher is the newer. ``undo`` and ``redo`` say what they would do, ""
    for nothing. ``marks`` go by the order of sheets. ``unseen``: how many photos the machine has yet to look at. ``newer``:
    the newest revision of the template it began from, 0 when it has that. ``task``
    is long work that an edit began instead of an answer.
    """

    id: str
    seq: int
    number: int
    root: str
    undo: str
    redo: str
    edition: str
    unseen: int
    job: StoredJob
    newer: int
    marks: list[SheetMark]
    parts: PartsOf
    measured: dict[str, Measured]
    places: dict[str, Places]
    task: TaskState | None = None


class Known(BaseModel):
    """What the asker has: the root last seen (its parts are not sent again), the edition and the sheet in view."""

    have: str = Field("", max_length=64)
    edition: str = Field("", max_length=64)
    view: str = Field("", max_length=64)


class EditRequest(Known):
    """An edit; edits that share a gesture are undone together."""

    edit: Edit
    gesture: str | None = Field(None, max_length=64)
    token: str | None = Field(None, max_length=64, description="an edit sent again under its token is not done again")


class BackRequest(Known):
    """Undo or redo, as of what the asker has seen."""

    seq: int | None = Field(None, ge=0, le=2**53)


class PreviewRequest(BaseModel):
    """An edit whose result is to be seen before it is kept."""

    edit: Edit
    edition: str = Field("", max_length=64)
    width: int = Field(1600, ge=60, le=4000)


class HistoryState(BaseModel):
    """A state the job was in. ``ends`` is the last number of the gesture it belongs to; ``here`` is where the job stands."""

    number: int
    parent: int | None
    label: str
    made: str
    named: str
    steps: int
    here: bool
    undone: bool


class StateName(BaseModel):
    """A name for a state; "" for none."""

    name: str = Field(max_length=120)


class Ranked(BaseModel):
    """A photo of the pile as a candidate for an opening: the lower its cost, the better it fits."""

    photo: str
    cost: float
    used: bool


class PpiCell(BaseModel):
    """A small part of an opening on the page (mm) and what it prints at."""

    points: list[tuple[float, float]]
    ppi: float


class PartNames(BaseModel):
    """Parts to send."""

    names: list[str] = Field(max_length=500)


class PhotoIds(BaseModel):
    """Which photos to tell of."""

    ids: list[str] = Field(max_length=5000)


class BroughtIn(BaseModel):
    """A photo that was brought in, whether it was in the pile already, and the job's sequence number since."""

    photo: Photo
    known: bool
    seq: int


class ExportRequest(BaseModel):
    """What to export. ``edition``: one by its id, the first for "", all for "*". ``sheets``: on print sheets, as one PDF."""

    lab: str
    edition: str = Field("", max_length=64)
    format: FileKind | None = None
    transparent: bool = False
    sheets: PrintWish | None = None


class OrnamentPiece(BaseModel):
    """An ornament of the shelf: what it shows, its drawing's name, its width for its height."""

    kind: str
    name: str
    asset: str
    ratio: float


class AssetKept(BaseModel):
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


class DatesRead(BaseModel):
    """Dates read from a file, which of its rows could not be told, and how many of the dates fall in no month of the job.
    ``order``: whether day or month came first in dates like 06/07/1999, "" without any; ``is_sure``: whether the file tells."""

    dates: list[Dated]
    untold: list[str]
    away: int
    order: Literal["day", "month", ""] = ""
    is_sure: bool = True


class Region(BaseModel):
    """A region of a country, by its code and its name."""

    id: str
    name: str


class Country(BaseModel):
    """A country whose holidays are known, with its regions; and whether there are days that many keep although the law does not
    have all keep them."""

    id: str
    name: str
    regions: list[Region]
    has_more_holidays: bool


class LocaleName(BaseModel):
    """A locale, and what it is called by those who use it."""

    id: str
    name: str


class FontFamily(BaseModel):
    """A family of fonts that ships: what kind it is, in which weights and whether slanted it has faces."""

    name: str
    kind: Literal["serif", "sans", "script", "hand", "display"]
    weights: list[int]
    slants: bool

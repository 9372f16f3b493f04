"""Job edits: they change sheets, pile, editions, lab sheet and names, and what lies on several sheets at once."""

from typing import Annotated, Literal

from pydantic import Field

from ...document import Dated, LabSheet, Photo, Placement, Recipe, Remark, Sheet, StudioCard
from ...document.base import AssetName, FieldName, FieldValue, Frozen, Hex, Identity, SwatchName
from ...document.layout import Role
from ...document.lettering import FontName, StyleName, TextStyle
from ...document.photo import Marked, PhotoId
from ...document.template import Product, Tags
from ...lists import Meaning, Table
from .shared import EditionId, Ids, PhotoIds, Retouches


class Spot(Frozen):
    """An opening of a job: its sheet and its id there."""

    sheet: Identity
    opening: Identity


class Swap(Frozen):
    """Exchanges what two openings hold; one of them may be empty. ``keep_fit``: zoom, turn and what is in the middle stay."""

    op: Literal["swap"] = "swap"
    edition: EditionId = ""
    first: Spot
    second: Spot
    keep_fit: bool = False


class Fill(Frozen):
    """Fills openings from the pile: those given of one sheet, or all of a sheet, or all there are; or of these only the
    empty ones. Pinned ones and spans stay, and what was fitted by hand unless that is asked for (``also_by_hand``).

    ``best``: the best assignment. ``order``: photos stay in order of capture. ``month``: on the sheet of a month
    come photos that were taken in it.
    """

    op: Literal["fill"] = "fill"
    edition: EditionId = ""
    how: Literal["best", "order", "month"] = "best"
    only_empty: bool = False
    also_by_hand: bool = False
    sheet: Identity | None = None
    openings: Ids | None = None


class Laid(Frozen):
    """What a filling chose for one opening, and the photo that lay there when it chose ("" for none)."""

    sheet: Identity
    opening: Identity
    was: str
    placement: Placement | None


class Lay(Frozen):
    """Keeps what a long filling chose. Openings that a hand has touched meanwhile, and photos that went, are passed over."""

    op: Literal["lay"] = "lay"
    edition: EditionId = ""
    laid: Annotated[tuple[Laid, ...], Field(min_length=1, max_length=100_000)]


class MendPhoto(Frozen):
    """Mends a photo wherever it lies in an edition; ``None`` takes that mending away. Its retouching, and how it is
    put upright, stay unless the recipe says them anew."""

    op: Literal["mend_photo"] = "mend_photo"
    edition: EditionId = ""
    photo: str
    recipe: Recipe | None


class RetouchPhoto(Retouches):
    """Retouches a photo wherever it lies in an edition."""

    op: Literal["retouch_photo"] = "retouch_photo"
    edition: EditionId = ""
    photo: str


class BringIn(Frozen):
    """Adds photos to the pile, which lies in order of capture; those already there are passed over."""

    op: Literal["bring_in"] = "bring_in"
    photos: Annotated[tuple[Photo, ...], Field(min_length=1, max_length=100_000)]


class TakeOut(Frozen):
    """Takes photos off the pile and out of every opening they lie in, in all editions."""

    op: Literal["take_out"] = "take_out"
    photos: PhotoIds


class Mark(Frozen):
    """Says by hand what of a photo must stay visible; ``None`` goes back to what the machine found."""

    op: Literal["mark"] = "mark"
    photo: str
    areas: Marked | None


class Worked(Frozen):
    """Says that photos were already worked on, so that they are never enhanced by themselves; or that they were not."""

    op: Literal["worked"] = "worked"
    photos: PhotoIds
    worked: bool = True


class Star(Frozen):
    """Gives photos stars, from none to five."""

    op: Literal["star"] = "star"
    photos: PhotoIds
    stars: Annotated[int, Field(ge=0, le=5)]


class PutAside(Frozen):
    """Puts photos of the pile aside, so that no filling takes them; or back. Where they lie already they stay."""

    op: Literal["put_aside"] = "put_aside"
    photos: PhotoIds
    aside: bool = True


class Exchange(Frozen):
    """One photo of the pile for another."""

    old: PhotoId
    new: PhotoId


class ReplacePhotos(Frozen):
    """Puts photos in the places of others, in all editions, as those were fitted: files that were mended elsewhere and came
    back. The others are put aside."""

    op: Literal["replace_photos"] = "replace_photos"
    photos: Annotated[tuple[Exchange, ...], Field(min_length=1, max_length=5000)]


class EnhanceAll(Frozen):
    """Enhances every photo that was not already worked on and is not mended otherwise; or none."""

    op: Literal["enhance_all"] = "enhance_all"
    on: bool


class ChooseLab(Frozen):
    """Changes the lab sheet the job is made for."""

    op: Literal["choose_lab"] = "choose_lab"
    lab: LabSheet


class Rename(Frozen):
    """Changes the job's name, customer and order number; a number that is not given stays."""

    op: Literal["rename"] = "rename"
    name: Annotated[str, Field(min_length=1, max_length=120)]
    customer: Annotated[str, Field(max_length=120)] = ""
    order_number: Annotated[str, Field(max_length=60)] | None = None


class AddEdition(Frozen):
    """Adds an edition, with all that lies in another one (``like``), or empty."""

    op: Literal["add_edition"] = "add_edition"
    id: Identity
    name: Annotated[str, Field(min_length=1, max_length=120)]
    like: Identity | None = None


class RenameEdition(Frozen):
    """Gives an edition another name."""

    op: Literal["rename_edition"] = "rename_edition"
    edition: EditionId
    name: Annotated[str, Field(min_length=1, max_length=120)]


class SetCopies(Frozen):
    """Says how many of an edition are to be printed."""

    op: Literal["set_copies"] = "set_copies"
    edition: EditionId = ""
    copies: Annotated[int, Field(ge=1, le=100_000)]


class Variant(Frozen):
    """A variant of a job's template: its id and its sheets."""

    template: Identity
    sheets: Annotated[tuple[Sheet, ...], Field(min_length=1, max_length=100)]


class MakeSet(Frozen):
    """Makes an edition like another one for each of some photos, which comes into the first opening: a set of cards, each with
    a photo of its own, ``copies`` of each. The other one is the first of the set, unless it shows another photo.

    ``variants``: of the job's template, of which each card has the one that suits its photo; a folded card is turned.
    """

    op: Literal["make_set"] = "make_set"
    edition: EditionId = ""
    photos: PhotoIds
    variants: Annotated[tuple[Variant, ...], Field(max_length=20)] = ()
    copies: Annotated[int, Field(ge=1, le=100_000)] = 1


class RemoveEdition(Frozen):
    """Takes an edition away. The last one stays."""

    op: Literal["remove_edition"] = "remove_edition"
    edition: Identity


class TakeOver(Frozen):
    """Takes over what another edition shows: in layers of a sheet (photos as they lie there, words), what it says, how many."""

    op: Literal["take_over"] = "take_over"
    edition: EditionId = ""
    other: Identity
    sheet: Identity | None = None
    layers: Annotated[tuple[Identity, ...], Field(max_length=1000)] = ()
    fields: Annotated[tuple[FieldName, ...], Field(max_length=60)] = ()
    copies: bool = False


class ChooseVariant(Frozen):
    """Gives an edition the sheets of a variant of the template, which come along where the job does not hold them yet."""

    op: Literal["choose_variant"] = "choose_variant"
    edition: EditionId = ""
    template: Identity
    sheets: Annotated[tuple[Sheet, ...], Field(max_length=100)] = ()


class AddSheet(Frozen):
    """Adds a sheet, after another one or, with "", at the end."""

    op: Literal["add_sheet"] = "add_sheet"
    fresh: Sheet
    after: Annotated[str, Field(max_length=64)] = ""


class RemoveSheet(Frozen):
    """Takes a sheet away, with all that lies on it. The last one stays."""

    op: Literal["remove_sheet"] = "remove_sheet"
    gone: Identity


class RenameSheet(Frozen):
    """Gives a sheet another name and part to play."""

    op: Literal["rename_sheet"] = "rename_sheet"
    which: Identity
    name: Annotated[str, Field(min_length=1, max_length=120)]
    role: Role | None = None


class MoveSheets(Frozen):
    """Moves sheets, with all that lies on them, before another one or, with "", to the end; they keep their order."""

    op: Literal["move_sheets"] = "move_sheets"
    sheets: Annotated[tuple[Identity, ...], Field(min_length=1, max_length=1000)]
    before: Annotated[str, Field(max_length=64)] = ""


class SwapSheets(Frozen):
    """Exchanges the places of two sheets, with all that lies on them."""

    op: Literal["swap_sheets"] = "swap_sheets"
    first: Identity
    second: Identity


class CopySheet(Frozen):
    """Adds a sheet like another one, after it: with what lies on it in every edition, or empty."""

    op: Literal["copy_sheet"] = "copy_sheet"
    which: Identity
    fresh: Identity
    with_photos: bool = False


class SetSwatch(Frozen):
    """Gives a swatch a colour on every sheet, and with it all that is painted with it; or adds it. ``None`` takes it away:
    what was painted with it keeps the colour it had."""

    op: Literal["set_swatch"] = "set_swatch"
    name: SwatchName
    colour: Hex | None


class SetStyle(Frozen):
    """Gives a named style a look on every sheet, and with it all words that have it; or adds it. ``None`` takes it away: what
    had it keeps its look."""

    op: Literal["set_style"] = "set_style"
    name: StyleName
    style: TextStyle | None


class BringFont(Frozen):
    """Brings a font along under its family's name, its file among the assets; ``None`` takes it away."""

    op: Literal["bring_font"] = "bring_font"
    name: FontName
    asset: AssetName | None


class Say(Frozen):
    """Says what words name in braces: of the whole job, of one edition, or of one sheet; ``None`` says nothing of it any more.
    ``locale``: how dates are written, everywhere."""

    op: Literal["say"] = "say"
    fields: Annotated[dict[FieldName, FieldValue | None], Field(max_length=60)] = {}
    of: Literal["job", "edition", "sheet"] = "job"
    edition: EditionId = ""
    which: Annotated[str, Field(max_length=64)] = ""
    locale: Annotated[str, Field(max_length=20)] | None = None


class SetCalendar(Frozen):
    """Says what the calendars of a job show: the month that its sheets of months begin with, dates of the customer's own,
    where what falls on 29 February stands in other years, whose holidays count and which. What is not said stays."""

    op: Literal["set_calendar"] = "set_calendar"
    first_month: Annotated[str, Field(pattern=r"^[12]\d{3}-(0[1-9]|1[0-2])$")] | None = None
    dates: Annotated[tuple[Dated, ...], Field(max_length=5000)] | None = None
    leap: Literal["before", "after", "only"] | None = None
    country: Annotated[str, Field(pattern=r"^([A-Z]{2})?$")] | None = None
    region: Annotated[str, Field(max_length=10)] | None = None
    more_holidays: bool | None = None


class TakeCard(Frozen):
    """Takes the studio card as it is now: every imprint says what it says."""

    op: Literal["take_card"] = "take_card"
    card: StudioCard


class TakeList(Frozen):
    """Makes an edition like one of the job's of each row of a list, or changes the one that a row made before: only what the
    list says otherwise than then. ``meanings``: what each column says. Rows with something wrong are left out."""

    op: Literal["take_list"] = "take_list"
    like: EditionId = ""
    table: Table
    meanings: Annotated[tuple[Meaning, ...], Field(max_length=60)]


class TurnCard(Frozen):
    """Turns a folded card: what stood upright lies across, or the other way round; what is on it follows."""

    op: Literal["turn_card"] = "turn_card"


class Describe(Frozen):
    """Says of a template in the workshop what it is for."""

    op: Literal["describe"] = "describe"
    product: Product | None = None
    occasion: Annotated[str, Field(max_length=60)] | None = None
    tags: Tags | None = None
    note: Annotated[str, Field(max_length=1000)] | None = None


class TakeRemarks(Frozen):
    """Takes in what a customer wrote to a proof; remarks that are there already stay as they are."""

    op: Literal["take_remarks"] = "take_remarks"
    remarks: Annotated[tuple[Remark, ...], Field(min_length=1, max_length=2000)]


class SettleRemark(Frozen):
    """Says that what a customer wrote is done; or not yet."""

    op: Literal["settle_remark"] = "settle_remark"
    remark: str
    done: bool = True

"""A job: one order at work. Sheets, a pile of photos, and editions, each a filling of the sheets."""

import json
from functools import cached_property
from itertools import pairwise
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from .base import FieldName, FieldValue, Frozen, Identity, Share, unsaid
from .book import Book
from .calendar import CalendarSaid
from .filling import Edition, Filling
from .lab import LabSheet
from .layout import Sheet
from .photo import Photo, Pile
from .recipe import Enhance, Recipe, Step
from .studio import StudioCard
from .template import Product, Sheets, Tags, check_sheets

LOCALE_NAME = r"^[a-z]{2,3}(_[A-Za-z0-9]{2,8}){0,2}$"


class Making(Frozen):
    """What a template in the workshop is for. ``own``: the studio's template that it will be a revision of; "" for none.
    ``read``: what could not be told of the file that it was read from."""

    own: Annotated[str, Field(max_length=64)] = ""
    occasion: Annotated[str, Field(max_length=60)] = ""
    tags: Tags = ()
    note: Annotated[str, Field(max_length=1000)] = ""
    variant_of: Annotated[str, Field(max_length=64, exclude_if=unsaid)] = ""
    read: Annotated[tuple[Annotated[str, Field(max_length=400)], ...], Field(max_length=60, exclude_if=unsaid)] = ()


class Remark(Frozen):
    """What a customer wrote to a proof: on which sheet and where, in shares of its trim; ``said``: when it came in."""

    id: Annotated[str, Field(pattern=r"^[0-9a-f]{6,32}$")]
    sheet: Identity
    x: Share = 0.5
    y: Share = 0.5
    text: Annotated[str, Field(min_length=1, max_length=1000)]
    name: Annotated[str, Field(max_length=120)] = ""
    said: Annotated[str, Field(max_length=40)] = ""
    done: bool = False


class Job(Frozen):
    """An order at work, on its own copy of a template's sheets, and the lab sheet it is made for.

    With ``making`` it is no order but a template in the workshop: what lies in its openings are samples. ``revision`` is
    that of the template it began with. ``variants`` are templates of which the first photo that comes in will choose; a card
    that waits to be turned by it names itself. ``studio`` is the studio card as it was when the job began, or was taken since.
    ``fields``: what words name in braces, in all editions; dates as 2026-11-26. ``locale``: how dates are written.
    ``calendar``: what date grids show besides days. ``book``: how its sheets are bound. ``remarks``: what the customer wrote.
    ``fold``: how a card is folded, where its fold lines alone do not say it.
    ``without_samples``: words that are the template's samples are left out
    until somebody writes them.
    """

    schema_version: Literal[2] = 2
    name: Annotated[str, Field(min_length=1, max_length=120)]
    customer: Annotated[str, Field(max_length=120)] = ""
    order_number: Annotated[str, Field(max_length=60)] = ""
    template: Identity
    product: Product
    lab: LabSheet
    sheets: Sheets
    pile: Pile = Pile()
    editions: Annotated[tuple[Edition, ...], Field(min_length=1, max_length=1000)] = (Edition(),)
    enhance: bool = False
    revision: Annotated[int, Field(ge=1, exclude_if=lambda n: n == 1)] = 1
    making: Annotated[Making | None, Field(exclude_if=unsaid)] = None
    variants: Annotated[tuple[Identity, ...], Field(max_length=20, exclude_if=unsaid)] = ()
    studio: Annotated[StudioCard | None, Field(exclude_if=unsaid)] = None
    fields: Annotated[dict[FieldName, FieldValue], Field(max_length=60, exclude_if=unsaid)] = {}
    locale: Annotated[str, Field(pattern=LOCALE_NAME, exclude_if=lambda n: n == "en_GB")] = "en_GB"
    calendar: Annotated[CalendarSaid | None, Field(exclude_if=unsaid)] = None
    without_samples: Annotated[bool, Field(exclude_if=unsaid)] = False
    book: Annotated[Book | None, Field(exclude_if=unsaid)] = None
    fold: Annotated[Literal["", "half", "tent", "gate", "tri", "accordion"], Field(exclude_if=unsaid)] = ""
    remarks: Annotated[tuple[Remark, ...], Field(max_length=2000, exclude_if=unsaid)] = ()

    @model_validator(mode="after")
    def _consistent(self) -> "Job":
        check_sheets(self.sheets)
        if len({edition.id for edition in self.editions}) != len(self.editions):
            raise ValueError("Two editions share an id: give each its own.")
        return self

    @cached_property
    def page_numbers(self) -> dict[str, tuple[int, int]]:
        """The first page number of each sheet, and how many pages it has: a spread two, a cover none."""
        numbers_of, page_number = {}, 1
        for sheet in self.sheets:
            count = 0 if sheet.role == "cover" else 2 if sheet.role == "spread" else 1
            numbers_of[sheet.id] = page_number, count
            page_number += count
        return numbers_of

    @cached_property
    def month_before(self) -> dict[str, str]:
        """For each sheet of a month, the month of the one before it, as 2027-01."""
        single = (sheet for sheet in self.sheets if sheet.role == "month" and not sheet.layout.shows_year)
        months = [sheet for sheet in single if sheet.fields.get("month")]
        return {later.id: earlier.fields["month"] for earlier, later in pairwise(months)}

    @property
    def photos(self) -> tuple[Photo, ...]:
        """The pile's photos, in order."""
        return self.pile.photos

    @cached_property
    def sheets_by_id(self) -> dict[str, Sheet]:
        """Sheets by id."""
        return {sheet.id: sheet for sheet in self.sheets}

    def sheets_of(self, edition: Edition) -> tuple[Sheet, ...]:
        """The sheets that an edition has: all, or those of its variant."""
        of_variant = tuple(sheet for sheet in self.sheets if sheet.variant == edition.variant)
        return of_variant or self.sheets

    def edition(self, identity: str = "") -> Edition:
        """An edition by its id; the first for "". Raises KeyError."""
        if not identity:
            return self.editions[0]
        for edition in self.editions:
            if edition.id == identity:
                return edition
        raise KeyError(identity)

    def filling(self, sheet: str, edition: str = "") -> Filling:
        """What lies on a sheet in an edition."""
        return self.edition(edition).filling(sheet)

    def recipe(
        self, filling: Filling, edition: Edition, opening: str, photo: Photo, tone: tuple[Step, ...] = ()
    ) -> Recipe | None:  # fmt: skip
        """How what an opening shows is mended: its own recipe over its photo's, seen through the ``tone`` that its template gave
        it; None for not at all."""
        in_opening, whole = filling.tones.get(opening), edition.photo_tones.get(photo.id)
        if self.enhance and not photo.already_worked and (whole is None or whole.steps is None):
            whole = (whole or Recipe()).copy_with(steps=(Enhance(),))
        joined = in_opening.lay_over(whole) if in_opening else whole
        if not tone:
            return joined
        joined = joined or Recipe()
        return Recipe.model_construct(
            retouching=joined.retouching, upright=joined.upright, steps=(*(joined.steps or ()), *tone)
        )

    def pack(self) -> bytes:
        """Its parts stand in it by their names."""
        fields: dict[str, Any] = self.model_dump(mode="json", exclude={"lab", "sheets", "pile", "editions"})
        fields |= {
            "lab": self.lab.digest, "sheets": self.sheet_list.digest, "pile": self.pile.digest,
            "editions": [edition.digest for edition in self.editions],
        }  # fmt: skip
        return json.dumps(fields, ensure_ascii=False, separators=(",", ":")).encode()

    @cached_property
    def sheet_list(self) -> "SheetList":
        """The sheets as one part."""
        return SheetList(sheets=self.sheets)


class SheetList(Frozen):
    """Which sheets a job has; their layouts are parts of their own."""

    sheets: Sheets

    def pack(self) -> bytes:
        """Its layouts stand in it by their names."""
        rows: list[dict[str, Any]] = []
        for s in self.sheets:
            rows.append({"id": s.id, "name": s.name, "role": s.role, "layout": s.layout.digest})
            if s.fields:
                rows[-1]["fields"] = s.fields
            if s.variant:
                rows[-1]["variant"] = s.variant
        return json.dumps({"sheets": rows}, ensure_ascii=False, separators=(",", ":")).encode()

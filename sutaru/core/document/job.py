"""A job: one order at work. Sheets, a pile of photos, and editions, each a filling of the sheets."""

import json
from functools import cached_property
from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from .base import Frozen, Identity, unsaid
from .filling import Edition, Filling
from .lab import LabSheet
from .layout import Sheet
from .photo import Photo, Pile
from .recipe import Enhance, Recipe
from .studio import StudioCard
from .template import Product, Sheets, Tags, checked_sheets


class Making(Frozen):
    """What a template in the workshop is for. ``own``: the studio's template that it will be a revision of; "" for none.
    ``read``: what could not be told of the file that it was read from."""

    own: Annotated[str, Field(max_length=64)] = ""
    occasion: Annotated[str, Field(max_length=60)] = ""
    tags: Tags = ()
    note: Annotated[str, Field(max_length=1000)] = ""
    variant_of: Annotated[str, Field(max_length=64, exclude_if=unsaid)] = ""
    read: Annotated[tuple[Annotated[str, Field(max_length=400)], ...], Field(max_length=60, exclude_if=unsaid)] = ()


class Job(Frozen):
    """An order at work, on its own copy of a template's sheets, and the lab sheet it is made for.

    With ``making`` it is no order but a template in the workshop: what lies in its openings are samples. ``revision`` is
    that of the template it began with. ``variants`` are templates of which the first photo
    that comes in will choose. ``studio`` is the studio card as it was when the job began, or was taken since.
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

    @model_validator(mode="after")
    def _consistent(self) -> "Job":
        checked_sheets(self.sheets)
        if len({edition.id for edition in self.editions}) != len(self.editions):
            raise ValueError("Two editions share an id: give each its own.")
        return self

    @property
    def photos(self) -> tuple[Photo, ...]:
        """The pile's photos, in order."""
        return self.pile.photos

    @cached_property
    def sheets_by_id(self) -> dict[str, Sheet]:
        """Sheets by id."""
        return {sheet.id: sheet for sheet in self.sheets}

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

    def recipe(self, filling: Filling, edition: Edition, opening: str, photo: Photo) -> Recipe | None:
        """How what an opening shows is mended: its own recipe, or else its photo's; None for not at all."""
        own = filling.tones.get(opening) or edition.photo_tones.get(photo.id)
        if own is None and self.enhance and not photo.already_worked:
            return Recipe(steps=(Enhance(),))
        return own

    def packed(self) -> bytes:
        """Its parts stand in it by their names."""
        found: dict[str, Any] = self.model_dump(mode="json", exclude={"lab", "sheets", "pile", "editions"})
        found |= {
            "lab": self.lab.digest, "sheets": self.sheet_list.digest, "pile": self.pile.digest,
            "editions": [edition.digest for edition in self.editions],
        }  # fmt: skip
        return json.dumps(found, ensure_ascii=False, separators=(",", ":")).encode()

    @cached_property
    def sheet_list(self) -> "SheetList":
        """The sheets as one part."""
        return SheetList(sheets=self.sheets)


class SheetList(Frozen):
    """Which sheets a job has; their layouts are parts of their own."""

    sheets: Sheets

    def packed(self) -> bytes:
        """Its layouts stand in it by their names."""
        rows = [{"id": s.id, "name": s.name, "role": s.role, "layout": s.layout.digest} for s in self.sheets]
        return json.dumps({"sheets": rows}, ensure_ascii=False, separators=(",", ":")).encode()

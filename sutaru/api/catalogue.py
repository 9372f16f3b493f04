"""What can be chosen: templates, lab sheets, themes; those that ship and those of the studio's own."""

import re
from functools import cached_property
from typing import Annotated

from fastapi import Depends, Request

from ..core.books.book import begin_empty_book
from ..core.document import Book, BookSize, Job, LabSheet, Template, Theme
from ..core.errors import NotFound
from ..core.formats.shelf import Shelf, read_shelf
from ..shelf import FOLDER
from ..store import Card, LabSheets, Parts, Templates
from .models.new_jobs import NewBook


class Catalogue:
    """Templates, lab sheets and themes by their ids."""

    def __init__(self, templates: Templates, lab_sheets: LabSheets, parts: Parts, card: Card) -> None:
        self._templates, self._lab_sheets, self._parts, self._card = templates, lab_sheets, parts, card

    @cached_property
    def shelf(self) -> Shelf:
        """What ships: read when it is first asked for, so that the server answers before."""
        shelf = read_shelf(FOLDER)
        self._parts.add_assets(shelf.files.values())
        return shelf

    def template(self, identity: str) -> Template:
        """A template of the shelf, or of the studio's own as it was kept last. Raises NotFound."""
        return self.shelf.templates.get(identity) or self._templates.get(identity)

    def shows_studio_card(self, template: str, sheet: str) -> bool:
        """Whether a sheet of a template that ships takes words, colours or the logo from the studio card."""
        return (template, sheet) in self._with_studio_card

    @cached_property
    def _with_studio_card(self) -> frozenset[tuple[str, str]]:
        """By what their layers say: ``{studio.name}`` in words, ``studio main`` as a colour, a logo."""
        return frozenset(
            (template.id, sheet.id)
            for template in self.shelf.templates.values()
            for sheet in template.sheets
            if re.search(r'studio|"logo":true', sheet.model_dump_json())
        )

    def newer_revision(self, job: Job) -> int:
        """The newest revision of the template that a job began from; 0 when the job has that."""
        newest = (
            0 if job.making or job.template in self.shelf.templates else self._templates.newest_revision(job.template)
        )
        return newest if newest > job.revision else 0

    def lab(self, identity: str) -> LabSheet:
        """A lab sheet. Raises NotFound."""
        if identity not in (labs := self.labs):
            raise NotFound("This lab sheet was not found.", "Choose one of the list.")
        return labs[identity]

    @property
    def labs(self) -> dict[str, LabSheet]:
        """All lab sheets: those of the shelf, and those taken from the lab, as they were taken last."""
        return {**self.shelf.labs, **self._lab_sheets.list_all()}

    def theme(self, identity: str) -> Theme:
        """A theme of the shelf. Raises NotFound."""
        if identity not in self.shelf.themes:
            raise NotFound("This theme was not found.", "Choose one of the list.")
        return self.shelf.themes[identity]

    def book_size(self, job: Job, identity: str) -> BookSize:
        """A size of page that a job's lab binds, as its lab sheet has it now. Raises NotFound."""
        bindery = self.labs.get(job.lab.id, job.lab).bindery
        sizes = bindery.sizes if bindery else ()
        size = next((entry for entry in sizes if entry.id == identity), None)
        if size is None:
            known = (
                f"Choose one of: {', '.join(entry.name for entry in sizes)}." if sizes else "Choose another lab sheet."
            )
            raise NotFound(f"{job.lab.name} binds no book of this size.", known)
        return size

    def begin_book(self, name: str, lab: LabSheet, request: NewBook, locale: str) -> Job:
        """A job that is a book from nothing. Raises NotFound for what the lab does not bind."""
        if lab.bindery is None:
            raise NotFound(f"{lab.name} binds no books.", "Choose another lab sheet.")
        size = next((entry for entry in lab.bindery.sizes if entry.id == request.size), None)
        paper = next((entry for entry in lab.bindery.papers if entry.id == request.paper), None)
        binding = next((entry for entry in lab.bindery.bindings if entry.id == request.binding), None)
        if size is None or paper is None or binding is None:
            raise NotFound(f"{lab.name} does not bind this.", "Choose a size, a paper and a binding of its list.")
        book = Book(size=size, paper=paper, binding=binding)
        return begin_empty_book(
            name, lab, book, self.theme(request.theme), request.pages, request.title, locale, self._card.get_written()
        )


def get_catalogue(request: Request) -> Catalogue:
    """The catalogue of the application that serves a request."""
    catalogue: Catalogue = request.app.state.studio.catalogue
    return catalogue


InCatalogue = Annotated[Catalogue, Depends(get_catalogue)]

"""Small books that show how themes look, laid out with the sample photos."""

import random

from ..core.books.book import begin_empty_book, plan_of
from ..core.books.plan import Wishes
from ..core.document import Book, Job
from ..core.edits.apply import apply
from ..core.edits.kinds import BringIn, LayBook
from .samples import sample_photos
from .studio import Studio

PAGES = 6
LEAST_PPI = 60  # of a picture of a book: the sample photos may be larger on it than they could be printed
# The photo on the cover of a theme that one of them suits best; on any other the one that a layout chooses.
COVERS = {
    "bright-wind": "kite", "caps-in-the-air": "launch", "dune-grass": "dunes", "first-days": "bunting",
    "ivory-vows": "shore", "lantern-night": "lanterns", "linen-year": "detail", "long-summer": "beach", "old-pier": "pier",
    "quiet-hours": "shore", "sail-maker": "workshop", "shoreline": "shore", "slate-and-chalk": "launch",
    "team-colours": "row", "white-cube": "detail", "winter-hearth": "glow",
}  # fmt: skip


def sample_book(studio: Studio, theme: str) -> Job:
    """A small book in a theme. Raises NotFound."""
    if theme not in studio.sample_books:
        studio.sample_books[theme] = _make_sample(studio, theme)
    return studio.sample_books[theme]


def _make_sample(studio: Studio, identity: str) -> Job:
    theme = studio.catalogue.theme(identity)
    lab = next(lab for lab in studio.catalogue.shelf.labs.values() if lab.bindery)
    bindery = lab.bindery
    assert bindery is not None, "a lab with a bindery was looked for"
    binding = next((kind for kind in bindery.bindings if kind.kind == "lay_flat"), bindery.bindings[0])
    book = Book(size=bindery.sizes[0], paper=bindery.papers[0], binding=binding.copy_with(least=PAGES, multiple=2))
    lab = lab.copy_with(ppi_least=LEAST_PPI)
    job = begin_empty_book(theme.name, lab, book, theme, PAGES, title=theme.name)
    samples = sample_photos(studio)
    if not samples:
        return job
    random.Random(identity).shuffle(samples)  # so that not all themes show the same photo first
    job = apply(job, BringIn(photos=tuple(samples)))
    plan = plan_of(job, Wishes(pages=PAGES, dates=False, likes=True))
    cover = next((photo.id for photo in samples if photo.name == f"sample-{COVERS.get(identity, '')}.jpg"), plan.cover)
    return apply(job, LayBook(plan=plan.copy_with(cover=cover), theme=theme))

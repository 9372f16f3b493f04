"""What tests of books share: one that takes a while to lay out."""

import pytest

from sutaru.core.books.book import plan_of
from sutaru.core.books.plan import Wishes
from sutaru.core.document import Job
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import LayBook
from tests.conftest import SHELF
from tests.core.booked import book, photos


@pytest.fixture(scope="session")
def laid() -> tuple[Job, Job]:
    """A book of 40 pages, and it laid out with 120 photos."""
    job = book(photos(120))
    return job, apply(job, LayBook(plan=plan_of(job, Wishes(pages=40)), theme=SHELF.themes["shoreline"]))

"""What tests of books share: one that takes a while to lay out."""

import pytest

from sutaru.core.books import Wishes, plan_of
from sutaru.core.document import Job
from sutaru.core.edits import LayBook, apply
from tests.conftest import SHELF
from tests.core.booked import book, photos


@pytest.fixture(scope="session")
def laid() -> tuple[Job, Job]:
    """A book of 40 pages, and it laid out with 120 photos."""
    job = book(photos(120))
    return job, apply(job, LayBook(plan=plan_of(job, Wishes(pages=40)), theme=SHELF.themes["shoreline"]))

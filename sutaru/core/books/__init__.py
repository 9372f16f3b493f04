"""Books: how they are bound, what they are dressed in, and all their pages laid out from a pile of photos."""

from .binding import bound, bound_as, cover_layout, inner_layout, pages_of, roles_of, spine_mm, spine_of
from .book import BOOK, begun, laid_out, named_by_page, next_pages, plan_of, stays, with_pages
from .dressing import dressed, dressed_sheets, with_ground
from .laying import empty_sheet, new_sheets
from .picking import LaidAside
from .plan import BookPlan, PagePlan, Wishes
from .planning import gap_and_margin, pages_for

__all__ = [
    "BOOK", "BookPlan", "LaidAside", "PagePlan", "Wishes", "begun", "bound", "bound_as", "cover_layout", "dressed",
    "dressed_sheets", "empty_sheet", "gap_and_margin", "inner_layout", "laid_out", "named_by_page", "new_sheets", "next_pages",
    "pages_for", "pages_of", "plan_of", "roles_of", "spine_mm", "spine_of", "stays", "with_ground",
    "with_pages",
]  # fmt: skip

"""Jobs as the shelf lists them."""

from ..messages import Message


class JobCard(Message):
    """A job as the shelf shows it. ``picture`` names its first sheet as it looks now; counts are null when that is not
    worked out yet."""

    id: str
    name: str
    customer: str
    order_number: str
    template: str
    created: str
    changed: str
    archived: bool
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


class JobList(Message):
    """A page of the list of jobs, and how many there are in all."""

    jobs: list[JobCard]
    count: int

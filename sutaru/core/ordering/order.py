"""An order as it goes to a lab: lines of files with how many and on what, where to, and a key of its own.

The key is made once, when the order is; a lab that is sent the same key twice has one order. Files are named by checksum.
"""

from typing import Annotated

from pydantic import Field

from ..document.base import AssetName, Frozen, Identity, unsaid

LAB_STATES = ("received", "checked", "printing", "cut", "packed", "sent")
Text = Annotated[str, Field(max_length=200)]


class OrderFile(Frozen):
    """A file of a line, as a manifest lists it."""

    name: Annotated[str, Field(min_length=1, max_length=200, pattern=r"^[^/\\\x00]+$")]
    sha256: AssetName
    bytes: Annotated[int, Field(ge=1)]
    page: Text = ""


class Address(Frozen):
    """Where to."""

    name: Text = ""
    street: Text = ""
    place: Text = ""


class OrderLine(Frozen):
    """One thing to be printed: its files, how many, on which paper, with which finish, a book in which cover. ``to``: where
    this line is sent, when not where the order is."""

    title: Text
    lab_sheet: Identity
    files: Annotated[tuple[OrderFile, ...], Field(min_length=1, max_length=2000)]
    copies: Annotated[int, Field(ge=1, le=100_000)] = 1
    paper: Text = ""
    finish: Annotated[Text, Field(exclude_if=unsaid)] = ""
    cover: Annotated[Text, Field(exclude_if=unsaid)] = ""
    to: Annotated[Address | None, Field(exclude_if=unsaid)] = None


class Order(Frozen):
    """An order. ``key``: the same for the same order, however often it is sent. ``wish``: delivered by when, in words."""

    key: Annotated[str, Field(pattern=r"^[0-9a-f]{16,64}$")]
    reference: Text
    lines: Annotated[tuple[OrderLine, ...], Field(min_length=1, max_length=1000)]
    to: Address = Address()
    note: Annotated[str, Field(max_length=1000)] = ""
    wish: Text = ""

    @property
    def files(self) -> dict[str, OrderFile]:
        """All its files by checksum, each once."""
        return {file.sha256: file for line in self.lines for file in line.files}


def missing(to: Address) -> list[str]:
    """What an address still lacks before an order can be sent, in words."""
    wanted = (("name", "Say who it is sent to."), ("street", "Say the street."), ("place", "Say the place."))
    return [sentence for field, sentence in wanted if not getattr(to, field).strip()]

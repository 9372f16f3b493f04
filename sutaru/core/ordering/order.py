"""An order as it goes to a lab: lines of files with how many and on what, where to, and a key of its own.

The key is made once, when the order is; a lab that is sent the same key twice has one order. Files are named by checksum.
"""

import re
from typing import Annotated

import babel
from pydantic import Field

from ..document.base import AssetName, Frozen, Identity, unsaid

LAB_STATES = ("received", "checked", "printing", "cut", "packed", "sent")
MAY_CANCEL = ("received", "checked")  # from then on the lab has begun
KEY = r"^[0-9a-f]{16,64}$"
Text = Annotated[str, Field(max_length=200)]


class OrderFile(Frozen):
    """A file of a line, as a manifest lists it."""

    name: Annotated[str, Field(min_length=1, max_length=200, pattern=r"^[^/\\\x00]+$")]
    sha256: AssetName
    bytes: Annotated[int, Field(ge=1)]
    page: Text = ""


class Address(Frozen):
    """Where to. ``country``: ISO 3166, two letters."""

    name: Text = ""
    street: Text = ""
    postcode: Annotated[str, Field(max_length=20, exclude_if=unsaid)] = ""
    place: Text = ""
    country: Annotated[str, Field(pattern=r"^([A-Z]{2})?$", exclude_if=unsaid)] = ""


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

    key: Annotated[str, Field(pattern=KEY)]
    reference: Text
    lines: Annotated[tuple[OrderLine, ...], Field(min_length=1, max_length=1000)]
    to: Address = Address()
    note: Annotated[str, Field(max_length=1000)] = ""
    wish: Text = ""

    @property
    def files(self) -> dict[str, OrderFile]:
        """All its files by checksum, each once: what is sent."""
        return {file.sha256: file for line in self.lines for file in line.files}

    @property
    def files_by_name(self) -> dict[str, OrderFile]:
        """All its files by name: two sheets that are the same picture are two files."""
        return {file.name: file for line in self.lines for file in line.files}

    @property
    def clash(self) -> str:
        """A name that two different files of it have, "" for none: in one folder one would take the other's place."""
        named: dict[str, str] = {}
        files = (file for line in self.lines for file in line.files)
        return next(
            (file.name for file in files if named.setdefault(file.name.casefold(), file.sha256) != file.sha256), ""
        )


def list_missing(to: Address) -> list[str]:
    """What an address still lacks before an order can be sent, in words."""
    wanted = (
        ("name", "Say who it is sent to."), ("street", "Say the street."), ("postcode", "Say the postcode."),
        ("place", "Say the place."), ("country", "Say the country."),
    )  # fmt: skip
    missing = [sentence for field, sentence in wanted if not getattr(to, field).strip()]
    if to.country and to.country not in babel.Locale("en").territories:
        missing.append(f"There is no country {to.country}.")
    if to.postcode.strip() and not re.fullmatch(r"[\w][\w .-]{1,18}", to.postcode.strip()):
        missing.append(f"{to.postcode} is no postcode.")
    return missing

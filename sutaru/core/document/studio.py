"""The studio card: the studio's own name, addresses, logo and colours, kept once; and what takes them from there."""

from collections.abc import Mapping
from typing import Annotated, Any, TypeVar

from pydantic import Field

from .base import AssetName, Frozen, Hex, unsaid

T = TypeVar("T")
FIELDS = ("name", "address", "web", "phone", "mail")  # what words may name, as {studio.name}


class StudioCard(Frozen):
    """What every imprint says of the studio. ``traced`` is of a logo that is a drawing, as an ornament's; ``logo_ratio`` is the
    width for the height of one that is a picture (PNG, JPEG), 0 for a drawing."""

    name: Annotated[str, Field(max_length=120)] = ""
    address: Annotated[str, Field(max_length=300)] = ""
    web: Annotated[str, Field(max_length=120)] = ""
    phone: Annotated[str, Field(max_length=60)] = ""
    mail: Annotated[str, Field(max_length=120)] = ""
    main: Hex = "#2f5d6b"
    second: Hex = "#b4532a"
    logo: AssetName | None = None
    traced: Annotated[str, Field(max_length=60_000)] = ""
    logo_ratio: Annotated[float, Field(ge=0, le=100, exclude_if=unsaid)] = 0.0

    @property
    def values(self) -> dict[str, str]:
        """What words take from it, by field."""
        return {f"studio.{name}": getattr(self, name) for name in FIELDS}

    @property
    def colours(self) -> dict[str, str]:
        """Its colours as layers name them."""
        return {"studio main": self.main, "studio second": self.second}


def resolve_colours(value: T, colours: Mapping[str, str]) -> T:
    """A layer, or any part of one, with its named colours as they are: #rrggbb."""
    return _resolve_value(value, colours)


def _resolve_value(value: Any, colours: Mapping[str, str]) -> Any:
    if isinstance(value, Frozen):
        fresh = {}
        for name in type(value).model_fields:
            old = getattr(value, name)
            new = colours.get(old, old) if name == "colour" else _resolve_value(old, colours)
            if new is not old:
                fresh[name] = new
        return value.copy_with(**fresh) if fresh else value
    if isinstance(value, tuple) and value and isinstance(value[0], Frozen):
        resolved = tuple(_resolve_value(entry, colours) for entry in value)
        return value if all(a is b for a, b in zip(resolved, value, strict=True)) else resolved
    return value


def colours_of(value: Any) -> set[str]:
    """The names of colours that a layer, or any part of one, is painted with."""
    if isinstance(value, Frozen):
        colour = getattr(value, "colour", None)
        named = {colour} if colour and not colour.startswith("#") else set()
        return named.union(*(colours_of(getattr(value, name)) for name in type(value).model_fields))
    if isinstance(value, tuple):
        return set[str]().union(*(colours_of(entry) for entry in value))
    return set()

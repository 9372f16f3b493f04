"""What every part of a document is: an immutable value with a name of its own, the hash of its content."""

import hashlib
from functools import cached_property
from typing import Annotated, Any, Self

from pydantic import BaseModel, ConfigDict, Field

Length = Annotated[float, Field(gt=0, le=5000, allow_inf_nan=False, description="mm")]
Coordinate = Annotated[float, Field(ge=-10000, le=10000, allow_inf_nan=False, description="mm")]
Degrees = Annotated[float, Field(ge=-3600, le=3600, allow_inf_nan=False, description="degrees, counter-clockwise")]
Point = tuple[Coordinate, Coordinate]
Share = Annotated[float, Field(ge=0, le=1)]
Hex = Annotated[str, Field(pattern=r"^#[0-9a-f]{6}$", description="sRGB, #rrggbb")]
SwatchName = Annotated[str, Field(pattern=r"^[^\s.]([^.\n]{0,38}[^\s.])?$")]
Colour = Annotated[
    str,
    Field(
        pattern=r"^(#[0-9a-f]{6}|swatch [^\s.]([^.\n]{0,38}[^\s.])?|studio (main|second))$",
        description="sRGB, #rrggbb; or a swatch's name after 'swatch'; or one of the studio card's two",
    ),
]
Identity = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,63}$")]
FieldName = Annotated[str, Field(pattern=r"^[a-z][a-z0-9_]{0,39}$", description="what words name in braces")]
FieldValue = Annotated[str, Field(max_length=500)]
AssetName = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$", description="sha256 of a file held beside the document")]


def unsaid(value: Any) -> bool:
    """``exclude_if`` of a field that came later than documents that are stored: not said, they keep their names."""
    return not value


class Frozen(BaseModel):
    """Base of every part of a document: immutable, nothing unknown let in."""

    model_config = ConfigDict(frozen=True, extra="forbid", defer_build=True)

    def copy_with(self, **update: Any) -> Self:
        """A copy with some fields replaced by values already known to be valid."""
        copied = self.model_copy(update=update)
        for cached in copied.__dict__.keys() - type(self).model_fields.keys():
            del copied.__dict__[cached]  # what was computed from the old fields
        return copied

    def pack(self) -> bytes:
        """As it is stored: JSON. Parts that are stored on their own stand in it by their names."""
        return self.model_dump_json().encode()

    @cached_property
    def digest(self) -> str:
        """Its name: the first 32 hexadecimal digits of the sha256 of what is stored. Equal parts have one name."""
        return name_of(self.pack())


def name_of(packed: bytes) -> str:
    """The name of a stored part."""
    return hashlib.sha256(packed).hexdigest()[:32]

"""What edits of every kind speak of: ids, an edition, what is expected, the path of a field."""

from typing import Annotated

from pydantic import Field

from ...document.base import Identity

Ids = Annotated[tuple[Identity, ...], Field(min_length=1, max_length=2000)]
PhotoIds = Annotated[tuple[str, ...], Field(min_length=1, max_length=100_000)]
EditionId = Annotated[str, Field(max_length=64, description='"" is the first edition')]
Expected = Annotated[
    str | None, Field(description='id of the photo that must lie there, "" for none; null: whatever it is')
]
FieldPath = Annotated[str, Field(pattern=r"^[a-z_]+(\.[a-z_]+)?$", max_length=80)]

"""What edits of every kind speak of: ids, an edition, what is expected, the path of a field."""

from typing import Annotated

from pydantic import Field, model_validator

from ...document.base import Frozen, Identity
from ...document.retouching import Touches

Ids = Annotated[tuple[Identity, ...], Field(min_length=1, max_length=2000)]
PhotoIds = Annotated[tuple[str, ...], Field(min_length=1, max_length=100_000)]
EditionId = Annotated[str, Field(max_length=64, description='"" is the first edition')]
Expected = Annotated[
    str | None, Field(description='id of the photo that must lie there, "" for none; null: whatever it is')
]


class Retouches(Frozen):
    """Touches that are put to those of a photo, or in the place of what has their ids; and ids of what is taken away."""

    put: Touches = ()
    gone: Annotated[tuple[Identity, ...], Field(max_length=2000)] = ()

    @model_validator(mode="after")
    def _check_something(self) -> "Retouches":
        if not self.put and not self.gone:
            raise ValueError("Say which touch is put, or which is taken away.")
        return self


FieldPath = Annotated[str, Field(pattern=r"^[a-z_]+(\.[a-z_]+)?$", max_length=80)]

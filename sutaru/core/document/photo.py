"""Photos and the pile. What was measured of a photo's file is a fact of the photo; what a person says of it is an edit."""

import json
from datetime import datetime
from functools import cached_property
from itertools import pairwise
from typing import Annotated, Any, Literal
from weakref import WeakValueDictionary

from pydantic import AliasChoices, Field, model_validator

from .base import Frozen, Share, unsaid

PhotoId = Annotated[str, Field(pattern=r"^[0-9a-f]{16}$", description="first 16 digits of its checksum")]
_CHUNK_STARTS = frozenset(("00", "40", "80", "c0"))  # how an id ends that begins a chunk: one in 64


class KeepArea(Frozen):
    """A part of a photo that must stay visible: the ellipse in a box, in fractions of the photo's width and height."""

    kind: Literal["face", "subject", "hand"] = "hand"
    left: Share
    top: Share
    width: Annotated[float, Field(gt=0, le=1)]
    height: Annotated[float, Field(gt=0, le=1)]

    @model_validator(mode="after")
    def _check_on_photo(self) -> "KeepArea":
        if self.left + self.width > 1 + 1e-9 or self.top + self.height > 1 + 1e-9:
            raise ValueError("A keep area must lie on its photo.")
        return self


Flaw = Literal["", "too dark", "burnt out", "blurred"]


class Found(Frozen):
    """What the machine found by looking at a photo once: keep areas, and its darkest and lightest values of 255.

    ``likeness``: 64 bits in hexadecimal digits that photos of one scene have nearly in common, "" where nobody looked for
    that. ``detail``: how sharply its finest detail is seen; compared between photos of one scene only. ``flaw``: what spoils all
    of it, "" for nothing.
    """

    keep: tuple[KeepArea, ...] = ()
    black: Annotated[float, Field(ge=0, le=255)] = 0.0
    white: Annotated[float, Field(ge=0, le=255)] = 255.0
    likeness: Annotated[str, Field(pattern=r"^([0-9a-f]{16})?$", exclude_if=unsaid)] = ""
    detail: Annotated[float, Field(ge=0, exclude_if=unsaid)] = 0.0
    flaw: Annotated[Flaw, Field(exclude_if=unsaid)] = ""


Marked = Annotated[tuple[KeepArea, ...], Field(max_length=50)]


# What is said of a photo besides its name, as long as nobody says anything.
UNSAID: dict[str, Any] = {"sample": False, "marked": None, "already_worked": False, "stars": 0, "aside": False}


class Photo(Frozen):
    """A photo of a job. Width and height are pixels after the EXIF orientation is applied.

    ``found`` is None until the machine has looked. ``marked`` are keep areas set by hand: once there are any, even none
    at all, they alone count. Its name and what ``UNSAID`` lists are said in the job; all else is known of the file,
    whatever job it lies in. ``profile_unusable``: there is a profile in it that cannot convert it.
    ``has_alpha``: parts of it may be transparent. ``spots``: channels beside its four inks, which are
    not printed. ``caption``: what the file says in words.
    """

    id: PhotoId
    checksum: Annotated[
        str,
        Field(
            pattern=r"^[0-9a-f]{64}$",
            validation_alias=AliasChoices("checksum", "sha256"),
            description="BLAKE3 of its file; of one brought in before that the SHA-256, under the name sha256",
        ),
    ]
    name: str
    format: Literal["JPEG", "PNG", "TIFF", "WEBP", "HEIF"]
    size_bytes: Annotated[int, Field(gt=0)]
    width: Annotated[int, Field(gt=0)]
    height: Annotated[int, Field(gt=0)]
    exif_orientation: Annotated[int, Field(ge=1, le=8)] = 1
    mode: str = "RGB"
    bits: Literal[1, 8, 16] = 8
    profile: str = ""
    profile_unusable: bool = False
    has_alpha: Annotated[bool, Field(exclude_if=unsaid)] = False
    spots: Annotated[int, Field(ge=0, exclude_if=unsaid)] = 0
    taken: datetime | None = None
    caption: Annotated[str, Field(max_length=2000, exclude_if=unsaid)] = ""
    sample: bool = False
    found: Found | None = None
    marked: Marked | None = None
    already_worked: bool = False
    stars: Annotated[int, Field(ge=0, le=5)] = 0
    aside: bool = False

    @property
    def is_translucent(self) -> bool:
        """Whether parts of it may be transparent; of one that was brought in before that was asked, by its mode."""
        return self.has_alpha or (self.mode in ("RGBA", "LA", "PA") and self.format != "TIFF")

    @property
    def keep_areas(self) -> tuple[KeepArea, ...]:
        """What must stay visible: marked by hand, or else found."""
        if self.marked is not None:
            return self.marked
        return self.found.keep if self.found else ()

    @property
    def is_looked_at(self) -> bool:
        """Whether it is known what must stay visible: the machine has looked, or a person has said it."""
        return self.found is not None or self.marked is not None

    def job_fields(self) -> dict[str, Any]:
        """What is said of it in its job, as it is stored."""
        fields: dict[str, Any] = {"id": self.id, "name": self.name}
        for name in ("sample", "already_worked", "stars", "aside"):
            if getattr(self, name):
                fields[name] = getattr(self, name)
        if self.marked is not None:
            fields["marked"] = [area.model_dump() for area in self.marked]
        return fields


class PileChunk(Frozen):
    """Photos of a pile that are stored as one part."""

    photos: tuple[Photo, ...]

    def pack(self) -> bytes:
        """What is said of each photo; the facts are stored with the photos."""
        return _write_json({"photos": [photo.job_fields() for photo in self.photos]})


class Pile(Frozen):
    """A job's photos in order of capture. It is stored in chunks, so that a photo more costs one of them.

    A chunk begins with every photo whose id says so, one in 64: wherever photos come in or go, the chunks around stay.
    """

    photos: Annotated[tuple[Photo, ...], Field(max_length=100_000)] = ()

    @model_validator(mode="after")
    def _check_unique(self) -> "Pile":
        if len(self.by_id) != len(self.photos):
            raise ValueError("A photo is listed twice.")
        return self

    @cached_property
    def by_id(self) -> dict[str, Photo]:
        """Photos by id."""
        return {photo.id: photo for photo in self.photos}

    @cached_property
    def by_name(self) -> dict[str, list[Photo]]:
        """Photos by their file's name, capitals or not: with its ending, and without."""
        photos: dict[str, list[Photo]] = {}
        for photo in self.photos:
            name = photo.name.casefold()
            for called in {name, name.rsplit(".", 1)[0]}:
                photos.setdefault(called, []).append(photo)
        return photos

    @cached_property
    def chunks(self) -> tuple[PileChunk, ...]:
        """What it is stored in, in order."""
        starts = [n for n, photo in enumerate(self.photos) if n and photo.id[-2:] in _CHUNK_STARTS]
        edges = [0, *starts, len(self.photos)]
        return tuple(_chunk_of(self.photos[start:end]) for start, end in pairwise(edges) if end > start)

    def pack(self) -> bytes:
        """The names of its chunks."""
        return _write_json({"chunks": [chunk.digest for chunk in self.chunks]})


class EarlierPile(Pile):
    """A pile as it was stored before there were chunks: whole. It keeps its name; one that is changed is a ``Pile``."""

    @property
    def chunks(self) -> tuple[PileChunk, ...]:
        """None: it is stored whole."""
        return ()

    def pack(self) -> bytes:
        """What is said of each photo."""
        return _write_json({"photos": [photo.job_fields() for photo in self.photos]})


_chunks: WeakValueDictionary[tuple[str, str, int], PileChunk] = WeakValueDictionary()


def _chunk_of(photos: tuple[Photo, ...]) -> PileChunk:
    """The chunk of these photos: the one of another pile where it is the same, so that its name need not be worked out anew."""
    key = photos[0].id, photos[-1].id, len(photos)
    chunk = _chunks.get(key)
    if chunk is None or chunk.photos != photos:
        chunk = _chunks[key] = PileChunk.model_construct(photos=photos)
    return chunk


def _write_json(content: dict[str, Any]) -> bytes:
    return json.dumps(content, ensure_ascii=False, separators=(",", ":")).encode()

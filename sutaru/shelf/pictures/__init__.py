"""Pictures of the templates and themes that ship, with the sample photos: they are seen before anything is painted.

``tools/make_shelf_pictures.py`` makes them. ``index.json`` says of each sheet how wide its picture is, in px, and what it was
made of; a test holds that against the shelf. A theme's pictures are of a small book in it, by their places: its cover is 0.
"""

import json
from functools import cache
from hashlib import sha256
from pathlib import Path
from typing import TypedDict

from ...core.document import Template, Theme

FOLDER = Path(__file__).parent
INDEX = FOLDER / "index.json"
THEME_PICTURES = 4  # of each theme: its cover, and as many pages as are shown beside it


class Entry(TypedDict):
    """What the index says of a picture."""

    width: int
    made_of: str


@cache
def read_index() -> dict[str, Entry]:
    """The index: entries by template and sheet, as ``collage-heart/board``."""
    entries: dict[str, Entry] = json.loads(INDEX.read_text("utf-8"))
    return entries


def picture_path(template: str, sheet: str) -> Path:
    """Where a sheet's picture lies, or would."""
    return FOLDER / f"{template}.{sheet}.webp"


def find_picture(template: str, sheet: str, width: int) -> Path | None:
    """A sheet's picture, if one ships that is so wide, px, or up to half wider."""
    entry = read_index().get(f"{template}/{sheet}")
    return picture_path(template, sheet) if entry and width <= entry["width"] <= 1.5 * width else None


def digest_of(template: Template, sheet: str, samples: frozenset[str]) -> str:
    """What decides how a sheet's picture looks, as one name: the sheets of its template, which share the photos, and the
    photos."""
    parts = (template.digest, sheet, *sorted(samples))
    return sha256(" ".join(parts).encode()).hexdigest()[:32]


def theme_name(theme: str) -> str:
    """What a theme's pictures are filed under, in place of a template."""
    return f"theme-{theme}"


def digest_of_theme(theme: Theme, samples: frozenset[str]) -> str:
    """What decides how a theme's pictures look, as one name."""
    return sha256(" ".join((theme.model_dump_json(), *sorted(samples))).encode()).hexdigest()[:32]

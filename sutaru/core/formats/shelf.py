"""Reading templates and lab sheets from a shelf folder.

``ornaments/<kind>/<name>.svg`` are drawings.
``templates/<id>/template.json`` is a Template; a layer there may name a drawing or mask beside it
(``"asset_file": "x.svg"``), or an ornament of the shelf
(``"ornament": "kites/star"``), instead of giving its sha256. ``themes/<id>.json`` is a Theme, its drawings named the same way.
``labs/<id>.json`` is a LabSheet.
"""

import hashlib
import json
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from ..document import LabSheet, Template, Theme
from ..errors import FileRefused
from ..paint import refuse_asset
from ..paint.svg import drawing_ratio
from .masks import trace_drawing
from .upgrading import upgrade_template


def describe_invalid(error: ValidationError) -> str:
    """The first complaint of a validation, as one sentence part: where, and what."""
    first = error.errors()[0]
    where = ".".join(str(part) for part in first["loc"])
    return f"{where}: {first['msg'].removeprefix('Value error, ')}" if where else first["msg"]


@dataclass(frozen=True)
class Piece:
    """An ornament of the shelf: a drawing by the kind of thing it shows, and how wide it is for its height."""

    kind: str
    name: str
    asset: str
    ratio: float


@dataclass(frozen=True)
class Shelf:
    """What lies on a shelf: templates by id in the order of their folders' names, lab sheets by id, ornaments, themes by id, and
    the files that all of these name."""

    templates: dict[str, Template]
    labs: dict[str, LabSheet]
    files: dict[str, bytes]
    ornaments: tuple[Piece, ...] = ()
    themes: dict[str, Theme] = field(default_factory=dict)

    def asset(self, name: str) -> bytes:
        """A drawing or mask by its sha256. Raises FileRefused when it is not here."""
        return self.files[name] if name in self.files else refuse_asset(name)


def read_template(folder: Path) -> tuple[Template, dict[str, bytes]]:
    """The template in a folder, and the files it names by their sha256. Raises FileRefused when it is not one."""
    try:
        data = json.loads((folder / "template.json").read_text("utf-8"))
        named: dict[str, bytes] = {}
        data, files = upgrade_template(_take_up_files(data, folder, named))
        return Template.model_validate(data), files | named
    except (OSError, json.JSONDecodeError, UnicodeDecodeError) as error:
        raise FileRefused(f"The template {folder.name} cannot be read ({error}).") from None
    except ValidationError as error:
        raise FileRefused(f"The template {folder.name} is not valid: {describe_invalid(error)}.") from None


def read_theme(path: Path) -> tuple[Theme, dict[str, bytes]]:
    """The theme in a file, and the drawings it names by their sha256. Raises FileRefused when it is not one."""
    named: dict[str, bytes] = {}
    try:
        data = _take_up_files(json.loads(path.read_text("utf-8")), path, named)
        for drawing in data.get("decorations", ()):
            drawing.setdefault("ratio", drawing_ratio(named[drawing["asset"]]))
        return Theme.model_validate(data), named
    except (OSError, json.JSONDecodeError, UnicodeDecodeError, KeyError) as error:
        raise FileRefused(f"The theme {path.stem} cannot be read ({error}).") from None
    except ValidationError as error:
        raise FileRefused(f"The theme {path.stem} is not valid: {describe_invalid(error)}.") from None


def _take_up_files(data: Any, folder: Path, named: dict[str, bytes]) -> Any:
    """The template with the files beside it taken up into ``named``. Version 1 said ``svg_file`` and held the drawing."""
    if isinstance(data, list):
        return [_take_up_files(entry, folder, named) for entry in data]
    if not isinstance(data, dict):
        return data
    taken_up = {key: _take_up_files(value, folder, named) for key, value in data.items()}
    if "svg_file" in taken_up:
        taken_up["svg"] = (folder / Path(taken_up.pop("svg_file")).name).read_text("utf-8")
    if "ornament" in taken_up:
        kind, _, drawing = taken_up.pop("ornament").partition("/")
        content = (folder.parent.parent / "ornaments" / Path(kind).name / f"{Path(drawing).name}.svg").read_bytes()
        taken_up["asset"] = hashlib.sha256(content).hexdigest()
        named[taken_up["asset"]] = content
        taken_up.setdefault("traced", trace_drawing(content))
    if "asset_file" in taken_up:
        content = (folder / Path(taken_up.pop("asset_file")).name).read_bytes()
        taken_up["asset"] = hashlib.sha256(content).hexdigest()
        named[taken_up["asset"]] = content
        if taken_up.get("kind") == "ornament":
            taken_up.setdefault("traced", trace_drawing(content))
    return taken_up


def read_shelf(folder: Path) -> Shelf:
    """All templates and lab sheets of a shelf folder. Raises FileRefused."""
    read = [read_template(path.parent) for path in sorted((folder / "templates").glob("*/template.json"))]
    files = {name: content for _, named in read for name, content in named.items()}
    pieces = []
    for path in sorted((folder / "ornaments").glob("*/*.svg")):
        data = path.read_bytes()
        name = hashlib.sha256(data).hexdigest()
        files[name] = data
        pieces.append(Piece(path.parent.name, path.stem.replace("-", " "), name, drawing_ratio(data)))
    themes = {}
    for path in sorted((folder / "themes").glob("*.json")):
        theme, named = read_theme(path)
        themes[theme.id] = theme
        files |= named
    return Shelf({template.id: template for template, _ in read}, _labs(folder), files, tuple(pieces), themes)


def _labs(folder: Path) -> dict[str, LabSheet]:
    labs = {}
    for path in sorted((folder / "labs").glob("*.json")):
        try:
            lab = LabSheet.model_validate_json(path.read_text("utf-8"))
        except ValidationError as error:
            raise FileRefused(f"The lab sheet {path.stem} is not valid: {describe_invalid(error)}.") from None
        labs[lab.id] = lab
    return labs

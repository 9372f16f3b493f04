"""Reading templates and lab sheets from a shelf folder.

``templates/<id>/template.json`` is a Template; an ornament there may name a drawing beside it (``"svg_file": "x.svg"``)
instead of holding it. ``labs/<id>.json`` is a LabSheet.
"""

import json
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from ..document import LabSheet, Template
from ..errors import FileRefused


def plainly(error: ValidationError) -> str:
    """The first complaint of a validation, as one sentence part: where, and what."""
    first = error.errors()[0]
    where = ".".join(str(part) for part in first["loc"])
    return f"{where}: {first['msg'].removeprefix('Value error, ')}" if where else first["msg"]


def read_template(folder: Path) -> Template:
    """The template in a folder. Raises FileRefused when it is not one."""
    try:
        data = json.loads((folder / "template.json").read_text("utf-8"))
        return Template.model_validate(_with_drawings(data, folder))
    except (OSError, json.JSONDecodeError) as error:
        raise FileRefused(f"The template {folder.name} cannot be read ({error}).") from None
    except ValidationError as error:
        raise FileRefused(f"The template {folder.name} is not valid: {plainly(error)}.") from None


def _with_drawings(data: Any, folder: Path) -> Any:
    for page in data.get("pages", ()):
        for layer in page.get("layers", ()):
            name = layer.pop("svg_file", None)
            if name is not None:
                layer["svg"] = (folder / Path(name).name).read_text("utf-8")
    return data


def read_templates(shelf: Path) -> dict[str, Template]:
    """All templates of a shelf folder by id, in the order of their folders' names."""
    found = [read_template(path.parent) for path in sorted((shelf / "templates").glob("*/template.json"))]
    return {template.id: template for template in found}


def read_labs(shelf: Path) -> dict[str, LabSheet]:
    """All lab sheets of a shelf folder by id."""
    found = {}
    for path in sorted((shelf / "labs").glob("*.json")):
        try:
            lab = LabSheet.model_validate_json(path.read_text("utf-8"))
        except ValidationError as error:
            raise FileRefused(f"The lab sheet {path.stem} is not valid: {plainly(error)}.") from None
        found[lab.id] = lab
    return found

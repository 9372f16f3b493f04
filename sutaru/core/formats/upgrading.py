"""Documents of earlier versions, brought to the present shape step by step, so that what was once stored opens for ever.

Each step takes plain JSON of one version and gives that of the next, and the files that it takes out of the document.
"""

import base64
import binascii
import hashlib
from collections.abc import Callable
from typing import Any

from ..errors import FileRefused
from .masks import trace_outline

Plain = dict[str, Any]
Files = dict[str, bytes]
JOB_VERSION = TEMPLATE_VERSION = 2


def upgrade_job(data: Plain) -> tuple[Plain, Files]:
    """A job of any version as one of the present. Raises FileRefused for one of a later version or none."""
    return _apply_steps(data, {1: _job_2}, JOB_VERSION, "job")


def upgrade_template(data: Plain) -> tuple[Plain, Files]:
    """A template of any version as one of the present. Raises FileRefused for one of a later version or none."""
    return _apply_steps(data, {1: _template_2}, TEMPLATE_VERSION, "template")


def _apply_steps(
    data: Plain, steps: dict[int, Callable[[Plain], tuple[Plain, Files]]], last: int, what: str
) -> tuple[Plain, Files]:
    files: Files = {}
    version = data.get("schema_version", 1)
    if not isinstance(version, int) or not 1 <= version <= last:
        raise FileRefused(f"This {what} was made by a newer Sutaru (version {version}).", "Bring Sutaru up to date.")
    try:
        for number in range(version, last):
            data, more = steps[number](data)
            files |= more
    except (KeyError, TypeError, AttributeError, ValueError, binascii.Error) as error:
        raise FileRefused(f"This {what} is not what a {what} should be.", "Ask for it to be made anew.") from error
    return data, files


def _sheet_2(page: Plain) -> tuple[Plain, Files]:
    """A page of version 1: layout and sheet were one; drawings and masks stood in it; a lock was for place and content."""
    files: Files = {}

    def add_file(content: bytes) -> str:
        name = hashlib.sha256(content).hexdigest()
        files[name] = content
        return name

    def layer_2(layer: Plain) -> Plain:
        layer = dict(layer)
        locked = layer.pop("locked", False)
        if locked:
            layer |= {"place_locked": True, "content_locked": True}
        if layer["kind"] == "ornament" and "svg" in layer:
            layer["asset"] = add_file(layer.pop("svg").encode())
        if (outline := layer.get("outline")) and outline["kind"] == "mask":
            png = base64.b64decode(outline["png"], validate=True)
            by = outline.get("by", "alpha")
            fields = {k: v for k, v in outline.items() if k != "png"}
            layer["outline"] = fields | {"asset": add_file(png), "traced": trace_outline(png, by)}
        return layer

    layers = [layer_2(layer) for layer in page["layers"]]
    layout = {k: v for k, v in page.items() if k not in ("id", "name", "layers")} | {"layers": layers}
    gutter = any(line["kind"] == "gutter" for line in page.get("lines", ()))
    return {
        "id": page["id"],
        "name": page["name"] or page["id"],
        "role": "spread" if gutter else "page",
        "layout": layout,
    }, files


def _sheets_2(data: Plain) -> tuple[list[Plain], Files]:
    sheets: list[Plain] = []
    files: Files = {}
    for page in data["pages"]:
        sheet, more = _sheet_2(page)
        sheets.append(sheet)
        files |= more
    return sheets, files


def _template_2(data: Plain) -> tuple[Plain, Files]:
    sheets, files = _sheets_2(data)
    fields = {k: v for k, v in data.items() if k != "pages"}
    return fields | {"schema_version": 2, "sheets": sheets}, files


def _job_2(data: Plain) -> tuple[Plain, Files]:
    """A job of version 1: one edition for all pages, by layer ids that were unique in all of it."""
    sheets, files = _sheets_2(data)
    old = data.get("edition", {})
    spans = old.get("spans", {})
    spanned = {opening for span in spans.values() for opening in span["openings"]}
    fillings = {}
    for sheet in sheets:
        ids = {layer["id"] for layer in sheet["layout"]["layers"]}
        filling = {
            # What a span's openings show followed from the span in version 1 as well.
            "placements": {k: v for k, v in old.get("placements", {}).items() if k in ids - spanned},
            "texts": {k: v for k, v in old.get("texts", {}).items() if k in ids},
            "pins": [k for k in old.get("pins", ()) if k in ids],
            "spans": {k: span for k, span in spans.items() if span["openings"][0] in ids},
            "tones": {k: v for k, v in old.get("tones", {}).items() if k in ids},
        }
        if any(filling.values()):
            fillings[sheet["id"]] = filling
    edition = {"id": "first", "name": "First", "photo_tones": old.get("photo_tones", {}), "fillings": fillings}
    fields = {k: v for k, v in data.items() if k not in ("pages", "photos", "edition")}
    job = {"schema_version": 2, "sheets": sheets, "pile": {"photos": data.get("photos", [])}, "editions": [edition]}
    return fields | job, files

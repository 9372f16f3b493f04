"""``sutaru shelf``: the templates as a list, read as plain JSON. Nothing is validated, painted or loaded for it."""

import argparse
import json
from collections.abc import Iterator
from typing import Any

from ..shelf import FOLDER


def list_templates() -> Iterator[dict[str, Any]]:
    """What a list says of each template that ships."""
    for path in sorted((FOLDER / "templates").glob("*/template.json")):
        template = json.loads(path.read_text("utf-8"))
        layouts = [sheet["layout"] for sheet in template["sheets"]]
        yield {
            "id": template["id"], "name": template["name"], "product": template["product"],
            "trim_mm": [layouts[0]["width_mm"], layouts[0]["height_mm"]],
            "openings": [sum(1 for _ in _openings(layout["layers"])) for layout in layouts],
        }  # fmt: skip


def _openings(layers: list[dict[str, Any]]) -> Iterator[dict[str, Any]]:
    for layer in layers:
        if layer["kind"] == "opening":
            yield layer
        elif layer["kind"] == "group":
            yield from _openings(layer.get("layers", []))


def shelf(args: argparse.Namespace) -> int:
    """Lists the templates."""
    templates = list(list_templates())
    if args.json:
        print(json.dumps(templates, indent=1))
        return 0
    for row in templates:
        size = " x ".join(f"{side:g}" for side in row["trim_mm"])
        openings = " + ".join(map(str, row["openings"]))
        print(f"{row['id']:<18} {row['product']:<8} {size:>15} mm  {openings} openings")
    return 0

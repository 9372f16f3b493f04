"""Writes the API's description for the front end and the bundle's JSON Schema: ``python tools/write_schemas.py``."""

import json
import tempfile
from pathlib import Path

from sutaru.api.app import create_app
from sutaru.core.document import Job, LabSheet, Template

ROOT = Path(__file__).parent.parent


def schemas() -> dict[Path, str]:
    """Contents of each generated description, by path."""
    found = {ROOT / "web" / "openapi.json": create_app(Path(tempfile.gettempdir()) / "unused").openapi()}
    for name, model in (("job", Job), ("template", Template), ("lab-sheet", LabSheet)):
        found[ROOT / "docs" / "schemas" / f"{name}.schema.json"] = model.model_json_schema()
    return {path: json.dumps(schema, indent=1) + "\n" for path, schema in found.items()}


if __name__ == "__main__":
    for path, text in schemas().items():
        path.parent.mkdir(exist_ok=True)
        path.write_text(text, "utf-8")

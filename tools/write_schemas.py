"""Writes what is derived from the code: ``make schemas``.

The API's description for the front end, the JSON Schemas of the file formats, and placements worked out by the core,
which the front end's own mathematics is tested against.
"""

import json
import pathlib
import random
import tempfile
from collections.abc import Iterator

from sutaru.api.app import create_app
from sutaru.core.document import Ellipse, Flat, Job, LabSheet, Opening, Path, Photo, Placement, Rectangle, Template
from sutaru.core.fitting import clamped, opening_from_photo

ROOT = pathlib.Path(__file__).parent.parent


def schemas() -> dict[pathlib.Path, str]:
    """Contents of each generated description, by path."""
    found = {ROOT / "web" / "openapi.json": create_app(pathlib.Path(tempfile.gettempdir()) / "unused").openapi()}
    for name, model in (("job", Job), ("template", Template), ("lab-sheet", LabSheet)):
        found[ROOT / "docs" / "schemas" / f"{name}.schema.json"] = model.model_json_schema()
    found[ROOT / "web" / "src" / "bench" / "placing.cases.json"] = {"cases": list(_placements())}
    return {path: json.dumps(schema, indent=1) + "\n" for path, schema in found.items()}


def _placements() -> Iterator[dict[str, object]]:
    rng = random.Random(7)
    for n in range(40):
        w, h = rng.uniform(10, 300), rng.uniform(10, 300)
        outline = (
            Rectangle(width_mm=w, height_mm=h),
            Ellipse(width_mm=w, height_mm=h),
            Path(d="M-10 -10L60 -30L30 40Z"),
        )[n % 3]
        opening = Opening(id="o", outline=outline, surface=Flat(centre=(0, 0)))
        photo = Photo(id="0" * 16, sha256="0" * 64, name="x", format="JPEG", size_bytes=1, width=rng.randint(500, 7000),
                      height=rng.randint(500, 7000))  # fmt: skip
        asked = Placement(
            photo=photo.id, fit="whole" if n % 5 == 4 else "cover", centre=(rng.uniform(-0.5, 1.5), rng.uniform(-0.5, 1.5)),
            zoom=rng.uniform(1, 4), turn_deg=rng.uniform(-180, 180), mirror=rng.random() < 0.5,
        )  # fmt: skip
        lies = clamped(opening, photo, asked)

        def plain(placement: Placement) -> dict[str, object]:
            return placement.model_dump(exclude={"photo"})

        yield {
            "outline": [[round(x, 6), round(y, 6)] for x, y in max(outline.polygons(0.05), key=len).tolist()],
            "photo": {"width": photo.width, "height": photo.height}, "asked": plain(asked),
            "centre": [round(v, 6) for v in lies.centre], "zoom": round(lies.zoom, 6),
            "opening_from_photo": [round(v, 6) for v in opening_from_photo(opening, photo, lies).ravel().tolist()],
        }  # fmt: skip


if __name__ == "__main__":
    for path, text in schemas().items():
        path.parent.mkdir(exist_ok=True)
        path.write_text(text, "utf-8")

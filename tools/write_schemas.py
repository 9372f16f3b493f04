"""Writes what is derived from the code: ``make schemas``.

The API's description for the front end, the JSON Schemas of the file formats, and placements worked out by the core,
which the front end's own mathematics is tested against.
"""

import json
import pathlib
import random
import tempfile
from collections.abc import Iterator

import numpy as np

from sutaru.api.app import create_app
from sutaru.core.document import (
    Corners,
    Ellipse,
    Flat,
    Grid,
    Job,
    LabSheet,
    Opening,
    Path,
    Photo,
    Placement,
    Rectangle,
    Roll,
    Template,
    Upright,
)
from sutaru.core.fitting import clamped, opening_from_photo, upright_from_photo
from sutaru.core.geometry.patches import BezierPatch

ROOT = pathlib.Path(__file__).parent.parent


def schemas() -> dict[pathlib.Path, str]:
    """Contents of each generated description, by path."""
    found = {ROOT / "web" / "openapi.json": create_app(pathlib.Path(tempfile.gettempdir()) / "unused").openapi()}
    for name, model in (("job", Job), ("template", Template), ("lab-sheet", LabSheet)):
        found[ROOT / "docs" / "schemas" / f"{name}.schema.json"] = model.model_json_schema()
    found[ROOT / "web" / "src" / "geometry" / "placing.cases.json"] = {
        "cases": list(_placements()),
        "quads": list(_quads()),
        "patches": list(_patches()),
        "surfaces": list(_surfaces()),
        "upright": list(_upright()),
    }
    api = found[ROOT / "web" / "openapi.json"]["components"]["schemas"]
    found[ROOT / "web" / "src" / "api" / "limits.json"] = dict(_limits(api))
    return {path: json.dumps(schema, indent=1) + "\n" for path, schema in found.items()}


def _limits(models: dict) -> Iterator[tuple[str, dict[str, list[float]]]]:
    """Least and most of every bounded number, by model and field, for number fields."""
    for name, model in models.items():
        found = {}
        for field, schema in model.get("properties", {}).items():
            (schema, *_) = [s for s in schema.get("anyOf", [schema]) if s.get("type") != "null"]
            low, high = schema.get("minimum", schema.get("exclusiveMinimum")), schema.get("maximum")
            if schema.get("type") in ("number", "integer") and low is not None and high is not None:
                found[field] = [low, high]
        if found:
            yield name, found


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
            ratio=rng.choice([None, None, 1.0, 0.8, 1.5]),
        )  # fmt: skip
        lies = clamped(opening, photo, asked)

        def plain(placement: Placement) -> dict[str, object]:
            return placement.model_dump(exclude={"photo"})

        yield {
            "outline": [[round(x, 6), round(y, 6)] for x, y in max(opening.outline.polygons(0.05), key=len).tolist()],
            "photo": {"width": photo.width, "height": photo.height}, "asked": plain(asked),
            "centre": [round(v, 6) for v in lies.centre], "zoom": round(lies.zoom, 6),
            "opening_from_photo": [round(v, 6) for v in opening_from_photo(opening, photo, lies).ravel().tolist()],
        }  # fmt: skip


def _upright() -> Iterator[dict[str, object]]:
    """Where places of photos come to lie that are put upright."""
    for said, (width, height) in (
        ({"pitch_deg": 9.0}, (3000, 2000)),
        ({"pitch_deg": -6.0, "yaw_deg": 4.0, "roll_deg": 2.5}, (2000, 3000)),
        ({"bend": 60.0}, (1500, 1000)),
        ({"pitch_deg": 5.0, "bend": -40.0, "roll_deg": -3.0}, (1500, 1500)),
    ):
        onto = upright_from_photo(Upright(**said), width, height)
        points = [(fx * width, fy * height) for fx, fy in ((0.5, 0.5), (0.2, 0.3), (0.8, 0.9), (0.5, 0.1))]
        yield {
            "upright": said,
            "width": width,
            "height": height,
            "points": points,
            "onto": onto.apply(points).round(4).tolist(),
        }


def _quads() -> Iterator[dict[str, object]]:
    """Where the box about an 80 x 60 mm outline goes when its corners are pulled."""
    points = [(-40.0, -30.0), (40.0, 30.0), (0.0, 0.0), (-13.0, 22.0)]
    for corners in (
        ((20, 30), (100, 20), (100, 90), (20, 80)),
        ((-15, 5), (61, -22), (80, 70), (3, 44)),
        ((0, 0), (80, 0), (80, 60), (0, 60)),
    ):
        onto = Corners(points=corners).page_from_opening(Rectangle(width_mm=80, height_mm=60))
        yield {"corners": corners, "points": points, "onto": onto.apply(points).round(6).tolist()}


def _patches() -> Iterator[dict[str, object]]:
    rng = random.Random(11)
    for rows, columns in ((2, 2), (4, 4), (3, 5)):
        net = [
            [(40 * i + rng.uniform(-6, 6), 30 * j + rng.uniform(-6, 6)) for i in range(columns)] for j in range(rows)
        ]
        points = [(0.0, 0.0), (1.0, 1.0), (0.3, 0.6), (0.9, 0.2)]
        yield {"net": net, "points": points, "onto": BezierPatch(np.array(net)).apply(points).round(6).tolist()}


def _surfaces() -> Iterator[dict[str, object]]:
    """Where the plane of an 80 x 60 mm opening goes on surfaces of every kind."""
    points = [(-40.0, -30.0), (40.0, 30.0), (0.0, 0.0), (-13.0, 22.0)]
    outline = Rectangle(width_mm=80, height_mm=60)
    net = [[(20 + 25 * i + 3 * j * j, 10 + 20 * j - 4 * i * (3 - i)) for i in range(4)] for j in range(4)]
    for surface in (
        Flat(centre=(90, 70), turn_deg=12.5),
        Flat(centre=(-5, 20), turn_deg=-100, stretch_x=1.3, stretch_y=0.8, skew_deg=14),
        Corners(points=((20, 30), (100, 20), (100, 90), (20, 80))),
        Grid(net=net),
        Roll(centre=(70, 60), radius_mm=45, tilt_deg=20, turn_deg=7),
    ):
        onto = surface.page_from_opening(outline)
        yield {
            "surface": surface.model_dump(), "outline": max(outline.polygons(0.05), key=len).tolist(), "points": points,
            "onto": onto.apply(points).round(6).tolist(),
        }  # fmt: skip


if __name__ == "__main__":
    for path, text in schemas().items():
        path.parent.mkdir(exist_ok=True)
        path.write_text(text, "utf-8")

"""Writes what is derived from the code: ``make schemas``. With ``--check`` it only says what is stale.

The API's description for the front end, the JSON Schemas of the file formats, and placements worked out by the core,
which the front end's own mathematics is tested against.
"""

import json
import pathlib
import random
import sys
import tempfile
from collections.abc import Iterator

import numpy as np

from sutaru.api.app import create_app
from sutaru.core.checks import places
from sutaru.core.document import (
    Corners,
    Ellipse,
    FillBox,
    Flat,
    Grid,
    Group,
    Job,
    LabSheet,
    Layout,
    Opening,
    Path,
    Photo,
    Placement,
    Rectangle,
    Roll,
    Sheet,
    Template,
    Text,
    Upright,
)
from sutaru.core.document.layout import walk_layers
from sutaru.core.edits.apply import apply
from sutaru.core.edits.kinds import AddLayers, Carry, RemoveLayers, Repeat, Restack, SetFields
from sutaru.core.fitting import clamp_placement, opening_from_photo, upright_from_photo
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
    found[ROOT / "web" / "src" / "editing" / "relaid.cases.json"] = _relaid()
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
        photo = Photo(id="0" * 16, checksum="0" * 64, name="x", format="JPEG", size_bytes=1, width=rng.randint(500, 7000),
                      height=rng.randint(500, 7000))  # fmt: skip
        asked = Placement(
            photo=photo.id, fit="whole" if n % 5 == 4 else "cover", centre=(rng.uniform(-0.5, 1.5), rng.uniform(-0.5, 1.5)),
            zoom=rng.uniform(1, 4), turn_deg=rng.uniform(-180, 180), mirror=rng.random() < 0.5,
            ratio=rng.choice([None, None, 1.0, 0.8, 1.5]),
        )  # fmt: skip
        lies = clamp_placement(opening, photo, asked)

        def plain(placement: Placement) -> dict[str, object]:
            return placement.model_dump(exclude={"photo"})

        yield {
            "outline": [[round(x, 6), round(y, 6)] for x, y in max(opening.outline.polygons(0.05), key=len).tolist()],
            "photo": {"width": photo.width, "height": photo.height}, "asked": plain(asked),
            "centre": [round(v, 6) for v in lies.centre], "zoom": round(lies.zoom, 6),
            "opening_from_photo": [round(v, 6) for v in opening_from_photo(opening, photo, lies).ravel().tolist()],
        }  # fmt: skip


def _sides(points: tuple[tuple[float, float], ...]) -> list[float]:
    """Left, top, right and bottom of the box about points."""
    xs, ys = zip(*points, strict=True)
    return [min(xs), min(ys), max(xs), max(ys)]


def _relaid() -> dict[str, object]:
    """A sheet, and where its layers lie after edits of their places."""
    flat = {"outline": Rectangle(width_mm=80, height_mm=50), "surface": Flat(centre=(80, 60))}
    layout = Layout(
        width_mm=400,
        height_mm=300,
        layers=(
            Opening(id="flat", **flat),
            Opening(
                id="leans", outline=Ellipse(width_mm=60, height_mm=40), surface=Flat(centre=(220, 70), turn_deg=30)
            ),
            Opening(id="quarter", outline=Rectangle(width_mm=50, height_mm=30), surface=Flat(centre=(330, 80), turn_deg=90)),
            Opening(
                id="quad",
                outline=Rectangle(width_mm=60, height_mm=40),
                surface=Corners(points=((40, 160), (110, 150), (105, 210), (45, 200))),
            ),
            FillBox(id="fill", colour="#336699",
                    outline=Path(d="M-20 -10L20 -15L0 15Z"), surface=Flat(centre=(200, 180), turn_deg=-20)),
            Group(id="group", layers=(
                Text(id="words", text="Kites", size_pt=12, centre=(300, 200), width_mm=60, height_mm=12, turn_deg=15),
            )),
        ),
    )  # fmt: skip
    job = Job(name="x", template="t", product="collage", lab=LabSheet(id="l", name="L", ppi_target=300, ppi_least=150),
              sheets=(Sheet(id="s", name="S", layout=layout),))  # fmt: skip
    every = ("flat", "leans", "quarter", "quad", "fill", "group")
    cases = (
        (Carry(sheet="s", layers=every, by=(7, -3)),),
        (Carry(sheet="s", layers=("flat", "leans", "words"), turn_deg=25),),
        (Carry(sheet="s", layers=every, about=(100, 100), turn_deg=-35, by=(5, 4)),),
        (Carry(sheet="s", layers=every, about=(10, 20), scale=(1.5, 1.5)),),
        (Carry(sheet="s", layers=("flat", "quarter"), about=(60, 40), scale=(1.4, 0.7)),),
        (Carry(sheet="s", layers=("flat", "leans", "quarter", "quad"), mirror="left_right"),),
        (Carry(sheet="s", layers=("flat", "leans"), mirror="top_bottom", turn_deg=40),),
        (Carry(sheet="s", layers=("flat",), skew_deg=20),),
        (SetFields(sheet="s", layers=("leans",), fields={"surface.centre": (150, 90), "outline.width_mm": 90}),),
        (SetFields(sheet="s", layers=("flat",), fields={"surface.turn_deg": -50, "outline.height_mm": 20}),),
        (SetFields(sheet="s", layers=("words",), fields={"centre": (200, 250), "width_mm": 90, "turn_deg": -10}),),
        (Carry(sheet="s", layers=("leans", "words"), turn_deg=20, about=(0, 0), scale=(1.2, 1.2)),
         SetFields(sheet="s", layers=("leans", ), fields={"surface.centre": (120, 80), "outline.height_mm": 30}),
         SetFields(sheet="s", layers=("words", ), fields={"centre": (90, 250), "turn_deg": 5})),
        (SetFields(sheet="s", layers=("flat",), fields={"outline.width_mm": 100, "surface.centre": (90, 60)}),
         SetFields(sheet="s", layers=("flat",), fields={"outline.height_mm": 80, "surface.centre": (90, 75)})),
        (AddLayers(sheet="s", layers=(
            Opening(id="box", outline=Rectangle(width_mm=30, height_mm=20), surface=Flat(centre=(60, 250), turn_deg=12)),
            Opening(id="oval", outline=Ellipse(width_mm=30, height_mm=20), surface=Flat(centre=(120, 250))),
            Opening(id="cut", outline=Path(d="M-9 -8L11 -8L9 8L-11 8Z"), surface=Flat(centre=(180, 250))),
            Text(id="said", text="Reeds", size_pt=9, centre=(330, 250), width_mm=40, height_mm=9, turn_deg=-8),
        ), below="fill"),
         Carry(sheet="s", layers=("box", "said"), by=(3, 2))),
        (AddLayers(sheet="s", layers=(FillBox(id="in", colour="#333333", **flat),), group="group"),),
        (RemoveLayers(sheet="s", layers=("leans", "group")),),
        (Repeat(sheet="s", layers=("flat",), columns=2, step_mm=(90, 0), names=("copy",), on_top=True),
         Repeat(sheet="s", layers=("copy",), columns=2, step_mm=(90, 0), names=("another",), on_top=True)),
        (Repeat(sheet="s", layers=("group", "fill"), columns=2, rows=2, step_mm=(10, 30),
                names=tuple(f"n{n}" for n in range(9))),),
        (Repeat(sheet="s", layers=("words",), columns=2, step_mm=(10, 0), names=("more",), on_top=True),
         RemoveLayers(sheet="s", layers=("words",))),
        (Restack(sheet="s", layer="flat", below="fill"), Restack(sheet="s", layer="leans", group="group", below="words"),
         Restack(sheet="s", layer="quad")),
    )  # fmt: skip
    found = []
    for edits in cases:
        after = job
        for edit in edits:
            after = apply(after, edit)
        lies = places(after.sheets[0].layout)
        rows = [
            {
                "opening": row.opening, "shape": _sides(row.shape), "outline": _sides(row.outline),
                "page_from_opening": [round(v, 9) for v in row.page_from_opening],
                "size": (row.width_mm, row.height_mm), "number": row.number,
            }
            for row in lies.openings
        ]  # fmt: skip
        frames = {entry.layer: [v for point in entry.frame for v in point] for entry in lies.layers}
        stack = [[layer.id, depth] for layer, depth in walk_layers(after.sheets[0].layout.layers)]
        edited = [edit.model_dump(mode="json") for edit in edits]
        found.append({"edits": edited, "rows": rows, "frames": frames, "stack": stack})
    before = places(layout).model_dump(mode="json", include={"openings", "layers"})
    return {"layout": layout.model_dump(mode="json"), **before, "cases": found}


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


def find_stale() -> list[str]:
    """Names of the descriptions that are not as the code says now."""
    return [path.name for path, text in schemas().items() if not path.exists() or path.read_text("utf-8") != text]


if __name__ == "__main__":
    if "--check" in sys.argv[1:]:
        if names := find_stale():
            sys.exit(f"{', '.join(names)}: not as the code says. Run make schemas.")
    else:
        for path, text in schemas().items():
            path.parent.mkdir(exist_ok=True)
            path.write_text(text, "utf-8")

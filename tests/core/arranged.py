"""Sheets to be arranged, and how an edit is applied to one."""

import itertools
import math

import numpy as np
from pydantic import TypeAdapter

from sutaru.core.document import (
    Background,
    Corners,
    Echo,
    Ellipse,
    FillBox,
    Flat,
    Gradient,
    Grid,
    Group,
    Guide,
    Layout,
    Line,
    Opening,
    Ornament,
    Path,
    Rectangle,
    Roll,
    Stop,
    Text,
)
from sutaru.core.edits.kinds import Edit
from sutaru.core.edits.layout import edit_layout
from sutaru.core.formats.shelf import read_shelf
from sutaru.shelf import FOLDER

EDIT: TypeAdapter[Edit] = TypeAdapter(Edit)
SHELF = read_shelf(FOLDER)


def opening(identity: str, x: float, y: float, width: float = 40, height: float = 30, **more: object) -> Opening:
    fields = {"outline": Rectangle(width_mm=width, height_mm=height), "surface": Flat(centre=(x, y))}
    return Opening(id=identity, **{**fields, **more})


def edited(layout: Layout, **edit: object) -> Layout:
    return edit_layout(layout, EDIT.validate_python({"sheet": "one", **edit}))


L_SHAPE = Path(d="M-20,-15L20,-15L20,0L0,0L0,15L-20,15Z")
NET = tuple(tuple((x + 2.5 * math.sin(y / 9), y + 0.0) for x in (150.0, 180.0, 210.0)) for y in (20.0, 40.0, 60.0))


def everything() -> Layout:
    """One of everything that can lie on a sheet."""
    stops = (Stop(at=0, colour="#ffffff"), Stop(at=1, colour="#224466"))
    return Layout(
        width_mm=304.8, height_mm=203.2, lines=(Line(kind="gutter", axis="x", at_mm=152.4),),
        guides=(Guide(axis="y", at_mm=33.333333333),),
        layers=(
            Background(id="ground", gradient=Gradient(turn_deg=30, stops=stops)),
            opening("plain", 60, 50),
            opening("turned", 60, 120, surface=Flat(centre=(60.1, 120.7), turn_deg=12.5)),
            opening("skewed", 250, 160, surface=Flat(centre=(250, 160), skew_deg=10, stretch_x=1.2)),
            opening("shape", 110, 60, outline=L_SHAPE),
            opening("round", 110, 120, outline=Ellipse(width_mm=30, height_mm=50)),
            opening("slanted", 0, 0, surface=Corners(points=((200, 80), (260, 90), (250, 140), (205, 130)))),
            opening("bent", 0, 0, surface=Grid(net=NET)),
            opening("mug", 260, 40, surface=Roll(centre=(260, 40), radius_mm=30, tilt_deg=15, turn_deg=5)),
            Echo(id="floor", of="plain"),
            FillBox(id="fill", outline=L_SHAPE, surface=Flat(centre=(30, 170), turn_deg=-20), colour="#aa3344"),
            Group(id="together", layers=(
                Text(id="words", text="Kites", centre=(150, 190), width_mm=80, height_mm=10, turn_deg=3),
                Ornament(id="kite", asset="0" * 64, centre=(280, 190), width_mm=12, height_mm=18, turn_deg=-30),
            )),
        ),
    )  # fmt: skip


def dense(layer: Opening | FillBox) -> np.ndarray:
    """Points all along a layer's edge, on the page."""
    onto = layer.surface.page_from_opening(layer.outline)
    rings = [np.vstack([np.linspace(a, b, 120) for a, b in itertools.pairwise([*p, p[0]])])
             for p in layer.outline.polygons()]  # fmt: skip
    return np.vstack([onto.apply(ring) for ring in rings])[::1]

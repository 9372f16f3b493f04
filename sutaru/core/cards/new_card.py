"""A card from nothing: its outside and inside in a fold and a theme; front, greeting and the studio's back where they belong."""

from typing import Any

from ..arranging.moving import round_exactly
from ..books.dressing import dress_layout
from ..document import Flat, Job, LabSheet, Layer, Layout, Line, Opening, Sheet, StudioCard, Text, Theme
from ..document.shapes import Rectangle
from .folding import Folding, Kind, Panel, Side, make_folding

CARD = "card"  # what a card says that it was begun from
# A picture of 6.75 x 4.75 in on a card of 7 x 5 in leaves an eighth of an inch all round (common practice, no source).
_AROUND_MM = 3.175


def begin_card(
    name: str, lab: LabSheet, kind: Kind, width_mm: float, height_mm: float, theme: Theme,
    bleed_mm: float = 3.0, safe_mm: float = 3.0, studio: StudioCard | None = None, by_photo: bool = False,
) -> Job:  # fmt: skip
    """A card that is so large when closed: a photo on its front, words inside, the studio on its back. ``by_photo``: the first
    photo that comes in turns it upright or across."""
    folding = make_folding(kind, width_mm, height_mm)
    sides: tuple[Side, ...] = ("outside", "inside")
    sheets = tuple(
        Sheet(id=side, name=side.capitalize(), role="inside" if side == "inside" else "page",
              layout=_side(folding, side, theme, n, bleed_mm, safe_mm))
        for n, side in enumerate(sides)
    )  # fmt: skip
    return Job(
        name=name, template=CARD, product="card", lab=lab, sheets=sheets, studio=studio, without_samples=True, fold=kind,
        variants=(CARD,) if by_photo else (),
    )  # fmt: skip


def _side(folding: Folding, side: Side, theme: Theme, turn: int, bleed_mm: float, safe_mm: float) -> Layout:
    layers: list[Layer] = []
    for panel in folding.side(side):
        layers += _design_panel(panel, len(layers), safe_mm, panel.number == folding.still)
    layout = Layout(
        width_mm=folding.width_mm, height_mm=folding.height_mm, bleed_mm=bleed_mm, safe_mm=safe_mm, layers=(),
        lines=tuple(Line(kind="fold", axis=folding.axis, at_mm=place) for place in folding.folds_mm(side)),
    )  # fmt: skip
    # Drawings in a book's margins would lie across the folds.
    plain = theme.copy_with(decorations=())
    return dress_layout(
        layout.copy_with(layers=tuple(layers), styles=theme.styles, swatches=theme.swatches), plain, turn, side
    )


def _design_panel(panel: Panel, taken: int, safe_mm: float, still: bool) -> list[Layer]:
    """What a panel begins with, laid upside down where the panel lies so."""
    if panel.name.startswith("front"):
        around = max(_AROUND_MM, safe_mm)
        size = panel.width - 2 * around, panel.height - 2 * around
        number = f"opening-{taken + 1}"
        surface = Flat(centre=_panel_point(panel, 0.5, 0.5), turn_deg=180.0 if panel.turned else 0.0)
        outline = Rectangle(width_mm=round_exactly(size[0]), height_mm=round_exactly(size[1]))
        return [Opening(id=number, name=panel.name.capitalize(), outline=outline, surface=surface)]
    if panel.name == "back":
        words = "{studio.name}\n{studio.web}"
        return [_words("imprint", "Studio", words, panel, (0.5, 0.88), (0.8, 12.0), style="Caption", size_pt=8.0)]
    if panel.side == "inside" and still:
        text = _words("greeting", "Greeting", "Thank you", panel, (0.5, 0.45), (0.8, 0.4 * panel.height), style="Title")
        return [text.copy_with(sample=True, fit_pt=(9.0, 26.0))]
    return []


def _panel_point(panel: Panel, x: float, y: float) -> tuple[float, float]:
    """A place on a panel, in shares of it as it is read."""
    x, y = (1 - x, 1 - y) if panel.turned else (x, y)
    return round_exactly(panel.left + x * panel.width), round_exactly(panel.top + y * panel.height)


def _words(
    identity: str, name: str, text: str, panel: Panel, place_mm: tuple[float, float], size: tuple[float, float], **more: Any
) -> Text:  # fmt: skip
    return Text(
        id=identity, name=name, text=text, sample=False, centre=_panel_point(panel, *place_mm),
        width_mm=round_exactly(size[0] * panel.width), height_mm=round_exactly(size[1]),
        turn_deg=180.0 if panel.turned else 0.0, **{"size_pt": 20.0, **more},
    )  # fmt: skip

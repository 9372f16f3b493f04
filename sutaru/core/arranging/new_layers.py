"""Making layers from layers: repeating, splitting, one of several, groups.

Ids are found by themselves, the same each time; ``taken`` holds those that are not free, and the new ones from then on.
"""

import re
from collections.abc import Mapping, Sequence

from ..document import Echo, Flat, Group, Layer, Opening, Rectangle
from ..document.layout import walk_layers
from ..errors import EditRefused
from .aligning import layers_box
from .moving import Motion, carry_layer, round_exactly

MOST = 500  # layers that one edit makes


def fresh_id(taken: set[str], like: str) -> str:
    """An id that is not taken yet, named as another one; it counts as taken from then on."""
    stem = re.sub(r"-\d+$", "", like)[:56]
    number = 2
    while f"{stem}-{number}" in taken:
        number += 1
    taken.add(f"{stem}-{number}")
    return f"{stem}-{number}"


def repeat_layers(
    layers: Sequence[Layer],
    columns: int,
    rows: int,
    step_mm: tuple[float, float],
    taken: set[str],
    names: Sequence[str] = (),
) -> list[Layer]:
    """Copies of layers in columns and rows, ``step_mm`` apart across and down; the layers themselves are the first of them.

    ``names``: ids of the copies where they are said. An echo of an opening that is copied too is one of its copy.
    """
    copies, each = columns * rows - 1, [layer.id for layer, _ in walk_layers(tuple(layers))]
    if not 0 < copies < MOST // max(1, len(layers)):
        raise EditRefused("So many copies cannot be made at once.", f"Make 2 to {MOST} layers at a time.")
    if names and (len(names) != copies * len(each) or len(set(names)) < len(names) or taken & set(names)):
        raise EditRefused("These names do not fit the copies.", "Name each layer of each copy, as no layer is called.")
    given = iter(names)
    layers_made = list[Layer]()
    for row in range(rows):
        for column in range(columns):
            if row or column:
                by = round_exactly(column * step_mm[0]), round_exactly(row * step_mm[1])
                called = {like: next(given, "") or fresh_id(taken, like) for like in each}
                layers_made += [carry_layer(_rename(layer, called), Motion((0.0, 0.0), by)) for layer in layers]
    return layers_made


def _rename(layer: Layer, called: Mapping[str, str]) -> Layer:
    """A copy with another id; what lies in a group too."""
    fresh = layer.copy_with(id=called[layer.id])
    if isinstance(fresh, Group):
        return fresh.copy_with(layers=tuple(_rename(inner, called) for inner in fresh.layers))
    if isinstance(fresh, Echo):
        return fresh.copy_with(of=called.get(fresh.of, fresh.of))
    return fresh


def split(opening: Opening, columns: int, rows: int, gap_mm: tuple[float, float], taken: set[str]) -> list[Opening]:
    """A flat rectangle's opening parted into columns and rows. The first part keeps its id, and with it its photo."""
    outline, surface = opening.outline, opening.surface
    if not isinstance(outline, Rectangle) or not isinstance(surface, Flat) or surface.is_distorted:
        raise EditRefused("Only a rectangle that lies flat can be split.", "Make it a rectangle first.")
    if not 1 < columns * rows <= MOST:
        raise EditRefused("An opening is split into 2 parts or more.", "Say how many columns and rows.")
    width = (outline.width_mm - (columns - 1) * gap_mm[0]) / columns
    height = (outline.height_mm - (rows - 1) * gap_mm[1]) / rows
    if min(width, height) < 1.0:
        raise EditRefused("The parts would be smaller than 1 mm.", "Split it into fewer parts, or leave smaller gaps.")
    part = outline.copy_with(
        width_mm=round_exactly(width), height_mm=round_exactly(height), radius_mm=outline.radius_mm
    )
    openings = list[Opening]()
    onto = surface.page_from_opening(outline)
    for row in range(rows):
        for column in range(columns):
            x = (column - (columns - 1) / 2) * (width + gap_mm[0])
            y = (row - (rows - 1) / 2) * (height + gap_mm[1])
            ((px, py),) = onto.apply([(x, y)]).tolist()
            identity = fresh_id(taken, opening.id) if row or column else opening.id
            lies = surface.copy_with(centre=(round_exactly(px), round_exactly(py)))
            openings.append(
                opening.copy_with(id=identity, outline=part, surface=lies, name=opening.name if not openings else "")
            )
    return openings


def merge_openings(openings: Sequence[Opening], taken: set[str]) -> Opening:
    """One opening over the box about several, framed as the first of them. It is a new one: their photos are not its own."""
    if len(openings) < 2:
        raise EditRefused("One opening is made of two or more.", "Select the openings it is to lie over.")
    box, first = layers_box(openings), openings[0]
    width, height = round_exactly(box.right - box.left), round_exactly(box.bottom - box.top)
    radius = first.outline.radius_mm if isinstance(first.outline, Rectangle) else 0.0
    outline = Rectangle(width_mm=width, height_mm=height, radius_mm=radius)
    centre = round_exactly((box.left + box.right) / 2), round_exactly((box.top + box.bottom) / 2)
    return first.copy_with(
        id=fresh_id(taken, first.id), name="", outline=outline, surface=Flat(centre=centre), accepts="any"
    )


def make_group(layers: Sequence[Layer], name: str, taken: set[str]) -> Group:
    """A group of layers, in the order given."""
    return Group(id=fresh_id(taken, "group"), name=name, layers=tuple(layers))


def dissolve_group(group: Group) -> tuple[Layer, ...]:
    """What lay in a group, hidden and locked as the group was."""
    return tuple(
        layer.copy_with(
            visible=layer.visible and group.visible,
            place_locked=layer.place_locked or group.place_locked,
            content_locked=layer.content_locked or group.content_locked,
        )
        for layer in group.layers
    )

"""Themes on sheets: grounds, frames, drawings, swatches and styles of a theme, in place of those of another."""

from ..arranging.moving import round_exactly
from ..document import Background, Decoration, Flat, Group, Layer, Layout, Opening, Ornament, Sheet, Theme
from ..document.shapes import Rectangle
from ..geometry import outlines

GROUND, DRAWN = "ground", "theme-"  # what a theme lays is known by these ids
_OFF_EDGE = 0.5  # mm: an opening that reaches so far over the trim runs out to the bleed


def dress_layout(layout: Layout, theme: Theme, turn: int, role: str) -> Layout:
    """A layout dressed in a theme. ``turn``: which sheet of the book it is; grounds and drawings are taken in turn.

    Photos stay where they are, and what nobody but the theme has laid there is replaced. Words that have a style of the theme's
    take its new look.
    """
    ground = theme.cover if role == "cover" else theme.grounds[turn % len(theme.grounds)]
    ground = ground.copy_with(id=GROUND, name=ground.name or "Ground")
    drawn = _draw(theme, layout, turn, role)
    framed = _redress_layers(layout.layers, layout, theme)
    kept_styles = {name: style for name, style in layout.styles.items() if name not in theme.styles}
    swatches = {name: colour for name, colour in layout.swatches.items() if name not in theme.swatches}
    return layout.copy_with(
        layers=(ground, *drawn, *framed),
        swatches={**swatches, **theme.swatches},
        styles={**kept_styles, **theme.styles},
    )


def redraw_decorations(layout: Layout, theme: Theme, turn: int, role: str) -> Layout:
    """A layout with the theme's drawings drawn for its size; those that a hand has taken away or moved stay so."""
    drawn = {layer.id: layer for layer in _draw(theme, layout, turn, role)}
    layers = tuple(drawn[layer.id] if layer.id in drawn and _lies_as_drawn(layer) else layer for layer in layout.layers)
    return layout.copy_with(layers=layers)


def _draw(theme: Theme, layout: Layout, turn: int, role: str) -> tuple[Ornament, ...]:
    return tuple(
        layer for n, decoration in enumerate(theme.decorations) if _is_due(decoration, turn, role)
        for layer in _drawings(decoration, layout, role, n)
    )  # fmt: skip


def _lies_as_drawn(layer: Layer) -> bool:
    return isinstance(layer, Ornament) and layer.place_locked and not layer.turn_deg


def dress_sheets(sheets: tuple[Sheet, ...], theme: Theme) -> tuple[Sheet, ...]:
    """All sheets of a book dressed in a theme."""
    return tuple(
        sheet.copy_with(layout=dress_layout(sheet.layout, theme, turn, sheet.role)) for turn, sheet in enumerate(sheets)
    )


def replace_ground(layout: Layout, ground: Background) -> Layout:
    """A layout with another ground under all that lies on it."""
    ground = ground.copy_with(id=GROUND)
    if GROUND in layout.ids():
        return layout.copy_with(layers=_replace_ground_layer(layout.layers, ground))
    others = tuple(layer for layer in layout.layers if not isinstance(layer, Background))
    return layout.copy_with(layers=(ground, *others))


def _redress_layers(layers: tuple[Layer, ...], layout: Layout, theme: Theme) -> tuple[Layer, ...]:
    """Layers without what an earlier theme laid among them, openings in the theme's frame; groups too, and none left empty."""
    dressed: list[Layer] = []
    for layer in layers:
        if layer.id == GROUND or layer.id.startswith(DRAWN):
            continue
        if isinstance(layer, Group):
            inner = _redress_layers(layer.layers, layout, theme)
            if inner or not layer.layers:
                dressed.append(layer.copy_with(layers=inner))
        else:
            dressed.append(_frame_opening(layer, layout, theme) if isinstance(layer, Opening) else layer)
    return tuple(dressed)


def _replace_ground_layer(layers: tuple[Layer, ...], ground: Background) -> tuple[Layer, ...]:
    return tuple(
        ground if layer.id == GROUND
        else layer.copy_with(layers=_replace_ground_layer(layer.layers, ground)) if isinstance(layer, Group)
        else layer
        for layer in layers
    )  # fmt: skip


def _is_due(decoration: Decoration, turn: int, role: str) -> bool:
    return (
        decoration.cover
        if role == "cover"
        else turn >= decoration.first and (turn - decoration.first) % decoration.every == 0
    )


def _frame_opening(opening: Opening, layout: Layout, theme: Theme) -> Layer:
    """An opening in a theme's frame; one that runs out to the bleed without any."""
    corners = [opening.page_from_opening.apply(polygon) for polygon in opening.outline.polygons()]
    left, top, right, bottom = outlines.bounds(corners)
    out = min(left, top, layout.width_mm - right, layout.height_mm - bottom) < -_OFF_EDGE
    frame = theme.frame
    outline = opening.outline
    if isinstance(outline, Rectangle) and isinstance(opening.surface, Flat):
        most = min(outline.width_mm, outline.height_mm) / 2
        outline = outline.copy_with(radius_mm=0.0 if out else min(frame.corner_mm, most))
    return opening.copy_with(
        outline=outline, border=None if out else frame.border, mat=None if out else frame.mat,
        shadow=None if out else frame.shadow,
    )  # fmt: skip


def _drawings(decoration: Decoration, layout: Layout, role: str, number: int) -> list[Ornament]:
    """A theme's drawing in the margins of a sheet's pages, mirrored on the right one."""
    safe = layout.safe_mm
    if role == "cover":
        spine = sorted(line.at_mm for line in layout.lines if line.kind == "spine")
        pages = [(spine[-1] if spine else layout.width_mm / 2, layout.width_mm, False)]
    elif role == "spread":
        middle = layout.width_mm / 2
        pages = [(0.0, middle, False), (middle, layout.width_mm, True)]
    else:
        pages = [(0.0, layout.width_mm, True)]
    drawings = []
    for n, (left, right, mirrored) in enumerate(pages):
        width = decoration.share * (right - left)
        height = width / decoration.ratio
        outer = right - safe - width / 2 if mirrored else left + safe + width / 2
        inner = left + safe + width / 2 if mirrored else right - safe - width / 2
        x = {"head": (left + right) / 2, "foot": (left + right) / 2, "inner_foot": inner}.get(decoration.where, outer)
        y = safe + height / 2 if "head" in decoration.where else layout.height_mm - safe - height / 2
        drawings.append(
            Ornament(
                id=f"{DRAWN}{number}-{n}",
                name="",
                asset=decoration.asset,
                traced=decoration.traced,
                colour=decoration.colour,
                opacity=decoration.opacity,
                centre=(round_exactly(x), round_exactly(y)),
                width_mm=round_exactly(width),
                height_mm=round_exactly(height),
                mirrored=mirrored and decoration.where.startswith(("outer", "inner")),
                place_locked=True,
            )
        )
    return drawings

"""Each kind of layer as patches: pixels with coverage, ready to be laid on the page."""

from dataclasses import replace
from functools import singledispatch

import cv2
import numpy as np

from ..colour.profiles import Bytes, colour_in, convert_layout
from ..document import (
    Background,
    Echo,
    FillBox,
    GuideNote,
    Leaf,
    Opening,
    Ornament,
    Overlay,
    PagePicture,
    Shadow,
    Text,
)
from ..document.lettering import WordShadow
from ..geometry import outlines
from ..geometry.matrices import Points, apply, scaling, translation
from ..measure import MM_PER_INCH, mm_from_points
from ..words import set_note, set_text, set_words
from .echoes import echo_extent, echo_patches
from .framing import close_coverage
from .grid import Box, PixelGrid, meet
from .grounds import backdrop, ground, picture_seen
from .items import Item, Means, Patch, box_about, fade_coverage, outline_px, paint_coverage, px_from_layer
from .openings import opening_extent, opening_patches
from .sampling import sample_picture
from .shadows import shadow_patches
from .source_points import find_source_points
from .stacking import merge_patches
from .svg import drawing
from .vectors import coverage, transform_path

MOST_PAGE_PX = 24_000_000  # of a page that is painted within another


def extent(item: Item, grid: PixelGrid) -> Box | None:
    """The box that an item can change, cut to the page; None when it lies off it."""
    layer = item.layer
    if isinstance(layer, Background):
        return grid.box
    if isinstance(layer, Opening):
        return meet(opening_extent(layer, item, grid), grid.box)
    if isinstance(layer, Echo):
        return meet(echo_extent(layer, item, grid), grid.box)
    if isinstance(layer, FillBox | PagePicture):
        return meet(box_about(outline_px(layer, grid)), grid.box)
    corners = outlines.rectangle(layer.width_mm, layer.height_mm)
    polygons = transform_path(corners, grid.px_from_page @ layer.page_from_box, grid.px_per_mm)
    if isinstance(layer, Ornament | Overlay):
        return meet(box_about(polygons), grid.box)
    words = [polygon for _, letters in _words(item, grid) for polygon in letters]
    return meet(box_about([*polygons, *words], _reach(layer, grid)), grid.box)


def _words(item: Item, grid: PixelGrid) -> list[tuple[str, list[Points]]]:
    """Letters in page px, by colour."""
    layer = item.layer
    if isinstance(layer, Text):
        setting = set_text(layer, item.words, item.runs, item.brought)
    elif isinstance(layer, GuideNote):
        setting = set_note(layer)
    else:
        return []
    onto = grid.px_from_page @ layer.page_from_box
    return [(colour, transform_path(path, onto, grid.px_per_mm)) for colour, path in setting.pieces]


def _reach(layer: Leaf, grid: PixelGrid) -> float:
    """How far a line round words and their shadow reach beyond them, px."""
    if not isinstance(layer, Text):
        return 0.0
    line = layer.line.width_mm if layer.line else 0.0
    shade = 1.5 * layer.shadow.blur_mm + layer.shadow.distance_mm if layer.shadow else 0.0
    return (line + shade) * grid.px_per_mm + 1 if line or shade else 0.0


@singledispatch
def _patches(layer: object, item: Item, grid: PixelGrid, cell: Box, means: Means) -> list[Patch]:
    raise TypeError(f"no painter for {type(layer).__name__}")


def patches(item: Item, grid: PixelGrid, cell: Box, means: Means) -> list[Patch]:
    """An item's patches within a cell, bottom to top. Raises PhotoRefused when a photo's file is damaged."""
    layer = item.layer
    made_patches = _patches(layer, item, grid, cell, means)
    return [
        replace(
            p, alpha=fade_coverage(p.alpha, layer.opacity, p.box), blend=layer.blend if p.blend == "normal" else p.blend
        )
        for p in made_patches
    ]


@_patches.register
def _background(layer: Background, item: Item, grid: PixelGrid, cell: Box, means: Means) -> list[Patch]:
    if layer.asset:
        return [Patch(cell, backdrop(item.asset, layer.shift, grid, cell, item.space), None)]
    return [Patch(cell, ground(layer, grid.whole, cell, grid, item.space), None)]


@_patches.register
def _fill(layer: FillBox, item: Item, grid: PixelGrid, cell: Box, means: Means) -> list[Patch]:
    polygons = outline_px(layer, grid)
    box = meet(box_about(polygons), cell)
    if box is None:
        return []
    alpha = close_coverage(paint_coverage(layer, polygons, box), box, item.over, grid)
    return [Patch(box, ground(layer, box_about(polygons), box, grid, item.space), alpha)]


@_patches.register
def _page(layer: PagePicture, item: Item, grid: PixelGrid, cell: Box, means: Means) -> list[Patch]:
    polygons = outline_px(layer, grid)
    whole = meet(box_about(polygons), grid.box)
    box = meet(whole or (0, 0, 0, 0), cell)
    if whole is None or box is None:
        return []
    wide, high = item.page_mm
    onto = px_from_layer(layer, grid).after(
        scaling(layer.outline.width_mm / wide, layer.outline.height_mm / high) @ translation(-wide / 2, -high / 2)
    )
    density = min(
        find_source_points(onto, whole).stretch[0], (MOST_PAGE_PX / (wide * high)) ** 0.5
    )  # px of it for a mm of the page
    page_grid = PixelGrid(item.page_mm, 0.0, max(1.0, density * MM_PER_INCH), depth=grid.depth)
    key = (item.page, page_grid)
    picture = means.frames.get(key)
    if picture is None:
        picture = means.page(item.page, page_grid)
        means.frames.put(key, picture)
    seen = sample_picture(picture, onto.after(scaling(wide / page_grid.size[0], high / page_grid.size[1])), box, whole)
    return [Patch(box, seen, paint_coverage(layer, polygons, box))]


@_patches.register
def _opening(layer: Opening, item: Item, grid: PixelGrid, cell: Box, means: Means) -> list[Patch]:
    return _number(layer, item.number, grid, cell) if item.number else opening_patches(layer, item, grid, cell, means)


@_patches.register
def _echo(layer: Echo, item: Item, grid: PixelGrid, cell: Box, means: Means) -> list[Patch]:
    return echo_patches(layer, item, grid, cell, means)


@_patches.register
def _text(layer: Text, item: Item, grid: PixelGrid, cell: Box, means: Means) -> list[Patch]:
    letters = _words(item, grid)
    body = [polygon for _, polygons in letters for polygon in polygons]
    if not body:
        return []
    patches_made: list[Patch] = []
    if layer.line:
        path = outlines.thicken_path(set_text(layer, item.words, item.runs, item.brought).path, layer.line.width_mm)
        body = transform_path(path, grid.px_from_page @ layer.page_from_box, grid.px_per_mm)
    if layer.shadow:
        cast = Shadow(**{name: getattr(layer.shadow, name) for name in WordShadow.model_fields})
        patches_made += shadow_patches(cast, item.light_deg, item.space, body, np.empty((0, 2)), grid, cell)
    if item.shadow_only:
        return patches_made
    if layer.line:
        patches_made += _fill_polygons(body, colour_in(layer.line.colour, item.space), cell)
    for colour, polygons in letters:
        patches_made += _fill_polygons(polygons, colour_in(colour, item.space), cell)
    # What fades, or blends, does so as one: no line shows through the letters that it runs round.
    as_one = len(patches_made) > 1 and (layer.opacity < 1.0 or layer.blend != "normal")
    return [merge_patches(patches_made)] if as_one else patches_made


def _fill_polygons(polygons: list[Points], colour: Bytes, cell: Box) -> list[Patch]:
    box = meet(box_about(polygons), cell) if polygons else None
    return [Patch(box, colour, coverage(polygons, box))] if box else []


@_patches.register
def _note(layer: GuideNote, item: Item, grid: PixelGrid, cell: Box, means: Means) -> list[Patch]:
    panel = transform_path(
        outlines.rectangle(layer.width_mm, layer.height_mm, 1.5),
        grid.px_from_page @ layer.page_from_box,
        grid.px_per_mm,
    )
    box = meet(box_about(panel), cell)
    if box is None:
        return []
    letters = [polygon for _, polygons in _words(item, grid) for polygon in polygons]
    words = _fill_polygons(letters, np.array((40, 40, 40), np.uint8), cell)
    return [Patch(box, np.array((240, 240, 240), np.uint8), fade_coverage(coverage(panel, box), 0.85, box)), *words]


@_patches.register
def _ornament(layer: Ornament, item: Item, grid: PixelGrid, cell: Box, means: Means) -> list[Patch]:
    box = meet(extent(item, grid) or (0, 0, 0, 0), cell)
    if box is None:
        return []
    px_from_box = grid.px_from_page @ layer.page_from_box
    rgba = drawing(item.asset, layer.colour, px_from_box, layer.width_mm, layer.height_mm, box)
    return [
        Patch(box, convert_layout(np.ascontiguousarray(rgba[..., :3]), item.space), np.ascontiguousarray(rgba[..., 3]))
    ]


@_patches.register
def _overlay(layer: Overlay, item: Item, grid: PixelGrid, cell: Box, means: Means) -> list[Patch]:
    whole = extent(item, grid)
    box = meet(whole or (0, 0, 0, 0), cell)
    if box is None:
        return []
    px_from_box = grid.px_from_page @ layer.page_from_box
    rgb, seen = picture_seen(item.asset, layer.width_mm, layer.height_mm, px_from_box, box, whole)
    edge = transform_path(outlines.rectangle(layer.width_mm, layer.height_mm), px_from_box, grid.px_per_mm)
    alpha = cv2.multiply(seen, coverage(edge, box), scale=1 / 255).astype(np.uint8, copy=False)
    return [Patch(box, convert_layout(rgb, item.space), np.ascontiguousarray(alpha))]


def _number(layer: Opening, number: int, grid: PixelGrid, cell: Box) -> list[Patch]:
    """The opening's number on a disc near its top."""
    box_mm = outlines.bounds(list(layer.outline.polygons()))
    radius = min(5.0, max(2.2, 0.09 * min(box_mm[2] - box_mm[0], box_mm[3] - box_mm[1])))
    place = apply(grid.px_from_page, layer.page_from_opening.apply([(0.0, box_mm[1] + 1.6 * radius)]))[0]
    k = grid.px_per_mm
    disc = [p * k + place for p in outlines.flatten(outlines.ellipse(2 * radius, 2 * radius), 0.02 / k)]
    setting = set_words(str(number), "Lato Bold", radius / mm_from_points(1) * 1.15, 1.0, "centre", "middle", 99, 99)
    words = [p * k + place for p in outlines.flatten(setting.path, 0.02 / k)]
    box = meet(box_about(disc), cell)
    if box is None:
        return []
    dark, light = np.array((32, 32, 32), np.uint8), np.array((250, 250, 250), np.uint8)
    return [Patch(box, dark, fade_coverage(coverage(disc, box), 0.78, box)), *_fill_polygons(words, light, cell)]

"""Patches on one another: joined into one, or cut to what the topmost leaves to be seen."""

from dataclasses import replace

import numpy as np

from ..depths import match_depth, white
from .blending import composite
from .grid import Box, join, meet, slices_within
from .items import Patch


def merge_patches(patches: list[Patch]) -> Patch:
    """Patches laid on one another, as one."""
    box = patches[0].box
    for patch in patches[1:]:
        box = join(box, patch.box) or box
    shape = box[3] - box[1], box[2] - box[0]
    deepest = max((patch.colour for patch in patches), key=white)
    colour, alpha = np.zeros((*shape, 3), deepest.dtype), np.zeros(shape, np.uint8)
    for patch in patches:
        part = slices_within(patch.box, box)
        cover = patch.alpha if patch.alpha is not None else np.full(alpha[part].shape, 255, np.uint8)
        composite(colour[part], alpha[part], match_depth(patch.colour, colour), cover)
    return Patch(box, colour, alpha)


def cut_to_visible(patches: list[Patch]) -> list[Patch]:
    """Patches cut to what the opaque middle of the topmost leaves to be seen, and that middle, which is laid by copying."""
    if not patches or (core := _opaque_core(patches[-1])) is None:
        return patches
    around = [cut_patch(patch, box) for patch in patches for box in _boxes_around(patch.box, core)]
    middle = replace(cut_patch(patches[-1], core), alpha=None)
    return [*(part for part in around if part.alpha is None or part.alpha.any()), middle]


def _opaque_core(patch: Patch) -> Box | None:
    """A box in the middle of a patch that is wholly opaque: all but its edges, or somewhat less where those are not upright."""
    if patch.alpha is None:
        return patch.box
    middle = patch.alpha.shape[0] // 2, patch.alpha.shape[1] // 2
    rows, columns = np.flatnonzero(patch.alpha[:, middle[1]] == 255), np.flatnonzero(patch.alpha[middle[0]] == 255)
    if not (len(rows) and len(columns)):
        return None
    top, bottom, left, right = rows[0], rows[-1] + 1, columns[0], columns[-1] + 1
    for inset in (0.0, 0.03, 0.06, 0.1, 0.15, 0.2):
        dx, dy = round(inset * (right - left)), round(inset * (bottom - top))
        if (patch.alpha[top + dy : bottom - dy, left + dx : right - dx] == 255).all():
            x0, y0 = patch.box[:2]
            return x0 + int(left) + dx, y0 + int(top) + dy, x0 + int(right) - dx, y0 + int(bottom) - dy
    return None


def _boxes_around(box: Box, core: Box) -> list[Box]:
    """The up to four boxes that a box is made of, but for a core."""
    x0, y0, x1, y1 = box
    inner = meet(box, core)
    if inner is None:
        return [box]
    left, top, right, bottom = inner
    strips = [(x0, y0, x1, top), (x0, bottom, x1, y1), (x0, top, left, bottom), (right, top, x1, bottom)]
    return [strip for strip in strips if meet(strip, box)]


def cut_patch(patch: Patch, box: Box) -> Patch:
    """What of a patch lies in a box within its own."""
    part = slices_within(box, patch.box)
    colour = patch.colour if patch.colour.ndim == 1 else patch.colour[part]
    return replace(patch, box=box, colour=colour, alpha=None if patch.alpha is None else patch.alpha[part])

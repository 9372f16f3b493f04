"""Paths to pixels: coverage masks, by librsvg through pyvips.

Curves are flattened first (librsvg's own flattening is coarser); only the box that is asked for is rendered.
Coordinates are page px: the page's pixel grid, its origin at the top left of the bleed box.
"""

import numpy as np
import pyvips
from numpy.typing import NDArray

from ..depths import Bytes
from ..geometry.matrices import Matrix, Points, apply
from ..geometry.outlines import flatten
from .grid import Box


def transform_path(path_data: str, px_from_path: Matrix, scale: float) -> list[Points]:
    """Polygons of a path in px, flattened to 0.02 px at ``scale`` px per path unit."""
    return [apply(px_from_path, polygon) for polygon in flatten(path_data, 0.02 / scale)]


def _path(polygons: list[Points], x: float, y: float) -> str:
    return "".join("M" + " ".join(f"{px:.3f},{py:.3f}" for px, py in (p - (x, y)).tolist()) + "Z" for p in polygons)


def _alpha(body: str, width: int, height: int) -> Bytes:
    svg = f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}" height="{height}">{body}</svg>'
    alpha = pyvips.Image.svgload_buffer(svg.encode(), unlimited=True)[3]
    return np.ascontiguousarray(alpha.numpy()).reshape(height, width)  # a single pixel comes as a bare number


def coverage(polygons: list[Points], box: Box) -> Bytes:
    """Share of each pixel of ``box`` (x0, y0, x1, y1) that the polygons cover, 0 to 255, non-zero winding."""
    x0, y0, x1, y1 = box
    return _alpha(f'<path d="{_path(polygons, x0, y0)}"/>', x1 - x0, y1 - y0)


def rectangle_coverage(left: float, top: float, right: float, bottom: float, box: Box) -> Bytes:
    """Exact coverage of an upright rectangle: the outer product of its coverage along x and along y."""
    x0, y0, x1, y1 = box

    def edge_coverage(low: float, high: float, start: int, end: int) -> NDArray[np.float32]:
        places = np.arange(start, end, dtype=np.float64)
        return np.clip(np.minimum(places + 1, high) - np.maximum(places, low), 0.0, 1.0).astype(np.float32)

    down, across = edge_coverage(top, bottom, y0, y1), edge_coverage(left, right, x0, x1)
    mask = np.empty((y1 - y0, x1 - x0), np.uint8)
    whole = np.rint(across * 255).astype(np.uint8)
    mask[:] = whole
    for row in np.flatnonzero(down < 1):
        mask[row] = np.rint(across * down[row] * 255)
    return mask

"""Transforms as SVG writes them (SVG 1.1, 7.6)."""

import math
import re

import numpy as np

from .matrices import Matrix, scaling, translation

_NUMBER = re.compile(r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?")


def numbers(text: str) -> list[float]:
    """All numbers in a text."""
    return [float(figure) for figure in _NUMBER.findall(text)]


def matrix_of(text: str) -> Matrix:
    """The map that a ``transform`` attribute says; what is no transform counts as none.

    >>> matrix_of("translate(3 4) scale(2)").tolist()
    [[2.0, 0.0, 3.0], [0.0, 2.0, 4.0], [0.0, 0.0, 1.0]]
    """
    matrix = np.eye(3)
    for kind, inner in re.findall(r"(\w+)\s*\(([^)]*)\)", text):
        v = numbers(inner)
        if kind == "matrix" and len(v) == 6:
            matrix = matrix @ np.array([[v[0], v[2], v[4]], [v[1], v[3], v[5]], [0, 0, 1]])
        elif kind == "translate" and v:
            matrix = matrix @ translation(v[0], v[1] if len(v) > 1 else 0.0)
        elif kind == "scale" and v:
            matrix = matrix @ scaling(v[0], v[1] if len(v) > 1 else v[0])
        elif kind == "rotate" and v:
            x, y = (v[1], v[2]) if len(v) == 3 else (0.0, 0.0)
            c, s = math.cos(math.radians(v[0])), math.sin(math.radians(v[0]))
            matrix = matrix @ translation(x, y) @ np.array([[c, -s, 0], [s, c, 0], [0, 0, 1]]) @ translation(-x, -y)
        elif kind in ("skewX", "skewY") and v:
            skew = np.eye(3)
            skew[(0, 1) if kind == "skewX" else (1, 0)] = math.tan(math.radians(v[0]))
            matrix = matrix @ skew
    return matrix

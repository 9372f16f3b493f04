"""A cylinder seen from afar: what a photo on a mug or a bottle looks like.

The plane is wrapped round an upright cylinder of radius r, its middle facing the viewer: ``theta = x / r``; that point
stands at ``(r sin theta, y, r cos theta)``. The cylinder's axis is then tilted by phi, its top towards the viewer when
phi is positive (so one looks down on it), and seen in parallel projection:
``X = r sin theta``, ``Y = y cos phi + r (cos theta - 1) sin phi`` (y down). The middle of the plane stays where it was.
"""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from ..errors import GeometryError
from .maps import Map
from .matrices import Points

MOST_DEG = 85.0  # beyond this the surface is seen edge on


def check_width(width: float, radius: float) -> None:
    """Raises GeometryError when a plane of this width would reach round to the back."""
    if math.degrees(width / 2 / radius) > MOST_DEG:
        least = width / 2 / math.radians(MOST_DEG)
        raise GeometryError(
            "This opening reaches round to the back of its cylinder.", f"Give it a radius of at least {least:.1f} mm."
        )


@dataclass(frozen=True)
class Cylinder(Map):
    """The map above, lengths in one unit, ``tilt_deg`` between -80 and 80."""

    radius: float
    tilt_deg: float

    def _terms(self) -> tuple[float, float]:
        return math.cos(math.radians(self.tilt_deg)), math.sin(math.radians(self.tilt_deg))

    def apply(self, points: ArrayLike) -> Points:
        p = np.asarray(points, dtype=np.float64)
        c, s = self._terms()
        theta = p[..., 0] / self.radius
        return np.stack([self.radius * np.sin(theta), p[..., 1] * c + self.radius * (np.cos(theta) - 1) * s], axis=-1)

    def jacobians(self, points: ArrayLike) -> NDArray[np.float64]:
        p = np.asarray(points, dtype=np.float64)
        c, s = self._terms()
        theta = p[..., 0] / self.radius
        nothing = np.zeros_like(theta)
        rows = [[np.cos(theta), nothing], [-np.sin(theta) * s, nothing + c]]
        return np.stack([np.stack(row, axis=-1) for row in rows], axis=-2)

    def inverse(self, points: ArrayLike) -> Points:
        """Closed form; beyond the widest angle the tangent there goes on."""
        p = np.asarray(points, dtype=np.float64)
        c, s = self._terms()
        most = math.radians(MOST_DEG)
        edge = self.radius * math.sin(most)
        theta = np.arcsin(np.clip(p[..., 0], -edge, edge) / self.radius)
        x = self.radius * theta + (p[..., 0] - np.clip(p[..., 0], -edge, edge)) / math.cos(most)
        return np.stack([x, (p[..., 1] - self.radius * (np.cos(theta) - 1) * s) / c], axis=-1)

"""What a camera that was turned, and a lens that bends lines, made of what was before them; and the way back.

Points are photo px about the photo's middle. A camera that turns about its lens changes its picture by a homography
(R. Hartley and A. Zisserman, Multiple View Geometry, 2nd ed., section 8.4: K R K^-1); a lens bends by the division model
(A. Fitzgibbon, "Simultaneous linear estimation of multiple view geometry and lens distortion", CVPR 2001, equation 3).
"""

import math

import numpy as np
from numpy.typing import ArrayLike, NDArray

from .maps import Map
from .matrices import Matrix, Points


def camera_turn(focal_px: float, pitch_deg: float, yaw_deg: float, roll_deg: float) -> Matrix:
    """Where points of a picture come to lie when the camera is turned: down by its pitch, to the left by its yaw, and by its
    roll, so that what is seen turns counter-clockwise."""
    pitch, yaw, roll = (math.radians(v) for v in (pitch_deg, yaw_deg, roll_deg))
    about_x = np.array([[1, 0, 0], [0, math.cos(pitch), -math.sin(pitch)], [0, math.sin(pitch), math.cos(pitch)]])
    about_y = np.array([[math.cos(yaw), 0, math.sin(yaw)], [0, 1, 0], [-math.sin(yaw), 0, math.cos(yaw)]])
    about_z = np.array([[math.cos(roll), math.sin(roll), 0], [-math.sin(roll), math.cos(roll), 0], [0, 0, 1]])
    lens = np.diag([focal_px, focal_px, 1.0])
    return lens @ about_z @ about_y @ about_x @ np.linalg.inv(lens)


class Unbent(Map):
    """From a picture whose lines a lens bent to straight ones: ``r / (1 + k r^2)`` along each ray, r in ``unit_px``.

    A negative ``k`` takes out a barrel, a positive one a cushion; at least -0.9 and at most 0.24, so that all of the picture
    as far as r = 1 has one way back.
    """

    def __init__(self, k: float, unit_px: float) -> None:
        self.k, self.unit = k, unit_px

    def apply(self, points: ArrayLike) -> Points:
        p = np.asarray(points, np.float64) / self.unit
        return p / (1 + self.k * (p**2).sum(axis=-1, keepdims=True)) * self.unit

    def jacobians(self, points: ArrayLike) -> NDArray[np.float64]:
        p = np.asarray(points, np.float64) / self.unit
        shrunk = 1 / (1 + self.k * (p**2).sum(axis=-1))
        outer = p[..., :, None] * p[..., None, :]
        return np.asarray(shrunk[..., None, None] * np.eye(2) - 2 * self.k * (shrunk**2)[..., None, None] * outer)

    def inverse(self, points: ArrayLike) -> Points:
        q = np.asarray(points, np.float64) / self.unit
        square = (q**2).sum(axis=-1, keepdims=True)
        # The nearer root of k s r^2 - r + s = 0; beyond what has one, as far as there is.
        under = np.maximum(1 - 4 * self.k * square, 0.0)
        return q * 2 / (1 + np.sqrt(under)) * self.unit

"""Shapes as arrays: vertices (N, 3) in metres, faces (M, 3), texture coordinates (N, 2)."""

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Height = Callable[[Floats, Floats], Floats]  # z of x and y


@dataclass(frozen=True)
class Mesh:
    """A triangle mesh."""

    points: Floats
    faces: NDArray[np.int64]
    uv: Floats

    def moved(
        self, offset: tuple[float, float, float], turn_deg: tuple[float, float, float] = (0, 0, 0), scale: float = 1.0
    ) -> "Mesh":
        """Scaled, turned about x, y and z in this order, then shifted."""
        x, y, z = np.radians(turn_deg)
        about_x = np.array([[1, 0, 0], [0, np.cos(x), -np.sin(x)], [0, np.sin(x), np.cos(x)]])
        about_y = np.array([[np.cos(y), 0, np.sin(y)], [0, 1, 0], [-np.sin(y), 0, np.cos(y)]])
        about_z = np.array([[np.cos(z), -np.sin(z), 0], [np.sin(z), np.cos(z), 0], [0, 0, 1]])
        return Mesh(self.points * scale @ (about_z @ about_y @ about_x).T + offset, self.faces, self.uv)


def write_ply(mesh: Mesh, path: Path) -> None:
    """Writes a mesh as binary PLY."""
    head = (
        f"ply\nformat binary_little_endian 1.0\nelement vertex {len(mesh.points)}\n"
        "property float x\nproperty float y\nproperty float z\nproperty float u\nproperty float v\n"
        f"element face {len(mesh.faces)}\nproperty list uchar int vertex_indices\nend_header\n"
    )
    faces = np.zeros(len(mesh.faces), [("n", "u1"), ("i", "<i4", 3)])
    faces["n"], faces["i"] = 3, mesh.faces
    path.write_bytes(head.encode() + np.hstack([mesh.points, mesh.uv]).astype("<f4").tobytes() + faces.tobytes())


def sheet(x: Floats, y: Floats, z: Floats) -> Mesh:
    """A surface over a grid of points: three arrays of one shape."""
    rows, columns = x.shape
    n = np.arange(rows * columns).reshape(rows, columns)
    a, b, c, d = n[:-1, :-1].ravel(), n[:-1, 1:].ravel(), n[1:, 1:].ravel(), n[1:, :-1].ravel()
    v, u = np.meshgrid(np.linspace(0, 1, rows), np.linspace(0, 1, columns), indexing="ij")
    faces = np.concatenate([np.stack([a, b, c], 1), np.stack([a, c, d], 1)])
    return Mesh(np.stack([x.ravel(), y.ravel(), z.ravel()], 1), faces, np.stack([u.ravel(), v.ravel()], 1))


def ground(x_m: tuple[float, float], y_m: tuple[float, float], count: tuple[int, int], height: Height) -> Mesh:
    """A height field, denser towards the camera."""
    far = np.linspace(0, 1, count[1]) ** 2.2
    y, x = np.meshgrid(y_m[0] + far * (y_m[1] - y_m[0]), np.linspace(*x_m, count[0]), indexing="ij")
    if x_m[0] == -x_m[1]:  # as wide as what is seen
        x = x * (0.05 + (y - y_m[0] + 3) / (y_m[1] - y_m[0] + 3))
    return sheet(x, y, height(x, y))


def lathe(profile: list[tuple[float, float]], steps: int = 48) -> Mesh:
    """A profile of (radius, height) turned about z."""
    r, z = np.array(profile).T
    turn = np.linspace(0, 2 * np.pi, steps + 1)
    return sheet(r[:, None] * np.cos(turn), r[:, None] * np.sin(turn), z[:, None] * np.ones_like(turn))


def panel(corners: list[tuple[float, float]], billow_m: float = 0.0, steps: int = 12) -> Mesh:
    """A sail between four corners in the plane of x and z, blown out along y; of a triangle when two corners are one."""
    v, u = np.meshgrid(np.linspace(0, 1, steps), np.linspace(0, 1, steps), indexing="ij")
    c = np.array(corners)[:, None, None, :]
    spot = (1 - u[..., None]) * (1 - v[..., None]) * c[0] + u[..., None] * (1 - v[..., None]) * c[1] + u[..., None] * v[..., None] * c[2] \
        + (1 - u[..., None]) * v[..., None] * c[3]  # fmt: skip
    sail = sheet(spot[..., 0], billow_m * 16 * u * (1 - u) * v * (1 - v), spot[..., 1])
    a, b, d = (sail.points[sail.faces[:, n]] for n in range(3))
    flat = np.linalg.norm(np.cross(b - a, d - a), axis=1) < 1e-9
    return Mesh(sail.points, sail.faces[~flat], sail.uv)


def tube(path: Floats, radius: float, steps: int = 10) -> Mesh:
    """A round tube along points."""
    along = np.gradient(path, axis=0)
    along /= np.linalg.norm(along, axis=1, keepdims=True)
    side = np.cross(along, (0.13, 0.31, 0.94))
    side /= np.linalg.norm(side, axis=1, keepdims=True)
    up = np.cross(along, side)
    turn = np.linspace(0, 2 * np.pi, steps + 1)
    ring = path[:, None] + radius * (np.cos(turn)[:, None] * side[:, None] + np.sin(turn)[:, None] * up[:, None])
    return sheet(ring[..., 0], ring[..., 1], ring[..., 2])


def block(x: float, y: float, z: float) -> Mesh:
    """A box of these sides about its middle."""
    spots = np.array([[i, j, k] for i in (-0.5, 0.5) for j in (-0.5, 0.5) for k in (-0.5, 0.5)]) * (x, y, z)
    quads = ((0, 1, 3, 2), (4, 6, 7, 5), (0, 4, 5, 1), (2, 3, 7, 6), (0, 2, 6, 4), (1, 5, 7, 3))
    points = np.concatenate([spots[list(q)] for q in quads])
    faces = np.array([[4 * n + a, 4 * n + b, 4 * n + c] for n in range(6) for a, b, c in ((0, 1, 2), (0, 2, 3))])
    return Mesh(points, faces, np.tile([[0.0, 0.0], [1.0, 0.0], [1.0, 1.0], [0.0, 1.0]], (6, 1)))


def ribbon(path: Floats, wide_m: float) -> Mesh:
    """A band along points, twisting as it goes."""
    turn = np.linspace(0, 7, len(path))
    across = np.stack([np.cos(turn), 0.5 * np.sin(turn), 0.4 * np.sin(1.7 * turn)], 1) * wide_m / 2
    both = np.stack([path - across, path + across], 1)
    return sheet(both[..., 0], both[..., 1], both[..., 2])


def noise(x: Floats, y: Floats, seed: int, octaves: int = 5) -> Floats:
    """Smooth noise of several scales, about -1 to 1, at any points: sums of value noise."""
    total, weight = np.zeros_like(x), 0.0
    for octave in range(octaves):
        f, share = 2.0**octave, 0.5**octave
        total, weight = total + share * _value_noise(x * f, y * f, seed + 31 * octave), weight + share
    return total / weight * 1.6


def _value_noise(x: Floats, y: Floats, seed: int) -> Floats:
    def corner(i: NDArray[np.int64], j: NDArray[np.int64]) -> Floats:
        h = (i * 374761393 + j * 668265263 + seed * 974634541) & 0xFFFFFFFF
        h = ((h ^ (h >> 13)) * 1274126177) & 0xFFFFFFFF
        return ((h ^ (h >> 16)) & 0xFFFF) / 32767.5 - 1

    i, j = np.floor(x).astype(np.int64), np.floor(y).astype(np.int64)
    u, v = x - i, y - j
    u, v = u * u * (3 - 2 * u), v * v * (3 - 2 * v)
    low = corner(i, j) * (1 - u) + corner(i + 1, j) * u
    high = corner(i, j + 1) * (1 - u) + corner(i + 1, j + 1) * u
    return low * (1 - v) + high * v

"""A photograph of a scene: paths traced by Mitsuba 3, denoised by Intel Open Image Denoise, laid over a sky, developed."""

import tempfile
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import mitsuba as mi
import numpy as np
import pyoidn
from numpy.typing import NDArray

from .meshes import Floats, Mesh, noise, write_ply

mi.set_variant("scalar_rgb")
Rgb = tuple[float, float, float]
SIZE = (1600, 1067)


def rgb(colour: str) -> Rgb:
    """Linear light of a colour like #d4302a (IEC 61966-2-1)."""
    encoded = np.array([int(colour[n : n + 2], 16) / 255 for n in (1, 3, 5)])
    linear = np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4)
    return tuple(float(v) for v in linear)  # type: ignore[return-value]


def matt(colour: str) -> dict[str, Any]:
    return {"type": "twosided", "inner": {"type": "diffuse", "reflectance": {"type": "rgb", "value": rgb(colour)}}}


def painted(image: Floats, roughness: float = 0.7, specular: float = 0.3) -> dict[str, Any]:
    """A surface with a picture on it: linear light, (rows, columns, 3)."""
    bitmap = mi.Bitmap(image.astype(np.float32))
    return {
        "type": "twosided",
        "inner": {
            "type": "principled", "roughness": roughness, "specular": specular,
            "base_color": {"type": "bitmap", "bitmap": bitmap, "raw": True},
        },
    }  # fmt: skip


def glossy(colour: str, roughness: float = 0.35) -> dict[str, Any]:
    return {"type": "twosided", "inner": {"type": "principled", "roughness": roughness, "specular": 0.5,
                                          "base_color": {"type": "rgb", "value": rgb(colour)}}}  # fmt: skip


def cloth(colour: str, lets_through: float = 1.1) -> dict[str, Any]:
    """Thin cloth that light shines through: ``lets_through`` 0 to 2."""
    return {"type": "principledthin", "roughness": 0.6, "spec_trans": 0.0, "diff_trans": lets_through,
            "base_color": {"type": "rgb", "value": rgb(colour)}}  # fmt: skip


@dataclass
class Sky:
    """What is seen where nothing stands: colours of zenith and horizon, clouds, a glow about the sun."""

    zenith: Rgb = (0.075, 0.165, 0.40)
    horizon: Rgb = (0.50, 0.60, 0.70)
    cloud: Rgb = (0.95, 0.95, 0.96)
    cover: float = 0.5
    seed: int = 1
    glow: Rgb = (0.0, 0.0, 0.0)
    sun: tuple[float, float, float] = (0.3, 0.8, 0.4)
    stars: float = 0.0

    def look(self, d: Floats) -> Floats:
        """Light from directions (..., 3)."""
        up = np.clip(d[..., 2], 0.0, 1.0)
        share = np.clip(up * 1.9, 0, 1)[..., None] ** 0.55
        light = np.array(self.horizon) * (1 - share) + np.array(self.zenith) * share
        near = np.clip(d @ (np.array(self.sun) / np.linalg.norm(self.sun)), 0, 1)[..., None]
        light = light + np.array(self.glow) * (near**6 + 4 * near**160)
        if self.cover > 0:
            x, y = d[..., 0] / (up + 0.09), d[..., 1] / (up + 0.09)
            thick = noise(x * 0.9 + 7 * self.seed, y * 0.9, self.seed, 7) + 0.9 * noise(
                x * 0.3, y * 0.3 + self.seed, self.seed + 9, 3
            )
            veil = np.clip((thick + self.cover - 0.62) * 1.6, 0, 1)[..., None] ** 1.2
            shade = np.clip(1.06 - 0.34 * np.clip(thick - 0.2, 0, 1), 0.6, 1.1)[..., None]
            veil = veil * np.clip(up * 12, 0, 1)[..., None] * 0.94
            light = light * (1 - veil) + np.array(self.cloud) * shade * veil
        if self.stars:
            spots = np.random.default_rng(self.seed).random(d.shape[:2]) > 0.9994
            light = light + (self.stars * spots)[..., None]
        return light


@dataclass
class Scene:
    """What is photographed, by which camera, in which light."""

    eye: tuple[float, float, float] = (0.0, 0.0, 1.6)
    target: tuple[float, float, float] = (0.0, 10.0, 1.6)
    fov_deg: float = 42.0
    focus_m: float = 10.0
    aperture_m: float = 0.004
    portrait: bool = False
    square: bool = False
    sky: Sky | None = field(default_factory=Sky)
    sun: tuple[float, float, float] = (0.45, -0.55, 0.6)
    sunlight: Rgb = (3.2, 2.95, 2.6)
    skylight: Rgb = (0.42, 0.55, 0.80)
    exposure: float = 0.72
    samples: int = 16
    shapes: list[tuple[Mesh, dict[str, Any]]] = field(default_factory=list)
    lamps: list[dict[str, Any]] = field(default_factory=list)
    curves: list[tuple[Floats, dict[str, Any]]] = field(default_factory=list)

    def add(self, mesh: Mesh, surface: dict[str, Any]) -> None:
        self.shapes.append((mesh, surface))

    def size(self, scale: float) -> tuple[int, int]:
        long, short = (round(v * scale) for v in SIZE)
        return (short + (long - short) // 4,) * 2 if self.square else (short, long) if self.portrait else (long, short)

    def photograph(self, seed: int, scale: float = 1.0) -> NDArray[np.uint8]:
        """The developed picture, 8 bits of sRGB."""
        w, h = self.size(scale)
        with tempfile.TemporaryDirectory() as folder:
            light, cover, albedo, normals = self._trace(Path(folder), w, h, seed)
        light = _denoise(light, albedo, normals)
        if self.sky is not None:
            light = light + self.sky.look(self._directions(w, h)) * (1 - cover)
        return _develop(light * self.exposure, seed)

    def _trace(self, folder: Path, w: int, h: int, seed: int) -> tuple[Floats, Floats, Floats, Floats]:
        world: dict[str, Any] = {
            "type": "scene",
            "integrator": {"type": "aov", "aovs": "al:albedo,sn:sh_normal", "img": {"type": "path", "max_depth": 5 if self.skylight == (0, 0, 0) else 9, "hide_emitters": self.skylight != (0, 0, 0) and self.sky is not None}},
            "camera": {
                "type": "thinlens", "fov": self.fov_deg, "fov_axis": "larger", "aperture_radius": self.aperture_m, "focus_distance": self.focus_m,
                "to_world": mi.ScalarTransform4f().look_at(self.eye, self.target, [0, 0, 1]),
                "film": {"type": "hdrfilm", "width": w, "height": h, "pixel_format": "rgba", "rfilter": {"type": "gaussian"}},
                "sampler": {"type": "independent", "sample_count": self.samples},
            },
        }  # fmt: skip
        if self.skylight != (0, 0, 0):
            world["skylight"] = {"type": "constant", "radiance": {"type": "rgb", "value": self.skylight}}
        if self.sunlight != (0, 0, 0):
            world["sun"] = {
                "type": "directional",
                "direction": [-v for v in self.sun],
                "irradiance": {"type": "rgb", "value": self.sunlight},
            }
        for n, lamp in enumerate(self.lamps):
            world[f"lamp{n}"] = lamp
        for n, (mesh, surface) in enumerate(self.shapes):
            path = folder / f"{n}.ply"
            write_ply(mesh, path)
            emitter = surface.get("emitter")
            world[f"shape{n}"] = {
                "type": "ply",
                "filename": str(path),
                **({"emitter": emitter} if emitter else {"bsdf": surface}),
            }
        for n, (strands, surface) in enumerate(self.curves):
            path = folder / f"{n}.txt"
            path.write_text(
                "\n\n".join("\n".join(" ".join(f"{v:.5f}" for v in p) for p in strand) for strand in strands)
            )
            world[f"curves{n}"] = {"type": "bsplinecurve", "filename": str(path), "bsdf": surface}
        image = _mend(np.array(mi.render(mi.load_dict(world), seed=seed), np.float64))
        return image[..., :3], image[..., 3:4], image[..., 4:7], image[..., 7:10]

    def _directions(self, w: int, h: int) -> Floats:
        forward = np.subtract(self.target, self.eye)
        forward /= np.linalg.norm(forward)
        right = np.cross(forward, (0, 0, 1))
        right /= np.linalg.norm(right)
        up, k = np.cross(right, forward), np.tan(np.radians(self.fov_deg) / 2) / (max(w, h) / 2)
        y, x = np.mgrid[0:h, 0:w] + 0.5
        d = forward + ((x - w / 2) * k)[..., None] * right - ((y - h / 2) * k)[..., None] * up
        return np.asarray(d / np.linalg.norm(d, axis=-1, keepdims=True))


def _mend(image: Floats) -> Floats:
    """Pixels that came to nothing (a division by zero in a surface) are the mean of those around them."""
    bad = ~np.isfinite(image).all(-1)
    for _ in range(4):
        known = np.pad(~bad, 1).astype(float)
        values = np.pad(np.where(bad[..., None], 0.0, image), ((1, 1), (1, 1), (0, 0)))
        h, w = bad.shape
        near = [(i, j) for i in range(3) for j in range(3)]
        count = sum(known[i : i + h, j : j + w] for i, j in near)
        total = sum(values[i : i + h, j : j + w] for i, j in near)
        filled = bad & (count > 0)
        image = np.where(filled[..., None], total / np.maximum(count, 1)[..., None], image)
        bad = bad & ~filled
    return np.nan_to_num(image)


def _denoise(light: Floats, albedo: Floats, normals: Floats) -> Floats:
    color, plain, facing = (np.ascontiguousarray(part, np.float32) for part in (light, albedo, normals))
    return np.asarray(pyoidn.denoise(color, plain, facing, hdr=True), np.float64)


def _develop(light: Floats, seed: int) -> NDArray[np.uint8]:
    """Vignetting, a film's curve (Narkowicz 2015, from memory), grain, the encoding of sRGB."""
    h, w = light.shape[:2]
    y, x = np.mgrid[-1 : 1 : h * 1j, -1 : 1 : w * 1j]
    light = np.clip(light, 0, None) * (1 - 0.11 * (x * x + y * y))[..., None]
    grey = light.mean(-1, keepdims=True)
    light = np.clip(grey + (light - grey) * 1.12, 0, None)
    film = np.clip(light * (2.51 * light + 0.03) / (light * (2.43 * light + 0.59) + 0.14), 0, 1)
    encoded = np.where(film <= 0.0031308, film * 12.92, 1.055 * film ** (1 / 2.4) - 0.055)
    grain = np.random.default_rng(seed).normal(0, 0.008, (h, w, 1))
    return np.rint(np.clip(encoded + grain, 0, 1) * 255).astype(np.uint8)

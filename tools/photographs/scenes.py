"""The day at Skerry Sands, photograph by photograph."""

from collections.abc import Callable

import numpy as np

from .camera import Scene, Sky, glossy, matt, painted, rgb
from .meshes import Floats, ground, lathe, noise, sheet, tube
from .things import (
    CLOTHS,
    add_beach,
    add_bunting,
    add_cloth,
    add_deck,
    add_grass,
    add_kite,
    add_lantern,
    add_person,
    add_post,
    add_spool,
    wood,
)

MORNING = Sky(zenith=(0.07, 0.17, 0.43), horizon=(0.55, 0.66, 0.76), cover=0.55, seed=3)
FAIR = Sky(zenith=(0.055, 0.15, 0.42), horizon=(0.48, 0.60, 0.74), cover=0.42, seed=8)
EVENING = Sky(
    zenith=(0.10, 0.13, 0.26),
    horizon=(0.95, 0.52, 0.24),
    cloud=(1.0, 0.55, 0.36),
    cover=0.5,
    seed=5,
    glow=(0.9, 0.42, 0.12),
    sun=(0.12, 1.0, 0.06),
)


def beach() -> Scene:
    """Kites over the beach, people small below."""
    scene = Scene(eye=(0, -2, 1.65), target=(0, 20, 4.9), fov_deg=56, focus_m=22, aperture_m=0.002, sky=MORNING)
    add_beach(scene, 26, seed=2)
    rng = np.random.default_rng(4)
    for n, (x, y, z, kind, size) in enumerate(((-6, 17, 8.6, "diamond", 2.6), (3.6, 16, 10.4, "delta", 2.9), (8.4, 20, 6.6, "rokkaku", 2.4), (-1.6, 24, 6.2, "diamond", 2.0),
                                               (-11, 26, 10.5, "rokkaku", 2.2), (12.5, 27, 11.0, "diamond", 2.1), (5.4, 30, 6.3, "delta", 2.0))):  # fmt: skip
        walker = (x * 0.75 + rng.uniform(-1, 1), y - rng.uniform(2, 5), 0.25)
        add_kite(
            scene,
            kind,
            (x, y, z),
            size,
            (24, rng.uniform(-18, 18), rng.uniform(-20, 20)),
            tuple(np.roll(CLOTHS, n)[:4]),
            (walker[0] + 0.2, walker[1] + 0.2, 1.75),
            seed=n,
        )
        add_person(
            scene,
            walker,
            CLOTHS[(n * 3 + 1) % 8],
            ("#2c3440", "#4a4037", "#1f2a33")[n % 3],
            rng.uniform(1.2, 1.85),
            "up",
            rng.uniform(-30, 30),
        )
    return scene


def kite() -> Scene:
    """One kite, close, the sun through its cloth."""
    scene = Scene(
        portrait=True,
        eye=(0, -4.2, 0.5),
        target=(0, 0, 2.15),
        fov_deg=40,
        focus_m=4.5,
        aperture_m=0.01,
        sky=FAIR,
        sun=(0.35, 0.75, 0.62),
        sunlight=(4.6, 4.3, 3.8),
    )
    add_kite(
        scene,
        "diamond",
        (0.05, 0, 2.55),
        1.7,
        (-16, 12, 8),
        ("#f2b11d", "#d8372b", "#d8372b", "#f2b11d"),
        (1.6, -4.0, -0.4),
        tail=2,
        seed=3,
    )
    add_kite(
        scene,
        "diamond",
        (-2.0, 7, 2.2),
        1.3,
        (-10, -14, 10),
        ("#1f6fae", "#f4f1e8", "#f4f1e8", "#1f6fae"),
        (0.5, -2, -1.5),
        seed=5,
    )
    add_kite(
        scene,
        "rokkaku",
        (2.1, 9, 5.0),
        1.4,
        (-10, 8, -12),
        ("#1d8a6b", "#f4f1e8", "#1d8a6b", "#ef7d1a"),
        (0.9, -2, -1.5),
        seed=7,
    )
    return scene


def _dune(x: Floats, y: Floats) -> Floats:
    ridge = 2.6 * np.exp(-(((y - 15 - 2.5 * np.sin(x * 0.12)) / 5.5) ** 2)) + 3.8 * np.exp(
        -(((y - 34 + 3 * np.sin(x * 0.07 + 1)) / 8) ** 2)
    )
    ripples = (
        0.014 * np.sin(y * 22 + 3 * noise(x * 0.6, y * 0.6, 3, 3) + x * 2)
        + 0.22 * noise(x * 0.2, y * 0.2, 6, 3)
        + 0.012 * noise(x * 4, y * 4, 8, 3)
    )
    return ridge + ripples - 0.1


def dunes() -> Scene:
    """Grass in the wind on the dunes, one kite far off."""
    scene = Scene(
        eye=(0, -3, 1.5),
        target=(0.6, 14, 2.2),
        fov_deg=52,
        focus_m=8,
        aperture_m=0.004,
        sky=FAIR,
        sun=(-0.75, 0.15, 0.42),
        sunlight=(3.6, 3.15, 2.5),
    )
    field = ground((-46, 46), (-2.5, 60), (800, 1000), _dune)
    v, u = np.mgrid[0:1:1000j, 0:1:800j]
    speck = noise(u * 260, v * 400, 5, 3)[..., None]
    scene.add(field, painted(np.clip(np.array(rgb("#dcc294")) * (1 + 0.12 * speck), 0, 1), 0.9, 0.1))
    add_grass(scene, 5200, (-4.5, 0.6), (1.5, 8.5), _dune, 2, 0.75)
    add_grass(scene, 3600, (2.2, 7), (4, 12), _dune, 3, 0.7)
    add_grass(scene, 5200, (-11, 12), (9, 19), _dune, 4, 0.75)
    add_kite(
        scene,
        "diamond",
        (5.2, 26, 10.5),
        2.6,
        (20, 12, -12),
        ("#d8372b", "#f4f1e8", "#f4f1e8", "#d8372b"),
        (3.2, 17, 2.6),
        seed=4,
    )
    return scene


def lanterns() -> Scene:
    """Lanterns rising over the water at night."""
    sky = Sky(
        zenith=(0.006, 0.010, 0.028),
        horizon=(0.045, 0.048, 0.085),
        cover=0.0,
        stars=0.5,
        seed=4,
        glow=(0.005, 0.004, 0.006),
        sun=(0.1, 1, 0.0),
    )
    scene = Scene(
        eye=(0, -2, 1.45),
        target=(0, 14, 2.1),
        fov_deg=50,
        focus_m=8,
        aperture_m=0.03,
        sky=sky,
        sun=(0.2, -0.6, 0.7),
        sunlight=(0.018, 0.024, 0.05),
        skylight=(0, 0, 0),
        exposure=1.25,
        samples=24,
    )
    add_beach(scene, 13, seed=7, calm=0.35, sea="#0c2a3a")
    for n, (x, y, z, size) in enumerate(((-1.5, 5.2, 1.75, 0.5), (1.2, 7.0, 2.5, 0.52), (2.9, 9.5, 1.75, 0.5), (-3.6, 9, 2.75, 0.52), (-0.4, 11, 3.6, 0.5), (4.4, 11.5, 3.0, 0.5),
                                         (-5.4, 12, 3.6, 0.5), (0.9, 17, 4.4, 0.6), (-2.8, 19, 5.2, 0.6), (6.5, 20, 4.9, 0.6), (3.2, 24, 6.8, 0.7), (-8, 22, 6.4, 0.7),
                                         (-0.6, 30, 5.4, 0.7), (5.2, 34, 8.6, 0.8), (-6, 36, 9.6, 0.8), (10, 38, 8, 0.8))):  # fmt: skip
        add_lantern(scene, (x, y, z), size, ((3.6, 1.25, 0.28), (3.6, 1.7, 0.5), (3.2, 0.8, 0.25))[n % 3])
    return scene


def workshop() -> Scene:
    """A sailmaker's table: cloth, spars, spools."""
    scene = Scene(
        square=True,
        eye=(0.02, -0.62, 0.92),
        target=(0, 0.06, 0.0),
        fov_deg=44,
        focus_m=1.06,
        aperture_m=0.006,
        sky=None,
        sun=(-0.7, 0.35, 0.62),
        sunlight=(3.0, 2.7, 2.2),
        skylight=(0.42, 0.46, 0.52),
        exposure=0.68,
    )
    x, y = np.meshgrid(np.linspace(-1.2, 1.2, 2), np.linspace(-0.9, 1.2, 2))
    scene.add(sheet(x, y, x * 0), painted(wood(3, 7, "#9a7247", (1200, 1000)), 0.45, 0.4))
    add_cloth(scene, [(-0.46, -0.10), (-0.02, -0.22), (0.10, 0.16), (-0.36, 0.30)], 0.004, "#1f6fae", 2, "#f4f1e8")
    add_cloth(scene, [(0.02, -0.06), (0.40, -0.14), (0.50, 0.20), (0.12, 0.30)], 0.010, "#f2b11d", 5)
    add_cloth(scene, [(-0.14, 0.18), (0.24, 0.12), (0.30, 0.44), (-0.10, 0.50)], 0.030, "#d8372b", 8)
    for n, (a, b) in enumerate(
        (((-0.50, 0.06), (0.14, -0.30)), ((-0.34, -0.30), (0.36, 0.02)), ((0.30, 0.46), (0.52, -0.16)))
    ):
        scene.add(
            tube(np.array([(*a, 0.045), (*b, 0.045)]), 0.006, 16), glossy(("#d9b682", "#2b2622", "#cfa76f")[n], 0.4)
        )
    for place, turn, colour in (((0.30, -0.26, 0.041), (0, 0, 20), "#d8372b"), ((0.40, -0.17, 0.041), (0, 0, 0), "#f4f1e8"), ((-0.36, -0.22, 0.047), (90, 0, 35), "#1d8a6b"),
                                ((-0.22, 0.40, 0.041), (0, 0, 0), "#ef7d1a"), ((-0.34, 0.46, 0.041), (0, 0, 0), "#17405c")):  # fmt: skip
        add_spool(scene, place, turn, colour)
    loose = np.array(
        [
            (0.30 + 0.10 * np.sin(t * 1.4) - 0.06 * t, -0.30 + 0.05 * np.cos(2.2 * t) - 0.012 * t, 0.012)
            for t in np.linspace(0, 7, 160)
        ]
    )
    scene.add(tube(loose, 0.0022, 8), matt("#d8372b"))
    return scene


def detail() -> Scene:
    """A knot on a post, the sea behind it soft."""
    scene = Scene(
        eye=(0.1, -0.95, 0.30),
        target=(0, 0, 0.16),
        fov_deg=36,
        focus_m=0.86,
        aperture_m=0.035,
        sky=MORNING,
        sun=(-0.6, -0.5, 0.5),
        sunlight=(3.4, 3.0, 2.4),
    )
    add_post(scene, 0.0, 0.0, 0.16, -1.2, 0.36, 4)
    turns = np.linspace(0, 2 * np.pi * 5, 900)
    for strand in range(3):
        wound = 0.172 + 0.008 * np.cos(turns * 21 + strand * 2.094)
        path = np.stack(
            [
                wound * np.cos(turns),
                wound * np.sin(turns),
                0.02 + turns / (2 * np.pi) * 0.040 + 0.008 * np.sin(turns * 21 + strand * 2.094),
            ],
            1,
        )
        scene.add(tube(path, 0.0095, 10), matt("#d9c7a0"))
    t = np.linspace(0, 1, 300)
    for strand in range(3):
        hang = np.stack(
            [
                0.172 - 0.02 * t + 0.10 * t**2 + 0.008 * np.cos(t * 66 + strand * 2.094),
                -0.10 - 0.16 * t + 0.008 * np.sin(t * 66 + strand * 2.094),
                0.22 - 0.5 * t**1.5,
            ],
            1,
        )
        scene.add(tube(hang, 0.0095, 10), matt("#d9c7a0"))
    low = Scene()
    add_beach(low, 9, seed=5)
    for mesh, surface in low.shapes:
        scene.add(mesh.moved((0, 3.0, -1.35)), surface)
    return scene


def pier() -> Scene:
    """The pier at dusk, low sun."""
    scene = Scene(
        eye=(-1.6, -3, 2.9),
        target=(0.5, 18, 2.2),
        fov_deg=50,
        focus_m=14,
        aperture_m=0.003,
        sky=EVENING,
        sun=(0.14, 1.0, 0.13),
        sunlight=(3.4, 1.6, 0.55),
        skylight=(0.34, 0.27, 0.33),
        exposure=0.75,
    )
    add_beach(scene, 4, seed=9, calm=0.55, sea="#1d4450", tide="#b49a74")
    add_deck(scene, (0.4, 2.6), (-2, 42), 1.55, 3)
    for n, y in enumerate(np.arange(-1, 42, 3.2)):
        for side, x in enumerate((0.45, 2.55)):
            add_post(scene, x, float(y), 0.13, -1.5, 2.55 if n % 2 == 0 else 1.6, 10 * n + side)
    for x in (0.45, 2.55):
        scene.add(tube(np.array([(x, y, 2.45) for y in np.linspace(-1, 41, 20)]), 0.035), matt("#5a4a3a"))
    add_person(scene, (1.2, 14.0, 1.58), "#7a2c2a", "#242a33", 1.75, "down", 8)
    add_person(scene, (1.75, 14.1, 1.58), "#d9a53a", "#3b3a40", 1.22, "one", -6)
    add_kite(
        scene, "delta", (6.2, 30, 8.6), 2.4, (18, 12, -10), ("#d8372b", "#f2b11d", "#d8372b"), (1.95, 14.4, 2.9), seed=2
    )
    return scene


def bunting() -> Scene:
    """Pennants on their lines above the stalls, light through them."""
    scene = Scene(
        eye=(0, -3.4, 1.5),
        target=(0.4, 3, 3.3),
        fov_deg=50,
        focus_m=5.5,
        aperture_m=0.016,
        sky=FAIR,
        sun=(0.5, 0.6, 0.7),
        sunlight=(4.2, 3.9, 3.4),
    )
    add_bunting(scene, (-3.6, 1.2, 3.9), (3.8, 2.6, 4.2), 0.75, 13, 0.42, 1)
    add_bunting(scene, (-4.5, 4.0, 3.6), (4.5, 3.4, 5.0), 0.8, 17, 0.42, 2)
    add_bunting(scene, (-5.5, 7.5, 5.4), (6.5, 7.0, 4.6), 0.9, 22, 0.42, 3)
    scene.add(tube(np.array([(3.9, 2.6, -1.0), (3.8, 2.6, 4.3)]), 0.06, 16), glossy("#e9e4d8", 0.6))
    scene.add(
        lathe([(0.0, 0.12), (0.09, 0.06), (0.1, 0.0), (0.06, -0.08)]).moved((3.8, 2.6, 4.35)), glossy("#c8932f", 0.25)
    )
    return scene


def launch() -> Scene:
    """Two people and their kites before the evening sky."""
    scene = Scene(
        portrait=True,
        eye=(0.2, -6.5, 1.35),
        target=(0.0, 6, 3.3),
        fov_deg=44,
        focus_m=9,
        aperture_m=0.004,
        sky=EVENING,
        sun=(0.12, 1.0, 0.10),
        sunlight=(3.0, 1.4, 0.5),
        skylight=(0.20, 0.17, 0.22),
        exposure=0.8,
    )
    add_beach(scene, 15, seed=11, sea="#23505c", tide="#b89c78")
    add_person(scene, (-0.75, 2.2, 0.2), "#1d2a3a", "#24262b", 1.78, "up", 14)
    add_person(scene, (0.85, 2.9, 0.2), "#5a211e", "#1f242c", 1.16, "up", -14)
    add_kite(
        scene,
        "diamond",
        (0.9, 7.5, 7.6),
        2.5,
        (14, -10, 8),
        ("#d8372b", "#f2b11d", "#f2b11d", "#d8372b"),
        (-0.5, 2.5, 1.95),
        seed=6,
    )
    add_kite(
        scene, "delta", (-3.0, 13, 7.0), 2.3, (16, 12, 12), ("#17405c", "#ef7d1a", "#17405c"), (0.75, 3.1, 1.3), seed=8
    )
    return scene


def tails() -> Scene:
    """Nothing but tails and lines in the wind."""
    scene = Scene(
        portrait=True,
        eye=(0, -3.0, 0.0),
        target=(0.1, 0, 0.9),
        fov_deg=42,
        focus_m=3.2,
        aperture_m=0.022,
        sky=FAIR,
        sun=(-0.4, 0.7, 0.6),
        sunlight=(4.4, 4.1, 3.6),
    )
    for n, (x, y, z, size) in enumerate(
        ((-0.35, 0.2, 1.75, 1.0), (0.45, 0.9, 2.3, 1.1), (-0.9, 2.6, 2.9, 1.2), (1.3, 3.4, 2.4, 1.2))
    ):
        add_kite(
            scene,
            "rokkaku" if n % 2 else "diamond",
            (x, y, z),
            size,
            (-8, 14 * (-1) ** n, 12),
            tuple(np.roll(CLOTHS, 3 * n)[:4]),
            (0.2, -3, -1.2),
            tail=4,
            seed=20 + n,
        )
    return scene


def shore() -> Scene:
    """The long beach at low tide, empty but for two."""
    scene = Scene(
        eye=(0, -3, 2.6),
        target=(2.5, 20, 1.9),
        fov_deg=58,
        focus_m=18,
        aperture_m=0.002,
        sky=MORNING,
        sun=(0.7, 0.4, 0.35),
        sunlight=(3.4, 2.9, 2.2),
        exposure=0.7,
    )
    add_beach(scene, 15, seed=17, calm=1.2)
    add_person(scene, (4.6, 13.5, 0.15), "#d8a23a", "#3a4552", 1.7, "down", 70)
    add_person(scene, (5.3, 13.8, 0.15), "#27566b", "#2f2d2c", 1.2, "down", 80)
    return scene


def glow() -> Scene:
    """One lantern set down on the sand."""
    sky = Sky(zenith=(0.010, 0.016, 0.045), horizon=(0.075, 0.065, 0.10), cover=0.0, stars=0.4, seed=6)
    scene = Scene(
        square=True,
        eye=(0.1, -2.3, 0.62),
        target=(0.05, 0, 0.36),
        fov_deg=44,
        focus_m=2.3,
        aperture_m=0.03,
        sky=sky,
        sun=(0.2, -0.6, 0.7),
        sunlight=(0.03, 0.04, 0.08),
        skylight=(0, 0, 0),
        exposure=1.15,
        samples=24,
    )
    add_beach(scene, 11, seed=21, calm=0.4, sea="#0c2a3a")
    add_lantern(scene, (0, 0, 0.42), 0.62, (2.6, 1.0, 0.26))
    for x, y, z in ((-1.6, 4, 1.4), (1.4, 5, 1.9), (2.6, 7, 1.5), (-2.8, 8, 2.4), (0.4, 9, 2.6)):
        add_lantern(scene, (x, y, z), 0.5, (3.2, 1.3, 0.35))
    return scene


def row() -> Scene:
    """Kites laid out on the sand before the first flight."""
    scene = Scene(
        eye=(-0.6, -2.0, 1.35),
        target=(0.5, 4.2, 0.25),
        fov_deg=50,
        focus_m=4.2,
        aperture_m=0.012,
        sky=MORNING,
        sun=(-0.7, 0.3, 0.45),
        sunlight=(3.5, 3.0, 2.4),
    )
    add_beach(scene, 30, seed=13)
    for n in range(7):
        kind = ("rokkaku", "diamond", "delta")[n % 3]
        add_kite(
            scene,
            kind,
            (-0.9 + 0.75 * n + 0.03 * n * n, 2.6 + 1.5 * n, 0.62),
            1.25,
            (-28, 4 * (-1) ** n, 18),
            tuple(np.roll(CLOTHS, 2 * n)[:4]),
            tail=0,
            seed=n,
        )
    return scene


SCENES: dict[str, Callable[[], Scene]] = {
    "beach": beach, "kite": kite, "dunes": dunes, "lanterns": lanterns, "workshop": workshop, "detail": detail, "pier": pier,
    "bunting": bunting, "launch": launch, "row": row, "tails": tails, "shore": shore, "glow": glow,
}  # fmt: skip

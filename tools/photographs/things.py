"""Things of the day: kites, sand, sea, grass, lanterns, bunting, the pier; each adds itself to a scene."""

import mitsuba as mi
import numpy as np

from .camera import Scene, cloth, glossy, matt, painted, rgb
from .meshes import Floats, Mesh, block, ground, lathe, noise, panel, ribbon, sheet, tube

SAND, WET, WOOD = "#d8bf94", "#8f7a58", "#8a6a48"
CLOTHS = ("#d8372b", "#f2b11d", "#1f6fae", "#f4f1e8", "#1d8a6b", "#7d2f77", "#ef7d1a", "#17405c")


def _curve(start: tuple[float, ...], end: tuple[float, ...], sag: float, steps: int = 40) -> Floats:
    t = np.linspace(0, 1, steps)[:, None]
    path = np.array(start) * (1 - t) + np.array(end) * t
    path[:, 2] -= (4 * sag * t * (1 - t))[:, 0]
    return path


def add_kite(scene: Scene, kind: str, place: tuple[float, float, float], size: float, turn: tuple[float, float, float], colours: tuple[str, ...],
             hand: tuple[float, float, float] | None = None, tail: int = 2, seed: int = 1) -> None:  # fmt: skip
    """A kite of cloth on spars, its tails, and the line to a hand."""
    rng = np.random.default_rng(seed)
    a, b, c, d = (colours * 4)[:4]
    if kind == "diamond":
        top, left, right, low, middle = (0, 0.55), (-0.42, 0.15), (0.42, 0.15), (0, -0.62), (0, 0.15)
        sails = [
            ((top, middle, left, left), a),
            ((top, right, middle, middle), b),
            ((left, middle, low, low), c),
            ((middle, right, low, low), d),
        ]
        spars = [((0, 0.57), (0, -0.63)), ((-0.43, 0.15), (0.43, 0.15))]
        ends = [(0.0, -0.62)]
    elif kind == "rokkaku":
        x, y = 0.4, 0.32
        sails = [(((-x, y), (x, y), (0, 0.6), (0, 0.6)), a), (((-x, -y), (x, -y), (x, 0.0), (-x, 0.0)), c), (((-x, 0.0), (x, 0.0), (x, y), (-x, y)), b),
                 (((-x, -y), (x, -y), (0, -0.6), (0, -0.6)), a)]  # fmt: skip
        spars = [((0, 0.61), (0, -0.61)), ((-x, y), (x, y)), ((-x, -y), (x, -y))]
        ends = [(-0.2, -0.46), (0.2, -0.46)]
    else:
        sails = [(((0, 0.5), (-0.75, -0.25), (-0.1, -0.1), (-0.1, -0.1)), a), (((0, 0.5), (-0.1, -0.1), (0, -0.05), (0, -0.05)), b),
                 (((0, 0.5), (0.75, -0.25), (0.1, -0.1), (0.1, -0.1)), a), (((0, 0.5), (0.1, -0.1), (0, -0.05), (0, -0.05)), b)]  # fmt: skip
        spars = [
            ((0, 0.51), (0, -0.06)),
            ((0, 0.5), (-0.76, -0.26)),
            ((0, 0.5), (0.76, -0.26)),
            ((-0.3, 0.1), (0.3, 0.1)),
        ]
        ends = [(-0.3, -0.18), (0.3, -0.18)]

    def laid(mesh: Mesh) -> Mesh:
        return mesh.moved(place, turn, size)

    for corners, colour in sails:
        scene.add(laid(panel(list(corners), 0.045)), cloth(colour))
    for (x0, z0), (x1, z1) in spars:
        scene.add(laid(tube(_curve((x0, -0.012, z0), (x1, -0.012, z1), 0), 0.008)), matt("#2b241d"))
    for n, (x, z) in enumerate((ends * tail)[:tail]):
        t = np.linspace(0, 1, 60)
        sway = 0.22 * np.sin(5 * t + n * 1.7 + seed) * t
        path = np.stack(
            [
                x + sway + 0.25 * t * rng.uniform(-1, 1),
                0.3 * t * rng.uniform(0, 1) + 0.1 * np.cos(6 * t) * t,
                z - 1.5 * t,
            ],
            1,
        )
        scene.add(laid(ribbon(path, 0.07)), cloth((colours * 3)[n + 1]))
    if hand is not None:
        start = tuple(np.array(place) - (0, 0.05 * size, 0))
        scene.add(
            Mesh(
                *_line(
                    _curve(start, hand, 0.06 * float(np.linalg.norm(np.subtract(start, hand)))), 0.004 + size * 0.0012
                )
            ),
            matt("#efece4"),
        )


def _line(path: Floats, radius: float) -> tuple[Floats, np.ndarray, Floats]:
    mesh = tube(path, radius, 5)
    return mesh.points, mesh.faces, mesh.uv


def add_beach(
    scene: Scene,
    shore_m: float,
    far_m: float = 400.0,
    seed: int = 1,
    calm: float = 1.0,
    tide: str = SAND,
    sea: str = "#12606b",
) -> None:
    """Sand to the shore, wet towards it, and sea to the horizon with foam along the edge."""

    def sand(x: Floats, y: Floats) -> Floats:
        prints = 0.02 * noise(x * 2.6, y * 2.6, seed, 5) + 0.06 * noise(x * 0.25, y * 0.25, seed + 3, 2)
        return prints * np.clip((shore_m - y) / 6, 0.04, 1) + 0.012 * np.clip(shore_m - y, -4, 60)

    strip = ground((-60, 60), (-3, shore_m + 4), (900, 900), sand)
    v, u = np.mgrid[0:1:900j, 0:1:900j]
    y = -3 + v**2.2 * (shore_m + 7)
    speck = noise(u * 300 * (0.05 + (y + 6) / (shore_m + 10)), y * 9, seed + 5, 3)[..., None]
    wet = np.clip((y - shore_m + 5 + 1.2 * noise(u * 20, y * 0, seed + 6, 3)) / 3.0, 0, 1)[..., None]
    colour = (np.array(rgb(tide)) * (1 + 0.16 * speck)) * (1 - wet) + np.array(rgb(WET)) * wet
    scene.add(strip, painted(np.clip(colour, 0, 1), 0.85, 0.15))

    def swell(x: Floats, y: Floats) -> Floats:
        away = np.clip((y - shore_m) / 30, 0.05, 1)
        waves = 0.22 * np.sin(y * 0.55 + 0.9 * noise(x * 0.05, y * 0.05, seed, 2)) ** 3 + 0.10 * noise(
            x * 0.5, y * 1.1, seed + 7, 5
        )
        return calm * away * waves + 0.02

    water = ground((-260, 260), (shore_m - 0.5, far_m), (700, 1500), swell)
    v, u = np.mgrid[0:1:1500j, 0:1:700j]
    y = shore_m - 0.5 + v**2.2 * (far_m - shore_m + 0.5)
    x = (u - 0.5) * 520 * (0.05 + (y + 3) / far_m)

    def band(at_m: float, wide_m: float) -> Floats:
        wander = 0.8 * noise(x * 0.18, x * 0, seed + int(at_m), 3)
        return np.asarray(np.exp(-(((y - shore_m - at_m - wander) / wide_m) ** 2)))

    lace = 0.55 + 0.6 * noise(x * 1.5, y * 1.5, seed + 4, 4)
    foam = np.clip((band(0.4, 0.5) + 0.9 * band(4, 0.8) + 0.8 * band(10, 0.9) + 0.5 * band(19, 0.8)) * lace, 0, 1)[
        ..., None
    ]
    shallow = np.exp(-np.clip(y - shore_m, 0, None) / 14)[..., None]
    deep = np.array(rgb(sea)) * (1 - shallow) + np.array(rgb("#6fae9f")) * shallow
    scene.add(water, painted(deep * (1 - foam) + 0.92 * foam, 0.16, 0.5))


def add_grass(
    scene: Scene,
    count: int,
    x_m: tuple[float, float],
    y_m: tuple[float, float],
    height,
    seed: int = 1,
    tall: float = 0.55,
) -> None:  # type: ignore[no-untyped-def]
    """Blades in tufts on a height field, bent by the wind."""
    rng = np.random.default_rng(seed)
    for colour, share in (("#8d9a4e", 0.4), ("#b5a763", 0.35), ("#5f7a3e", 0.25)):
        n = int(count * share)
        tufts = np.stack([rng.uniform(*x_m, n // 14 + 1), rng.uniform(*y_m, n // 14 + 1)], 1)
        at = tufts[rng.integers(0, len(tufts), n)] + rng.normal(0, 0.07, (n, 2))
        z = height(at[:, 0], at[:, 1])
        long, lean = tall * rng.uniform(0.5, 1.2, n), rng.normal(0.55, 0.3, n)
        side = rng.normal(0, 0.25, n)
        strands = []
        for k in range(n):
            t = np.linspace(0, 1, 6)
            pts = np.stack(
                [
                    at[k, 0] + lean[k] * long[k] * t**2,
                    at[k, 1] + side[k] * long[k] * t**2,
                    z[k] + long[k] * (t - 0.3 * abs(lean[k]) * t**2),
                    0.0045 * (1 - t) + 0.0006,
                ],
                1,
            )
            strands.append(np.concatenate([pts[:1], pts, pts[-1:]]))
        scene.curves.append(
            (
                strands,
                {
                    "type": "twosided",
                    "inner": {"type": "diffuse", "reflectance": {"type": "rgb", "value": rgb(colour)}},
                },
            )
        )  # type: ignore[arg-type]


def add_lantern(
    scene: Scene, place: tuple[float, float, float], size: float, colour: tuple[float, float, float] = (9.0, 3.6, 0.9)
) -> None:
    """A paper lantern lit from within, brighter below."""
    profile = [(0.16, -0.5), (0.36, -0.42), (0.47, -0.2), (0.5, 0.05), (0.45, 0.28), (0.3, 0.46), (0.14, 0.52)]
    z = np.linspace(0, 1, 64)[:, None, None]
    ribs = 0.72 + 0.28 * np.abs(np.sin(z * 24))
    light = np.array(colour) * (0.35 + 1.1 * (1 - z) ** 1.4) * ribs * np.ones((1, 4, 1))
    paper = {"type": "area", "radiance": {"type": "bitmap", "bitmap": mi.Bitmap(light.astype(np.float32)), "raw": True}}
    scene.add(lathe(_smooth(profile)).moved(place, (0, 0, 0), size), {"emitter": paper})
    for z0, r in ((-0.5, 0.17), (0.52, 0.15)):
        scene.add(
            lathe([(r, z0 - 0.02), (r + 0.01, z0), (r, z0 + 0.02)]).moved(place, (0, 0, 0), size), matt("#1a120c")
        )


def _smooth(profile: list[tuple[float, float]]) -> list[tuple[float, float]]:
    r, z = np.array(profile).T
    t, fine = np.linspace(0, 1, len(r)), np.linspace(0, 1, 40)
    order = np.polyfit(t, r, 5), np.polyfit(t, z, 3)
    return [
        (float(max(0.02, a)), float(b))
        for a, b in zip(np.polyval(order[0], fine), np.polyval(order[1], fine), strict=True)
    ]


def wood(seed: int, planks: int = 5, tone: str = WOOD, size: tuple[int, int] = (700, 1000)) -> Floats:
    """Boards side by side: grain along x."""
    v, u = np.mgrid[0 : 1 : size[0] * 1j, 0 : 1 : size[1] * 1j]
    board = np.floor(v * planks)
    shift = np.sin(board * 12.9898 + seed) * 43758.5453 % 1
    grain = noise(u * 3 + shift * 50, v * planks * 16 + shift * 90, seed, 5)
    rings = np.sin((v * planks % 1 + 0.16 * noise(u * 1.4 + shift * 9, v * planks * 0.7 + shift * 9, seed + 3, 3)) * 46)
    light = 0.86 + 0.16 * grain + 0.07 * rings + 0.22 * (shift - 0.5)
    gap = np.clip(np.abs((v * planks) % 1 - 0.5) * 2 - 0.975, 0, 1) * 38
    return np.clip(np.array(rgb(tone)) * (light * (1 - 0.85 * np.clip(gap, 0, 1)))[..., None], 0, 1)


def add_spool(
    scene: Scene, place: tuple[float, float, float], turn: tuple[float, float, float], colour: str, size: float = 0.045
) -> None:
    """A wooden spool with line on it."""
    flange = [(0.0, 0.0), (1.0, 0.0), (1.05, 0.06), (1.0, 0.14), (0.3, 0.16)]
    for z, side in ((-0.9, 1), (0.9, -1)):
        disc = lathe([(r, z + side * h) for r, h in flange])
        scene.add(disc.moved(place, turn, size), glossy("#c99a62", 0.5))
    wound = lathe([(0.78 + 0.02 * (-1) ** n + 0.08 * np.sin(n / 46 * np.pi), -0.76 + 1.52 * n / 46) for n in range(47)])
    scene.add(wound.moved(place, turn, size), matt(colour))


def add_cloth(
    scene: Scene, corners: list[tuple[float, float]], height: float, colour: str, seed: int, stripe: str | None = None
) -> None:
    """A cut of sailcloth laid on a table, with soft folds."""
    v, u = np.mgrid[0:1:120j, 0:1:120j]
    c = np.array(corners)
    spot = (
        (1 - u[..., None]) * (1 - v[..., None]) * c[0]
        + u[..., None] * (1 - v[..., None]) * c[1]
        + u[..., None] * v[..., None] * c[2]
        + (1 - u[..., None]) * v[..., None] * c[3]
    )
    z = (
        height
        + 0.012 * np.clip(noise(u * 2.2 + seed, v * 2.2, seed, 3), 0, 1)
        + 0.006 * np.abs(np.sin(u * 5 + 3 * v + seed)) ** 6
    )
    weave = 1 + 0.05 * noise(u * 160, v * 160, seed, 1)
    colours = np.array(rgb(colour)) * weave[..., None]
    if stripe:
        colours = np.where((np.abs(v - 0.5) < 0.09)[..., None], np.array(rgb(stripe)) * weave[..., None], colours)
    scene.add(sheet(spot[..., 0], spot[..., 1], z), painted(np.clip(colours, 0, 1), 0.9, 0.1))


def add_bunting(
    scene: Scene,
    start: tuple[float, float, float],
    end: tuple[float, float, float],
    sag: float,
    count: int,
    size: float,
    seed: int = 1,
) -> None:
    """Pennants on a line."""
    path = _curve(start, end, sag, count * 6 + 1)
    scene.add(tube(path, 0.006), matt("#e8e2d6"))
    rng = np.random.default_rng(seed)
    for n in range(count):
        place = path[n * 6 + 3]
        turn = np.degrees(np.arctan2(*(path[n * 6 + 5] - path[n * 6 + 1])[[1, 0]]))
        scene.add(
            panel([(-0.5, 0), (0.5, 0), (0, -1.25), (0, -1.25)], 0.1).moved(
                tuple(place), (rng.uniform(-14, 14), rng.uniform(-5, 5), turn), size
            ),
            cloth(CLOTHS[n % len(CLOTHS)], 0.8),
        )


def add_person(
    scene: Scene,
    place: tuple[float, float, float],
    jacket: str,
    trousers: str,
    tall: float = 1.72,
    arms: str = "up",
    turn: float = 0.0,
) -> None:
    """A person far off, seen from behind: to be read at a few hundred pixels, not nearer."""
    k = tall / 1.72
    parts: list[tuple[Mesh, str]] = []
    for side in (-1, 1):
        leg = _curve((0.10 * side, 0.0, 0.86), (0.13 * side, 0.05 * side, 0.04), 0.0, 12)
        parts.append((_limb(leg, 0.085, 0.055), trousers))
        parts.append(
            (
                lathe([(0.0, -0.5), (0.4, -0.42), (0.5, 0), (0.0, 0.4)]).moved(
                    (0.13 * side, 0.05 * side - 0.03, 0.05), (70, 0, 0), 0.13
                ),
                "#2a2522",
            )
        )
        end = {
            "up": (0.30 * side, 0.22, 1.72),
            "one": (0.24 * side, 0.26, 1.62 if side > 0 else 0.92),
            "down": (0.30 * side, 0.02, 0.84),
        }[arms]
        elbow = {
            "up": (0.36 * side, 0.12, 1.42),
            "one": (0.36 * side, 0.1, 1.34 if side > 0 else 1.12),
            "down": (0.29 * side, -0.03, 1.1),
        }[arms]
        t = np.linspace(0, 1, 14)[:, None]
        arm = (1 - t) ** 2 * np.array((0.19 * side, 0, 1.40)) + 2 * t * (1 - t) * np.array(elbow) + t**2 * np.array(end)
        parts.append((_limb(arm, 0.062, 0.045), jacket))
        parts.append(
            (lathe([(0.0, -0.5), (0.42, -0.2), (0.42, 0.2), (0.0, 0.5)]).moved(end, (0, 0, 0), 0.095), "#c89272")
        )
    trunk = lathe(
        [(0.0, 0.80), (0.17, 0.82), (0.185, 0.95), (0.165, 1.08), (0.195, 1.28), (0.2, 1.38), (0.13, 1.46), (0.06, 1.5)]
    )
    parts.append((Mesh(trunk.points * (1.12, 0.72, 1), trunk.faces, trunk.uv), jacket))
    parts.append((lathe([(0.055, 1.45), (0.05, 1.56)]), "#c89272"))
    parts.append(
        (lathe([(0.0, 1.50), (0.062, 1.53), (0.086, 1.62), (0.082, 1.70), (0.05, 1.755), (0.0, 1.765)]), "#3a2a1e")
    )
    for mesh, colour in parts:
        scene.add(mesh.moved(place, (0, 0, turn), k), matt(colour))


def _limb(path: Floats, thick: float, thin: float) -> Mesh:
    mesh = tube(path, 1.0, 14)
    rows = len(path)
    width = np.linspace(thick, thin, rows)[:, None] * (1 + 0.08 * np.sin(np.linspace(0, np.pi, rows)))[:, None]
    ring = mesh.points.reshape(rows, -1, 3)
    points = path[:, None] + (ring - path[:, None]) * width[..., None]
    return Mesh(points.reshape(-1, 3), mesh.faces, mesh.uv)


def add_post(scene: Scene, x: float, y: float, radius: float, low: float, high: float, seed: int) -> None:
    """A pile of a pier."""
    rng = np.random.default_rng(seed)
    body = lathe(
        [(radius * rng.uniform(0.96, 1.04), z) for z in np.linspace(low, high, 14)]
        + [(radius * 0.8, high + 0.02), (0.0, high + 0.03)]
    )
    v, u = np.mgrid[0:1:300j, 0:1:100j]
    bark = np.array(rgb("#6a5744")) * (0.8 + 0.3 * noise(u * 40, v * 3, seed, 4))[..., None]
    scene.add(body.moved((x, y, 0)), painted(np.clip(bark, 0, 1), 0.8, 0.2))


def add_deck(scene: Scene, x_m: tuple[float, float], y_m: tuple[float, float], z: float, seed: int) -> None:
    """Boards across a walk along y."""
    rng, y = np.random.default_rng(seed), y_m[0]
    while y < y_m[1]:
        wide = 0.14
        tone = matt(("#8d7a63", "#7d6b56", "#96846c", "#857259")[int(rng.integers(4))])
        scene.add(
            block(x_m[1] - x_m[0], wide - 0.012, 0.04).moved(((x_m[0] + x_m[1]) / 2, y, z + rng.normal(0, 0.002))), tone
        )
        y += wide

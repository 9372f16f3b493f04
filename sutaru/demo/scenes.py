"""Made-up photographs of a coastal kite festival: seeded, so always the same. Drawn small, then given size, light and grain.

``picture(scene, seed, width, height)`` gives RGB uint8, shape (height, width, 3).
"""

from collections.abc import Callable
from itertools import pairwise

import cv2
import numpy as np
from numpy.typing import NDArray

from .drawing import SAILS, Canvas, Rng, clouds, ellipse, lay, ramp, thread
from .motifs import BEHIND, SUN, bokeh, face, kite, people, shore, sky
from .people import Figure, Limb, paint, paint_standing

DRAWN = 1100  # px along the longer side while drawing


def beach(rng: Rng, h: int, w: int) -> Canvas:
    """The festival field: many kites above the shore."""
    horizon = round(h * rng.uniform(0.58, 0.7))
    canvas = shore(rng, h, w, horizon)
    canvas = cv2.GaussianBlur(canvas, (0, 0), 0.8).astype(np.float32)
    for _ in range(rng.integers(5, 10)):
        kite(canvas, rng, rng.uniform(0.08, 0.92) * w, rng.uniform(0.08, 0.5) * h, min(h, w) * rng.uniform(0.04, 0.12))
    people(canvas, rng, horizon + (h - horizon) * 0.5, h * 0.095, int(rng.integers(7, 15)))
    return canvas


def watchers(rng: Rng, h: int, w: int) -> Canvas:
    """Two to four people from behind, close by, looking up at the kites; the shore beyond them out of focus."""
    horizon = round(h * rng.uniform(0.56, 0.66))
    canvas = shore(rng, h, w, horizon)
    for _ in range(int(rng.integers(3, 7))):
        kite(canvas, rng, rng.uniform(0.1, 0.9) * w, rng.uniform(0.08, 0.4) * h, min(h, w) * rng.uniform(0.05, 0.09))
    people(canvas, rng, horizon + (h - horizon) * 0.42, h * 0.07, 5)
    canvas = cv2.GaussianBlur(canvas, (0, 0), 2.2).astype(np.float32)
    count = int(rng.integers(2, 5))
    head = min(h, w) * rng.uniform(0.075, 0.10)
    for k in range(count):
        tall = 7.5 if k % 3 else float(rng.choice([5.6, 7.2]))
        figure = paint_standing(
            rng, tall, float(rng.choice([1.0, 0.85, 0.6])), rng.uniform(0.3, 1.2) if k == 1 else None
        )
        x = w * (0.5 + (k - (count - 1) / 2) * rng.uniform(0.15, 0.2))
        hand = paint(canvas, rng, figure, (x, h * rng.uniform(1.02, 1.12)), head, SUN, soft=0.5)
        if hand:
            line = np.array([hand, (hand[0] + w * 0.22, -h * 0.05)])
            thread(canvas, line, (0.86, 0.86, 0.84), 0.8)
    return canvas


def flier(rng: Rng, h: int, w: int) -> Canvas:
    """One flier with a kite on its line, and others far off."""
    horizon = round(h * rng.uniform(0.62, 0.72))
    canvas = shore(rng, h, w, horizon)
    people(canvas, rng, horizon + (h - horizon) * 0.36, h * 0.06, 6)
    canvas = cv2.GaussianBlur(canvas, (0, 0), 1.4).astype(np.float32)
    x, head = w * rng.uniform(0.2, 0.4), min(h, w) * rng.uniform(0.055, 0.07)
    hand = paint(
        canvas,
        rng,
        paint_standing(rng, 7.5, float(rng.choice([0.25, 0.6, 1.0])), 1.1),
        (x, h * 0.97),
        head,
        SUN,
        soft=0.4,
    )
    centre = (w * rng.uniform(0.6, 0.85), h * rng.uniform(0.14, 0.3))
    if hand:
        t = np.linspace(0, 1, 30)[:, None]
        sag = np.array(hand) * (1 - t) + np.array(centre) * t + np.concatenate([t * 0, t * (1 - t) * h * 0.08], 1)
        thread(canvas, sag, (0.85, 0.85, 0.84), 0.7)
    kite(canvas, rng, *centre, min(h, w) * 0.13)
    return canvas


def children(rng: Rng, h: int, w: int) -> Canvas:
    """Children running along the water's edge, small kites after them."""
    horizon = round(h * rng.uniform(0.42, 0.52))
    canvas = cv2.GaussianBlur(shore(rng, h, w, horizon), (0, 0), 2.4).astype(np.float32)
    head = min(h, w) * rng.uniform(0.06, 0.08)
    count = int(rng.integers(2, 5))
    for k in range(count):
        x, y = w * (0.2 + 0.62 * k / max(1, count - 1) + rng.normal(0, 0.02)), h * rng.uniform(0.84, 0.95)
        hand = paint(canvas, rng, paint_standing(rng, rng.uniform(4.8, 5.8), 0.1, rng.uniform(0.1, 0.7), rng.uniform(0.5, 0.9)),
                     (x, y), head, SUN, soft=0.7)  # fmt: skip
        if hand and rng.random() < 0.7:
            away = (hand[0] - w * rng.uniform(0.1, 0.2), hand[1] - h * rng.uniform(0.2, 0.4))
            thread(canvas, np.array([hand, away]), (0.88, 0.88, 0.86), 0.7)
            kite(canvas, rng, *away, head * 0.9, soft=0.8)
    return canvas


def stalls(rng: Rng, h: int, w: int) -> Canvas:
    """A row of canvas stalls with bunting, people before them."""
    ground = round(h * 0.62)
    canvas = sky(rng, h, w, ground)
    grass = ramp(h - ground, w, (0.46, 0.48, 0.28), (0.62, 0.58, 0.40))
    canvas[ground:] = grass * (0.85 + 0.25 * clouds(rng, h - ground, w, 30, 5))[..., None]
    wide = w / rng.uniform(3.0, 4.2)
    x = -wide * rng.uniform(0, 0.7)
    while x < w:
        colour = np.array(SAILS[rng.integers(len(SAILS))]) * 0.55 + 0.32
        top, eave, foot = h * rng.uniform(0.26, 0.31), h * 0.43, h * 0.68
        inside = np.array(
            [[x + wide * 0.08, eave], [x + wide * 0.92, eave], [x + wide * 0.92, foot], [x + wide * 0.08, foot]]
        )
        lay(canvas, inside, (0.13, 0.11, 0.10), 0.92, 2)
        table = np.array(
            [[x + wide * 0.06, h * 0.58], [x + wide * 0.94, h * 0.58], [x + wide * 0.94, foot], [x + wide * 0.06, foot]]
        )
        lay(canvas, table, tuple(colour * 0.72))
        for k in range(9):  # what is sold: rolls and folded cloth
            item = SAILS[rng.integers(len(SAILS))]
            left_px = x + wide * (0.12 + 0.085 * k)
            lay(
                canvas,
                ellipse(left_px, h * 0.565, wide * 0.035, h * rng.uniform(0.012, 0.03)),
                tuple(np.array(item) * 0.8),
                soft=0.8,
            )
        peak = np.array([[x, eave], [x + wide * 0.5, top], [x + wide, eave]])
        lay(canvas, peak, tuple(colour))
        lay(canvas, np.array([peak[1], peak[2], [x + wide * 0.5, eave]]), tuple(colour * 0.82), 0.8, 3)
        for k in range(8):
            a, b = x + wide * k / 8, x + wide * (k + 1) / 8
            flap = np.array(
                [[a, eave], [b, eave], [b, eave + h * 0.025], [(a + b) / 2, eave + h * 0.04], [a, eave + h * 0.025]]
            )
            lay(canvas, flap, tuple(colour * (1.05 if k % 2 else 0.62)))
        x += wide * rng.uniform(1.04, 1.16)
    for k in range(26):  # bunting
        a = w * k / 25
        y = h * (0.17 + 0.05 * np.sin(np.pi * (k % 8) / 8))
        flag = np.array([[a - w * 0.012, y], [a + w * 0.012, y], [a, y + h * 0.04]])
        lay(canvas, flag, SAILS[k % len(SAILS)], soft=0.6)
    canvas = cv2.GaussianBlur(canvas, (0, 0), 1.1).astype(np.float32)
    people(canvas, rng, h * 0.72, h * 0.24, int(rng.integers(4, 8)))
    return canvas


def dusk(rng: Rng, h: int, w: int) -> Canvas:
    """The last flight: figures and kites dark against the evening sky, the sun low behind them."""
    horizon = round(h * rng.uniform(0.66, 0.74))
    canvas = ramp(h, w, (0.16, 0.20, 0.36), (0.98, 0.62, 0.34))
    band = clouds(rng, h, w, 4, 6)
    canvas += ((np.clip(band - 0.55, 0, 1) * 1.3)[..., None] * np.array((0.75, 0.38, 0.26), np.float32)) * 0.6
    sun = (w * rng.uniform(0.3, 0.7), horizon - h * 0.05)
    y, x = np.mgrid[:h, :w].astype(np.float32)
    glow = np.exp(-(((x - sun[0]) / (w * 0.2)) ** 2 + ((y - sun[1]) / (h * 0.16)) ** 2))
    canvas += glow[..., None] * np.array((0.9, 0.7, 0.4), np.float32) * 0.8
    wet = canvas[max(0, 2 * horizon - h) : horizon][::-1][: h - horizon]
    canvas[horizon : horizon + len(wet)] = wet * 0.55 + 0.02
    canvas[horizon:] *= (0.8 + 0.3 * clouds(rng, h - horizon, w, 20, 4))[..., None]
    for _ in range(int(rng.integers(3, 6))):
        kite(canvas, rng, rng.uniform(0.1, 0.9) * w, rng.uniform(0.1, 0.45) * h, min(h, w) * rng.uniform(0.04, 0.08))
    canvas = np.minimum(canvas, 1.0).astype(np.float32)
    for _ in range(int(rng.integers(3, 7))):
        figure = paint_standing(
            rng, float(rng.choice([7.5, 7.2, 5.4])), float(rng.choice([1.0, 0.3])), rng.uniform(0.3, 1.1)
        )
        place = (rng.uniform(0.08, 0.92) * w, h * rng.uniform(0.84, 0.95))
        paint(canvas, rng, figure, place, h * 0.045, BEHIND, sun=0.55, soft=0.5, shadow=0.25)
    return canvas


def detail(rng: Rng, h: int, w: int) -> Canvas:
    """Close by: woven sailcloth, a seam, and a line knotted to a ring, the rest out of focus."""
    base, other = (np.array(SAILS[n]) for n in rng.choice(len(SAILS), 2, replace=False))
    y, x = np.mgrid[:h, :w].astype(np.float32)
    turn = rng.uniform(-0.6, 0.6)
    u, v = x * np.cos(turn) + y * np.sin(turn), -x * np.sin(turn) + y * np.cos(turn)
    folds = clouds(rng, h, w, 2, 3)
    side = ((v - h * 0.1 * np.sin(u / w * 3)) > h * rng.uniform(-0.1, 0.3))[..., None]
    canvas = np.where(side, base.astype(np.float32), other.astype(np.float32)) * np.float32(0.82)
    weave = 0.5 + 0.5 * np.sin(u * 1.9) * np.sin(v * 1.9)
    slope = cv2.Sobel(cv2.GaussianBlur(folds, (0, 0), 18), cv2.CV_32F, 1, 0)
    canvas = canvas * (0.80 + 0.12 * weave + 16 * slope)[..., None].astype(np.float32)
    edge = np.abs(v - h * 0.1 * np.sin(u / w * 3) - h * 0.1)
    canvas *= (1 - 0.35 * np.exp(-((edge / 5) ** 2)))[..., None]
    ring = (w * rng.uniform(0.4, 0.6), h * rng.uniform(0.4, 0.6))
    r = min(h, w) * 0.13
    rope = Figure()
    angles = np.linspace(0, 2 * np.pi, 40)
    for a, b in pairwise(angles):  # the ring
        rope.limbs.append(
            Limb((np.cos(a), np.sin(a), 0.4), (np.cos(b), np.sin(b), 0.4), 0.14, 0.14, (0.62, 0.62, 0.64))
        )
    for n in range(46):  # a line wound round it, and away
        t, s = n / 45, (n + 1) / 45
        out = [(1.0 + 3.4 * q, 0.5 + 0.25 * q, 0.5 + 0.1 * np.sin(q * 30)) for q in (t, s)]
        p = [(far * np.cos(turned), far * np.sin(turned), z) for far, turned, z in out]
        rope.limbs.append(Limb(p[0], p[1], 0.13 + 0.02 * (n % 2), 0.13, (0.80, 0.74, 0.62), 0.6))
    for n in range(30):  # the knot
        t, s = n / 29 * 2 * np.pi, (n + 1) / 29 * 2 * np.pi
        q = [(0.9 + 0.42 * np.cos(a), 0.5 + 0.36 * np.sin(2 * a), 0.62 + 0.2 * np.sin(a)) for a in (t, s)]
        rope.limbs.append(Limb(q[0], q[1], 0.13, 0.13, (0.78, 0.71, 0.58), 0.6))
    paint(canvas, rng, rope, ring, r, (-0.6, -0.5, 0.6), shadow=0)
    far = cv2.GaussianBlur(canvas, (0, 0), 9).astype(np.float32)
    sharp = np.exp(-((np.hypot(x - ring[0], y - ring[1]) / (min(h, w) * 0.42)) ** 4))[..., None]
    return np.asarray(far + (canvas - far) * sharp, np.float32)


def close_kite(rng: Rng, h: int, w: int) -> Canvas:
    """One kite, large, against the sky."""
    canvas = sky(rng, h, w, h)
    canvas = cv2.GaussianBlur(canvas, (0, 0), 3).astype(np.float32)
    for _ in range(2):
        kite(canvas, rng, rng.uniform(0.1, 0.9) * w, rng.uniform(0.6, 0.9) * h, min(h, w) * 0.07, soft=2.0)
    kite(canvas, rng, w * rng.uniform(0.4, 0.6), h * rng.uniform(0.36, 0.46), min(h, w) * rng.uniform(0.42, 0.56))
    return canvas


def dunes(rng: Rng, h: int, w: int) -> Canvas:
    """Dunes with marram grass, a kite far off."""
    canvas = sky(rng, h, w, h)
    kite(canvas, rng, w * rng.uniform(0.2, 0.8), h * 0.2, min(h, w) * 0.08)
    x = np.linspace(0, w, 120)
    for depth in range(4):
        level = h * (0.5 + 0.13 * depth)
        line = (
            level
            + h * 0.06 * np.sin(x / w * rng.uniform(3, 7) + rng.uniform(0, 6))
            + h * 0.02 * np.sin(x / w * 17 + depth)
        )
        light = 0.62 + 0.1 * depth
        ridge = np.concatenate([np.stack([x, line], -1), [[w, h], [0, h]]])
        lay(canvas, ridge, (light * 1.05, light * 0.93, light * 0.72), soft=0.8)
        lay(canvas, ridge + np.array((w * 0.03, h * 0.045)), (light * 0.9, light * 0.78, light * 0.6), 0.5, 6)
        for _ in range(50 * depth):
            k = int(rng.integers(len(x)))
            foot = np.array([x[k] + rng.normal(0, 4), line[k] + rng.uniform(0, h * 0.1)])
            blade = h * 0.03 * (depth + 1) * rng.uniform(0.5, 1)
            lean = rng.uniform(0.2, 0.7)
            t = np.linspace(0, 1, 6)[:, None]
            green = (0.38 + rng.uniform(-0.05, 0.1), 0.43, 0.22)
            thread(canvas, foot + np.concatenate([lean * blade * t**2, -blade * t], axis=1), green, 1 + depth * 0.4)
    return canvas


def workshop(rng: Rng, h: int, w: int) -> Canvas:
    """A maker's table: cloth, spars, reels, seen from above in window light."""
    canvas = ramp(h, w, (0.55, 0.42, 0.30), (0.42, 0.31, 0.22))
    grain = clouds(rng, h, w, 2, 5)
    canvas *= (0.86 + 0.22 * np.sin(grain * 40 + np.linspace(0, 30, h, dtype=np.float32)[:, None]) ** 2)[..., None]
    for _ in range(5):
        cx, cy, size = rng.uniform(0.1, 0.9) * w, rng.uniform(0.1, 0.9) * h, min(h, w) * rng.uniform(0.2, 0.36)
        corner = rng.uniform(0, 6.3)
        sheet = np.array(
            [[cx + size * np.cos(corner + a), cy + size * 0.75 * np.sin(corner + a)] for a in (0, 1.4, 3.2, 4.6)]
        )
        lay(canvas, sheet + size * 0.06, (0.1, 0.08, 0.06), 0.5, size * 0.05)
        colour = SAILS[rng.integers(len(SAILS))]
        lay(canvas, sheet, colour)
        lay(canvas, (sheet + sheet.mean(0)) / 2 + size * 0.1, tuple(c * 0.85 for c in colour), 0.6, size * 0.12)
    for _ in range(6):
        start, angle = rng.uniform(0, 1, 2) * (w, h), rng.uniform(0, 3.1)
        end = start + min(h, w) * 0.7 * np.array([np.cos(angle), np.sin(angle)])
        thread(canvas, np.array([start, end]) + 4, (0.15, 0.1, 0.07), 4)
        thread(canvas, np.array([start, end]), (0.80, 0.64, 0.42), 5)
    for _ in range(3):
        cx, cy, r = rng.uniform(0.1, 0.9) * w, rng.uniform(0.1, 0.9) * h, min(h, w) * 0.07
        lay(canvas, ellipse(cx + r * 0.3, cy + r * 0.3, r, r), (0.08, 0.06, 0.05), 0.5, r * 0.2)
        lay(canvas, ellipse(cx, cy, r, r), (0.85, 0.84, 0.80))
        for k in range(8):
            thread(canvas, ellipse(cx, cy, r * (0.9 - 0.07 * k), r * (0.9 - 0.07 * k)), SAILS[k % 5], 1.5)
        lay(canvas, ellipse(cx, cy, r * 0.3, r * 0.3), (0.3, 0.22, 0.16))
    light = np.linspace(1.25, 0.7, w, dtype=np.float32)[None, :, None]
    return canvas * light


def maker(rng: Rng, h: int, w: int) -> Canvas:
    """A portrait of a kite maker."""
    canvas = bokeh(rng, h, w)
    r = min(h, w) * rng.uniform(0.13, 0.19)
    face(canvas, rng, w * rng.uniform(0.36, 0.64), h * (0.36 if h > w else 0.42), r)
    return canvas


def makers(rng: Rng, h: int, w: int) -> Canvas:
    """Two or three makers side by side."""
    canvas = bokeh(rng, h, w)
    count = int(rng.integers(2, 4))
    for k in range(count):
        r = min(h, w) * 0.105
        face(canvas, rng, w * (k + 1) / (count + 1) + rng.normal(0, 6), h * rng.uniform(0.4, 0.5), r)
    return canvas


def lanterns(rng: Rng, h: int, w: int) -> Canvas:
    """Night flying: lit kites over a dark shore, their light on the wet sand."""
    canvas = ramp(h, w, (0.015, 0.02, 0.06), (0.07, 0.06, 0.11))
    horizon = round(h * 0.72)
    canvas[horizon:] *= 0.55
    glow = np.zeros_like(canvas)
    for _ in range(int(rng.integers(7, 16))):
        cx, cy = rng.uniform(0.05, 0.95) * w, rng.uniform(0.08, 0.62) * h
        size = min(h, w) * rng.uniform(0.02, 0.07)
        warm = np.array((1.0, rng.uniform(0.5, 0.8), rng.uniform(0.2, 0.4)))
        for radius, strength in ((5, 0.06), (2.2, 0.16), (1.0, 0.9)):
            spot = np.zeros_like(canvas)
            lay(
                spot,
                ellipse(cx, cy, size * radius * 0.8, size * radius),
                tuple(warm * strength),
                1.0,
                size * radius * 0.35,
            )
            glow += spot
        lay(glow, ellipse(cx, cy, size * 0.45, size * 0.6), (1.0, 0.95, 0.8), 1.0, size * 0.1)
        streak = np.zeros_like(canvas)
        mirrored = ellipse(cx, 2 * horizon - cy * 0.9, size * 0.7, size * 2.2)
        lay(streak, mirrored, tuple(warm * 0.35), 1.0, size * 0.8)
        streak[:horizon] = 0
        glow += streak
    canvas = canvas + glow
    for x in rng.uniform(0.05, 0.95, 7) * w:
        s = h * 0.09
        lay(
            canvas,
            np.array(
                [
                    [x - s * 0.1, horizon + s],
                    [x - s * 0.12, horizon],
                    [x + s * 0.12, horizon],
                    [x + s * 0.1, horizon + s],
                ]
            ),
            (0.01, 0.01, 0.02),
            soft=1,
        )
        lay(canvas, ellipse(x, horizon - s * 0.1, s * 0.1, s * 0.12), (0.01, 0.01, 0.02), soft=1)
    return canvas


SCENES: dict[str, Callable[[Rng, int, int], Canvas]] = {
    "beach": beach, "kite": close_kite, "dunes": dunes, "workshop": workshop, "maker": maker, "makers": makers,
    "lanterns": lanterns, "watchers": watchers, "flier": flier, "children": children, "stalls": stalls, "dusk": dusk,
    "detail": detail,
}  # fmt: skip


def picture(scene: str, seed: int, width: int, height: int, worked: bool = False) -> NDArray[np.uint8]:
    """A photograph of a scene, RGB. ``worked``: as if already worked on: more contrast and colour, no grain."""
    rng = np.random.default_rng([seed, *scene.encode()])
    k = DRAWN / max(width, height)
    w, h = max(64, round(width * k)), max(64, round(height * k))
    canvas = SCENES[scene](rng, h, w)
    y, x = np.mgrid[-1 : 1 : h * 1j, -1 : 1 : w * 1j].astype(np.float32)
    canvas = canvas * (1 - 0.14 * (x * x + y * y))[..., None]
    if worked:
        grey = canvas.mean(-1, keepdims=True)
        canvas = np.clip((grey + (canvas - grey) * 1.35 - 0.5) * 1.2 + 0.5, 0, 1)
    small = np.clip(canvas * 255, 0, 255).astype(np.uint8)
    large = cv2.resize(small, (width, height), interpolation=cv2.INTER_CUBIC)
    if not worked:
        tile = rng.normal(0, 3.2 if scene != "lanterns" else 5.0, (512, 512, 1)).astype(np.float32)
        tile = np.repeat(cv2.GaussianBlur(tile, (0, 0), 0.7)[..., None] * 1.6, 3, axis=2)
        noise = np.rint(tile).astype(np.int8)
        for top in range(0, height, 512):
            for left in range(0, width, 512):
                part = large[top : top + 512, left : left + 512]
                grain = noise[: part.shape[0], : part.shape[1]]
                part[:] = np.clip(part.astype(np.int16) + grain, 0, 255)
    return np.asarray(large, np.uint8)

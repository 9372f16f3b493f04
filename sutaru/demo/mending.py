"""Three photographs that want mending, each half mended: a portrait with stray hair, a scan with dust, stalls that lean; and a
portrait whose head stands over the edge of its opening."""

from collections.abc import Callable

import cv2
import numpy as np
from numpy.typing import NDArray

from ..core.document import Adjust, Cover, Free, Job, Photo, Round, Stroke, Touch, Upright
from ..core.document.recipe import Recipe
from ..core.edits.kinds import Edit, MendPhoto, Place, Put, RetouchOpening, RetouchPhoto
from ..core.fitting.straightening import FOCAL
from ..core.geometry.lenses import camera_turn
from ..core.mending import select_subject
from ..core.mending.spot_finding import specks
from ..core.mending.touch_proposals import choose_covers
from .scenes import picture

Bytes = NDArray[np.uint8]
TEMPLATE = "mockup-window"
LEANS = 9.0  # degrees by which the camera looked up
# Hairs over the portrait, in fractions of it: each a few points of a curve.
_HAIRS = (
    ((0.36, 0.18), (0.43, 0.27), (0.44, 0.38), (0.41, 0.47)),
    ((0.63, 0.2), (0.58, 0.3), (0.6, 0.42)),
)


def hair(size: tuple[int, int]) -> Bytes:
    """A maker's portrait, two hairs across it."""
    image = picture("maker", 205, *size).copy()
    for points in _HAIRS:
        fine = cv2.GaussianBlur(_draw_shape(_curve(points, size), size, size[0] // 900 + 1), (0, 0), 1.2)
        image = np.rint(image * (1 - 0.75 * fine[..., None])).astype(np.uint8)
    return image


def dust(size: tuple[int, int]) -> Bytes:
    """Dunes from a scan: specks of dust, darker and lighter, most of them in the sky."""
    image = picture("dunes", 206, *size).astype(np.float32)
    rng = np.random.default_rng(206)
    for _ in range(26):
        x, y = rng.uniform(0.04, 0.96) * size[0], rng.uniform(0.03, 0.42) * size[1]
        radius = rng.uniform(3, 7) * max(size) / 3000
        r = int(radius) + 3
        rows, columns = np.mgrid[int(y) - r : int(y) + r, int(x) - r : int(x) + r]
        spot = np.clip((radius - np.hypot(columns - x, rows - y)) / 2, 0, 1)[..., None]
        image[int(y) - r : int(y) + r, int(x) - r : int(x) + r] *= 1 + spot * (0.22 if rng.random() < 0.3 else -0.3)
    return np.clip(image, 0, 255).astype(np.uint8)


def paint_leaning(size: tuple[int, int]) -> Bytes:
    """The stalls and a row of flag poles, by a camera that looked up."""
    image = picture("stalls", 207, *size).copy()
    for n in range(6):
        x = round(size[0] * (0.06 + 0.176 * n))
        wide = max(4, size[0] // 130)
        cv2.rectangle(image, (x, round(size[1] * 0.1)), (x + wide, round(size[1] * 0.72)), (92, 84, 78), -1)
        cv2.rectangle(image, (x, round(size[1] * 0.1)), (x + wide // 3, round(size[1] * 0.72)), (168, 160, 150), -1)
    middle = np.array([[1, 0, size[0] / 2], [0, 1, size[1] / 2], [0, 0, 1.0]])
    back = np.linalg.inv(camera_turn(FOCAL * max(size), LEANS, 0, 0))
    moved = back @ (0, 0, 1)
    centred = np.array([[1, 0, -moved[0] / moved[2]], [0, 1, -moved[1] / moved[2]], [0, 0, 1.0]])
    onto = middle @ centred @ back @ np.linalg.inv(middle)
    return np.asarray(
        cv2.warpPerspective(image, onto, size, flags=cv2.INTER_CUBIC, borderMode=cv2.BORDER_REFLECT), np.uint8
    )


FAULTY: dict[str, Callable[[tuple[int, int]], Bytes]] = {
    "stray-hair.jpg": hair,
    "scan-with-dust.jpg": dust,
    "stalls-leaning.jpg": paint_leaning,
}


def _curve(points: tuple[tuple[float, float], ...], size: tuple[int, int]) -> NDArray[np.float64]:
    """Points along a smooth line through some (a Catmull-Rom spline)."""
    p = np.array([points[0], *points, points[-1]]) * size
    t = np.linspace(0, 1, 20)[:, None]
    parts = [
        0.5 * ((2 * b) + (c - a) * t + (2 * a - 5 * b + 4 * c - d) * t**2 + (3 * b - a - 3 * c + d) * t**3)
        for a, b, c, d in zip(p, p[1:], p[2:], p[3:], strict=False)
    ]
    return np.concatenate(parts)


def _draw_shape(points: NDArray[np.float64], size: tuple[int, int], wide: int) -> NDArray[np.float32]:
    line = np.zeros((size[1], size[0]), np.uint8)
    cv2.polylines(line, [np.rint(points * 16).astype(np.int32)], False, 255, wide, cv2.LINE_AA, 4)
    return line.astype(np.float32) / np.float32(255)


def stand_before_edge(photo: Photo, image: Bytes, sheet: str, opening: str) -> list[Edit]:
    """What lays a portrait so that its head stands over the upper edge of an opening. ``image``: all of the photo."""
    edits: list[Edit] = [
        Put(sheet=sheet, opening=opening, photo=photo.id),
        Place(sheet=sheet, opening=opening, centre=(0.5, 0.6), zoom=1.0, turn_deg=0.0, mirror=False),
    ]
    if subject := select_subject(image, Stroke(points=((0.385, 0.26), (0.385, 0.9)), radius=0.03)):
        free = Free(id="head", area=subject, down=0.5)
        edits.append(RetouchOpening(sheet=sheet, opening=opening, put=(free,)))
    return edits


def half_mended(job: Job, photos: dict[str, Photo], pixels: Callable[[Photo], Bytes]) -> list[Edit]:
    """What lays the three into the job's openings and mends each in part. ``pixels``: gives all of a photo."""
    sheet = job.sheets[0]
    openings = [opening.id for opening in sheet.layout.openings()]
    edits: list[Edit] = [
        Put(sheet=sheet.id, opening=opening, photo=photos[name].id)
        for opening, name in zip(openings, FAULTY, strict=True)
    ]
    portrait, scan, stalls = (photos[name] for name in FAULTY)
    line = _curve(_HAIRS[0], (1, 1))[::2]
    first = Stroke(points=tuple((round(x, 5), round(y, 5)) for x, y in line.tolist()), radius=0.0014, soft=0.2)
    warm = Round(centre=(0.5, 0.4), across=(0.22, 0.2), soft=0.6)
    touches: tuple[Touch, ...] = (
        Cover(id="hair", how="fill", area=first),
        Adjust(id="face", area=warm, light=0.2, warmth=8),
    )
    edits.append(RetouchPhoto(photo=portrait.id, put=touches))
    image = pixels(scan)
    spots_found = specks(image)
    spots = (
        Cover(id=f"dust-{n}", area=Stroke(points=(spot.centre,), radius=spot.radius, soft=0.4))
        for n, spot in enumerate(spots_found[: len(spots_found) // 2], 1)
    )
    if half := choose_covers(image, tuple(spots)):
        edits.append(RetouchPhoto(photo=scan.id, put=half))
    edits.append(MendPhoto(photo=stalls.id, recipe=Recipe(steps=None, upright=Upright(pitch_deg=LEANS / 2))))
    return edits

"""Touches that the machine proposes for a photo; a person takes them or not."""

import math
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from ..document import Cover, Eye, Photo, Stroke, Touch, WhiteBalance
from ..photos.faces import SIDE, faces
from .areas import Size
from .eyes import pupil
from .retoucher import apply_touch
from .spot_finding import Speck, blemishes, find_best_shift, specks
from .tone import light

Bytes = NDArray[np.uint8]
Place = tuple[float, float]
What = Literal["dust", "blemishes", "eyes"]
LOOKED_PX = 3000  # of the longer side: what is smaller there is no speck
# About an eye nothing is a blemish, nor about nose and mouth: shares of a face's size (common practice, no source).
_EYE_SPAN = 0.16
_EYE_REACH = 0.22
_POINTED = 0.08  # of the longer side: how far from where one points a pupil is looked for


def propose_touches(image: Bytes, photo: Photo, what: What) -> tuple[Touch, ...]:
    """``image``: all of the photo, ``LOOKED_PX`` along its longer side or less."""
    size = Size(image.shape[1], image.shape[0])
    if what == "eyes":
        return _eyes(image, size)
    if what == "dust":
        spots = specks(_shrink_to(image, 1500))
    else:
        marked = tuple(area for area in photo.keep_areas if area.kind == "face")
        spots = blemishes(image, marked, _features(image)) if marked else []
    return _cover_spots(image, spots, what)


def _shrink_to(image: Bytes, longest: int) -> Bytes:
    share = min(1.0, longest / max(image.shape[:2]))
    size = max(1, round(image.shape[1] * share)), max(1, round(image.shape[0] * share))
    return np.asarray(cv2.resize(image, size, interpolation=cv2.INTER_AREA), np.uint8) if share < 1 else image


def _cover_spots(image: Bytes, spots: list[Speck], what: str) -> tuple[Touch, ...]:
    bare = (
        Cover(
            id=f"{what}-{n}", area=Stroke(points=(_round_place(spot.centre),), radius=round(spot.radius, 6), soft=0.4)
        )
        for n, spot in enumerate(spots, 1)
    )
    return choose_covers(image, tuple(bare))


def _round_place(place: Place) -> Place:
    return round(place[0], 6), round(place[1], 6)


def _eyes(image: Bytes, size: Size) -> tuple[Touch, ...]:
    """Pupils that glare, near where the eyes of a face are."""
    eyes: list[Touch] = []
    for (x, y), span in _eye_places(image):
        pupil_at = pupil(image, (x * size.width, y * size.height), span * _EYE_REACH * size.longer_side)
        if pupil_at is not None:
            place = _round_place((pupil_at[0][0] / size.width, pupil_at[0][1] / size.height))
            eyes.append(Eye(id=f"eye-{len(eyes) + 1}", centre=place, radius=round(pupil_at[1] / size.longer_side, 6)))
    return tuple(eyes)


def _eye_places(image: Bytes) -> list[tuple[Place, float]]:
    """Where the eyes of each face are, and the face's size, of the longer side. Two eyes stand about half a face's width
    apart, a little above its middle (proportions: common practice, no source)."""
    small = _shrink_to(image, SIDE)
    height, width = small.shape[:2]
    places: list[tuple[Place, float]] = []
    for face in faces(small):
        across = face.width * abs(face.up[1]) + face.height * abs(face.up[0])
        along = face.width * abs(face.up[0]) + face.height * abs(face.up[1])
        (ux, uy), (x, y) = face.up, face.centre
        for side in (-1, 1):
            eye = x + 0.1 * along * ux + side * 0.22 * across * -uy, y + 0.1 * along * uy + side * 0.22 * across * ux
            places.append(((eye[0] / width, eye[1] / height), along / max(width, height)))
    return places


def _features(image: Bytes) -> list[tuple[Place, float]]:
    """Eyes, nose and mouth of each face, each with how far about it nothing is a blemish."""
    features = [(place, span * _EYE_SPAN) for place, span in _eye_places(image)]
    small = _shrink_to(image, SIDE)
    height, width = small.shape[:2]
    for face in faces(small):
        along = face.width * abs(face.up[0]) + face.height * abs(face.up[1])
        for down in (0.12, 0.28):
            x, y = face.centre[0] - down * along * face.up[0], face.centre[1] - down * along * face.up[1]
            features.append(((x / width, y / height), 0.11 * along / max(width, height)))
    return features


def choose_covers(image: Bytes, touches: tuple[Cover, ...]) -> tuple[Cover, ...]:
    """Touches with the place found that each is best covered from, one after the other, so that none is taken from what is
    itself to be covered. What has no such place runs on from around."""
    pixels = image.copy()
    covers: list[Cover] = []
    for bare in touches:
        shift = find_best_shift(pixels, bare)
        touch = bare.copy_with(how="fill") if shift is None else bare.copy_with(shift=_round_place(shift))
        apply_touch(pixels, touch)
        covers.append(touch)
    return tuple(covers)


def eye_at(image: Bytes, point: Place, identity: str) -> Eye | None:
    """The glaring pupil about a place; None where there is none."""
    size = Size(image.shape[1], image.shape[0])
    pupil_at = pupil(image, (point[0] * size.width, point[1] * size.height), _POINTED * size.longer_side)
    if pupil_at is None:
        return None
    place = _round_place((pupil_at[0][0] / size.width, pupil_at[0][1] / size.height))
    return Eye(id=identity, centre=place, radius=round(pupil_at[1] / size.longer_side, 6))


def grey_at(image: Bytes, point: Place) -> WhiteBalance:
    """The balance that makes a place grey, its lightness kept (in light, by the two factors that a balance has)."""
    height, width = image.shape[:2]
    x, y = min(width - 1, max(0, int(point[0] * width))), min(height - 1, max(0, int(point[1] * height)))
    r = max(1, max(width, height) // 400)
    part = image[max(0, y - r) : y + r + 1, max(0, x - r) : x + r + 1].reshape(-1, 3)
    lit = light(np.median(part, axis=0) / 255).clip(1e-3)
    red, green, blue = (math.log2(float(v)) for v in lit)
    warmth, tint = (blue - red) / 2, green - (red + blue) / 2
    share = 0.5 / 100  # of a stop, for each unit of warmth and tint
    return WhiteBalance(warmth=_strength(warmth / share), tint=_strength(tint / share))


def _strength(value: float) -> float:
    return round(min(100.0, max(-100.0, value)), 1)

"""Photographs of the demo that are cut from those that ship with the shelf: other frames, sizes and light of the same day."""

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image

from ..shelf import SAMPLES

# Which of the shelf's photographs show a scene.
VIEWS: dict[str, tuple[str, ...]] = {
    "beach": ("beach", "shore", "row"), "kite": ("kite", "tails"), "dunes": ("dunes",), "workshop": ("workshop",),
    "detail": ("detail",), "stalls": ("bunting",), "flier": ("launch",), "dusk": ("pier", "launch"),
    "lanterns": ("lanterns", "glow"), "watchers": ("shore", "pier"), "children": ("row", "beach"),
}  # fmt: skip
LEAST_SHARE = 0.66  # of the largest frame of a shape
GRAIN = 3.0


def frame_photograph(scene: str, seed: int, width: int, height: int) -> NDArray[np.uint8]:
    """A photograph of a scene in ``VIEWS``, RGB: a part of one that ships, perhaps mirrored, with light and grain of its own.

    ``seed``: another is another frame; the same is the same pixels.
    """
    rng = np.random.default_rng([seed, *scene.encode()])
    names = VIEWS[scene]
    with Image.open(SAMPLES / f"sample-{names[seed % len(names)]}.jpg") as file:
        whole = np.asarray(file.convert("RGB"))
    rows, columns = whole.shape[:2]
    share = rng.uniform(LEAST_SHARE, 1.0) * min(columns / width, rows / height)
    w, h = round(width * share), round(height * share)
    left, top = (int(rng.uniform(0, room + 1)) for room in (columns - w, rows - h))
    part = whole[top : top + h, left : left + w]
    if rng.random() < 0.5:
        part = part[:, ::-1]
    large = cv2.resize(np.ascontiguousarray(part), (width, height), interpolation=cv2.INTER_CUBIC)
    light = np.clip(255 * (np.arange(256) / 255) ** rng.uniform(0.92, 1.1), 0, 255)
    curve = np.rint(light).astype(np.uint8)
    cv2.LUT(large, curve, large)
    tile = np.rint(rng.normal(0, GRAIN, (512, 512, 1))).astype(np.int8)
    for y in range(0, height, 512):
        for x in range(0, width, 512):
            piece = large[y : y + 512, x : x + 512]
            piece[:] = np.clip(piece.astype(np.int16) + tile[: piece.shape[0], : piece.shape[1]], 0, 255)
    return np.asarray(large, np.uint8)

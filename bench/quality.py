"""How near sampling comes to the truth: PSNR against a 16 x 16 times supersampled reference, beside plain warps.

Surfaces: flat (turned by 7 degrees), slanted (corners), grid (a Bezier patch). Pictures: a zone plate, and a photograph.
The others do the same job with their best of linear and cubic interpolation.
"""

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image
from skimage import data
from skimage.transform import warp

from sutaru.core.geometry.maps import Map, Projective
from sutaru.core.geometry.matrices import rotation, scaling, translation
from sutaru.core.geometry.patches import BezierPatch
from sutaru.core.geometry.quadrilaterals import quad_from_rectangle
from sutaru.core.paint.sampling import sample_picture

SIDE, N = 512, 16
BOX = (40, 40, 300, 300)
Bytes = NDArray[np.uint8]


def zone_plate() -> Bytes:
    """Rings that grow finer outwards, up to a third of the sampling rate (a common test picture)."""
    at = np.arange(SIDE) - SIDE / 2 + 0.5
    r2 = at[:, None] ** 2 + at[None, :] ** 2
    rings = 127.5 + 127.5 * np.cos(np.pi * r2 / (1.5 * SIDE))
    return np.repeat(np.rint(rings).astype(np.uint8)[..., None], 3, axis=-1)


def surfaces() -> dict[str, Map]:
    """px from the picture's own px."""
    middle = translation(-SIDE / 2, -SIDE / 2)
    flat = translation(170, 170) @ rotation(7) @ scaling(0.62, 0.62) @ middle
    quad = quad_from_rectangle(SIDE, SIDE, [(20, 30), (330, 5), (318, 335), (28, 290)]) @ middle
    net = np.stack(np.meshgrid(np.linspace(0, 340, 4), np.linspace(0, 340, 4)), axis=-1)
    net += np.random.default_rng(2).normal(0, 14, net.shape)
    grid = BezierPatch(net).after(scaling(1 / SIDE, 1 / SIDE))
    return {"flat": Projective(flat), "slanted": Projective(quad), "grid": grid}


def whence(onto: Map, finer: int) -> NDArray[np.float32]:
    """Whence each (sub)pixel of the box comes, as pixel-centre coordinates."""
    x = BOX[0] + (np.arange((BOX[2] - BOX[0]) * finer) + 0.5) / finer
    y = BOX[1] + (np.arange((BOX[3] - BOX[1]) * finer) + 0.5) / finer
    return (onto.inverse(np.stack(np.meshgrid(x, y), axis=-1)) - 0.5).astype(np.float32)


def finely(onto: Map) -> NDArray[np.float32]:
    """``whence(onto, N)``: exact twice a pixel, linear between, which is less than 0.0001 px off on these surfaces."""
    x = BOX[0] - 1 + (np.arange((BOX[2] - BOX[0] + 2) * 2) + 0.5) / 2
    y = BOX[1] - 1 + (np.arange((BOX[3] - BOX[1] + 2) * 2) + 0.5) / 2
    exact = (onto.inverse(np.stack(np.meshgrid(x, y), axis=-1)) - 0.5).astype(np.float32)
    fine = cv2.resize(exact, (len(x) * N // 2, len(y) * N // 2), interpolation=cv2.INTER_LINEAR)
    return np.asarray(fine[N:-N, N:-N], np.float32)


def reference(image: Bytes, fine: NDArray[np.float32]) -> NDArray[np.float64]:
    big = cv2.remap(
        image.astype(np.float32), fine[..., 0], fine[..., 1], cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE
    )
    h, w = BOX[3] - BOX[1], BOX[2] - BOX[0]
    return np.clip(big.reshape(h, N, w, N, 3).mean(axis=(1, 3)), 0, 255)


def by_opencv(image: Bytes, onto: Map) -> list[NDArray[np.float64]]:
    at = whence(onto, 1)
    return [
        cv2.remap(image, at[..., 0], at[..., 1], how, borderMode=cv2.BORDER_REPLICATE)
        for how in (cv2.INTER_LINEAR, cv2.INTER_CUBIC)
    ]


def by_pillow(image: Bytes, onto: Map) -> list[NDArray[np.float64]]:
    """A perspective transform; for the grid a mesh of small quadrilaterals, as its documentation shows."""
    picture, size = Image.fromarray(image), (BOX[2] - BOX[0], BOX[3] - BOX[1])
    found = []
    for how in (Image.Resampling.BILINEAR, Image.Resampling.BICUBIC):
        if onto.matrix is not None:
            back = np.linalg.inv(onto.matrix) @ translation(BOX[0], BOX[1])
            made = picture.transform(size, Image.Transform.PERSPECTIVE, (back / back[2, 2]).ravel()[:8].tolist(), how)
        else:
            step, mesh = 10, []
            for y in range(0, size[1], step):
                for x in range(0, size[0], step):
                    box = (x, y, min(size[0], x + step), min(size[1], y + step))
                    corners = [(box[0], box[1]), (box[0], box[3]), (box[2], box[3]), (box[2], box[1])]
                    quad = onto.inverse(np.array(corners, float) + BOX[:2]).ravel().tolist()
                    mesh.append((box, quad))
            made = picture.transform(size, Image.Transform.MESH, mesh, how)
        found.append(np.asarray(made))
    return found


def by_skimage(image: Bytes, onto: Map) -> list[NDArray[np.float64]]:
    at = whence(onto, 1).astype(np.float64)
    found = []
    for order in (1, 3):
        layers = [
            warp(image[..., c] / 255, np.stack([at[..., 1], at[..., 0]]), order=order, mode="edge") for c in range(3)
        ]
        found.append(np.clip(np.stack(layers, axis=-1), 0, 1) * 255)
    return found


def psnr(got: NDArray[np.float64], true: NDArray[np.float64]) -> float:
    return float(10 * np.log10(255**2 / np.mean((np.asarray(got, np.float64) - true) ** 2)))


def measure() -> list[tuple[str, str, dict[str, float]]]:
    """Surface, picture, and dB by maker."""
    found = []
    for name, onto in surfaces().items():
        fine = finely(onto)
        for what, image in (("zone plate", zone_plate()), ("photograph", data.astronaut())):
            true = reference(image, fine)
            found.append(
                (
                    name,
                    what,
                    {
                        "Sutaru": psnr(sample_picture(image, onto, BOX), true),
                        "OpenCV": max(psnr(got, true) for got in by_opencv(image, onto)),
                        "Pillow": max(psnr(got, true) for got in by_pillow(image, onto)),
                        "scikit-image": max(psnr(got, true) for got in by_skimage(image, onto)),
                    },
                )
            )
    return found


if __name__ == "__main__":
    for row in measure():
        print(*row)

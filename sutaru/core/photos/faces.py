"""Finding faces in a picture by CenterFace (Y. Xu, W. Yan and others, 2019), a small convolutional network, by onnxruntime.

The model lies beside this file with its licence; ``tools/build_face_model.py`` made it. It finds faces that look at the
camera or aside, dark ones, and such as lean by up to about 60 degrees; for pictures stored sideways or upside down the
picture is turned, when nothing was found upright.
"""

from dataclasses import dataclass, replace
from functools import cache
from pathlib import Path
from typing import Any

import cv2
import numpy as np
from numpy.typing import NDArray

Bytes = NDArray[np.uint8]
SIDE = 640  # px along the longer side that the network is given
# Sides of the further looks at a picture in which nothing was found: four of one size tell which way its faces stand, and
# one of the other finds them. On 388 pictures of 46 people, turned three ways, that finds as many as four looks at 320 px.
_TINY, _SMALL = 192, 256
SURE = 0.4  # the least score of a face: bricks, grass and a cat reach none at it, drawn faces 0.4 to 0.8
# A face that a further look finds, however it is turned, mostly left a score above this in the first. Of those turned
# pictures 83 % are found with it, 82 and 86 % with 0.1 and 0.06; most pictures without a face stay below: one look is enough.
_HINT = 0.08
_LIKELY = 0.15  # the same in a tiny look, turned the way the face is: at least 0.18 where a face was found then
_STEP, _CELL = 32, 4  # sides the network takes are multiples of this, px; px of a cell of its answer
_MODEL = Path(__file__).parent / "centerface" / "centerface.onnx"


@dataclass(frozen=True)
class Face:
    """A face from brow to chin: the middle and size of the box about it, px; which way its top is, a unit vector."""

    centre: tuple[float, float]
    width: float
    height: float
    up: tuple[float, float]
    score: float


@cache
def _network() -> Any:
    import onnxruntime  # here, since only those who look at photos pay for it

    options = onnxruntime.SessionOptions()
    options.intra_op_num_threads = options.inter_op_num_threads = 1  # each worker and thread looks at its own photo
    options.log_severity_level = 3
    return onnxruntime.InferenceSession(_MODEL.read_bytes(), options, providers=["CPUExecutionProvider"])


def faces(rgb: Bytes) -> list[Face]:
    """Faces of a picture of at most 640 px along its longer side, (h, w, 3), the largest first."""
    upright, most = _find_upright_faces(rgb)
    if not upright and most > _HINT:
        # Upright once more, since a face that fills the picture is found better small; or turned, all faces one way.
        tiny = _shrink_to(rgb, _TINY)
        likely = {turns: _find_upright_faces(np.rot90(tiny, turns))[1] for turns in (0, 2, 1, 3)}
        turns = max(likely, key=lambda turns: likely[turns])
        if likely[turns] > _LIKELY:
            small = _shrink_to(rgb, _SMALL)
            down, across = (side / less for side, less in zip(rgb.shape, small.shape[:2], strict=False))
            turned = (_turn_face(face, turns, small.shape) for face in _find_upright_faces(np.rot90(small, turns))[0])
            upright = [_enlarge_face(face, across, down) for face in turned]
    return sorted(upright, key=lambda face: -face.width * face.height)


def _shrink_to(rgb: Bytes, side: int) -> Bytes:
    """The picture at ``side`` px along its longer side, or as it is where that is less."""
    share = min(1.0, side / max(rgb.shape[:2]))
    width, height = (max(1, round(side * share)) for side in rgb.shape[1::-1])
    return np.asarray(cv2.resize(rgb, (width, height), interpolation=cv2.INTER_AREA), np.uint8)


def _enlarge_face(face: Face, x: float, y: float) -> Face:
    centre = face.centre[0] * x, face.centre[1] * y
    return replace(face, centre=centre, width=face.width * x, height=face.height * y)


def _turn_face(face: Face, turns: int, shape: tuple[int, ...]) -> Face:
    """A face found in a picture that was turned counter-clockwise by quarters, where it is in the picture as it was."""
    height, width = shape[:2]
    (x, y), (ux, uy), (w, h) = face.centre, face.up, (face.width, face.height)
    for left in range(turns, 0, -1):
        across = width if left % 2 else height  # of the picture before this quarter turn
        x, y, ux, uy, w, h = across - y, x, -uy, ux, h, w
    return replace(face, centre=(x, y), up=(ux, uy), width=w, height=h)


def _find_upright_faces(rgb: Bytes) -> tuple[list[Face], float]:
    """Faces of a picture as it stands, and the highest score in it, of a face or not."""
    height, width = rgb.shape[:2]
    below, right = -height % _STEP, -width % _STEP
    framed = cv2.copyMakeBorder(np.ascontiguousarray(rgb), 0, below, 0, right, cv2.BORDER_CONSTANT, value=(0, 0, 0))
    down, across = framed.shape[0] // 2, framed.shape[1] // 2
    blocks = framed.reshape(down, 2, across, 6).swapaxes(1, 2).reshape(1, down, across, 12)  # of two by two pixels
    heat, scale, offset, marks = (np.asarray(a)[0] for a in _network().run(None, {"blocks": blocks}))
    rows, columns = np.nonzero(heat[0] >= SURE)
    if not len(rows):
        return [], float(heat.max())
    high, wide = np.exp(scale[:, rows, columns]) * _CELL
    lower, further = offset[:, rows, columns]
    left = (columns + further + 0.5) * _CELL - wide / 2
    top = (rows + lower + 0.5) * _CELL - high / 2
    boxes = np.stack([left, top, wide, high], axis=1)
    scores = heat[0, rows, columns]
    rows_kept: list[NDArray[np.float32]] = []
    faces_seen: list[Face] = []
    for n in np.asarray(cv2.dnn.NMSBoxes(boxes.tolist(), scores.tolist(), SURE, 0.3)).ravel():
        middle = boxes[n, :2] + boxes[n, 2:] / 2
        if any(np.all(middle > box[:2]) and np.all(middle < box[:2] + box[2:]) for box in rows_kept):
            continue  # within a surer one: a mouth, or a shirt and its collar
        rows_kept.append(boxes[n])
        points = marks[:, rows[n], columns[n]].reshape(5, 2) * (high[n], wide[n])  # y and x, from the box's corner
        eyes, mouth = points[:2].mean(axis=0), points[3:].mean(axis=0)
        up = (eyes - mouth)[::-1]
        size = float(np.hypot(*up))
        ux, uy = (up / size).tolist() if size > 1e-6 else (0.0, -1.0)
        centre = float(left[n] + wide[n] / 2), float(top[n] + high[n] / 2)
        faces_seen.append(Face(centre, float(wide[n]), float(high[n]), (ux, uy), float(scores[n])))
    return faces_seen, float(heat.max())

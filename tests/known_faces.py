"""Pictures in which the faces are known: measured by eye, hairline to chin and ear to ear, in hundredths of the picture.

scikit-image's astronaut (public domain, NASA), and the test pictures of face_recognition 1.3.0 (MIT licence), fetched by
``tools/fetch_faces``; where those are not there, the astronaut alone.
"""

from collections.abc import Iterator
from pathlib import Path

import numpy as np
from PIL import Image
from skimage import data

FETCHED = Path(__file__).parent.parent / ".stamps" / "faces"
Face = tuple[float, float, float, float]  # left, top, right, bottom
MEASURED: dict[str, Face] = {
    "obama.jpg": (0.40, 0.03, 0.70, 0.36),
    "obama2.jpg": (0.33, 0.16, 0.79, 0.51),
    "obama3.jpg": (0.44, 0.10, 0.63, 0.275),
    "biden.jpg": (0.39, 0.05, 0.80, 0.28),
}
ASTRONAUT: Face = (0.34, 0.07, 0.57, 0.35)
# Openings from 1:3 to 3:1.
RATIOS = (1 / 3, 1 / 2, 2 / 3, 3 / 4, 4 / 5, 1.0, 5 / 4, 4 / 3, 3 / 2, 2.0, 3.0)


def pictures() -> Iterator[tuple[str, np.ndarray, Face, tuple[float, float]]]:
    """Name, pixels and face of each picture, as it is, mirrored, and cut so that the face stands off the middle.

    Also how far off the face's sides may be measured, across and down: a hundredth of the picture as it came.
    """
    whole = [("astronaut", data.astronaut(), ASTRONAUT)]
    for name, face in MEASURED.items():
        if (FETCHED / name).exists():
            with Image.open(FETCHED / name) as picture:
                whole.append((name, np.asarray(picture.convert("RGB")), face))
    for name, pixels, (x0, y0, x1, y1) in whole:
        yield name, pixels, (x0, y0, x1, y1), (0.01, 0.01)
        yield f"{name} mirrored", np.ascontiguousarray(pixels[:, ::-1]), (1 - x1, y0, 1 - x0, y1), (0.01, 0.01)
        # The lower part of the sheet goes, so that the face stands low or aside in a wide picture.
        height, width = pixels.shape[:2]
        bottom = min(1.0, y1 + 0.12)
        left = max(0.0, x0 - 0.08)
        cut = pixels[: round(bottom * height), round(left * width) :]
        yield (
            f"{name} cut", np.ascontiguousarray(cut),
            ((x0 - left) / (1 - left), y0 / bottom, (x1 - left) / (1 - left), y1 / bottom),
            (0.01 / (1 - left), 0.01 / bottom),
        )  # fmt: skip

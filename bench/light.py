"""``python -m bench.light``: what reduction looks like when encoded values are averaged, and when light is; docs/reduction.png.

Three things at 300 ppi from a photo four times as dense: a checkerboard of single pixels, dark and light hairs, a scene.
"""

from pathlib import Path

import cv2
import numpy as np
from numpy.typing import NDArray

from sutaru.core.geometry.maps import Projective
from sutaru.core.geometry.matrices import scaling
from sutaru.core.mending.tone import light, value
from sutaru.core.paint.sampling import sample_picture
from sutaru.demo.scenes import picture

Bytes = NDArray[np.uint8]
PICTURE = Path(__file__).parent.parent / "docs" / "reduction.png"
FACTOR = 4


def checkerboard(side: int = 480) -> Bytes:
    """Single pixels of 0 and 255."""
    y, x = np.mgrid[:side, :side]
    return np.repeat(((x + y) % 2 * 255).astype(np.uint8)[..., None], 3, -1)


def hairs(side: int = 480) -> Bytes:
    """Strands 1 to 3 px wide, dark against a bright sky in the upper half, light against dark cloth in the lower."""
    rng = np.random.default_rng(4)
    sheet = np.zeros((side, side, 3), np.uint8)
    sheet[: side // 2], sheet[side // 2 :] = (196, 214, 232), (38, 36, 44)
    for half, colour in ((0, (48, 34, 26)), (1, (226, 206, 168))):
        strands = sheet[half * side // 2 : (half + 1) * side // 2]
        for n in range(26):
            x = rng.uniform(0, side)
            line = np.array([(x + rng.normal(0, 6) + t * 30 * np.sin(n), side / 2 * t) for t in np.linspace(0, 1, 12)])
            cv2.polylines(strands, [np.round(line * 16).astype(np.int32)], False, colour, 1 + n % 3, cv2.LINE_AA, 4)
    return sheet


def encoded(image: Bytes) -> Bytes:
    """As the application does."""
    side = image.shape[1] // FACTOR, image.shape[0] // FACTOR
    return sample_picture(image, Projective(scaling(1 / FACTOR, 1 / FACTOR)), (0, 0, *side))


def in_light(image: Bytes) -> Bytes:
    """The mean of the light of each block, then its value."""
    side = image.shape[1] // FACTOR, image.shape[0] // FACTOR
    mean = cv2.resize(light(image.astype(np.float64) / 255), side, interpolation=cv2.INTER_AREA)
    return np.rint(value(mean) * 255).astype(np.uint8)


def main() -> None:
    scene = picture("makers", 3, 1440, 960)
    rows = []
    for name, image in (("checkerboard", checkerboard()), ("hairs", hairs()), ("scene", scene)):
        ours, other = encoded(image), in_light(image)
        off = np.abs(ours.astype(int) - other)
        line = f"{name}: mean {ours.mean():.1f} encoded, {other.mean():.1f} in light"
        line += f"; apart by {off.mean():.2f}, at most {off.max()}"
        if name == "hairs":
            upper, lower = np.s_[: len(ours) // 2], np.s_[len(ours) // 2 :]
            line += "; contrast of dark hairs {:.0f} and {:.0f}, of light hairs {:.0f} and {:.0f}".format(
                *(float(p[part].std() * 2) for part in (upper, lower) for p in (ours, other))
            )
        print(line)
        if name != "hairs":
            continue  # one grey beside another; two pictures that nobody can tell apart
        large = [cv2.resize(p[:120, :180], None, fx=3, fy=3, interpolation=cv2.INTER_NEAREST) for p in (ours, other)]
        rows.append(
            np.hstack([cv2.copyMakeBorder(p, 4, 4, 4, 4, cv2.BORDER_CONSTANT, value=(128,) * 3) for p in large])
        )
    width = max(row.shape[1] for row in rows)
    rows = [cv2.copyMakeBorder(r, 0, 0, 0, width - r.shape[1], cv2.BORDER_CONSTANT, value=(128,) * 3) for r in rows]
    cv2.imwrite(str(PICTURE), np.vstack(rows)[..., ::-1])


if __name__ == "__main__":
    main()

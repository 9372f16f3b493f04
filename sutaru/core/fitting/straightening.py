"""A photo put upright: the camera turned back, the lens made straight, all of the frame filled."""

import math

import numpy as np

from ..document import KeepArea, Photo, Upright
from ..geometry.lenses import Unbent, camera_turn
from ..geometry.maps import Map, Projective, chain_maps
from ..geometry.matrices import scaling, translation
from ..remembering import remember

# As if taken by a lens of 40 mm on a sensor 36 mm wide: between a wide lens and a long one, where nothing tells.
FOCAL = 40 / 36
_BARREL = -0.25  # the division model's k at a bend of 100, r being half the diagonal


@remember
def upright_from_photo(upright: Upright, width: int, height: int) -> Map:
    """From a photo of so many px to the same one upright, which fills the same frame."""
    longer, half = max(width, height), math.hypot(width, height) / 2
    turned: Map = Projective(camera_turn(FOCAL * longer, upright.pitch_deg, upright.yaw_deg, upright.roll_deg))
    if upright.bend:
        turned = chain_maps(Unbent(_BARREL * upright.bend / 100, half), turned)
    # What was in the middle stays there; as much larger as it takes for the frame to be filled.
    turned = turned.then(translation(*-turned.apply(np.zeros(2))))
    x, y = np.linspace(-width / 2, width / 2, 17), np.linspace(-height / 2, height / 2, 17)
    edge = np.concatenate(
        [np.stack(np.broadcast_arrays(x, side), -1) for side in (-height / 2, height / 2)]
        + [np.stack(np.broadcast_arrays(side, y), -1) for side in (-width / 2, width / 2)]
    )
    low, high = 0.2, 40.0
    for _ in range(50):
        middle = (low + high) / 2
        seen = turned.inverse(edge / middle)
        inside = np.all(np.abs(seen) <= np.array([width, height]) / 2 * (1 + 1e-9))
        low, high = (low, middle) if inside else (middle, high)
    to_middle, back = translation(-width / 2, -height / 2), translation(width / 2, height / 2)
    return turned.then(back @ scaling(high, high)).after(to_middle)


def most_enlarged(upright: Upright, width: int, height: int) -> float:
    """By how much a photo is enlarged by being put upright, where that is most."""
    onto = upright_from_photo(upright, width, height)
    corners = np.array([(x, y) for x in (0, width / 2, width) for y in (0, height / 2, height)], np.float64)
    return float(onto.stretch(onto.inverse(corners))[0].max())


def areas_upright(photo: Photo, upright: Upright) -> tuple[KeepArea, ...]:
    """Where what must stay visible lies once a photo is upright; what is cut off is left out."""
    onto, size = upright_from_photo(upright, photo.width, photo.height), np.array([photo.width, photo.height])
    areas = []
    turns = np.linspace(0, 2 * math.pi, 24, endpoint=False)
    for area in photo.keep_areas:
        rim = np.stack([np.cos(turns), np.sin(turns)], -1) / 2 + 0.5
        seen = onto.apply((rim * (area.width, area.height) + (area.left, area.top)) * size) / size
        low, high = np.clip(seen.min(axis=0), 0, 1), np.clip(seen.max(axis=0), 0, 1)
        wide, high_ = (high - low - 1e-9).tolist()
        if wide > 1e-4 and high_ > 1e-4:
            areas.append(area.copy_with(left=float(low[0]), top=float(low[1]), width=wide, height=high_))
    return tuple(areas)

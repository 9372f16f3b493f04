"""The colours that files are written in: the RGB space pages are worked out in, or a press's inks.

Inks come as arrays (h, w, n), n = 4 for cyan, magenta, yellow and black, 1 for grey; 255 is a full ink, and for grey white, or
65,535 where pixels have 16 bits. Conversions are LittleCMS's, by the intent and black point compensation that the lab sheet
names.
"""

import io
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np
from PIL import Image, ImageCms

from ..depths import Values
from ..document import LabSheet
from ..document.lab import Space
from ..document.press import Intent, Press
from ..errors import FileRefused
from ..remembering import remember
from .inks import NO_LIMIT, convert_deep, convert_to_inks
from .profiles import describe_profile, profile_bytes

Mode = Literal["RGB", "CMYK", "L"]
Assets = Callable[[str], bytes]
PRESSES = {"fogra39": "Coated paper, FOGRA39", "tr006": "Coated paper, TR 006", "grey": "Grey"}  # those that ship
MOST_BYTES = 8 << 20  # of a lab's own profile
INTENTS = {
    "perceptual": ImageCms.Intent.PERCEPTUAL, "relative": ImageCms.Intent.RELATIVE_COLORIMETRIC,
    "saturation": ImageCms.Intent.SATURATION, "absolute": ImageCms.Intent.ABSOLUTE_COLORIMETRIC,
}  # fmt: skip
_MODES: dict[str, Mode] = {"RGB": "RGB", "CMYK": "CMYK", "GRAY": "L"}
CHANNELS: dict[Mode, int] = {"RGB": 3, "CMYK": 4, "L": 1}


@dataclass(frozen=True)
class ProfileFacts:
    """What an ICC file says of itself. ``kind``: prtr (output), mntr (display), scnr, ..."""

    description: str
    kind: str
    space: str
    bytes: int


@dataclass(frozen=True)
class Output:
    """The colour of a file: its profile, and how pixels of the working space come to it."""

    space: Space
    icc: bytes
    mode: Mode = "RGB"
    intent: Intent = "relative"
    black_point: bool = True
    most_ink: float = NO_LIMIT  # percent of one ink in one place

    @property
    def name(self) -> str:
        """What the profile calls itself."""
        return describe_profile(self.icc)[0]

    @property
    def channels(self) -> int:
        """How many numbers a pixel has."""
        return CHANNELS[self.mode]

    def convert(self, rgb: Values) -> Values:
        """Pixels (h, w, 3) of the working space in this colour, (h, w, channels), as deep as they are."""
        if self.mode == "RGB" and self.icc == profile_bytes(self.space):
            return rgb
        if rgb.dtype == np.uint16:
            return convert_deep(rgb, self.space, self.icc, self.intent, self.black_point, self.most_ink)
        if self.mode == "CMYK":
            return convert_to_inks(rgb, self.space, self.icc, self.intent, self.black_point, self.most_ink)
        onto = press_transform(self.space, self.icc, self.mode, self.intent, self.black_point)
        converted = np.asarray(ImageCms.applyTransform(Image.fromarray(rgb), onto))
        return converted if converted.ndim == 3 else converted[..., None]


RINGS = 9  # percent of ink that JPEG may add beside an edge, or to the grain of a dark photo


def output_of(lab: LabSheet, assets: Assets, rgb: bool = False, as_jpeg: bool = False) -> Output:
    """What a lab sheet's files are written in. ``rgb``: in RGB, whatever the press. ``as_jpeg``: what JPEG adds is within the
    press's limit of ink as well. Raises what ``assets`` raises."""
    press = lab.press
    if rgb or press is None or not press.convert:
        return Output(lab.profile, profile_bytes(lab.profile))
    icc = press_bytes(press, assets)
    most = press.ink_limit - (RINGS if as_jpeg else 0)
    return Output(lab.profile, icc, _MODES[describe_profile(icc)[1]], press.intent, press.black_point, most)


def press_bytes(press: Press, assets: Assets) -> bytes:
    """A press's ICC profile."""
    return assets(press.profile) if len(press.profile) == 64 else profile_bytes(press.profile)


@remember
def press_transform(
    space: Space, icc: bytes, mode: Mode, intent: Intent, black_point: bool
) -> ImageCms.ImageCmsTransform:
    """From the working space to a press. Raises FileRefused when the profile cannot be used so."""
    try:
        source, onto = (ImageCms.ImageCmsProfile(io.BytesIO(data)) for data in (profile_bytes(space), icc))
        flags = ImageCms.Flags.BLACKPOINTCOMPENSATION if black_point else ImageCms.Flags.NONE
        return ImageCms.buildTransform(source, onto, "RGB", mode, INTENTS[intent], flags)
    except (ImageCms.PyCMSError, OSError, ValueError):
        raise FileRefused(
            "This profile cannot turn colours into inks.", "Ask the lab for the output profile of its press."
        ) from None


def read_profile(data: bytes, name: str) -> ProfileFacts:
    """What a lab's own ICC file is. Raises FileRefused when it is none, or none to print by."""
    if len(data) > MOST_BYTES:
        raise FileRefused(f"{name} is larger than {MOST_BYTES >> 20} MB.", "Ask the lab for the profile of its press.")
    if len(data) < 132 or data[36:40] != b"acsp":
        raise FileRefused(f"{name} is no ICC profile.", "Choose a file that ends in .icc or .icm.")
    description, space = describe_profile(data)
    kind = data[12:16].decode("latin-1").strip()
    if not space:
        raise FileRefused(f"{name} is a damaged ICC profile.", "Ask the lab for it once more.")
    if space not in _MODES:
        raise FileRefused(f"{name} is a profile for {space}, not for RGB, CMYK or grey.", "Ask the lab for another.")
    if kind not in ("prtr", "mntr"):
        raise FileRefused(
            f"{name} is no output profile (its class is {kind}).", "Ask the lab for the profile of its press."
        )
    press_transform("srgb", data, _MODES[space], "relative", True)
    return ProfileFacts(description or name, kind, space, len(data))

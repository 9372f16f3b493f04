"""Mending a photo by a recipe: its places by retouching, then its tone and colour."""

from .areas import Size
from .retoucher import Retoucher, apply_touch, reach_of, retouch_image, source
from .straightening import detect_upright
from .subject_selection import select_subject
from .tone import apply_recipe, curves
from .tone_matching import match_tones

__all__ = [
    "Retoucher",
    "Size",
    "apply_recipe",
    "apply_touch",
    "curves",
    "detect_upright",
    "match_tones",
    "reach_of",
    "retouch_image",
    "select_subject",
    "source",
]  # fmt: skip

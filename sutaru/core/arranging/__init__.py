"""Arranging the layers of a layout: turning, mirroring, aligning, repeating, splitting. Pure: Layout -> Layout."""

from .aligning import aligned, distributed, layers_box, page_box, same_size
from .making import dissolved, fresh_id, gathered, made_one, repeated, split
from .moving import Mirror, Motion, carried
from .sizing import Fitting, resized
from .turning import Turning, turned

__all__ = [
    "Fitting", "Mirror", "Motion", "Turning", "aligned", "carried", "dissolved", "distributed", "fresh_id", "gathered",
    "layers_box", "made_one", "page_box", "repeated", "resized", "same_size", "split", "turned",
]  # fmt: skip

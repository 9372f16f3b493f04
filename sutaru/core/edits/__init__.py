"""Typed edits, the program's whole command list: ``apply(job, edit) -> job``, pure, refusing with a plain sentence."""

from .apply import apply, label
from .kinds import BringIn, ChooseLab, Clear, Edit, Fill, Place, Put, Rename, Swap, TakeOut, Write

__all__ = [
    "BringIn", "ChooseLab", "Clear", "Edit", "Fill", "Place", "Put", "Rename", "Swap", "TakeOut", "Write", "apply", "label"
]  # fmt: skip

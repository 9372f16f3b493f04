"""Folded cards: the panels of a sheet, which of them lie upside down on it, how it folds, and cards begun from nothing."""

from .folding import KINDS, Folding, Hinge, Panel, make_folding, read_folding
from .new_card import CARD, begin_card
from .orientation import find_folded_sheets, is_suited, rotate_card

__all__ = [
    "CARD",
    "KINDS",
    "Folding",
    "Hinge",
    "Panel",
    "begin_card",
    "find_folded_sheets",
    "is_suited",
    "make_folding",
    "read_folding",
    "rotate_card",
]  # fmt: skip

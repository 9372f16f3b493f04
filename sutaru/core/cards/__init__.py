"""Folded cards: the panels of a sheet, which of them lie upside down on it, how it folds, and cards begun from nothing."""

from .beginning import CARD, begun_card
from .folding import KINDS, Folding, Hinge, Panel, folding, folding_of
from .turning import folded_sheets, suits, turned_card

__all__ = [
    "CARD", "KINDS", "Folding", "Hinge", "Panel", "begun_card", "folded_sheets", "folding", "folding_of", "suits", "turned_card",
]  # fmt: skip

"""Folded cards: the panels of a sheet, which of them lie upside down on it, how it folds, and cards begun from nothing."""

from .beginning import CARD, begun_card
from .folding import KINDS, Folding, Hinge, Panel, folding, folding_of

__all__ = ["CARD", "KINDS", "Folding", "Hinge", "Panel", "begun_card", "folding", "folding_of"]

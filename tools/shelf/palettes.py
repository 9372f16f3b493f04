"""Colours and type that go together. All are our own; each is two families at most, and dark enough on its paper to be read."""

from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class Look:
    """A palette and its type: ``display`` for titles, ``plain`` for the rest."""

    paper: str
    ink: str
    main: str
    soft: str
    display: str
    plain: str
    display_more: tuple[tuple[str, Any], ...] = ()

    @property
    def swatches(self) -> dict[str, str]:
        return {"Paper": self.paper, "Ink": self.ink, "Main": self.main, "Soft": self.soft}

    @property
    def title(self) -> dict[str, Any]:
        return {"font": self.display, **dict(self.display_more)}


LINEN = Look("#faf7f1", "#2b2a27", "#7a5a3a", "#e8dfd0", "EB Garamond", "Lato")
CHALK = Look("#ffffff", "#22272b", "#3f5663", "#e6eaec", "Quattrocento", "Karla")
SLATE = Look("#23292e", "#f2efe8", "#c9a66b", "#3a434a", "GFS Didot", "Lato")
SAGE = Look("#f6f5ef", "#2e342c", "#66785c", "#dfe4d8", "Yrsa", "Cabin")
BLUSH = Look("#fbf5f1", "#3a2b2a", "#a4584c", "#efdad0", "GFS Didot", "Quicksand")
TIDE = Look("#f3f7f7", "#1e3138", "#1f6475", "#d4e4e6", "Vollkorn", "Manrope")
BOLD = Look("#fffdf7", "#1d1f24", "#c63d2b", "#f3c64b", "Bebas Neue", "Manrope", (("tracking", 40),))
NIGHT = Look("#101a2b", "#f5ead6", "#e0a04a", "#22314a", "Old Standard", "Cabin")
FIR = Look("#f7f4ec", "#1f2c26", "#245243", "#c8402f", "Yrsa", "Lato")
PLUM = Look("#f8f4f6", "#2c2029", "#6b3555", "#e6d6e0", "Quattrocento", "Lato")
SUN = Look("#fffaf0", "#33291a", "#96540a", "#fbe3b3", "League Spartan", "Quicksand", (("weight", 700),))

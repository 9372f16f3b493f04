"""Everything that causes reprints, found by the machine; and the ledger of what was measured."""

from .finding import Finding
from .ledger import Counts, EchoPlace, Measured, OpeningPlace, Places, Row, measured, places
from .rules import RULES, check, check_job

__all__ = [
    "RULES", "Counts", "EchoPlace", "Finding", "Measured", "OpeningPlace", "Places", "Row", "check", "check_job", "measured",
    "places",
]  # fmt: skip

"""Everything that causes reprints, found by the machine; and the ledger of what was measured."""

from .finding import Finding
from .ledger import Counts, EchoPlace, Measured, OpeningPlace, Places, Row, measure_sheet, places
from .rules import RULES, check, check_job

__all__ = [
    "RULES", "Counts", "EchoPlace", "Finding", "Measured", "OpeningPlace", "Places", "Row", "check", "check_job", "measure_sheet",
    "places",
]  # fmt: skip

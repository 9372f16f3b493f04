"""Everything that causes reprints, found by the machine; and the ledger of what was measured."""

from .ledger import Row, ledger
from .rules import RULES, Finding, check

__all__ = ["RULES", "Finding", "Row", "check", "ledger"]

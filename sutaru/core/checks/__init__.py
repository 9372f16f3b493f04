"""Everything that causes reprints, found by the machine; and the ledger of what was measured."""

from .ledger import EchoRow, Row, echoes, ledger
from .rules import RULES, Finding, check

__all__ = ["RULES", "EchoRow", "Finding", "Row", "check", "echoes", "ledger"]

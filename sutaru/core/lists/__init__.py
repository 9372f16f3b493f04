"""Lists of customers: read from CSV or XLSX, and each column matched to what it says in a job."""

from .matching import Meaning, matched, says
from .reading import Table, read_list

__all__ = ["Meaning", "Table", "matched", "read_list", "says"]

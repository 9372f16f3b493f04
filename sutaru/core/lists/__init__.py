"""Lists of customers: read from CSV or XLSX, and each column matched to what it says in a job."""

from .column_meanings import Meaning, list_meanings, match_columns
from .list_file import Table, read_list

__all__ = ["Meaning", "Table", "list_meanings", "match_columns", "read_list"]

"""Sutaru fits customer photos into layered print templates and exports print-ready files."""

__version__ = "0.1.0"

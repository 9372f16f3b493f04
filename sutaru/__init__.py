"""Sutaru fits customer photos into layered print templates and exports print-ready files.

In a script: ``open_shelf().start(template)`` begins a job, ``open_job(path)`` opens one (docs/scripts.md).
"""

from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from .scripting.shelf import open_job as open_job
    from .scripting.shelf import open_shelf as open_shelf

__version__ = "0.1.0"
__all__ = ["__version__", "open_job", "open_shelf"]


def __getattr__(name: str) -> Any:
    """Load what scripts use when they ask for it: commands and the server load less."""
    if name in ("open_job", "open_shelf"):
        from .scripting import shelf

        return getattr(shelf, name)
    raise AttributeError(f"module {__name__!r} has no attribute {name!r}")

"""Lab sheets of the shelf, by their ids."""

from ..core.document import LabSheet
from ..core.errors import NotFound
from ..core.formats import shelf as shelf_files
from ..shelf import FOLDER


def find_lab(identity: str) -> LabSheet:
    """Find a lab sheet of the shelf. Raises NotFound, which names those there are."""
    labs = shelf_files.read_shelf(FOLDER).labs
    if identity not in labs:
        raise NotFound(f"There is no lab sheet {identity}.", f"Choose one of: {', '.join(labs)}.")
    return labs[identity]

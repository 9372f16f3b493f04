"""Lab sheets of the shelf, by their ids."""

from ..core.document import BookSize, LabSheet
from ..core.errors import NotFound
from ..core.formats import shelf as shelf_files
from ..shelf import FOLDER

_SAME_MM = 0.2


def find_lab(identity: str) -> LabSheet:
    """Find a lab sheet of the shelf. Raises NotFound, which names those there are."""
    labs = shelf_files.read_shelf(FOLDER).labs
    if identity not in labs:
        raise NotFound(f"There is no lab sheet {identity}.", f"Choose one of: {', '.join(labs)}.")
    return labs[identity]


def find_size(lab: LabSheet, width_mm: float, height_mm: float) -> BookSize:
    """Find a size of page that a lab binds. Raises NotFound, which names those there are."""
    sizes = lab.bindery.sizes if lab.bindery else ()
    for size in sizes:
        if abs(size.width_mm - width_mm) < _SAME_MM and abs(size.height_mm - height_mm) < _SAME_MM:
            return size
    if not sizes:
        raise NotFound(f"{lab.name} binds no books.", "Choose another lab sheet.")
    raise NotFound("The lab binds no pages of this size.", f"Choose one of: {', '.join(size.name for size in sizes)}.")

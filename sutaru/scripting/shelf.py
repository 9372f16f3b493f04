"""The shelf in a script: its templates, lab sheets and themes, and jobs begun from them."""

from pathlib import Path

from ..core.document import Job, LabSheet, Template
from ..core.errors import NotFound
from ..core.formats import shelf as shelf_files
from ..core.formats.template_file import read_template_file
from ..core.paint import Assets, refuse_asset
from ..shelf import FOLDER
from .job import OpenJob
from .labs import find_lab

SUFFIX = ".sutaru-template"


def find_template(name: str) -> tuple[Template, Assets]:
    """Find the template that an id of the shelf or a file's path names, and what gives its drawings.

    Raises NotFound, FileRefused.
    """
    if name.endswith(SUFFIX) or Path(name).is_file():
        if not Path(name).is_file():
            raise NotFound(f"There is no file {name}.")
        template, files = read_template_file(Path(name))
        return template, lambda asset: files[asset] if asset in files else refuse_asset(asset)
    shelf = shelf_files.read_shelf(FOLDER)
    if name not in shelf.templates:
        raise NotFound(f"There is no template {name}.", f"Choose one of: {', '.join(shelf.templates)}.")
    return shelf.templates[name], shelf.asset


def open_job(name: str | Path, lab: LabSheet | None = None) -> OpenJob:
    """Open a job's bundle; or a template, by its id or file, as a job without photos. Raises NotFound, FileRefused.

    ``lab``: the lab sheet of a template, else the first of the shelf.
    """
    name = str(name)
    if name.endswith(SUFFIX) or (not Path(name).suffix and name in shelf_files.read_shelf(FOLDER).templates):
        template, asset = find_template(name)
        return OpenJob(
            begin(template, template.name, lab or next(iter(shelf_files.read_shelf(FOLDER).labs.values()))), asset
        )
    return OpenJob.read(Path(name))


def begin(template: Template, name: str, lab: LabSheet) -> Job:
    """A job on a template's own sheets, empty."""
    return Job(name=name, template=template.id, product=template.product, sheets=template.sheets, lab=lab)


def variants_of(template: Template) -> list[Template]:
    """A template of the shelf and its variants, of which the first photo chooses; of a file the template alone."""
    known = shelf_files.read_shelf(FOLDER).templates
    if template.id not in known:
        return [template]
    return [candidate for candidate in known.values() if candidate.group == template.group]


class OpenShelf:
    """What ships: templates, lab sheets and themes by their ids."""

    def __init__(self) -> None:
        shelf = shelf_files.read_shelf(FOLDER)
        self.templates, self.labs, self.themes = shelf.templates, shelf.labs, shelf.themes

    def start(self, template: str | Path, name: str = "", lab: str = "gullwing-300") -> OpenJob:
        """Start a job from a template, by its id or the path of its file.

        ``lab``: id of the lab sheet that says at what ppi, in which colours and in what format the job is exported.
        Of variants the one is chosen that suits the first photo. Raises NotFound, FileRefused.
        """
        template_read, asset = find_template(str(template))
        job = begin(template_read, name or template_read.name, find_lab(lab)).copy_with(
            without_samples=True, variants=(template_read.id,)
        )
        return OpenJob(job, asset, waiting=variants_of(template_read))


def open_shelf() -> OpenShelf:
    """Open the shelf that ships."""
    return OpenShelf()

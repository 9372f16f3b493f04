"""The template file, ``.sutaru-template``: an open zip of ``template.json`` and ``assets/<sha256>``.

``template.json`` is the Template model's JSON, of this or any earlier version. Written whole or not at all.
"""

import hashlib
import zipfile
from pathlib import Path

from pydantic import ValidationError

from .. import limits
from ..document import Template
from ..errors import FileRefused
from ..paint import Assets
from ..press.files import write_whole
from .bundle import DAMAGED, MADE, asset_names, parse_object
from .shelf import describe_invalid
from .upgrading import upgrade_template

TEMPLATE = "template.json"


def write_template_file(target: Path, template: Template, asset: Assets) -> None:
    """Writes a template with the drawings and masks it names. Raises what ``asset`` raises."""
    with write_whole(target, lambda path: None) as file, zipfile.ZipFile(file, "w") as packed:
        packed.writestr(zipfile.ZipInfo(TEMPLATE, MADE), template.model_dump_json(indent=1), zipfile.ZIP_DEFLATED)
        for name in sorted(asset_names(template.sheets)):
            packed.writestr(zipfile.ZipInfo(f"assets/{name}", MADE), asset(name), zipfile.ZIP_DEFLATED)


def read_template_file(path: Path) -> tuple[Template, dict[str, bytes]]:
    """The template in a file, and its drawings and masks by their sha256. Raises FileRefused."""
    try:
        with zipfile.ZipFile(path) as packed:
            if packed.getinfo(TEMPLATE).file_size > limits.JOB_BYTES:
                raise FileRefused(f"The template in {path.name} is too large to be one.")
            data, files = upgrade_template(parse_object(packed.read(TEMPLATE)))
            template = Template.model_validate(data)
            for name in asset_names(template.sheets) - files.keys():
                files[name] = _asset(packed, path, name)
    except ValidationError as error:
        raise FileRefused(f"The template in {path.name} is not valid: {describe_invalid(error)}.") from None
    except DAMAGED:
        raise FileRefused(f"{path.name} is not a template of Sutaru's.", "Ask for it to be made anew.") from None
    return template, files


def _asset(packed: zipfile.ZipFile, path: Path, name: str) -> bytes:
    try:
        info = packed.getinfo(f"assets/{name}")
    except KeyError:
        raise FileRefused(
            f"{path.name} lacks a drawing that its template names.", "Ask for it to be made anew."
        ) from None
    if info.file_size > limits.OVERLAY_BYTES:
        raise FileRefused(f"A picture in {path.name} is larger than {limits.OVERLAY_BYTES // limits.MB} MB.")
    data = packed.read(info)
    if hashlib.sha256(data).hexdigest() != name:
        raise FileRefused(f"A drawing in {path.name} is not the one that its template names.")
    return data

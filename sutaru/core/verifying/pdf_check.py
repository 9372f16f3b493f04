"""A PDF held against ISO 15930-7 (PDF/X-4) where it says to keep to it, and against a lab sheet. One rule a function.

The standard's clauses are from memory. A file is opened and its structure read; pictures are decoded at an eighth of their size,
to see whether they are whole, and to count their ink where a lab sheet says how much a press takes. What cannot be read is a
defect, never passed, and logged.
"""

import logging
from collections.abc import Callable
from pathlib import Path

import pikepdf

from ..colour.output import Assets
from ..document import LabSheet
from .checked_pdf import CheckedPdf, Found, defect
from .file_rules import (
    actions,
    claims,
    describe_reader_error,
    encryption,
    identity,
    intended_press,
    layers,
    metadata,
    output_intent,
    syntax,
    trapped,
    version,
)
from .page_rules import (
    annotations,
    boxes,
    colours,
    fonts,
    ink,
    lines,
    odd,
    overprint,
    pixels,
    profiles,
    size,
    spots,
    words,
)
from .pages import read_painted
from .report import Defect, Report

log = logging.getLogger("sutaru.verifying")

RULES: tuple[Callable[[CheckedPdf], Found], ...] = (
    claims, syntax, version, identity, encryption, output_intent, intended_press, metadata, trapped, actions, layers, boxes,
    size, annotations, colours, profiles, spots, fonts, pixels, lines, words, overprint, odd, ink,
)  # fmt: skip


def verify_pdf(
    path: Path, lab: LabSheet | None = None, assets: Assets | None = None, decodes_pictures: bool = True
) -> Report:
    """A PDF looked over. ``lab``: held against its sheet as well; ``assets`` gives a lab's own profile; with
    ``decodes_pictures``, also whether they are whole within."""
    held = (*(("ISO 15930-7",) if lab is None or lab.pdf.x4 else ()), *((lab.name,) if lab else ()))
    try:
        pdf = pikepdf.open(path)
    except pikepdf.PasswordError:
        locked = defect("encrypted", "It is locked by a password: a lab cannot print it.")
        return Report(file=path.name, kind="pdf", checked=held, defects=(locked,))
    except (pikepdf.PdfError, OSError) as error:
        broken = defect(
            "damaged", f"It cannot be read as a PDF: {describe_reader_error(error, str(path))}. Ask for it anew."
        )
        return Report(file=path.name, kind="pdf", checked=held, defects=(broken,))
    with pdf:
        looked = CheckedPdf(pdf, lab, assets, decodes_pictures)
        looked.seen = [read_painted(page) for page in pdf.pages]
        defects: list[Defect] = []
        for rule in RULES:
            try:
                defects += rule(looked)
            except Exception:  # a rule that could not look is never taken for one that passed
                log.exception("%s in %s", rule.__name__, path.name)
                sentence = f"Not checked for {rule.__name__.replace('_', ' ')}: it could not be looked for. Look for it by eye."
                defects.append(defect(rule.__name__, sentence))
        try:
            standard = looked.claimed_standard
        except Exception:
            standard = ""
        return Report(
            file=path.name, kind="pdf", standard=standard, pages=len(pdf.pages), checked=held, defects=tuple(defects)
        )

"""Templates and lab sheets."""

import random
from dataclasses import dataclass

from fastapi import APIRouter, Response
from fastapi.responses import FileResponse

from ..core.document import Job, LabSheet, Making, Template
from ..core.document.layout import walk_layers
from ..core.edits.apply import apply
from ..core.edits.kinds import BringIn, Fill
from ..core.errors import NotFound
from ..shelf.pictures import find_picture
from .catalogue import InCatalogue
from .models.templates import OrnamentPiece, SheetCard, TemplateCard
from .pictures import cover_picture
from .samples import sample_photos
from .studio import InStudio, Studio

SHOWN_SAMPLES = 6
router = APIRouter(prefix="/api", tags=["shelf"])


@dataclass(frozen=True)
class Marks:
    """What the studio has done with templates, by their ids."""

    archived: set[str]
    favourites: set[str]
    used: dict[str, int]


def read_marks(studio: Studio) -> Marks:
    """Which templates are archived, which are favourites, and how many jobs began from each."""
    return Marks(studio.templates.list_archived(), studio.templates.list_favourites(), studio.jobs.count_by_template())


@router.get("/templates")
def templates(studio: InStudio) -> list[TemplateCard]:
    """All templates, the studio's own first; those that are archived say so."""
    marks = read_marks(studio)
    return [
        card(studio, template, marks)
        for template in (*studio.templates.list_all(), *studio.catalogue.shelf.templates.values())
    ]


@router.put("/templates/{template}/favourite")
def make_favourite(studio: InStudio, template: str) -> TemplateCard:
    """Makes a template a favourite of the studio."""
    return _set_favourite(studio, template, True)


@router.delete("/templates/{template}/favourite")
def drop_favourite(studio: InStudio, template: str) -> TemplateCard:
    """Makes a template no favourite any more."""
    return _set_favourite(studio, template, False)


def _set_favourite(studio: Studio, identity: str, is_favourite: bool) -> TemplateCard:
    entry = studio.catalogue.template(identity)
    studio.templates.set_favourite(identity, is_favourite)
    studio.events.say("templates", identity)
    return card(studio, entry)


def card(studio: Studio, template: Template, marks: Marks | None = None) -> TemplateCard:
    """A template as the shelf shows it. ``marks``: read once for many; else read anew."""
    marks = marks or read_marks(studio)
    sheets = [
        SheetCard(
            id=s.id, name=s.name, width_mm=s.layout.width_mm, height_mm=s.layout.height_mm,
            bleed_mm=s.layout.bleed_mm, folded_mm=s.layout.folded_mm, openings=len(s.layout.openings_to_fill),
        )
        for s in template.sheets
    ]  # fmt: skip
    return TemplateCard(
        id=template.id, name=template.name, product=template.product, occasion=template.occasion, note=template.note,
        orientation=template.orientation, sheets=sheets, tags=list(template.tags),
        proportions=list(template.proportions), own=template.id not in studio.catalogue.shelf.templates,
        revision=template.revision, group=template.group,
        months=sum(sheet.role == "month" and not sheet.layout.shows_year for sheet in template.sheets),
        year=any(sheet.role == "month" and sheet.layout.shows_year for sheet in template.sheets),
        archived=template.id in marks.archived, favourite=template.id in marks.favourites,
        used=marks.used.get(template.id, 0),
    )  # fmt: skip


@router.get("/templates/{template}/sheets/{sheet}/picture", response_class=Response)
def template_picture(studio: InStudio, template: str, sheet: str, width: int = 480, revision: int = 1) -> Response:
    """A sheet of a template, its openings filled with sample photos, as JPEG; or, where it ships, as WebP, up to
    half wider."""
    shipped = find_picture(template, sheet, width)
    if shipped and (studio.card.get_written() is None or not studio.catalogue.shows_studio_card(template, sheet)):
        return FileResponse(shipped, media_type="image/webp", headers={"Cache-Control": "max-age=3600"})
    entry = studio.catalogue.template(template)
    shows_photos = any(
        layer.kind in ("opening", "page")
        for s in entry.sheets
        if s.id == sheet
        for layer, _ in walk_layers(s.layout.layers)
    )
    job = fill_with_samples(studio, entry) if shows_photos else begin_sample_job(studio, entry)
    answer = cover_picture(studio, f"template {entry.id}", job, sheet, "", width)
    answer.headers["Cache-Control"] = "max-age=3600"  # the address says the revision
    return answer


def begin_sample_job(studio: Studio, template: Template) -> Job:
    """The template as a job, its openings empty."""
    lab = next(iter(studio.catalogue.shelf.labs.values()))
    return Job(name=template.name, template=template.id, product=template.product, sheets=template.sheets, lab=lab,
               making=Making(), studio=studio.card.get_written())  # fmt: skip


def fill_with_samples(studio: Studio, template: Template) -> Job:
    """The template as a job, its openings filled with the sample photos, each as often as need be."""
    job = begin_sample_job(studio, template)
    samples = sample_photos(studio)
    count = sum(1 for _ in template.walk_openings())
    if not samples or not count:
        return job
    # Each template shows some of them, so that the shelf does not show the same photo everywhere.
    random.Random(template.name).shuffle(samples)
    samples = samples[: max(SHOWN_SAMPLES, count)]
    return apply(apply(job, BringIn(photos=tuple(samples))), Fill())


@router.get("/ornaments")
def ornaments(catalogue: InCatalogue) -> list[OrnamentPiece]:
    """The shelf's ornaments, by kind."""
    return [OrnamentPiece(kind=p.kind, name=p.name, asset=p.asset, ratio=p.ratio) for p in catalogue.shelf.ornaments]


@router.get("/ornaments/{asset}.svg", response_class=Response)
def ornament(catalogue: InCatalogue, asset: str) -> Response:
    """An ornament's drawing."""
    if asset not in {piece.asset for piece in catalogue.shelf.ornaments}:
        raise NotFound("This ornament was not found.", "Choose one of the shelf.")
    headers = {"Cache-Control": "max-age=31536000, immutable"}
    return Response(catalogue.shelf.files[asset], media_type="image/svg+xml", headers=headers)


@router.get("/labs")
def labs(catalogue: InCatalogue) -> list[LabSheet]:
    """All lab sheets."""
    return list(catalogue.labs.values())
